"""B-spline curves, polynomial or rational, in the plane or in space."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import comb

import numpy as np

from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.errors import BadInput
from wander.core.geometry.space import SplineSpace


def quotient(homogeneous: Floats) -> Floats:
    """Derivatives of A / w from derivatives of (A, w): The NURBS Book, eq. 4.8.

    homogeneous: (k + 1, ..., d + 1) with the weight last. Returns (k + 1, ..., d).
    """
    numerator, weight = homogeneous[..., :-1], homogeneous[..., -1:]
    result = np.empty_like(numerator)
    for k in range(len(homogeneous)):
        value = numerator[k].copy()
        for i in range(1, k + 1):
            value -= comb(k, i) * weight[i] * result[k - i]
        result[k] = value / weight[0]
    return result


@dataclass(frozen=True)
class Curve:
    """points: (n, d) in mm, d = 2 or 3; weights: (n,) positive, or None for a polynomial curve."""

    space: SplineSpace
    points: Floats
    weights: Floats | None = None

    @classmethod
    def checked(
        cls, degree: int, knots: Sequence[float] | Floats, points: Sequence[Sequence[float]] | Floats, weights: Sequence[float] | Floats | None = None
    ) -> Curve:
        """A curve from numbers of unknown quality. Raises BadInput with what was expected."""
        space = SplineSpace.checked(degree, knots)
        p = np.asarray(points, dtype=np.float64)
        if p.ndim != 2 or p.shape[1] not in (2, 3) or len(p) != space.count:
            raise BadInput(f"expected {space.count} control points with 2 or 3 coordinates, got an array {p.shape}")
        w = None if weights is None else np.asarray(weights, dtype=np.float64)
        if w is not None and (w.shape != (space.count,) or np.any(w <= 0)):
            raise BadInput(f"expected {space.count} positive weights")
        if not np.all(np.isfinite(p)):
            raise BadInput("control points must be finite")
        return cls(space, p, w)

    @property
    def degree(self) -> int:
        return self.space.degree

    @property
    def domain(self) -> tuple[float, float]:
        return self.space.domain

    @property
    def homogeneous(self) -> Floats:
        """Control points (n, d + 1) in homogeneous coordinates, or (n, d) for a polynomial curve."""
        if self.weights is None:
            return self.points
        return np.column_stack([self.points * self.weights[:, None], self.weights])

    def in_space(self, space: SplineSpace, homogeneous: Floats) -> Curve:
        """A curve of the same kind from control points as `homogeneous` gives them."""
        if self.weights is None:
            return Curve(space, homogeneous)
        w = homogeneous[:, -1]
        return Curve(space, homogeneous[:, :-1] / w[:, None], w)

    def derivatives(self, parameters: Floats | float, count: int) -> Floats:
        """Value and derivatives up to `count`: (count + 1, m, d) for (m,) parameters, (count + 1, d) for one."""
        u = np.asarray(parameters, dtype=np.float64)
        flat = np.atleast_1d(u)
        found = np.stack([self.space.evaluate(self.homogeneous, flat, k) for k in range(count + 1)])
        if self.weights is not None:
            found = quotient(found)
        return found if u.ndim else found[:, 0]

    def __call__(self, parameters: Floats | float) -> Floats:
        """Points (m, d) at parameters (m,), or one point (d,) at one parameter."""
        if self.weights is not None:
            return self.derivatives(parameters, 0)[0]
        u = np.asarray(parameters, dtype=np.float64)
        return self.space.evaluate(self.points, u) if u.ndim else self.space.evaluate(self.points, u[None])[0]

    def sampled(self, per_span: int) -> tuple[Floats, Floats]:
        """Parameters (m,) and points (m, d): every break, and the given number of steps in each span."""
        steps = np.arange(per_span) / per_span
        b = self.space.breaks
        u = np.append((b[:-1, None] + np.diff(b)[:, None] * steps).ravel(), b[-1])
        return u, self(u)


class Together:
    """Curves that are asked for their points together.

    Polynomial ones of one degree over [0, 1] are laid end to end in one spline that jumps from each to the next: calling the compiled evaluation
    once for each of them costs more than its arithmetic.
    """

    def __init__(self, curves: Sequence[Curve]) -> None:
        self._curves = curves
        degree = curves[0].degree
        self._laid: tuple[SplineSpace, Floats] | None = None
        self._numbers = np.arange(len(curves))
        # the end of a curve is where the next one starts: it is read a hair before
        self._lasts = np.nextafter(self._numbers + 1.0, 0.0)[:, None]
        if all(
            curve.degree == degree and curve.weights is None and abs(curve.space.knots[0]) < 1e-9 and abs(curve.space.knots[-1] - 1) < 1e-9
            for curve in curves
        ):
            knots = np.concatenate([curve.space.knots[degree + 1 :] for curve in curves])
            counts = [curve.space.count for curve in curves]
            ends = np.cumsum(counts)
            knots += np.repeat(self._numbers, counts)
            # rounding may have put the end of a curve beside 1
            knots[ends[:, None] - 1 - np.arange(degree + 1)] = self._numbers[:, None] + 1.0
            space = SplineSpace(degree, np.concatenate([np.zeros(degree + 1), knots]))
            self._laid = space, np.concatenate([curve.points for curve in curves])

    def __call__(self, parameters: Floats) -> Floats:
        """Points (k, m, d) of the k curves at parameters (m,), or (k, m) with a row for each curve."""
        if self._laid is None:
            rows = np.broadcast_to(parameters, (len(self._curves), parameters.shape[-1]))
            return np.stack([curve(row) for curve, row in zip(self._curves, rows, strict=True)])
        space, points = self._laid
        u = np.minimum(parameters + self._numbers[:, None], self._lasts)
        return space.evaluate(points, u.ravel()).reshape(*u.shape, -1)

    def at(self, which: Ints, parameters: Floats, derivative: int = 0) -> Floats:
        """Points (m, d), or derivatives, of the curves with the numbers which (m,) at parameters (m,)."""
        if self._laid is not None:
            space, points = self._laid
            return space.evaluate(points, np.minimum(parameters + which, self._lasts[which, 0]), derivative)
        found = np.empty((len(parameters), self._curves[0].points.shape[1]))
        for number in np.unique(which):
            own = which == number
            found[own] = self._curves[number].derivatives(parameters[own], derivative)[derivative]
        return found
