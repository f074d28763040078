"""Corrections of least weighted length: of all that satisfy linearised equations, the one that moves what is not concerned not at all."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from wander.core.drawing.holding.normal import laid_out
from wander.core.drawing.holding.rows import Linearised
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
        return self._pattern[0].products if self._pattern else 0

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
    """Where the slopes of equations stand in their Jacobian J, and so in the normal matrix J W J'."""

    def __init__(self, rows: Linearised, apart: _Apart, variables: int) -> None:
        self._of, self._apart = (rows.row, rows.column), apart
        self._row, self._column = apart.row, apart.column
        self._count = len(rows.residual)
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
        self._normal = laid_out(self._row[self._first], self._row[self._second], self._count)

    @property
    def products(self) -> int:
        return len(self._first)

    def fits(self, rows: Linearised) -> bool:
        row, column = self._of
        # mostly they are the very same lists
        same = (row is rows.row or np.array_equal(row, rows.row)) and (column is rows.column or np.array_equal(column, rows.column))
        return same and self._count == len(rows.residual)

    def correcting(self, rows: Linearised, weights: Floats, damping: float) -> Callable[[Floats], Floats]:
        """Takes residuals to corrections."""
        slopes = self._apart.slopes(rows.slopes)
        scaled = slopes / weights[self._column]
        solve = self._normal.solving(scaled[self._first] * slopes[self._second], damping)

        def corrected(residual: Floats) -> Floats:
            pressed = solve(-self._apart.residual(residual))
            return np.asarray(np.bincount(self._column, scaled * pressed[self._row], minlength=len(weights)), dtype=np.float64)

        return corrected


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
