"""What became of sheets that were sewn together."""

from __future__ import annotations

from dataclasses import dataclass

from wander.core.bodies.body import Body
from wander.core.geometry.basis import Floats


@dataclass(frozen=True)
class Gap:
    """Edges that stayed apart. width: mm. place: where it is widest, (3,)."""

    width: float
    place: Floats


@dataclass(frozen=True)
class Sewn:
    """body: one sheet, or what it closes to. closed_gap: by how much edges that became one lay apart at most, mm. gaps: left open, the widest first.

    pieces: how many it is still in.
    """

    body: Body
    closed_gap: float
    gaps: tuple[Gap, ...]
    pieces: int
