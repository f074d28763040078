"""Two rails paired by a spine: what belongs together lies in one plane square to it.

A place of a rail is in the plane of the place of the spine that is its foot. Where these feet go forwards along the rail, every plane between the
first and the last meets the rail once.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import move_seam, reverse
from wander.core.geometry.errors import BadInput
from wander.core.geometry.quadrature import lengths_at, span_lengths
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.naming import counted
from wander.core.shaping.path import bends_of
from wander.core.shaping.two_rails import NARROWEST, Rails, RailsMeet, goes_on, over_one

LOOKED = 24
"""Places in each span of a rail whose feet are asked for."""
ROUNDS = 30
SQUARE = 1e-12
"""mm, of the size of what is met: a rail is met when it is no further from the plane."""
LEFT = 1e-3
"""mm: less of a rail that lies beyond the planes is not told."""


class SpineAstray(BadInput):
    """Along a rail the planes of the spine don't follow each other; place: (3,). rail: 0 or 1."""

    def __init__(self, rail: int, place: Floats) -> None:
        super().__init__("the planes square to the spine cross before they reach the rail there, or meet it more than once")
        self.rail, self.place = rail, place


class SpineBent(BadInput):
    """The spine has a corner, where its plane is undecided; place: (3,)."""

    def __init__(self, place: Floats) -> None:
        super().__init__("the spine has a corner, at which there are two planes square to it")
        self.place = place


class SpineMisses(BadInput):
    """No plane square to the spine meets both rails."""

    def __init__(self) -> None:
        super().__init__("no plane square to the spine meets both rails")


@dataclass(frozen=True)
class Unreached:
    """An end of a rail (0 or 1) that no plane of the spine meets: its place (3,), and how much of the rail lies there, mm."""

    rail: int
    place: Floats
    length: float


@dataclass(frozen=True)
class _Met:
    """A rail as the planes of a spine meet it. at: parameters of places along it (n,), and feet: those of the spine, growing."""

    spine: Curve
    rail: Curve
    at: Floats
    feet: Floats

    def parameters(self, spine: Floats) -> Floats:
        """Where the planes at parameters (m,) of the spine meet the rail, (m,): Newton, kept between the places beside."""
        origin, ways = self.spine.derivatives(spine, 1)
        step = np.clip(np.searchsorted(self.feet, spine, side="right") - 1, 0, len(self.feet) - 2)
        low, high = self.at[step], np.nextafter(self.at[step + 1], -np.inf)
        t = np.clip(np.interp(spine, self.feet, self.at), low, high)
        ways = ways / lengths(ways)[:, None]
        for _ in range(ROUNDS):
            places, slopes = self.rail.derivatives(t, 1)
            off = np.sum((places - origin) * ways, axis=1)
            if np.abs(off).max(initial=0.0) <= SQUARE * max(1.0, float(np.abs(places).max())):
                break
            steep = np.sum(slopes * ways, axis=1)
            ahead = np.clip(t - off / np.where(np.abs(steep) > 1e-12, steep, 1e-12), low, high)
            # kept between two sides of the plane: where Newton would leave them, half way
            low, high = np.where(off < 0, t, low), np.where(off < 0, high, t)
            t = np.where((ahead > low) & (ahead < high), ahead, (low + high) / 2)
        return t


@dataclass(frozen=True)
class InPlanes:
    """Part of two rails between two parameters of a spine, whose planes they are paired by."""

    spine: Curve
    met: tuple[_Met, _Met]
    low: float
    high: float

    def _along(self, v: Floats) -> Floats:
        return np.asarray(np.clip(self.low + (self.high - self.low) * v, self.low, np.nextafter(self.high, self.low)))

    def places(self, v: Floats) -> Floats:
        s = self._along(v)
        return np.stack([met.rail(met.parameters(s)) for met in self.met])

    def frames(self, v: Floats) -> tuple[Floats, Floats, Floats]:
        s = self._along(v)
        a, b = (met.rail(met.parameters(s)) for met in self.met)
        chord = b - a
        wide = lengths(chord)
        if wide.min() < NARROWEST:
            raise RailsMeet(a[int(wide.argmin())])
        z = self.spine.derivatives(s, 1)[1]
        z = z / lengths(z)[:, None]
        x = chord / wide[:, None]
        return a, np.stack([x, cross(z, x), z], axis=-1), wide

    @property
    def knots(self) -> dict[float, int]:
        found: dict[float, int] = {}
        own = self.spine.space
        places = [(own.breaks[1:-1], own.degree - own.multiplicities[1:-1])]
        for met in self.met:
            space = met.rail.space
            places.append((np.interp(space.breaks[1:-1], met.at, met.feet), space.degree - space.multiplicities[1:-1]))
        for at, counts in places:
            for s, count in zip(at, counts, strict=True):
                if self.low < s < self.high:
                    found[float((s - self.low) / (self.high - self.low))] = int(count)
        return found


def paired_by(spine: Curve, first: Curve, second: Curve, *, closed: bool) -> tuple[Rails, list[Unreached]]:
    """Two rails, paired by the planes square to a spine, and the ends that these can't reach.

    closed: spine and rails. Raises SpineBent, SpineAstray, SpineMisses.
    """
    spine = over_one(spine)
    bent = bends_of(spine)
    if bent or (closed and not goes_on(spine)):
        raise SpineBent(spine(bent[0] if bent else 0.0))
    met = tuple(_met(spine, over_one(rail), number, closed=closed) for number, rail in enumerate((first, second)))
    low, high = max(own.feet[0] for own in met), min(own.feet[-1] for own in met)
    if high - low < 1e-9:
        raise SpineMisses
    corners = [np.interp(bends_of(own.rail), own.at, own.feet) for own in met]
    inside = np.unique(np.concatenate([[low, high], *(own[(own > low + 1e-9) & (own < high - 1e-9)] for own in corners)]))
    bounds = inside[np.diff(inside, prepend=-1.0) > 1e-9]
    pairs = [InPlanes(spine, (met[0], met[1]), float(a), float(b)) for a, b in pairwise(bounds)]
    on = closed and all(goes_on(own.rail) for own in met)
    return Rails(tuple(pairs), tuple(counted([""] * len(pairs))), closed, on), [] if closed else _unreached(met, low, high)


def _met(spine: Curve, rail: Curve, number: int, *, closed: bool) -> _Met:
    """The rail, turned so that it goes with the spine, between the first and the last plane that meet it."""
    if closed:
        rail = over_one(move_seam(rail, _crossed(spine, rail)))
    elif closest_parameters(spine, rail(np.array([0.0, 1.0]))) @ np.array([1.0, -1.0]) > 0:
        rail = over_one(reverse(rail))
    if closed and float(rail.derivatives(0.0, 1)[1] @ spine.derivatives(0.0, 1)[1]) < 0:
        rail = over_one(reverse(rail))
    at = np.unique(np.concatenate([np.linspace(a, b, LOOKED + 1) for a, b in pairwise(rail.space.breaks)]))
    feet = closest_parameters(spine, rail(at))
    if closed:
        feet[0], feet[-1] = 0.0, 1.0
    else:
        at, feet = _within(spine, rail, at, feet)
    back = np.flatnonzero(np.diff(feet) <= 0)
    if len(back):
        raise SpineAstray(number, rail(float(at[back[0]])))
    return _Met(spine, rail, at, feet)


def _crossed(spine: Curve, rail: Curve) -> float:
    """The parameter at which a closed rail crosses the plane at the start of a spine, nearest to it."""
    origin, way = spine.derivatives(0.0, 1)
    t, points = rail.sampled(LOOKED)
    side = (points - origin) @ (way / np.linalg.norm(way))
    side[np.abs(side) < NARROWEST] = 0.0
    steps = np.flatnonzero(side[:-1] * side[1:] <= 0)
    if not len(steps):
        raise SpineMisses
    step = steps[int(lengths(points[steps] - origin).argmin())]
    if side[step] == 0.0:
        return float(t[step])
    return _between(rail, float(t[step]), float(t[step + 1]), origin, way)


def _between(rail: Curve, low: float, high: float, origin: Floats, way: Floats) -> float:
    """Where a rail crosses a plane between two parameters on different sides of it."""
    below = float((rail(low) - origin) @ way)
    for _ in range(80):
        middle = (low + high) / 2
        if (float((rail(middle) - origin) @ way) > 0) == (below > 0):
            low = middle
        else:
            high = middle
    return (low + high) / 2


def _within(spine: Curve, rail: Curve, at: Floats, feet: Floats) -> tuple[Floats, Floats]:
    """Without what lies before the first plane of the spine, and beyond the last: feet there are its ends, and square to nothing."""
    ends = []
    for end, number in ((0.0, 0), (1.0, -1)):
        origin, way = spine.derivatives(end, 1)
        beyond = (rail(at) - origin) @ way * (-1.0 if number == 0 else 1.0)
        ends.append((origin, way, (feet == end) & (beyond > SQUARE)))
    kept = ~(ends[0][2] | ends[1][2])
    if not kept.any():
        raise SpineMisses
    first, last = int(np.argmax(kept)), len(kept) - 1 - int(np.argmax(kept[::-1]))
    own_at, own_feet = at[first : last + 1], feet[first : last + 1]
    if first:
        origin, way, _ = ends[0]
        crossing = _between(rail, float(at[first - 1]), float(at[first]), origin, way)
        own_at, own_feet = np.append(crossing, own_at), np.append(0.0, own_feet)
    if last < len(at) - 1:
        origin, way, _ = ends[1]
        crossing = _between(rail, float(at[last]), float(at[last + 1]), origin, way)
        own_at, own_feet = np.append(own_at, crossing), np.append(own_feet, 1.0)
    # a place right in the first or the last plane is there twice
    again = np.diff(own_feet, prepend=-1.0) > 1e-12
    return own_at[again], own_feet[again]


def _unreached(met: Sequence[_Met], low: float, high: float) -> list[Unreached]:
    found = []
    for number, own in enumerate(met):
        whole = float(span_lengths(own.rail).sum())
        first, last = lengths_at(own.rail, own.parameters(np.array([low, high])))
        for place, length in ((0.0, float(first)), (1.0, whole - float(last))):
            if length > LEFT:
                found.append(Unreached(number, own.rail(place), length))
    return found
