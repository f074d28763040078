"""The place on a curve nearest to a point."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve

PER_SPAN = 12


def closest_parameters(curve: Curve, points: Floats) -> Floats:
    """Parameters (m,) of the places on a curve nearest to points (m, d): the best of a fine sampling, then Newton on either side of it.

    Source: The NURBS Book, section 6.1.
    """
    u, sampled = curve.sampled(PER_SPAN)
    apart = ((points[:, None] - sampled) ** 2).sum(axis=-1)
    best = apart.argmin(axis=1)
    closed = bool(np.linalg.norm(sampled[0] - sampled[-1]) < 1e-9 * max(1.0, float(np.abs(sampled).max())))
    # a sampled place may be a corner, or where the curve closes: what lies before it and after it are looked at apart
    starts = _steps(best, len(u) - 1, closed)
    low, high = u[starts].ravel(), u[starts + 1].ravel()
    both = np.concatenate([points, points])
    t = _slid(curve, both, (low + high) / 2, low, high)
    there = ((curve(t) - both) ** 2).sum(axis=-1).reshape(2, -1)
    found = np.where(there[0] <= there[1], t.reshape(2, -1)[0], t.reshape(2, -1)[1])
    return np.where(there.min(axis=0) <= apart[np.arange(len(points)), best], found, u[best])


def _steps(best: npt.NDArray[np.intp], count: int, closed: bool) -> npt.NDArray[np.intp]:
    """Numbers of the sampled steps before and after places: (2, m)."""
    both = np.stack([best - 1, best])
    return both % count if closed else np.clip(both, 0, count - 1)


def _slid(curve: Curve, points: Floats, t: Floats, low: Floats, high: Floats) -> Floats:
    """Newton for the foot of each point, kept between low and high."""
    period = curve.domain[1] - curve.domain[0]
    for _ in range(20):
        p, d, dd = curve.derivatives(t, 2)
        off = p - points
        first = (d * d).sum(axis=-1)
        slope = first + (off * dd).sum(axis=-1)
        # far from the curve the full slope can be negative: then the safe one
        step = (off * d).sum(axis=-1) / np.where(slope > 0.1 * first, slope, np.where(first > 0, first, 1.0))
        moved = np.clip(t - step, low, high)
        done = np.abs(moved - t).max(initial=0.0) <= 1e-15 * period
        t = moved
        if done:
            break
    return t


def closest_parameter(curve: Curve, point: Floats) -> float:
    return float(closest_parameters(curve, np.asarray(point)[None])[0])
