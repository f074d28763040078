"""A rail as later steps use it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from wander.core.bodies.body import Copy
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import transformed
from wander.core.geometry.frame import Frame
from wander.core.geometry.motions import Motion, after, back


@dataclass(frozen=True)
class Rail:
    """A curve in space over [0, 1]. frame: the plane of a drawn one. spans: where each curve of that begins, and its id.

    places: of edges that are meant on every copy in their body, the copies, with the motions from the one that the curve lies on: this one first.
    more: further runs of edges that belong to it, which what is swept along it follows too. called: what tells one of those from the others.
    """

    curve: Curve
    closed: bool
    frame: Frame | None = None
    spans: tuple[tuple[float, str], ...] = ()
    places: tuple[Copy, ...] = ()
    more: tuple[Rail, ...] = ()
    called: str = ""

    @property
    def runs(self) -> tuple[Rail, ...]:
        """Itself, and the runs that belong to it."""
        return self, *self.more

    def moved(self, motion: Motion) -> Rail:
        """Its image under an isometry."""
        matrix, origin = motion.matrix, motion.origin
        flat = self.frame
        return replace(
            self,
            curve=transformed(self.curve, matrix, origin),
            frame=None if flat is None else Frame(matrix @ flat.origin + origin, matrix @ flat.x, matrix @ flat.y),
            places=tuple(Copy(place.suffix, after(motion, after(place.motion, back(motion)))) for place in self.places),
            more=tuple(run.moved(motion) for run in self.more),
        )
