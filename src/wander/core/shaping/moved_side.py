"""One side of a skin moved along its normals, and where it goes through a plane then."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import NotConverged
from wander.core.geometry.frame import Frame
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross, lengths

ORDERS = [(0, 0), (1, 0), (0, 1), (2, 0), (1, 1), (0, 2)]
STEPS, DONE = 30, 1e-10
"""Of Newton's method at most, and mm within which it has arrived."""


class Further(Protocol):
    """How much further than its distance a place is moved, by where it is."""

    def at(self, places: Floats) -> tuple[Floats, Floats]:
        """For places (m, 3): mm (m,), and by how much that changes along x, y and z there (m, 3)."""
        ...

    def marks(self, surface: Surface) -> Floats:
        """Parameters along a surface near which that begins or ends to change."""
        ...


@dataclass(frozen=True)
class Moved:
    """A side and how far it is moved against its normal, mm: inwards where it is above 0. further: what comes to that, from place to place."""

    surface: Surface
    by: float
    further: Further | None = None

    def _distance(self, places: Floats) -> tuple[Floats, Floats | None]:
        """mm (m,), and how it changes (m, 3), where it does."""
        if self.further is None:
            return np.full(len(places), self.by), None
        more, slopes = self.further.at(places)
        return self.by + more, slopes

    def at(self, u: Floats, v: Floats) -> tuple[Floats, Floats, Floats]:
        """Points of the moved side and its tangents at pairs of parameters (m,), which may lie a little beyond its ends: (m, 3) each."""
        place, du, dv, duu, duv, dvv = self.surface.at(u, v, ORDERS)
        raw = cross(du, dv)
        size = lengths(raw)[:, None]
        normal = raw / size
        turned = [cross(duu, dv) + cross(du, duv), cross(duv, dv) + cross(du, dvv)]
        bends = [(t - np.sum(t * normal, axis=1)[:, None] * normal) / size for t in turned]
        by, slopes = self._distance(place)
        moved = [d - by[:, None] * bend for d, bend in zip((du, dv), bends, strict=True)]
        if slopes is not None:
            moved = [m - np.sum(slopes * d, axis=1)[:, None] * normal for m, d in zip(moved, (du, dv), strict=True)]
        return place - by[:, None] * normal, moved[0], moved[1]

    def places(self, u: Floats, v: Floats) -> tuple[Floats, Floats, Floats]:
        """Points (m, k, 3) of the moved side at parameters (m, k), and the largest distance to which it could be moved before it folds there, (m, k).

        That is endless where it does not bend that way. The third: how far it is moved there, (m, k).
        """
        place, du, dv, duu, duv, dvv = self._derivatives(u, v, ORDERS)
        raw = cross(du, dv)
        normal = raw / lengths(raw)[:, None]
        e, f, g = (np.einsum("ij,ij->i", a, b) for a, b in ((du, du), (du, dv), (dv, dv)))
        l_, m, n = (np.einsum("ij,ij->i", a, normal) for a in (duu, duv, dvv))
        area = e * g - f * f
        mean, gauss = (e * n - 2 * f * m + g * l_) / (2 * area), (l_ * n - m * m) / area
        root = np.sqrt(np.maximum(mean * mean - gauss, 0.0))
        # towards the inside an outward bulge is the tight one, and the other way round
        by, _ = self._distance(place)
        tight = np.where(by > 0, root - mean, mean + root)
        room = np.where(tight > 1e-12, 1 / np.maximum(tight, 1e-12), np.inf)
        return (place - by[:, None] * normal).reshape(*u.shape, 3), room.reshape(u.shape), np.abs(by).reshape(u.shape)

    def alone(self, u: Floats, v: Floats) -> Floats:
        """The same points without anything else, (m, k, 3)."""
        place, du, dv = self._derivatives(u, v, ORDERS[:3])
        raw = cross(du, dv)
        by, _ = self._distance(place)
        return (place - (by / lengths(raw))[:, None] * raw).reshape(*u.shape, 3)

    def _derivatives(self, u: Floats, v: Floats, orders: list[tuple[int, int]]) -> list[Floats]:
        """(m k, 3) each."""
        if np.ptp(u, axis=1).max() > 0:
            return self.surface.at(u.ravel(), v.ravel(), orders)
        return self.surface.along_rows(u[:, 0], v, orders)


def into_plane(moved: Moved, plane: Frame, u: Floats, v: Floats) -> Floats:
    """Parameters v (m,) at which a moved side goes through a plane, from those nearby, by Newton's method. Raises NotConverged."""
    v = v.copy()
    off = np.zeros(len(v))
    for _ in range(STEPS):
        place, _, dv = moved.at(u, v)
        off, slope = (place - plane.origin) @ plane.z, dv @ plane.z
        if np.abs(off).max() < DONE:
            return v
        v -= off / np.where(np.abs(slope) > 1e-12, slope, 1e-12)
    raise NotConverged("the end of a moved side", STEPS, float(np.abs(off).max()))
