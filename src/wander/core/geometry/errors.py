"""The error tree of the geometry core.

GeometryError
  BadInput        the numbers given can't describe what was asked
  NotConverged    an iteration ran out before it reached its tolerance
"""

from __future__ import annotations


class GeometryError(ValueError):
    """Root of everything the geometry core raises on purpose."""


class BadInput(GeometryError):
    """The input can't describe what was asked; the message says what was expected and what came."""


class NotConverged(GeometryError):
    """An iteration stopped short; `iterations` and `residual` say how far it came."""

    def __init__(self, what: str, iterations: int, residual: float) -> None:
        super().__init__(f"{what} did not converge: residual {residual:.3g} after {iterations} iterations")
        self.iterations = iterations
        self.residual = residual
