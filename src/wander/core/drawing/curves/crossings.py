"""Where curves cross, on the curves themselves: a polygon finds candidates, Newton's method finds the place to rounding.

Source: Patrikalakis & Maekawa 2002, chapter 5 (curve to curve intersection).
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.curve import Curve

MEETS = 1e-7
"""Curves closer than this (mm) at a place cross there."""
BEYOND = 0.2
"""How far beyond its ends, as a share of it, a chord is looked along."""
FEW = 10000
"""So many pairs of chords are all looked at."""
FLAT = 2e-3
"""Radians below which curves that meet may only touch."""


def polygon(curve: Curve) -> tuple[Floats, Floats]:
    """Parameters (m,) and points (m, 2) close enough together that no crossing hides between them."""
    return curve.sampled(1) if curve.degree == 1 else curve.sampled(max(4, min(16, 96 // max(1, len(curve.space.breaks) - 1))))


def crossings(first: Curve, second: Curve) -> Floats:
    """Pairs of parameters (k, 2) at which two different curves meet; where they run along each other, none."""
    if len(first.points) == len(second.points) == 2:
        return _of_lines(first.points, second.points)
    ua, a = polygon(first)
    ub, b = polygon(second)
    slack = 1e-6 + 0.02 * max(np.ptp(a, axis=0).max(), np.ptp(b, axis=0).max())
    if np.any(a.min(axis=0) > b.max(axis=0) + slack) or np.any(b.min(axis=0) > a.max(axis=0) + slack):
        return np.zeros((0, 2))
    seeds = _candidates(ua, a, ub, b)
    return _settled(first, second, seeds)


def _of_lines(a: Floats, b: Floats) -> Floats:
    """Where two straight lines over [0, 1] cross; lines that are parallel meet nowhere, or all along."""
    d, e, gap = a[1] - a[0], b[1] - b[0], b[0] - a[0]
    cross = d[0] * e[1] - d[1] * e[0]
    sizes = np.hypot(*d), np.hypot(*e)
    if abs(cross) <= 1e-12 * sizes[0] * sizes[1]:
        return np.zeros((0, 2))
    s, t = (gap[0] * e[1] - gap[1] * e[0]) / cross, (gap[0] * d[1] - gap[1] * d[0]) / cross
    held = np.clip(s, 0.0, 1.0), np.clip(t, 0.0, 1.0)
    meet = np.hypot(*(a[0] + held[0] * d - b[0] - held[1] * e)) < MEETS
    return np.array([held]) if meet else np.zeros((0, 2))


def self_crossings(curve: Curve) -> Floats:
    """Pairs of parameters (k, 2), the smaller first, at which a curve crosses itself; where it closes does not count."""
    if curve.degree == 1:
        return np.zeros((0, 2))
    u, p = polygon(curve)
    seeds = _candidates(u, p, u, p)
    apart = np.abs(seeds[:, 1] - seeds[:, 0])
    period = curve.domain[1] - curve.domain[0]
    near = 2.5 * float(np.diff(u).max())
    found = _settled(curve, curve, seeds[(seeds[:, 0] < seeds[:, 1]) & (apart > near) & (apart < period - 1e-9)])
    if len(found) == 0:
        return found
    closed = np.linalg.norm(p[0] - p[-1]) < 1e-6
    apart = np.abs(found[:, 1] - found[:, 0])
    away = apart > near / 2
    if closed:
        away &= apart < period - near / 2
    return found[away]


def _candidates(ua: Floats, a: Floats, ub: Floats, b: Floats) -> Floats:
    """Parameters near which two polygons cross, touch, or come as close as their chords leave their curves."""
    d, e = np.diff(a, axis=0), np.diff(b, axis=0)
    longest = float(np.hypot(*d.T).max()), float(np.hypot(*e.T).max())
    i, j = _within(a[:-1] + d / 2, b[:-1] + e / 2, (0.5 + BEYOND) * sum(longest))
    gap = b[j] - a[i]
    cross = _across(d[i], e[j])
    safe = np.where(np.abs(cross) > 1e-14, cross, np.inf)
    s, t = _across(gap, e[j]) / safe, _across(gap, d[i]) / safe
    inside = (s > -BEYOND) & (s < 1 + BEYOND) & (t > -BEYOND) & (t < 1 + BEYOND) & np.isfinite(safe)
    i, j, s, t = i[inside], j[inside], s[inside], t[inside]
    found = [np.column_stack([ua[i] + np.clip(s, 0, 1) * np.diff(ua)[i], ub[j] + np.clip(t, 0, 1) * np.diff(ub)[j]])]
    # curves that only touch: vertices of one polygon nearly on the other
    sag = 0.02 * max(longest)
    for u, p, v, q, segment, length, swap in ((ua, a, ub, b, e, longest[1], False), (ub, b, ua, a, d, longest[0], True)):
        i, j = _within(p, q[:-1] + segment / 2, length / 2 + sag)
        length2 = np.maximum((segment**2).sum(axis=1), 1e-300)
        share = np.clip(((p[i] - q[j]) * segment[j]).sum(axis=-1) / length2[j], 0, 1)
        near = np.hypot(*(q[j] + share[:, None] * segment[j] - p[i]).T) < sag
        i, j, share = i[near], j[near], share[near]
        pair = np.column_stack([u[i], v[j] + share * np.diff(v)[j]])
        found.append(pair[:, ::-1] if swap else pair)
    return np.concatenate(found)


def _across(a: Floats, b: Floats) -> Floats:
    return np.asarray(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0], dtype=np.float64)


def _within(p: Floats, q: Floats, reach: float) -> tuple[Ints, Ints]:
    """Numbers of the places p and q, (m, 2) and (n, 2), that may lie within reach of each other, mm: of few, all."""
    if len(p) * len(q) <= FEW:
        return np.repeat(np.arange(len(p)), len(q)), np.tile(np.arange(len(q)), len(p))
    from scipy.spatial import cKDTree

    found = cKDTree(p).sparse_distance_matrix(cKDTree(q), reach * (1 + 1e-9), output_type="ndarray")
    return found["i"], found["j"]


def _settled(first: Curve, second: Curve, seeds: Floats) -> Floats:
    """The seeds that lead to a meeting place, each place once."""
    if len(seeds) == 0:
        return np.zeros((0, 2))
    s, t = seeds[:, 0].copy(), seeds[:, 1].copy()
    for _ in range(40):
        p, dp = first.derivatives(s, 1)
        q, dq = second.derivatives(t, 1)
        off = q - p
        # damped normal equations: at a touching place the two directions are one
        aa, ab, bb = (dp * dp).sum(axis=1), -(dp * dq).sum(axis=1), (dq * dq).sum(axis=1)
        ra, rb = (dp * off).sum(axis=1), -(dq * off).sum(axis=1)
        lift = 1e-12 * (aa + bb) + 1e-300
        determinant = (aa + lift) * (bb + lift) - ab * ab
        ds = ((bb + lift) * ra - ab * rb) / determinant
        dt = ((aa + lift) * rb - ab * ra) / determinant
        moved_s, moved_t = np.clip(s + ds, *first.domain), np.clip(t + dt, *second.domain)
        still = max(np.abs(moved_s - s).max(), np.abs(moved_t - t).max())
        s, t = moved_s, moved_t
        if still < 1e-15:
            break
    s, t = _touching(first, second, s, t)
    apart = np.linalg.norm(first(s) - second(t), axis=1)
    good = apart < MEETS
    found = np.column_stack([s[good], t[good]])
    places = first(found[:, 0]) if len(found) else np.zeros((0, 2))
    kept: list[int] = []
    for i in np.lexsort((found[:, 1], found[:, 0])):
        if not any(_one_place(first, second, found[[i, k]], places[[i, k]]) for k in kept):
            kept.append(int(i))
    return found[kept] if len(kept) <= 64 else np.zeros((0, 2))


def _touching(first: Curve, second: Curve, s: Floats, t: Floats) -> tuple[Floats, Floats]:
    """The same pairs; where curves touch, the place at which they run the same way.

    There a distance of a ten-thousandth of a micron is reached a micron away from the place. Newton's method on what a touch is: parallel
    tangents, and a gap square to them.
    """
    _, dp = first.derivatives(s, 1)
    _, dq = second.derivatives(t, 1)
    size = np.linalg.norm(dp, axis=1) * np.linalg.norm(dq, axis=1) + 1e-300
    flat = np.flatnonzero((np.abs(_cross(dp, dq)) < FLAT * size) & (np.linalg.norm(first(s) - second(t), axis=1) < 100 * MEETS))
    if not len(flat):
        return s, t
    a, b = s[flat], t[flat]
    for _ in range(8):
        (p, dp, ddp), (q, dq, ddq) = _bent(first, a), _bent(second, b)
        off = p - q
        parallel, square = _cross(dp, dq), (off * dp).sum(axis=1)
        rows = np.stack([np.stack([_cross(ddp, dq), _cross(dp, ddq)], -1), np.stack([(dp * dp + off * ddp).sum(1), -(dq * dp).sum(1)], -1)], axis=1)
        determinant = np.linalg.det(rows)
        sound = np.abs(determinant) > 1e-9 * np.abs(rows).max(axis=(1, 2)) ** 2
        steps = np.zeros((len(a), 2))
        steps[sound] = np.linalg.solve(rows[sound], np.stack([parallel, square], axis=-1)[sound][..., None])[..., 0]
        a, b = np.clip(a - steps[:, 0], *first.domain), np.clip(b - steps[:, 1], *second.domain)
    s, t = s.copy(), t.copy()
    near = np.linalg.norm(first(a) - second(b), axis=1) < MEETS
    s[flat[near]], t[flat[near]] = a[near], b[near]
    return s, t


def _bent(curve: Curve, u: Floats) -> list[Floats]:
    """Points and two derivatives; a line does not bend."""
    found = curve.derivatives(u, min(2, curve.degree))
    return [*found, np.zeros_like(found[0])] if len(found) < 3 else list(found)


def _cross(a: Floats, b: Floats) -> Floats:
    return a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]


def _one_place(first: Curve, second: Curve, pairs: Floats, places: Floats) -> bool:
    """Whether two pairs of parameters stand for one meeting: where curves touch, they lie together over a little way."""
    apart = np.linalg.norm(places[0] - places[1])
    if apart < 1e-6:
        # the two ends of a curve that closes are one place as well
        steps = np.abs(pairs[0] - pairs[1])
        return bool(np.minimum(steps, 1.0 - steps).max() < 1e-5 or steps.max() < 0.3)
    s, t = pairs.mean(axis=0)
    return bool(apart < 0.01 and np.linalg.norm(first(float(s)) - second(float(t))) < 2 * MEETS)


def runs_along(first: Curve, second: Curve, tolerance: float = 1e-6) -> tuple[float, float] | None:
    """The part of the first curve, in its parameter, that lies on the second; None where they share no length."""
    u = np.linspace(*first.domain, 41)
    on = _lies_on(first, second, u, tolerance)
    best, begun = None, None
    for i, value in enumerate([*on.tolist(), False]):
        if value and begun is None:
            begun = i
        elif not value and begun is not None:
            if i - begun > 2 and (best is None or i - begun > best[1] - best[0]):
                best = (begun, i)
            begun = None
    if best is None:
        return None
    low, high = best[0], best[1] - 1
    return (
        float(u[0]) if low == 0 else _leaves(first, second, float(u[low]), float(u[low - 1]), tolerance),
        float(u[-1]) if high == len(u) - 1 else _leaves(first, second, float(u[high]), float(u[high + 1]), tolerance),
    )


def _lies_on(first: Curve, second: Curve, u: Floats, tolerance: float) -> npt.NDArray[np.bool_]:
    p = first(u)
    return np.asarray(np.linalg.norm(second(closest_parameters(second, p)) - p, axis=1) < tolerance)


def _leaves(first: Curve, second: Curve, on: float, off: float, tolerance: float) -> float:
    """Where the first curve leaves the second: the end of the second that lies between, or found by halving where it bends away."""
    ends = second.points[[0, -1]]
    feet = closest_parameters(first, ends)
    low, high = sorted((on, off))
    there = (np.linalg.norm(first(feet) - ends, axis=1) < tolerance) & (feet >= low - 1e-9) & (feet <= high + 1e-9)
    if there.any():
        return float(feet[there][0])
    for _ in range(40):
        middle = (on + off) / 2
        on, off = (middle, off) if _lies_on(first, second, np.array([middle]), tolerance)[0] else (on, middle)
    return on
