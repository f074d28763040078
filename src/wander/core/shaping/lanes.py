"""What is read along a body: the area of its section from end to end, and the curvature along its flow lines, from the surfaces themselves."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from wander.core.geometry.basis import Floats
from wander.core.geometry.quadrature import gauss_points
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.shell import NamedFace

GAUSS = 5
FINE = 513
ROUNDS = 12
ON_PLANE = 1e-7
"""mm by which a flow line may miss the plane that it crosses."""
Bools = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class Lanes:
    """at: (m,) mm along the axis. area: (m,) mm2, nan where the plane there leaves the skin through an end.

    flows: (f,) shares of the way round at which flow lines run. curvature: (f, m) 1/mm along each of them, positive where the body bulges.
    """

    at: Floats
    area: Floats
    flows: Floats
    curvature: Floats


def lanes(faces: Sequence[NamedFace], axis: Floats, places: Floats, flows: int) -> Lanes:
    """Read at `places` (m,), mm along the unit vector `axis` (3,), with so many flow lines evenly round the body."""
    known: dict[bytes, tuple[Floats, Bools]] = {}
    strips = [[_Reach(surface, axis, places, known) for surface in strip] for strip in strips_of(faces)]
    area = np.zeros(len(places))
    covered = np.zeros(len(places), dtype=int)
    for number, strip in enumerate(strips):
        for reach in strip:
            inside, part = _area(reach)
            fresh = inside & (covered == number)  # a place where two bays meet lies in both
            area[fresh] += part[fresh]
            covered[fresh] += 1
    shares = np.arange(flows) / flows
    curvature = np.array([_curvature(strips, share, len(places)) for share in shares]).reshape(flows, len(places))
    return Lanes(places, np.where(covered == len(strips), np.abs(area), np.nan), shares, curvature)


class _Reach:
    """Where the flow lines of a surface reach the places along the axis; found once where all flow lines climb alike.

    known: what was found of surfaces side by side, which climb alike as well.
    """

    def __init__(self, surface: Surface, axis: Floats, places: Floats, known: dict[bytes, tuple[Floats, Bools]]) -> None:
        self.surface, self.axis, self.places = surface, axis, places
        self._common = None
        heights = surface.points @ axis
        if np.ptp(heights, axis=0).max() < 1e-9:
            alike = surface.v.knots.tobytes() + np.round(heights[0], 9).tobytes()
            if alike not in known:
                known[alike] = height_on(surface, axis, surface.u.breaks[:1], places)
            self._common = known[alike]

    def at(self, u: Floats) -> tuple[Floats, Bools]:
        return self._common if self._common is not None else height_on(self.surface, self.axis, u, self.places)


def strips_of(faces: Sequence[NamedFace]) -> list[list[Surface]]:
    """Faces grouped by the strip round the body that they belong to, each from start to end."""
    bay = faces[0].name.partition("^")[2]
    strips: list[list[Surface]] = []
    for face in faces:
        # a strip begins anew in the first bay; where there is one bay alone, every face is a strip
        if face.name.partition("^")[2] == bay:
            strips.append([])
        strips[-1].append(face.surface)
    return strips


def height_on(surface: Surface, axis: Floats, u: Floats, places: Floats) -> tuple[Floats, Bools]:
    """Parameters v (m, k) at which flow lines u (k,) reach the places (m,) along the axis, and whether they do (m,).

    Newton, kept in bounds by the bracket that bisection would use: heights rise along the body.
    """
    low, high = surface.v.domain
    flat = surface.points @ axis
    if np.ptp(flat, axis=0).max() < 1e-9:
        # every station parallel: the height does not depend on the flow line
        flat, u = flat[:1], u[:1]
        along = flat
    else:
        along = surface.u.evaluate(flat, u)
    ends = along[:, [0, -1]]
    reached: Bools = np.all((places[:, None] >= ends[:, 0] - 1e-9) & (places[:, None] <= ends[:, 1] + 1e-9), axis=1)
    columns = np.ascontiguousarray(along.T)
    span = np.where(ends[:, 1] > ends[:, 0], ends[:, 1] - ends[:, 0], 1.0)
    if len(u) == 1:
        # one height for all: a look at it all along says nearly where
        fine = np.linspace(low, high, FINE)
        v = np.interp(places, surface.v.evaluate(columns, fine)[:, 0], fine)[:, None]
    else:
        v = low + (high - low) * np.clip((places[:, None] - ends[:, 0]) / span, 0, 1)
    least, most = np.full_like(v, low), np.full_like(v, high)
    pick = np.tile(np.arange(len(u)), len(places))
    for _ in range(40):
        flat_v = v.ravel()
        value, slope = surface.v.paired(columns, pick, flat_v), surface.v.paired(columns, pick, flat_v, 1)
        miss = value.reshape(v.shape) - places[:, None]
        least, most = np.where(miss < 0, v, least), np.where(miss > 0, v, most)
        step = np.where(slope.reshape(v.shape) > 1e-12, miss / np.where(slope.reshape(v.shape) > 1e-12, slope.reshape(v.shape), 1.0), np.inf)
        tried = v - step
        moved = np.where((tried > least) & (tried < most), tried, (least + most) / 2)
        settled = np.abs(miss) < 1e-10 * np.maximum(1.0, span)
        v = np.where(settled, v, moved)
        if settled[reached].all():
            break
    return v, reached


def _area(reach: _Reach) -> tuple[Bools, Floats]:
    """Share of each plane section's area under this face, by Green's theorem about the axis through the origin: (m,)."""
    surface, axis, places = reach.surface, reach.axis, reach.places
    u, w = gauss_points(surface.u.breaks, GAUSS)
    v, reached = reach.at(u)
    if v.shape[1] == 1:
        flat_v = v[:, 0]
        q, d = surface.grid(u, flat_v), surface.grid(u, flat_v, 1, 0)
        return reached, np.einsum("k,kmi,i->m", w, cross(q, d), axis) / 2
    on, across = (surface.u.evaluate(surface.points, u, order).transpose(1, 0, 2) for order in (0, 1))
    which, pairs = np.tile(np.arange(len(u)), len(places)), v.ravel()
    found = surface.v.paired(on, which, pairs), surface.v.paired(across, which, pairs), surface.v.paired(on, which, pairs, 1)
    q, su, sv = (part.reshape(len(places), len(u), 3) for part in found)
    rise = sv @ axis
    d = su - ((su @ axis) / np.where(np.abs(rise) > 1e-12, rise, 1.0))[..., None] * sv
    return reached, np.einsum("k,mki,i->m", w, cross(q, d), axis) / 2


def _curvature(strips: Sequence[Sequence[_Reach]], share: float, count: int) -> Floats:
    """Normal curvature along one flow line at the places: (m,), nan where the line does not reach."""
    number = min(int(share * len(strips)), len(strips) - 1)
    found = np.full(count, np.nan)
    for reach in strips[number]:
        surface = reach.surface
        low, high = surface.u.domain
        u = np.array([low + (high - low) * (share * len(strips) - number)])
        v, reached = reach.at(u)
        flat_v = v[:, 0]
        su, sv, svv = (surface.grid(u, flat_v, *order)[0] for order in ((1, 0), (0, 1), (0, 2)))
        found = np.where(reached & np.isnan(found), _bend(su, sv, svv), found)
    return found


def lanes_along(faces: Sequence[NamedFace], points: Floats, ways: Floats, near: Floats, flows: int) -> Lanes:
    """The same along a line: read where planes through its points (m, 3), square to its unit ways (m, 3), cut the skin.

    near: parameters along the body (m,), close to which it is cut: a body that turns back may be cut by the same plane elsewhere. `at` of what is
    found is these. Nan where a plane leaves the skin through an end.
    """
    strips = [Strip(strip) for strip in strips_of(faces)]
    area, whole = np.zeros(len(near)), np.ones(len(near), dtype=bool)
    for strip in strips:
        u, w = gauss_points(strip.u.breaks, GAUSS)
        v, reached = strip.crossed(u, points, ways, near)
        q, su, sv = (strip.at(u, v, order) for order in ((0, 0), (1, 0), (0, 1)))
        rise = np.einsum("mki,mi->mk", sv, ways)
        d = su - (np.einsum("mki,mi->mk", su, ways) / np.where(np.abs(rise) > 1e-12, rise, 1.0))[..., None] * sv
        area += np.einsum("k,mki,mi->m", w, cross(q - points[:, None], d), ways) / 2
        whole &= reached
    shares = np.arange(flows) / flows
    curvature = np.full((flows, len(near)), np.nan)
    for number, share in enumerate(shares):
        which = min(int(share * len(strips)), len(strips) - 1)
        strip = strips[which]
        low, high = strip.u.domain
        u = np.array([low + (high - low) * (share * len(strips) - which)])
        v, reached = strip.crossed(u, points, ways, near)
        su, sv, svv = (strip.at(u, v, order)[:, 0] for order in ((1, 0), (0, 1), (0, 2)))
        curvature[number] = np.where(reached, _bend(su, sv, svv), np.nan)
    return Lanes(near, np.where(whole, np.abs(area), np.nan), shares, curvature)


class Strip:
    """The faces of a skin that follow each other along it, as one."""

    def __init__(self, surfaces: Sequence[Surface]) -> None:
        self._surfaces, self.u = surfaces, surfaces[0].u
        self._begins = np.array([surface.v.domain[0] for surface in surfaces])
        self.domain = (surfaces[0].v.domain[0], surfaces[-1].v.domain[1])

    def at(self, u: Floats, v: Floats, order: tuple[int, int]) -> Floats:
        """Derivatives (m, k, 3) at u (k,) and, for each of them, v (m, k)."""
        found = np.empty((*v.shape, 3))
        owner = np.clip(np.searchsorted(self._begins, v, side="right") - 1, 0, len(self._surfaces) - 1)
        columns = np.broadcast_to(np.arange(len(u)), v.shape)
        for number, surface in enumerate(self._surfaces):
            own = owner == number
            if own.any():
                lines = np.ascontiguousarray(surface.u.evaluate(surface.points, u, order[0]).transpose(1, 0, 2))
                found[own] = _along_lines(surface, lines, columns[own], v[own], order[1])
        return found

    def crossed(self, u: Floats, points: Floats, ways: Floats, near: Floats) -> tuple[Floats, Bools]:
        """Parameters v (m, k) near those given (m,) at which flow lines cross the planes, and whether all of them do, (m,). Newton's method."""
        v = np.repeat(near[:, None], len(u), axis=1)
        for _ in range(ROUNDS):
            off = np.einsum("mki,mi->mk", self.at(u, v, (0, 0)) - points[:, None], ways)
            slope = np.einsum("mki,mi->mk", self.at(u, v, (0, 1)), ways)
            step = off / np.where(np.abs(slope) > 1e-12, slope, np.inf)
            v = np.clip(v - step, *self.domain)
            if np.abs(step).max() < 1e-13:
                break
        off = np.abs(np.einsum("mki,mi->mk", self.at(u, v, (0, 0)) - points[:, None], ways))
        return v, np.asarray(off.max(axis=1) < ON_PLANE)


def _along_lines(surface: Surface, lines: Floats, which: npt.NDArray[np.intp], v: Floats, order: int) -> Floats:
    """Of lines along a surface, control points (n, k, 3), the ones with the numbers which (m,) at v (m,): their value or a derivative, (m, 3)."""
    if order < 2:
        return surface.v.paired(lines, which, v, order)
    space = surface.v
    if space.degree < order:
        return np.zeros((len(v), 3))  # it runs straight
    lower, slopes = space.derived(lines)
    return lower.paired(slopes, which, v, 1)


def _bend(su: Floats, sv: Floats, svv: Floats) -> Floats:
    """Normal curvature (m,), 1/mm, along v; positive where the skin bulges."""
    normal = cross(su, sv)
    size, speed = lengths(normal), lengths(sv)
    good = (size > 1e-9) & (speed > 1e-9)
    bend = -np.einsum("mi,mi->m", svv, normal) / np.where(good, size, 1.0) / np.where(good, speed, 1.0) ** 2
    return np.where(good, bend, np.nan)
