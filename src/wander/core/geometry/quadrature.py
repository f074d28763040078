"""Gauss-Legendre points span by span: exact for the piecewise polynomials that B-splines are."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve

ROUGHLY = 4
"""Gauss points in a span that tell whether it has a length, and about which."""


@lru_cache(maxsize=32)
def _rule(count: int) -> tuple[Floats, Floats]:
    return np.polynomial.legendre.leggauss(count)


def gauss_points(breaks: Floats, count: int) -> tuple[Floats, Floats]:
    """Parameters and weights, (spans * count,) each, for breaks (spans + 1,). Exact up to degree 2 count - 1."""
    nodes, weights = _rule(count)
    half = np.diff(breaks)[:, None] / 2
    middle = (breaks[:-1, None] + breaks[1:, None]) / 2
    return (middle + half * nodes).ravel(), (half * weights).ravel()


def span_lengths(curve: Curve, count: int = 24) -> Floats:
    """Arc length in mm of each span of the curve: (spans,)."""
    u, w = gauss_points(curve.space.breaks, count)
    speed = np.linalg.norm(curve.derivatives(u, 1)[1], axis=1)
    return (speed * w).reshape(-1, count).sum(axis=1)


def length(curve: Curve) -> float:
    """Arc length in mm."""
    return float(span_lengths(curve).sum())


def lengths_at(curve: Curve, parameters: Floats, count: int = 24) -> Floats:
    """Arc lengths (m,) in mm from the start to parameters (m,)."""
    breaks = curve.space.breaks
    total = np.concatenate([[0.0], np.cumsum(span_lengths(curve, count))])
    u = np.clip(parameters, breaks[0], breaks[-1])
    span = np.clip(np.searchsorted(breaks, u, side="right") - 1, 0, len(breaks) - 2)
    nodes, weights = _rule(count)
    half = (u - breaks[span])[:, None] / 2
    inner = (breaks[span][:, None] + half * (1 + nodes)).ravel()
    speed = np.linalg.norm(curve.derivatives(inner, 1)[1], axis=1).reshape(len(u), count)
    return np.asarray(total[span] + (speed * weights * half).sum(axis=1), dtype=np.float64)


def at_length(curve: Curve, distances: Floats) -> Floats:
    """Parameters (m,) at the given arc lengths (m,) from the start: the inverse of arc length, by Newton in its span."""
    breaks = curve.space.breaks
    lengths = span_lengths(curve)
    total = np.concatenate([[0.0], np.cumsum(lengths)])
    s = np.clip(np.asarray(distances, dtype=np.float64), 0.0, total[-1])
    span = np.clip(np.searchsorted(total, s, side="right") - 1, 0, len(lengths) - 1)
    low, high = breaks[span], breaks[span + 1]
    nodes, weights = _rule(24)
    u = low + (high - low) * (s - total[span]) / np.where(lengths[span] > 0, lengths[span], 1.0)
    for _ in range(20):
        half = (u - low)[:, None] / 2
        inner = (low[:, None] + half * (1 + nodes)).ravel()
        speed = np.linalg.norm(curve.derivatives(inner, 1)[1], axis=1).reshape(len(u), -1)
        here = np.linalg.norm(curve.derivatives(u, 1)[1], axis=1)
        step = (total[span] + (speed * weights * half).sum(axis=1) - s) / np.where(here > 0, here, 1.0)
        u = np.clip(u - step, low, high)
        if np.max(np.abs(step), initial=0.0) <= 1e-14 * (breaks[-1] - breaks[0]):
            break
    return u
