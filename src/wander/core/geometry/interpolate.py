"""Curves through points and curves near points.

Source: The NURBS Book, chapter 9, with end conditions as further rows of one collocation system.
"""

from __future__ import annotations

from enum import Enum

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput, NotConverged
from wander.core.geometry.space import SplineSpace


class End(Enum):
    """What a cubic does at its ends."""

    NATURAL = "natural"
    """No curvature at the end: a batten let go."""
    GIVEN = "given"
    """The first derivative is given: a batten held in a direction."""
    PERIODIC = "periodic"
    """Closed with two continuous derivatives."""


def spread_parameters(points: Floats, exponent: float = 0.5, factors: Floats | None = None) -> Floats:
    """Parameters in [0, 1] for points (m, d): spacing by chord length to a power (0.5 centripetal, 1 chord length).

    factors: (m - 1,), by how much each span takes more of the parameter than its chord asks for.
    """
    chords = np.linalg.norm(np.diff(points, axis=0), axis=-1) ** exponent
    if chords.ndim > 1:
        chords = chords.mean(axis=tuple(range(1, chords.ndim)))
    if np.any(chords <= 0):
        at = int(np.argmin(chords))
        raise BadInput(f"points {at + 1} and {at + 2} lie on each other")
    if factors is not None:
        chords = chords * factors
    return np.concatenate([[0.0], np.cumsum(chords)]) / chords.sum()


def cubic_system(parameters: Floats, start: End, end: End | None = None) -> tuple[SplineSpace, Floats]:
    """The cubic space with a knot at each parameter (m,), and the matrix (m + 2, m + 2) of values, then end conditions.

    end: as at the start where it is left out. Their right hand sides are zero, or the derivative where it is given.
    """
    space = SplineSpace.from_breaks(3, parameters)
    ends = parameters[[0, -1]]
    if start is End.PERIODIC:
        conditions = np.stack([-np.diff(space.matrix(ends, derivative), axis=0)[0] for derivative in (1, 2)])
    else:
        asked = [2 if kind is End.NATURAL else 1 for kind in (start, start if end is None else end)]
        rows = {derivative: space.matrix(ends, derivative) for derivative in set(asked)}
        conditions = np.stack([rows[derivative][i] for i, derivative in enumerate(asked)])
    return space, np.concatenate([space.matrix(parameters), conditions])


def cubic_through(points: Floats, parameters: Floats, end: End) -> Curve:
    """The C2 cubic through points (m, d) at parameters (m,). A periodic curve repeats its first point as its last."""
    if len(points) < 2 + (end is End.PERIODIC):
        raise BadInput("too few points for a curve")
    space, matrix = cubic_system(parameters, end)
    return Curve(space, np.linalg.solve(matrix, np.concatenate([points, np.zeros((2, points.shape[1]))])))


def closed_through(points: Floats) -> Curve:
    """The closed C2 cubic through points (m, 2 or 3), m >= 3, over [0, 1], starting at the first of them."""
    p = np.asarray(points, dtype=np.float64)
    if len(p) < 3:
        raise BadInput(f"a closed spline needs at least 3 points, got {len(p)}")
    ring = np.concatenate([p, p[:1]])
    return cubic_through(ring, spread_parameters(ring), End.PERIODIC)


def open_through(points: Floats) -> Curve:
    """The C2 cubic through points (m, 2 or 3), m >= 2, over [0, 1], free at both ends."""
    p = np.asarray(points, dtype=np.float64)
    if len(p) < 2:
        raise BadInput(f"a spline needs at least 2 points, got {len(p)}")
    return cubic_through(p, spread_parameters(p), End.NATURAL)


def least_squares(points: Floats, parameters: Floats, space: SplineSpace) -> Curve:
    """The curve of a space nearest to points (m, d) at parameters (m,) that rise from its one end to the other; its ends are met exactly."""
    matrix = space.matrix(parameters)
    fixed = np.outer(matrix[:, 0], points[0]) + np.outer(matrix[:, -1], points[-1])
    inner = np.linalg.lstsq(matrix[:, 1:-1], points - fixed, rcond=None)[0]
    return Curve(space, np.concatenate([points[:1], inner, points[-1:]]))


def fit(points: Floats, parameters: Floats, tolerance: float, degree: int = 3, most_spans: int = 512) -> Curve:
    """The least-squares spline near points (m, d) at rising parameters (m,), with as few spans as the tolerance allows.

    Ends are met exactly; spans that miss by more than the tolerance (mm, at their points) are halved until none does.
    Raises NotConverged with the distance left when the spans run out.
    """
    breaks = parameters[[0, -1]]
    rounds = 0
    while True:
        curve = least_squares(points, parameters, SplineSpace.from_breaks(degree, breaks))
        misses = np.linalg.norm(curve(parameters) - points, axis=1)
        if misses.max() <= tolerance:
            return curve
        rounds += 1
        owner = np.clip(np.searchsorted(breaks, parameters, side="right") - 1, 0, len(breaks) - 2)
        bad = np.unique(owner[misses > tolerance])
        per_span = np.bincount(owner, minlength=len(breaks) - 1)
        bad = bad[per_span[bad] >= 4]
        if len(bad) == 0 or len(breaks) - 1 + len(bad) > most_spans:
            raise NotConverged("the fit", rounds, float(misses.max()))
        breaks = np.sort(np.concatenate([breaks, (breaks[bad] + breaks[bad + 1]) / 2]))
