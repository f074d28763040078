"""The boxes that curves lie in: which of them may meet, many at once, and what they take together."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve

PER_SPAN = 8
"""Places of a span between which a curve turns back once at most."""
HALVINGS = 30
AT_ONCE = 128


class Boxes:
    """Boxes round curves in the plane, larger than those of their controls by a hair (mm)."""

    def __init__(self, curves: Sequence[Curve], hair: float) -> None:
        self.low = np.array([curve.points.min(axis=0) for curve in curves]).reshape(-1, 2) - hair
        self.high = np.array([curve.points.max(axis=0) for curve in curves]).reshape(-1, 2) + hair
        self._met: dict[int, list[int]] = {}

    def met_before(self, i: int) -> list[int]:
        """The curves before the i-th whose boxes meet its own."""
        if i not in self._met:
            self._look_at(i)
        return self._met[i]

    def _look_at(self, first: int) -> None:
        """Many at once: telling them one by one costs more than comparing them."""
        rows = slice(first, first + AT_ONCE)
        met = np.all((self.low[rows, None] <= self.high[None, : rows.stop]) & (self.low[None, : rows.stop] <= self.high[rows, None]), axis=2)
        for i, row in enumerate(met, first):
            self._met[i] = np.flatnonzero(row[:i]).tolist()

    def round(self, point: Floats) -> list[int]:
        """The curves whose boxes hold a place (2,)."""
        return np.flatnonzero(np.all((self.low <= point) & (point <= self.high), axis=1)).tolist()


def extents(curves: Sequence[Curve]) -> tuple[tuple[float, float], tuple[float, float]]:
    """The lowest and the highest corner (mm) of what curves in the plane just take; both the origin where there are none."""
    found = [curve.sampled(PER_SPAN)[1] for curve in curves] + [_turning_back(curve, axis) for curve in curves if curve.degree > 1 for axis in (0, 1)]
    places = np.concatenate(found) if found else np.zeros((1, 2))
    (left, lower), (right, upper) = places.min(axis=0).tolist(), places.max(axis=0).tolist()
    return (left, lower), (right, upper)


def _turning_back(curve: Curve, axis: int) -> Floats:
    """Places (m, 2) at which a curve goes neither forth nor back along an axis."""
    u, _ = curve.sampled(PER_SPAN)
    slope = curve.derivatives(u, 1)[1][:, axis]
    turns = np.flatnonzero(slope[:-1] * slope[1:] < 0)
    low, high = u[turns], u[turns + 1]
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        before = curve.derivatives(middle, 1)[1][:, axis] * slope[turns] > 0
        low, high = np.where(before, middle, low), np.where(before, high, middle)
    return curve(low)
