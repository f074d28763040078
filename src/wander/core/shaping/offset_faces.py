"""Sides of a skin at a distance from where they are, each by itself: along its normals, as far as it goes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import GeometryError, NotConverged
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import lengths
from wander.core.shaping.moved_side import Moved
from wander.core.shaping.offset_skin import DEGREE, MOST_SPANS, TooTight, bends_of_space, halved, looks_between, shares_of
from wander.core.shaping.shell import Shell

FOLLOWED = 1e-6
"""mm: how closely the new sides follow the true ones."""
NUDGED = 1e-5
"""Share of its parameters by which a side is left where it has shrunk to a point: it has no normal there."""
POINT = 1e-9


class MeetOthers(GeometryError):
    """Of the sides that are chosen some meet: moved apart they would have to be brought together again."""

    def __init__(self) -> None:
        super().__init__("some of these sides meet each other")


def offset_faces(skin: Shell, chosen: Sequence[int], distance: float, name: Callable[[str], str]) -> Shell:
    """The sheet of sides of a skin, by their numbers, outwards by a distance, mm, inwards below 0; closed where they closed by themselves.

    name: what each is called, from what it was. Raises MeetOthers, TooTight, NotConverged.
    """
    number = {old: new for new, old in enumerate(chosen)}
    inner = [seam for seam in skin.seams if seam.first.part in number and seam.second.part in number]
    if any(seam.first.part != seam.second.part for seam in inner):
        raise MeetOthers
    seams = tuple(
        replace(seam, first=replace(seam.first, part=number[seam.first.part]), second=replace(seam.second, part=number[seam.second.part]))
        for seam in inner
    )
    faces = tuple(
        replace(face, name=name(face.name), surface=face.surface if distance == 0 else _moved(Moved(face.surface, -distance)))
        for face in (skin.faces[k] for k in chosen)
    )
    made = Shell(faces, (), (), seams)
    met = {side for seam in seams for side in ((seam.first.part, seam.first.side), (seam.second.part, seam.second.side))}
    free = [
        (k, side)
        for k, face in enumerate(faces)
        for side in ("u0", "u1", "v0", "v1")
        if (k, side) not in met and np.ptp(face.surface.edge(side).points, axis=0).max() > POINT
    ]
    return replace(made, closed=not free)


def _moved(moved: Moved) -> Surface:
    """The spline surface through a moved side. Raises TooTight, NotConverged."""
    source = moved.surface
    shares, bends = [shares_of(space) for space in (source.u, source.v)], [bends_of_space(space) for space in (source.u, source.v)]
    while True:
        u, v = (SplineSpace.going_on(DEGREE, each, bend) for each, bend in zip(shares, bends, strict=True))
        found = Surface.through(u, v, _places(moved, u.greville, v.greville))
        looks = [looks_between(each) for each in shares]
        off = [
            lengths(found.grid(looks[0], v.greville) - _places(moved, looks[0], v.greville)).max(axis=1) > FOLLOWED,
            lengths(found.grid(u.greville, looks[1]) - _places(moved, u.greville, looks[1])).max(axis=0) > FOLLOWED,
        ]
        if not any(each.any() for each in off):
            return _seams_kept(source, found)
        shares = [halved(each, bad.reshape(len(each) - 1, -1).any(axis=1)) for each, bad in zip(shares, off, strict=True)]
        if max(map(len, shares)) > MOST_SPANS:
            raise NotConverged("a moved side", max(map(len, shares)), FOLLOWED)


def _places(moved: Moved, across: Floats, along: Floats) -> Floats:
    """On a grid of shares: (m, k, 3). Raises TooTight."""
    source = moved.surface
    (u0, u1), (v0, v1) = source.u.domain, source.v.domain
    u, v = u0 + (u1 - u0) * across, v0 + (v1 - v0) * along
    near_u, near_v = _off_points(source, u, v)
    grid = np.broadcast_arrays(near_u[:, None], near_v[None])
    places, room, _ = moved.places(np.ascontiguousarray(grid[0]), np.ascontiguousarray(grid[1]))
    tightest = np.unravel_index(int(np.argmin(room)), room.shape)
    if room[tightest] <= abs(moved.by):
        raise TooTight(places[tightest], float(room[tightest]))
    # where it was looked at a hair away only the normal is taken from there
    return np.asarray(places + source.grid(u, v) - source.grid(near_u, near_v))


def _off_points(surface: Surface, u: Floats, v: Floats) -> tuple[Floats, Floats]:
    """The parameters, those on sides that have shrunk to a point a hair inside."""
    near = []
    for values, space, sides in ((u, surface.u, ("u0", "u1")), (v, surface.v, ("v0", "v1"))):
        low, high = space.domain
        hair = NUDGED * (high - low)
        points = [np.ptp(surface.edge(side).points, axis=0).max() < POINT for side in sides]
        near.append(np.clip(values, low + hair * points[0], high - hair * points[1]))
    return near[0], near[1]


def _seams_kept(source: Surface, made: Surface) -> Surface:
    """What closed to the last bit does so again, and what was a point is one."""
    points = made.points.copy()
    for way, axis in (("u", 0), ("v", 1)):
        rows = np.moveaxis(points, axis, 0)
        ends = [source.edge(f"{way}{k}").points for k in (0, 1)]
        if np.array_equal(ends[0], ends[1]):
            rows[-1] = rows[0]
        for k in (0, -1):
            if np.ptp(ends[k], axis=0).max() < POINT:
                rows[k] = rows[k].mean(axis=0)
    return Surface(made.u, made.v, points)
