"""Closed outlines: one curve with its corners and its smooth joints marked."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from wander.core.drawing.outlines.pace import Pace, pace_of
from wander.core.geometry import curve_edits
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.quadrature import gauss_points
from wander.core.geometry.vectors import cross, lengths

RING = 72
"""Places at which outlines are compared. Divisible by 2, 3, 4, 6, 8 and 9: the symmetries that outlines usually have fall on them."""


@dataclass(frozen=True)
class Span:
    """Part of an outline from the parameter `at` on. curve: what it was drawn as. corner: the point where it begins.

    Both are ids of a drawing, or what stands for them in a shape made of a few numbers: what is built on the outline is named by them.
    """

    at: float
    curve: str
    corner: str


@dataclass(frozen=True)
class Loop:
    """A closed polynomial curve over [0, 1], in the plane (mm, 2) or in space (mm, 3).

    corners: parameters where the tangent turns. joints: parameters where the tangent is smooth and the curvature jumps, as
    between a straight and an arc. Both in [0, 1), rising. seam: how many derivatives are continuous where the curve closes.
    spans: what it is made of, by rising parameter. open: it is a run from one end to another, gone there and back: it encloses nothing.
    """

    curve: Curve
    corners: tuple[float, ...] = ()
    joints: tuple[float, ...] = ()
    seam: int = 2
    spans: tuple[Span, ...] = ()
    open: bool = False

    @cached_property
    def moments(self) -> tuple[float, Floats]:
        """Signed area in mm2 and centroid (2,) of a planar loop, by Green's theorem; counter-clockwise is positive.

        An open run has no area, and its centre is the middle between its ends.
        """
        if self.open:
            return 0.0, np.asarray(self.curve(np.array([0.0, 0.5])).mean(axis=0), dtype=np.float64)
        u, w = gauss_points(self.curve.space.breaks, (3 * self.curve.degree) // 2 + 1)
        (x, y), (dx, dy) = (d.T for d in self.curve.derivatives(u, 1))
        area = float(np.sum(w * (x * dy - y * dx)) / 2)
        first = np.array([np.sum(w * x * x * dy), -np.sum(w * y * y * dx)]) / 2
        return area, first / area if area else np.array([x.mean(), y.mean()])

    @property
    def area(self) -> float:
        return self.moments[0]

    @property
    def centroid(self) -> Floats:
        return self.moments[1]

    def reversed(self) -> Loop:
        """The same outline run the other way."""
        return Loop(curve_edits.reverse(self.curve), _mirrored(self.corners), _mirrored(self.joints), self.seam, _turned(self.spans), self.open)

    @cached_property
    def pace(self) -> Pace:
        """How it is run."""
        return pace_of(self.curve)

    @cached_property
    def ring(self) -> Floats:
        """Places (RING, 2 or 3) at even shares of its girth, the first where it begins."""
        shares = np.arange(RING) / RING
        return self.curve(shares if self.pace.is_even else self.pace.parameters(shares))

    def measured(self) -> Loop:
        """This outline, with its pace and its ring known: what every body that is made of it asks for."""
        assert self.ring.shape[0] == RING
        return self

    @property
    def label(self) -> str:
        """What stands for the whole outline in names: the oldest of its curves."""
        return min((span.curve for span in self.spans), key=by_age, default="outline")

    def transformed(self, matrix: Floats, origin: Floats) -> Loop:
        """The image under x -> matrix @ x + origin, which may lift it into space."""
        return replace(self, curve=curve_edits.transformed(self.curve, matrix, origin))

    def turning(self) -> Floats:
        """How far the tangent turns at each corner, radians, (corners,); signed (left is positive) in the plane."""
        if not self.corners:
            return np.zeros(0)
        at = np.array(self.corners)
        # at both sides in one call
        out, into = np.split(self.curve.space.evaluate(self.curve.points, np.concatenate([at + 1e-9, (at - 1e-9) % 1.0]), 1), 2)
        cosine = np.sum(out * into, axis=1)
        if self.curve.points.shape[1] == 3:
            return np.arctan2(lengths(cross(into, out)), cosine)
        return np.arctan2(into[:, 0] * out[:, 1] - into[:, 1] * out[:, 0], cosine)


def opposite(curve: Callable[[Floats], Floats], corner: float) -> float:
    """The parameter of the place of a closed curve over [0, 1] that is farthest from its corner: the nose of a foil, seen from its tail."""
    tip = curve(np.array([corner]))[0]
    at = (corner + np.linspace(0.0, 1.0, 257)[1:-1]) % 1.0
    best = float(at[np.argmax(lengths(curve(at) - tip))])
    for reach in (1 / 256, 1 / 256 / 32, 1 / 256 / 32**2, 1 / 256 / 32**3):
        at = best + reach * np.linspace(-1.0, 1.0, 65)
        best = float(at[np.argmax(lengths(curve(at % 1.0) - tip))])
    return best % 1.0


def by_age(label: str) -> tuple[int, str]:
    """Ids in the order in which they were given: c2 before c10."""
    digits = "".join(c if c.isdigit() else " " for c in label).split()
    return (int(digits[0]) if digits else 0, label)


def _turned(spans: tuple[Span, ...]) -> tuple[Span, ...]:
    """The spans of the outline run the other way: each begins where it ended."""
    found = [Span((1.0 - after.at) % 1.0, span.curve, after.corner) for span, after in zip(spans, [*spans[1:], *spans[:1]], strict=True)]
    return tuple(sorted(found, key=lambda span: span.at))


def _mirrored(marks: tuple[float, ...]) -> tuple[float, ...]:
    return tuple(sorted((1.0 - m) % 1.0 for m in marks))
