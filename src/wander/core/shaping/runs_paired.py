"""Two runs of edges that a bridge leads from one to the other: how each is run, where it starts, and which parts of them belong together."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise
from typing import TypeVar

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import reverse, split
from wander.core.geometry.errors import BadInput
from wander.core.geometry.quadrature import at_length, span_lengths
from wander.core.geometry.vectors import lengths

ALIKE = 1e-6
"""Between unit directions: those that differ more make a corner. Shares of a length that differ less are one."""
ONE_PLANE = 1e-3
"""Sine of the angle between tangent planes that are taken for one; runs that turn more have a corner."""
STARTS = 128
"""Places of a closed run at which it is tried whether it should start there."""
TRIED = 16
"""Times as many at which that is told from waves round it."""
NEWTON = 4
"""Steps to the best of them."""


@dataclass(frozen=True)
class Behind:
    """What lies behind a run at places on it: unit normals, and unit directions square to the run that lead away from it, (m, 3) each.

    bend: curvature (m,), 1/mm along the normals, in unit directions (m, 3) of the tangent planes.
    """

    normals: Floats
    outwards: Floats
    bend: Callable[[Floats], Floats]


Look = Callable[[Floats, Floats], Behind]
"""From places and unit ways along a run, (m, 3) each."""


@dataclass(frozen=True)
class Run:
    """Edges one after the other. pieces: each begins where the one before ends. looks: what lies behind each. names: of the edges."""

    pieces: tuple[Curve, ...]
    looks: tuple[Look, ...]
    names: tuple[str, ...]
    closed: bool

    @cached_property
    def lengths(self) -> Floats:
        """Of the pieces, mm."""
        return np.array([span_lengths(piece).sum() for piece in self.pieces])

    @cached_property
    def begins(self) -> Floats:
        """Shares of the length at which the pieces begin, and 1: (pieces + 1,)."""
        return np.concatenate([[0.0], np.cumsum(self.lengths) / self.lengths.sum()])

    @property
    def length(self) -> float:
        return float(self.lengths.sum())

    def turned(self) -> Run:
        """The same run from its other end."""
        looks = tuple(_against(look) for look in reversed(self.looks))
        return Run(tuple(reverse(piece) for piece in reversed(self.pieces)), looks, self.names[::-1], self.closed)

    def begun_at(self, share: float) -> Run:
        """A closed run that begins at a share of its length."""
        share %= 1.0
        near = int(np.abs(self.begins - share).argmin())
        if abs(self.begins[near] - share) < ALIKE:
            number = near % len(self.pieces)
            return replace(self, pieces=_rolled(self.pieces, number), looks=_rolled(self.looks, number), names=_rolled(self.names, number))
        number = int(np.searchsorted(self.begins, share, side="right")) - 1
        at = at_length(self.pieces[number], np.array([share * self.length - self.begins[number] * self.length]))[0]
        before, after = split(self.pieces[number], float(at))
        pieces = (after, *self.pieces[number + 1 :], *self.pieces[:number], before)
        order = [*range(number, len(self.pieces)), *range(number + 1)]
        return Run(pieces, tuple(self.looks[k] for k in order), tuple(self.names[k] for k in order), True)

    def piece_at(self, low: float, high: float) -> int:
        """The piece on which a stretch that crosses no joint lies."""
        return int(np.clip(np.searchsorted(self.begins, (low + high) / 2, side="right") - 1, 0, len(self.pieces) - 1))

    def places(self, shares: Floats, piece: int) -> tuple[Floats, Floats]:
        """Places and unit ways (m, 3) at shares (m,) of the length, all on one piece."""
        curve = self.pieces[piece]
        points, ways = curve.derivatives(at_length(curve, (shares - self.begins[piece]) * self.length), 1)
        return points, ways / lengths(ways)[:, None]

    def everywhere(self, shares: Floats) -> Floats:
        """Places (m, 3) at shares of the length."""
        which = np.clip(np.searchsorted(self.begins, shares, side="right") - 1, 0, len(self.pieces) - 1)
        found = np.empty((len(shares), 3))
        for number in np.unique(which).tolist():
            found[which == number] = self.places(shares[which == number], number)[0]
        return found

    @cached_property
    def corners(self) -> tuple[bool, ...]:
        """Whether the run itself turns where each piece begins."""
        found = []
        for number, piece in enumerate(self.pieces):
            before = self.pieces[number - 1]
            if number == 0 and not self.closed:
                found.append(False)
                continue
            ways = [before.derivatives(before.domain[1], 1)[1], piece.derivatives(piece.domain[0], 1)[1]]
            first, second = (way / np.linalg.norm(way) for way in ways)
            found.append(bool(np.linalg.norm(first - second) > ONE_PLANE))
        return tuple(found)


@dataclass(frozen=True)
class Stretch:
    """Parts of two runs that belong together, as shares of their lengths; no joint of either lies inside."""

    first: tuple[float, float]
    second: tuple[float, float]


class OneCloses(BadInput):
    """One run closes and the other does not."""

    def __init__(self) -> None:
        super().__init__("one of the two runs closes and the other does not")


def aligned(first: Run, second: Run, *, start: float = 0.0, against: bool = False) -> tuple[Run, Run]:
    """Both runs so that they go the same way, and begin where they are nearest to each other, all of them taken together.

    start: by which share of its length a closed second run begins later than that. against: it is run the other way. Raises OneCloses.
    """
    if first.closed != second.closed:
        raise OneCloses
    if not first.closed:
        ends = [run.everywhere(np.array([0.0, 1.0])) for run in (first, second)]
        alike = lengths(ends[0] - ends[1]).sum() <= lengths(ends[0] - ends[1][::-1]).sum()
        return first, second if alike != against else second.turned()
    first = first.begun_at(_first_corner(first))
    ways = [_nearest(first, way) for way in (second, second.turned())]
    better, other = (ways[0], ways[1]) if ways[0][0] <= ways[1][0] * (1 + 1e-9) else (ways[1], ways[0])
    _, begin, run = other if against else better
    return first, run.begun_at(begin + start)


def _first_corner(run: Run) -> float:
    return float(run.begins[run.corners.index(True)]) if any(run.corners) else 0.0


def _nearest(first: Run, second: Run) -> tuple[float, float, Run]:
    """How far the two are apart, squared, where the second begins best; that share; and the second itself."""
    even = np.arange(STARTS) / STARTS
    here, there = (run.everywhere(even) for run in (first, second))
    here, there = here - here.mean(axis=0), there - there.mean(axis=0)
    # as waves round it: what both have in common, however far the second is turned, is one more sum of waves
    waves = np.sum(np.conj(np.fft.rfft(here, axis=0)) * np.fft.rfft(there, axis=0), axis=1) / STARTS
    numbers = np.arange(len(waves))
    waves[1:] *= 2
    total = float((here**2).sum() + (there**2).sum())

    def apart(begins: Floats) -> Floats:
        return np.asarray(total - 2 * np.real(np.exp(2j * np.pi * begins[:, None] * numbers) @ waves))

    marks = _paired_joints(first, second)
    if marks is not None:
        each = apart(marks)
        return float(each.min()), float(marks[int(each.argmin())]), second
    tried = np.arange(TRIED * STARTS) / (TRIED * STARTS)
    found = tried[int(apart(tried).argmin())]
    for _ in range(NEWTON):
        turn = np.exp(2j * np.pi * found * numbers) * waves
        slope, bend = (np.real(np.sum(turn * (2j * np.pi * numbers) ** order)) for order in (1, 2))
        step = float(np.clip(-slope / bend if bend < 0 else 0.0, -1 / STARTS, 1 / STARTS))
        found += step
    least, near = float(apart(np.array([found]))[0]), float(second.begins[np.abs(second.begins - found % 1.0).argmin()])
    # where a joint is as good it is taken: one seam less
    found = near if float(apart(np.array([near]))[0]) <= least + 1e-9 * total else float(found)
    return least, found, second


def _paired_joints(first: Run, second: Run) -> Floats | None:
    """Where the second run may begin if its joints, or its corners, go with those of the first; None where they don't."""
    if len(first.pieces) == len(second.pieces) and first.corners.count(True) == second.corners.count(True) and len(first.pieces) > 1:
        kept = second.corners if any(first.corners) else (True,) * len(second.pieces)
        return second.begins[:-1][np.array(kept)]
    if any(first.corners) and first.corners.count(True) == second.corners.count(True):
        return second.begins[:-1][np.array(second.corners)]
    return None


def stretches(first: Run, second: Run) -> list[Stretch]:
    """Which parts of two aligned runs belong together: joint by joint where both have as many, else corner by corner, else by length."""
    joints = [run.begins[1:-1] for run in (first, second)]
    corners = [run.begins[:-1][np.array(run.corners)] for run in (first, second)]
    corners = [each[each > ALIKE] for each in corners]
    if len(joints[0]) == len(joints[1]) and len(corners[0]) == len(corners[1]):
        knots = joints
    elif len(corners[0]) == len(corners[1]):
        knots = corners
    else:
        knots = [np.zeros(0), np.zeros(0)]
    ours, theirs = (np.concatenate([[0.0], each, [1.0]]) for each in knots)
    places = np.unique(np.concatenate([ours, joints[0], np.interp(joints[1], theirs, ours)]))
    places = places[np.concatenate([[True], np.diff(places) > ALIKE])]
    places[-1] = 1.0
    there = np.interp(places, ours, theirs)
    # a joint of the second run lies exactly where it is
    for joint in joints[1]:
        there[np.abs(there - joint).argmin()] = joint
    return [Stretch(a, b) for a, b in zip(pairwise(places.tolist()), pairwise(there.tolist()), strict=True)]


def _against(look: Look) -> Look:
    return lambda points, ways: look(points, -ways)


Item = TypeVar("Item")


def _rolled(items: Sequence[Item], first: int) -> tuple[Item, ...]:
    return (*items[first:], *items[:first])
