"""Corners of a path rounded: arcs between straight pieces, and curves that go on with the curvature of both sides between others.

Stepped, straight pieces go round the arc outside of it, in as many corners as there are steps: so the elbows of ducts are made of sheets.
"""

from __future__ import annotations

from math import acos, pi, tan

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.conics import smooth_arc
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import chained, split
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.geometry.quadrature import at_length
from wander.core.geometry.space import SplineSpace
from wander.core.shaping.mitring import CornerCrowded
from wander.core.shaping.path import Path, is_straight, path_along

BEZIER = SplineSpace.from_breaks(5, [0.0, 1.0])
SHORTEST = 1e-6
"""mm: what is shorter between two arcs is left out."""
MOST_STEPS = 64
FLATTEST = 1e-9
"""Radians: a corner that turns less is none."""


def rounded(path: Path, radius: float, steps: int | None = None) -> Path:
    """The path with all corners rounded by a radius, mm; where a side is curved, from as far beside the corner as between straight sides.

    steps: so many corners stand for each between straight sides; None for an arc.

    Raises CornerCrowded where the sides are too short for it, BadInput where the radius is nothing.
    """
    if radius <= 0:
        raise BadInput("corners are rounded by more than nothing")
    if steps is not None and not 1 <= steps <= MOST_STEPS:
        raise BadInput(f"a corner is stepped from 1 to {MOST_STEPS} times, not {steps}")
    count = len(path.pieces)
    cuts = np.zeros((count, 2))
    for after in path.corners:
        before = (after - 1) % count
        ways = _at(path.pieces[before], 1.0)[1], _at(path.pieces[after], 0.0)[1]
        turn = acos(float(np.clip(ways[0] @ ways[1], -1.0, 1.0)))
        if turn > pi - 1e-3:
            raise BadInput("the path turns straight back at a corner, which can't be rounded")
        cuts[before, 1] = cuts[after, 0] = radius * tan(turn / 2)
    bounds = []
    for number, piece in enumerate(path.pieces):
        wanting = float(cuts[number].sum() - path.lengths[number])
        if wanting > SHORTEST:
            raise CornerCrowded(piece(0.0 if cuts[number, 0] >= cuts[number, 1] else 1.0), wanting)
        bounds.append(at_length(piece, np.array([cuts[number, 0], path.lengths[number] - cuts[number, 1]])))
    pieces: list[Curve] = []
    for number, piece in enumerate(path.pieces):
        if number in path.corners and number:
            pieces.append(_blend(path.pieces[number - 1], float(bounds[number - 1][1]), piece, float(bounds[number][0]), radius, steps))
        # two arcs may follow each other without a straight between
        if path.lengths[number] - cuts[number].sum() > SHORTEST:
            pieces.append(_trimmed(piece, *bounds[number]))
    if 0 in path.corners:
        pieces.append(_blend(path.pieces[-1], float(bounds[-1][1]), path.pieces[0], float(bounds[0][0]), radius, steps))
    return path_along(chained(pieces), closed=path.closed)


def _at(curve: Curve, t: float) -> Floats:
    """Place, unit way and curvature vector there, (3, 3)."""
    place, first, second = curve.derivatives(t, 2)
    speed = float(first @ first)
    return np.stack([place, first / np.sqrt(speed), (second - (second @ first) / speed * first) / speed])


def _trimmed(curve: Curve, low: float, high: float) -> Curve:
    """From one parameter to another, over [0, 1]."""
    if high < 1 - 1e-12:
        curve = split(curve, high)[0]
    if low > 1e-12:
        curve = split(curve, low)[1]
    return Curve(curve.space.mapped(0.0, 1.0), curve.points)


def _blend(before: Curve, leaves: float, after: Curve, arrives: float, radius: float, steps: int | None) -> Curve:
    """From a parameter of one curve to one of the other."""
    start, end = _at(before, leaves), _at(after, arrives)
    if is_straight(before) and is_straight(after):
        turn = acos(float(np.clip(start[1] @ end[1], -1.0, 1.0)))
        inwards = end[1] - (end[1] @ start[1]) * start[1]
        inwards = inwards / np.linalg.norm(inwards)
        flat = smooth_arc((0.0, 0.0), radius, -pi / 2, turn) if steps is None else _outside(radius, turn, steps)
        points = Frame(start[0] + radius * inwards, start[1], inwards).lift(flat.points)
        points[[0, -1]] = start[0], end[0]
        return Curve(flat.space, points)
    # a quintic with the ways and curvatures of both sides, run about as fast as it is long
    chord = float(np.linalg.norm(end[0] - start[0]))
    lean = acos(float(np.clip(start[1] @ end[1], -1.0, 1.0))) / 2
    speed = chord * (lean / np.sin(lean) if lean > FLATTEST else 1.0)
    first, last = (_three(side, speed * sign) for side, sign in ((start, 1.0), (end, -1.0)))
    return Curve(BEZIER, np.concatenate([first, last[::-1]]))


def _outside(radius: float, turn: float, steps: int) -> Curve:
    """Straight pieces that touch an arc about the origin, from its lowest place on, with so many corners; the first and last are half as long."""
    each = turn / steps
    reach = radius / np.cos(each / 2)
    at = -pi / 2 + each * (np.arange(steps) + 0.5)
    corners = reach * np.column_stack([np.cos(at), np.sin(at)])
    ends = radius * np.array([[0.0, -1.0], [np.cos(turn - pi / 2), np.sin(turn - pi / 2)]])
    points = np.concatenate([ends[:1], corners, ends[1:]])
    way = np.append(0.0, np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=1)))
    return Curve(SplineSpace.from_breaks(1, way / way[-1]), points)


def _three(end: Floats, speed: float) -> Floats:
    """The three control points at an end: Piegl & Tiller, eq. 1.10."""
    place, way, bend = end
    one = place + way * speed / 5
    return np.stack([place, one, 2 * one - place + bend * speed**2 / 20])
