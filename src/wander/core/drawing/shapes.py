"""Outlines from a few numbers. All run counter-clockwise; lengths in mm, angles in radians.

Each starts where a designer would put the seam: in the middle of the +x side, or at a corner where it has corners. The costly ones are
remembered: dragging a station asks for the same outline again and again.
"""

from __future__ import annotations

from functools import lru_cache
from itertools import pairwise
from math import cos, pi, sin

import numpy as np

from wander.core.drawing.loop import Loop
from wander.core.geometry.basis import Floats
from wander.core.geometry.conics import smooth_arc
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import join
from wander.core.geometry.errors import BadInput
from wander.core.geometry.interpolate import closed_through
from wander.core.geometry.quadrature import length
from wander.core.geometry.space import SplineSpace

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


def polyline(points: Floats) -> Loop:
    """The closed chain of straight sides through the points (m, 2), with a corner at each."""
    ring = np.concatenate([points, points[:1]])
    sides = [Curve(LINE, np.stack(pair)) for pair in pairwise(ring)]
    lengths = np.linalg.norm(np.diff(ring, axis=0), axis=1)
    curve = join(sides, lengths.tolist(), [False] * (len(sides) - 1))
    return Loop(curve, corners=tuple(float(b) for b in curve.space.breaks[:-1]), seam=0)


def rectangle(width: float, depth: float) -> Loop:
    _positive(width=width, depth=depth)
    x, y = width / 2, depth / 2
    return polyline(np.array([(x, -y), (x, y), (-x, y), (-x, -y)]))


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
