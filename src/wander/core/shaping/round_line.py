"""The closed line that a ring of sections goes round where none was drawn: through their centres, and square to those that stand across it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.conics import smooth_arc
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.geometry.interpolate import closed_through
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.section import PlacedSection

ACROSS = np.cos(np.radians(40.0))
"""A section that leans no further against the way through the centres beside it stands across the line."""
ON = 1e-8
"""Of the radius: centres as near to a circle lie on it."""
NOTHING = 1e-6
"""mm."""
SQUARE = 1e-6
"""Between unit ways: sections that stand as near to square to a circle do."""
INSIDE = np.array([0.25, 0.5, 0.75])
"""Shares of the way from one section to the next at which the line is led through places of its own."""


def round_line(sections: Sequence[PlacedSection]) -> Curve:
    """The closed line over [0, 1] from the first section on, through three sections or more: a circle where they stand round one."""
    centers = np.stack([section.center for section in sections])
    ways = _ways(sections, centers)
    circle = _circle(centers, ways)
    if circle is not None:
        return circle
    after, ways_after = np.roll(centers, -1, axis=0), np.roll(ways, -1, axis=0)
    places = np.empty((len(centers), 1 + len(INSIDE), 3))
    places[:, 0] = centers
    for k, (a, b, first, last) in enumerate(zip(centers, after, ways, ways_after, strict=True)):
        there = _arc(a, b, first, INSIDE)
        back = _arc(b, a, -last, 1 - INSIDE)
        places[k, 1:] = there + (back - there) * (INSIDE**2 * (3 - 2 * INSIDE))[:, None]
    return closed_through(places.reshape(-1, 3))


def _ways(sections: Sequence[PlacedSection], centers: Floats) -> Floats:
    """Unit ways of the line at the sections, (k, 3)."""
    before, after = centers - np.roll(centers, 1, axis=0), np.roll(centers, -1, axis=0) - centers
    # that of the circle through three neighbours
    a, b = lengths(before)[:, None], lengths(after)[:, None]
    if a.min() < NOTHING:
        raise BadInput("two sections that follow each other in the ring have one middle; move one of them, or choose a closed centre line")
    through = before / a * b + after / b * a
    if lengths(through).min() < NOTHING:
        raise BadInput("the ring turns straight back at a section; move it, or choose a closed centre line that says how it goes")
    through /= lengths(through)[:, None]
    normals = np.stack([section.frame.z for section in sections])
    facing = np.sum(normals * through, axis=1)
    return np.where((np.abs(facing) > ACROSS)[:, None], normals * np.sign(facing)[:, None], through)


def _circle(centers: Floats, ways: Floats) -> Curve | None:
    """The circle on which the centres lie one after the other, run as the ways say; None where there is none."""
    first, second, third = centers[:3]
    normal = cross(second - first, third - second)
    size = float(np.linalg.norm(normal))
    if size < ON * float(np.ptp(centers, axis=0).max()) ** 2:
        return None
    z = normal / size
    # the centre of the circle through three places
    a, b = second - first, third - first
    middle = first + (cross(cross(a, b), a) * (b @ b) + cross(b, cross(a, b)) * (a @ a)) / (2 * float(cross(a, b) @ cross(a, b)))
    x = first - middle
    radius = float(np.linalg.norm(x))
    x = x / radius
    frame = Frame(middle, x, cross(z, x))
    off = centers - middle
    flat = frame.drop(centers)
    if max(np.abs(off @ z).max(), np.abs(lengths(off) - radius).max()) > ON * radius:
        return None
    turned = np.arctan2(flat[1:, 1], flat[1:, 0]) % (2 * np.pi)
    if np.any(np.diff(turned) <= 0):
        return None
    if np.abs(ways - cross(np.broadcast_to(z, off.shape), off / radius)).max() > SQUARE:
        return None
    arc = smooth_arc((0.0, 0.0), radius, 0.0, 2 * np.pi)
    points = frame.lift(arc.points)
    points[-1] = points[0]
    return Curve(arc.space.mapped(0.0, 1.0), points)


def _arc(start: Floats, end: Floats, way: Floats, shares: Floats) -> Floats:
    """Places (m, 3) at shares of the arc from start to end that begins in the unit direction way."""
    chord = end - start
    reach = float(np.linalg.norm(chord))
    along = chord / reach
    bend = float(np.arccos(np.clip(way @ along, -1.0, 1.0)))
    side = way - (way @ along) * along
    if bend < 1e-9:
        return np.asarray(start + shares[:, None] * chord)
    side = side / np.linalg.norm(side)
    # an arc that turns by twice the angle between its chord and its start
    radius = reach / (2 * np.sin(bend))
    turned = bend - 2 * bend * shares
    across = radius * (np.cos(turned) - np.cos(bend))
    forward = radius * (np.sin(bend) - np.sin(turned))
    return np.asarray(start + forward[:, None] * along + across[:, None] * side)
