"""Outlines from a few numbers. All run counter-clockwise; lengths in mm, angles in radians.

Each starts where a designer would put the seam: in the middle of the +x side, or at a corner where it has corners. The costly ones are
remembered: dragging a station asks for the same outline again and again.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise
from math import cos, pi, sin

import numpy as np

from wander.core.drawing.outlines.loop import Loop, Span, opposite
from wander.core.drawing.outlines.outline import Stretch
from wander.core.drawing.outlines.runs import OpenRun
from wander.core.geometry.basis import Floats
from wander.core.geometry.conics import smooth_arc
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import continuity_at_seam, join, split
from wander.core.geometry.errors import BadInput
from wander.core.geometry.interpolate import End, closed_through, cubic_through
from wander.core.geometry.quadrature import length
from wander.core.geometry.space import SplineSpace

_FOIL_STEPS = 48
LINE = SplineSpace.from_breaks(1, [0.0, 1.0])


class ShapeError(BadInput):
    """A number of a shape is out of range; `field` names it, `limit` is the nearest value that works (mm or none)."""

    def __init__(self, message: str, field: str, limit: float | None = None) -> None:
        super().__init__(message)
        self.field = field
        self.limit = limit


def _positive(**numbers: float) -> None:
    for name, value in numbers.items():
        if not value > 0:
            raise ShapeError(f"the {name} must be more than zero, it is {value:g} mm", name)


@lru_cache(maxsize=512)
def circle(diameter: float) -> Loop:
    _positive(diameter=diameter)
    return Loop(smooth_arc((0.0, 0.0), diameter / 2, 0.0, 2 * pi))


def ellipse(width: float, depth: float) -> Loop:
    _positive(width=width, depth=depth)
    return circle(1.0).transformed(np.diag([width, depth]), np.zeros(2))


SIDES = ("right", "top", "left", "bottom")


def polyline(points: Floats, names: Sequence[str] = ()) -> Loop:
    """The closed chain of straight sides through the points (m, 2), with a corner at each. names: of the sides; else they are counted."""
    ring = np.concatenate([points, points[:1]])
    sides = [Curve(LINE, np.stack(pair)) for pair in pairwise(ring)]
    lengths = np.linalg.norm(np.diff(ring, axis=0), axis=1)
    curve = join(sides, lengths.tolist(), [False] * (len(sides) - 1))
    at = [float(b) for b in curve.space.breaks[:-1]]
    called = names or [f"{i}of{len(at)}" for i in range(1, len(at) + 1)]
    return Loop(curve, corners=tuple(at), seam=0, spans=tuple(Span(t, name, name) for t, name in zip(at, called, strict=True)))


def rectangle(width: float, depth: float) -> Loop:
    _positive(width=width, depth=depth)
    x, y = width / 2, depth / 2
    return polyline(np.array([(x, -y), (x, y), (-x, y), (-x, -y)]), SIDES)


def polygon(sides: int, across: float) -> Loop:
    """A regular polygon with the given distance across its corners (a circle of that diameter goes through them)."""
    _positive(across=across)
    if not 3 <= sides <= 64:
        raise ShapeError(f"a polygon has 3 to 64 sides, not {sides}", "sides", min(max(sides, 3), 64))
    turn = 2 * pi * np.arange(sides) / sides
    return polyline(across / 2 * np.column_stack([np.cos(turn), np.sin(turn)]))


def _chain(pieces: list[Curve]) -> Loop:
    """A smooth chain of lines and arcs, its joints marked."""
    lengths = [length(piece) for piece in pieces]
    curve = join(pieces, lengths, [True] * (len(pieces) - 1))
    ends = np.cumsum(lengths)[:-1] / np.sum(lengths)
    return Loop(curve, joints=tuple(float(e) for e in ends), seam=curve.degree - 1)


@lru_cache(maxsize=512)
def rounded_rectangle(width: float, depth: float, radius: float) -> Loop:
    """A rectangle with round corners; the start is in the middle of the +x side."""
    _positive(width=width, depth=depth, radius=radius)
    most = min(width, depth) / 2
    if radius > most * (1 + 1e-12):
        raise ShapeError(f"corners of radius {radius:g} mm do not fit: the shorter side leaves room for {most:g} mm", "radius", most)
    x, y = width / 2 - radius, depth / 2 - radius
    if max(x, y) <= 1e-9 * most:
        return circle(2 * radius)
    # quarter turns round the four centres, each followed by a straight; where that has no length the arcs run on as one
    centers = [(x, y), (-x, y), (-x, -y), (x, -y)]
    pieces: list[Curve] = []
    here = np.array([x + radius, 0.0])
    begun = 0.0
    for quarter, center in enumerate(centers):
        straight = y if quarter in (0, 2) else x
        if straight > 1e-9 * most:
            into = np.array(center) + radius * np.array([cos(quarter * pi / 2), sin(quarter * pi / 2)])
            pieces.append(Curve(LINE, np.stack([here, into])))
            begun = quarter * pi / 2
        end = (quarter + 1) * pi / 2
        following = x if quarter in (0, 2) else y
        if following > 1e-9 * most or quarter == 3:
            pieces.append(smooth_arc(center, radius, begun, end - begun))
            here = np.array(center) + radius * np.array([cos(end), sin(end)])
    if y > 1e-9 * most:
        pieces.append(Curve(LINE, np.stack([here, (x + radius, 0.0)])))
    return _chain(pieces)


def slot(length: float, width: float) -> Loop:
    """Two half circles joined by straights; length over all along x."""
    _positive(length=length, width=width)
    if length <= width * (1 + 1e-9):
        raise ShapeError(f"a slot is longer than it is wide: {length:g} mm over {width:g} mm leaves no straight", "length")
    return rounded_rectangle(length, width, width / 2)


@lru_cache(maxsize=512)
def foil(chord: float, thickness: float, camber: float, crest: float) -> Loop:
    """A foil of the four-digit family, nose towards -x, about the quarter point of its chord; sharp at the trailing edge.

    chord: mm. thickness, camber: greatest, as shares of the chord. crest: where the camber is greatest, as a share of the chord.
    Source: Jacobs, Ward & Pinkerton 1933, with the last coefficient that closes the trailing edge.
    """
    _positive(chord=chord, thickness=thickness)
    if thickness > 0.6:
        raise ShapeError(f"a foil this thick ({thickness:g} of its chord) is no foil any more", "thickness", 0.6)
    if abs(camber) > 0.3:
        raise ShapeError("a foil's camber is at most 0.3 of its chord", "camber", 0.3)
    if not 0.1 <= crest <= 0.9:
        raise ShapeError("the crest of a foil's camber lies between 0.1 and 0.9 of its chord", "crest", min(max(crest, 0.1), 0.9))
    # run by the angle of a circle over the chord: close together at the nose, where the outline turns fast
    turn = np.linspace(0.0, 2 * pi, 2 * _FOIL_STEPS + 1)
    x = (1 + np.cos(turn)) / 2
    side = np.where(turn <= pi, 1.0, -1.0)
    half = 5 * thickness * (0.2969 * np.sqrt(x) - 0.1260 * x - 0.3516 * x**2 + 0.2843 * x**3 - 0.1036 * x**4)
    ahead = x < crest
    line = np.where(ahead, camber / crest**2 * (2 * crest * x - x**2), camber / (1 - crest) ** 2 * (1 - 2 * crest + 2 * crest * x - x**2))
    slope = np.where(ahead, 2 * camber / crest**2 * (crest - x), 2 * camber / (1 - crest) ** 2 * (crest - x))
    tilt = np.arctan(slope)
    points = chord * np.column_stack([x - side * half * np.sin(tilt) - 0.25, line + side * half * np.cos(tilt)])
    points[-1] = points[0]
    curve = cubic_through(points, turn / (2 * pi), End.NATURAL)
    spans = (Span(0.0, "upper", "tail"), Span(opposite(curve, 0.0), "lower", "nose"))
    return Loop(curve, corners=(0.0,), seam=0, spans=spans)


def traced(degree: int, knots: Floats, points: Floats, corners: Sequence[float]) -> Loop:
    """A closed outline given as a B-spline over [0, 1], as it was taken from a body."""
    curve = _as_taken(degree, knots, points)
    if curve.domain != (0.0, 1.0) or np.linalg.norm(curve.points[0] - curve.points[-1]) > 1e-6:
        raise ShapeError("an outline taken from a body closes and runs from 0 to 1", "points")
    marks = sorted(corners)
    spans = tuple(Span(t, f"{i}of{len(marks)}", f"{i}of{len(marks)}") for i, t in enumerate(marks, start=1))
    return Loop(curve, tuple(corners), seam=0 if corners else max(continuity_at_seam(curve, 1e-5), 1), spans=spans)


def traced_run(degree: int, knots: Floats, points: Floats, corners: Sequence[float]) -> OpenRun:
    """An open outline given as a B-spline over [0, 1], as it was taken from a sheet; corners: where it bends on its way."""
    left = _as_taken(degree, knots, points)
    breaks, pieces = left.space.breaks, []
    for corner in sorted(corners):
        at = float(breaks[np.abs(breaks - corner).argmin()])
        if abs(at - corner) > 1e-6 or not left.domain[0] < at < left.domain[1]:
            raise ShapeError("an outline taken from a sheet bends at knots between its ends", "corners")
        before, left = split(left, at)
        pieces.append(before)
    pieces.append(left)
    named = [
        Stretch(Curve(piece.space.mapped(0.0, 1.0), piece.points), False, False, f"{i}of{len(pieces)}", f"{i}of{len(pieces)}")
        for i, piece in enumerate(pieces, start=1)
    ]
    return OpenRun(tuple(named), "last")


def _as_taken(degree: int, knots: Floats, points: Floats) -> Curve:
    try:
        return Curve.checked(degree, knots, points)
    except BadInput as error:
        raise ShapeError(f"this outline can't be read: {error}", "points") from error


def spline(points: Floats) -> Loop:
    """The smooth closed curve through points (m, 2), in their order, which may run either way."""
    p = np.asarray(points, dtype=np.float64)
    if p.ndim != 2 or p.shape[1] != 2 or len(p) < 3:
        raise ShapeError(f"a closed spline needs at least 3 points, it has {len(p)}", "points")
    gaps = np.linalg.norm(p - np.roll(p, 1, axis=0), axis=1)
    if gaps.min() < 1e-6:
        at = int(np.argmin(gaps))
        raise ShapeError(f"points {(at - 1) % len(p) + 1} and {at + 1} of the spline lie on each other", "points")
    return Loop(closed_through(p))
