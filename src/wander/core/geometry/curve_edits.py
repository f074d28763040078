"""Exact operations on curves: the curve before and after is the same curve."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.quadrature import length
from wander.core.geometry.space import SplineSpace, change_of_basis


def represented(curve: Curve, space: SplineSpace) -> Curve:
    """The curve in a larger space. Exact when the space contains the curve's own."""
    return curve.in_space(space, change_of_basis(curve.space, space) @ curve.homogeneous)


def insert_knots(curve: Curve, knots: Sequence[float]) -> Curve:
    """Knot insertion (Boehm). Raises BadInput outside the domain or above full multiplicity."""
    return represented(curve, curve.space.with_knots(knots)) if len(knots) else curve


def elevate(curve: Curve, degree: int) -> Curve:
    """Degree elevation. Raises BadInput when the degree would sink."""
    return curve if degree == curve.degree else represented(curve, curve.space.elevated(degree))


def split(curve: Curve, parameter: float) -> tuple[Curve, Curve]:
    """Two curves that meet at the parameter; each keeps its part of the domain."""
    low, high = curve.domain
    if not low < parameter < high:
        raise BadInput(f"expected a parameter inside ({low:g}, {high:g}), got {parameter:g}")
    p, knots = curve.degree, curve.space.knots
    present = int(np.count_nonzero(knots == parameter))
    full = insert_knots(curve, [parameter] * (p - present))
    knots = full.space.knots
    first = int(np.searchsorted(knots, parameter, side="left"))
    points = full.homogeneous
    left = SplineSpace(p, np.append(knots[: first + p], parameter))
    right = SplineSpace(p, np.insert(knots[first:], 0, parameter))
    return full.in_space(left, points[:first]), full.in_space(right, points[first - 1 :])


def reverse(curve: Curve) -> Curve:
    """The same curve run backwards over the same domain."""
    low, high = curve.domain
    return curve.in_space(SplineSpace(curve.degree, (low + high) - curve.space.knots[::-1]), curve.homogeneous[::-1])


def join(curves: Sequence[Curve], lengths: Sequence[float], smooth: Sequence[bool]) -> Curve:
    """One curve over [0, 1] from a chain of polynomial curves, each taking its share of the domain.

    lengths: shares of the parameter, (k,), any unit. smooth: (k - 1,), whether the parametric speed is the same on both
    sides of a joint, so that the knot there may keep one continuous derivative. Raises BadInput on a gap.
    """
    degree = max(curve.degree for curve in curves)
    ends = np.concatenate([[0.0], np.cumsum(lengths)]) / np.sum(lengths)
    knots: list[Floats] = []
    points: list[Floats] = []
    for i, curve in enumerate(curves):
        raised = elevate(curve, degree)
        space = raised.space.mapped(float(ends[i]), float(ends[i + 1]))
        inner = space.knots[degree + 1 : -degree - 1]
        if i == 0:
            knots.append(np.repeat(space.knots[0], degree + 1))
            points.append(raised.points)
        else:
            if np.linalg.norm(points[-1][-1] - raised.points[0]) > 1e-6:
                raise BadInput(f"pieces {i} and {i + 1} of the chain do not meet")
            knots.append(np.repeat(space.knots[0], degree))
            points.append(raised.points[1:])
        knots.append(inner)
    knots.append(np.repeat(1.0, degree + 1))
    chain = Curve(SplineSpace(degree, np.concatenate(knots)), np.concatenate(points))
    if not any(smooth):
        return chain
    counts = chain.space.multiplicities.copy()
    for i, is_smooth in enumerate(smooth, start=1):
        if is_smooth:
            counts[np.argmin(np.abs(chain.space.breaks - ends[i]))] = degree - 1
    target = SplineSpace.from_breaks(degree, chain.space.breaks, counts[1:-1].tolist())
    return Curve(target, target.interpolate(chain(target.greville)))


def chained(curves: Sequence[Curve]) -> Curve:
    """One curve over [0, 1] from a chain of polynomial curves, each with its share of the length; a hair between two ends is closed."""
    met = [curves[0]]
    for curve in curves[1:]:
        points = curve.points.copy()
        points[0] = met[-1].points[-1]
        met.append(Curve(curve.space, points))
    return join(met, [length(c) for c in met], [False] * (len(met) - 1))


def continuity_at_seam(curve: Curve, tolerance: float = 1e-7) -> int:
    """How many derivatives agree where a closed curve meets itself; -1 when it is not closed.

    tolerance: relative to the size of each derivative.
    """
    low, high = curve.domain
    ends = curve.derivatives(np.array([low, high]), curve.degree - 1)
    size = max(float(np.abs(curve.points).max()), 1e-12)
    for k, (start, end) in enumerate(ends):
        scale = size if k == 0 else max(float(np.linalg.norm(start)), float(np.linalg.norm(end)), size)
        if np.linalg.norm(start - end) > tolerance * scale:
            return k - 1
    return curve.degree - 1


def move_seam(curve: Curve, parameter: float) -> Curve:
    """The same closed polynomial curve, starting at the parameter; the domain keeps its length and starts at 0.

    The old seam keeps as many derivatives as it had. Raises BadInput when the curve is not closed or is rational.
    """
    if curve.weights is not None:
        raise BadInput("the seam of a rational curve can't be moved; refit it first")
    order = continuity_at_seam(curve)
    if order < 0:
        raise BadInput("only a closed curve has a seam to move")
    low, high = curve.domain
    period = high - low
    shift = (parameter - low) % period
    if min(shift, period - shift) < 1e-12 * period:
        return curve
    breaks, counts = curve.space.breaks, curve.space.multiplicities
    moved = (breaks[:-1] - low - shift) % period
    moved_counts = counts[:-1].copy()
    moved_counts[0] = max(curve.degree - order, 1)
    keep = (moved > 1e-12 * period) & (moved < period * (1 - 1e-12))
    sequence = np.argsort(moved[keep])
    target = SplineSpace.from_breaks(curve.degree, np.concatenate([[0.0], moved[keep][sequence], [period]]), moved_counts[keep][sequence].tolist())
    return Curve(target, target.interpolate(curve(low + (target.greville + shift) % period)))


def transformed(curve: Curve, matrix: Floats, origin: Floats) -> Curve:
    """The image under x -> matrix @ x + origin; matrix (e, d), origin (e,): also lifts the plane into space."""
    return Curve(curve.space, curve.points @ np.asarray(matrix).T + origin, curve.weights)
