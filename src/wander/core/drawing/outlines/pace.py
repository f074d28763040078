"""How a curve is run: its arc length against its parameter, both ways.

What is made of an outline goes by shares of its girth, and so by its shape alone, never by how its curve happens to be written.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.curve import Curve
from wander.core.geometry.quadrature import gauss_points

EVEN = 1e-6
"""Relative change of speed below which a curve is run evenly as it is: lines, arcs and what is made of them are."""
CLOSE = 1e-5
"""A step of Newton's method from as close as this, as a share of its part, is the last one."""
MOST_ROUNDS = 8
_PARTS = 16
"""Parts of each span in which the speed is asked for."""
_GAUSS = 3


@dataclass(frozen=True)
class Pace:
    """How a curve over [0, 1] is run: the share of its length at parameters, both (m,), and its slope where each part begins and ends, (m - 1,)."""

    at: Floats
    share: Floats
    begins: Floats
    ends: Floats
    girth: float

    @cached_property
    def is_even(self) -> bool:
        return all(float(np.abs(a - b).max()) < EVEN for a, b in ((self.begins, 1.0), (self.ends, 1.0), (self.share, self.at)))

    def shares(self, parameters: Floats) -> Floats:
        """Shares of the length (k,) at parameters (k,): each part is the cubic with the shares and slopes of both its ends."""
        part = _part(self.at, parameters)
        width = self.at[part + 1] - self.at[part]
        x = (parameters - self.at[part]) / width
        rise, first, last = self.share[part + 1] - self.share[part], self.begins[part] * width, self.ends[part] * width
        return self.share[part] + x * (first + x * (3 * rise - 2 * first - last + x * (first + last - 2 * rise)))

    def parameters(self, shares: Floats) -> Floats:
        """Parameters (k,) at shares of the length (k,): Newton's method within the part that holds each."""
        part = _part(self.share, shares)
        low, begun = self.at[part], self.share[part]
        width, rise = self.at[part + 1] - low, np.maximum(self.share[part + 1] - begun, 1e-300)
        first, last = self.begins[part] * width / rise, self.ends[part] * width / rise
        square, cube = 3 - 2 * first - last, first + last - 2
        target = (shares - begun) / rise
        # the cubic the other way round, where no slope is out of all proportion, is close to begin with
        back, forth = np.minimum(1 / np.maximum(first, 1e-300), 2.0), np.minimum(1 / np.maximum(last, 1e-300), 2.0)
        x = target * (back + target * (3 - 2 * back - forth + target * (back + forth - 2)))
        for _ in range(MOST_ROUNDS):
            miss = x * (first + x * (square + x * cube)) - target
            x = np.minimum(np.maximum(x - miss / np.maximum(first + x * (2 * square + 3 * x * cube), 1e-9), 0.0), 1.0)
            if np.abs(miss).max(initial=0.0) < CLOSE:
                break
        return low + width * x

    def reversed(self) -> Pace:
        """The pace of the curve run the other way."""
        return Pace(np.clip(1.0 - self.at[::-1], 0.0, 1.0), 1.0 - self.share[::-1], self.ends[::-1], self.begins[::-1], self.girth)


def side_by_side(paces: Sequence[Pace | None]) -> Pace:
    """Several paces as one: the share of the k-th runs from k to k + 1, its parameter from 0 to 1. None: run evenly."""
    all_ = [pace or _EVENLY for pace in paces]
    between = np.ones(1)
    slopes = [[x for pace in all_ for x in (getattr(pace, name), between)][:-1] for name in ("begins", "ends")]
    share = np.concatenate([pace.share + k for k, pace in enumerate(all_)])
    return Pace(np.concatenate([pace.at for pace in all_]), share, np.concatenate(slopes[0]), np.concatenate(slopes[1]), 1.0)


def _part(rising: Floats, values: Floats) -> Ints:
    return np.minimum(np.maximum(np.searchsorted(rising, values, side="right") - 1, 0), len(rising) - 2)


_EVENLY = Pace(np.array([0.0, 1.0]), np.array([0.0, 1.0]), np.ones(1), np.ones(1), 1.0)


def pace_of(curve: Curve) -> Pace:
    """The pace of a polynomial curve over [0, 1] of some length."""
    breaks = curve.space.breaks
    at = np.append((breaks[:-1, None] + np.diff(breaks)[:, None] * (np.arange(_PARTS) / _PARTS)).ravel(), breaks[-1])
    inside, weights = gauss_points(at, _GAUSS)
    # the end of a part is read a hair before it: at a corner the speed may jump
    places = np.concatenate([at[:-1], np.nextafter(at[1:], 0.0), inside])
    begins, ends, within = np.split(np.linalg.norm(curve.space.evaluate(curve.points, places, 1), axis=1), [len(at) - 1, 2 * len(at) - 2])
    at = np.clip(at, 0.0, 1.0)  # rounding may have put the last knot beside 1, and the next outline begins there
    run = np.concatenate([[0.0], np.cumsum((within * weights).reshape(-1, _GAUSS).sum(axis=1))])
    girth = float(run[-1])
    return Pace(at, run / girth, begins / girth, ends / girth, girth)
