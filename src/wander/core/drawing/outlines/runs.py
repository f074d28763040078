"""Open runs: curves that follow each other from one end to another, in a plane."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from wander.core.drawing.outlines.loop import Loop
from wander.core.drawing.outlines.outline import Stretch, outline
from wander.core.geometry import curve_edits
from wander.core.geometry.basis import Floats
from wander.core.geometry.quadrature import at_length, length

PER_SPAN = 24
IMAGE = "m"
"""Behind the id of a curve or a point: its mirror image."""


@dataclass(frozen=True)
class OpenRun:
    """stretches: in their order, each beginning where the one before ends. last: the id of the point where the last one ends."""

    stretches: tuple[Stretch, ...]
    last: str = ""

    @property
    def ends(self) -> Floats:
        """Where it begins and where it ends: (2, 2)."""
        return np.array([self.stretches[0].curve(0.0), self.stretches[-1].curve(1.0)])

    @property
    def ways(self) -> Floats:
        """Unit directions (2, 2) in which it leaves its ends, into itself."""
        out = self.stretches[0].curve.derivatives(0.0, 1)[1], -self.stretches[-1].curve.derivatives(1.0, 1)[1]
        return np.array([way / np.linalg.norm(way) for way in out])

    @cached_property
    def lengths(self) -> list[float]:
        """Of its stretches, mm."""
        return [length(stretch.curve) for stretch in self.stretches]

    @property
    def length(self) -> float:
        return sum(self.lengths)

    def place(self, share: float) -> Floats:
        """The place (2,) at a share of its length, from 0 to 1; 0 and 1 are its ends."""
        left = min(max(share, 0.0), 1.0) * self.length
        for stretch, size in zip(self.stretches, self.lengths, strict=True):
            if left <= size:
                return np.asarray(stretch.curve(at_length(stretch.curve, np.array([left])))[0], dtype=np.float64)
            left -= size
        return np.asarray(self.stretches[-1].curve(1.0), dtype=np.float64)

    def evenly(self, each: int) -> tuple[Floats, Floats]:
        """Shares of its length (m,), so many in each stretch and all ends among them, and the places there (m, 2)."""
        parts = np.arange(1, each + 1) / each
        before = np.cumsum([0.0, *self.lengths[:-1]])
        shares = np.concatenate([b + parts * size for b, size in zip(before, self.lengths, strict=True)]) / self.length
        places = [s.curve(at_length(s.curve, parts * size)) for s, size in zip(self.stretches, self.lengths, strict=True)]
        return np.append(0.0, shares), np.concatenate([self.ends[:1], *places])

    def sampled(self) -> Floats:
        """Places along it (m, 2)."""
        return np.concatenate([stretch.curve.sampled(PER_SPAN if stretch.curve.degree > 1 else 1)[1] for stretch in self.stretches])

    def transformed(self, matrix: Floats, origin: Floats) -> OpenRun:
        moved = (replace(s, curve=curve_edits.transformed(s.curve, matrix, origin)) for s in self.stretches)
        return replace(self, stretches=tuple(moved))

    def reversed(self) -> OpenRun:
        """The same run from its other end."""
        begins = [*(s.corner for s in self.stretches[1:]), self.last]
        turned = [replace(s, curve=curve_edits.reverse(s.curve), corner=corner) for s, corner in zip(self.stretches, begins, strict=True)]
        return OpenRun(tuple(turned[::-1]), self.stretches[0].corner)

    def image(self, matrix: Floats, origin: Floats) -> OpenRun:
        """The image under a map of the plane, with names of its own."""
        moved = self.transformed(matrix, origin)
        named = tuple(replace(s, label=f"{s.label}{IMAGE}", corner=f"{s.corner}{IMAGE}") for s in moved.stretches)
        return OpenRun(named, f"{self.last}{IMAGE}")


def there_and_back(run: OpenRun) -> Loop:
    """The run as a loop that goes to its other end and the same way back, with a corner at both: what lofts take for an open outline."""
    return replace(outline([*run.stretches, *run.reversed().stretches]), open=True)
