"""The edge all round a flat end made round by a ball that rolls along it: from the skin's own surfaces.

For ends whose sides go on smoothly into each other. The centre of the ball runs where the side, moved by the radius, goes through the plane of the
end, moved by the radius; the ball touches the side at the foot of its centre, and the end below it. What it leaves between them are arcs.
Source: rolling-ball blends as offset intersections, Rossignac & Requicha 1984.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import numpy.typing as npt

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve_edits import reverse
from wander.core.geometry.errors import GeometryError, NotConverged
from wander.core.geometry.frame import Frame
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.moved_side import Moved, into_plane
from wander.core.shaping.offset_skin import DEGREE, bends_of_space, looks_between, parted, shares_of
from wander.core.shaping.shell import Cap, NamedFace, Seam, Shell, Side

FOLLOWED = 2e-5
"""mm: how closely surfaces follow what they stand for."""
MOST_SPANS = 320
SAME = 1e-9
"""Share of the side's own parameters within which the ball touches it all along one line."""
LEVEL = np.cos(np.radians(0.05))
"""Sides whose normals agree so nearly go on smoothly."""
FLATTEST = np.cos(np.radians(5.0))
"""An end that a side meets more nearly flat than so has no edge to speak of."""
ROOM = 4.0
"""The side gives way to the blend over so many times its own reach along the side, and stays itself beyond."""
LOOKED = 129
Flags = npt.NDArray[np.bool_]


class NotRolled(GeometryError):
    """The edge is not one that this can be done at."""


class RollsTooWide(GeometryError):
    """There is no room for the ball. place: (3,) where; fits: the radius that goes there, mm, where it is known."""

    def __init__(self, place: Floats, fits: float | None) -> None:
        super().__init__("there is no room for the ball")
        self.place, self.fits = place, fits


@dataclass(frozen=True)
class _Strip:
    """A side that ends on the edge. start: the edge is where v begins. plane: of the end, moved by the radius; outwards: its normal.

    moved: the side, moved by the radius to where the centre runs.
    """

    surface: Surface
    start: bool
    plane: Frame
    outwards: Floats
    moved: Moved

    @property
    def rim(self) -> float:
        return self.surface.v.domain[0 if self.start else 1]

    def contact(self, u: Floats) -> Floats:
        """Parameters v (m,) at which the ball touches the side. Raises RollsTooWide."""
        low, high = self.surface.v.domain
        try:
            found = into_plane(self.moved, self.plane, u, np.full(len(u), self.rim))
        except NotConverged as error:
            raise RollsTooWide(self.on_rim(u[:1])[0], None) from error
        beside = (found <= low) | (found >= high)
        if beside.any():
            raise RollsTooWide(self.on_rim(u[[int(np.argmax(beside))]])[0], None)
        return found

    def on_rim(self, u: Floats) -> Floats:
        """Places (m, 3) on the edge."""
        return self.surface.grid(u, np.array([self.rim]))[:, 0]

    def touched(self, u: Floats, v: Floats) -> tuple[Floats, Floats]:
        """Where the ball touches the side (m, 3), and the outward normals there."""
        place, du, dv = self.surface.at(u, v, [(0, 0), (1, 0), (0, 1)])
        normal = cross(du, dv)
        return place, normal / lengths(normal)[:, None]


def rolled_rim(skin: Shell, cap: int, chain: int, radius: float, name: Callable[[str, str], str]) -> Shell:
    """The skin with the edge round one of its flat ends made round.

    cap: its number; chain: 0 for its outline, 1 and on for its holes. name: of a new face, from the names of the side and of the end. Raises
    NotRolled, RollsTooWide.
    """
    end = skin.caps[cap]
    count = len(skin.faces)
    before = sum(len(c) for c in end.chains[:chain])
    numbers = range(before, before + len(end.chains[chain]))
    met = [_side_at(skin, Side(count + cap, number)) for number in numbers]
    sides = [side for side, _ in met]
    backwards = {turned for _, turned in met}
    if len(backwards) != 1:
        raise NotRolled("its sides begin there in several ways")
    against = backwards.pop()
    strips = _strips(skin, sides, end, radius, against=against)
    try:
        made = _followed(strips, radius)
    except RollsTooWide as error:
        if not all(_ends_flat(skin, side) for side in sides):
            raise NotRolled("the ball may have to go on to what follows the side") from error
        raise
    faces, extra = list(skin.faces), []
    for side, (left, arcs) in zip(sides, made, strict=True):
        old = skin.faces[side.part]
        faces[side.part] = replace(old, surface=left)
        extra.append(NamedFace(name(old.name, end.name), arcs, old.closed_u))
    edges = [arcs.edge(str(side.side)) for side, (_, arcs) in zip(sides, made, strict=True)]
    chains = [tuple(reverse(edge) if against else edge for edge in edges) if k == chain else old for k, old in enumerate(end.chains)]
    caps = [Cap(end.name, end.frame, chains[0], tuple(chains[1:])) if k == cap else old for k, old in enumerate(skin.caps)]
    rings = tuple(ring for ring in skin.rings if not all(_lies_in(curve.points, end.frame) for curve in ring.curves))
    return Shell((*faces, *extra), tuple(caps), rings, tuple(_seams(skin, cap, sides)), skin.closed)


def _seams(skin: Shell, cap: int, sides: Sequence[Side]) -> list[Seam]:
    """What meets what when a face was put in between each of the sides and the end; these come after all faces, in the order of the sides."""
    count = len(skin.faces)
    put_in = {side.part: count + k for k, side in enumerate(sides)}

    def now(side: Side) -> Side:
        return side if side.part < count else replace(side, part=side.part + len(sides))

    seams = []
    for seam in skin.seams:
        pair = (seam.first, seam.second)
        side = next((s for s in pair if s in sides), None)
        if side is not None and any(s.part == count + cap for s in pair):
            other = pair[1] if side is pair[0] else pair[0]
            far = "v0" if side.side == "v1" else "v1"
            seams.append(Seam(Side(put_in[side.part], far), side))
            seams.append(Seam(Side(put_in[side.part], side.side), now(other), seam.corner, seam.turned))
            continue
        seams.append(replace(seam, first=now(seam.first), second=now(seam.second)))
        if all(s.part in put_in and str(s.side)[0] == "u" for s in pair):
            # what is put in goes on round as the sides do
            first, second = (Side(put_in[s.part], s.side) for s in pair)
            seams.append(replace(seam, first=first, second=second))
    return seams


def _ends_flat(skin: Shell, side: Side) -> bool:
    """Whether a side ends on a flat face at its other end."""
    far = Side(side.part, "v1" if side.side == "v0" else "v0")
    pairs = [(seam.first, seam.second) for seam in skin.seams]
    return any(one == far and other.part >= len(skin.faces) for pair in pairs for one, other in (pair, pair[::-1]))


def _side_at(skin: Shell, wanted: Side) -> tuple[Side, bool]:
    """The side of a face that lies on a curve of a cap, and whether it runs the other way. Raises NotRolled."""
    for seam in skin.seams:
        for one, other in ((seam.first, seam.second), (seam.second, seam.first)):
            if one == wanted and other.part < len(skin.faces) and str(other.side) in ("v0", "v1"):
                return other, seam.turned
    raise NotRolled("what meets the end there is no side of its own")


def _strips(skin: Shell, sides: Sequence[Side], end: Cap, radius: float, *, against: bool) -> list[_Strip]:
    """against: they follow each other against the way in which they run.

    Raises NotRolled where they do not go on smoothly, or leave the end too flat.
    """
    if len({side.side for side in sides}) != 1 or len({side.part for side in sides}) != len(sides):
        raise NotRolled("its sides begin there in several ways")
    outwards = end.frame.z
    begun: list[tuple[Surface, bool]] = []
    convex: set[bool] = set()
    for side in sides:
        surface, start = skin.faces[side.part].surface, side.side == "v0"
        u = np.linspace(*surface.u.domain, LOOKED)
        rim, into = surface.v.domain[:: 1 if start else -1]
        du, dv = surface.at(u, np.full(LOOKED, rim), [(1, 0), (0, 1)])
        normal = cross(du, dv)
        size = lengths(normal)
        if size.min() < 1e-9 * max(float(size.max()), 1e-300):
            raise NotRolled("a side has no normal at the edge")
        normal /= size[:, None]
        if (np.abs(normal @ outwards) > FLATTEST).any():
            raise NotRolled("a side meets the end too flat")
        away = (dv if into > rim else -dv) @ outwards
        convex.add(bool((away < 0).all()))
        if not ((away < 0).all() or (away > 0).all()):
            raise NotRolled("the end stands out in part and goes in in part")
        begun.append((surface, start))
    if len(convex) != 1:
        raise NotRolled("the end stands out in part and goes in in part")
    sign = 1.0 if convex.pop() else -1.0
    plane = end.frame.moved(-sign * radius)
    found = [_Strip(surface, start, plane, outwards, Moved(surface, sign * radius)) for surface, start in begun]
    for k in range(len(found) if len(found) > 1 else 0):
        one, following = found[k - 1], found[k]
        _smooth_into(*((following, one) if against else (one, following)))
    return found


def _smooth_into(first: _Strip, second: _Strip) -> None:
    """Raises NotRolled where one side does not go on smoothly into the next, or runs the other way."""
    ends = [(first, first.surface.u.domain[1]), (second, second.surface.u.domain[0])]
    for share in (0.0, 0.02, 0.1, 0.3):
        looks = []
        for strip, u in ends:
            low, high = strip.surface.v.domain
            v = strip.rim + share * (high - low) * (1 if strip.start else -1)
            looks.append(strip.touched(np.array([u]), np.array([v])))
        (p, n), (q, m) = looks
        if np.linalg.norm(p - q) > 1e-6 or float(np.sum(n * m)) < LEVEL:
            raise NotRolled("its sides meet at corners")


@dataclass(frozen=True)
class _Places:
    """Of one strip at parameters u. sign: 1 where the edge stands out. reach: share of the parameters along over which the side gives way."""

    strip: _Strip
    sign: float
    radius: float
    reach: float

    @cached_property
    def _known(self) -> dict[bytes, Floats]:
        """Contacts that were asked for, by the parameters: the same lines are looked at again and again."""
        return {}

    def contact(self, u: Floats) -> Floats:
        key = u.tobytes()
        if key not in self._known:
            self._known[key] = self.strip.contact(u)
        return self._known[key]

    def side(self, u: Floats, shares: Floats) -> Floats:
        """Places (m, k, 3) of the side that is left: from the contact on, and where it was itself beyond."""
        surface = self.strip.surface
        low, high = surface.v.domain
        t = low + (high - low) * shares
        found = surface.grid(u, t)
        x = np.abs(t - self.strip.rim) / (self.reach * (high - low))
        near = x < 1
        fading = 1 - x[near] ** 3 * (10 - 15 * x[near] + 6 * x[near] ** 2)
        v = np.clip(t[near] + (self.contact(u) - self.strip.rim)[:, None] * fading, low, high)
        found[:, near] = surface.along_rows(u, v, [(0, 0)])[0].reshape(*v.shape, 3)
        return found

    def blend(self, u: Floats, shares: Floats) -> Floats:
        """Places (m, k, 3) on the arcs, in the direction in which v runs on the side."""
        place, normal = self.strip.touched(u, self.contact(u))
        flat = np.tile(self.strip.outwards, (len(u), 1))
        centre = place - self.sign * self.radius * normal
        angle = np.arccos(np.clip(np.sum(normal * flat, axis=1), -1.0, 1.0))
        part = shares if self.strip.start else 1 - shares
        # from the end, 0, to the side, 1
        with_flat, with_side = (np.sin(x * angle[:, None]) / np.sin(angle)[:, None] for x in (1 - part[None], part[None]))
        ways = with_flat[..., None] * flat[:, None] + with_side[..., None] * normal[:, None]
        return np.asarray(centre[:, None] + self.sign * self.radius * ways)

    def check(self) -> None:
        """Raises RollsTooWide where the ball is larger than the side bends, or the end is used up."""
        u = np.linspace(*self.strip.surface.u.domain, LOOKED)
        v = self.contact(u)
        places, room, _ = self.strip.moved.places(u[:, None], v[:, None])
        worst = int(np.argmin(room[:, 0]))
        if room[worst, 0] <= self.radius:
            raise RollsTooWide(places[worst, 0], float(room[worst, 0]))
        along = self.blend(u, np.array([0.0 if self.strip.start else 1.0]))[:, 0]
        rim = self.strip.on_rim(u)
        back = np.sum(np.diff(along, axis=0) * np.diff(rim, axis=0), axis=1) <= 0
        if back.any():
            raise RollsTooWide(rim[int(np.argmax(back))], None)


def _followed(strips: Sequence[_Strip], radius: float) -> list[tuple[Surface, Surface]]:
    """The sides that are left and the blends, as splines: the sides in one space along. Raises RollsTooWide, NotRolled."""
    cut = _cut_straight(strips)
    reach = 1.0 if cut else _reach(strips)
    all_places = [_Places(strip, float(np.sign(strip.moved.by)), radius, reach) for strip in strips]
    for places in all_places:
        places.check()
    across = [shares_of(strip.surface.u) for strip in strips]
    along, bends = _along(strips, [] if cut else [reach])
    arcs = np.linspace(0.0, 1.0, 5)
    known: dict[tuple[int, str, bytes, bytes], tuple[Surface, Floats, Floats]] = {}

    def through(number: int, which: str, v: SplineSpace, breaks: Floats) -> tuple[Surface, Floats, Floats]:
        places = all_places[number]
        key = (number, which, across[number].tobytes(), breaks.tobytes())
        if key not in known:
            u = SplineSpace.going_on(DEGREE, across[number], bends_of_space(places.strip.surface.u))
            known[key] = _through(places, places.side if which == "side" else places.blend, u, across[number], v, breaks)
        return known[key]

    while True:
        v, w = SplineSpace.going_on(DEGREE, along, bends), SplineSpace.going_on(DEGREE, arcs, {})
        left, blends, wides = [], [], []
        long, round_ = np.zeros(len(along) - 1), np.zeros(len(arcs) - 1)
        for number in range(len(all_places)):
            blend, wide, deep = through(number, "blend", w, arcs)
            round_ = np.maximum(round_, deep)
            blends.append(blend)
            if not cut:
                side, wider, deep = through(number, "side", v, along)
                wide, long = np.maximum(wide, wider), np.maximum(long, deep)
                left.append(side)
            wides.append(wide)
        if max(float(misses.max()) for misses in (long, round_, *wides)) <= FOLLOWED:
            sides = cut or [_as_before(strip, side) for strip, side in zip(strips, left, strict=True)]
            return list(zip(sides, blends, strict=True))
        across = [parted(breaks, wide, FOLLOWED) for breaks, wide in zip(across, wides, strict=True)]
        along, arcs = parted(along, long, FOLLOWED), parted(arcs, round_, FOLLOWED)
        if max(len(along), *map(len, across)) > MOST_SPANS:
            raise NotRolled("its sides can't be followed closely enough")


def _along(strips: Sequence[_Strip], reaches: Sequence[float]) -> tuple[Floats, dict[float, int]]:
    """Shares along the sides to begin with, and at which of them fewer derivatives go on. reaches: over which the sides give way, where they do."""
    # begun with more close to the edge, the end is sooner reached
    giving = [reach * np.linspace(0.0, 1.0, 9)[1:] for reach in reaches]
    near = giving if strips[0].start else [1 - shares for shares in giving]
    found = np.unique(np.concatenate([*(shares_of(strip.surface.v) for strip in strips), *near]).round(9))
    bends = {at: order for strip in strips for at, order in bends_of_space(strip.surface.v).items()}
    return found[np.concatenate([[True], np.diff(found) > 1e-6])], bends


def _through(
    places: _Places, of: Callable[[Floats, Floats], Floats], u: SplineSpace, across: Floats, v: SplineSpace, along: Floats
) -> tuple[Surface, Floats, Floats]:
    """The spline through places, and how far spans across and along stray where they were not met, mm. across, along: the breaks of both spaces."""
    low, high = places.strip.surface.u.domain

    def true(shares: Floats, more: Floats) -> Floats:
        return of(low + (high - low) * shares, more)

    found = Surface.through(u, v, true(u.greville, v.greville))
    wide, deep = looks_between(across), looks_between(along)
    return found, _off(found.grid(wide, v.greville), true(wide, v.greville), 1), _off(found.grid(u.greville, deep), true(u.greville, deep), 0)


def _reach(strips: Sequence[_Strip]) -> float:
    """Over which share of their parameters along all sides give way. Raises RollsTooWide where they would have to all along."""
    most, place = 0.0, strips[0].surface.points[0, 0]
    for strip in strips:
        u = np.linspace(*strip.surface.u.domain, LOOKED)
        low, high = strip.surface.v.domain
        shift = np.abs(strip.contact(u) - strip.rim) / (high - low)
        if shift.max() > most:
            most, place = float(shift.max()), strip.on_rim(u[[int(shift.argmax())]])[0]
    if most > 0.5:
        raise RollsTooWide(place, None)
    return min(1.0, ROOM * most)


def _cut_straight(strips: Sequence[_Strip]) -> list[Surface]:
    """The sides exactly as they were from the contact on, where that is one line of each; empty where it is not."""
    found = []
    for strip in strips:
        low, high = strip.surface.v.domain
        contact = strip.contact(np.linspace(*strip.surface.u.domain, LOOKED))
        if np.ptp(contact) > SAME * (high - low):
            return []
        parts = strip.surface.split(float(contact.mean()), 1)
        found.append(parts[1 if strip.start else 0])
    return found


def _off(found: Floats, true: Floats, axis: int) -> Floats:
    """How far spans stray, mm, that are looked at twice in a direction."""
    return np.asarray(lengths(found - true).max(axis=axis).reshape(-1, 2).max(axis=1))


def _as_before(strip: _Strip, surface: Surface) -> Surface:
    """In the parameters that the side had: what is said of a place along it stays so."""
    u, v = (new.mapped(*old.domain) for new, old in zip((surface.u, surface.v), (strip.surface.u, strip.surface.v), strict=True))
    return replace(surface, u=u, v=v)


def _lies_in(points: Floats, plane: Frame) -> bool:
    return bool(np.abs((points - plane.origin) @ plane.z).max() < 1e-6)
