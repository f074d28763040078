"""Rows of a system of equations, each with its slopes and the hold it stands for."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from wander.core.drawing.holding.variables import Slopes
from wander.core.geometry.basis import Floats

Ints = npt.NDArray[np.int32]


@dataclass
class Rows:
    """columns: how many numbers vary; what stands past them never does.

    residual: (r,). owner: the hold of each row, None for what a curve is by itself. slopes at (row, column): a sparse Jacobian, once it is closed.
    """

    columns: int
    residual: Floats = field(default_factory=lambda: np.zeros(0))
    owner: list[str | None] = field(default_factory=list)
    row: Ints = field(default_factory=lambda: np.zeros(0, dtype=np.int32))
    column: Ints = field(default_factory=lambda: np.zeros(0, dtype=np.int32))
    slopes: Floats = field(default_factory=lambda: np.zeros(0))
    _found: list[float] = field(default_factory=list)
    _row: list[int] = field(default_factory=list)
    _column: list[int] = field(default_factory=list)
    _slopes: list[float] = field(default_factory=list)

    def add(self, owner: str | None, value: float, slopes: Slopes) -> None:
        number = len(self._found)
        self._found.append(value)
        self.owner.append(owner)
        self._row += [number] * len(slopes)
        self._column += slopes
        self._slopes += slopes.values()

    def closed(self) -> Rows:
        self.residual = np.array(self._found)
        column = np.array(self._column, dtype=np.int32)
        varies = column < self.columns
        self.row, self.column = np.array(self._row, dtype=np.int32)[varies], column[varies]
        self.slopes = np.array(self._slopes)[varies]
        return self

    @property
    def largest(self) -> float:
        return float(np.abs(self.residual).max(initial=0.0))

    @property
    def square(self) -> float:
        return float(self.residual @ self.residual)
