"""An outline fitted between two rails: moved, turned and scaled in its plane so that its two ends lie on them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.frame import Frame

PER_SPAN = 24
ON_PLANE = 1e-3
"""A rail that ends this near to a plane, mm, reaches it."""
IN_PLANE = 1e-9
"""mm: no further off is on it."""
AS_FAR = 1e-6
"""Places of an outline that lie equally far out within this share of its size are one end, in the middle of them."""


@dataclass(frozen=True)
class Similar:
    """x -> scale * R(turn) @ x + at in a plane: turn in radians, at (2,) in mm."""

    scale: float
    turn: float
    at: Floats

    @property
    def matrix(self) -> Floats:
        c, s = self.scale * np.cos(self.turn), self.scale * np.sin(self.turn)
        return np.array([[c, -s], [s, c]])


def about(place: Floats, scale: float, turn: float, at: Floats) -> Similar:
    """Scaled and turned about a place (2,), then moved by `at`."""
    turned = Similar(scale, turn, np.zeros(2))
    return Similar(scale, turn, place - turned.matrix @ place + at)


def onto(ends: Floats, places: Floats) -> Similar:
    """What brings two ends (2, 2) to two places (2, 2), which are apart."""
    (a, b), (p, q) = (row[:, 0] + 1j * row[:, 1] for row in (ends, places))
    factor = (q - p) / (b - a)
    moved = p - factor * a
    return Similar(float(abs(factor)), float(np.angle(factor)), np.array([moved.real, moved.imag]))


def passes(rail: Curve, frame: Frame) -> Floats:
    """Places (m, 2) in the plane of the frame at which a curve in space passes it, as they follow along the curve."""
    from scipy.optimize import brentq

    t, points = rail.sampled(PER_SPAN)
    height = (points - frame.origin) @ frame.z
    height[np.abs(height) <= IN_PLANE] = 0.0
    through = np.flatnonzero(height[:-1] * height[1:] < 0)
    found = [float(brentq(lambda s: float((rail(s) - frame.origin) @ frame.z), t[i], t[i + 1], xtol=1e-14)) for i in through]
    # what goes through the plane passes it there, however near to it a sample beside that is
    beside = np.concatenate([through, through + 1])
    found += [float(t[i]) for i in np.setdiff1d(np.flatnonzero(np.abs(height) <= ON_PLANE), beside)]
    places = frame.drop(rail(np.array(sorted(found)))) if found else np.zeros((0, 2))
    apart = np.ones(len(places), dtype=bool)
    apart[1:] = np.linalg.norm(np.diff(places, axis=0), axis=1) > ON_PLANE
    return places[apart]


def ends_along(outline: Curve, axis: int) -> Floats:
    """The two places (2, 2) of a closed outline in its plane that lie furthest back and furthest on along x (0) or y (1)."""
    return np.array([_furthest(outline, axis, -1.0), _furthest(outline, axis, 1.0)])


def _furthest(outline: Curve, axis: int, sign: float) -> Floats:
    t, points = outline.sampled(PER_SPAN)
    out = sign * points[:, axis]
    size = float(np.ptp(points, axis=0).max())
    best = int(out.argmax())
    # where it is smooth the furthest place lies between two samples, and a parabola through three is refined to it
    low, high = t[max(best - 1, 0)], t[min(best + 1, len(t) - 1)]
    for _ in range(4):
        fine = np.linspace(low, high, 41)
        there = sign * outline(fine)[:, axis]
        k = int(there.argmax())
        low, high = fine[max(k - 1, 0)], fine[min(k + 1, 40)]
    top = float(there.max())
    flat = points[out >= top - AS_FAR * size]
    if len(flat) > 1:
        return np.asarray((flat.min(axis=0) + flat.max(axis=0)) / 2, dtype=np.float64)
    return np.asarray(outline(fine[k]), dtype=np.float64)
