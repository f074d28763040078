"""A rail turned about an axis, its ends led round sections: every half plane through the axis holds the rail, widened until it ends on them.

The rail lies in a plane with the axis, so its distance from that and its height along it are splines. Where one end runs round a section, all of it
is widened by the same factor at each angle; between two sections the factors and heights go over from one to the other along the rail. Both are
products of splines, and therefore splines: nothing is fitted but the second section, which is asked at the angles of the first.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi

import numpy as np

from wander.core.drawing.outlines.area import Area
from wander.core.geometry.approximate import approximated
from wander.core.geometry.basis import Floats
from wander.core.geometry.conics import smooth_arc
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import split
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.tolerances import Tolerances
from wander.core.geometry.vectors import lengths
from wander.core.shaping.lengthwise import sewn
from wander.core.shaping.meridian import LOOKED, ON_AXIS, Axis, Meridian, meridian
from wander.core.shaping.naming import counted, number_of
from wander.core.shaping.outline_spans import OutlineSpan, spans_of
from wander.core.shaping.path import bends_of
from wander.core.shaping.shell import Cap, NamedFace, Shell
from wander.core.shaping.tube import tube_seams


class EndOnAxis(BadInput):
    """An end of the rail that is to run round a section lies on the axis; first: whether it is the start."""

    def __init__(self, first: bool) -> None:
        super().__init__("an end of the rail that lies on the axis runs round nothing")
        self.first = first


class NoWayRound(BadInput):
    """A section does not go once round the axis; first: whether it is the one at the start."""

    def __init__(self, first: bool) -> None:
        super().__init__("the section does not go once round the axis, seen along it")
        self.first = first


@dataclass(frozen=True)
class Round:
    """A section that an end of the rail runs round. area: of which the outline counts. name: of its step."""

    area: Area
    frame: Frame
    name: str


@dataclass(frozen=True)
class TurnedRail:
    """poles: for both ends that lie on the axis, where (3,), and by how much the rail there is not square to the axis, radians."""

    skin: Shell
    poles: tuple[tuple[Floats, float], ...]
    misses: tuple[tuple[bool, Floats, Floats], ...]
    """Of an end (first?) that does not lie on its section: its place, and that of the section (3,)."""


def turned_rail(
    rail: Curve,
    axis: Axis,
    first: Round | None,
    second: Round | None,
    *,
    name: str,
    rail_name: str,
    pieces: Sequence[str] = (),
    closed: bool,
    tolerances: Tolerances,
) -> TurnedRail:
    """rail_name: of its step, by which faces are named where no section is. pieces: what it was drawn as between its corners.

    Raises LeavesPlane, RailCrossesAxis, EndOnAxis, NoWayRound, BadInput.
    """
    line = meridian(rail, axis)
    if closed and (first or second):
        raise BadInput("a rail that comes back to itself has no ends to run round sections; take these away")
    for section, away in ((first, line.ends[0]), (second, line.ends[1])):
        if section is not None and away < ON_AXIS:
            raise EndOnAxis(section is first)
    guide = first or second
    spans = spans_of(guide.area)[0] if guide else _circle(rail_name)
    owner = number_of(guide.name if guide else rail_name)
    bays = _bays(line.curve)
    names = pieces if len(pieces) == len(bays) else counted([""] * len(bays))
    faces: list[NamedFace] = []
    grid: list[list[tuple[int, NamedFace]]] = []
    weights = _weights(line.curve)
    other = _other(first, second, axis)
    for span in spans:
        rounds = _rounds(span, guide, first is not None, other, axis, tolerances)
        strip = []
        for bay, piece in zip(bays, names, strict=True):
            suffix = f"^{piece}" if len(bays) > 1 else ""
            face = NamedFace(f"{name}/{owner}.{span.name}{suffix}", _surface(bay, weights, rounds, line, axis, span), span.closed)
            strip.append((len(faces), face))
            faces.append(face)
        grid.append(strip)
    faces = sewn(faces, len(spans), open_=False)
    grid = [[(number, faces[number]) for number, _ in strip] for strip in grid]
    upwards = line.encloses > 0
    # across a face by its section, along it by the rail: what they make together looks outwards or inwards
    inwards = upwards != (_about(guide, axis) > 0)
    caps = [] if closed else _caps(grid, line, axis, (first, second), name, upwards=upwards, inwards=inwards)
    where: list[tuple[int, int] | None] = [None, None]
    for number, (end, _) in enumerate(caps):
        where[end] = (len(faces) + number, 0)
    seams = tube_seams(grid, corners=[span.corner for span in spans], caps=(where[0], where[1]), ring=closed)
    skin = Shell(tuple(faces), tuple(cap for _, cap in caps), (), tuple(seams))
    return TurnedRail(skin.turned() if inwards else skin, _poles(line, axis), _misses(line, axis, first, second))


def _circle(rail: str) -> list[OutlineSpan]:
    return [OutlineSpan(smooth_arc((0.0, 0.0), 1.0, 0.0, 2 * pi), "round", "", True)]


def _bays(curve: Curve) -> list[Curve]:
    """Smooth runs of the rail, each over its own part of [0, 1]."""
    found, rest = [], curve
    for bend in bends_of(curve):
        piece, rest = split(rest, bend)
        found.append(piece)
    return [*found, rest]


def _weights(curve: Curve) -> Curve:
    """From 0 at the start of the rail to 1 at its end, as far as it has gone along the chords of its controls: smooth where the rail is."""
    steps = np.append(0.0, np.cumsum(lengths(np.diff(curve.points, axis=0))))
    return Curve(curve.space, (steps / steps[-1])[:, None])


@dataclass(frozen=True)
class _Rounds:
    """A span of a section by angle: controls (n, 2) across and (n,) along, of what the start and the end of the rail run round; None: a circle."""

    space: SplineSpace
    first: tuple[Floats, Floats] | None
    second: tuple[Floats, Floats] | None
    circle: Floats | None


def _other(first: Round | None, second: Round | None, axis: Axis) -> _ByAngle | None:
    """The second of two sections, asked by direction; None where there is one or none. Raises NoWayRound."""
    if first is None or second is None:
        return None
    for section in (first, second):
        if not _ByAngle(section, axis).forwards:
            raise NoWayRound(first=section is first)
    return _ByAngle(second, axis)


def _rounds(span: OutlineSpan, guide: Round | None, at_start: bool, other: _ByAngle | None, axis: Axis, tolerances: Tolerances) -> _Rounds:
    if guide is None:
        return _Rounds(span.curve.space, None, None, span.curve.points)
    # at_start: it is what the start of the rail runs round
    own = Curve(span.curve.space, guide.frame.lift(span.curve.points))
    if other is None:
        found = axis.split(own.points)
        return _Rounds(own.space, found if at_start else None, None if at_start else found, None)

    def both(u: Floats) -> Floats:
        here = own(u)
        across, along = axis.split(here)
        there, height = other(across)
        return np.column_stack([across, along, there, height])

    fitted, _ = approximated(both, own.space.breaks, tolerances.fit)
    points = fitted.points
    return _Rounds(fitted.space, (points[:, :2], points[:, 2]), (points[:, 3:5], points[:, 5]), None)


class _ByAngle:
    """The outline of a section, asked by the direction in which it is seen from the axis."""

    def __init__(self, section: Round, axis: Axis) -> None:
        outline = section.area.outer.curve
        self._curve = Curve(outline.space, section.frame.lift(outline.points))
        self._axis = axis
        self._t, points = self._curve.sampled(LOOKED)
        across, _ = axis.split(points)
        turned = np.unwrap(np.arctan2(across[:, 1], across[:, 0]))
        whole = turned[-1] - turned[0]
        self._sign = 1.0 if whole > 0 else -1.0
        self._turned = turned * self._sign
        self.forwards = bool(abs(abs(whole) - 2 * pi) < 1e-6 and np.all(np.diff(self._turned) > 0))

    def __call__(self, directions: Floats) -> tuple[Floats, Floats]:
        """What lies across the axis (m, 2) and along it (m,), where the outline is seen in the directions (m, 2)."""
        wanted = np.arctan2(directions[:, 1], directions[:, 0]) * self._sign
        base = self._turned[0]
        wanted = base + (wanted - base) % (2 * pi)
        step = np.clip(np.searchsorted(self._turned, wanted, side="right") - 1, 0, len(self._t) - 2)
        low, high = self._t[step], self._t[step + 1]
        aside = np.stack([-directions[:, 1], directions[:, 0]], axis=1) * self._sign
        for _ in range(60):
            middle = (low + high) / 2
            across, _ = self._axis.split(self._curve(middle))
            before = np.sum(across * aside, axis=1) < 0
            low, high = np.where(before, middle, low), np.where(before, high, middle)
        across, along = self._axis.split(self._curve((low + high) / 2))
        return across, along


def _surface(bay: Curve, weights: Curve, rounds: _Rounds, line: Meridian, axis: Axis, span: OutlineSpan) -> Surface:
    """One bay of one side: across the section by u, along the rail by v."""
    between = rounds.first is not None and rounds.second is not None
    v = bay.space.elevated(bay.degree + weights.degree) if rounds.circle is None else bay.space
    at = np.clip(v.greville, *bay.domain)
    away, height = bay(at).T
    share = weights(at)[:, 0]
    start, end = line.ends
    low, high = (float(line.curve(t)[1]) for t in (0.0, 1.0))
    if rounds.circle is not None:
        across = away[None, :, None] * rounds.circle[:, None, :]
        along = np.broadcast_to(height, across.shape[:2])
    else:
        parts = [(rounds.first, start, low, 1 - share if between else np.ones_like(share), 1 - share)]
        parts.append((rounds.second, end, high, share if between else np.ones_like(share), share))
        across, along = np.zeros((1, 1, 2)), height[None, :]
        for part, reach, level, grown, lifted in parts:
            if part is None:
                continue
            around, heights = part
            across = across + (away * grown / reach)[None, :, None] * around[:, None, :]
            along = along + lifted[None, :] * (heights - level)[:, None]
    values = axis.place(across, np.broadcast_to(along, across.shape[:2]))
    points = np.stack([v.interpolate(row) for row in values])
    low_end, high_end = points[:, 0], points[:, -1]
    for side, away_there in ((low_end, bay(bay.domain[0])[0]), (high_end, bay(bay.domain[1])[0])):
        if away_there < ON_AXIS:
            side[:] = side[0].copy()
    return Surface(rounds.space, v.mapped(0.0, 1.0), points)


def _about(guide: Round | None, axis: Axis) -> float:
    """Positive where a section runs round the axis by the right-hand rule."""
    if guide is None:
        return 1.0
    across, _ = axis.split(guide.frame.lift(guide.area.outer.curve.sampled(LOOKED)[1]))
    following = np.roll(across, -1, axis=0)
    return float(np.sum(across[:, 0] * following[:, 1] - across[:, 1] * following[:, 0]))


def _caps(
    grid: Sequence[Sequence[tuple[int, NamedFace]]],
    line: Meridian,
    axis: Axis,
    sections: tuple[Round | None, Round | None],
    name: str,
    *,
    upwards: bool,
    inwards: bool,
) -> list[tuple[int, Cap]]:
    """The flat ends that do not lie on the axis. inwards: all of it is turned inside out afterwards."""
    found = []
    for end, word, section in ((0, "near", sections[0]), (1, "far", sections[1])):
        if line.ends[end] < ON_AXIS:
            continue
        outwards = axis.way * (1.0 if (end == 1) == upwards else -1.0)
        origin = axis.point + float(line.curve(float(end))[1]) * axis.way
        plane = section.frame if section is not None else Frame(origin, *axis.across)
        if (float(plane.z @ outwards) < 0) != inwards:
            plane = Frame(plane.origin, plane.y, plane.x)
        chain = tuple(strip[-1 if end else 0][1].surface.edge("v1" if end else "v0") for strip in grid)
        found.append((end, Cap(f"{name}/{word}", plane, chain)))
    return found


def _poles(line: Meridian, axis: Axis) -> tuple[tuple[Floats, float], ...]:
    found = []
    for end, t in ((0, 0.0), (1, 1.0)):
        if line.ends[end] >= ON_AXIS:
            continue
        away, along = line.curve.derivatives(t, 1)[1]
        found.append((axis.point + float(line.curve(t)[1]) * axis.way, float(abs(np.arctan2(along, abs(away))))))
    return tuple(found)


def _misses(line: Meridian, axis: Axis, first: Round | None, second: Round | None) -> tuple[tuple[bool, Floats, Floats], ...]:
    """Where an end of the rail is not on the section that it runs round."""
    found = []
    for section, t in ((first, 0.0), (second, 1.0)):
        if section is None:
            continue
        by_angle = _ByAngle(section, axis)
        if not by_angle.forwards:
            continue
        across, along = by_angle(line.side[None])
        away, height = line.curve(t)
        own = axis.place((away * line.side)[None], np.array([height]))[0]
        there = axis.place(across, along)[0]
        found.append((t == 0.0, own, there))
    return tuple(miss for miss in found if np.linalg.norm(miss[1] - miss[2]) > 1e-3)
