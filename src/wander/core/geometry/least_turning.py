"""Frames that turn as little as they can along a curve: nothing turns about the way that they go.

Source: Wang, Jüttler, Zheng & Liu 2008, "Computation of rotation minimizing frames": each step is two reflections, and its error falls with the
fourth power of its length.
"""

from __future__ import annotations

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.quadrature import ROUGHLY, span_lengths
from wander.core.geometry.vectors import cross, lengths

STEPS, FEWEST = 12, 192
"""In each span of a curve at least, and along all of it."""
NOTHING = 1e-10
"""Of the length of a curve: a step that is no longer carries nothing."""


class LeastTurning:
    """The frames of a curve that is smooth and stands still nowhere, from a first x on, which is made square to it.

    closing: the curve closes smoothly, and so do its frames: what they come back turned by is taken back evenly along the parameter.
    """

    def __init__(self, curve: Curve, x: Floats, *, closing: bool = False) -> None:
        self._curve = curve
        breaks, spans = curve.space.breaks, span_lengths(curve, ROUGHLY)
        # long spans in more steps than short ones
        counts = np.maximum(STEPS, np.ceil(max(STEPS * len(spans), FEWEST) / spans.sum() * spans)).astype(int)
        within = np.arange(counts.sum()) - np.repeat(np.cumsum(counts) - counts, counts)
        self._at = np.append(np.repeat(breaks[:-1], counts) + within * np.repeat(np.diff(breaks) / counts, counts), breaks[-1])
        self._points, self._ways = self._along(self._at)
        self._nothing = NOTHING * float(spans.sum())
        # a step turns all that is square to the way alike: what it does to any such vector says by which angle
        any_x = _square_to(self._ways)
        any_y = cross(self._ways, any_x)
        carried = _carried(any_x[:-1], self._points[:-1], self._ways[:-1], self._points[1:], self._ways[1:], self._nothing)
        steps = np.arctan2(np.vecdot(carried, any_y[1:]), np.vecdot(carried, any_x[1:]))
        turned = np.cumsum(np.append(np.arctan2(x @ any_y[0], x @ any_x[0]), steps))[:, None]
        self._x = np.cos(turned) * any_x + np.sin(turned) * any_y
        self._turned = 0.0
        if closing:
            first, last = self._x[0], self._x[-1]
            self._turned = float(np.arctan2(cross(first, last) @ self._ways[0], first @ last))

    @property
    def closes_by(self) -> float:
        """Radians that it comes back turned by, which are taken back along the way; 0 where it does not close."""
        return self._turned

    @property
    def ends(self) -> tuple[Floats, Floats, Floats]:
        """The x of the first frame (3,), the x and the way of the last one, before anything is taken back."""
        return self._x[0], self._x[-1], self._ways[-1]

    def __call__(self, parameters: Floats) -> tuple[Floats, Floats]:
        """Places (m, 3) and matrices (m, 3, 3) at parameters (m,): their columns are x, y and the way along the curve."""
        before = np.clip(np.searchsorted(self._at, parameters, side="right") - 1, 0, len(self._at) - 2)
        points, ways = self._along(parameters)
        x = _carried(self._x[before], self._points[before], self._ways[before], points, ways, self._nothing)
        x -= np.vecdot(x, ways)[:, None] * ways  # what rounding leaves
        x /= lengths(x)[:, None]
        y = cross(ways, x)
        if self._turned:
            low, high = self._curve.domain
            back = (-self._turned * (parameters - low) / (high - low))[:, None]
            x, y = np.cos(back) * x + np.sin(back) * y, np.cos(back) * y - np.sin(back) * x
        return points, np.stack([x, y, ways], axis=-1)

    def _along(self, parameters: Floats) -> tuple[Floats, Floats]:
        curve = self._curve
        slopes = curve.derivatives(parameters, 1)[1] if curve.weights is not None else curve.space.evaluate(curve.points, parameters, 1)
        return curve(parameters), slopes / lengths(slopes)[:, None]


def _square_to(ways: Floats) -> Floats:
    """Unit vectors (m, 3), each square to a unit way: the axis of space that is the furthest from it, made square."""
    rows = np.arange(len(ways))
    axis = np.abs(ways).argmin(axis=1)
    found = -ways[rows, axis][:, None] * ways
    found[rows, axis] += 1.0
    return found / lengths(found)[:, None]


def _carried(vectors: Floats, places: Floats, ways: Floats, there: Floats, ways_there: Floats, nothing: float) -> Floats:
    """Vectors (m, 3) taken from places and ways (m, 3) to others: they are mirrored half-way, and again so that the ways agree.

    nothing: mm; a step as short has no direction that could be told from rounding, and carries nothing.
    """
    between = there - places
    reach = np.vecdot(between, between)
    far = reach > nothing**2
    half = 2.0 / np.where(far, reach, 1.0)
    mirrored = vectors - (half * np.vecdot(between, vectors))[:, None] * between
    apart = ways_there - ways + (half * np.vecdot(between, ways))[:, None] * between  # twice as long as a unit vector where the line is straight
    square = np.vecdot(apart, apart)
    found = mirrored - (2.0 / np.where(square > 1e-12, square, 1.0) * np.vecdot(apart, mirrored))[:, None] * apart
    return np.asarray(found if far.all() else np.where(far[:, None], found, vectors), dtype=np.float64)
