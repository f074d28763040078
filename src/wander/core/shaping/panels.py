"""From aligned sections to rows of control points in one common space: the preparation for skinning.

A panel is the strip of the body between two neighbouring corner tracks, or the whole girth where no section has a corner. Every
section contributes one row of control points to each panel.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.curve import evaluate_together
from wander.core.geometry.space import SplineSpace, space_with
from wander.core.geometry.tolerances import Tolerances
from wander.core.geometry.vectors import cross
from wander.core.shaping.matching import Mark, Track, follow
from wander.core.shaping.naming import corner_at, curve_between
from wander.core.shaping.section import PlacedSection

MOST_SPANS = 512
"""A refit stops dividing here; what it still misses is reported."""
MOST_KNOTS = 200
"""Sections are brought together exactly while their common space stays below this many control points."""


@dataclass(frozen=True)
class Panel:
    """rows: control points of every section in the space, (k, n, 3). deviation: largest distance to a section, mm (k,).

    exact: the sections are represented as they are, not refitted. closed: the panel goes round the whole girth. labels: what each section was
    drawn as there, empty where it has no corner at the panel. corners: what each calls the corner where the panel begins, empty where it has none.
    """

    space: SplineSpace
    rows: Floats
    deviation: Floats
    exact: bool
    closed: bool
    labels: tuple[str, ...] = ()
    corners: tuple[str, ...] = ()


@dataclass(frozen=True)
class _Piece:
    """Part of a loop from `start` over `extent`, walked by `walk`: [0, 1] -> [0, 1]; affine when walk is None."""

    loop: Loop
    start: float
    extent: float
    walk: Callable[[Floats], Floats] | None


def _points(pieces: Sequence[_Piece], u: Floats) -> Floats:
    """Points of all pieces at their own parameters u (m,): (k, m, 3)."""
    shares = u if all(p.walk is None for p in pieces) else np.stack([u if p.walk is None else p.walk(u) for p in pieces])
    t = np.array([p.start for p in pieces])[:, None] + np.array([p.extent for p in pieces])[:, None] * shares
    t -= t > 1.0
    return evaluate_together([p.loop.curve for p in pieces], np.minimum(t, 1.0))


def _own_knots(pieces: Sequence[_Piece], degree: int) -> tuple[Ints, Floats, Ints]:
    """Inner knots over [0, 1] of all pieces in a space of the degree, walks left aside: whose they are, where, how many times (b,)."""
    spaces = [p.loop.curve.space for p in pieces]
    owners = np.repeat(np.arange(len(pieces)), [len(space.breaks) - 1 for space in spaces])
    breaks = np.concatenate([space.breaks[:-1] for space in spaces])
    # where the outline closes, the knot that ends it holds no more than the seam needs
    counts = np.concatenate([(max(1, s.degree - p.loop.seam), *s.multiplicities[1:-1]) for s, p in zip(spaces, pieces, strict=True)])
    counts += (degree - np.array([space.degree for space in spaces]))[owners]
    at = ((breaks - np.array([p.start for p in pieces])[owners]) % 1.0) / np.array([p.extent for p in pieces])[owners]
    inside = (at > 1e-9) & (at < 1 - 1e-9)
    return owners[inside], at[inside], counts[inside]


def panels(loops: Sequence[Loop], starts: Sequence[float], tolerances: Tolerances) -> list[Panel]:
    """Panels of loops in space that run the same way; starts: matching places, one on each loop."""
    origin = np.array(starts)
    corners = follow([_corner_marks(loop, start) for loop, start in zip(loops, starts, strict=True)])
    if len(corners) == 1:
        opposite = Track((corners[0].positions + 0.5) % 1.0, 0.0)
        corners = sorted([corners[0], opposite], key=lambda track: track.positions[0])
    joints = follow([_joint_marks(loop, start) for loop, start in zip(loops, starts, strict=True)])
    if not corners:
        shares = _shares(np.zeros(len(loops)), np.ones(len(loops)), joints)
        return [_panel(loops, origin, np.ones(len(loops)), shares, tolerances, closed=True)]
    found = []
    for track, following in zip(corners, [*corners[1:], corners[0]], strict=True):
        extent = (following.positions - track.positions) % 1.0
        shares = _shares(track.positions, extent, joints)
        begins = (track.positions + origin) % 1.0
        made = _panel(loops, begins, extent, shares, tolerances, closed=False)
        labels = tuple(
            curve_between(loop, float(b), float(e), starts=i in track.owners, ends=i in following.owners)
            if i in track.owners or i in following.owners
            else ""
            for i, (loop, b, e) in enumerate(zip(loops, begins, extent, strict=True))
        )
        found.append(replace(made, labels=labels, corners=tuple(corner_at(loop, float(b)) for loop, b in zip(loops, begins, strict=True))))
    return found


def follows(section: PlacedSection, led: Sequence[Panel]) -> bool:
    """Whether a section that was cut from a skin has a corner for each corner that the panels have now."""
    assert section.loop is not None
    return len(section.loop.corners) == (0 if led[0].closed else len(led))


def following_row(loop: Loop, number: int, panel: Panel) -> tuple[Floats, float]:
    """Control points (n, 3) of a cut section in panel `number`, whose corners are its own, and how far they miss it, mm."""
    if panel.closed:
        piece = _Piece(loop, 0.0, 1.0, None)
    else:
        bounds = [*loop.corners, loop.corners[0] + 1.0]
        piece = _Piece(loop, bounds[number], bounds[number + 1] - bounds[number], None)
    rows, misses = _represent([piece], panel.space, _inside(panel.space.breaks, (0.13, 0.5, 0.87)))
    return rows[0], float(misses.max())


def _corner_marks(loop: Loop, start: float) -> list[Mark]:
    return _from_start(loop.corners, loop.turning(), start) if loop.corners else []


def _joint_marks(loop: Loop, start: float) -> list[Mark]:
    """Smooth joints, told apart by whether the outline gets rounder or straighter there."""
    if not loop.joints:
        return []
    at = np.array(loop.joints)
    sides = np.concatenate([at - 1e-7, at + 1e-7]) % 1.0
    _, first, second = loop.curve.derivatives(sides, 2)
    bend = np.linalg.norm(cross(first, second), axis=1) / np.linalg.norm(first, axis=1) ** 3
    return _from_start(loop.joints, np.sign(bend[len(at) :] - bend[: len(at)]), start)


def _from_start(places: Sequence[float], turns: Floats, start: float) -> list[Mark]:
    moved = (np.array(places) - start) % 1.0
    moved[moved > 1 - 1e-12] = 0.0
    order = np.argsort(moved)
    return [Mark(float(moved[i]), float(turns[i])) for i in order]


def _panel(
    loops: Sequence[Loop], starts: Floats, extents: Floats, shares: list[tuple[float, dict[int, float]]], tolerances: Tolerances, *, closed: bool
) -> Panel:
    walks = [_walk(i, shares, closed) for i in range(len(loops))]
    pieces = [_Piece(loop, float(s), float(e), walk) for loop, s, e, walk in zip(loops, starts, extents, walks, strict=True)]
    if all(piece.walk is None for piece in pieces):
        degree = max(loop.curve.degree for loop in loops)
        owners, at, counts = _own_knots(pieces, degree)
        union = space_with(degree, at, counts, tolerances.parameter)
        largest = degree + 1 + np.bincount(owners, counts).max(initial=0)
        if union.count <= max(MOST_KNOTS, 1.25 * largest):
            # an identity holds everywhere or nowhere: a look at every fourth span tells
            rows, misses = _represent(pieces, union, _inside(union.breaks, (0.5,))[::4])
            return Panel(union, rows, misses.max(axis=1), True, closed)
    return _refit(pieces, [u for u, _ in shares], tolerances, closed)


def _shares(starts: Floats, extents: Floats, joints: Sequence[Track]) -> list[tuple[float, dict[int, float]]]:
    """Joints inside the panel: their common parameter and, for each section that has the joint, its own share."""
    found = []
    for track in joints:
        own = {i: float(((track.positions[i] - starts[i]) % 1.0) / extents[i]) for i in track.owners}
        if all(1e-6 < share < 1 - 1e-6 for share in own.values()):
            found.append((float(np.mean(list(own.values()))), own))
    found.sort(key=lambda item: item[0])
    ordered: list[tuple[float, dict[int, float]]] = []
    for u, own in found:
        before = ordered[-1] if ordered else None
        if before is not None and (u - before[0] < 1e-6 or any(own[i] - before[1][i] < 1e-6 for i in own.keys() & before[1].keys())):
            continue
        ordered.append((u, own))
    return ordered


def _walk(section: int, shares: Sequence[tuple[float, dict[int, float]]], closed: bool) -> Callable[[Floats], Floats] | None:
    """The monotone C1 map that takes the common parameter of each joint to the section's own place of it."""
    pairs = [(u, own[section]) for u, own in shares if section in own]
    if all(abs(u - share) < 1e-9 for u, share in pairs):
        return None
    u = np.array([0.0, *(p[0] for p in pairs), 1.0])
    s = np.array([0.0, *(p[1] for p in pairs), 1.0])
    from scipy.interpolate import PchipInterpolator

    if not closed:
        return PchipInterpolator(u, s)
    return PchipInterpolator(np.concatenate([u[:-1] - 1, u[:-1], u + 1]), np.concatenate([s[:-1] - 1, s[:-1], s + 1]))


def _inside(breaks: Floats, shares: Sequence[float]) -> Floats:
    """Parameters at the given shares of every span: (spans * shares,)."""
    return (breaks[:-1, None] + np.diff(breaks)[:, None] * np.array(shares)).ravel()


def _represent(pieces: Sequence[_Piece], space: SplineSpace, between: Floats, *, closed: bool = False) -> tuple[Floats, Floats]:
    """Rows (k, n, 3) that interpolate the pieces, and how far they miss them at the parameters between (m,): (k, m)."""
    both = np.concatenate([space.greville, between])
    true = _points(pieces, both).transpose(1, 0, 2)
    rows = space.interpolate(true[: space.count])
    if closed:
        rows = _close_smoothly(space, rows)
    misses = np.linalg.norm(space.evaluate(rows, between) - true[space.count :], axis=2)
    return rows.transpose(1, 0, 2), misses.T


def _refit(pieces: Sequence[_Piece], joints: Sequence[float], tolerances: Tolerances, closed: bool) -> Panel:
    """Spline interpolation of all sections in one space, its spans halved where a section is missed."""
    degree = 5 if any(piece.walk is not None or piece.loop.curve.degree > 3 for piece in pieces) else 3
    bounds = np.array([0.0, *joints, 1.0])
    own = np.bincount(_own_knots(pieces, degree)[0]).max(initial=0)
    counts = np.maximum(2, np.ceil(np.diff(bounds) * 2.5 * own / (1 if degree == 3 else 3))).astype(int)
    inner = [np.linspace(a, b, n + 1)[:-1] for a, b, n in zip(bounds[:-1], bounds[1:], counts, strict=True)]
    breaks = np.append(np.concatenate(inner), 1.0)
    while True:
        at_joint = np.isin(breaks[1:-1], bounds)
        space = SplineSpace.from_breaks(degree, breaks, np.where(at_joint, degree - 1, 1).tolist())
        rows, misses = _represent(pieces, space, _inside(breaks, (0.13, 0.5, 0.87)), closed=closed)
        bad = np.flatnonzero(misses.max(axis=0).reshape(-1, 3).max(axis=1) > tolerances.fit)
        if len(bad) == 0 or len(breaks) - 1 + len(bad) > MOST_SPANS:
            return Panel(space, rows, misses.max(axis=1), False, closed)
        breaks = np.sort(np.concatenate([breaks, (breaks[bad] + breaks[bad + 1]) / 2]))


def _close_smoothly(space: SplineSpace, rows: Floats) -> Floats:
    """The same rows (n, k, 3) with one tangent at the seam: a refit leaves the two ends a hair apart in direction."""
    first = space.knots[space.degree + 1] - space.knots[0]
    last = space.knots[-1] - space.knots[-space.degree - 2]
    slope = ((rows[1] - rows[0]) / first + (rows[-1] - rows[-2]) / last) / 2
    closed = rows.copy()
    closed[-1] = rows[0]
    closed[1] = rows[0] + slope * first
    closed[-2] = rows[0] - slope * last
    return closed
