"""What a skin is held to between its sections, and the one that is bent least from where it begins and keeps to it."""

from __future__ import annotations

import numpy as np

from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.vectors import lengths
from wander.core.shaping.bending import Row
from wander.core.shaping.skin import Skin
from wander.core.shaping.unit_span import BUMP, CURVATURES, VALUES

SWELLING = 0.009
"""How far a line may leave the range of the two sections of its bay, by the larger step beside them."""
NARROWEST = 0.1
"""A direction in which little happens is held by no less than this share of what the widest step allows."""
WAVE = 1e-3
"""A calm skin bends back by no more than this at a knot, as a share of the step beside it, by the length of its bay."""
YIELDING = 0.03
"""Where both sections of a bay turn by this, what asks for bends to that side gives as much as the skin; by its square less, the more they turn."""
TURNLESS = 1e-7
"""Sections that turn by no more than this do not turn."""
NEVER = 1e-12
"""Of the size: less is nothing."""
ALONE = 1e-11
"""Places that feel the same press together: each is a little its own, so that the sum has a root."""
HELD = 1e-8
"""What is passed by no more than this share of what is allowed there is not passed."""
MOST_ROUNDS = 100
"""Rounds of looking what is passed: ten are usual, and each bends the skin a little more. After the last it may swell a hair."""
GIVEN_UP = 20.0
"""The least change of bending is given up, the further the more, until it goes beyond what is allowed by so many times that."""
RIDGE = 1e-3
"""Differences between the sections that are a smaller share of their size than this count for little: they are noise of how outlines are written."""
NOTHING: Ints = np.zeros((0, 4), dtype=np.int64)
LOOKS = np.concatenate([VALUES, CURVATURES])
PLACES = len(VALUES)
"""What is looked at in a bay of a calm skin: so many places, and how it bends at its four knots."""


def swelling(places: Floats, shapes: Floats, skin: Floats) -> tuple[Floats, Ints]:
    """How far a skin leaves the range of the two sections of each bay, as a share of the larger step beside it (k - 1,), and where: (k - 1, 2).

    places: parameters of the sections. shapes: places round them from their centres, (k, m, 3). skin: the same at the places LOOKED of every bay,
    (k - 1, places, m, 3). Where: the number of the place, and that of the direction.
    """
    beyond = Bounds(Row(np.diff(places), shapes, {}), None, Skin.FAIR).beyond(skin)
    flat = beyond.reshape(len(beyond), -1)
    return np.maximum(flat.max(axis=1), 0.0), np.stack(np.unravel_index(flat.argmax(axis=1), beyond.shape[1:]), axis=1)


def waving(places: Floats, shapes: Floats, bends: Floats) -> tuple[float, int, int, int]:
    """How far a skin bends at most to the side to which the two sections of a bay don't: as a share of the larger step beside it, and where.

    places, shapes: as for `swelling`. bends: second derivatives of the skin by the parameter at the four knots of every bay, (k - 1, 4, m, 3). What
    bends by one all along its bay would leave the chord by an eighth. Where: the bay, the knot, and the number of the direction.
    """
    row = Row(np.diff(places), shapes, {})
    back = Bounds(row, None, Skin.CALM).back(bends * (row.steps**2)[:, None, None, None]) / 8
    bay, knot, way = np.unravel_index(int(back.argmax()), back.shape)
    return max(float(back.max()), 0.0), int(bay), int(knot), int(way)


class Bounds:
    """What a skin is held to: in every direction and at every place of a bay it stays between the two sections beside it, and a little more.

    A calm one does not bend back either: where both sections of a bay are corners to the same side, seen along the chords between sections, it bends
    to that side alone. That may be more than its knots can give within the bounds, and which way a section turns is nothing where it hardly turns:
    it is asked for, the more the more both turn, and not forced.
    """

    def __init__(self, row: Row, slack: Floats | None, skin: Skin) -> None:
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
        calm = skin is Skin.CALM
        self._looks: Floats = LOOKS if calm else VALUES
        self._lifts = self._looks @ row.lifted
        self._turns = self._turning() if calm else np.zeros_like(self._low)
        even = 0.0 if skin is Skin.FAIR or k == 2 else self._evenly()
        self._first = row.loosest + even * (row.evenest - row.loosest) if even else row.loosest
        self._measure = row.measured(even) if calm and even else None
        self._back = WAVE * self._step
        # which way a bend goes back
        backwards = -np.sign(self._turns)
        if slack is not None and slack.any():
            found = self._found(self._first)
            self._allowed += slack[:, None] * np.maximum(self._passed(found).max(axis=0) * self._allowed, 0.0)
            if calm:
                self._back += slack[:, None] * np.maximum((backwards * found[PLACES:]).max(axis=0), 0.0)
        self._backwards = backwards / self._back
        self._bound = np.stack([self._low, -self._high]) - self._allowed
        flat = row.data.reshape(k + 2, -1)
        gram = flat @ flat.T
        gram.flat[:: k + 3] += RIDGE**2 * float(np.trace(gram)) + NEVER
        to_data = np.linalg.solve(gram, flat).reshape(k + 2, m, 3)
        # how the data would have to change together for one direction of one bay to change, (k - 1, m, k + 2)
        self._parts = np.einsum("imc,dmc->imd", ways, to_data)

    def _turning(self) -> Floats:
        """How sharply both sections of each bay turn to one side, by its length, as a share of its step: below nought to the inside, (k - 1, m).

        Nought where they turn to different sides. A free end turns as its neighbour does, one with a given slope from that on.
        """
        row = self._row
        k, bays = len(row.steps) + 1, np.arange(len(row.steps))
        rises = np.diff(self._seen[:, :k], axis=1) / row.steps[:, None]
        own = rises[bays, bays]
        before, after = np.full_like(own, np.nan), np.full_like(own, np.nan)
        before[1:], after[:-1] = rises[bays[1:], bays[:-1]], rises[bays[:-1], bays[1:]]
        if 0 in row.given:
            before[0] = self._seen[0, k] / row.steps[0]
        if k - 1 in row.given:
            after[-1] = self._seen[-1, k + 1] / row.steps[-1]
        first, last = own - before, after - own
        first, last = (np.nan_to_num(np.where(np.isnan(one), other, one)) for one, other in ((first, last), (last, first)))
        both = np.where(first * last > 0, np.sign(first) * np.minimum(np.abs(first), np.abs(last)), 0.0)
        both *= row.steps[:, None] / self._step
        return np.asarray(np.where(np.abs(both) > TURNLESS, both, 0.0), dtype=np.float64)

    def _evenly(self) -> float:
        """The share that it has of the choice that is evenest: the less, the further that goes beyond what is allowed."""
        beyond = max(float(self._passed(self._found(self._row.evenest)).max()), 0.0)
        return max(1.0 - beyond / GIVEN_UP, 0.0)

    def _found(self, choice: Floats) -> Floats:
        """What a skin is in each direction at what is looked at in every bay: places, then the bends of a calm one, (looks, k - 1, m)."""
        seen = self._row.bays(choice) @ self._seen
        return (self._looks @ seen.transpose(1, 0, 2).reshape(6, -1)).reshape(len(self._looks), *self._low.shape)

    def _passed(self, found: Floats) -> Floats:
        """How far a skin goes beyond what is allowed, below and above, as a share of it, (2, k - 1, m)."""
        found = found[:PLACES]
        return np.array([self._low - found.min(axis=0), found.max(axis=0) - self._high]) / self._allowed - 1.0

    def beyond(self, skin: Floats) -> Floats:
        """How far a skin, (k - 1, places, m, 3), leaves the range, as a share of the step, (k - 1, places, m)."""
        found = np.einsum("itmc,imc->itm", skin, self._ways)
        return np.asarray(np.maximum(self._low[:, None] - found, found - self._high[:, None]) / self._step[:, None], dtype=np.float64)

    def back(self, bends: Floats) -> Floats:
        """How far what bends like this at the knots, (k - 1, 4, m, 3), bends to the other side, as a share of the step, (k - 1, 4, m)."""
        found = np.einsum("itmc,imc->itm", bends, self._ways)
        return np.asarray(-(np.sign(self._turns) / self._step)[:, None] * found, dtype=np.float64)

    def within(self) -> Floats:
        """The choice that keeps to the bounds and is nearest to the first, by bending; for a calm skin, as far as it begins even, by its change.

        Places that are passed are held, and what presses on them is sought anew, until none is passed.
        """
        from scipy.linalg.lapack import dpotrf, dtrtrs
        from scipy.optimize import nnls

        choice = self._first
        lifted = self._lifts if self._measure is None else self._lifts @ self._measure
        found = first = self._found(choice)
        held = NOTHING
        for _ in range(MOST_ROUNDS):
            new = np.concatenate([self._worst(found), self._waves(found, held)])
            new = new[~(new[:, None] == held).all(axis=2).any(axis=1)] if len(held) else new
            if not len(new):
                break
            held = np.concatenate([held, new])
            side, bay, look, way = held.T
            inwards = 1.0 - 2.0 * side[:, None]
            lifts, parts = lifted[bay, look], inwards * self._parts[bay, way]
            felt = (lifts @ lifts.T) * (parts @ (inwards * self._seen[bay, :, way]).T)
            scale = 1 / np.sqrt(felt.diagonal())
            felt *= scale[:, None] * scale
            bends = look >= PLACES
            gives = np.full(len(held), ALONE)
            gives[bends] = (YIELDING / self._turns[bay, way][bends]) ** 2
            felt.flat[:: len(felt) + 1] += gives
            # LAPACK without scipy's checks, which cost more than the solve; it reads one half of what is the same both ways up to rounding
            root, info = dpotrf(felt, lower=1)
            assert info == 0, "places that press are each a little their own"
            bound = np.where(bends, -self._back[bay, way], self._bound[side, bay, way])
            asked, _ = dtrtrs(root, (bound - inwards[:, 0] * first[look, bay, way]) * scale, lower=1)
            pressed, _ = nnls(root.T, asked)
            steps = (lifts.T * (pressed * scale)) @ parts
            choice = self._first + (steps if self._measure is None else self._measure @ steps)
            found = self._found(choice)
            # what nothing presses on is let go: if it is passed again it is held again
            held = held[pressed > 0]
        return choice

    def _worst(self, found: Floats) -> Ints:
        """Where to hold next (n, 4): for each side of each bay the direction in which it is passed furthest, and other peaks round the section."""
        # of directions that are as far out, like those of a circle, one is enough
        most = np.round(self._passed(found) / HELD)
        passed = most > 0
        if not passed.any():
            return NOTHING
        turn = np.arange(-1, most.shape[2] - 1)
        rising = most > most[..., turn]
        furthest = turn + 1 == most.argmax(axis=2)[..., None]
        side, bay, way = np.nonzero(passed & ((rising & ~rising[..., (turn + 2) % len(turn)]) | furthest))
        seen = found[:PLACES, bay, way] * (2.0 * side - 1.0)
        return np.array([side, bay, seen.argmax(axis=0), way]).T

    def _waves(self, found: Floats, held: Ints) -> Ints:
        """Where not to bend back (n, 4): at each knot of each bay the direction in which it is done most, if that is more than what is held there."""
        if len(found) == PLACES:
            return NOTHING
        back = self._backwards * found[PLACES:]
        given = np.ones(back.shape[:2])
        _, bay, look, way = held[held[:, 2] >= PLACES].T
        np.maximum.at(given, (look - PLACES, bay), back[look - PLACES, bay, way])
        knot, bay = np.nonzero(back.max(axis=2) > given + HELD)
        way = back[knot, bay].argmax(axis=1)
        return np.array([self._turns[bay, way] < 0, bay, PLACES + knot, way]).T
