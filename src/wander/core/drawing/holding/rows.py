"""Rows of a system of equations, each with its slopes and the hold it stands for."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from wander.core.drawing.holding.sums import Ints, Shared, Sums
from wander.core.drawing.holding.variables import Slopes
from wander.core.geometry.basis import Floats


@dataclass
class Linearised:
    """A system of equations at one place.

    residual: (r,). slopes_of: gives the slopes (s,), which stand at (row, column): a sparse Jacobian. owner: the hold of each row, None for what a
    curve is by itself. shared: rows that share terms.
    """

    residual: Floats
    row: Ints
    column: Ints
    slopes_of: Callable[[], Floats]
    owner: list[str | None] = field(default_factory=list)
    shared: Shared | None = None

    @cached_property
    def slopes(self) -> Floats:
        return self.slopes_of()

    @cached_property
    def largest(self) -> float:
        return float(np.abs(self.residual).max(initial=0.0))

    @cached_property
    def square(self) -> float:
        return float(self.residual @ self.residual)


@dataclass
class Rows:
    """Equations that are worked out one by one. rank: where the next of them stands among all."""

    rank: int = 0
    owner: list[str | None] = field(default_factory=list)
    found: list[float] = field(default_factory=list)
    ranks: list[int] = field(default_factory=list)
    row: list[int] = field(default_factory=list)
    column: list[int] = field(default_factory=list)
    slopes: list[float] = field(default_factory=list)

    def add(self, owner: str | None, value: float, slopes: Slopes) -> None:
        number = len(self.found)
        self.found.append(value)
        self.ranks.append(self.rank)
        self.owner.append(owner)
        self.row += [number] * len(slopes)
        self.column += slopes
        self.slopes += slopes.values()


class System:
    """Equations that are sums, laid out once, with those that are worked out one by one. variables: how many; what stands past them never varies."""

    def __init__(self, sums: Sums, variables: int) -> None:
        self._layout = layout = sums.laid()
        self._owners, self._ranks = sums.owners, sums.ranks
        self._variables = variables
        self._varies = varies = np.flatnonzero(layout.column < variables)
        self._row, self._column = layout.row[varies], layout.column[varies]
        shared = layout.shared
        self._shared = Shared(shared.later, shared.before, shared.times, shared.of_term[varies]) if len(shared.later) else None

    def at(self, values: Floats, others: Rows) -> Linearised:
        """All of them in the order of their ranks. values: of all variables, those that never vary behind the others."""
        residual, slopes = self._layout.worked(values)
        if others.found:
            return self._in_turn(residual, slopes, others)
        return Linearised(residual, self._row, self._column, lambda: slopes()[self._varies], self._owners, self._shared)

    def _in_turn(self, residual: Floats, slopes: Callable[[], Floats], others: Rows) -> Linearised:
        count = len(self._owners)
        order = np.argsort([*self._ranks, *others.ranks], kind="stable")
        owners = [*self._owners, *others.owner]
        places = np.empty(len(order), dtype=np.int32)
        places[order] = np.arange(len(order), dtype=np.int32)
        column = np.array(others.column, dtype=np.int32)
        varies = np.flatnonzero(column < self._variables)
        row = np.array(others.row, dtype=np.int32)[varies] + count
        shared = self._shared
        if shared is not None:
            of_term = np.append(shared.of_term, np.zeros(len(varies), dtype=np.bool_))
            shared = Shared(places[shared.later], places[shared.before], shared.times, of_term)
        return Linearised(
            np.append(residual, others.found)[order],
            places[np.append(self._row, row)],
            np.append(self._column, column[varies]),
            lambda: np.append(slopes()[self._varies], np.array(others.slopes)[varies]),
            [owners[i] for i in order],
            shared,
        )
