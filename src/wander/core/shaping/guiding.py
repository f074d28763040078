"""The skin of a loft drawn onto the rails that guide it.

The surface is a Boolean sum (Gordon 1969): the skin through the sections, plus, for each rail, how far it is from the line of the skin that starts
where it meets the sections, spread round the body by functions that are one at their rail and nothing at every other. Along the body a rail is
counted by planes that swing from station to station as the skin does, so that what is plane stays plane.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput
from wander.core.geometry.interpolate import End, cubic_system
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.tolerances import DEFAULT, Tolerances
from wander.core.geometry.vectors import lengths
from wander.core.shaping.around import Across, bounds_round, places_round, side_at
from wander.core.shaping.centre_line import CentreLine
from wander.core.shaping.meeting import MET, Guide
from wander.core.shaping.rail_planes import Followed, Planes
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.whole_sections import moved_whole

CLOSE = 5e-5
"""How near the skin is drawn to its rails between the sections, mm."""
FAR = 24
"""A span in which it is further off by so much is parted in four: halves miss by a sixteenth, or a quarter where a rail's curvature jumps."""
MOST_SPANS = 400
NEAR = 1e-9


@dataclass(frozen=True)
class Strip:
    """A side of the skin. face: its surface. extent: how much of the girth it goes round, on the mean."""

    surface: Surface
    extent: float
    closed: bool


def guided(
    strips: Sequence[Strip],
    found: Sequence[Guide],
    places: Floats,
    sections: Sequence[PlacedSection],
    *,
    line: CentreLine | None = None,
    whole: bool = False,
    open_: bool = False,
    tolerances: Tolerances = DEFAULT,
) -> list[Surface]:
    """The sides drawn onto the rails.

    places: parameters of the sections (k,), at which the skin meets them already. line: that all of them swing along, as it runs straight up; rails
    are where they were drawn. whole: the sections between are carried along as wholes first, and the skin beside the rails follows with what is left.
    open_: the last side goes on to none, and no rail has a say across there. Raises TurnsBack where a rail can't be followed, BadInput where
    two are one.
    """
    outlined = [i for i, section in enumerate(sections) if not section.is_point]
    rows = [strip.surface.v.evaluate(strip.surface.points.transpose(1, 0, 2), places[outlined]) for strip in strips]
    sides = [Across(strip.surface.u, row, strip.closed, strip.extent) for strip, row in zip(strips, rows, strict=True)]
    starts = bounds_round(sides)
    met = np.array([[guide.meetings[i].on for guide in found] for i in outlined])
    where = places_round(sides, met if line is None else line.off(places[outlined], met), open_=open_)
    order = np.argsort(where)
    at = where[order]
    if np.any(np.diff(at) < 1e-6):
        raise BadInput("two rails meet the sections at the same places")
    lines, along = _lines(strips, starts, at), strips[0].surface.v
    planes = Planes(places, sections, line)
    v, moves = _moves([found[i] for i in order], lines, along, places, planes)
    if whole:

        def apart(t: Floats) -> tuple[Floats, Floats]:
            before = along.evaluate(lines, t)
            return before, before + v.evaluate(moves.transpose(1, 0, 2), t)

        surfaces = moved_whole([strip.surface for strip in strips], planes.at, apart, v, tolerances)
        carried = [replace(strip, surface=surface) for strip, surface in zip(strips, surfaces, strict=True)]
        return guided(carried, found, places, sections, line=line, open_=open_)
    says = _says_open(at) if open_ else _says(at)
    made = []
    for number, strip in enumerate(strips):
        low, high = starts[number], starts[number + 1]
        bends = [*at] if open_ else [*at, *_opposite(at)]
        inner = [(g - low) / (high - low) for g in bends for g in (g, g + 1.0) if low + NEAR < g < high - NEAR]
        space = _with_bends(strip.surface.u, inner)
        spread = space.interpolate(says(low + (high - low) * space.greville))
        surface = strip.surface.represented(space, 0).represented(v, 1)
        points = surface.points + np.einsum("nj,jmc->nmc", spread, moves)
        made.append(replace(surface, points=points))
    return made


def kinks(found: Sequence[Guide], places: Floats, sections: Sequence[PlacedSection], line: CentreLine | None = None) -> list[float]:
    """Parameters along the body at which the skin bends because a rail does, rising."""
    planes = Planes(places, sections, line)
    bends = np.sort([v for guide in found for v in planes.bends(guide, places)])
    return bends[np.diff(bends, prepend=-np.inf) > 1e-7].tolist() if len(bends) else []


def _opposite(at: Floats) -> list[float]:
    """Where a single rail has no say: half the girth away, its influence begins there."""
    return [float((at[0] + 0.5) % 1.0)] if len(at) == 1 else []


def _with_bends(space: SplineSpace, inner: Sequence[float]) -> SplineSpace:
    """The space of degree five or more with knots that let the second derivative change its way at places inside (0, 1) of it."""
    raised = space.elevated(max(space.degree, 5))
    low, high = raised.domain
    added: list[float] = []
    for share in sorted(inner):
        at = low + share * (high - low)
        known = np.abs(raised.breaks - at) < NEAR * (high - low)
        if known.any():
            at, there = float(raised.breaks[known][0]), int(raised.multiplicities[known][0])
        else:
            there = 0
        added += [at] * max(raised.degree - 2 - there, 0)
    return raised.with_knots(added) if added else raised


def _says(at: Floats) -> Callable[[Floats], Floats]:
    """How much each rail at `at` (j,) has to say at places round the girth (m,), (m, j): one at its own, nothing at the others; twice smooth.

    One or two are at rest where they have all to say, and nothing. Of three and more each is a cubic round the girth: what is smooth between them
    comes back with the fourth power of their distance.
    """
    if len(at) > 2:
        space, matrix = cubic_system(np.append(at, at[0] + 1), End.PERIODIC)
        controls = np.linalg.solve(matrix, np.concatenate([np.eye(len(at), len(at)), np.eye(len(at))[:1], np.zeros((2, len(at)))]))
        return lambda around: space.evaluate(controls, at[0] + (around - at[0]) % 1.0)
    if len(at) == 1:
        return lambda around: 1 - _eased(2 * np.abs((around[:, None] - at + 0.5) % 1.0 - 0.5))
    step = (at[1] - at[0]) % 1.0

    def both(around: Floats) -> Floats:
        on = (around - at[0]) % 1.0
        second = np.where(on < step, _eased(on / step), 1 - _eased((on - step) / (1 - step)))
        return np.stack([1 - second, second], axis=1)

    return both


def _says_open(at: Floats) -> Callable[[Floats], Floats]:
    """The same from one end of an open section, 0, to the other, 1: beyond the outermost of two rails nothing changes any more, beyond those of more
    each goes on straight, as a batten does that is let go."""
    if len(at) == 1:
        return lambda across: 1 - _eased(np.abs(across[:, None] - at) / max(float(at[0]), 1 - float(at[0])))
    if len(at) == 2:

        def both(across: Floats) -> Floats:
            second = _eased((across - at[0]) / (at[1] - at[0]))
            return np.stack([1 - second, second], axis=1)

        return both
    space, matrix = cubic_system(at, End.NATURAL)
    controls = np.linalg.solve(matrix, np.concatenate([np.eye(len(at)), np.zeros((2, len(at)))]))

    def straight_on(across: Floats) -> Floats:
        inside = np.clip(across, at[0], at[-1])
        return np.asarray(space.evaluate(controls, inside) + (across - inside)[:, None] * space.evaluate(controls, inside, 1), dtype=np.float64)

    return straight_on


def _eased(t: Floats) -> Floats:
    """From 0 to 1 with two derivatives at rest at both ends."""
    t = np.clip(t, 0.0, 1.0)
    return np.asarray(t**3 * (10 - 15 * t + 6 * t**2), dtype=np.float64)


def _lines(strips: Sequence[Strip], bounds: Floats, at: Floats) -> Floats:
    """Control points along the body of the lines of the skin at places round it (j,): (n, j, 3)."""
    found = []
    for where in at:
        number, share = side_at(bounds, float(where))
        found.append(strips[number].surface.u.evaluate(strips[number].surface.points, np.array([share]))[0])
    return np.stack(found, axis=1)


def _moves(found: Sequence[Guide], lines: Floats, along: SplineSpace, places: Floats, planes: Planes) -> tuple[SplineSpace, Floats]:
    """How far each rail is from its line of the skin: a space along the body and control points in it, (j, n, 3)."""
    skin = along.elevated(max(3, along.degree))
    breaks, counts = skin.breaks, skin.multiplicities[1:-1].astype(np.int64)
    bends = [v for guide in found for v in planes.bends(guide, places)]
    for v in bends:
        near = int(np.argmin(np.abs(breaks - v)))
        if abs(breaks[near] - v) < 1e-7:
            if 0 < near < len(breaks) - 1:
                counts[near - 1] = skin.degree
        else:
            near = int(np.searchsorted(breaks, v))
            breaks, counts = np.insert(breaks, near, v), np.insert(counts, near - 1, skin.degree)
    followed = Followed(found, planes, places)

    def apart(v: Floats) -> Floats:
        return followed(v) - along.evaluate(lines, v)

    # at the sections nothing moves: what a rail misses them by is carried on between them
    missed = apart(places)

    def true(v: Floats) -> Floats:
        return apart(v) - planes.carried(missed, v)

    while True:
        space = SplineSpace.from_breaks(skin.degree, breaks, counts)
        between = (breaks[:-1, None] + np.diff(breaks)[:, None] * np.array([0.21, 0.5, 0.79])).ravel()
        values = true(np.concatenate([space.greville, between]))
        controls = space.interpolate(values[: space.count])
        missed_by = lengths(space.evaluate(controls, between) - values[space.count :])
        miss = missed_by.max(axis=1).reshape(-1, 3).max(axis=1)
        bad = np.flatnonzero(miss > CLOSE)
        if not len(bad):
            break
        if len(breaks) + len(bad) > MOST_SPANS:
            if missed_by.max() <= MET:
                break
            # where it turns back it jumps from plane to plane
            at_v, number = divmod(int(missed_by.argmax()), len(found))
            raise found[number].turning_back(int(planes.bay_of(between[[at_v]])[0]))
        far = bad[miss[bad] > (FAR * CLOSE if len(breaks) + 3 * len(bad) <= MOST_SPANS else np.inf)]
        at = np.concatenate([bad, far, far]) + 1
        share = np.repeat([0.5, 0.25, 0.75], [len(bad), len(far), len(far)])
        inner = breaks[at - 1] + share * (breaks[at] - breaks[at - 1])
        order = np.argsort(inner)
        breaks, counts = np.insert(breaks, at[order], inner[order]), np.insert(counts, at[order] - 1, 1)
    return space, controls.transpose(1, 0, 2)
