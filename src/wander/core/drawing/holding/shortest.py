"""Corrections of least weighted length: of all that satisfy linearised equations, the one that moves what is not concerned not at all."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from wander.core.drawing.holding.rows import Ints, Rows
from wander.core.geometry.basis import Floats

DENSE = 40_000
"""Equations times variables up to which a drawing is small."""
MOST_PRODUCTS = 2_000_000
"""Products of slopes that are listed: the normal matrix is made of them. Where a variable is part of thousands of equations there are more."""


class Shortest:
    """What corrections are worked out with. Where the slopes are of the same variables as before, only the numbers are new."""

    def __init__(self) -> None:
        self._pattern: list[_Pattern] = []
        self._last: Callable[[Floats], Floats] | None = None

    def afresh(self) -> Shortest:
        """One that knows as much of the equations, and of no correction."""
        other = Shortest()
        other._pattern = self._pattern
        return other

    def __call__(self, rows: Rows, weights: Floats, damping: float) -> Floats:
        """The correction of least weighted length. weights: how reluctant each variable is to move."""
        if len(rows.residual) * len(weights) <= DENSE:
            return _of_few(rows, weights, damping)
        if not self._pattern or not self._pattern[0].fits(rows):
            products = np.bincount(rows.column).astype(np.int64)
            if int((products * products).sum()) > MOST_PRODUCTS:
                return _of_many(rows, weights, damping)
            self._pattern[:] = [_Pattern(rows, len(weights))]
        self._last = self._pattern[0].correcting(rows, weights, damping)
        return self._last(rows.residual)

    def again(self, rows: Rows) -> Floats | None:
        """The same for a new residual, with the slopes of the last one. None where that is not much quicker, or they are of other variables."""
        return self._last(rows.residual) if self._last is not None and self._pattern[0].fits(rows) else None


class _Pattern:
    """Where the slopes of equations stand in their Jacobian J, and so in the normal matrix J W J', which is symmetric.

    It is kept in an order in which its factor has few entries.
    """

    def __init__(self, rows: Rows, variables: int) -> None:
        self._row, self._column = rows.row, rows.column
        count = len(rows.residual)
        order = np.argsort(rows.column, kind="stable")
        column = rows.column[order]
        size = np.bincount(column, minlength=variables)
        own = size[column]
        # every slope with every slope of the same variable, each two of them once
        first = np.repeat(order, own)
        number = np.arange(len(first)) - np.repeat(np.cumsum(own) - own, own)
        second = order[np.repeat((np.cumsum(size) - size)[column], own) + number]
        once = rows.row[first] >= rows.row[second]
        self._first, self._second = first[once], second[once]
        self._order = np.arange(count, dtype=np.int32)
        self._stand(count)
        self._order = self._fewest(count)
        self._stand(count)

    def _stand(self, count: int) -> None:
        """Where the products of slopes go in the present order, and which of them stands where in the whole matrix."""
        place = np.empty(count, dtype=np.int64)
        place[self._order] = np.arange(count)
        ends = place[self._row[self._first]], place[self._row[self._second]]
        diagonal = np.arange(count) * (count + 1)
        half, inverse = np.unique(np.concatenate([np.maximum(*ends) * count + np.minimum(*ends), diagonal]), return_inverse=True)
        self._slot, self._diagonal = inverse[:-count], inverse[-count:]
        high, low = half // count, half % count
        whole, first = np.unique(np.concatenate([half, low * count + high]), return_index=True)
        self._half, self._from = len(half), first % len(half)
        self._indices = (whole % count).astype(np.int32)
        self._starts = np.searchsorted(whole, np.arange(count + 1) * count).astype(np.int32)

    def _fewest(self, count: int) -> Ints:
        """An order for symmetric matrices: a sixth of the time that the usual one takes."""
        ones = np.ones(self._half)
        ones[self._diagonal] = count
        return np.asarray(np.argsort(self._factor(ones, "MMD_AT_PLUS_A").perm_c), dtype=np.int32)

    def fits(self, rows: Rows) -> bool:
        return np.array_equal(self._row, rows.row) and np.array_equal(self._column, rows.column) and len(self._order) == len(rows.residual)

    def correcting(self, rows: Rows, weights: Floats, damping: float) -> Callable[[Floats], Floats]:
        """Takes residuals to corrections."""
        scaled = rows.slopes / weights[rows.column]
        products = scaled[self._first] * rows.slopes[self._second]
        normal = np.asarray(np.bincount(self._slot, products, minlength=self._half), dtype=np.float64)
        normal[self._diagonal] += damping * max(float(normal[self._diagonal].max(initial=1e-300)), 1e-12)
        factor = self._factor(normal, "NATURAL")

        def corrected(residual: Floats) -> Floats:
            pressed = np.empty(len(residual))
            pressed[self._order] = factor.solve(-residual[self._order])
            return np.asarray(np.bincount(self._column, scaled * pressed[self._row], minlength=len(weights)), dtype=np.float64)

        return corrected

    def _factor(self, half: Floats, order: str) -> Any:
        from scipy.sparse import csc_matrix
        from scipy.sparse.linalg import splu

        count = len(self._order)
        matrix = csc_matrix((half[self._from], self._indices, self._starts), shape=(count, count))
        # of a matrix that is symmetric and positive the diagonal is what is divided by
        how: dict[str, Any] = {"permc_spec": order, "diag_pivot_thresh": 0.0, "panel_size": 1, "relax": 1, "options": {"SymmetricMode": True}}
        return splu(matrix, **how)


def _of_few(rows: Rows, weights: Floats, damping: float) -> Floats:
    """Without sparse matrices, which cost more than they save in a small drawing."""
    jacobian = np.zeros((len(rows.residual), len(weights)))
    np.add.at(jacobian, (rows.row, rows.column), rows.slopes)
    scaled = jacobian / weights
    normal = scaled @ jacobian.T
    largest = float(normal.diagonal().max(initial=1e-300))
    normal.flat[:: len(normal) + 1] += damping * max(largest, 1e-12)
    return np.asarray(scaled.T @ np.linalg.solve(normal, -rows.residual), dtype=np.float64)


def _of_many(rows: Rows, weights: Floats, damping: float) -> Floats:
    """With sparse matrices from end to end."""
    from scipy.sparse import csr_matrix, diags, identity
    from scipy.sparse.linalg import splu

    jacobian: csr_matrix = csr_matrix((rows.slopes, (rows.row, rows.column)), shape=(len(rows.residual), len(weights)))
    scaled = jacobian @ diags(1.0 / weights, format="csr")
    normal = (scaled @ jacobian.T).tocsc()
    largest = float(normal.diagonal().max(initial=1e-300))
    lifted = normal + damping * max(largest, 1e-12) * identity(len(rows.residual), format="csc")
    found: Floats = scaled.T @ splu(lifted, permc_spec="MMD_AT_PLUS_A").solve(-rows.residual)
    return found
