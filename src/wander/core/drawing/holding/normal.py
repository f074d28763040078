"""Normal matrices of equations that are about a few variables each: symmetric, positive, and mostly empty.

Each is a sum of products that come in an order of their own. Where they go is laid out once, in an order of the equations in which the matrix is soon
factored: within a narrow band where things hang together like a chain, as most outlines do, and with few entries otherwise.
"""

from __future__ import annotations

from collections.abc import Callable
from copy import copy
from typing import Any

import numpy as np

from wander.core.drawing.holding.sums import Ints
from wander.core.geometry.basis import Floats

WIDEST = 40
"""Of a band, beside the diagonal: from about here on a factor with few entries is there as soon."""
LIFTS = 6

Solve = Callable[[Floats], Floats]


def laid_out(first: Ints, second: Ints, count: int) -> Banded | Scattered:
    """For products (p,), each of which is added to the entry of two equations, and to the one across from it. count: of equations."""
    from scipy.sparse.csgraph import reverse_cuthill_mckee

    as_they_come = np.arange(count, dtype=np.int32)
    scattered = Scattered(as_they_come, first, second)
    order = reverse_cuthill_mckee(scattered.pattern, symmetric_mode=True)
    banded = Banded(order, first, second)
    return banded if banded.width <= WIDEST else Scattered(scattered.fewest(), first, second)


class Banded:
    """By Cholesky's factor, within the band (LAPACK's dpbtrf). Source of the order: Cuthill & McKee 1969, reversed."""

    def __init__(self, order: Ints, first: Ints, second: Ints) -> None:
        self._order = order
        high, low = _ends(order, first, second)
        self.width = int((high - low).max(initial=0))
        self._slot = low * (self.width + 1) + high - low

    def solving(self, products: Floats, damping: float) -> Solve:
        """Takes right sides to solutions. damping: what is added to the diagonal, as a share of its largest entry."""
        from scipy.linalg.lapack import dpbtrf, dpbtrs

        count, rows = len(self._order), self.width + 1
        band = np.asarray(np.bincount(self._slot, products, minlength=count * rows), dtype=np.float64).reshape(count, rows)
        lift = damping * max(float(band[:, 0].max(initial=1e-300)), 1e-12)
        for _ in range(LIFTS):
            lifted = band.copy()
            lifted[:, 0] += lift
            factor, failed = dpbtrf(lifted.T, lower=1, overwrite_ab=1)
            if not failed:
                break
            # equations that say nearly the same, so that rounding makes it worse than nothing (Nocedal & Wright 2006, algorithm 3.3)
            lift *= 100

        def solved(right: Floats) -> Floats:
            found = np.empty(count)
            found[self._order] = dpbtrs(factor, right[self._order], lower=1)[0]
            return found

        return solved


class Scattered:
    """By a factor with few entries (SuperLU)."""

    def __init__(self, order: Ints, first: Ints, second: Ints) -> None:
        from scipy.sparse import csc_matrix

        self._order, count = order, len(order)
        high, low = _ends(order, first, second)
        diagonal = np.arange(count) * (count + 1)
        half, inverse = np.unique(np.concatenate([high * count + low, diagonal]), return_inverse=True)
        self._slot, self._diagonal, self._half = inverse[: len(first)], inverse[len(first) :], len(half)
        high, low = half // count, half % count
        whole, at = np.unique(np.concatenate([half, low * count + high]), return_index=True)
        self._from = at % len(half)
        starts = np.searchsorted(whole, np.arange(count + 1) * count).astype(np.int32)
        self.pattern: Any = csc_matrix((np.ones(len(whole)), (whole % count).astype(np.int32), starts), shape=(count, count))

    def fewest(self) -> Ints:
        """The order in which the factor has few entries: one for symmetric matrices, in a sixth of the time that the usual one takes."""
        ones = np.ones(self._half)
        ones[self._diagonal] = len(self._order)
        return np.asarray(self._order[np.argsort(self._factor(ones, "MMD_AT_PLUS_A").perm_c)], dtype=np.int32)

    def solving(self, products: Floats, damping: float) -> Solve:
        """As of a band."""
        half = np.asarray(np.bincount(self._slot, products, minlength=self._half), dtype=np.float64)
        half[self._diagonal] += damping * max(float(half[self._diagonal].max(initial=1e-300)), 1e-12)
        factor = self._factor(half, "NATURAL")

        def solved(right: Floats) -> Floats:
            found = np.empty(len(right))
            found[self._order] = factor.solve(right[self._order])
            return found

        return solved

    def _factor(self, half: Floats, order: str) -> Any:
        from scipy.sparse.linalg import splu

        # of what it is made of only the numbers are new; to look at all of it again takes as long as a third of the factor
        matrix = copy(self.pattern)
        matrix.data = half[self._from]
        # of a matrix that is symmetric and positive the diagonal is what is divided by
        how: dict[str, Any] = {"permc_spec": order, "diag_pivot_thresh": 0.0, "panel_size": 1, "relax": 1, "options": {"SymmetricMode": True}}
        return splu(matrix, **how)


def _ends(order: Ints, first: Ints, second: Ints) -> tuple[Ints, Ints]:
    """Where both equations of each product stand in an order, the later one first."""
    place = np.empty(len(order), dtype=np.int64)
    place[order] = np.arange(len(order))
    a, b = place[first], place[second]
    return np.maximum(a, b), np.minimum(a, b)
