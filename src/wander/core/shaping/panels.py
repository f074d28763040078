"""From aligned sections to rows of control points in one common space: the preparation for skinning.

A panel is the strip of the body between two neighbouring corner tracks, or the whole girth where no section has a corner. Every
section contributes one row of control points to each panel. Of open sections, which are gone there and back, only the way there has panels.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from wander.core.drawing.outlines.loop import opposite
from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.errors import BadInput
from wander.core.geometry.space import SplineSpace, even_space, space_with
from wander.core.geometry.tolerances import Tolerances
from wander.core.geometry.vectors import lengths
from wander.core.shaping.girth import Girth, Girths, girth_of
from wander.core.shaping.matching import NOTHING, ON, Mark, Track, come_round, crossed, follow, goes_with
from wander.core.shaping.naming import NEAR, corner_at, curve_between
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.walks import Stepwise, walked, walks_between

AROUND = np.linspace(0.0, 1.0, 49)
MOST_SPANS = 512
"""A refit stops dividing here; what it still misses is reported."""
FINE = 2.5e-6
"""Aim of a refit as a share of the largest section: what is made small and scaled up is what is made large."""
COARSEST = 7e-4
"""And the most of it, mm: what is promised is a little more."""
USUAL_SPANS = 128
"""With so many round a whole section a refit begins, unless the sections ask for fewer or for more."""
PARALLEL = 1e-9
"""Between unit tangents that run the same way."""
NOTHING_NEAR = 1e-6
"""A joint no further from where a panel begins or ends is there."""
MOST_KNOTS = 200
"""Sections are brought together exactly while their common space stays below this many control points."""


class Crossed(BadInput):
    """Places that are to belong together cross on their way from one section to the next. first, second: their numbers."""

    def __init__(self, first: int, second: int) -> None:
        super().__init__(f"what belongs together in all sections crosses: number {first + 1} and number {second + 1}")
        self.first, self.second = first, second


@dataclass(frozen=True)
class Panel:
    """rows: control points of every section in the space, (k, n, 3). deviation: largest distance to a section, mm (k,).

    exact: the sections are represented as they are, not refitted. closed: the panel goes round the whole girth. open: it is of open sections.
    labels: what each section was drawn as there, empty where it has no corner at the panel. corners: what each calls the corner where the panel
    begins, empty where it has none.
    """

    space: SplineSpace
    rows: Floats
    deviation: Floats
    exact: bool
    closed: bool
    labels: tuple[str, ...] = ()
    corners: tuple[str, ...] = ()
    open: bool = False


@dataclass(frozen=True)
class _Piece:
    """Part of a loop from `start` over `extent`, walked by `walk`: [0, 1] -> [0, 1]; affine when walk is None."""

    loop: Girth
    start: float
    extent: float
    walk: Callable[[Floats], Floats] | None


def _points(pieces: Sequence[_Piece], girths: Girths, u: Floats) -> Floats:
    """Points of all pieces, parts of all outlines, at their own parameters u (m,): (k, m, 3)."""
    shares = u if all(p.walk is None for p in pieces) else np.stack(walked([p.walk for p in pieces], u))
    t = np.array([p.start for p in pieces])[:, None] + np.array([p.extent for p in pieces])[:, None] * shares
    return girths(t - np.floor(t))


def _own_knots(pieces: Sequence[_Piece], degree: int) -> tuple[Ints, Floats, Ints]:
    """Inner knots over [0, 1] of all pieces run evenly, without walks or by steps, in a space of the degree: whose, where, how many times (b,)."""
    spaces = [p.loop.loop.curve.space for p in pieces]
    owners = np.repeat(np.arange(len(pieces)), [len(space.breaks) - 1 for space in spaces])
    breaks = np.concatenate([space.breaks[:-1] for space in spaces])
    # where the outline closes, the knot that ends it holds no more than the seam needs
    counts = np.concatenate([(max(1, s.degree - p.loop.loop.seam), *s.multiplicities[1:-1]) for s, p in zip(spaces, pieces, strict=True)])
    counts += (degree - np.array([space.degree for space in spaces]))[owners]
    # a piece without extent has no knots inside
    extents = np.maximum([p.extent for p in pieces], NOTHING)
    at = ((breaks - np.array([p.start for p in pieces])[owners]) % 1.0) / extents[owners]
    for i, piece in enumerate(pieces):
        if isinstance(piece.walk, Stepwise):
            at[owners == i] = piece.walk.back(at[owners == i])
    inside = (at > 1e-9) & (at < 1 - 1e-9)
    return owners[inside], at[inside], counts[inside]


def panels(
    girths: Girths,
    starts: Sequence[float],
    tolerances: Tolerances,
    *,
    straight: bool = False,
    pairs: Sequence[Floats] = (),
    ring: bool = False,
) -> list[Panel]:
    """Panels of loops in space that run the same way; starts: matching places, one on each loop.

    straight: what lies between the sections is straight, and a side between the same two joints of all of them is a blend of these sides alone.
    pairs: shares of the girths (k,) that belong together whatever the shapes say: where a rail passes, or the designer connects them. Raises Crossed
    where two of them cross. ring: the last section is the first, and all that belongs together comes back to itself.
    """
    loops, origin = girths.each, np.array(starts)
    size = max(loop.length for loop in loops) / np.pi
    tolerances = replace(tolerances, fit=min(FINE * size, COARSEST))
    given = [Track((at - origin) % 1.0, 0.0, dict(enumerate(at.tolist()))) for at in pairs]
    if both := crossed(given):
        raise Crossed(*both)
    if loops[0].open:
        return _open_panels(girths, origin, given, tolerances, straight=straight)
    corners = follow([_corner_marks(loop, start) for loop, start in zip(loops, starts, strict=True)], given)
    corners = come_round(corners) if ring else corners
    if len(corners) == 1:
        corners = sorted([corners[0], _opposite(corners[0], loops, origin)], key=lambda track: track.positions[0])
    joints = follow([_joint_marks(loop, start) for loop, start in zip(loops, starts, strict=True)], given)
    joints = come_round(joints) if ring else joints
    joints = [*given, *(joint for joint in joints if goes_with(joint, given))]
    alike = straight and _alike(joints, girths, origin)
    if not corners:
        shares = _shares_round(joints)
        return [_panel(girths, origin, np.ones(len(loops)), shares, tolerances, closed=True, alike=alike)]
    return [_between(pair, girths, origin, joints, tolerances, alike=alike) for pair in zip(corners, [*corners[1:], corners[0]], strict=True)]


def _open_panels(girths: Girths, origin: Floats, given: Sequence[Track], tolerances: Tolerances, *, straight: bool) -> list[Panel]:
    """Panels of open sections, from one of their ends to the other; what lies on an end is the end."""
    loops = girths.each
    ends = [Track(np.full(len(loops), at), np.pi, dict.fromkeys(range(len(loops)), at)) for at in (0.0, 0.5)]
    given = [track for track in given if track.positions.min() > ON and track.positions.max() < 0.5 - ON]
    passed = [ends[0], *given, ends[1]]

    def there(found: Sequence[Mark]) -> list[Mark]:
        return [mark for mark in found if ON < mark.position < 0.5 - ON]

    corners = follow([there(_corner_marks(loop, start)) for loop, start in zip(loops, origin.tolist(), strict=True)], passed)
    joints = follow([there(_joint_marks(loop, start)) for loop, start in zip(loops, origin.tolist(), strict=True)], passed)
    joints = [*given, *(joint for joint in joints if goes_with(joint, passed))]
    alike = straight and _alike(joints, girths, origin)
    bounds = [ends[0], *sorted(corners, key=lambda track: float(track.positions.mean())), ends[1]]
    return [replace(_between(pair, girths, origin, joints, tolerances, alike=alike), open=True) for pair in pairwise(bounds)]


def _between(pair: tuple[Track, Track], girths: Girths, origin: Floats, joints: Sequence[Track], tolerances: Tolerances, *, alike: bool) -> Panel:
    """The panel from one track of corners to the next."""
    loops, (track, following) = girths.each, pair
    # two that share a place in a section are no whole turn apart there
    extent = np.maximum((following.positions - track.positions + NOTHING) % 1.0 - NOTHING, 0.0)
    shares = _shares(track.positions, extent, joints)
    begins = (track.positions + origin) % 1.0
    made = _panel(girths, begins, extent, shares, tolerances, closed=False, alike=alike)
    labels = tuple(
        curve_between(loop, float(b), float(e), starts=i in track.owners, ends=i in following.owners)
        if i in track.owners or i in following.owners
        else ""
        for i, (loop, b, e) in enumerate(zip(loops, begins, extent, strict=True))
    )
    return replace(made, labels=labels, corners=tuple(corner_at(loop, float(b)) for loop, b in zip(loops, begins, strict=True)))


def extents_of(strips: Sequence[Panel]) -> Floats:
    """How much of the girth each strip goes round, on the mean of the sections that have one (s,)."""
    round_about = np.stack([lengths(np.diff(strip.space.evaluate(strip.rows.transpose(1, 0, 2), AROUND), axis=0)).sum(axis=0) for strip in strips])
    whole = round_about.sum(axis=0)
    return np.asarray((round_about / np.where(whole > 0, whole, 1.0))[:, whole > 0].mean(axis=1), dtype=np.float64)


def side_by_side(strips: Sequence[Panel]) -> list[Panel]:
    """The panels round a body with their ends set to each other's to the last bit: each is a curve of its own, and rounds by itself."""
    rows = end_to_end([strip.rows for strip in strips], open_=strips[0].open)
    return [replace(strip, rows=own) for strip, own in zip(strips, rows, strict=True)]


def end_to_end(rows: Sequence[Floats], *, open_: bool) -> list[Floats]:
    """Rows (k, n, 3) of the strips round a body with their ends set to each other's to the last bit; open_: the last goes on to none."""
    following = [*rows[1:], *([] if open_ else rows[:1])]
    met = [np.concatenate([row[:, :-1], after[:, :1]], axis=1) for row, after in zip(rows, following, strict=False)]
    return [*met, *rows[len(following) :]]


def neighbours(count: int, *, open_: bool) -> list[tuple[int, int]]:
    """Numbers of the strips before and after each of so many round a body; open_: the first and the last have none there but themselves."""
    return [(max(i - 1, 0) if open_ else (i - 1) % count, min(i + 1, count - 1) if open_ else (i + 1) % count) for i in range(count)]


def _opposite(track: Track, loops: Sequence[Girth], origin: Floats) -> Track:
    """The other side of a body with a single corner: the place farthest from it where a section has the corner, half the girth away elsewhere."""
    positions = track.positions + 0.5
    for i in track.owners:
        corner = float((track.positions[i] + origin[i]) % 1.0)
        own = [span.at for span in loops[i].spans if abs((span.at - corner + 0.5) % 1.0 - 0.5) > NEAR]
        positions[i] = (own[0] if len(own) == 1 else opposite(loops[i], corner)) - origin[i]
    return Track(positions % 1.0, 0.0)


def follows(section: PlacedSection, led: Sequence[Panel]) -> bool:
    """Whether a section that was cut from a skin has a corner for each corner that the panels have now."""
    assert section.loop is not None
    corners = len(section.loop.corners)
    return corners == (2 * len(led) if section.loop.open else 0 if led[0].closed else len(led))


def following_row(section: PlacedSection, number: int, panel: Panel) -> tuple[Floats, float]:
    """Control points (n, 3) of a cut section in panel `number`, whose corners are its own, and how far they miss it, mm."""
    loop = girth_of(section)
    if panel.closed:
        piece = _Piece(loop, 0.0, 1.0, None)
    else:
        bounds = [*loop.corners, loop.corners[0] + 1.0]
        piece = _Piece(loop, bounds[number], bounds[number + 1] - bounds[number], None)
    rows, misses = _represent([piece], Girths([loop]), panel.space, _inside(panel.space.breaks, (0.13, 0.5, 0.87)))
    return rows[0], float(misses.max())


def _corner_marks(loop: Girth, start: float) -> list[Mark]:
    return _from_start(loop, loop.corners, loop.loop.turning(), start) if loop.corners else []


def _joint_marks(loop: Girth, start: float) -> list[Mark]:
    """Smooth joints, told apart by whether the outline gets rounder or straighter there."""
    if not loop.joints:
        return []
    at = np.array(loop.joints)
    bend = loop.bends(np.concatenate([at - 1e-7, at + 1e-7]) % 1.0)
    return _from_start(loop, loop.joints, np.sign(bend[len(at) :] - bend[: len(at)]), start)


def _from_start(loop: Girth, places: Sequence[float], turns: Floats, start: float) -> list[Mark]:
    at = np.array(places)
    moved = (at - start) % 1.0
    moved[moved > 1 - 1e-12] = 0.0
    drawn = (1.0 - at) % 1.0 if loop.turned else at
    order = np.argsort(moved)
    return [Mark(float(moved[i]), float(turns[i]), float(drawn[i])) for i in order]


def _alike(joints: Sequence[Track], girths: Girths, origin: Floats) -> bool:
    """Whether all sections have the same joints and run the same way there: then what is joined to what may change its pace at a joint, unseen."""
    for track in joints:
        if len(track.owners) < len(girths.each):
            return False
        at = (track.positions + origin) % 1.0
        ways = [girth.loop.curve.derivatives(girth.parameters(at[[i]]), 1)[1][0] for i, girth in enumerate(girths.each)]
        unit = np.array([way / np.linalg.norm(way) for way in ways])
        if np.abs(unit - unit[0]).max() > PARALLEL:
            return False
    return True


def _panel(
    girths: Girths,
    starts: Floats,
    extents: Floats,
    shares: list[tuple[float, dict[int, float]]],
    tolerances: Tolerances,
    *,
    closed: bool,
    alike: bool,
) -> Panel:
    loops = girths.each
    inside = all(1e-6 < u < 1 - 1e-6 for u, _ in shares)
    walks = walks_between(len(loops), shares, closed=closed, stepwise=alike and inside)
    pieces = [_Piece(loop, float(s), float(e), walk) for loop, s, e, walk in zip(loops, starts, extents, walks, strict=True)]
    if all((piece.walk is None or isinstance(piece.walk, Stepwise)) and piece.loop.pace is None for piece in pieces):
        degree = max(loop.loop.curve.degree for loop in loops)
        owners, at, counts = _own_knots(pieces, degree)
        if any(piece.walk is not None for piece in pieces):
            owners, at = np.append(owners, np.zeros(len(shares), dtype=owners.dtype)), np.append(at, [u for u, _ in shares])
            counts = np.append(counts, np.full(len(shares), degree))
        union = space_with(degree, at, counts, tolerances.parameter)
        largest = degree + 1 + np.bincount(owners, counts).max(initial=0)
        if union.count <= max(MOST_KNOTS, 1.25 * largest):
            # an identity holds everywhere or nowhere: a look at every fourth span tells
            rows, misses = _represent(pieces, girths, union, _inside(union.breaks, (0.5,))[::4])
            return Panel(union, rows, misses.max(axis=1), True, closed)
    return _refit(pieces, girths, [u for u, _ in shares], tolerances, closed)


def _shares(starts: Floats, extents: Floats, joints: Sequence[Track]) -> list[tuple[float, dict[int, float]]]:
    """Joints inside the panel: their common parameter and, for each section that has the joint, its own share.

    The common parameter is the mean over all sections, those that only borrow the joint too: so it rises from joint to joint as every share does.
    """
    found = []
    for track in joints:
        at = ((track.positions - starts) % 1.0) / np.maximum(extents, NOTHING)
        if np.all((at > 1e-6) & (at < 1 - 1e-6)):
            found.append((float(np.mean(at)), {i: float(at[i]) for i in track.owners}))
    found.sort(key=lambda item: item[0])
    ordered: list[tuple[float, dict[int, float]]] = []
    for u, own in found:
        before = ordered[-1] if ordered else None
        if before is not None and (u - before[0] < 1e-6 or any(own[i] - before[1][i] < 1e-6 for i in own.keys() & before[1].keys())):
            continue
        ordered.append((u, own))
    return ordered


def _shares_round(joints: Sequence[Track]) -> list[tuple[float, dict[int, float]]]:
    """The same for a panel that goes round the whole girth, where shares may lie beyond both ends of the parameter."""
    if not joints:
        return []
    first = joints[0].positions
    on = np.array([(track.positions - first) % 1.0 for track in joints])
    rise = on.mean(axis=1)
    # where the parameter has to begin so that all sections together are neither ahead of it nor behind
    ahead = first + on - rise[:, None]
    begin = float(np.angle(np.exp(2j * np.pi * ahead).mean()) / (2 * np.pi))
    begins = begin + (first - begin + 0.5) % 1.0 - 0.5
    found = []
    for track, along, u in zip(joints, on, begin + rise, strict=True):
        found.append((float(u % 1.0), {i: float(begins[i] + along[i] - np.floor(u)) for i in track.owners}))
    found.sort(key=lambda item: item[0])
    return [item for item, after in zip(found, [*found[1:], (found[0][0] + 1.0, {})], strict=True) if after[0] - item[0] > 1e-6]


def _inside(breaks: Floats, shares: Sequence[float]) -> Floats:
    """Parameters at the given shares of every span: (spans * shares,)."""
    return (breaks[:-1, None] + np.diff(breaks)[:, None] * np.array(shares)).ravel()


def _represent(pieces: Sequence[_Piece], girths: Girths, space: SplineSpace, between: Floats, *, closed: bool = False) -> tuple[Floats, Floats]:
    """Rows (k, n, 3) that interpolate the pieces, and how far they miss them at the parameters between (m,): (k, m)."""
    both = np.concatenate([space.greville, between])
    true = _points(pieces, girths, both).transpose(1, 0, 2)
    rows = space.interpolate(true[: space.count])
    if closed:
        rows = _close_smoothly(space, rows)
    misses = lengths(space.evaluate(rows, between) - true[space.count :])
    return rows.transpose(1, 0, 2), misses.T


def _refit(pieces: Sequence[_Piece], girths: Girths, joints: Sequence[float], tolerances: Tolerances, closed: bool) -> Panel:
    """Spline interpolation of all sections in one space, its spans parted where a section is missed."""
    degree = 5 if any(p.walk is not None or p.loop.pace is not None or p.loop.loop.curve.degree > 3 for p in pieces) else 3
    bounds = np.array([0.0, *(u for u in joints if NOTHING_NEAR < u < 1 - NOTHING_NEAR), 1.0])
    own = max(len(p.loop.loop.curve.space.breaks) * p.extent for p in pieces)
    # a cubic has a third derivative that jumps at its knots, and takes more to be met than what is smooth
    rough = any(p.loop.pace is not None and p.loop.loop.curve.degree <= 3 for p in pieces)
    first = min(8 * own, max(USUAL_SPANS * max(p.extent for p in pieces), 1.5 * own)) if rough else own
    spans = np.maximum(2, np.ceil(np.diff(bounds) * first - 1e-6)).astype(int)  # rounding counts for nothing
    space = _smooth_between(bounds, degree, _parted(bounds, spans)) if len(bounds) > 2 else even_space(degree, int(spans[0]))
    while True:
        breaks = space.breaks
        spans_seen, between = _seen(breaks, bounds[1:-1])
        rows, misses = _represent(pieces, girths, space, between, closed=closed)
        if misses.max() <= tolerances.fit:
            return Panel(space, rows, misses.max(axis=1), False, closed)
        worst = np.zeros(len(breaks) - 1)
        np.maximum.at(worst, spans_seen, misses.max(axis=0))
        # at a knot of a cubic section, halving a span gains a factor of eight
        parts = 2 ** np.ceil(np.log2(np.clip(worst / tolerances.fit, 1.0, 1e4)) / 3).astype(int)
        if parts.sum() > MOST_SPANS:
            return Panel(space, rows, misses.max(axis=1), False, closed)
        space = _smooth_between(bounds, degree, _parted(breaks, parts))


def _seen(breaks: Floats, joints: Floats) -> tuple[Ints, Floats]:
    """Where it is seen how far a spline is off: the spans, and places in them, (m,).

    Half-way between its places it is furthest off; beside a joint a section may have another of its own.
    """
    spans, middles = np.arange(len(breaks) - 1), (breaks[:-1] + breaks[1:]) / 2
    if not len(joints):
        return spans, middles
    beside = np.flatnonzero(np.isin(breaks[:-1], joints) | np.isin(breaks[1:], joints))
    low, wide = breaks[beside], np.diff(breaks)[beside]
    return np.concatenate([spans, beside, beside]), np.concatenate([middles, low + 0.1 * wide, low + 0.9 * wide])


def _smooth_between(bounds: Floats, degree: int, breaks: Floats) -> SplineSpace:
    """The space over the breaks (b,) whose splines may bend anew at the bounds (d,) among them."""
    return SplineSpace.from_breaks(degree, breaks, np.where(np.isin(breaks[1:-1], bounds), degree - 1, 1))


def _parted(breaks: Floats, parts: Ints) -> Floats:
    """Breaks (b,) with every span in so many equal parts (b - 1,)."""
    first = np.repeat(breaks[:-1], parts)
    number = np.arange(len(first)) - np.repeat(np.cumsum(parts) - parts, parts)
    return np.append(first + number * np.repeat(np.diff(breaks) / parts, parts), breaks[-1])


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
