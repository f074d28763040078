"""Mitred corners of what is swept: on both sides every point runs straight on, or stops short, to the plane that halves the corner."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput
from wander.core.shaping.path import Path, is_straight
from wander.core.shaping.shell import NamedFace

MEETS = 1e-9
"""Of the size of a section: what is as near meets without being led anywhere."""


class CornerBent(BadInput):
    """A corner of the path lies where a piece is curved: there is no plane in which both sides meet; place: (3,)."""

    def __init__(self, place: Floats) -> None:
        super().__init__("beside this corner the path is curved, so that there is no plane in which both sides meet")
        self.place = place


class CornerCrowded(BadInput):
    """Between two corners, or to its end, the path is shorter than the section reaches; place: the corner (3,). short: mm that are wanting."""

    def __init__(self, place: Floats, short: float) -> None:
        super().__init__(f"beside this corner the path is {short:.3g} mm shorter than the section reaches")
        self.place, self.short = place, short


def mitred(sides: Sequence[list[NamedFace]], path: Path) -> list[list[NamedFace]]:
    """Faces, for each side of the section one for each piece of the path, led to the planes in which they meet at corners.

    Raises CornerBent, CornerCrowded.
    """
    if not path.corners:
        return [list(side) for side in sides]
    runs = [Run(piece(0.0), _way(path, number) if is_straight(piece) else None) for number, piece in enumerate(path.pieces)]
    return led_to_planes(sides, runs, sorted(path.corners))


@dataclass(frozen=True)
class Run:
    """A bay of what is swept, as mitres see it. begins: its corner (3,). way: its unit direction, None where it is curved."""

    begins: Floats
    way: Floats | None


def led_to_planes(sides: Sequence[list[NamedFace]], runs: Sequence[Run], corners: Sequence[int]) -> list[list[NamedFace]]:
    """Faces, for each side one for each run, sheared along the ways of these to the planes through corners that halve the turn there.

    corners: numbers of the runs that begin at one. What meets already is left as it is. Raises CornerBent, CornerCrowded.
    """
    found = [list(side) for side in sides]
    shifts = [[np.zeros((2, face.surface.u.count)) for face in side] for side in found]
    for after in corners:
        before = (after - 1) % len(runs)
        if all(_meets(side[before], side[after]) for side in found):
            continue
        place, ways = runs[after].begins, (runs[before].way, runs[after].way)
        if ways[0] is None or ways[1] is None:
            raise CornerBent(place)
        plane = ways[0] + ways[1]
        for side, shift in zip(found, shifts, strict=True):
            for number, way, end in ((before, ways[0], -1), (after, ways[1], 0)):
                shift[number][end] = (place - side[number].surface.points[:, end]) @ plane / float(way @ plane)
    for number, run in enumerate(runs):
        if run.way is None or not any(shift[number].any() for shift in shifts):
            continue
        wanting = max(_wanting(side[number].surface.points, shift[number], run.way) for side, shift in zip(found, shifts, strict=True))
        if wanting >= 0:
            raise CornerCrowded(run.begins if number in corners else runs[(number + 1) % len(runs)].begins, wanting)
        for side, shift in zip(found, shifts, strict=True):
            surface = side[number].surface
            share = surface.v.greville[None, :, None]
            first, last = (shift[number][end][:, None, None] for end in (0, -1))
            points = surface.points + ((1 - share) * first + share * last) * run.way
            side[number] = replace(side[number], surface=replace(surface, points=points))
    return found


def _wanting(points: Floats, shift: Floats, way: Floats) -> float:
    """By how much more both ends are led towards each other than they are apart, mm; less than nothing where room is left."""
    return float((shift[0] - shift[-1] - (points[:, -1] - points[:, 0]) @ way).max())


def _meets(before: NamedFace, after: NamedFace) -> bool:
    first, second = before.surface.points[:, -1], after.surface.points[:, 0]
    return bool(np.abs(first - second).max() < MEETS * max(1.0, float(np.ptp(first, axis=0).max())))


def _way(path: Path, number: int) -> Floats:
    first, last = path.pieces[number].points[[0, -1]]
    return np.asarray((last - first) / np.linalg.norm(last - first), dtype=np.float64)
