"""Volume, area, centre of mass and box of a skin, from its surfaces themselves.

Source: the divergence theorem, integrated with Gauss points span by span; exact up to rounding for volume and centre of
polynomial faces. Independent of any mesh and of the kernel.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.quadrature import gauss_points
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.shell import Cap, Shell

MANY, ENOUGH = 24, 5
"""In a direction of more knots than the first, so many Gauss points in each span are enough: what they miss is of the tenth order in a short span."""
LOOKED = 96
"""Places in each direction, about, at which extreme points are looked for."""


@dataclass(frozen=True)
class MassProperties:
    """volume mm3, area mm2, center (3,) mm, low and high corner of the axis-parallel box (3,) mm."""

    volume: float
    area: float
    center: Floats
    low: Floats
    high: Floats


def mass_properties(shell: Shell) -> MassProperties:
    """Everything about a closed skin whose normals point outwards; a sheet encloses nothing, and has the centre of its area."""
    if not shell.closed:
        return _of_sheet(shell)
    volume, area = 0.0, 0.0
    first = np.zeros(3)
    boxes = []
    for face in shell.faces:
        v, a, f = _face_integrals(face.surface)
        volume, area, first = volume + v, area + a, first + f
        boxes.append(extremes(face.surface))
    for cap in shell.caps:
        v, a, f = _cap_integrals(cap)
        volume, area, first = volume + v, area + a, first + f
    low = np.min([b[0] for b in boxes], axis=0)
    high = np.max([b[1] for b in boxes], axis=0)
    return MassProperties(volume, area, first / volume if volume else first, low, high)


def _of_sheet(shell: Shell) -> MassProperties:
    area, first, boxes = 0.0, np.zeros(3), []
    for face in shell.faces:
        (u, wu), (v, wv) = (gauss_points(space.breaks, MANY // 2) for space in (face.surface.u, face.surface.v))
        p, du, dv = face.surface.tangents(u, v)
        size = lengths(cross(du, dv)) * (wu[:, None] * wv)
        area, first = area + float(size.sum()), first + np.einsum("ij,ijk->k", size, p)
        boxes.append(extremes(face.surface))
    low, high = np.min([b[0] for b in boxes], axis=0), np.max([b[1] for b in boxes], axis=0)
    return MassProperties(0.0, area, first / area if area else first, low, high)


def surface_area(surface: Surface) -> float:
    """Of a whole surface, mm2."""
    (u, wu), (v, wv) = (gauss_points(space.breaks, MANY // 2) for space in (surface.u, surface.v))
    _, du, dv = surface.tangents(u, v)
    return float((lengths(cross(du, dv)) * (wu[:, None] * wv)).sum())


def cap_area(cap: Cap) -> float:
    """Of a flat cap, mm2."""
    return _cap_integrals(cap)[1]


def _face_integrals(surface: Surface) -> tuple[float, float, Floats]:
    """Shares of a face in volume, area and first moments: 1/3 P.n, |n| and 1/2 (x2, y2, z2) * n over du dv."""
    (u, wu), (v, wv) = (gauss_points(space.breaks, _points(space)) for space in (surface.u, surface.v))
    p, du, dv = surface.tangents(u, v)
    normal = cross(du, dv) * (wu[:, None] * wv)[..., None]
    volume = float(np.einsum("ijk,ijk->", p, normal)) / 3
    area = float(lengths(normal).sum())
    return volume, area, np.einsum("ijk,ijk->k", p * p, normal) / 2


def _points(space: SplineSpace) -> int:
    """Gauss points in each span: as many as make it exact, or, where spans are many and short, as leave less than rounding does."""
    exact = (3 * space.degree) // 2 + 2
    return min(exact, ENOUGH) if len(space.breaks) > MANY else exact


def _cap_integrals(cap: Cap) -> tuple[float, float, Floats]:
    """The same for a flat cap, by Green's theorem round its boundary."""
    flat = np.zeros(6)
    outer = _cap_sums(cap, cap.boundary)
    for chain in cap.holes:
        inner = _cap_sums(cap, chain)
        flat += inner if inner[0] * outer[0] < 0 else -inner
    flat += outer
    area, mx, my = float(flat[0]) / 2, flat[1] / 2, flat[2] / 2
    xx, xy, yy = flat[3] / 3, flat[4] / 2, flat[5] / 3
    if area < 0:
        area, mx, my, xx, xy, yy = -area, -mx, -my, -xx, -xy, -yy
    o, a, b, n = cap.frame.origin, cap.frame.x, cap.frame.y, cap.frame.z
    squares = o * o * area + 2 * o * (a * mx + b * my) + a * a * xx + 2 * a * b * xy + b * b * yy
    return float(o @ n) * area / 3, area, squares * n / 2


def _cap_sums(cap: Cap, chain: Sequence[Curve]) -> Floats:
    """Twice the area and the further integrals of x, y, x2, xy, y2 round a chain, as Green's theorem gives them: (6,)."""
    found = np.zeros(6)
    for curve in chain:
        u, w = gauss_points(curve.space.breaks, 2 * curve.degree + 1)
        p, d = curve.derivatives(u, 1)
        (x, y), (dx, dy) = cap.frame.drop(p).T, (d @ np.stack([cap.frame.x, cap.frame.y]).T).T
        parts = (x * dy - y * dx, x * x * dy, -y * y * dx, x**3 * dy, x * x * y * dy, -(y**3) * dx)
        found += [float(np.sum(w * part)) for part in parts]
    return found


def extremes(surface: Surface) -> tuple[Floats, Floats]:
    """Low and high corner (3,), (3,) of the box round a surface: a grid, then Newton from its extreme points."""
    u, v = _dense(surface.u.breaks), _dense(surface.v.breaks)
    p = surface.grid(u, v)
    low, high = p.min(axis=(0, 1)), p.max(axis=(0, 1))
    signed = np.concatenate([p, -p], axis=-1).reshape(-1, 6)
    i, j = np.unravel_index(np.argmax(signed, axis=0), p.shape[:2])
    found = _climb(surface, u[i], v[j])
    return np.minimum(low, -found[3:]), np.maximum(high, found[:3])


def _dense(breaks: Floats) -> Floats:
    """Parameters to look for extreme points at: a few in each span, more where there are few."""
    count = min(6, max(2, -(-LOOKED // (len(breaks) - 1))))
    return np.append((breaks[:-1, None] + np.diff(breaks)[:, None] * np.arange(count) / count).ravel(), breaks[-1])


def _climb(surface: Surface, u: Floats, v: Floats) -> Floats:
    """The largest x, y, z, -x, -y, -z near parameters u (6,), v (6,): Newton inside the domain, and only uphill."""
    axis = np.array([0, 1, 2, 0, 1, 2])
    sign = np.array([1.0, 1.0, 1.0, -1.0, -1.0, -1.0])

    def values(a: Floats, b: Floats, orders: Sequence[tuple[int, int]]) -> list[Floats]:
        return [sign * found[np.arange(6), axis] for found in surface.at(a, b, orders)]

    def capped(slope: Floats, bend: Floats) -> Floats:
        # hardly bent at all, it goes as far as there is room
        with np.errstate(over="ignore"):
            return np.where(bend < 0, -slope / np.where(bend < 0, bend, 1.0), 0.0)

    best = values(u, v, [(0, 0)])[0]
    for _ in range(4):
        fu, fv, fuu, fuv, fvv = values(u, v, [(1, 0), (0, 1), (2, 0), (1, 1), (0, 2)])
        determinant = fuu * fvv - fuv * fuv
        full = (determinant > 0) & (fuu < 0)
        safe = np.where(full, determinant, 1.0)
        zero = np.zeros(6)
        steps = [
            (np.where(full, (fuv * fv - fvv * fu) / safe, zero), np.where(full, (fuv * fu - fuu * fv) / safe, zero)),
            (capped(fu, fuu), zero),
            (zero, capped(fv, fvv)),
        ]
        gained = False
        start_u, start_v = u, v
        tried_u = np.clip(np.concatenate([start_u + step for step, _ in steps]), *surface.u.domain)
        tried_v = np.clip(np.concatenate([start_v + step for _, step in steps]), *surface.v.domain)
        found = surface.at(tried_u, tried_v, [(0, 0)])[0].reshape(3, 6, 3)
        for a, b, places in zip(tried_u.reshape(3, 6), tried_v.reshape(3, 6), found, strict=True):
            there = sign * places[np.arange(6), axis]
            better = there > best + 1e-13 * np.abs(best)
            u, v, best = np.where(better, a, u), np.where(better, b, v), np.where(better, there, best)
            gained |= bool(better.any())
        if not gained:
            break
    return best
