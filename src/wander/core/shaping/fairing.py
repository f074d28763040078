"""How a skin goes from section to section: as evenly curved as can be without swelling between two sections beyond what both ask for.

Along the body every line of the skin is a cubic with a knot at each station and two between neighbours, so that value, slope and second derivative
can be chosen at each station. What lies round the line of centres begins as the line whose bending changes least; as far as that swells, as the one
that is bent least (by chord, each bay counting by its own size). From there it is bent as little as it takes to stay, in every direction round the
section, between the two sections that bound a bay, but for a hundredth of the larger step beside them. That is a quadratic programme with a single
solution. It is solved in its dual, where only the places that are held count, by non-negative least squares (Lawson & Hanson 1974, chapter 23, least
distance programming). Once it is solved, every line is one linear map of the sections.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.interpolate import End, cubic_system
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.vectors import lengths
from wander.core.shaping.unit_span import BENDING, BUMP, CHANGE, IN_CONTROLS, INNER, VALUES

SWELLING = 0.009
"""How far a line may leave the range of the two sections of its bay, by the larger step beside them."""
NARROWEST = 0.1
"""A direction in which little happens is held by no less than this share of what the widest step allows."""
NEVER = 1e-12
"""Of the size: less is nothing."""
ALONE = 1e-11
"""Places that feel the same press together: each is a little its own, so that the sum has a root."""
HELD = 1e-8
"""A place that is passed by no more than this share of what is allowed there is not passed."""
MOST_ROUNDS = 100
"""Rounds of looking which places are passed: ten are usual, and each bends the skin a little more. After the last it may swell a hair."""
GIVEN_UP = 20.0
"""The least change of bending is given up, the further the more, until it goes beyond what is allowed by so many times that."""
ASTRAY = 0.05
"""The least change of bending of the centres is given up from this share of the way between two on, and altogether at twice that."""
SHORTEST = 0.02
"""A bay counts for the change of bending as no shorter than this share of the longest."""
RIDGE = 1e-3
"""Differences between the sections that are a smaller share of their size than this count for little: they are noise of how outlines are written."""
LONGEST, RUN, OVERLAP = 14, 6, 4
"""Sections that are sought all at once; of a longer row so many, with so many on both sides that are found anew with their own."""


@dataclass(frozen=True)
class Along:
    """How control points along the body follow from the sections. space: along it.

    centers, shapes: matrices (n, k) that take centres, and what lies round them, to control points. slopes: (n, 2), the same for slopes that are
    given at the two ends to what lies round the centres. bends: (n, 2), of second derivatives that are added at the two ends, and felt in the bay
    there alone.
    """

    space: SplineSpace
    centers: Floats
    shapes: Floats
    slopes: Floats
    bends: Floats


def along(
    places: Floats,
    shapes: Floats,
    *,
    swings: Floats,
    held: Mapping[int, Floats],
    slack: Floats | None = None,
    length: float = 1.0,
    ring: bool = False,
    even: bool = True,
) -> Along:
    """The maps from sections to skin.

    places: parameters of the sections (k,), rising. shapes: places round each section, from its centre, (k, m, 3), which belong together. swings:
    of `swinging`, for the centres. held: for an end (0 or -1) the slopes that the shapes have there, (m, 3), by the parameter. slack: for each bay
    (k - 1,) how much it may keep of the swelling that it would have by itself, 0 to 1. length: of one of the parameter, mm. ring: the last section is
    the first, and the skin goes on through it. even: it is evenly curved where that keeps within bounds, else bent least everywhere.
    """
    k, steps = len(places), np.diff(places)
    if ring:
        states = _ring_states(steps * length, shapes[:-1], slack, even)
    else:
        states = _states(steps * length, shapes, {index: slope / length for index, slope in held.items()}, slack, even)
    states *= np.tile(length ** np.arange(3.0), k)[:, None]
    states[:, k:] /= length
    breaks = np.append((places[:-1, None] + steps[:, None] * np.array([0.0, *INNER])).ravel(), places[-1])
    bends = np.zeros((3 * k, 2))
    bends[2, 0] = bends[-1, 1] = 1.0
    controls = _controls(steps, np.concatenate([states, swings, bends], axis=1))
    return Along(SplineSpace.from_breaks(3, breaks), controls[:, k + 2 : -2], controls[:, :k], controls[:, k : k + 2], controls[:, -2:])


def _controls(steps: Floats, states: Floats) -> Floats:
    """Control points (3 k, ...) of what has these values, slopes and second derivatives at the stations in turn, (3 k, ...).

    Each is the blossom of the three knots that it stands for, about the middle one (The NURBS Book, section 5.2; Ramshaw 1989).
    """
    k = len(steps) + 1
    before, after = np.append(0.0, steps), np.append(steps, 0.0)
    value, slope, second = states[0::3], states[1::3], states[2::3]
    found = np.empty_like(states)
    found[0], found[-1] = value[0], value[-1]
    found[1::3] = value + ((after - before) / 9)[:, None] * slope - (before * after / 54)[:, None] * second
    own = _by_bay(states) * _units(steps)[..., None]
    inner = (IN_CONTROLS @ own.transpose(1, 0, 2).reshape(6, -1)).reshape(2, k - 1, -1)
    found[2:-1:3], found[3:-1:3] = inner
    return found


def _units(steps: Floats) -> Floats:
    """What takes value, slope and second derivative at both ends of each bay to a unit span, (k - 1, 6)."""
    return np.stack([np.ones_like(steps), steps, steps**2] * 2, axis=1)


def _by_bay(states: Floats) -> Floats:
    """What belongs to each bay of rows (3 k, n) by station: (k - 1, 6, n)."""
    return states[3 * np.arange(len(states) // 3 - 1)[:, None] + np.arange(6)]


def _states(steps: Floats, shapes: Floats, held: Mapping[int, Floats], slack: Floats | None, even: bool) -> Floats:
    """Value, slope and second derivative at each station in turn, (3 k, k + 2), from shapes and given slopes.

    What is far off has next to no say: a long row is sought in runs that overlap.
    """
    k = len(shapes)
    if k <= LONGEST:
        row = _Row(steps, shapes, held)
        return row.states(_Bounds(row, slack, even=even).within())
    states = np.zeros((3 * k, k + 2))
    for first in range(0, k, RUN):
        low, high = max(first - OVERLAP, 0), min(first + RUN + OVERLAP, k)
        ends = {index: slope for index, slope in held.items() if (low == 0 if index == 0 else high == k)}
        found = _states(steps[low : high - 1], shapes[low:high], ends, None if slack is None else slack[low : high - 1], even)
        own = slice(first - low, min(first + RUN, k) - low)
        rows = slice(3 * first, 3 * first + 3 * (own.stop - own.start))
        states[rows, low:high] = found[3 * own.start : 3 * own.stop, : high - low]
        states[rows, k:] = found[3 * own.start : 3 * own.stop, high - low :]
    return states


def _ring_states(steps: Floats, shapes: Floats, slack: Floats | None, even: bool) -> Floats:
    """The same round a ring of sections (k, m, 3), the first of which is its last too: (3 k + 3, k + 3).

    Each is sought with as many before as behind it, so that it is the same wherever the ring is thought to begin.
    """
    k = len(shapes)
    states = np.zeros((3 * k + 3, k + 3))
    for i in range(k):
        near = np.arange(i - RUN, i + RUN + 1) % k
        found = _states(steps[near[:-1]], shapes[near], {}, None if slack is None else slack[near[:-1]], even)
        own = slice(3 * RUN, 3 * RUN + 3)
        np.add.at(states[3 * i : 3 * i + 3].T, near, found[own, : len(near)].T)
    # it ends as it begins, and counts what is the first as the last there, so that every line is met to the last bit
    states[-3:] = states[:3]
    states[-3, [0, k]] = 0.0, 1.0
    return states


def ring_swinging(places: Floats) -> Floats:
    """As `swinging`, where the last section is the first: the cubic comes to its end as it began."""
    space, system = cubic_system(places, End.PERIODIC)
    controls = np.linalg.inv(system)[:, : len(places)]
    return np.stack([space.matrix(places, order) @ controls for order in range(3)], axis=1).reshape(-1, len(places))


def swinging(places: Floats) -> Floats:
    """Values, slopes and second derivatives of the natural cubic through the sections at each in turn (3 k, k): what the centres swing along."""
    k, steps = len(places), np.diff(places)
    found = np.zeros((k, 3, k))
    stations, bays = np.arange(k), np.arange(k - 1)
    found[stations, 0, stations] = 1.0
    rises = np.zeros((k - 1, k))
    rises[bays, bays], rises[bays, bays + 1] = -1 / steps, 1 / steps
    if k > 2:
        # second derivatives, none at the ends: what each bay turns by (The NURBS Book, 9.2.3, written for second derivatives)
        turns = np.zeros((k - 2, k - 2))
        inner = bays[:-1]
        turns[inner, inner] = (steps[:-1] + steps[1:]) / 3
        turns[inner[1:], inner[:-1]] = turns[inner[:-1], inner[1:]] = steps[1:-1] / 6
        found[1:-1, 2] = np.linalg.solve(turns, np.diff(rises, axis=0))
    found[:-1, 1] = rises - (steps / 6)[:, None] * (2 * found[:-1, 2] + found[1:, 2])
    found[-1, 1] = rises[-1] + steps[-1] / 6 * found[-2, 2]
    return found.reshape(3 * k, k)


def even_swinging(places: Floats, centers: Floats) -> Floats:
    """As `swinging`, for centres (k, 3), along what changes its bending least, which does not straighten towards its ends.

    Nothing holds it between sections: the further it strays from the natural cubic, the nearer it is to that.
    """
    natural, k, steps = swinging(places), len(places), np.diff(places)
    if k < 3 or np.abs(natural[2::3] @ centers).max() * steps.max() ** 2 < NEVER * np.abs(centers).max():
        return natural  # two, or a straight row: there is nothing to bend
    even, free = np.zeros((3 * k, k)), np.flatnonzero(np.arange(3 * k) % 3)
    even[::3] = np.eye(k)
    scale = _scales(steps, free)
    form = _change(steps, steps)[free]
    even[free] = scale[:, None] * np.linalg.solve(scale[:, None] * form[:, free] * scale, -scale[:, None] * (form @ even))
    apart = VALUES @ (_by_bay((even - natural) @ centers) * _units(steps)[..., None])
    strays = lengths(apart).max(axis=1) / np.maximum(lengths(np.diff(centers, axis=0)), NEVER)
    return natural + float(np.clip(2.0 - strays.max() / ASTRAY, 0.0, 1.0)) * (even - natural)


def _scales(steps: Floats, free: Ints) -> Floats:
    """What makes slopes and second derivatives lengths, by the shorter bay beside their station. free: their numbers among all states."""
    shorter = np.minimum(np.append(steps, np.inf), np.append(np.inf, steps))
    return np.asarray(shorter[free // 3] ** -(free % 3), dtype=np.float64)


def _change(steps: Floats, chords: Floats) -> Floats:
    """The form over all states of how bending changes along the chords (k - 1,), (3 k, 3 k)."""
    return _form(CHANGE, steps, np.maximum(chords, SHORTEST * chords.max()) ** 5)


def _form(of: Floats, steps: Floats, sizes: Floats) -> Floats:
    """A form (6, 6) of a unit span over all states, (3 k, 3 k); it counts for less in a bay of more size (k - 1,)."""
    k, units = len(steps) + 1, _units(steps)
    share = (np.exp(np.log(sizes).mean()) / sizes)[:, None, None]
    bent = (units[:, :, None] * units[:, None]) * (share * of)
    form, bays = np.zeros((k, 3, k, 3)), np.arange(k - 1)
    parts = bent.reshape(k - 1, 2, 3, 2, 3)
    for a in (0, 1):
        for b in (0, 1):
            form[bays + a, :, bays + b] += parts[:, a, :, b]
    return form.reshape(3 * k, 3 * k)


def swelling(places: Floats, shapes: Floats, skin: Floats) -> tuple[Floats, Ints]:
    """How far a skin leaves the range of the two sections of each bay, as a share of the larger step beside it (k - 1,), and where: (k - 1, 2).

    places: parameters of the sections. shapes: places round them from their centres, (k, m, 3). skin: the same at the places LOOKED of every bay,
    (k - 1, places, m, 3). Where: the number of the place, and that of the direction.
    """
    beyond = _Bounds(_Row(np.diff(places), shapes, {}), None, even=False).beyond(skin)
    flat = beyond.reshape(len(beyond), -1)
    return np.maximum(flat.max(axis=1), 0.0), np.stack(np.unravel_index(flat.argmax(axis=1), beyond.shape[1:]), axis=1)


class _Row:
    """A row of sections, and how much a skin through them is bent.

    A state is what a skin has at the stations: value, slope and second derivative of each in turn, (3 k, k + 2), as combinations of the shapes and
    of the slopes that may be given at the two ends. What is free of it, slopes that are not given and second derivatives, is a choice (q, k + 2),
    in a measure in which bending is length.
    """

    def __init__(self, steps: Floats, shapes: Floats, held: Mapping[int, Floats]) -> None:
        k, m = shapes.shape[:2]
        self.steps, self.shapes = steps, shapes
        self.given = {index % k: slope for index, slope in held.items()}
        self.data = np.concatenate([shapes, np.zeros((2, m, 3))])
        self._fixed = np.zeros((3 * k, k + 2))
        self._fixed[3 * np.arange(k), np.arange(k)] = 1.0
        open_ = np.ones((k, 3), dtype=bool)
        open_[:, 0] = False
        for index, slope in self.given.items():
            # by its bay, so that all rows are lengths
            column, step = k + (index != 0), steps[0 if index == 0 else -1]
            self.data[column] = slope * step
            self._fixed[3 * index + 1, column] = 1 / step
            open_[index, 1] = False
        free = np.flatnonzero(open_)
        scale = _scales(steps, free)
        self.units = _units(steps)
        moved = np.diff(shapes, axis=0).reshape(k - 1, -1)
        self._chord = np.sqrt(steps**2 + (moved * moved).sum(axis=1) / m)
        form = _form(BENDING, steps, self._chord)
        root = np.linalg.inv(np.linalg.cholesky(form[free[:, None], free] * (scale[:, None] * scale)))
        self._free = np.zeros((3 * k, len(free)))
        self._free[free] = scale[:, None] * root.T
        self.loosest = -np.asarray(self._free.T @ (form @ self._fixed), dtype=np.float64)
        self.lifts = VALUES @ (_by_bay(self._free) * self.units[..., None])

    def evenest(self) -> Floats:
        """The choice in which bending changes least along the chord."""
        form = _change(self.steps, self._chord)
        return np.asarray(np.linalg.solve(self._free.T @ form @ self._free, -(self._free.T @ (form @ self._fixed))), dtype=np.float64)

    def bays(self, choice: Floats) -> Floats:
        """Value, slope and second derivative at the start and the end of each bay, by its own length, (k - 1, 6, k + 2)."""
        return _by_bay(self._fixed + self._free @ choice) * self.units[..., None]

    def states(self, choice: Floats) -> Floats:
        """By the slopes as they were given."""
        found = self._fixed + self._free @ choice
        found[:, -2:] *= self.steps[[0, -1]]
        return found


class _Bounds:
    """What a skin is held to: in every direction and at every place of a bay it stays between the two sections beside it, and a little more."""

    def __init__(self, row: _Row, slack: Floats | None, *, even: bool) -> None:
        self._row = row
        shapes = row.shapes
        k, m = shapes.shape[:2]
        middle = shapes[:-1] + shapes[1:]
        size = lengths(middle)
        self._ways = ways = middle / np.where(size > NEVER, size, 1.0)[..., None]
        # what the data are in each direction of each bay, (k - 1, k + 2, m)
        self._seen = np.einsum("dmc,imc->idm", row.data, ways)
        bays = np.arange(k - 1)
        ends = np.stack([self._seen[bays, bays], self._seen[bays, bays + 1]])
        self._low, self._high = ends.min(axis=0), ends.max(axis=0)
        step = lengths(np.diff(shapes, axis=0))
        beside = np.zeros((k + 1, m))
        beside[1:-1] = step
        step = np.maximum(np.maximum(beside[:-2], beside[2:]), step)
        self._step = np.maximum(np.maximum(step, NARROWEST * step.max(axis=1, keepdims=True)), NEVER * max(float(np.abs(shapes).max()), NEVER))
        self._allowed = SWELLING * self._step
        for index, slope in row.given.items():
            # what a slope that is asked for lifts by itself
            bay = 0 if index == 0 else -1
            self._allowed[bay] += BUMP * row.steps[bay] * np.abs(np.einsum("mc,mc->m", slope, ways[bay]))
        self._first = self._evenly() if even and k > 2 else row.loosest
        if slack is not None and slack.any():
            self._allowed += slack[:, None] * np.maximum(self._passed(self._found(self._first)).max(axis=0) * self._allowed, 0.0)
        self._bound = np.stack([self._low, -self._high]) - self._allowed
        flat = row.data.reshape(k + 2, -1)
        gram = flat @ flat.T
        gram.flat[:: k + 3] += RIDGE**2 * float(np.trace(gram)) + NEVER
        to_data = np.linalg.solve(gram, flat).reshape(k + 2, m, 3)
        # how the data would have to change together for one direction of one bay to change, (k - 1, m, k + 2)
        self._parts = np.einsum("imc,dmc->imd", ways, to_data)

    def _evenly(self) -> Floats:
        """The choice that is evenest, but the nearer to what is bent least, the further it goes beyond what is allowed."""
        evenest, loosest = self._row.evenest(), self._row.loosest
        beyond = max(float(self._passed(self._found(evenest)).max()), 0.0)
        return loosest + max(1.0 - beyond / GIVEN_UP, 0.0) * (evenest - loosest)

    def _found(self, choice: Floats) -> Floats:
        """What a skin is in each direction, at the places of every bay, (places, k - 1, m)."""
        seen = self._row.bays(choice) @ self._seen
        return (VALUES @ seen.transpose(1, 0, 2).reshape(6, -1)).reshape(len(VALUES), *self._low.shape)

    def _passed(self, found: Floats) -> Floats:
        """How far a skin goes beyond what is allowed, below and above, as a share of it, (2, k - 1, m)."""
        return np.stack([self._low - found.min(axis=0), found.max(axis=0) - self._high]) / self._allowed - 1.0

    def beyond(self, skin: Floats) -> Floats:
        """How far a skin, (k - 1, places, m, 3), leaves the range, as a share of the step, (k - 1, places, m)."""
        found = np.einsum("itmc,imc->itm", skin, self._ways)
        return np.asarray(np.maximum(self._low[:, None] - found, found - self._high[:, None]) / self._step[:, None], dtype=np.float64)

    def within(self) -> Floats:
        """The choice that keeps to the bounds and is bent least from the first.

        Places that are passed are held, and what presses on them is sought anew, until none is passed.
        """
        from scipy.linalg.lapack import dpotrf, dtrtrs
        from scipy.optimize import nnls

        row = self._row
        choice = self._first
        found = first = self._found(choice)
        held = np.zeros((0, 4), dtype=np.int64)
        for _ in range(MOST_ROUNDS):
            new = self._worst(found, held)
            if not len(new):
                break
            held = np.concatenate([held, new])
            side, bay, at, way = held.T
            inwards = 1.0 - 2.0 * side[:, None]
            lifts, parts = row.lifts[bay, at], inwards * self._parts[bay, way]
            felt = (lifts @ lifts.T) * (parts @ (inwards * self._seen[bay, :, way]).T)
            scale = 1 / np.sqrt(felt.diagonal())
            felt *= scale[:, None] * scale
            felt.flat[:: len(felt) + 1] += ALONE
            # LAPACK without scipy's checks, which cost more than the solve; it reads one half of what is the same both ways up to rounding
            root, info = dpotrf(felt, lower=1)
            assert info == 0, "places that press are each a little their own"
            asked, _ = dtrtrs(root, (self._bound[side, bay, way] - inwards[:, 0] * first[at, bay, way]) * scale, lower=1)
            pressed, _ = nnls(root.T, asked)
            choice = self._first + (lifts.T * (pressed * scale)) @ parts
            found = self._found(choice)
            # what nothing presses on is let go: if it is passed again it is held again
            held = held[pressed > 0]
        return choice

    def _worst(self, found: Floats, held: Ints) -> Ints:
        """Where to hold next (n, 4): for each side of each bay the direction in which it is passed furthest, and other peaks round the section."""
        most = self._passed(found)
        turn = np.arange(-1, most.shape[2] - 1)
        rising = most > most[..., turn]
        # from one peak to the next, the one that is furthest out; of those that are as far out, the last
        side, bay, way = np.nonzero((most > HELD) & ~rising[..., (turn + 2) % len(turn)] & (rising | (most == most.max(axis=2, keepdims=True))))
        seen = found[:, bay, way] * (2.0 * side - 1.0)
        new = np.stack([side, bay, seen.argmax(axis=0), way], axis=1)
        return new[~(new[:, None] == held).all(axis=2).any(axis=1)]
