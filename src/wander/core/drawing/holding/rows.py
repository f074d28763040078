"""Rows of a system of equations, each with its slopes and the hold it stands for."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from wander.core.drawing.holding.sums import Sums, Worked
from wander.core.drawing.holding.variables import Slopes
from wander.core.geometry.basis import Floats

Ints = npt.NDArray[np.int32]


@dataclass
class Rows:
    """columns: how many numbers vary; what stands past them never does.

    residual: (r,). owner: the hold of each row, None for what a curve is by itself. slopes at (row, column): a sparse Jacobian, once it is closed.
    """

    columns: int
    rank: int = 0
    residual: Floats = field(default_factory=lambda: np.zeros(0))
    owner: list[str | None] = field(default_factory=list)
    row: Ints = field(default_factory=lambda: np.zeros(0, dtype=np.int32))
    column: Ints = field(default_factory=lambda: np.zeros(0, dtype=np.int32))
    slopes: Floats = field(default_factory=lambda: np.zeros(0))
    _found: list[float] = field(default_factory=list)
    _ranks: list[int] = field(default_factory=list)
    _row: list[int] = field(default_factory=list)
    _column: list[int] = field(default_factory=list)
    _slopes: list[float] = field(default_factory=list)

    def add(self, owner: str | None, value: float, slopes: Slopes) -> None:
        number = len(self._found)
        self._found.append(value)
        self._ranks.append(self.rank)
        self.owner.append(owner)
        self._row += [number] * len(slopes)
        self._column += slopes
        self._slopes += slopes.values()

    def closed(self, sums: Sums, worked: Worked) -> Rows:
        """With the equations that are sums, which were worked out together, in the order of their ranks."""
        count = len(sums.owners)
        row, column, slopes = worked.row, worked.column, worked.slopes
        self.residual = worked.residual
        if self._found:
            self.residual = np.append(worked.residual, self._found)
            row = np.append(row, np.array(self._row, dtype=np.int32) + count)
            column, slopes = np.append(column, np.array(self._column, dtype=np.int32)), np.append(slopes, self._slopes)
            order = np.argsort([*sums.ranks, *self._ranks], kind="stable")
            owners = [*sums.owners, *self.owner]
            self.owner = [owners[i] for i in order]
            self.residual = self.residual[order]
            places = np.empty(len(order), dtype=np.int32)
            places[order] = np.arange(len(order), dtype=np.int32)
            row = places[row]
        else:
            self.owner = sums.owners
        varies = column < self.columns
        self.row, self.column, self.slopes = row[varies], column[varies], slopes[varies]
        return self

    @property
    def largest(self) -> float:
        return float(np.abs(self.residual).max(initial=0.0))

    @property
    def square(self) -> float:
        return float(self.residual @ self.residual)
