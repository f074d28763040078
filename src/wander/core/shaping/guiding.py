"""Rails that guide a skin: where they meet its sections, and the skin drawn onto them.

The surface is a Boolean sum (Gordon 1969): the skin through the sections, plus, for each rail, how far it is from the line of the skin that starts
where it meets the sections, spread round the body by functions that are one at their rail and nothing at every other. Along the body a rail is
counted by planes that swing from station to station as the skin does, so that what is plane stays plane.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameter, closest_parameters
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import reverse
from wander.core.geometry.errors import BadInput
from wander.core.geometry.interpolate import End, cubic_system
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import lengths
from wander.core.shaping.section import PlacedSection

MET = 1e-3
"""A rail that passes a section by no more, mm, meets it."""
CLOSE = 5e-5
"""How near the skin is drawn to its rails between the sections, mm."""
PER_SPAN = 12
MOST_SPANS = 400
HALVINGS = 60
NEAR = 1e-9


@dataclass(frozen=True)
class Meeting:
    """Where a rail passes a section. at: its parameter. place: on the rail (3,). on: nearest place of the section (3,). parameter: of its outline
    there, as it was drawn; None for a point.
    """

    at: float
    place: Floats
    on: Floats
    parameter: float | None

    @property
    def miss(self) -> float:
        """mm."""
        return float(np.linalg.norm(self.place - self.on))


class Missed(BadInput):
    """A rail passes a section without touching it, or stops before it. rail, section: their numbers."""

    def __init__(self, rail: int, section: int, meeting: Meeting, *, short: bool) -> None:
        how = "stops" if short else "passes"
        super().__init__(f"rail {rail + 1} {how} {meeting.miss:.3g} mm off section {section + 1}")
        self.rail, self.section, self.meeting, self.short = rail, section, meeting, short


@dataclass(frozen=True)
class Guide:
    """A rail that meets all sections, run as they follow each other. at: its parameters there (k,). meetings: one for each section."""

    curve: Curve
    at: Floats
    meetings: tuple[Meeting, ...]


def guides(rails: Sequence[Curve], sections: Sequence[PlacedSection]) -> list[Guide]:
    """The rails as the sections follow each other. Raises Missed where one meets no section, BadInput where one meets them in another order."""
    found = []
    for number, rail in enumerate(rails):
        curve = rail
        passed = [_passing(curve, section) for section in sections]
        if passed[0][0].at > passed[-1][0].at:
            curve = reverse(rail)
            passed = [_passing(curve, section) for section in sections]
        for i, (meeting, short) in enumerate(passed):
            if meeting.miss > MET:
                raise Missed(number, i, meeting, short=short)
        at = np.array([meeting.at for meeting, _ in passed])
        if np.any(np.diff(at) <= NEAR):
            raise BadInput(f"rail {number + 1} meets the sections in another order than they follow each other")
        found.append(Guide(curve, at, tuple(meeting for meeting, _ in passed)))
    return found


def _passing(rail: Curve, section: PlacedSection) -> tuple[Meeting, bool]:
    """Where a rail comes nearest to a section, and whether it stops before the plane of it."""
    if section.is_point:
        at = closest_parameter(rail, section.center)
        return Meeting(at, rail(at), section.center, None), False
    assert section.loop is not None
    t, places = rail.sampled(PER_SPAN)
    height = (places - section.frame.origin) @ section.frame.z
    signs = np.flatnonzero(height[:-1] * height[1:] < 0)
    low, high = t[signs].copy(), t[signs + 1].copy()
    rising = height[signs] < 0
    for _ in range(HALVINGS):
        if not len(low):
            break
        middle = (low + high) / 2
        below = ((rail(middle) - section.frame.origin) @ section.frame.z < 0) == rising
        low, high = np.where(below, middle, low), np.where(below, high, middle)
    near = np.abs(height) <= MET
    candidates = np.concatenate([(low + high) / 2, t[near]])
    short = not len(candidates)
    if short:
        candidates = t[[int(np.abs(height).argmin())]]
    there = rail(candidates)
    flat = section.frame.drop(there)
    on = closest_parameters(section.loop.curve, flat)
    spots = section.frame.lift(section.loop.curve(on))
    best = int(lengths(there - spots).argmin())
    return Meeting(float(candidates[best]), there[best], spots[best], float(on[best])), short


@dataclass(frozen=True)
class Strip:
    """A side of the skin. face: its surface. extent: how much of the girth it goes round, on the mean."""

    surface: Surface
    extent: float
    closed: bool


def guided(strips: Sequence[Strip], found: Sequence[Guide], places: Floats, sections: Sequence[PlacedSection]) -> list[Surface]:
    """The sides drawn onto the rails.

    places: parameters of the sections (k,), at which the skin meets them already. Raises BadInput where a rail can't be followed.
    """
    starts = np.concatenate([[0.0], np.cumsum([strip.extent for strip in strips])])
    starts /= starts[-1]
    around = [_around(strips, starts, guide, places, sections) for guide in found]
    order = np.argsort([where for where, _, _ in around])
    if np.any(np.diff(np.sort([where for where, _, _ in around])) < 1e-6):
        raise BadInput("two rails meet the sections at the same places")
    ordered = [found[i] for i in order]
    where = [around[i] for i in order]
    v, moves = _moves(ordered, [(strips[number].surface, u) for _, number, u in where], places, sections)
    at = np.array([g for g, _, _ in where])
    made = []
    for number, strip in enumerate(strips):
        low, high = starts[number], starts[number + 1]
        inner = [(g - low) / (high - low) for g in [*at, *_opposite(at)] for g in (g, g + 1.0) if low + NEAR < g < high - NEAR]
        space = _with_bends(strip.surface.u, inner)
        shares = _shares(at, low + (high - low) * (space.greville - space.domain[0]) / (space.domain[1] - space.domain[0]))
        spread = space.interpolate(shares)
        surface = strip.surface.represented(space, 0).represented(v, 1)
        points = surface.points + np.einsum("nj,jmc->nmc", spread, moves)
        made.append(replace(surface, points=points))
    return made


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


def _shares(at: Floats, around: Floats) -> Floats:
    """How much each rail (j,) has to say at places round the girth (m,), (m, j): one at its own, nothing at the others; twice smooth.

    One or two are at rest where they have all to say, and nothing. Of three and more each is a cubic round the girth: what is smooth between them
    comes back with the fourth power of their distance.
    """
    if len(at) > 2:
        ring = np.append(at, at[0] + 1)
        space, matrix = cubic_system(ring, End.PERIODIC)
        controls = np.linalg.solve(matrix, np.concatenate([np.eye(len(at), len(at)), np.eye(len(at))[:1], np.zeros((2, len(at)))]))
        return space.evaluate(controls, at[0] + (around - at[0]) % 1.0)
    shares = np.zeros((len(around), len(at)))
    away = np.abs((around[:, None] - at + 0.5) % 1.0 - 0.5)
    if len(at) == 1:
        shares[:, 0] = 1 - _eased(2 * away[:, 0])
        return shares
    step = (at[1] - at[0]) % 1.0
    on = (around - at[0]) % 1.0
    shares[:, 1] = np.where(on < step, _eased(on / step), 1 - _eased((on - step) / (1 - step)))
    shares[:, 0] = 1 - shares[:, 1]
    return shares


def _eased(t: Floats) -> Floats:
    """From 0 to 1 with two derivatives at rest at both ends."""
    t = np.clip(t, 0.0, 1.0)
    return np.asarray(t**3 * (10 - 15 * t + 6 * t**2), dtype=np.float64)


def _around(strips: Sequence[Strip], starts: Floats, guide: Guide, places: Floats, sections: Sequence[PlacedSection]) -> tuple[float, int, float]:
    """Where round the girth a rail runs, from 0 to 1, and which line of which strip that is."""
    found = []
    for i, section in enumerate(sections):
        if section.is_point:
            continue
        on = guide.meetings[i].on
        best = None
        for number, strip in enumerate(strips):
            row = Curve(strip.surface.u, strip.surface.v.evaluate(strip.surface.points.transpose(1, 0, 2), places[[i]])[0])
            u = closest_parameter(row, on)
            miss = float(np.linalg.norm(row(u) - on))
            if best is None or miss < best[0] - NEAR:
                low, high = row.domain
                best = (miss, number, (u - low) / (high - low))
        assert best is not None
        _, number, share = best
        found.append(starts[number] + share * (starts[number + 1] - starts[number]))
    angles = np.exp(2j * np.pi * np.array(found))
    where = float(np.angle(angles.mean()) / (2 * np.pi)) % 1.0
    apart = np.abs((np.array(found) - where + 0.5) % 1.0 - 0.5).max()
    if apart > 2e-3:
        raise BadInput("a rail runs across a corner of the sections: let it follow the corner, or keep to one side of it")
    number = min(int(np.searchsorted(starts, where + NEAR, side="right")) - 1, len(strips) - 1)
    surface = strips[number].surface
    share = np.clip((where - starts[number]) / (starts[number + 1] - starts[number]), 0.0, 1.0)
    low, high = surface.u.domain
    return where, number, float(low + share * (high - low))


def _moves(
    found: Sequence[Guide], lines: Sequence[tuple[Surface, float]], places: Floats, sections: Sequence[PlacedSection]
) -> tuple[SplineSpace, Floats]:
    """How far each rail is from its line of the skin: a space along the body and control points in it, (j, n, 3)."""
    planes = _Planes(places, sections)
    skin = lines[0][0].v.elevated(max(3, lines[0][0].v.degree))
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

    def apart(v: Floats) -> Floats:
        lines_there = [surface.grid(np.array([u]), v)[0] for surface, u in lines]
        return np.stack([planes.followed(guide, v) - line for guide, line in zip(found, lines_there, strict=True)], axis=1)

    # at the sections nothing moves: what a rail misses them by is carried on between them
    missed = apart(places)

    def true(v: Floats) -> Floats:
        return apart(v) - planes.carried(missed, v)

    while True:
        space = SplineSpace.from_breaks(skin.degree, breaks, counts)
        between = (breaks[:-1, None] + np.diff(breaks)[:, None] * np.array([0.21, 0.5, 0.79])).ravel()
        values = true(np.concatenate([space.greville, between]))
        controls = space.interpolate(values[: space.count])
        misses = lengths(space.evaluate(controls, between) - values[space.count :]).max(axis=1).reshape(-1, 3).max(axis=1)
        bad = np.flatnonzero(misses > CLOSE)
        if not len(bad) or len(breaks) + len(bad) > MOST_SPANS:
            break
        middles = (breaks[bad] + breaks[bad + 1]) / 2
        at = np.searchsorted(breaks, middles)
        breaks, counts = np.insert(breaks, at, middles), np.insert(counts, at - 1, 1)
    return space, controls.transpose(1, 0, 2)


class _Planes:
    """Planes that swing from station to station along the body."""

    def __init__(self, places: Floats, sections: Sequence[PlacedSection]) -> None:
        self._places = places
        # a rail may arrive at a point flat, where no plane counts it
        self._pointed = any(section.is_point for section in sections)
        centers = np.stack([section.center for section in sections])
        normals = np.stack([section.frame.z for section in sections])
        along = np.gradient(centers, axis=0)
        normals = normals * np.where(np.einsum("ic,ic->i", normals, along) < 0, -1.0, 1.0)[:, None]
        values = np.concatenate([centers, normals], axis=1)
        if len(places) == 2:
            self._space, self._controls = SplineSpace.from_breaks(1, places), values
            return
        self._space, self._matrix = cubic_system(places, End.NATURAL)
        self._controls = np.linalg.solve(self._matrix, np.concatenate([values, np.zeros((2, 6))]))

    def carried(self, values: Floats, v: Floats) -> Floats:
        """What is known at the stations (k, ...) at v (m,) too: (m, ...)."""
        if len(self._places) == 2:
            return self._space.evaluate(values, v)
        rows = np.concatenate([values, np.zeros((2, *values.shape[1:]))])
        return self._space.evaluate(np.linalg.solve(self._matrix, rows.reshape(len(rows), -1)).reshape(rows.shape), v)

    def _ahead(self, points: Floats, v: Floats) -> Floats:
        """How far points (m, 3) are before the planes at v (m,), mm or so."""
        both = self._space.evaluate(self._controls, v)
        return np.einsum("mc,mc->m", points - both[:, :3], both[:, 3:])

    def followed(self, guide: Guide, v: Floats) -> Floats:
        """Places of a rail in the planes at v (m,): (m, 3)."""
        if self._pointed:
            return guide.curve(np.clip(self.carried(guide.at[:, None], v)[:, 0], *guide.curve.domain))
        bay = np.clip(np.searchsorted(self._places, v, side="right") - 1, 0, len(self._places) - 2)
        low, high = guide.at[bay].copy(), guide.at[bay + 1].copy()
        share = (v - self._places[bay]) / (self._places[bay + 1] - self._places[bay])
        t = low + share * (high - low)
        at_station = (share < NEAR) | (share > 1 - NEAR)
        for _ in range(HALVINGS):
            point, way = guide.curve.derivatives(t, 1)
            ahead = self._ahead(point, v)
            low, high = np.where(ahead < 0, t, low), np.where(ahead < 0, high, t)
            normals = self._space.evaluate(self._controls, v)[:, 3:]
            slope = np.einsum("mc,mc->m", way, normals)
            step = np.where(np.abs(slope) > NEAR, ahead / np.where(np.abs(slope) > NEAR, slope, 1.0), np.inf)
            there = t - step
            inside = (there > low) & (there < high)
            new = np.where(inside, there, (low + high) / 2)
            new = np.where(at_station, t, new)
            done = np.abs(new - t).max() < 1e-13
            t = new
            if done:
                break
        places = guide.curve(t)
        off = np.abs(self._ahead(places, v))[~at_station]
        if len(off) and off.max() > 1e-6:
            raise BadInput("a rail turns back on its way from one section to the next")
        return places

    def bends(self, guide: Guide, places: Floats) -> list[float]:
        """Parameters along the body at which a rail has a kink."""
        found = []
        for at, count in guide.curve.space.continuity.items():
            if count > 0 or not guide.at[0] < at < guide.at[-1]:
                continue
            before, after = (guide.curve.derivatives(at + d, 1)[1] for d in (-1e-9, 1e-9))
            if float(before @ after) > (1 - 1e-12) * float(np.linalg.norm(before) * np.linalg.norm(after)):
                continue
            bay = int(np.searchsorted(guide.at, at, side="right")) - 1
            if (near := np.abs(guide.at - at)).min() < 1e-9:
                found.append(float(places[int(near.argmin())]))
                continue
            low, high = places[bay], places[bay + 1]
            point = guide.curve(at)[None]
            for _ in range(HALVINGS):
                middle = (low + high) / 2
                if self._ahead(point, np.array([middle]))[0] > 0:
                    low = middle
                else:
                    high = middle
            found.append(float((low + high) / 2))
        return found
