"""Sides that lean: an outline moved inwards by a distance that grows evenly from one level to the next.

Every point goes along the normal of its curve, so that a side keeps its angle everywhere; at a corner both sides end where they meet. Between
straight sides corners run straight and the sides are exact; where a curved side meets another at a corner, the corner runs along a curve that is
followed level by level.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput, NotConverged
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.tolerances import Tolerances
from wander.core.shaping.outline_spans import OutlineSpan

RULED = SplineSpace.from_breaks(1, [0.0, 1.0])
LEVELS = SplineSpace.from_breaks(3, np.linspace(0.0, 1.0, 9))
"""Along sides whose corners run along curves."""
MOST_SPANS = 256
EASED = 4
"""The power with which a side whose ends move takes its inner points along: least in its middle."""


@dataclass(frozen=True)
class Leaning:
    """spans: of one loop, what it encloses on its left, or of an open run. first, last: how far they are moved to the left at both levels, mm."""

    spans: Sequence[OutlineSpan]
    first: float
    last: float
    open: bool = False

    def inwards(self, shares: Floats) -> Floats:
        return self.first + (self.last - self.first) * shares


def leaning_rows(leaning: Leaning, tolerances: Tolerances) -> list[tuple[SplineSpace, SplineSpace, list[Floats]]]:
    """For each span the spaces round and along its side and, for each control point along, a row of control points (n, 2) in the plane.

    Raises BadInput where a side has shrunk to nothing or a bend is tighter than it is moved.
    """
    straight = all(_is_straight(span.curve) for span in leaning.spans)
    closed = leaning.spans[0].closed
    along = RULED if straight or closed else LEVELS
    inwards = leaning.inwards(along.greville)
    bounds = [(np.zeros(len(inwards)), np.ones(len(inwards)))] if closed else _bounds(leaning, inwards)
    found = []
    for span, (low, high) in zip(leaning.spans, bounds, strict=True):
        if np.any(high - low < 1e-6):
            raise BadInput("a side closes before the end is reached: the sides lean too much for this length")
        space, values = _fitted(span.curve, inwards, low, high, straight or closed, tolerances)
        # from values at the levels to control points along
        rows = along.interpolate(values.transpose(1, 0, 2)) if along is not RULED else values.transpose(1, 0, 2)
        found.append((space, along, list(rows)))
    return found if closed else _meeting(found, leaning.open)


def _fitted(curve: Curve, inwards: Floats, low: Floats, high: Floats, exact: bool, tolerances: Tolerances) -> tuple[SplineSpace, Floats]:
    """One space for a side at all levels, and its control points there: (n, levels, 2)."""

    def at(s: Floats) -> Floats:
        return np.stack([_moved(curve, _eased(s, a, b), d) for d, a, b in zip(inwards, low, high, strict=True)], axis=1)

    if _is_straight(curve):
        return RULED, at(np.array([0.0, 1.0]))
    if exact or np.all(low == 0.0):
        _refuse_tight(curve, float(inwards[np.argmax(np.abs(inwards))]))
    degree, breaks = max(curve.degree, 3), curve.space.breaks
    smooth = {b: curve.space.degree - m for b, m in zip(breaks[1:-1], curve.space.multiplicities[1:-1], strict=True)}
    for _ in range(8):
        space = SplineSpace.from_breaks(degree, breaks, [degree - min(degree - 1, smooth.get(b, degree - 1)) for b in breaks[1:-1]])
        controls = space.interpolate(at(space.greville))
        between = (breaks[:-1, None] + np.diff(breaks)[:, None] * np.array([0.11, 0.5, 0.86])).ravel()
        missed = np.linalg.norm(space.evaluate(controls, between) - at(between), axis=2).max(axis=1).reshape(-1, 3).max(axis=1)
        bad = np.flatnonzero(missed > tolerances.exact)
        if not len(bad) or len(breaks) > MOST_SPANS:
            return space, controls
        breaks = np.sort(np.concatenate([breaks, (breaks[bad] + breaks[bad + 1]) / 2]))
    raise NotConverged("the leaning side", 8, float(missed.max()))


def _eased(s: Floats, low: float, high: float) -> Floats:
    return s + low * (1 - s) ** EASED + (high - 1.0) * s**EASED


def _moved(curve: Curve, u: Floats, distance: float) -> Floats:
    """Points (m, 2) at parameters, which may lie a little outside, moved to the left."""
    place, way = (curve.space.evaluate(curve.points, u, k) for k in (0, 1))
    left = np.column_stack([-way[:, 1], way[:, 0]])
    return place + distance * left / np.linalg.norm(left, axis=1, keepdims=True)


def _bounds(leaning: Leaning, inwards: Floats) -> list[tuple[Floats, Floats]]:
    """For each span the parameters at which it begins and ends at every level, so that neighbours meet; free ends stay where they are along it."""
    spans = leaning.spans
    ends = np.ones((len(spans), len(inwards)))
    starts = np.zeros((len(spans), len(inwards)))
    order = np.argsort(np.abs(inwards))
    for k in range(1 if leaning.open else 0, len(spans)):
        before, after = spans[k - 1].curve, spans[k].curve
        guess = np.array([1.0, 0.0])
        for level in order:
            guess = _met(before, after, float(inwards[level]), guess)
            ends[k - 1, level], starts[k, level] = guess
    return list(zip(starts, ends, strict=True))


def _met(before: Curve, after: Curve, distance: float, guess: Floats) -> Floats:
    """Parameters of the two curves where they meet once moved. Newton."""

    def gap(p: Floats) -> Floats:
        return _moved(before, p[:1], distance)[0] - _moved(after, p[1:], distance)[0]

    p = guess.copy()
    for _ in range(30):
        here = gap(p)
        if np.abs(here).max() < 1e-10:
            return p
        step = 1e-6
        slopes = np.column_stack([(gap(p + step * e) - gap(p - step * e)) / (2 * step) for e in np.eye(2)])
        if abs(np.linalg.det(slopes)) < 1e-12:
            break
        p = p - np.clip(np.linalg.solve(slopes, here), -0.25, 0.25)
        if np.any(p < -1.0) or np.any(p > 2.0):
            break
    raise BadInput("the sides at a corner no longer meet: they lean too much for this length")


def _meeting(found: list[tuple[SplineSpace, SplineSpace, list[Floats]]], open_: bool) -> list[tuple[SplineSpace, SplineSpace, list[Floats]]]:
    """The same, neighbours ending on one another to the last bit."""
    for k in range(1 if open_ else 0, len(found)):
        for row, behind in zip(found[k][2], found[k - 1][2], strict=True):
            row[0] = behind[-1]
    return found


def _refuse_tight(curve: Curve, distance: float) -> None:
    u, _ = curve.sampled(12)
    _, way, bend = curve.derivatives(u, 2)
    curvature = (way[:, 0] * bend[:, 1] - way[:, 1] * bend[:, 0]) / np.linalg.norm(way, axis=1) ** 3
    worst = float((curvature * distance).max())
    if worst >= 1 - 1e-6:
        radius = 1 / abs(float(curvature[int(np.argmax(curvature * distance))]))
        raise BadInput(f"a bend of radius {radius:.4g} mm is moved inwards by {abs(distance):.4g} mm: the sides lean too much for this length")


def _is_straight(curve: Curve) -> bool:
    """A line run evenly, of whatever degree its neighbours in the outline have given it."""
    first, last = curve.points[[0, -1]]
    even = first + curve.space.greville[:, None] * (last - first)
    return bool(np.abs(curve.points - even).max() < 1e-9 * max(1.0, float(np.abs(last - first).max())))
