"""What the ends of a smooth skin ask of its lines: first derivatives there, and for ends that go on from another body its curvature too."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.ends import EndKind, EndPlace, EndShape, derivative, mitre
from wander.core.shaping.lengthwise import Lines
from wander.core.shaping.panels import Panel, neighbours
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.shell import NamedFace

FINE = 64
"""Spans round a strip with which an end follows another body."""
INSIDE = 1e-6
"""A corner belongs to two faces of the other body: each strip asks a hair inside it."""
STILL = 1e-9
ONE_PLANE = 1e-3
"""Sine of the angle between two tangent planes below which they are one."""


class OneBatten(BadInput):
    """A natural cubic through all sections has no second derivative to spare at its ends."""


def end_rows(strips: Sequence[Panel], sections: Sequence[PlacedSection], v: Floats, ends: tuple[EndShape, EndShape]) -> dict[int, list[Floats]]:
    """For each end (0 or -1) at which something is asked of the skin: first derivatives along it, a row (n, 3) for each strip."""
    leads = [i for i, s in enumerate(sections) if s.share is None]
    found = {}
    for index, neighbour, end in ((0, leads[1], ends[0]), (-1, leads[-2], ends[1])):
        section = sections[index]
        if end.kind is EndKind.FREE or section.is_point != (end.kind is EndKind.DOMED):
            continue
        inwards = sections[neighbour].center - section.center
        normal = section.frame.z if float(section.frame.z @ inwards) >= 0 else -section.frame.z
        step = float(v[neighbour] - v[index])
        reach = float(np.mean(np.concatenate([lengths(strip.rows[neighbour] - strip.rows[index]) for strip in strips])))
        if end.onto is not None:
            found[index] = _going_on(strips, index, end, normal, end.fullness * reach / step)
            continue
        mitres = _mitres(strips, index, normal if index == 0 else -normal)
        found[index] = [
            derivative(end, EndPlace(strip.space, strip.rows[index], strip.rows[neighbour], step, normal, reach, None if strip.closed else pair))
            for strip, pair in zip(strips, mitres, strict=True)
        ]
    return found


def _mitres(strips: Sequence[Panel], index: int, travel_there: Floats) -> list[tuple[Floats, Floats]]:
    """For each strip, how the corners at its two sides move when the outline grows."""
    first = [strip.space.evaluate(strip.rows[index], np.array([0.0]), 1)[0] for strip in strips]
    last = [strip.space.evaluate(strip.rows[index], np.array([1.0]), 1)[0] for strip in strips]
    if any(np.linalg.norm(t) < 1e-12 for t in (*first, *last)):
        return [(np.zeros(3), np.zeros(3))] * len(strips)
    beside = neighbours(len(strips), open_=strips[0].open)
    return [
        (
            mitre(first[i] if before == i else last[before], first[i], travel_there),
            mitre(last[i], last[i] if after == i else first[after], travel_there),
        )
        for i, (before, after) in enumerate(beside)
    ]


def fine_enough(space: SplineSpace) -> SplineSpace:
    """A space in which what another body asks for can be said."""
    while len(space.breaks) <= FINE:
        space = space.with_knots((space.breaks[:-1] + space.breaks[1:]) / 2)
    return space


def _going_on(strips: Sequence[Panel], index: int, end: EndShape, normal: Floats, size: float) -> list[Floats]:
    """Derivatives (n, 3) that lie in the tangent planes of the body that an end goes on from, square to the outline but at corners, of one length.

    normal: of the station, into the body. size: of the derivatives, below zero at the end of the body.
    """
    assert end.onto is not None
    straight, along, planes = [], [], []
    for strip in strips:
        at = np.clip(strip.space.greville, INSIDE, 1 - INSIDE)
        way = strip.space.evaluate(strip.rows[index], at, 1)
        way /= lengths(way)[:, None]
        plane = end.onto.beside(strip.space.evaluate(strip.rows[index], at)).normals
        square = cross(plane, way)
        straight.append(square * np.where(square @ normal < 0, -1.0, 1.0)[:, None])
        along.append(way)
        planes.append(plane)

    def corner(before: int, after: int) -> Floats:
        return _crossing(planes[before][-1], planes[after][0], straight[before][-1] + straight[after][0])

    found = []
    for i, (strip, (before, after)) in enumerate(zip(strips, neighbours(len(strips), open_=strips[0].open), strict=True)):
        first = straight[i][0] if before == i else corner(before, i)
        last = straight[i][-1] if after == i else corner(i, after)
        share = strip.space.greville[:, None]
        if strip.closed:
            straight[i][-1] = straight[i][0]  # its ends are one
            found.append(strip.space.interpolate(size * straight[i]))
            continue
        ahead = (1 - share) * float(first @ straight[i][0]) + share * float(last @ straight[i][-1])
        aside = (1 - share) * float(first @ along[i][0]) + share * float(last @ along[i][-1])
        found.append(strip.space.interpolate(size * (ahead * straight[i] + aside * along[i])))
    return found


def _crossing(before: Floats, after: Floats, about: Floats) -> Floats:
    """Unit direction in two tangent planes with these normals (3,), the way `about` goes; where they are one, that way itself."""
    both = cross(before, after)
    size = float(np.linalg.norm(both))
    if size < ONE_PLANE:
        return about / max(float(np.linalg.norm(about)), 1e-300)
    return both / size * (1.0 if float(both @ about) >= 0 else -1.0)


def bent_alike(faces: Sequence[NamedFace], lines: Lines, ends: tuple[EndShape, EndShape], *, open_: bool) -> list[Surface]:
    """The faces, where an end asks for it curved along the body like the other body that it goes on from.

    Their second derivatives there move square to the tangent planes, and die out before the next section. open_: the first and the last face don't
    meet. Raises BadInput where lines can't do that.
    """
    surfaces = [face.surface for face in faces]
    for index, end in zip((0, -1), ends, strict=True):
        if end.kind is not EndKind.CURVATURE or end.onto is None:
            continue
        if lines.bends is None:
            raise OneBatten("a skin that is one batten can't be curved like the body that it goes on from: give it a fair skin")
        asked = _bends_asked(surfaces, [face.closed_u for face in faces], index, end, open_=open_)
        surfaces = [
            Surface(s.u, s.v, s.points + s.u.interpolate(values)[:, None] * lines.bends[None, :, index, None])
            for s, values in zip(surfaces, asked, strict=True)
        ]
    return surfaces


def _bends_asked(surfaces: Sequence[Surface], closed: Sequence[bool], index: int, end: EndShape, *, open_: bool) -> list[Floats]:
    """What is to be added to the second derivatives along the body at one end of each face, at the Greville places of its u (n, 3)."""
    assert end.onto is not None
    lacks, planes = [], []
    for surface in surfaces:
        at = np.clip(surface.u.greville, INSIDE, 1 - INSIDE)
        v = np.array([surface.v.domain[index]])
        rows = [surface.v.evaluate(surface.points.transpose(1, 0, 2), v, order)[0] for order in range(3)]
        place, first, second = (surface.u.evaluate(row, at) for row in rows)
        beside = end.onto.beside(place)
        speed = lengths(first)
        moves = speed > STILL * max(float(speed.max()), STILL)
        # where the skin does not set off from its end there is no curvature to be had
        way = first / np.where(moves, speed, 1.0)[:, None]
        asked = np.where(moves, beside.curvature(way) * speed**2, 0.0)
        lacks.append(np.where(moves, asked - np.einsum("mc,mc->m", second, beside.normals), 0.0))
        planes.append(beside.normals)
    found = []
    for i, (surface, (before, after)) in enumerate(zip(surfaces, neighbours(len(surfaces), open_=open_), strict=True)):
        own = lacks[i][:, None] * planes[i]
        if closed[i]:
            own[-1] = own[0]
        else:
            nothing, share = np.zeros(3), surface.u.greville[:, None]
            first = nothing if before == i else _both_ways((lacks[before][-1], lacks[i][0]), (planes[before][-1], planes[i][0])) - own[0]
            last = nothing if after == i else _both_ways((lacks[i][-1], lacks[after][0]), (planes[i][-1], planes[after][0])) - own[-1]
            aside = (1 - share) * first + share * last
            # what is added lies in the tangent plane, and bends nothing
            own = own + aside - np.einsum("mc,mc->m", aside, planes[i])[:, None] * planes[i]
        found.append(own)
    return found


def _both_ways(lacks: tuple[float, float], planes: tuple[Floats, Floats]) -> Floats:
    """The shortest vector (3,) whose parts along two unit normals are these."""
    matrix = np.stack(planes)
    found, *_ = np.linalg.lstsq(matrix, np.array(lacks), rcond=ONE_PLANE)
    return np.asarray(found, dtype=np.float64)
