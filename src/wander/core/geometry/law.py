"""Laws: numbers that change along the length of a body, as splines over [0, 1]."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np

from wander.core.geometry.basis import Floats
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


def through(points: Sequence[tuple[float, float, bool]]) -> Law:
    """Through points (share of the length, value, sharp), shares rising: a natural cubic between sharp points, level outside.

    Raises BadInput when shares do not rise or lie outside [0, 1].
    """
    return _through(tuple(points))


@lru_cache(maxsize=64)  # while a body is pulled about its laws stay the same
def _through(points: tuple[tuple[float, float, bool], ...]) -> Law:
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
    runs = [marked[a : b + 1] for a, b in pairwise(corners)]
    breaks = [p[0] for p in marked]
    sharp = {p[0] for run in runs for p in (run[0], run[-1])}
    space = SplineSpace.from_breaks(3, breaks, [3 if b in sharp else 1 for b in breaks[1:-1]])

    owner = np.searchsorted([run[-1][0] for run in runs], space.greville)
    return Law(space, space.interpolate(np.concatenate([_natural(run, space.greville[owner == i]) for i, run in enumerate(runs)])))


def _natural(run: Sequence[tuple[float, float, bool]], shares: Floats) -> Floats:
    """Values at shares (m,) of the natural cubic through the points of a run."""
    places, values = np.array([p[0] for p in run]), np.array([p[1] for p in run])
    if len(run) == 2:
        return np.interp(shares, places, values)
    own, matrix = cubic_system(places, End.NATURAL)
    return own.evaluate(np.linalg.solve(matrix, np.append(values, [0.0, 0.0])), shares)
