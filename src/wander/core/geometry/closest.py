"""The place on a curve nearest to a point."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve

PER_SPAN = 12


def closest_parameters(curve: Curve, points: Floats) -> Floats:
    """Parameters (m,) of the places on a curve nearest to points (m, d): fine sampling, then Newton beside every sample that may lead there.

    Source: The NURBS Book, section 6.1.
    """
    if len(curve.points) == 2 and curve.weights is None:
        return _on_line(curve, points)
    u, sampled = curve.sampled(PER_SPAN)
    apart = np.linalg.norm(points[:, None] - sampled, axis=-1)
    closed = bool(np.linalg.norm(sampled[0] - sampled[-1]) < 1e-9 * max(1.0, float(np.abs(sampled).max())))
    corners = np.isin(u, curve.space.breaks[curve.space.multiplicities >= curve.degree])
    owners, best = _leads(apart, np.linalg.norm(np.diff(sampled, axis=0), axis=1), corners)
    # a sampled place may be a corner, or where the curve closes: what lies before it and after it are looked at apart
    starts = _steps(best, len(u) - 1, closed).ravel()
    # the end of a step is seen from inside it: at a corner the slope there is that of what comes after
    low, high = u[starts], np.nextafter(u[starts + 1], -np.inf)
    goals = np.tile(owners, 2)
    t = np.concatenate([u[best], _slid(curve, points[goals], (low + high) / 2, low, high)])
    owners = np.concatenate([owners, goals])
    there = np.linalg.norm(curve(t) - points[owners], axis=1)
    order = np.lexsort((there, owners))
    return t[order[np.searchsorted(owners[order], np.arange(len(points)))]]


def _on_line(line: Curve, points: Floats) -> Floats:
    way = line.points[1] - line.points[0]
    low, high = line.domain
    share = (points - line.points[0]) @ way / max(float(way @ way), 1e-300)
    return np.asarray(low + (high - low) * np.clip(share, 0.0, 1.0))


def _leads(apart: Floats, chords: Floats, corners: npt.NDArray[np.bool_]) -> tuple[npt.NDArray[np.intp], npt.NDArray[np.intp]]:
    """Pairs of a point and a sample (p,) each: nearer than the samples beside it, and near enough for the foot to be next to it.

    apart: distances of points from samples (m, s). chords: between samples, (s - 1,). corners: samples (s,) where the curve may turn back: before
    and after them the distance may fall, and the sample itself be no nearer than its neighbour.
    """
    padded = np.pad(apart, ((0, 0), (1, 1)), constant_values=np.inf)
    reach = 1.1 * np.maximum(np.append(chords, 0.0), np.append(0.0, chords))
    low = (((apart <= padded[:, :-2]) & (apart <= padded[:, 2:])) | corners) & (apart - reach <= apart.min(axis=1, keepdims=True))
    owners, samples = np.nonzero(low)
    return owners, samples


def _steps(best: npt.NDArray[np.intp], count: int, closed: bool) -> npt.NDArray[np.intp]:
    """Numbers of the sampled steps before and after places: (2, m)."""
    both = np.stack([best - 1, best])
    return both % count if closed else np.clip(both, 0, count - 1)


def _slid(curve: Curve, points: Floats, t: Floats, low: Floats, high: Floats) -> Floats:
    """Newton for the foot of each point, kept between low and high."""
    period = curve.domain[1] - curve.domain[0]
    for _ in range(20):
        p, d, dd = curve.derivatives(t, 2)
        moved = np.clip(t - towards_foot(p - points, d, dd), low, high)
        done = np.abs(moved - t).max(initial=0.0) <= 1e-15 * period
        t = moved
        if done:
            break
    return t


def towards_foot(off: Floats, first: Floats, second: Floats) -> Floats:
    """How far Newton's method goes back (m,) towards the foot of points, from where they are off (m, d), with both derivatives there (m, d)."""
    steep = (first * first).sum(axis=-1)
    slope = steep + (off * second).sum(axis=-1)
    # far from the curve the full slope can be negative: then the safe one
    return np.asarray((off * first).sum(axis=-1) / np.where(slope > 0.1 * steep, slope, np.where(steep > 0, steep, 1.0)), dtype=np.float64)


def closest_parameter(curve: Curve, point: Floats) -> float:
    return float(closest_parameters(curve, np.asarray(point)[None])[0])
