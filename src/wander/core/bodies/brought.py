"""Bodies that come in files: what is known of them before they are built, and meshes that are there to be looked at."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    # who only reads what a file holds loads no geometry
    from wander.core.bodies.measures import Measures
    from wander.core.shaping.display import DisplayMesh


class NotInFile(ValueError):
    """The file holds nothing of the kind, or more of it than can be worked with; the message says which."""


class NoFile(LookupError):
    """The data of a file is not at hand."""


@dataclass(frozen=True)
class Piece:
    """A body of a file. name: as the file has it, empty where it has none. colour: as #rrggbb."""

    name: str
    colour: str | None


@dataclass(frozen=True)
class Reference:
    """A mesh that is there to be seen beside the design. watertight: whether it encloses something; the volume counts only then.

    chord: how far its triangles lie from what they stand for, mm: 0 where the file holds triangles.
    """

    mesh: DisplayMesh
    measures: Measures
    watertight: bool
    chord: float = 0.0
