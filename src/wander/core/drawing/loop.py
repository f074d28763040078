"""Closed outlines: one curve with its corners and its smooth joints marked."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from wander.core.geometry import curve_edits
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.quadrature import gauss_points
from wander.core.geometry.vectors import cross, lengths


@dataclass(frozen=True)
class Loop:
    """A closed polynomial curve over [0, 1], in the plane (mm, 2) or in space (mm, 3).

    corners: parameters where the tangent turns. joints: parameters where the tangent is smooth and the curvature jumps, as
    between a straight and an arc. Both in [0, 1), rising. seam: how many derivatives are continuous where the curve closes.
    """

    curve: Curve
    corners: tuple[float, ...] = ()
    joints: tuple[float, ...] = ()
    seam: int = 2

    @cached_property
    def moments(self) -> tuple[float, Floats]:
        """Signed area in mm2 and centroid (2,) of a planar loop, by Green's theorem; counter-clockwise is positive."""
        u, w = gauss_points(self.curve.space.breaks, (3 * self.curve.degree) // 2 + 1)
        (x, y), (dx, dy) = (d.T for d in self.curve.derivatives(u, 1))
        area = float(np.sum(w * (x * dy - y * dx)) / 2)
        first = np.array([np.sum(w * x * x * dy), -np.sum(w * y * y * dx)]) / 2
        return area, first / area if area else np.array([x.mean(), y.mean()])

    @property
    def area(self) -> float:
        return self.moments[0]

    @property
    def centroid(self) -> Floats:
        return self.moments[1]

    def reversed(self) -> Loop:
        """The same outline run the other way."""
        return Loop(curve_edits.reverse(self.curve), _mirrored(self.corners), _mirrored(self.joints), self.seam)

    def transformed(self, matrix: Floats, origin: Floats) -> Loop:
        """The image under x -> matrix @ x + origin, which may lift it into space."""
        return replace(self, curve=curve_edits.transformed(self.curve, matrix, origin))

    def turning(self) -> Floats:
        """How far the tangent turns at each corner, radians, (corners,); signed (left is positive) in the plane."""
        if not self.corners:
            return np.zeros(0)
        at = np.array(self.corners)
        # at both sides in one call
        out, into = np.split(self.curve.space.evaluate(self.curve.points, np.concatenate([at + 1e-9, (at - 1e-9) % 1.0]), 1), 2)
        cosine = np.sum(out * into, axis=1)
        if self.curve.points.shape[1] == 3:
            return np.arctan2(lengths(cross(into, out)), cosine)
        return np.arctan2(into[:, 0] * out[:, 1] - into[:, 1] * out[:, 0], cosine)


def _mirrored(marks: tuple[float, ...]) -> tuple[float, ...]:
    return tuple(sorted((1.0 - m) % 1.0 for m in marks))
