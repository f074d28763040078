"""Tensor-product B-spline surfaces, polynomial or rational."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from functools import cached_property
from math import comb
from typing import Any

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.space import SplineSpace, change_of_basis

SCANNED = 33
"""Lines of a surface in each direction that a place is looked for on at first."""


@dataclass(frozen=True)
class Surface:
    """points: (nu, nv, 3) in mm; weights: (nu, nv) positive, or None for a polynomial surface."""

    u: SplineSpace
    v: SplineSpace
    points: Floats
    weights: Floats | None = None

    @classmethod
    def checked(
        cls, degrees: tuple[int, int], knots: tuple[Sequence[float], Sequence[float]], points: Floats, weights: Floats | None = None
    ) -> Surface:
        """A surface from numbers of unknown quality. Raises BadInput with what was expected."""
        u, v = (SplineSpace.checked(d, t) for d, t in zip(degrees, knots, strict=True))
        p = np.asarray(points, dtype=np.float64)
        if p.shape != (u.count, v.count, 3):
            raise BadInput(f"expected control points ({u.count}, {v.count}, 3), got {p.shape}")
        w = None if weights is None else np.asarray(weights, dtype=np.float64)
        if w is not None and (w.shape != p.shape[:2] or np.any(w <= 0)):
            raise BadInput("expected one positive weight for each control point")
        return cls(u, v, p, w)

    @classmethod
    def through(cls, u: SplineSpace, v: SplineSpace, values: Floats) -> Surface:
        """The polynomial surface that takes values (nu, nv, 3) at the Greville abscissae of both spaces."""
        points = v.interpolate(np.ascontiguousarray(u.interpolate(values).transpose(1, 0, 2))).transpose(1, 0, 2)
        return cls(u, v, np.ascontiguousarray(points))

    @property
    def homogeneous(self) -> Floats:
        if self.weights is None:
            return self.points
        return np.concatenate([self.points * self.weights[..., None], self.weights[..., None]], axis=-1)

    def in_spaces(self, u: SplineSpace, v: SplineSpace, homogeneous: Floats) -> Surface:
        """A surface of the same kind from control points as `homogeneous` gives them."""
        if self.weights is None:
            return Surface(u, v, homogeneous)
        w = homogeneous[..., -1]
        return Surface(u, v, homogeneous[..., :-1] / w[..., None], w)

    def represented(self, space: SplineSpace, axis: int) -> Surface:
        """The same surface with a larger space along axis 0 (u) or 1 (v): insertion and elevation alike."""
        spaces = [self.u, self.v]
        change = change_of_basis(spaces[axis], space)
        spaces[axis] = space
        moved = np.moveaxis(np.tensordot(change, self.homogeneous, axes=(1, axis)), 0, axis)
        return self.in_spaces(spaces[0], spaces[1], moved)

    def split(self, parameter: float, axis: int) -> tuple[Surface, Surface]:
        """Two surfaces that meet at the parameter along axis 0 (u) or 1 (v)."""
        from wander.core.geometry.curve_edits import split

        first = (self.u, self.v)[axis]
        flat = np.moveaxis(self.homogeneous, axis, 0)
        halves = split(Curve(first, flat.reshape(len(flat), -1)), parameter)
        found = []
        for half in halves:
            spaces = [self.u, self.v]
            spaces[axis] = half.space
            points = half.points.reshape((half.space.count, *flat.shape[1:]))
            found.append(self.in_spaces(spaces[0], spaces[1], np.moveaxis(points, 0, axis)))
        return found[0], found[1]

    def grid(self, u: Floats, v: Floats, du: int = 0, dv: int = 0) -> Floats:
        """The derivative of order (du, dv) on the grid of parameters u (m,) and v (k,): (m, k, 3)."""
        if self.weights is None:
            across = self.u.evaluate(self.points, u, du)
            return self.v.evaluate(across.transpose(1, 0, 2), v, dv).transpose(1, 0, 2)
        return self._rational_grid(u, v, du, dv)

    def tangents(self, u: Floats, v: Floats) -> tuple[Floats, Floats, Floats]:
        """Points and both first derivatives on the grid of parameters u (m,) and v (k,): (m, k, 3) each."""
        if self.weights is not None:
            return self.grid(u, v), self.grid(u, v, 1, 0), self.grid(u, v, 0, 1)
        across = [self.u.evaluate(self.points, u, order).transpose(1, 0, 2) for order in (0, 1)]
        both = self.v.evaluate(np.concatenate(across, axis=1), v).transpose(1, 0, 2)
        return both[: len(u)], both[len(u) :], self.v.evaluate(across[0], v, 1).transpose(1, 0, 2)

    def at(self, u: Floats, v: Floats, orders: Sequence[tuple[int, int]]) -> list[Floats]:
        """Derivatives of the orders (du, dv) at pairs of parameters u (m,), v (m,): (m, 3) each."""
        if self.weights is not None:
            most_u, most_v = (max(order[k] for order in orders) for k in (0, 1))
            wanted = [(i, j) for i in range(most_u + 1) for j in range(most_v + 1)]
            found = Surface(self.u, self.v, self.homogeneous).at(u, v, wanted)
            quotients = _quotients(dict(zip(wanted, found, strict=True)), most_u, most_v)
            return [quotients[order] for order in orders]
        places = np.stack([u, v], axis=1)
        degrees = (self.u.degree, self.v.degree)
        kept = [all(order <= degree for order, degree in zip(each, degrees, strict=True)) for each in orders]
        return [self._compiled(places, nu=each) if has else np.zeros((len(u), self.points.shape[2])) for each, has in zip(orders, kept, strict=True)]

    @cached_property
    def _compiled(self) -> Any:
        """What scipy evaluates at scattered places; `basis_functions` is its independent check."""
        from scipy.interpolate import NdBSpline

        return NdBSpline((self.u.knots, self.v.knots), np.ascontiguousarray(self.points), (self.u.degree, self.v.degree))

    @cached_property
    def scan(self) -> Floats:
        """Places on a grid of SCANNED lines each way: (SCANNED, SCANNED, 3). From the nearest of them what is nearest is sought."""
        return self.grid(np.linspace(*self.u.domain, SCANNED), np.linspace(*self.v.domain, SCANNED))

    def __getstate__(self) -> dict[str, Any]:
        # what can be found again is not kept with it
        return {each.name: getattr(self, each.name) for each in fields(self)}

    def along_rows(self, u: Floats, v: Floats, orders: Sequence[tuple[int, int]]) -> list[Floats]:
        """Derivatives of the given orders at parameters u (m,) and, for each of them, v (m, k): (m k, 3) each.

        Along each row only v changes: its curve is found once.
        """
        if self.weights is not None:
            return self.at(np.repeat(u, v.shape[1]), v.ravel(), orders)
        rows = {du: self.u.evaluate(self.points, u, du).transpose(1, 0, 2) for du in {du for du, _ in orders}}
        found: dict[tuple[int, int], Floats] = {}
        for dv in {dv for _, dv in orders}:
            wanted = [du for du in rows if (du, dv) in orders]
            if dv > self.v.degree:
                found |= {(du, dv): np.zeros((v.size, self.points.shape[2])) for du in wanted}
                continue
            space, curves = self.v, np.concatenate([rows[du] for du in wanted], axis=2)
            for _ in range(dv):
                space, curves = space.derived(curves)
            parts = np.split(space.side_by_side(curves, v), len(wanted), axis=1)
            found |= {(du, dv): part for du, part in zip(wanted, parts, strict=True)}
        return [np.ascontiguousarray(found[order]) for order in orders]

    def _rational_grid(self, u: Floats, v: Floats, du: int, dv: int) -> Floats:
        plain = Surface(self.u, self.v, self.homogeneous)
        return _quotients({(i, j): plain.grid(u, v, i, j) for i in range(du + 1) for j in range(dv + 1)}, du, dv)[du, dv]

    def edge(self, side: str) -> Curve:
        """A boundary curve: 'u0', 'u1' (run along v), 'v0', 'v1' (run along u)."""
        index = 0 if side[1] == "0" else -1
        along, space = (self.homogeneous[index], self.v) if side[0] == "u" else (self.homogeneous[:, index], self.u)
        if self.weights is None:
            return Curve(space, along)
        return Curve(space, along[:, :-1] / along[:, -1:], along[:, -1])

    def transformed(self, matrix: Floats, origin: Floats) -> Surface:
        """The image under x -> matrix @ x + origin."""
        return Surface(self.u, self.v, self.points @ np.asarray(matrix).T + origin, self.weights)


def _quotients(a: dict[tuple[int, int], Floats], du: int, dv: int) -> dict[tuple[int, int], Floats]:
    """Derivatives (..., 3) up to the orders (du, dv), from those of the homogeneous surface, (..., 4). The NURBS Book, eq. 4.20."""
    found: dict[tuple[int, int], Floats] = {}
    for i in range(du + 1):
        for j in range(dv + 1):
            value = a[i, j][..., :-1].copy()
            for k in range(i + 1):
                for m in range(j + 1):
                    if k or m:
                        value -= comb(i, k) * comb(j, m) * a[k, m][..., -1:] * found[i - k, j - m]
            found[i, j] = value / a[0, 0][..., -1:]
    return found
