"""Rows of a system of equations, each with its slopes and the hold it stands for."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from wander.core.drawing.holding.variables import Slopes
from wander.core.geometry.basis import Floats


@dataclass
class Rows:
    """residual: (r,). owner: the hold of each row, None for what a curve is by itself. slopes at (row, column): a sparse Jacobian."""

    residual: Floats = field(default_factory=lambda: np.zeros(0))
    owner: list[str | None] = field(default_factory=list)
    row: list[int] = field(default_factory=list)
    column: list[int] = field(default_factory=list)
    slopes: list[float] = field(default_factory=list)
    _found: list[float] = field(default_factory=list)

    def add(self, owner: str | None, value: float, slopes: Slopes) -> None:
        number = len(self._found)
        self._found.append(value)
        self.owner.append(owner)
        self.row += [number] * len(slopes)
        self.column += slopes
        self.slopes += slopes.values()

    def closed(self) -> Rows:
        self.residual = np.array(self._found)
        return self

    @property
    def largest(self) -> float:
        return float(np.abs(self.residual).max(initial=0.0))

    @property
    def square(self) -> float:
        return float(self.residual @ self.residual)
