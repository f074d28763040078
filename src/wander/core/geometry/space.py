"""Spline spaces: a degree and a clamped knot vector, and the exact way from one space into a larger one.

Insertion, elevation and every other change of representation are one linear map between two spaces. The map is found by
collocation at the Greville abscissae of the target, which is exact when the target contains the source.

scipy is loaded by the first computation, here and wherever the core uses it: a server reads documents without computing anything, and
loading scipy would be a fifth of the time of its start.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache, cached_property, lru_cache
from typing import Any, NamedTuple

import numpy as np

from wander.core.geometry.basis import Floats, Ints, basis_functions
from wander.core.geometry.errors import BadInput


class _Compiled(NamedTuple):
    """What scipy does for splines: their values, LAPACK's solver for banded systems, and matrices that are nearly empty."""

    BSpline: Any
    csr_array: Any
    dgbtrf: Any
    dgbtrs: Any


@cache
def _compiled() -> _Compiled:
    from scipy.interpolate import BSpline
    from scipy.linalg.lapack import dgbtrf, dgbtrs
    from scipy.sparse import csr_array

    return _Compiled(BSpline, csr_array, dgbtrf, dgbtrs)


@dataclass(frozen=True)
class SplineSpace:
    """All splines of one degree over one clamped knot vector.

    knots: (n + degree + 1,), non-decreasing, the first and last value degree + 1 times, inner ones at most degree times.
    """

    degree: int
    knots: Floats

    @classmethod
    def checked(cls, degree: int, knots: Sequence[float] | Floats) -> SplineSpace:
        """A space from numbers of unknown quality. Raises BadInput with what is wrong."""
        t = np.asarray(knots, dtype=np.float64)
        if not 1 <= degree <= 5:
            raise BadInput(f"the degree must be 1 to 5, got {degree}")
        if t.ndim != 1 or len(t) < 2 * degree + 2:
            raise BadInput(f"degree {degree} needs at least {2 * degree + 2} knots, got {t.size}")
        if not np.all(np.isfinite(t)) or np.any(np.diff(t) < 0):
            raise BadInput("knots must be finite and must not decrease")
        if t[0] != t[degree] or t[-1] != t[-degree - 1] or t[0] == t[-1]:
            raise BadInput(f"knots must be clamped: first and last value {degree + 1} times")
        space = cls(degree, t)
        if np.any(space.multiplicities[1:-1] > degree):
            raise BadInput(f"an inner knot may stand at most {degree} times")
        return space

    @classmethod
    def from_breaks(cls, degree: int, breaks: Sequence[float] | Floats, multiplicities: Sequence[int] | np.ndarray | None = None) -> SplineSpace:
        """The space over the given breaks (b,), inner ones with the given multiplicities (b - 2,), one if not given."""
        b = np.asarray(breaks, dtype=np.float64)
        inner = np.ones(len(b) - 2, dtype=int) if multiplicities is None else np.asarray(multiplicities, dtype=int)
        counts = np.concatenate([[degree + 1], inner, [degree + 1]])
        space = cls(degree, np.repeat(b, counts))
        # known here, and costly to find again
        vars(space).update(breaks=b, multiplicities=counts)
        return space

    @classmethod
    def going_on(cls, degree: int, breaks: Floats, continuity: Mapping[float, int], *, same: float = 1e-12) -> SplineSpace:
        """The space over breaks (b,) in which as many derivatives go on at some of them as is said, and all that can at the others.

        same: a break is one of those that are named where it is no further from it.
        """
        most = degree - 1
        orders = [next((order for at, order in continuity.items() if abs(at - b) <= same), most) for b in breaks[1:-1]]
        return cls.from_breaks(degree, breaks, [degree - min(most, order) for order in orders])

    @property
    def count(self) -> int:
        """Number of control points."""
        return len(self.knots) - self.degree - 1

    @property
    def domain(self) -> tuple[float, float]:
        return float(self.knots[0]), float(self.knots[-1])

    @cached_property
    def breaks(self) -> Floats:
        """Distinct knots, ends included: (b,)."""
        return np.unique(self.knots)

    @cached_property
    def multiplicities(self) -> np.ndarray:
        """How often each of `breaks` stands in the knot vector: (b,)."""
        return np.diff(np.searchsorted(self.knots, self.breaks), append=len(self.knots))

    @property
    def continuity(self) -> dict[float, int]:
        """How many derivatives are continuous at each inner break."""
        return {float(b): int(self.degree - m) for b, m in zip(self.breaks[1:-1], self.multiplicities[1:-1], strict=True)}

    @cached_property
    def greville(self) -> Floats:
        """Greville abscissae (n,): knot averages at which interpolation is always solvable."""
        inner = self.knots[1:-1]
        total = sum((inner[i : i + self.count] for i in range(1, self.degree)), inner[: self.count])
        return np.minimum(np.maximum(total / self.degree, self.knots[0]), self.knots[-1])

    def evaluate(self, controls: Floats, parameters: Floats, derivative: int = 0) -> Floats:
        """Splines with control points (n, ...) at parameters (m,), or a derivative of them: (m, ...).

        This is where all time goes, so the compiled evaluation of scipy does it; `basis_functions` is its independent check.
        """
        if derivative > self.degree:
            return np.zeros((len(parameters), *controls.shape[1:]))
        return _compiled().BSpline.construct_fast(self.knots, np.ascontiguousarray(controls), self.degree)(parameters, derivative)

    def paired(self, controls: Floats, which: Ints, parameters: Floats, derivative: int = 0) -> Floats:
        """Of splines side by side, with control points (n, k, ...), the ones with the numbers which (m,) at parameters (m,): (m, ...).

        Each is asked only where it is wanted, not all of them everywhere. derivative: 0 or 1.
        """
        space, controls = self.derived(controls) if derivative else (self, controls)
        spans, basis = basis_functions(space.knots, space.degree, parameters)
        found = np.zeros((len(parameters), *controls.shape[2:]))
        for j in range(space.degree + 1):
            found += basis[:, j].reshape(-1, *(1,) * (controls.ndim - 2)) * controls[spans - space.degree + j, which]
        return found

    def derived(self, controls: Floats) -> tuple[SplineSpace, Floats]:
        """The derivatives of splines with control points (n, ...): the space of one degree less, and control points (n - 1, ...)."""
        p, t = self.degree, self.knots
        steps = np.reshape(t[p + 1 : p + self.count] - t[1 : self.count], (-1, *(1,) * (controls.ndim - 1)))
        return SplineSpace(p - 1, t[1:-1]), p * np.diff(controls, axis=0) / np.where(steps > 0, steps, 1.0)

    def side_by_side(self, controls: Floats, parameters: Floats) -> Floats:
        """Of m splines with control points (n, m, ...), each at parameters of its own, (m, k): (m k, ...).

        A matrix with a few numbers in each row, of the compiled basis: to gather what each place needs would take longer than its sums.
        """
        compiled, places = _compiled(), parameters.ravel()
        basis = compiled.BSpline.design_matrix(places, self.knots, self.degree, extrapolate=True)
        columns = basis.indices + np.repeat(np.arange(len(parameters)) * self.count, parameters.shape[1] * (self.degree + 1))
        flat = np.moveaxis(controls, 0, 1).reshape(len(parameters) * self.count, -1)
        found = compiled.csr_array((basis.data, columns, basis.indptr), shape=(len(places), len(flat))) @ flat
        return np.asarray(found).reshape(len(places), *controls.shape[2:])

    def matrix(self, parameters: Floats, derivative: int = 0) -> Floats:
        """Values of all basis functions: (m, n) for parameters (m,)."""
        return self.evaluate(np.eye(self.count), parameters, derivative)

    @cached_property
    def _collocation(self) -> tuple[Floats, Ints]:
        """The banded matrix of the basis at the Greville abscissae, in triangles: it is totally positive, which needs no care and costs O(n)."""
        spans, basis = basis_functions(self.knots, self.degree, self.greville)
        n, p = self.count, self.degree
        banded = np.zeros((3 * p + 1, n))
        rows = np.repeat(np.arange(n), p + 1)
        columns = (spans[:, None] - p + np.arange(p + 1)).ravel()
        keep = np.abs(rows - columns) <= p
        banded[(2 * p + rows - columns)[keep], columns[keep]] = basis.ravel()[keep]
        triangles, pivots, info = _compiled().dgbtrf(banded, p, p)
        assert info == 0, "collocation at the Greville abscissae is never singular"
        return triangles, pivots

    def interpolate(self, values: Floats) -> Floats:
        """Control points (n, ...) of the spline that takes the given values (n, ...) at the Greville abscissae."""
        triangles, pivots = self._collocation
        flat = np.asarray(values, dtype=np.float64).reshape(self.count, -1)
        # LAPACK itself: this is called for every section of every loft, and scipy's own door costs more than the solve
        found, _ = _compiled().dgbtrs(triangles, self.degree, self.degree, flat, pivots)
        return np.asarray(found).reshape(values.shape)

    def elevated(self, degree: int) -> SplineSpace:
        """The smallest space of the higher degree that contains this one."""
        if degree < self.degree:
            raise BadInput(f"can't elevate degree {self.degree} to {degree}")
        inner = self.multiplicities[1:-1] + (degree - self.degree)
        return SplineSpace.from_breaks(degree, self.breaks, inner.tolist())

    def with_knots(self, new: Sequence[float] | Floats) -> SplineSpace:
        """The space with further knots inserted; raises BadInput outside the domain or above the degree."""
        added = np.asarray(new, dtype=np.float64)
        low, high = self.domain
        if np.any(added <= low) or np.any(added >= high):
            raise BadInput(f"new knots must lie inside ({low:g}, {high:g})")
        return SplineSpace.checked(self.degree, np.sort(np.concatenate([self.knots, added])))

    def mapped(self, low: float, high: float) -> SplineSpace:
        """The same space over another domain."""
        a, b = self.domain
        if (a, b) == (low, high):
            return self
        knots = low + (self.knots - a) * ((high - low) / (b - a))
        knots[: self.degree + 1] = low
        knots[-self.degree - 1 :] = high
        space = SplineSpace(self.degree, knots)
        counts = self.multiplicities
        vars(space).update(breaks=knots[np.cumsum(counts) - 1], multiplicities=counts)
        return space


@lru_cache(maxsize=8)
def even_space(degree: int, spans: int) -> SplineSpace:
    """The space over [0, 1] with so many spans, all alike. The few that are in use are kept, with what is known of them."""
    return SplineSpace.from_breaks(degree, np.linspace(0.0, 1.0, spans + 1))


def change_of_basis(source: SplineSpace, target: SplineSpace) -> Floats:
    """The matrix (n_target, n_source) that takes control points from one space into a larger one, exactly."""
    return target.interpolate(source.matrix(target.greville))


def space_with(degree: int, inner: Floats, counts: Ints, merge: float) -> SplineSpace:
    """The smallest space over [0, 1] with knots of at least the given multiplicities (b,) at the inner places (b,), in any order.

    Knots closer than `merge` count as one, of the highest of their multiplicities.
    """
    if not len(inner):
        return SplineSpace.from_breaks(degree, [0.0, 1.0])
    order = np.argsort(inner, kind="stable")
    breaks, counts = inner[order], counts[order]
    first = np.flatnonzero(np.diff(breaks, prepend=-np.inf) > merge)
    return SplineSpace.from_breaks(degree, np.concatenate([[0.0], breaks[first], [1.0]]), np.maximum.reduceat(counts, first))


def common_space(first: SplineSpace, second: SplineSpace, merge: float = 1e-9) -> SplineSpace:
    """The smallest space over [0, 1] that contains two over [0, 1]; knots closer than `merge` are one."""
    degree = max(first.degree, second.degree)
    raised = [space.elevated(degree) for space in (first, second)]
    inner = np.concatenate([space.breaks[1:-1] for space in raised])
    counts = np.concatenate([space.multiplicities[1:-1] for space in raised])
    return space_with(degree, inner, counts, merge)
