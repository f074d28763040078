"""Places in space as findings tell them."""

from __future__ import annotations

from wander.core.geometry.basis import Floats

Spot = tuple[float, float, float]


def spot(place: Floats) -> Spot:
    """A place (3,), mm."""
    return float(place[0]), float(place[1]), float(place[2])
