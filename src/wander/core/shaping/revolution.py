"""Revolution: an area turned about a line in its plane."""

from __future__ import annotations

from collections.abc import Sequence
from math import cos, pi, sin

import numpy as np

from wander.core.drawing.outlines.area import Area
from wander.core.geometry.basis import Floats
from wander.core.geometry.conics import smooth_arc
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.geometry.surface import Surface
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.naming import number_of
from wander.core.shaping.outline_spans import OutlineSpan, numbers_of_first_curves, spans_of
from wander.core.shaping.shell import Cap, NamedFace, Shell
from wander.core.shaping.tube import tube_seams

ON_AXIS = 1e-6
"""Nearer to the axis than this (mm) a point lies on it."""
FULL = 1e-9
"""A turn that lacks less than this (radians) is a full one."""


class CrossesAxis(BadInput):
    """The area lies on both sides of the axis, or touches it in the middle of a smooth run; `place`: where, (3,)."""

    def __init__(self, message: str, place: Floats) -> None:
        super().__init__(message)
        self.place = place


def revolved(
    areas: Sequence[Area], frame: Frame, point: Floats, direction: float, *, low: float, high: float, name: str, section: str
) -> tuple[Shell, ...]:
    """One skin for each area, or the sheet of an open run, turned from `low` to `high` (radians, at most one turn) about a line in its plane.

    point (2,) mm and direction (radians from x) give the line. Positive angles turn by the right-hand rule about it where the area lies on
    its right. name: of the body; section: what sides are named by. Raises CrossesAxis, and BadInput where the turn is nothing or more than one.
    """
    sweep = high - low
    if sweep < 1e-6 or sweep > 2 * pi + FULL:
        raise BadInput(f"the turn is more than nothing and at most 360°, it is {np.degrees(sweep):.6g}°")
    turn = _Turn(frame, point, direction, areas, low, min(sweep, 2 * pi))
    return tuple(_turned(area, turn, name, section, k if len(areas) > 1 else None) for k, area in enumerate(areas, start=1))


class _Turn:
    """From the plane into space: along the axis, away from it, and round it."""

    def __init__(self, frame: Frame, point: Floats, direction: float, areas: Sequence[Area], low: float, sweep: float) -> None:
        self.along = np.array([cos(direction), sin(direction)])
        away = np.array([self.along[1], -self.along[0]])
        sample = areas[0].outer.curve.points - point
        # distances are counted towards the side on which the area lies
        side = sample @ away
        self.away = away if side[np.argmax(np.abs(side))] >= 0 else -away
        self.frame, self.point = frame, point
        self.full = sweep > 2 * pi - FULL
        self.arc = smooth_arc((0.0, 0.0), 1.0, low, sweep)
        self.low, self.high = low, low + sweep

    def split(self, points: Floats) -> tuple[Floats, Floats]:
        """Along the axis and away from it, mm, (n,) each."""
        offset = points - self.point
        return offset @ self.along, offset @ self.away

    def place(self, along: Floats, away: Floats, turned: Floats) -> Floats:
        """Points in space (..., 3); turned: (..., 2), the unit vector of the angle."""
        axis = self.frame.lift(self.point + along[..., None] * self.along)
        across = self.frame.lift(self.away) - self.frame.origin
        return np.asarray(axis + away[..., None] * (turned[..., :1] * across + turned[..., 1:] * self.frame.z))

    def at(self, curve: Curve, angle: float) -> Curve:
        """A planar curve where it is at an angle."""
        along, away = self.split(curve.points)
        return Curve(curve.space, self.place(along, away, np.broadcast_to([cos(angle), sin(angle)], (len(along), 2))))


def _turned(area: Area, turn: _Turn, name: str, section: str, number: int | None) -> Shell:
    loops = spans_of(area)
    first_curves = numbers_of_first_curves(loops)
    faces: list[NamedFace] = []
    seams = []
    on_axis = [[_lies_on_axis(span, turn) for span in spans] for spans in loops]
    grids = []
    for spans, skipped in zip(loops, on_axis, strict=True):
        grid: list[list[tuple[int, NamedFace]]] = []
        for span, skip in zip(spans, skipped, strict=True):
            if skip:
                grid.append([])
                continue
            face = NamedFace(f"{name}/{number_of(section)}.{span.name}", _surface(span, turn), span.closed)
            grid.append([(len(faces), face)])
            faces.append(face)
        grids.append(grid)
    caps = () if turn.full or area.outer.open else _caps(loops, turn, name, area.outer.label if number is not None else None)
    for grid, spans, offset in zip(grids, loops, first_curves, strict=True):
        ends = ((len(faces), offset), (len(faces) + 1, offset)) if caps else (None, None)
        seams += tube_seams(grid, corners=[span.corner for span in spans], caps=ends, ring=turn.full, open_=area.outer.open)
    if not area.outer.open:
        return Shell(tuple(faces), caps, (), tuple(seams))
    # from axis to axis it closes by itself
    first, last = loops[0][0].curve.points[0], loops[0][-1].curve.points[-1]
    made = Shell(tuple(faces), (), (), tuple(seams), closed=turn.full and bool(np.abs(turn.split(np.array([first, last]))[1]).max() < ON_AXIS))
    return made.turned() if made.closed and mass_properties(made).volume < 0 else made


def _lies_on_axis(span: OutlineSpan, turn: _Turn) -> bool:
    """Whether a span is part of the axis itself. Raises CrossesAxis where the span crosses it, or touches it inside."""
    _, points = span.curve.sampled(16)
    _, away = turn.split(points)
    if np.abs(away).max() < ON_AXIS:
        return True
    if away.min() < -ON_AXIS:
        at = int(np.argmin(away))
        raise CrossesAxis("the drawing reaches over the axis, so that it would run through itself", turn.frame.lift(points[at]))
    inside = away[1:-1] if not span.closed else away
    if inside.min() < ON_AXIS:
        at = int(np.argmin(inside)) + (0 if span.closed else 1)
        raise CrossesAxis("the drawing touches the axis in the middle of a smooth run", turn.frame.lift(points[at]))
    return False


def _surface(span: OutlineSpan, turn: _Turn) -> Surface:
    along, away = turn.split(span.curve.points)
    away = np.where(np.abs(away) < ON_AXIS, 0.0, away)
    arc = turn.arc.points
    points = turn.place(along[:, None], away[:, None], arc[None])
    if turn.full:
        points[:, -1] = points[:, 0]
    return Surface(span.curve.space, turn.arc.space, points)


def _caps(loops: Sequence[Sequence[OutlineSpan]], turn: _Turn, name: str, label: str | None) -> tuple[Cap, ...]:
    found = []
    for end, angle, outward in (("near", turn.low, -1.0), ("far", turn.high, 1.0)):
        chains = [tuple(turn.at(span.curve, angle) for span in spans) for spans in loops]
        x = turn.frame.lift(turn.along) - turn.frame.origin
        across = turn.frame.lift(turn.away) - turn.frame.origin
        y = cos(angle) * across + sin(angle) * turn.frame.z
        frame = Frame(turn.frame.lift(turn.point), x, y)
        # the area goes on along the normal that turning gives it
        forward = -sin(angle) * across + cos(angle) * turn.frame.z
        if float(frame.z @ forward) * outward < 0:
            frame = Frame(frame.origin, y, x)
        found.append(Cap(f"{name}/{end}" if label is None else f"{name}/{end}:{label}", frame, chains[0], tuple(chains[1:])))
    return tuple(found)
