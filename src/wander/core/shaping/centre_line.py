"""A centre line that sections swing along: the skin is made as if the line were straight, and carried onto it.

Every station is taken to where it would stand if the line ran straight up, by the motion that takes the frame of the line there upright: sections
keep their shapes, their places beside the line and how they lean. The skin through them is carried back place by place, with frames that turn as
little as they can, so that it meets the sections where they are drawn.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import move_seam, reverse
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.geometry.least_turning import LeastTurning
from wander.core.geometry.quadrature import at_length, length, lengths_at
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.tolerances import Tolerances
from wander.core.geometry.vectors import lengths
from wander.core.shaping.carrying import carried
from wander.core.shaping.meeting import MET, crossings, planes_of
from wander.core.shaping.round_line import round_line
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.shell import NamedFace

TURNED = 1e-7
"""Between unit tangents: more is a corner."""
BENT = 1e-6
"""Between curvatures on both sides of a joint, times the length: more is seen in the skin."""
ROUNDED = 1e-9
"""Of a line, or of the length of a body: places as near are one."""
SOONEST = 1e-6
"""mm along the line between two sections."""


class LineBeside(BadInput):
    """The line stops before the plane of a section. section: its number; place: the end of the line (3,); distance: mm."""

    def __init__(self, section: int, place: Floats, distance: float) -> None:
        super().__init__(f"the centre line ends {distance:.3g} mm before a section")
        self.section, self.place, self.distance = section, place, distance


class LineOrder(BadInput):
    """The line passes the sections in another order than they follow each other. order: numbers of the sections as they are passed."""

    def __init__(self, order: Sequence[int]) -> None:
        super().__init__("the centre line passes the sections in another order")
        self.order = tuple(order)


class LineCorner(BadInput):
    """The line has a corner, round which nothing can swing. place: (3,)."""

    def __init__(self, place: Floats) -> None:
        super().__init__("the centre line has a corner")
        self.place = place


@dataclass(frozen=True)
class CentreLine:
    """curve: of the line, over its own parameter. at, run: parameters at which it passes the sections, and mm along it there (k,). frames: of it, at
    any parameter.

    joints: parameters where its curvature jumps. closed: it comes back to the first section, which is its last one too. goes_on: with one curvature
    there.
    """

    curve: Curve
    at: Floats
    run: Floats
    frames: LeastTurning
    joints: Floats
    closed: bool = False
    goes_on: bool = False

    @property
    def places(self) -> Floats:
        """Parameters (k,) of the sections along a body, 0 to 1."""
        return np.asarray((self.run - self.run[0]) / (self.run[-1] - self.run[0]), dtype=np.float64)

    @property
    def length(self) -> float:
        """mm along the line from the first section to the last."""
        return float(self.run[-1] - self.run[0])

    def places_on(self, along: Floats) -> tuple[Floats, Floats]:
        """Places on the line and unit ways there, (m, 3) each, at mm along it from the first section (m,)."""
        points, turns = self.frames(at_length(self.curve, self.run[0] + along))
        return points, turns[:, :, 2]

    def straightened(self, sections: Sequence[PlacedSection]) -> list[PlacedSection]:
        """The sections where they would stand if the line ran straight up."""
        points, turns = self.frames(self.at)
        found = []
        for section, point, turn, height in zip(sections, points, turns, self.run, strict=True):
            origin = (section.frame.origin - point) @ turn + np.array([0.0, 0.0, height])
            frame = Frame(origin, section.frame.x @ turn, section.frame.y @ turn)
            found.append(replace(section, frame=frame))
        return found

    def through(self, which: Sequence[int]) -> CentreLine:
        """The line as it goes through some of the sections, in their order: the first and, where it does not close, the last are among them."""
        own = [*which, len(self.at) - 1] if self.closed else list(which)
        return replace(self, at=self.at[own], run=self.run[own])

    def back(self, rows: Floats) -> Floats:
        """Points (k, n, 3), those of each section, from where it stands by the straight line to where it was drawn."""
        return self._carried_back(self.at, self.run, rows)

    def bent(self, faces: Sequence[NamedFace], tolerances: Tolerances) -> tuple[list[NamedFace], float]:
        """Faces made by the straight line, over [0, 1] along it, carried onto this one, and how far they miss that, mm."""
        low, high = self.run[0], self.run[-1]
        to_v = (lengths_at(self.curve, self.curve.space.breaks[1:-1]) - low) / (high - low)
        # what is beside the line has a derivative less than the line
        smooth = self.curve.space.degree - self.curve.space.multiplicities[1:-1]
        jump = np.isin(self.curve.space.breaks[1:-1], self.joints)
        line = {float(v): 0 if j else min(max(int(c) - 1, 1), 4) for v, c, j in zip(to_v, smooth, jump, strict=True) if 1e-9 < v < 1 - 1e-9}

        def breaks(v: SplineSpace) -> tuple[Floats, dict[float, int]]:
            least = {float(b): min(v.degree - int(c), 2) for b, c in zip(v.breaks[1:-1], v.multiplicities[1:-1], strict=True)}
            for place, continuity in line.items():
                near = next((b for b in least if abs(b - place) < 1e-9), place)
                least[near] = min(continuity, least.get(near, 4))
            inside = {b: c for b, c in least.items() if v.domain[0] + ROUNDED < b < v.domain[1] - ROUNDED}
            return np.array([v.domain[0], *sorted(inside), v.domain[1]]), inside

        return carried(faces, self.onto, breaks, tolerances)

    @property
    def bends(self) -> list[float]:
        """Parameters along a body, inside 0 to 1, at which its faces end: where the curvature of the line jumps."""
        v = (lengths_at(self.curve, self.joints) - self.run[0]) / (self.run[-1] - self.run[0])
        return [float(place) for place in v if 1e-6 < place < 1 - 1e-6]

    def onto(self, v: Floats, points: Floats) -> Floats:
        """Points (m, n, 3) from where they are along the straight line to where they are along this one, a row for each place v (m,) along a body."""
        run = self.run[0] + self.length * v
        return self._carried_back(at_length(self.curve, run), run, points)

    def off(self, v: Floats, points: Floats) -> Floats:
        """The other way: points (m, n, 3) beside this line where they are along the straight one."""
        run = self.run[0] + self.length * v
        places, turns = self.frames(at_length(self.curve, run))
        return np.asarray(np.einsum("mji,mnj->mni", turns, points - places[:, None]) + _risen(run), dtype=np.float64)

    def _carried_back(self, at: Floats, run: Floats, points: Floats) -> Floats:
        places, turns = self.frames(at)
        return np.asarray(places[:, None] + np.einsum("mij,mnj->mni", turns, points - _risen(run)), dtype=np.float64)


def _risen(run: Floats) -> Floats:
    """Places straight up, (m, 1, 3)."""
    level = np.zeros((len(run), 1, 3))
    level[:, 0, 2] = run
    return level


def centre_line(curve: Curve, sections: Sequence[PlacedSection]) -> CentreLine:
    """The line as the sections follow each other. Raises LineCorner, LineBeside, LineOrder, BadInput where it closes or has no length."""
    curve = Curve(curve.space.mapped(0.0, 1.0), curve.points, curve.weights)
    if length(curve) < SOONEST:
        raise BadInput("the centre line has no length")
    joints = _joints(curve)
    at = _passed(curve, sections)
    if at[-1] < at[0]:
        curve, at = reverse(curve), 1.0 - at
        joints = _joints(curve)
    run = lengths_at(curve, at)
    if np.any(np.diff(run) < SOONEST):
        raise LineOrder(np.argsort(run, kind="stable").tolist())
    first = _way_and_bend(curve, float(at[0]))[0]
    return CentreLine(curve, at, run, LeastTurning(curve, _across(sections[0], first)), joints)


def ring_line(curve: Curve | None, sections: Sequence[PlacedSection]) -> CentreLine:
    """The closed line that comes back to the first of sections (k >= 2), counted twice: at the start and at the end. None: through their centres.

    Raises LineCorner, LineOrder, BadInput where a line of two sections is not given.
    """
    if curve is None:
        if len(sections) < 3:
            raise BadInput("a ring through two sections needs a closed centre line, or a third section")
        curve = round_line(sections)
        at = np.append(0.0, closest_parameters(curve, np.stack([section.center for section in sections[1:]])))
    else:
        curve = Curve(curve.space.mapped(0.0, 1.0), curve.points, curve.weights)
        curve = move_seam(curve, float(_passed(curve, sections[:1])[0]))
        at = _passed(curve, sections)
        at = np.where(at > 1 - ROUNDED, 0.0, at)
        if len(at) > 2 and np.all(np.diff(at[1:]) < 0):
            curve, at = reverse(curve), (1.0 - at) % 1.0
    run = np.append(lengths_at(curve, at), length(curve))
    if np.any(np.diff(run) < SOONEST):
        raise LineOrder(np.argsort(run[:-1], kind="stable").tolist())
    (way, bend), (way_back, bend_back) = (_way_and_bend(curve, t) for t in (0.0, np.nextafter(1.0, 0.0)))
    if np.linalg.norm(way_back - way) > TURNED:
        raise LineCorner(curve(0.0))
    goes_on = bool(np.linalg.norm(bend_back - bend) * run[-1] < BENT)
    frames = LeastTurning(curve, _across(sections[0], way), closing=True)
    return CentreLine(curve, np.append(at, 1.0), run, frames, _joints(curve), closed=True, goes_on=goes_on)


def _across(section: PlacedSection, way: Floats) -> Floats:
    """The axis of a section that runs least along the line."""
    return min((section.frame.x, section.frame.y), key=lambda axis: abs(float(axis @ way)))


def _passed(curve: Curve, sections: Sequence[PlacedSection]) -> Floats:
    """Parameters (k,) at which the line passes the planes of the sections, each where it comes nearest to its section."""
    _, which, t, short = crossings([curve], *planes_of(sections))
    places = curve(t)
    at = np.zeros(len(sections))
    for i, section in enumerate(sections):
        own = np.flatnonzero(which == i)
        own = own[np.argsort(lengths(places[own] - section.center), kind="stable")]
        best = int(own[0])
        off = abs(float((places[best] - section.frame.origin) @ section.frame.z))
        if short[best] and off > MET:
            raise LineBeside(i, places[best], off)
        at[i] = t[best]
    return at


def _joints(curve: Curve) -> Floats:
    """Inner knots where the curvature jumps (j,). Raises LineCorner where the tangent does."""
    found = []
    size = length(curve)
    for knot, count in zip(curve.space.breaks[1:-1], curve.space.multiplicities[1:-1], strict=True):
        if curve.degree - count >= 2:
            continue
        before, after = (_way_and_bend(curve, t) for t in (np.nextafter(knot, 0.0), knot))
        if np.linalg.norm(before[0] - after[0]) > TURNED:
            raise LineCorner(curve(float(knot)))
        if np.linalg.norm(before[1] - after[1]) * size > BENT:
            found.append(float(knot))
    return np.array(found)


def _way_and_bend(curve: Curve, t: float) -> tuple[Floats, Floats]:
    """Unit tangent and curvature vector (3,) each."""
    _, first, second = curve.derivatives(float(t), 2)
    speed = float(first @ first)
    return first / np.sqrt(speed), (second - (second @ first) / speed * first) / speed
