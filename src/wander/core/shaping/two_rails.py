"""A section carried between two rails: its feet ride on them, and it grows and shrinks with the distance between them.

At each place the frame is that of the pair of places on the rails: x from one to the other, z the way both go on, less what of it lies along x.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import Enum
from functools import cached_property, partial
from itertools import pairwise
from typing import Protocol

import numpy as np

from wander.core.drawing.outlines.area import Area
from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import move_seam, reverse
from wander.core.geometry.errors import BadInput
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.law import Law
from wander.core.geometry.quadrature import at_length, lengths_at, span_lengths
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.tolerances import Tolerances
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.bays import Along, Bay, Sides, Swept, skinned
from wander.core.shaping.mitring import CornerBent, Run, led_to_planes
from wander.core.shaping.moving import moved
from wander.core.shaping.naming import counted
from wander.core.shaping.path import TURNED, Path, bends_of

TOGETHER = 1e-6
"""Of the length: corners of two rails as near belong together."""
STRAIGHT = 1e-9
"""Between unit ways: rails whose frames turn less go straight."""
MIDDLES = 65
"""Places on the middle line of each pair."""
NARROWEST = 1e-6
"""mm: rails that come nearer meet."""


class Pairing(Enum):
    """Which places of the two rails belong together."""

    LENGTH = "length"
    """Those at the same share of their lengths."""
    PARAMETER = "parameter"
    """Those at the same parameter: point for point, as they were drawn."""
    CORNERS = "corners"
    """The corners in turn, and between two corners by length."""


class RailsMeet(BadInput):
    """The rails come together, where the section would have no width; place: (3,)."""

    def __init__(self, place: Floats) -> None:
        super().__init__("the two rails come together, where the section would have no width")
        self.place = place


class CornersUneven(BadInput):
    """The rails have different numbers of corners. counts: of both. places: of all of them (n, 3)."""

    def __init__(self, counts: tuple[int, int], places: Floats) -> None:
        super().__init__(f"one rail has {counts[0]} corners and the other {counts[1]}")
        self.counts, self.places = counts, places


class CornerAskew(BadInput):
    """Beside a corner at which the section turns about its width the rails are curved: there is no plane in which both sides meet; place: (3,)."""

    def __init__(self, place: Floats) -> None:
        super().__init__("beside a corner that climbs the rails are curved, so that both sides would not meet there")
        self.place = place


class RunsSideways(BadInput):
    """The rails go straight towards each other, so that there is no plane across them; place: (3,)."""

    def __init__(self, place: Floats) -> None:
        super().__init__("there the rails go on along the line from one to the other, so that no section stands across them")
        self.place = place


@dataclass(frozen=True)
class Part:
    """Part of a rail between two of its parameters, run by length or by its parameter."""

    curve: Curve
    low: float
    high: float
    even: bool

    @cached_property
    def _run(self) -> Floats:
        return lengths_at(self.curve, np.array([self.low, self.high]))

    def at(self, v: Floats) -> Floats:
        """Places, and derivatives by v, at shares (m,) of it: (2, m, 3)."""
        # at its end it goes as it comes there, not as what follows goes on
        end = float(np.nextafter(self.high, self.low))
        if not self.even:
            found = self.curve.derivatives(np.minimum(self.low + (self.high - self.low) * v, end), 1)
            return np.stack([found[0], (self.high - self.low) * found[1]])
        first, last = self._run
        places, slopes = self.curve.derivatives(np.clip(at_length(self.curve, first + (last - first) * v), self.low, end), 1)
        return np.stack([places, (last - first) * slopes / lengths(slopes)[:, None]])

    @property
    def knots(self) -> dict[float, int]:
        """Shares at which it is no polynomial, and how many derivatives are continuous there."""
        space = self.curve.space
        inside = (space.breaks > self.low + 1e-9) & (space.breaks < self.high - 1e-9)
        at, counts = space.breaks[inside], space.degree - space.multiplicities[inside]
        if self.even:
            first, last = self._run
            shares = (lengths_at(self.curve, at) - first) / (last - first)
        else:
            shares = (at - self.low) / (self.high - self.low)
        return {float(share): int(count) for share, count in zip(shares, counts, strict=True)}


class Paired(Protocol):
    """Parts of two rails that belong together, over [0, 1]."""

    def places(self, v: Floats) -> Floats:
        """On both rails, (2, m, 3)."""

    def frames(self, v: Floats) -> tuple[Floats, Floats, Floats]:
        """Places on the first rail (m, 3), matrices (m, 3, 3) whose columns are x, y, z, and how far it is from one to the other (m,)."""

    @property
    def knots(self) -> dict[float, int]:
        """Where it is no polynomial, and how many derivatives are continuous there."""


@dataclass(frozen=True)
class Pair:
    """Parts of two rails that belong together by length or by parameter."""

    first: Part
    second: Part

    def places(self, v: Floats) -> Floats:
        return np.stack([self.first.at(v)[0], self.second.at(v)[0]])

    @property
    def knots(self) -> dict[float, int]:
        return {**self.first.knots, **self.second.knots}

    def frames(self, v: Floats) -> tuple[Floats, Floats, Floats]:
        (a, way_a), (b, way_b) = self.first.at(v), self.second.at(v)
        chord = b - a
        wide = lengths(chord)
        if wide.min() < NARROWEST:
            raise RailsMeet(a[int(wide.argmin())])
        x = chord / wide[:, None]
        way = way_a + way_b
        z = way - np.sum(way * x, axis=1)[:, None] * x
        size = lengths(z)
        if np.any(size <= 1e-9 * (lengths(way_a) + lengths(way_b))):
            raise RunsSideways(a[int(size.argmin())])
        z = z / size[:, None]
        return a, np.stack([x, cross(z, x), z], axis=-1), wide


@dataclass(frozen=True)
class Rails:
    """Two rails, paired. pairs: one after the other, with corners between. names: of them. closed: both rails close."""

    pairs: tuple[Paired, ...]
    names: tuple[str, ...]
    closed: bool
    goes_on: bool

    @cached_property
    def middle(self) -> Path:
        """The line in the middle between the rails, as the Run counts it."""
        v = np.linspace(0.0, 1.0, MIDDLES)
        pieces = [open_through(pair.places(v).mean(axis=0)) for pair in self.pairs]
        return Path(tuple(pieces), frozenset(range(0 if self.closed and not self.goes_on else 1, len(pieces))), self.closed, self.names)

    def rungs(self, each: int) -> Floats:
        """Places on both rails that belong together, so many from pair to pair and the last ones: (n, 2, 3)."""
        v = np.arange(each) / each
        found = [pair.places(v).transpose(1, 0, 2) for pair in self.pairs]
        return np.concatenate([*found, self.pairs[-1].places(np.ones(1)).transpose(1, 0, 2)])


@dataclass(frozen=True)
class Begun:
    """How two rails are begun, where that is not left to themselves.

    first, second: the shares of their lengths by which closed ones begin further on. against: the second is run the other way.
    """

    first: float = 0.0
    second: float = 0.0
    against: bool = False


BY_THEMSELVES = Begun()


def paired(first: Curve, second: Curve, *, closed: bool, pairing: Pairing, begun: Begun = BY_THEMSELVES) -> Rails:
    """Two rails, the second turned and begun so that the ends that lie nearer belong together, unless the designer has it otherwise.

    Paired by corners closed ones begin at the corner that is nearest to where they are to. Raises CornersUneven.
    """
    one, other = over_one(first), over_one(second)
    if closed:
        at_corner = pairing is Pairing.CORNERS
        bent = bends_of(one)
        if bent and goes_on(one):
            one = move_seam(one, bent[0])
        one = _further(one, begun.first, at_corner)
        other = over_one(move_seam(other, _begun(other, one(0.0), cornered=not goes_on(one))))
        if float(one.derivatives(0.0, 1)[1] @ other.derivatives(0.0, 1)[1]) < 0:
            other = reverse(other)
        other = _further(other, begun.second, at_corner)
    elif _apart(one, other) > _apart(one, reverse(other)):
        other = reverse(other)
    if begun.against:
        other = reverse(other)
    curves = (one, other)
    corners = [np.array(bends_of(curve)) for curve in curves]
    even = pairing is not Pairing.PARAMETER
    if pairing is Pairing.CORNERS:
        if len(corners[0]) != len(corners[1]):
            places = np.concatenate([curve(own) for curve, own in zip(curves, corners, strict=True) if len(own)])
            raise CornersUneven((len(corners[0]), len(corners[1])), places)
        bounds = [np.concatenate([[0.0], own, [1.0]]) for own in corners]
    else:
        # where one has a corner, the other has a place that belongs to it
        shares = np.sort(np.concatenate([_shares(curve, own) if even else own for curve, own in zip(curves, corners, strict=True)]))
        shares = shares[np.diff(shares, prepend=-1.0) > TOGETHER]
        bounds = [np.concatenate([[0.0], _parameters(curve, shares) if even else shares, [1.0]]) for curve in curves]
    parts = [[Part(curve, float(low), float(high), even) for low, high in pairwise(own)] for curve, own in zip(curves, bounds, strict=True)]
    pairs = [Pair(before, after) for before, after in zip(*parts, strict=True)]
    names = tuple(counted([""] * len(pairs)))
    return Rails(tuple(pairs), names, closed, closed and all(map(goes_on, curves)))


def _further(curve: Curve, share: float, at_corner: bool) -> Curve:
    """A closed curve that begins a share of its length further on, or at the corner nearest to there."""
    if not share % 1.0:
        return curve
    at = float(_parameters(curve, np.array([share % 1.0]))[0])
    corners = np.array([*([] if goes_on(curve) else [0.0, 1.0]), *bends_of(curve)])
    if at_corner and len(corners):
        at = float(corners[np.argmin(np.abs(_shares(curve, corners) - share % 1.0))])
    return over_one(move_seam(curve, at))


def over_one(curve: Curve) -> Curve:
    """The same curve over [0, 1]."""
    return Curve(curve.space.mapped(0.0, 1.0), curve.points)


def _begun(curve: Curve, place: Floats, *, cornered: bool) -> float:
    """The parameter of a closed curve that is nearest to a place; of its corners, if it has any and that place is one."""
    corners = np.array([*([] if goes_on(curve) else [0.0]), *bends_of(curve)])
    if cornered and len(corners):
        return float(corners[np.argmin(lengths(curve(corners) - place))])
    return float(closest_parameters(curve, place[None])[0])


def goes_on(curve: Curve) -> bool:
    """Whether a closed curve has no corner where it closes."""
    first, last = (curve.derivatives(at, 1)[1] for at in (0.0, float(np.nextafter(1.0, 0.0))))
    return bool(np.linalg.norm(first / np.linalg.norm(first) - last / np.linalg.norm(last)) < TURNED)


def _apart(first: Curve, second: Curve) -> float:
    return float(lengths(first(np.array([0.0, 1.0])) - second(np.array([0.0, 1.0]))).sum())


def _shares(curve: Curve, parameters: Floats) -> Floats:
    return lengths_at(curve, parameters) / float(span_lengths(curve).sum())


def _parameters(curve: Curve, shares: Floats) -> Floats:
    return at_length(curve, shares * float(span_lengths(curve).sum())) if len(shares) else shares


@dataclass(frozen=True)
class Feet:
    """Where the section stands on the rails: points of its plane (2,) on the first and on the second. height: in proportion to the width, where None.

    Otherwise a factor over the length, whatever the width does.
    """

    first: Floats
    second: Floats
    height: Law | None = None

    @property
    def wide(self) -> float:
        return float(np.linalg.norm(self.second - self.first))

    def local(self, points: Floats) -> Floats:
        """Points (n, 2) of the section with the first foot at the middle of the frame and the second on its x, (n, 3)."""
        x = (self.second - self.first) / self.wide
        off = points - self.first
        return np.column_stack([off @ x, off @ np.array([-x[1], x[0]]), np.zeros(len(off))])


def swept_between(
    areas: Sequence[Area], rails: Rails, feet: Feet, *, name: str, section: str, tolerances: Tolerances, within: float | None = None
) -> Swept:
    """The skins of areas whose feet ride on two rails.

    within: mm by which they may miss that, where fewer rows of control points are worth more. Raises RailsMeet, RunsSideways, DoesNotClose, BadInput
    where feet lie on each other.
    """
    if within is not None and within < tolerances.fit:
        raise BadInput(f"what is simplified is off by {tolerances.fit:g} mm at least: give it more room, or keep the shape exactly")
    if feet.wide < NARROWEST:
        raise BadInput("both feet of the section are at one place")
    for pair in rails.pairs:
        pair.frames(np.linspace(0.0, 1.0, MIDDLES))  # where no section stands across them there is no middle line either
    bays = [_bay(rails, number, feet) for number in range(len(rails.pairs))]
    if within is not None:
        # the knots of the rails have no say any more
        bays = [replace(bay, breaks=np.array([0.0, 1.0]), least={}) for bay in bays]
        tolerances = replace(tolerances, fit=within)
    along = Along(bays, feet.local, rails.closed, rails.goes_on, joined=partial(_meeting, rails=rails))
    return skinned(areas, along, name=name, section=section, tolerances=tolerances, closely=within is not None)


def _meeting(sides: Sides, rails: Rails) -> Sides:
    """The sides, led to the planes in which they meet at corners: through both rails, halving the turn. Raises CornerAskew, CornerCrowded."""
    runs = []
    for pair in rails.pairs:
        ways = pair.frames(np.array([0.0, 0.5, 1.0]))[1][:, :, 2]
        runs.append(Run(pair.places(np.zeros(1))[0, 0], ways[0] if np.abs(np.diff(ways, axis=0)).max() < STRAIGHT else None))
    try:
        return led_to_planes(sides, runs, range(0 if rails.closed else 1, len(runs)))
    except CornerBent as bent:
        raise CornerAskew(bent.place) from bent


def _bay(rails: Rails, number: int, feet: Feet) -> Bay:
    pair = rails.pairs[number]
    begins = rails.middle.begins / rails.middle.length

    def motion(v: Floats) -> Floats:
        places, turns, wide = pair.frames(v)
        grown = wide / feet.wide
        share = begins[number] + (begins[number + 1] - begins[number]) * v
        high = grown if feet.height is None else feet.height(share)
        return moved(places, turns * np.stack([grown, high, np.ones(len(v))], axis=-1)[:, None])

    least: dict[float, int] = {}
    for at, smooth in pair.knots.items():
        near = next((known for known in least if abs(known - at) < 1e-9), at)
        least[near] = min(max(smooth - 1, 1), least.get(near, 4))
    inside: Mapping[float, int] = {at: smooth for at, smooth in least.items() if 1e-9 < at < 1 - 1e-9}
    # between straight rails in one plane it is linear; whether it is, is seen
    exact = SplineSpace.from_breaks(1, [0.0, 1.0]) if feet.height is None else None
    ways = pair.frames(np.array([0.0, 1.0]))[1][:, :, 2]
    return Bay(motion, np.array([0.0, *sorted(inside), 1.0]), inside, exact, ways, rails.names[number])
