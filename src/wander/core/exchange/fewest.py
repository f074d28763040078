"""A cubic near many points with few knots: no more than a tolerance asks for."""

from __future__ import annotations

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import towards_foot
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import NotConverged
from wander.core.geometry.interpolate import least_squares, spread_parameters
from wander.core.geometry.space import SplineSpace

ROUNDS = 3
"""How often the points look for their places on the curve before it is judged."""
FIRST = 3
"""Spans to begin with."""
LEAST = 3
"""Points without which a span can't be halved: fewer would leave its halves to chance."""


def fewest(points: Floats, tolerance: float) -> tuple[Curve, float]:
    """The least-squares cubic over [0, 1] near points (m, 2), which ends where they do, and how far the farthest of them is from it, mm.

    Points are taken at the nearest places of the curve, and fitted anew; the spans that miss most are halved until none misses by more than the
    tolerance. Raises NotConverged, with the distance left, where the points are too few for that.
    Source: Hoschek 1988 (intrinsic parametrisation for approximation).
    """
    u = spread_parameters(points)
    u = (u - u[0]) / (u[-1] - u[0])
    breaks = np.linspace(0.0, 1.0, FIRST + 1)
    halvings = 0
    while True:
        for _ in range(ROUNDS):
            u = _slid(least_squares(points, u, SplineSpace.from_breaks(3, breaks)), points, u)
        curve = least_squares(points, u, SplineSpace.from_breaks(3, breaks))
        misses = np.linalg.norm(curve(_slid(curve, points, u)) - points, axis=1)
        if misses.max() <= tolerance:
            return curve, float(misses.max())
        halvings += 1
        span = np.clip(np.searchsorted(breaks, u, side="right") - 1, 0, len(breaks) - 2)
        worst = np.zeros(len(breaks) - 1)
        np.maximum.at(worst, span, misses)
        bad = np.flatnonzero(worst > max(tolerance, worst.max() / 2))
        if (np.bincount(span, minlength=len(worst))[bad] < LEAST).any():
            raise NotConverged("the fit", halvings, float(misses.max()))
        breaks = np.sort(np.concatenate([breaks, (breaks[bad] + breaks[bad + 1]) / 2]))


def _slid(curve: Curve, points: Floats, u: Floats) -> Floats:
    """The feet of points near where they were, in their order: seeking them anywhere would take those of a thin tail from its other side."""
    for _ in range(2):
        at, first, second = curve.derivatives(u, 2)
        u = np.clip(u - towards_foot(at - points, first, second), 0.0, 1.0)
        u[0], u[-1] = 0.0, 1.0
        u = np.maximum.accumulate(u)
    return u
