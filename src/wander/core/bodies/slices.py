"""Areas of plane sections of a body, read off its mesh: along bodies that have no sections of their own, and wherever one is cut open."""

from __future__ import annotations

import numpy as np

from wander.core.bodies.body import Body, mesh_of
from wander.core.geometry.basis import Floats
from wander.core.geometry.vectors import cross
from wander.core.shaping.display import DisplayMesh

NARROW = 2e-6
"""How near the mesh of own surfaces stays to them where one area is asked for, as a share of the size of the body."""


def area_across(body: Body, axis: Floats, at: float) -> float:
    """Area in mm2 of the section square to the unit vector `axis` (3,), `at` mm along it. What the kernel made is as fine as it is shown."""
    return float(areas(mesh_of(body, NARROW * body.size), axis, np.array([at]))[0])


def areas(mesh: DisplayMesh, axis: Floats, places: Floats) -> Floats:
    """Area in mm2 of the section square to the unit vector `axis` at each of the rising places (m,), mm along it: (m,).

    By Green's theorem over the pieces in which the planes cut the triangles.
    """
    corners = mesh.positions[mesh.triangles]
    heights = corners @ axis
    first = np.searchsorted(places, heights.min(axis=1), side="right")
    count = np.searchsorted(places, heights.max(axis=1), side="right") - first
    which = np.repeat(np.arange(len(count)), count)
    plane = np.repeat(first, count) + np.arange(len(which)) - np.repeat(np.cumsum(count) - count, count)
    p, h, at = corners[which], heights[which], places[plane]
    above = h >= at[:, None]
    # the corner that is alone on its side of the plane, and the two cuts on the sides that leave it
    alone = np.argmax(above == (above.sum(axis=1) == 1)[:, None], axis=1)
    rows = np.arange(len(which))
    cuts = []
    for step in (1, 2):
        other = (alone + step) % 3
        share = (at - h[rows, alone]) / (h[rows, other] - h[rows, alone])
        cuts.append(p[rows, alone] + share[:, None] * (p[rows, other] - p[rows, alone]))
    ahead = cross(axis, cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]))
    turn = np.where(np.sum((cuts[1] - cuts[0]) * ahead, axis=1) < 0, -1.0, 1.0)
    found = np.zeros(len(places))
    np.add.at(found, plane, turn * (cross(cuts[0], cuts[1]) @ axis) / 2)
    return found
