"""Frames that turn as little as they can along a curve: nothing turns about the way that they go.

Source: Wang, Jüttler, Zheng & Liu 2008, "Computation of rotation minimizing frames": each step is two reflections, and its error falls with the
fourth power of its length.
"""

from __future__ import annotations

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.quadrature import span_lengths
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
        breaks, spans = curve.space.breaks, span_lengths(curve)
        # long spans in more steps than short ones
        counts = np.maximum(STEPS, np.ceil(max(STEPS * len(spans), FEWEST) * spans / spans.sum())).astype(int)
        parts = [np.linspace(a, b, n + 1)[:-1] for a, b, n in zip(breaks[:-1], breaks[1:], counts, strict=True)]
        self._at = np.append(np.concatenate(parts), breaks[-1])
        self._points, self._ways = self._along(self._at)
        across = x - (x @ self._ways[0]) * self._ways[0]
        self._nothing = NOTHING * float(spans.sum())
        steps = _steps(self._points[:-1], self._ways[:-1], self._points[1:], self._ways[1:], self._nothing)
        carried = np.concatenate([across[None], _one_after_the_other(steps) @ across])
        # what rounding leaves
        carried -= np.sum(carried * self._ways, axis=1, keepdims=True) * self._ways
        self._x = carried / lengths(carried)[:, None]
        self._turned = 0.0
        if closing:
            first, last = self._x[0], self._x[-1]
            self._turned = float(np.arctan2(cross(first, last) @ self._ways[0], first @ last))

    @property
    def closes_by(self) -> float:
        """Radians that it comes back turned by, which are taken back along the way; 0 where it does not close."""
        return self._turned

    def __call__(self, parameters: Floats) -> tuple[Floats, Floats]:
        """Places (m, 3) and matrices (m, 3, 3) at parameters (m,): their columns are x, y and the way along the curve."""
        before = np.clip(np.searchsorted(self._at, parameters, side="right") - 1, 0, len(self._at) - 2)
        points, ways = self._along(parameters)
        step = _steps(self._points[before], self._ways[before], points, ways, self._nothing)
        x = (step @ self._x[before][:, :, None])[:, :, 0]
        x = x - np.sum(x * ways, axis=1, keepdims=True) * ways
        x = x / lengths(x)[:, None]
        y = cross(ways, x)
        if self._turned:
            low, high = self._curve.domain
            back = (-self._turned * (parameters - low) / (high - low))[:, None]
            x, y = np.cos(back) * x + np.sin(back) * y, np.cos(back) * y - np.sin(back) * x
        return points, np.stack([x, y, ways], axis=-1)

    def _along(self, parameters: Floats) -> tuple[Floats, Floats]:
        points, slopes = self._curve.derivatives(parameters, 1)
        return points, slopes / lengths(slopes)[..., None]


def _steps(places: Floats, ways: Floats, there: Floats, ways_there: Floats, nothing: float) -> Floats:
    """What carries vectors from places and ways (m, 3) to others, (m, 3, 3): they are mirrored half-way, and again so that the ways agree.

    nothing: mm; a step as short has no direction that could be told from rounding, and carries nothing.
    """
    between = there - places
    reach = np.sum(between * between, axis=1)
    far = reach > nothing**2
    first = np.eye(3) - (2 / np.where(far, reach, 1.0))[:, None, None] * between[:, :, None] * between[:, None]
    apart = ways_there - (first @ ways[:, :, None])[:, :, 0]  # twice as long as a unit vector where the line is straight
    square = np.sum(apart * apart, axis=1)
    second = np.eye(3) - (2 / np.where(square > 1e-12, square, 1.0))[:, None, None] * apart[:, :, None] * apart[:, None]
    return np.asarray(np.where(far[:, None, None], second @ first, np.eye(3)), dtype=np.float64)


def _one_after_the_other(steps: Floats) -> Floats:
    """The products of matrices (m, 3, 3) from the first to each: those of pairs, of fours, and so on (Hillis & Steele 1986)."""
    found, reach = steps.copy(), 1
    while reach < len(found):
        found[reach:] = found[reach:] @ found[:-reach]
        reach *= 2
    return found
