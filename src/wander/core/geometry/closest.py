"""The place on a curve nearest to a point."""

from __future__ import annotations

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve

PER_SPAN = 12


def closest_parameters(curve: Curve, points: Floats) -> Floats:
    """Parameters (m,) of the places on a curve nearest to points (m, d): the best of a fine sampling, then Newton inside its neighbours.

    Source: The NURBS Book, section 6.1.
    """
    u, sampled = curve.sampled(PER_SPAN)
    apart = ((points[:, None] - sampled) ** 2).sum(axis=-1)
    best = apart.argmin(axis=1)
    t = u[best]
    low, high = u[np.maximum(best - 1, 0)], u[np.minimum(best + 1, len(u) - 1)]
    for _ in range(20):
        p, d, dd = curve.derivatives(t, 2)
        off = p - points
        slope = (d * d).sum(axis=-1) + (off * dd).sum(axis=-1)
        first = (d * d).sum(axis=-1)
        # far from the curve the full slope can be negative: then the safe one
        step = (off * d).sum(axis=-1) / np.where(slope > 0.1 * first, slope, np.where(first > 0, first, 1.0))
        moved = np.clip(t - step, low, high)
        done = np.abs(moved - t).max(initial=0.0) <= 1e-15 * (u[-1] - u[0])
        t = moved
        if done:
            break
    there = ((curve(t) - points) ** 2).sum(axis=-1)
    return np.where(there <= apart[np.arange(len(points)), best], t, u[best])


def closest_parameter(curve: Curve, point: Floats) -> float:
    return float(closest_parameters(curve, np.asarray(point)[None])[0])
