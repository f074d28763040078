"""Circles, ellipses and arcs: exact (rational), and as smooth polynomial curves run at constant speed.

Lofting uses the polynomial form. A rational circle of degree 2 is only C0 in its knots, and the kernel refuses to offset or
shell such a face; the polynomial form is C4 inside and C2 where it closes, and leaves the circle by less than 2e-9 of
its radius.
"""

from __future__ import annotations

from functools import lru_cache
from math import ceil, cos, pi, sqrt

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.space import SplineSpace

SPANS_PER_TURN = 40


def circle(radius: float) -> Curve:
    """The exact circle about the origin from (radius, 0), counter-clockwise, over [0, 1]: NURBS Book, section 7.5."""
    return ellipse(radius, radius)


def ellipse(half_width: float, half_depth: float) -> Curve:
    """The exact ellipse about the origin from (half_width, 0), counter-clockwise, over [0, 1]."""
    if half_width <= 0 or half_depth <= 0:
        raise BadInput("an ellipse needs two positive half axes")
    corners = np.array([(1, 0), (1, 1), (0, 1), (-1, 1), (-1, 0), (-1, -1), (0, -1), (1, -1), (1, 0)], dtype=np.float64)
    weights = np.array([1.0, sqrt(0.5)] * 4 + [1.0])
    space = SplineSpace.from_breaks(2, [0, 0.25, 0.5, 0.75, 1], [2, 2, 2])
    return Curve(space, corners * (half_width, half_depth), weights)


def arc(radius: float, start: float, sweep: float) -> Curve:
    """The exact arc about the origin from angle `start` over `sweep` radians (signed, up to a full turn), over [0, 1]."""
    if radius <= 0 or not 0 < abs(sweep) <= 2 * pi + 1e-12:
        raise BadInput("an arc needs a positive radius and a sweep of up to one turn")
    pieces = max(1, ceil(abs(sweep) / (pi / 2) - 1e-9))
    half = sweep / pieces / 2
    angles = start + half * np.arange(2 * pieces + 1)
    reach = np.where(np.arange(2 * pieces + 1) % 2, radius / cos(half), radius)
    weights = np.where(np.arange(2 * pieces + 1) % 2, cos(half), 1.0)
    space = SplineSpace.from_breaks(2, np.linspace(0, 1, pieces + 1), [2] * (pieces - 1))
    return Curve(space, np.column_stack([np.cos(angles), np.sin(angles)]) * reach[:, None], weights)


@lru_cache(maxsize=256)
def _unit_arc(sweep: float) -> Curve:
    """Quintic spline on the unit circle from angle 0: points at the breaks, two derivatives at each end."""
    spans = max(2, ceil(abs(sweep) / (2 * pi) * SPANS_PER_TURN))
    space = SplineSpace.from_breaks(5, np.linspace(0, 1, spans + 1))
    ends = np.array([0.0, 1.0])

    def on_circle(u: Floats, k: int) -> Floats:
        turn = u * sweep + k * pi / 2
        return np.column_stack([np.cos(turn), np.sin(turn)]) * sweep**k

    rows = np.concatenate([space.matrix(space.breaks), space.matrix(ends, 1), space.matrix(ends, 2)])
    wanted = np.concatenate([on_circle(space.breaks, 0), on_circle(ends, 1), on_circle(ends, 2)])
    return Curve(space, np.linalg.solve(rows, wanted))


def smooth_arc(center: tuple[float, float], radius: float, start: float, sweep: float) -> Curve:
    """An arc as a quintic polynomial spline run at constant speed, over [0, 1]; within 2e-9 of the radius.

    start, sweep: radians, the sweep signed and up to one turn.
    """
    if radius <= 0 or not 0 < abs(sweep) <= 2 * pi + 1e-12:
        raise BadInput("an arc needs a positive radius and a sweep of up to one turn")
    unit = _unit_arc(float(sweep))
    c, s = np.cos(start), np.sin(start)
    return Curve(unit.space, radius * unit.points @ np.array([[c, s], [-s, c]]) + center)
