"""Sweep: areas carried along a path.

Every point of the section runs beside the path in the frames that its attitude gives it, turned and scaled by laws over arc length. The faces follow
that within a tolerance, and exactly where the outcome is a spline itself: straight pieces give extrusions, arcs revolutions. At a corner both
pieces run straight on, or stop short, to the plane that halves it: they are sheared along their way, each point by as much as it needs.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from wander.core.drawing.outlines.area import Area
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.tolerances import Tolerances
from wander.core.shaping.carrying import carried
from wander.core.shaping.laws import Laws
from wander.core.shaping.lengthwise import closed_smoothly, sewn
from wander.core.shaping.mitring import mitred
from wander.core.shaping.naming import number_of
from wander.core.shaping.outline_spans import OutlineSpan, numbers_of_first_curves, spans_of
from wander.core.shaping.path import Path, is_straight
from wander.core.shaping.placing import Placing
from wander.core.shaping.shell import Cap, NamedFace, Shell
from wander.core.shaping.trajectories import Trajectories
from wander.core.shaping.tube import tube_seams

CLOSES = 1e-4
"""mm: a section that comes back as near to itself round a closed path is the same."""


class DoesNotClose(BadInput):
    """Round a closed path the section does not come back to itself; miss: mm."""

    def __init__(self, miss: float) -> None:
        super().__init__(f"round the closed path the section comes back {miss:.3g} mm beside itself")
        self.miss = miss


@dataclass(frozen=True)
class Swept:
    """miss: the largest distance of the faces from where the section is carried, mm, at the places that were looked at."""

    skins: tuple[Shell, ...]
    miss: float


def swept(
    areas: Sequence[Area],
    frame: Frame,
    path: Path,
    placing: Placing,
    *,
    laws: Laws,
    name: str,
    section: str,
    tolerances: Tolerances,
) -> Swept:
    """One skin for each area; along an open outline, that is gone there and back, a sheet.

    frame: of the section. laws: over the length of the path, turned and scaled about the path itself. name: of the body; section: what sides are
    named by. Raises DoesNotClose, and BadInput where a corner can't be mitred.
    """
    trajectories = [Trajectories(path, number, frames, laws) for number, frames in enumerate(placing.held.frames)]
    skins, misses = [], []
    for area in areas:
        skin, miss = _skin(area, frame, trajectories, placing, name, section, area.outer.label if len(areas) > 1 else None, tolerances)
        skins.append(skin.turned() if placing.backwards else skin)
        misses.append(miss)
    return Swept(tuple(skins), max(misses))


def _skin(
    area: Area,
    frame: Frame,
    trajectories: Sequence[Trajectories],
    placing: Placing,
    name: str,
    section: str,
    label: str | None,
    tolerances: Tolerances,
) -> tuple[Shell, float]:
    path = trajectories[0].path
    loops = spans_of(area)
    flat = [span for spans in loops for span in spans]
    local = [placing.local(span.curve.points) for span in flat]
    sides: list[list[NamedFace]] = [[] for _ in flat]
    miss = 0.0
    for trajectory in trajectories:
        suffix = f"^{path.names[trajectory.number]}" if len(trajectories) > 1 else ""
        bare = [
            NamedFace(f"{name}/{number_of(section)}.{span.name}{suffix}", _straight_up(span, points), span.closed)
            for span, points in zip(flat, local, strict=True)
        ]
        found, off = _carried(bare, trajectory, tolerances)
        miss = max(miss, off)
        for side, face in zip(sides, found, strict=True):
            side.append(face)
    ring = path.closed
    sides = mitred(sides, path)
    for side in sides:
        _end_to_end(side, ring=ring)
    faces = [face for side in sides for face in side]
    if ring and path.goes_on:
        faces = closed_smoothly(faces, len(trajectories), bends=False)
    faces = _loops_sewn(faces, loops, len(trajectories), open_=area.outer.open)
    return _shell(faces, loops, frame, trajectories, placing, name, label, ring=ring, open_=area.outer.open), miss


def _straight_up(span: OutlineSpan, local: Floats) -> Surface:
    """The side that a span has in the frames of the path: the same all along it."""
    return Surface(span.curve.space, SplineSpace.from_breaks(1, [0.0, 1.0]), np.stack([local, local], axis=1))


def _carried(bare: Sequence[NamedFace], trajectory: Trajectories, tolerances: Tolerances) -> tuple[list[NamedFace], float]:
    """The faces of one piece of the path, and how far they miss what they follow."""
    breaks = _breaks(trajectory)
    space = _exact_space(trajectory.curve) if trajectory.laws.idle else None
    return carried(bare, trajectory, lambda v: breaks, tolerances, exact=lambda v: space)


def _exact_space(curve: Curve) -> SplineSpace:
    """What holds the outcome where the path is straight or an arc: a straight run is linear, however it is written."""
    return SplineSpace.from_breaks(1, [0.0, 1.0]) if is_straight(curve) and _even(curve) else curve.space


def _even(curve: Curve) -> bool:
    first, last = curve.points[[0, -1]]
    return bool(np.abs(curve.points - first - curve.space.greville[:, None] * (last - first)).max() < 1e-9 * float(np.abs(last - first).max()))


def _breaks(trajectory: Trajectories) -> tuple[Floats, Mapping[float, int]]:
    """Where a fit has to break, and how many derivatives are continuous there: what is beside a path has one less than the path."""
    space = trajectory.curve.space
    least = {
        float(knot): min(max(space.degree - int(count) - 1, 1), 4) for knot, count in zip(space.breaks[1:-1], space.multiplicities[1:-1], strict=True)
    }
    path, number = trajectory.path, trajectory.number
    bounds = path.begins[number : number + 2] / path.length
    for law in trajectory.laws.all:
        for share, smooth in zip(law.space.breaks[1:-1], law.continuity, strict=True):
            if not bounds[0] + 1e-9 < share < bounds[1] - 1e-9:
                continue
            place = path.parameter(number, float(share))
            near = next((b for b in least if abs(b - place) < 1e-9), place)
            least[near] = min(int(smooth), least.get(near, 4))
    return np.array([0.0, *sorted(least), 1.0]), least


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
    frame: Frame,
    trajectories: Sequence[Trajectories],
    placing: Placing,
    name: str,
    label: str | None,
    *,
    ring: bool,
    open_: bool,
) -> Shell:
    bays = len(trajectories)
    offsets = numbers_of_first_curves(loops)
    grids, first = [], 0
    for spans in loops:
        grids.append([[(n, faces[n]) for n in range(first + k * bays, first + (k + 1) * bays)] for k in range(len(spans))])
        first += len(spans) * bays
    seams = []
    for grid, spans, offset in zip(grids, loops, offsets, strict=True):
        caps = (None, None) if ring or open_ else ((len(faces), offset), (len(faces) + 1, offset))
        seams += tube_seams(grid, corners=[span.corner for span in spans], caps=caps, ring=ring, open_=open_)
    ends = () if ring or open_ else _caps(grids, frame, trajectories, placing, name, label)
    return Shell(tuple(faces), ends, (), tuple(seams), closed=not open_)


def _caps(
    grids: Sequence[Sequence[Sequence[tuple[int, NamedFace]]]],
    frame: Frame,
    trajectories: Sequence[Trajectories],
    placing: Placing,
    name: str,
    label: str | None,
) -> tuple[Cap, ...]:
    found = []
    corner = placing.local(np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]]))
    for end, at, trajectory, bay in (("near", 0.0, trajectories[0], 0), ("far", 1.0, trajectories[-1], -1)):
        origin, x, y = trajectory(np.array([at]), corner)[0]
        x = (x - origin) / np.linalg.norm(x - origin)
        y = (y - origin) - ((y - origin) @ x) * x
        plane = Frame(origin, x, y / np.linalg.norm(y))
        way = trajectory.curve.derivatives(at, 1)[1] * (1.0 if at else -1.0)
        # one that looks against the path is turned as a whole afterwards
        if (float(plane.z @ way) < 0) != placing.backwards:
            plane = Frame(plane.origin, plane.y, plane.x)
        chains = [tuple(strip[bay][1].surface.edge("v1" if at else "v0") for strip in grid) for grid in grids]
        found.append(Cap(f"{name}/{end}" if label is None else f"{name}/{end}:{label}", plane, chains[0], tuple(chains[1:])))
    return tuple(found)
