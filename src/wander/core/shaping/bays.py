"""Skins of areas that are carried along something, bay by bay: a path, or two rails.

In each bay the section moves as a whole, by one affine map at each place: the motion is fitted, once, and the sides are what it makes of their
points. Bays follow each other at corners.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from wander.core.drawing.outlines.area import Area
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.tolerances import Tolerances
from wander.core.geometry.vectors import lengths
from wander.core.shaping.carrying import fitted
from wander.core.shaping.lengthwise import closed_smoothly, sewn
from wander.core.shaping.moving import Motion, homogeneous
from wander.core.shaping.naming import number_of
from wander.core.shaping.outline_spans import OutlineSpan, numbers_of_first_curves, spans_of
from wander.core.shaping.shell import Cap, NamedFace, Shell
from wander.core.shaping.tube import tube_seams

CLOSES = 1e-4
"""mm: a section that comes back as near to itself round a closed path is the same."""
SEEN = 25
"""Places of each span at which it is looked closely how far a side is off."""
TRIANGLE = np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]])

Sides = list[list[NamedFace]]
"""For each side of a section its faces, bay by bay."""


class DoesNotClose(BadInput):
    """Round a closed path the section does not come back to itself; miss: mm."""

    def __init__(self, miss: float) -> None:
        super().__init__(f"round the closed path the section comes back {miss:.3g} mm beside itself")
        self.miss = miss


@dataclass(frozen=True)
class Bay:
    """motion: over [0, 1]. breaks, least: where a fit has to break, and how many derivatives are continuous there.

    exact: the space that may hold the outcome itself. ways: in which it sets out and arrives, (2, 3). name: of the piece, empty where it is the
    only one and has none.
    """

    motion: Motion
    breaks: Floats
    least: Mapping[float, int]
    exact: SplineSpace | None
    ways: Floats
    name: str


@dataclass(frozen=True)
class Swept:
    """miss: the largest distance of the faces from where the section is carried, mm, at the places that were looked at."""

    skins: tuple[Shell, ...]
    miss: float

    @property
    def rows(self) -> int:
        """Of control points along it, from end to end."""
        first = self.skins[0].faces
        own = [face for face in first if face.name.partition("^")[0] == first[0].name.partition("^")[0]]
        return sum(face.surface.v.count for face in own) - (len(own) - 1)


@dataclass(frozen=True)
class Along:
    """What areas are carried along. local: from the plane of the section, (n, 2), into the frames of the bays, (n, 3).

    ring: the last bay ends where the first begins; goes_on: and without a corner. backwards: the section looks against the way. joined: what is done
    to the sides where bays meet at corners.
    """

    bays: Sequence[Bay]
    local: Callable[[Floats], Floats]
    ring: bool = False
    goes_on: bool = False
    backwards: bool = False
    joined: Callable[[Sides], Sides] = lambda sides: sides


def skinned(areas: Sequence[Area], along: Along, *, name: str, section: str, tolerances: Tolerances, closely: bool = False) -> Swept:
    """One skin for each area; along an open outline, that is gone there and back, a sheet.

    name: of the body; section: what sides are named by. closely: it is looked at more places how far it is off. Raises DoesNotClose, and what
    joining them raises.
    """
    skins, misses = [], []
    for area in areas:
        skin, miss = _skin(area, along, name, section, area.outer.label if len(areas) > 1 else None, tolerances, closely)
        skins.append(skin.turned() if along.backwards else skin)
        misses.append(miss)
    return Swept(tuple(skins), max(misses))


def _skin(area: Area, along: Along, name: str, section: str, label: str | None, tolerances: Tolerances, closely: bool) -> tuple[Shell, float]:
    loops = spans_of(area)
    flat = [span for spans in loops for span in spans]
    local = [homogeneous(along.local(span.curve.points)) for span in flat]
    every = np.concatenate(local)
    bounds = np.cumsum([len(points) for points in local])[:-1]
    sides: Sides = [[] for _ in flat]
    ends: list[Floats] = []
    miss = 0.0
    for bay in along.bays:
        suffix = f"^{bay.name}" if bay.name else ""
        space, controls, off = fitted(bay.motion, partial(_furthest, every), (bay.breaks, bay.least), bay.exact, tolerances)
        points = np.tensordot(every, controls, (1, 1))
        found = [
            NamedFace(f"{name}/{number_of(section)}.{span.name}{suffix}", Surface(span.curve.space, space, own), span.closed)
            for span, own in zip(flat, np.split(points, bounds), strict=True)
        ]
        miss = max(miss, off, *(_off(face.surface, bay, own) for face, own in zip(found, local, strict=True) if closely))
        ends.append(controls[[0, -1]])
        for side, face in zip(sides, found, strict=True):
            side.append(face)
    sides = along.joined(sides)
    for side in sides:
        _end_to_end(side, ring=along.ring)
    faces = [face for side in sides for face in side]
    if along.ring and along.goes_on:
        faces = closed_smoothly(faces, len(along.bays), bends=False)
        if closely and len(along.bays) == 1:
            miss = max(miss, *(_off(face.surface, along.bays[0], points) for face, points in zip(faces, local, strict=True)))
    faces = _loops_sewn(faces, loops, len(along.bays), open_=area.outer.open)
    capped = [] if along.ring or area.outer.open else [ends[0][0], ends[-1][1]]
    return _shell(faces, loops, along, capped, name, label, open_=area.outer.open), miss


def _furthest(points: Floats, apart: Floats) -> Floats:
    """How far (m,) any of the points (n, 4) is led astray by differences of maps (m, 4, 3), mm."""
    return np.asarray(lengths(points @ apart).max(axis=1), dtype=np.float64)


def _off(side: Surface, bay: Bay, points: Floats) -> float:
    """How far a side is from where its control points in the frame (n, 4) move, mm: it is no further off itself."""
    v = np.linspace(0.0, 1.0, SEEN * (len(side.v.breaks) - 1))
    return float(lengths(side.v.evaluate(side.points.transpose(1, 0, 2), v) - points @ bay.motion(v)).max())


def _end_to_end(side: list[NamedFace], *, ring: bool) -> None:
    """The bays of one side, each beginning where the one before ends to the last bit. Raises DoesNotClose."""
    for k in range(len(side) if ring else len(side) - 1):
        before, after = side[k].surface, side[(k + 1) % len(side)].surface
        miss = float(np.abs(before.points[:, -1] - after.points[:, 0]).max())
        if miss > CLOSES:
            raise DoesNotClose(miss)
        points = after.points.copy()
        points[:, 0] = before.points[:, -1]
        side[(k + 1) % len(side)] = replace(side[(k + 1) % len(side)], surface=replace(after, points=points))


def _loops_sewn(faces: list[NamedFace], loops: Sequence[Sequence[OutlineSpan]], bays: int, *, open_: bool) -> list[NamedFace]:
    found, first = [], 0
    for spans in loops:
        count = len(spans) * bays
        found += sewn(faces[first : first + count], len(spans), open_=open_)
        first += count
    return found


def _shell(
    faces: list[NamedFace],
    loops: Sequence[Sequence[OutlineSpan]],
    along: Along,
    capped: Sequence[Floats],
    name: str,
    label: str | None,
    *,
    open_: bool,
) -> Shell:
    """capped: the maps (4, 3) of both ends, where they are capped."""
    bays = len(along.bays)
    offsets = numbers_of_first_curves(loops)
    grids, first = [], 0
    for spans in loops:
        grids.append([[(n, faces[n]) for n in range(first + k * bays, first + (k + 1) * bays)] for k in range(len(spans))])
        first += len(spans) * bays
    seams = []
    for grid, spans, offset in zip(grids, loops, offsets, strict=True):
        caps = ((len(faces), offset), (len(faces) + 1, offset)) if capped else (None, None)
        seams += tube_seams(grid, corners=[span.corner for span in spans], caps=caps, ring=along.ring, open_=open_)
    return Shell(tuple(faces), _caps(grids, along, capped, name, label), (), tuple(seams), closed=not open_)


def _caps(
    grids: Sequence[Sequence[Sequence[tuple[int, NamedFace]]]], along: Along, capped: Sequence[Floats], name: str, label: str | None
) -> tuple[Cap, ...]:
    found = []
    corner = homogeneous(along.local(TRIANGLE))
    for (end, at, number), there in zip((("near", 0, 0), ("far", 1, -1)), capped, strict=False):
        bay = along.bays[number]
        origin, x, y = corner @ there
        x, y = x - origin, y - origin
        x = x / np.sqrt(x @ x)
        y = y - (y @ x) * x
        plane = Frame(origin, x, y / np.sqrt(y @ y))
        outwards = bay.ways[at] * (1.0 if at else -1.0)
        # one that looks against the way is turned as a whole afterwards
        if (float(plane.z @ outwards) < 0) != along.backwards:
            plane = Frame(plane.origin, plane.y, plane.x)
        chains = [tuple(strip[number][1].surface.edge("v1" if at else "v0") for strip in grid) for grid in grids]
        found.append(Cap(f"{name}/{end}" if label is None else f"{name}/{end}:{label}", plane, chains[0], tuple(chains[1:])))
    return tuple(found)
