"""Which curves may meet: by the boxes that they lie in, many at once."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve


class Boxes:
    """Boxes round curves in the plane, larger than those of their controls by a hair (mm)."""

    def __init__(self, curves: Sequence[Curve], hair: float) -> None:
        self.low = np.array([curve.points.min(axis=0) for curve in curves]).reshape(-1, 2) - hair
        self.high = np.array([curve.points.max(axis=0) for curve in curves]).reshape(-1, 2) + hair

    def met_before(self, i: int) -> list[int]:
        """The curves before the i-th whose boxes meet its own."""
        met = np.all((self.low[i] <= self.high[:i]) & (self.low[:i] <= self.high[i]), axis=1)
        return np.flatnonzero(met).tolist()

    def round(self, point: Floats) -> list[int]:
        """The curves whose boxes hold a place (2,)."""
        return np.flatnonzero(np.all((self.low <= point) & (point <= self.high), axis=1)).tolist()
