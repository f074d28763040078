"""A section as later steps use it."""

from __future__ import annotations

from dataclasses import dataclass

from wander.core.drawing.outlines.area import Area
from wander.core.drawing.outlines.runs import OpenRun
from wander.core.geometry.basis import Floats
from wander.core.geometry.frame import Frame
from wander.core.shaping.section import PlacedSection


@dataclass(frozen=True)
class Drawn:
    """A section as later steps use it: placed, or open between the two ends in `gap`, points in space.

    traced: just as it was cut from a body. run: of one that is open, in the plane of its station.
    """

    station: str
    frame: Frame
    placed: PlacedSection | None
    gap: Floats | None = None
    traced: bool = False
    areas: tuple[Area, ...] = ()
    run: OpenRun | None = None
