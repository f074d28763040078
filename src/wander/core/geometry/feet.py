"""The places of a surface nearest to points."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.surface import SCANNED, Surface
from wander.core.geometry.vectors import lengths

ASTRAY = 1e-7
"""Share of the size of a face by which a foot may be off what lies on the face; beyond it, it was sought from a wrong place."""
ROUNDS = 40
LEAST_TRUST = 1e-4


def derivatives_at(surface: Surface, u: Floats, v: Floats) -> list[Floats]:
    """Value, du, dv, duu, duv, dvv at pairs of parameters (m,): (m, 3) each."""
    return surface.at(u, v, [(0, 0), (1, 0), (0, 1), (2, 0), (1, 1), (0, 2)])


def feet(surface: Surface, points: Floats, within: Sequence[tuple[float, float]] | None = None, *, beside: bool = False) -> tuple[Floats, Floats]:
    """Parameters (m,) each of the places of a surface nearest to points that lie on it, or close to it.

    They are sought from a grid; beside: they may lie on its sides, from which they are sought as well where that leads elsewhere.
    """
    (lu, hu), (lv, hv) = within or (surface.u.domain, surface.v.domain)
    us, vs = np.linspace(lu, hu, SCANNED), np.linspace(lv, hv, SCANNED)
    grid = (surface.scan if within is None else surface.grid(us, vs)).reshape(-1, 3)
    first = np.array([int(((grid - point) ** 2).sum(axis=1).argmin()) for point in points])
    u, v, off = slid(surface, points, us[first // SCANNED], vs[first % SCANNED], within)
    for way, at in (("u", lu), ("u", hu), ("v", lv), ("v", hv)):
        astray = off > ASTRAY * np.ptp(grid, axis=0).max()
        if not beside or not astray.any():
            break
        if at not in (surface.u.domain if way == "u" else surface.v.domain):
            continue
        along = closest_parameters(surface.edge(f"{way}{int(at in (hu, hv))}"), points[astray])
        there = np.full(len(along), at)
        begin_u, begin_v = (there, along) if way == "u" else (along, there)
        other_u, other_v, other = slid(surface, points[astray], begin_u, begin_v, within)
        nearer = other < off[astray]
        for found, new in ((u, other_u), (v, other_v), (off, other)):
            found[astray] = np.where(nearer, new, found[astray])
    return u, v


def slid(
    surface: Surface, points: Floats, u: Floats, v: Floats, within: Sequence[tuple[float, float]] | None = None, *, settled: float = 0.0
) -> tuple[Floats, Floats, Floats]:
    """Parameters (m,) each, found from u, v on, from which nothing near is nearer to the points (m, 3), and the distances left, mm.

    Gauss's steps: one that leads away is taken back and a quarter of it tried, one that would leave the face slides along its side. settled: mm by
    which the distances may still change; with 0 it is the parameters that come to rest.
    """
    (lu, hu), (lv, hv) = within or (surface.u.domain, surface.v.domain)
    round_u, round_v = (within is None and _closes(surface, way) for way in "uv")
    place, du, dv = _tangents(surface, u, v)
    off, trust = lengths(place - points), np.ones(len(points))
    for _ in range(ROUNDS):
        away = place - points
        e, f, g = (np.einsum("mc,mc->m", *pair) for pair in ((du, du), (du, dv), (dv, dv)))
        p, q = np.einsum("mc,mc->m", away, du), np.einsum("mc,mc->m", away, dv)
        whole = np.maximum(e * g - f * f, 1e-12 * e * g + 1e-300)
        step_u, step_v = (g * p - f * q) / whole, (e * q - f * p) / whole
        out_u = (((u <= lu) & (step_u > 0)) | ((u >= hu) & (step_u < 0))) & (not round_u)
        out_v = (((v <= lv) & (step_v > 0)) | ((v >= hv) & (step_v < 0))) & (not round_v)
        step_u = np.where(out_u, 0.0, np.where(out_v, p / np.maximum(e, 1e-300), step_u))
        step_v = np.where(out_v, 0.0, np.where(out_u, q / np.maximum(g, 1e-300), step_v))
        moved_u, moved_v = _kept(u - trust * step_u, lu, hu, round_u), _kept(v - trust * step_v, lv, hv, round_v)
        there = _tangents(surface, moved_u, moved_v)
        left = lengths(there[0] - points)
        nearer = left <= off * (1 + 1e-12) + max(1e-13, settled / 10)
        at_rest = max(np.abs(moved_u - u).max() / (hu - lu), np.abs(moved_v - v).max() / (hv - lv)) < 1e-13
        done = at_rest or bool(settled and np.where(nearer, off - left < settled, trust < LEAST_TRUST).all())
        u, v, off = np.where(nearer, moved_u, u), np.where(nearer, moved_v, v), np.where(nearer, left, off)
        place, du, dv = (np.where(nearer[:, None], new, old) for new, old in zip(there, (place, du, dv), strict=True))
        trust = np.where(nearer, np.minimum(2 * trust, 1.0), trust / 4)
        if done or not np.any(trust > 1e-9):
            break
    return u, v, off


def _closes(surface: Surface, way: str) -> bool:
    return float(np.abs(surface.edge(f"{way}0").points - surface.edge(f"{way}1").points).max()) == 0.0


def _tangents(surface: Surface, u: Floats, v: Floats) -> list[Floats]:
    return surface.at(u, v, [(0, 0), (1, 0), (0, 1)]) if surface.weights is None else derivatives_at(surface, u, v)[:3]


def _kept(parameters: Floats, low: float, high: float, closed: bool) -> Floats:
    """Parameters (m,) inside their range; where that closes they go round."""
    return low + (parameters - low) % (high - low) if closed else np.clip(parameters, low, high)
