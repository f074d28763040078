"""A rail as later steps use it."""

from __future__ import annotations

from dataclasses import dataclass

from wander.core.bodies.body import Copy
from wander.core.geometry.curve import Curve
from wander.core.geometry.frame import Frame


@dataclass(frozen=True)
class Rail:
    """A curve in space over [0, 1]. frame: the plane of a drawn one. spans: where each curve of that begins, and its id.

    places: of edges that are meant on every copy in their body, the copies, with the motions from the one that the curve lies on: this one first.
    """

    curve: Curve
    closed: bool
    frame: Frame | None = None
    spans: tuple[tuple[float, str], ...] = ()
    places: tuple[Copy, ...] = ()
