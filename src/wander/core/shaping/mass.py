"""Volume, area, centre of mass and box of a skin, from its surfaces themselves.

Integrated with Gauss points span by span; exact up to rounding for volume, centre and moments of polynomial faces. Independent of any mesh and of the
kernel.
"""

from __future__ import annotations

from collections.abc import Container, Sequence
from dataclasses import dataclass, replace

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.quadrature import gauss_points
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross
from wander.core.shaping.moments import NOTHING, Moments, flat_sums, of_flat, of_pieces
from wander.core.shaping.shell import Cap, Shell

MANY, ENOUGH = 24, 5
"""In a direction of more knots than the first, so many Gauss points in each span are enough: what they miss is of the tenth order in a short span."""
FEW, IN_ALL = 3, 12
"""Gauss points in each span, and in each direction at the least, that tell a volume within about a thousandth."""
LOOKED = 96
"""Places in each direction, about, at which extreme points are looked for."""


@dataclass(frozen=True)
class MassProperties:
    """volume mm3, area mm2, center (3,) mm, low and high corner of the axis-parallel box (3,) mm.

    spread: second moments of the volume about the centre, (3, 3) mm5.
    """

    volume: float
    area: float
    center: Floats
    low: Floats
    high: Floats
    spread: Floats


def mass_properties(shell: Shell) -> MassProperties:
    """Everything about a closed skin whose normals point outwards; a sheet encloses nothing, and has the centre of its area."""
    boxes = [extremes(face.surface) for face in shell.faces]
    low, high = np.min([box[0] for box in boxes], axis=0), np.max([box[1] for box in boxes], axis=0)
    about = (low + high) / 2
    found = skin_moments(shell, about)
    if not shell.closed:
        found = replace(found, volume=0.0)
    return MassProperties(found.volume, found.area, found.center(about), low, high, found.spread)


def skin_moments(shell: Shell, about: Floats, only: Container[str] | None = None) -> Moments:
    """Of the sides and caps of a skin, counted from a place (3,). only: of those with these names."""
    found = NOTHING
    for face in shell.faces:
        if only is None or face.name in only:
            found = found + _of_face(face.surface, about, enclosing=shell.closed)
    for cap in shell.caps:
        if only is None or cap.name in only:
            found = found + of_flat(cap.frame, _inside(cap), about)
    return found


def volume_about(shell: Shell) -> float:
    """The volume of a closed skin within about a thousandth, mm3: few places of each span, for what is to be known at once."""
    about = np.mean([face.surface.points.reshape(-1, 3).mean(axis=0) for face in shell.faces], axis=0) if shell.faces else np.zeros(3)
    found = sum((of_flat(cap.frame, _inside(cap), about) for cap in shell.caps), NOTHING)
    for surface in (face.surface for face in shell.faces):
        found = found + _summed(surface, about, [_few(space) for space in (surface.u, surface.v)])
    return found.volume


def _few(space: SplineSpace) -> tuple[Floats, int]:
    """Parameters between which few Gauss points do, and how many of them: of many spans several are taken together."""
    if len(space.breaks) > MANY:
        return np.linspace(*space.domain, MANY), FEW
    return space.breaks, max(FEW, IN_ALL // (len(space.breaks) - 1))


def surface_area(surface: Surface) -> float:
    """Of a whole surface, mm2."""
    return _of_face(surface, np.zeros(3), enclosing=False).area


def cap_area(cap: Cap) -> float:
    """Of a flat cap, mm2."""
    return float(abs(_inside(cap)[0]))


def _of_face(surface: Surface, about: Floats, *, enclosing: bool) -> Moments:
    """enclosing: the volume is what counts; an area alone is no polynomial, and takes more."""
    taken = [cells(surface, space) if enclosing else (space.breaks, MANY // 2) for space in (surface.u, surface.v)]
    return _summed(surface, about, taken)


def _summed(surface: Surface, about: Floats, taken: Sequence[tuple[Floats, int]]) -> Moments:
    """taken: in each direction the parameters between which it is summed up, and how many Gauss points stand between two of them."""
    (u, wu), (v, wv) = (gauss_points(*each) for each in taken)
    p, du, dv = surface.tangents(u, v)
    return of_pieces((p - about).reshape(-1, 3), (cross(du, dv) * (wu[:, None] * wv)[..., None]).reshape(-1, 3))


def cells(surface: Surface, space: SplineSpace) -> tuple[Floats, int]:
    """Parameters between which a surface is taken by Gauss points in one of its directions, and how many of those.

    As many as make volume and centre exact; where spans are many, as leave less than rounding does in cells that are all short.
    """
    if surface.weights is not None:
        return space.breaks, rational_points(space)
    exact = (3 * space.degree) // 2 + 2
    if len(space.breaks) <= MANY or exact <= ENOUGH:
        return space.breaks, exact
    longest = (space.domain[1] - space.domain[0]) / MANY
    parts = np.ceil(np.diff(space.breaks) / longest).astype(int)
    within = [low + (high - low) * np.arange(count) / count for low, high, count in zip(space.breaks, space.breaks[1:], parts.tolist(), strict=False)]
    return np.append(np.concatenate(within), space.breaks[-1]), ENOUGH


def rational_points(space: SplineSpace) -> int:
    """Gauss points in each span of quotients, which no number of them integrates exactly: a span may be a third of a circle."""
    return MANY if len(space.breaks) <= MANY else MANY // 2


def _inside(cap: Cap) -> Floats:
    """The flat sums over a cap, its holes left out."""
    outer = _round(cap, cap.boundary)
    found = outer.copy()
    for chain in cap.holes:
        inner = _round(cap, chain)
        found += inner if inner[0] * outer[0] < 0 else -inner
    return found


def _round(cap: Cap, chain: Sequence[Curve]) -> Floats:
    found = np.zeros(6)
    for curve in chain:
        u, w = gauss_points(curve.space.breaks, 2 * curve.degree + 1)
        p, d = curve.derivatives(u, 1)
        (x, y), (dx, dy) = cap.frame.drop(p).T, (d @ np.stack([cap.frame.x, cap.frame.y]).T).T
        found += flat_sums(x, y, dx * w, dy * w)
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
