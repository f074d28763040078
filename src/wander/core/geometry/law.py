"""Laws: numbers that change along the length of a body, as splines over [0, 1]."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np

from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.errors import BadInput
from wander.core.geometry.interpolate import End, cubic_system
from wander.core.geometry.space import SplineSpace


@dataclass(frozen=True)
class Law:
    """controls: (n,) control values over the space, whose domain is [0, 1]; outside of it the law holds its end values."""

    space: SplineSpace
    controls: Floats

    def __call__(self, at: Floats) -> Floats:
        """Values at shares (m,) of the length: (m,)."""
        return self.space.evaluate(self.controls, np.clip(at, 0.0, 1.0))

    @property
    def is_constant(self) -> bool:
        return bool(np.ptp(self.controls) == 0)

    @property
    def continuity(self) -> Floats:
        """Continuous derivatives at each inner break: (breaks - 2,)."""
        return self.space.degree - self.space.multiplicities[1:-1]


def constant(value: float) -> Law:
    return linear(value, value)


def linear(start: float, end: float) -> Law:
    return Law(SplineSpace.from_breaks(1, [0.0, 1.0]), np.array([start, end]))


def smooth(start: float, end: float) -> Law:
    """From one value to the other, level at both ends."""
    return Law(SplineSpace.from_breaks(3, [0.0, 1.0]), np.array([start, start, end, end]))


def through(points: Sequence[tuple[float, float, bool]], *, swings: bool = False) -> Law:
    """Through points (share of the length, value, sharp), shares rising: a natural cubic between sharp points, level outside.

    Between two points it never leaves the range of their values: where the natural cubic would, its slopes are eased (Fritsch & Carlson 1980), and
    its second derivative jumps at those points. swings: it may go beyond them, and keeps its second derivative.
    Raises BadInput when shares do not rise or lie outside [0, 1].
    """
    return _through(tuple(points), swings)


@lru_cache(maxsize=64)  # while a body is pulled about its laws stay the same
def _through(points: tuple[tuple[float, float, bool], ...], swings: bool) -> Law:
    at = np.array([p[0] for p in points], dtype=np.float64)
    if len(at) == 0 or np.any(np.diff(at) < 1e-9) or at[0] < 0 or at[-1] > 1:
        raise BadInput("the points of a law need places that rise from 0 to 1, no two of them the same")
    marked = [(float(a), float(v), bool(s)) for a, v, s in points]
    if marked[0][0] > 0:
        marked = [(0.0, marked[0][1], True), (*marked[0][:2], True), *marked[1:]]
    if marked[-1][0] < 1:
        marked = [*marked[:-1], (*marked[-1][:2], True), (1.0, marked[-1][1], True)]
    if len(marked) == 1:
        return constant(marked[0][1])
    corners = [0, *(i for i in range(1, len(marked) - 1) if marked[i][2]), len(marked) - 1]
    breaks = np.array([p[0] for p in marked])
    values = np.array([p[1] for p in marked])
    runs = [(slice(a, b + 1), *_slopes(breaks[a : b + 1], values[a : b + 1], swings)) for a, b in pairwise(corners)]
    counts = np.ones(len(marked), dtype=int)
    for run, _, eased in runs:
        counts[run] = np.where(eased, 2, counts[run])
    counts[corners] = 3
    space = SplineSpace.from_breaks(3, breaks, counts[1:-1])
    owner = np.clip(np.searchsorted(breaks[corners], space.greville) - 1, 0, len(runs) - 1)
    found = [_hermite(breaks[run], values[run], slopes, space.greville[owner == i]) for i, (run, slopes, _) in enumerate(runs)]
    return Law(space, space.interpolate(np.concatenate(found)))


def _slopes(at: Floats, values: Floats, swings: bool) -> tuple[Floats, np.ndarray]:
    """Slopes at the points of a run, (m,), and whether each is one at which the curve was eased, (m,)."""
    rises = np.diff(values) / np.diff(at)
    if len(at) == 2:
        return np.repeat(rises, 2), np.zeros(2, dtype=bool)
    own, matrix = cubic_system(at, End.NATURAL)
    slopes = own.evaluate(np.linalg.solve(matrix, np.append(values, [0.0, 0.0])), at, 1)
    eased = np.zeros(len(at), dtype=bool)
    while not swings:
        beyond = _leaves(at, values, slopes)
        ends = np.zeros(len(at), dtype=bool)
        ends[:-1] |= beyond
        ends[1:] |= beyond
        if not np.any(ends & ~eased):
            # what an eased slope touches has another second derivative on both of its sides
            touched = eased.copy()
            touched[:-1] |= eased[1:]
            touched[1:] |= eased[:-1]
            return slopes, touched
        eased |= ends
        slopes = np.where(eased, _limited(slopes, rises), slopes)
    return slopes, eased


def _limited(slopes: Floats, rises: Floats) -> Floats:
    """Slopes (m,) that keep both neighbouring pieces monotone; rises: mean slopes of the pieces (m - 1,)."""
    before, after = np.concatenate([rises[:1], rises]), np.concatenate([rises, rises[-1:]])
    most = np.where(before * after > 0, 3 * np.minimum(np.abs(before), np.abs(after)), 0.0)
    return np.sign(before) * np.clip(slopes * np.sign(before), 0.0, most)


def _leaves(at: Floats, values: Floats, slopes: Floats) -> np.ndarray:
    """Which pieces leave the range of their two ends, (m - 1,)."""
    width, rise = np.diff(at), np.diff(values)
    first, last = slopes[:-1] * width, slopes[1:] * width
    # where the slope of a piece vanishes: the roots of a quadratic, kept within the piece
    a, b = 3 * (first + last - 2 * rise), 2 * (3 * rise - 2 * first - last)
    root = np.sqrt(np.maximum(b * b - 4 * a * first, 0.0))
    turn = -(b + np.where(b >= 0, root, -root)) / 2
    shares = np.stack([turn / np.where(np.abs(a) > 1e-300, a, 1e-300), first / np.where(np.abs(turn) > 1e-300, turn, 1e-300)], axis=1)
    places = at[:-1, None] + width[:, None] * np.clip(np.nan_to_num(shares), 0.0, 1.0)
    found = _hermite_in(np.arange(len(width))[:, None], at, values, slopes, places)
    low, high = np.minimum(values[:-1], values[1:]), np.maximum(values[:-1], values[1:])
    slack = 1e-9 * max(float(np.ptp(values)), 1e-12)
    return (found.min(axis=1) < low - slack) | (found.max(axis=1) > high + slack)


def _hermite(at: Floats, values: Floats, slopes: Floats, places: Floats) -> Floats:
    """The piecewise cubic with values and slopes (m,) at (m,), at places (k,)."""
    return _hermite_in(np.clip(np.searchsorted(at, places, side="right") - 1, 0, len(at) - 2), at, values, slopes, places)


def _hermite_in(i: Ints, at: Floats, values: Floats, slopes: Floats, places: Floats) -> Floats:
    """The same, each place told in which piece it lies."""
    width = at[i + 1] - at[i]
    x = (places - at[i]) / width
    rise, first, last = values[i + 1] - values[i], slopes[i] * width, slopes[i + 1] * width
    return np.asarray(values[i] + x * (first + x * (3 * rise - 2 * first - last + x * (first + last - 2 * rise))), dtype=np.float64)
