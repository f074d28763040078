"""Corrections of least weighted length: of all that satisfy linearised equations, the one that moves what is not concerned not at all."""

from __future__ import annotations

from collections.abc import Callable
from copy import copy
from typing import Any

import numpy as np

from wander.core.drawing.holding.rows import Linearised
from wander.core.drawing.holding.sums import Ints
from wander.core.geometry.basis import Floats

DENSE = 10_000
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

    def __call__(self, rows: Linearised, weights: Floats, damping: float) -> Floats:
        """The correction of least weighted length. weights: how reluctant each variable is to move."""
        if len(rows.residual) * len(weights) <= DENSE:
            return _of_few(rows, weights, damping)
        if not self._pattern or not self._pattern[0].fits(rows):
            apart = _Apart(rows)
            products = np.bincount(apart.column).astype(np.int64)
            if int((products * products).sum()) > MOST_PRODUCTS:
                return _of_many(rows, weights, damping)
            self._pattern[:] = [_Pattern(rows, apart, len(weights))]
        self._last = self._pattern[0].correcting(rows, weights, damping)
        return self._last(rows.residual)

    @property
    def products(self) -> int:
        """How many the normal matrix is made of, in a large drawing: what a correction costs grows with them."""
        return len(self._pattern[0].products) if self._pattern else 0

    def again(self, rows: Linearised) -> Floats | None:
        """The same for a new residual, with the slopes of the last one. None where that is not much quicker, or they are of other variables."""
        return self._last(rows.residual) if self._last is not None and self._pattern[0].fits(rows) else None


class _Apart:
    """The same equations, those that share a term with one before them less that one: the same corrections come of them.

    row, column: where their slopes stand.
    """

    def __init__(self, rows: Linearised) -> None:
        self._shared = shared = rows.shared
        self.row, self.column = rows.row, rows.column
        if shared is None:
            return
        later = np.zeros(len(rows.residual), dtype=np.bool_)
        later[shared.later] = True
        stays = np.flatnonzero(~(later[rows.row] & shared.of_term))
        others = np.flatnonzero(~shared.of_term)
        others = others[np.argsort(rows.row[others], kind="stable")]
        first, end = (np.searchsorted(rows.row[others], shared.before, side=side) for side in ("left", "right"))
        taken = [others[a:b] for a, b in zip(first, end, strict=True)]
        counts = [len(t) for t in taken]
        self._from = np.concatenate([stays, *taken])
        self._times = np.concatenate([np.ones(len(stays)), -np.repeat(shared.times, counts)])
        self.row = np.concatenate([rows.row[stays], np.repeat(shared.later, counts)])
        self.column = rows.column[self._from]

    def slopes(self, slopes: Floats) -> Floats:
        return slopes if self._shared is None else slopes[self._from] * self._times

    def residual(self, residual: Floats) -> Floats:
        if self._shared is None:
            return residual
        found = residual.copy()
        found[self._shared.later] -= self._shared.times * residual[self._shared.before]
        return found


class _Pattern:
    """Where the slopes of equations stand in their Jacobian J, and so in the normal matrix J W J', which is symmetric.

    It is kept in an order in which its factor has few entries.
    """

    def __init__(self, rows: Linearised, apart: _Apart, variables: int) -> None:
        self._of, self._apart = (rows.row, rows.column), apart
        self._row, self._column = apart.row, apart.column
        count = len(rows.residual)
        order = np.argsort(apart.column, kind="stable")
        column = apart.column[order]
        size = np.bincount(column, minlength=variables)
        own = size[column]
        # every slope with every slope of the same variable, each two of them once
        first = np.repeat(order, own)
        number = np.arange(len(first)) - np.repeat(np.cumsum(own) - own, own)
        second = order[np.repeat((np.cumsum(size) - size)[column], own) + number]
        once = apart.row[first] >= apart.row[second]
        self._first, self._second = first[once], second[once]
        self._order = np.arange(count, dtype=np.int32)
        self._stand(count)
        self._order = self._fewest(count)
        self._stand(count)

    def _stand(self, count: int) -> None:
        """Where the products of slopes go in the present order, and which of them stands where in the whole matrix."""
        from scipy.sparse import csc_matrix

        place = np.empty(count, dtype=np.int64)
        place[self._order] = np.arange(count)
        ends = place[self._row[self._first]], place[self._row[self._second]]
        diagonal = np.arange(count) * (count + 1)
        half, inverse = np.unique(np.concatenate([np.maximum(*ends) * count + np.minimum(*ends), diagonal]), return_inverse=True)
        self.products, self._diagonal = inverse[:-count], inverse[-count:]
        high, low = half // count, half % count
        whole, first = np.unique(np.concatenate([half, low * count + high]), return_index=True)
        self._half, self._from = len(half), first % len(half)
        starts = np.searchsorted(whole, np.arange(count + 1) * count).astype(np.int32)
        self._whole = csc_matrix((np.zeros(len(whole)), (whole % count).astype(np.int32), starts), shape=(count, count))

    def _fewest(self, count: int) -> Ints:
        """An order for symmetric matrices: a sixth of the time that the usual one takes."""
        ones = np.ones(self._half)
        ones[self._diagonal] = count
        return np.asarray(np.argsort(self._factor(ones, "MMD_AT_PLUS_A").perm_c), dtype=np.int32)

    def fits(self, rows: Linearised) -> bool:
        (row, column), count = self._of, len(self._order)
        # mostly they are the very same lists
        same = (row is rows.row or np.array_equal(row, rows.row)) and (column is rows.column or np.array_equal(column, rows.column))
        return same and count == len(rows.residual)

    def correcting(self, rows: Linearised, weights: Floats, damping: float) -> Callable[[Floats], Floats]:
        """Takes residuals to corrections."""
        slopes = self._apart.slopes(rows.slopes)
        scaled = slopes / weights[self._column]
        products = scaled[self._first] * slopes[self._second]
        normal = np.asarray(np.bincount(self.products, products, minlength=self._half), dtype=np.float64)
        normal[self._diagonal] += damping * max(float(normal[self._diagonal].max(initial=1e-300)), 1e-12)
        factor = self._factor(normal, "NATURAL")

        def corrected(residual: Floats) -> Floats:
            pressed = np.empty(len(residual))
            pressed[self._order] = factor.solve(-self._apart.residual(residual)[self._order])
            return np.asarray(np.bincount(self._column, scaled * pressed[self._row], minlength=len(weights)), dtype=np.float64)

        return corrected

    def _factor(self, half: Floats, order: str) -> Any:
        from scipy.sparse.linalg import splu

        # of what it is made of only the numbers are new; to look at all of it again takes as long as a third of the factor
        matrix = copy(self._whole)
        matrix.data = half[self._from]
        # of a matrix that is symmetric and positive the diagonal is what is divided by
        how: dict[str, Any] = {"permc_spec": order, "diag_pivot_thresh": 0.0, "panel_size": 1, "relax": 1, "options": {"SymmetricMode": True}}
        return splu(matrix, **how)


def _of_few(rows: Linearised, weights: Floats, damping: float) -> Floats:
    """Without sparse matrices, which cost more than they save in a small drawing."""
    jacobian = np.zeros((len(rows.residual), len(weights)))
    np.add.at(jacobian, (rows.row, rows.column), rows.slopes)
    scaled = jacobian / weights
    normal = scaled @ jacobian.T
    largest = float(normal.diagonal().max(initial=1e-300))
    normal.flat[:: len(normal) + 1] += damping * max(largest, 1e-12)
    return np.asarray(scaled.T @ np.linalg.solve(normal, -rows.residual), dtype=np.float64)


def _of_many(rows: Linearised, weights: Floats, damping: float) -> Floats:
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
