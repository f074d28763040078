"""Outlines in space told by shares of their girth: what belongs together along a body follows shapes, never how their curves are written."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wander.core.drawing.outlines.loop import Loop, Span
from wander.core.drawing.outlines.pace import Pace, side_by_side
from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.closest import closest_parameters, towards_foot
from wander.core.geometry.curve import Together
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.section import PlacedSection

FOOT_ROUNDS, FOOT_STEP, FOOT_CLOSE = 20, 0.02, 1e-13
"""Rounds of Newton's method for the foot of a point, its longest step, and the step that is the last: by the parameter."""


@dataclass(frozen=True)
class Girth:
    """loop: the outline in space. pace: how it is run, None where its parameter is the share already.

    length: of it, mm. ring: places (RING, 3) at even shares of it. corners, joints, spans: as the loop has them, at shares of the girth. turned:
    whether it runs against its drawing.
    """

    loop: Loop
    pace: Pace | None
    length: float
    ring: Floats
    corners: tuple[float, ...]
    joints: tuple[float, ...]
    spans: tuple[Span, ...]
    turned: bool = False

    @property
    def open(self) -> bool:
        """It goes along a run from one end to the other, and back."""
        return self.loop.open

    def parameters(self, shares: Floats) -> Floats:
        """Parameters of the loop (m,) at shares (m,) of the girth, from 0 to 1."""
        return shares if self.pace is None else self.pace.parameters(shares)

    def shares(self, parameters: Floats) -> Floats:
        return parameters if self.pace is None else self.pace.shares(parameters)

    def as_drawn(self, parameter: float) -> float:
        """A parameter of the loop by that of the outline as it was drawn: of an open one from 0 at its first end to 1 at the other."""
        if self.open:
            return 1.0 - abs(1.0 - 2 * parameter)
        return (1.0 - parameter) % 1.0 if self.turned else parameter

    def drawn_at(self, parameter: float) -> float:
        """The share of the girth at a parameter of the outline as it was drawn; of an open one on the way there."""
        t = parameter / 2 if self.open else ((1.0 - parameter if self.turned else parameter) % 1.0)
        return float(self.shares(np.array([t]))[0])

    def __call__(self, shares: Floats) -> Floats:
        """Points (m, 3)."""
        return self.loop.curve(self.parameters(shares))

    def bends(self, shares: Floats) -> Floats:
        """Curvatures (m,), 1/mm."""
        _, first, second = self.loop.curve.derivatives(self.parameters(shares), 2)
        return np.asarray(np.linalg.norm(cross(first, second), axis=1) / np.linalg.norm(first, axis=1) ** 3, dtype=np.float64)


def girth_of(section: PlacedSection, turned: bool = False) -> Girth:
    """The outline of a section that has one; turned: run the other way. A section that was cut is run as the skin was that it was cut from."""
    assert section.loop is not None
    known = section.loop.pace
    pace = None if section.share is not None or known.is_even else known
    loop, ring = section.in_space_with_ring()
    if turned:
        loop, pace = loop.reversed(), None if pace is None else pace.reversed()
        ring = np.roll(ring[::-1], 1, axis=0)
    marks = [*loop.corners, *loop.joints, *(span.at for span in loop.spans)]
    if pace is None or not any(marks):  # however it is run, it begins at its beginning
        return Girth(loop, pace, known.girth, ring, loop.corners, loop.joints, loop.spans, turned)
    at = pace.shares(np.array(marks)).tolist()
    corners, joints, begins = at[: len(loop.corners)], at[len(loop.corners) : len(marks) - len(loop.spans)], at[len(marks) - len(loop.spans) :]
    spans = tuple(replace(span, at=share) for span, share in zip(loop.spans, begins, strict=True))
    return Girth(loop, pace, known.girth, ring, tuple(corners), tuple(joints), spans, turned)


class Girths:
    """Outlines that are asked for their points together."""

    def __init__(self, girths: Sequence[Girth]) -> None:
        self.each = girths
        self._curves = Together([girth.loop.curve for girth in girths])
        self._pace = None if all(girth.pace is None for girth in girths) else side_by_side([girth.pace for girth in girths])
        self._first = np.arange(len(girths))[:, None]

    def parameters(self, shares: Floats) -> Floats:
        """Parameters (k, m) of the loops at shares (m,) of their girths, or (k, m) with a row for each; from 0 up to, but not, 1."""
        if self._pace is None:
            return np.broadcast_to(shares, (len(self.each), shares.shape[-1]))
        rows = shares + self._first
        return self._pace.parameters(rows.ravel()).reshape(rows.shape)

    def shares(self, which: Ints, parameters: Floats) -> Floats:
        """Shares (m,) of the girths with the numbers which (m,) at parameters (m,) of their loops."""
        if self._pace is None:
            return parameters
        found = parameters.copy()
        for number, girth in enumerate(self.each):
            if girth.pace is not None:
                found[which == number] = girth.pace.shares(parameters[which == number])
        return found

    def __call__(self, shares: Floats) -> Floats:
        """Points (k, m, 3) there."""
        return self._curves(self.parameters(shares))

    def as_drawn(self, shares: Sequence[float]) -> list[float]:
        """The parameters of the outlines, as they were drawn, at one share of each."""
        at = self.parameters(np.array(shares)[:, None] % 1.0)[:, 0].tolist()
        return [girth.as_drawn(t) for girth, t in zip(self.each, at, strict=True)]

    def feet(self, which: Ints, points: Floats, *, within: float) -> tuple[Floats, Floats]:
        """Parameters (m,) of the loops with the numbers which (m,) where they are nearest to points (m, 3), and the places there (m, 3).

        Newton from the nearest place of the ring finds what lies on a loop; what is further off than `within` by it, mm, is sought all along.
        """
        rings = np.stack([girth.ring for girth in self.each])[which]
        first = ((rings - points[:, None]) ** 2).sum(axis=2).argmin(axis=1) / rings.shape[1]
        t = first if self._pace is None else self._pace.parameters(first + which)
        for _ in range(FOOT_ROUNDS):
            place, slope, bend = (self._curves.at(which, t, derivative) for derivative in range(3))
            step = towards_foot(place - points, slope, bend)
            t = (t - np.clip(step, -FOOT_STEP, FOOT_STEP)) % 1.0
            if np.abs(step).max(initial=0.0) < FOOT_CLOSE:
                break
        place = self._curves.at(which, t)
        far = np.flatnonzero(lengths(place - points) > within)
        for number in np.unique(which[far]):
            # a rail that lies in the plane of a section passes it in all of its places
            own, curve = far[which[far] == number], self.each[number].loop.curve
            t[own] = closest_parameters(curve, points[own]) % 1.0
            place[own] = curve(t[own])
        return t, place
