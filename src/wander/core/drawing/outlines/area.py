"""What a section encloses: outlines with the outlines of their holes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.basis import Floats


@dataclass(frozen=True)
class Area:
    """outer runs counter-clockwise, holes clockwise: what is enclosed lies on the left of all of them. Planar, mm."""

    outer: Loop
    holes: tuple[Loop, ...] = ()

    @property
    def loops(self) -> tuple[Loop, ...]:
        return (self.outer, *self.holes)

    @property
    def size(self) -> float:
        """mm2."""
        return sum(loop.area for loop in self.loops)

    def transformed(self, matrix: Floats, origin: Floats) -> Area:
        """The image under a turn and a shift in the plane."""
        return replace(self, outer=self.outer.transformed(matrix, origin), holes=tuple(hole.transformed(matrix, origin) for hole in self.holes))


def area_of(loop: Loop) -> Area:
    """What one outline encloses, whichever way it runs."""
    return Area(loop if loop.area > 0 else loop.reversed())


def middle_of(areas: Sequence[Area]) -> Floats:
    """The middle (2,) of what the outlines of areas enclose together, their holes too; of outlines that enclose nothing, of their places."""
    middles = np.stack([area.outer.centroid for area in areas])
    sizes = np.array([area.outer.area for area in areas])
    return np.asarray(middles.mean(axis=0) if sizes.sum() <= 0 else sizes @ middles / sizes.sum(), dtype=np.float64)
