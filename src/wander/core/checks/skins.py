"""Findings about the skin of a body that take longer than a drag has: looked for when the exact body is there."""

from __future__ import annotations

import numpy as np

from wander.core.bodies.body import Body, mesh_of
from wander.core.bodies.watertight import open_sides
from wander.core.document.findings import Finding, Severity, Where
from wander.core.geometry.tolerances import DEFAULT
from wander.core.shaping.self_crossing import self_crossing

MARKED = 12
"""Places of one kind that are pointed at."""


def check_skins(step: str, body: Body) -> list[Finding]:
    """What is wrong with the own surfaces of a body. step: its id."""
    return [*_crossings(step, body), *_holes(step, body)]


def _holes(step: str, body: Body) -> list[Finding]:
    if not body.closed:
        return []
    gaps = open_sides(mesh_of(body, DEFAULT.display))
    if not len(gaps):
        return []
    return [
        Finding(
            code="skin-open",
            severity=Severity.WARNING,
            step=step,
            title="The skin is not watertight",
            detail=f"It has a gap at {len(gaps)} sides of its triangles, some of them marked. What is printed from it would leak there.",
            where=Where(points=[(float(x), float(y), float(z)) for x, y, z in gaps[:MARKED]]),
        )
    ]


def _crossings(step: str, body: Body) -> list[Finding]:
    crossings = [found for skin in body.skins if (found := self_crossing(skin)) is not None]
    if not crossings:
        return []
    deepest = max(crossing.depth for crossing in crossings)
    places = np.concatenate([crossing.places for crossing in crossings])
    return [
        Finding(
            code="skin-crosses",
            severity=Severity.WARNING,
            step=step,
            title="The skin runs through itself",
            detail=f"At the marked places one part of it passes through another, by {deepest:.2g} mm or more, so there is no saying what is inside. "
            "Smaller sections there, stations further apart, or a path that bends less would keep them apart.",
            where=Where(points=[(float(x), float(y), float(z)) for x, y, z in places]),
        )
    ]
