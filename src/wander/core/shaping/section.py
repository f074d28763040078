"""Sections placed on their stations."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from wander.core.drawing.outlines.loop import RING, Loop
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.frame import Frame


@dataclass(frozen=True)
class PlacedSection:
    """An outline, or a single point, on a station.

    loop: in the plane of the frame, an open one gone there and back; None when the section is a point. point: (2,) in the plane, used when loop is
    None. start: the designer's own start in [0, 1), or None to let the loft choose. share: of a section that was cut from the skin, its place
    between the sections before and after it that were not, as a share of the parameter: it follows the others and leads none.
    """

    frame: Frame
    loop: Loop | None
    point: Floats | None = None
    start: float | None = None
    share: float | None = None

    @property
    def is_point(self) -> bool:
        return self.loop is None

    @cached_property
    def center(self) -> Floats:
        """Centroid in space: (3,)."""
        flat = self.loop.centroid if self.loop is not None else self.point
        assert flat is not None
        return self.frame.lift(flat)

    @property
    def normal(self) -> Floats:
        """Unit vector about which the outline runs counter-clockwise: (3,)."""
        return -self.frame.z if self.loop is not None and self.loop.area < 0 else self.frame.z

    def in_space(self) -> Loop:
        """The outline in space. Only for sections that have one."""
        assert self.loop is not None
        return self._along(self.loop, self.frame.lift(self.loop.curve.points))

    def in_space_with_ring(self) -> tuple[Loop, Floats]:
        """The outline in space and the places (RING, 3) at even shares of its girth. Only for sections that have one."""
        assert self.loop is not None
        lifted = self.frame.lift(np.concatenate([self.loop.ring, self.loop.curve.points]))
        return self._along(self.loop, lifted[RING:]), lifted[:RING]

    @staticmethod
    def _along(flat: Loop, points: Floats) -> Loop:
        return Loop(Curve(flat.curve.space, points, flat.curve.weights), flat.corners, flat.joints, flat.seam, flat.spans, flat.open)
