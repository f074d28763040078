"""Edges of a body made round or cut off: what is asked for, and how a refusal is told."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import GeometryError
from wander.core.geometry.law import Law, constant

Among = Literal["outer", "inner", "meeting"]
"""Edges by how they are: those at which the body stands out, those at which it goes in, those at which what other steps made meets."""


@dataclass(frozen=True)
class Blend:
    """Edges that get the same. edges: their names; what goes on smoothly from one comes along. among: all of a kind, besides.

    size: of a fillet its radius, as a law over the length of each run of edges; of a chamfer how far it goes on both faces, mm. other, angle: of a
    chamfer how far it goes on the second face instead, mm, or its angle to the first, radians. faces: those that are the first at its edges.
    """

    edges: tuple[str, ...]
    size: Law = field(default_factory=lambda: constant(1.0))
    among: Among | None = None
    other: float | None = None
    angle: float | None = None
    faces: tuple[str, ...] = ()

    @property
    def largest(self) -> float:
        return float(np.max(self.size(np.linspace(0.0, 1.0, 65))))


NO_ROOM = "there is no room for it beside this edge"


class NotBlended(GeometryError):
    """An edge can't be made round, or cut off. edge: its name; at: a place on it (3,); number: of the blend that asked for it.

    fits: the largest size that was found to go, mm, None where nothing is known of it.
    """

    def __init__(self, why: str, edge: str, at: Floats, number: int, fits: float | None = None) -> None:
        super().__init__(why)
        self.edge = edge
        self.at = at
        self.number = number
        self.fits = fits


class Fades(NotBlended):
    """The faces beside an edge come to lie in one: it fades out, and there is nothing to go round any more."""


class NothingMeant(GeometryError):
    """No edge of the body is of the kind that was asked for. number: of the blend."""

    def __init__(self, number: int) -> None:
        super().__init__("the body has no such edge")
        self.number = number
