"""Mitred corners of what is swept: on both sides every point runs straight on, or stops short, to the plane that halves the corner."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

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
    found = [list(side) for side in sides]
    count = len(path.pieces)
    shifts = [[np.zeros((2, face.surface.u.count)) for face in side] for side in found]
    for after in sorted(path.corners):
        before = (after - 1) % count
        if all(_meets(side[before], side[after]) for side in found):
            continue
        place = path.pieces[after](0.0)
        if not (is_straight(path.pieces[before]) and is_straight(path.pieces[after])):
            raise CornerBent(place)
        ways = [_way(path, number) for number in (before, after)]
        plane = ways[0] + ways[1]
        for side, shift in zip(found, shifts, strict=True):
            for number, way, end in ((before, ways[0], -1), (after, ways[1], 0)):
                shift[number][end] = (place - side[number].surface.points[:, end]) @ plane / float(way @ plane)
    for number in range(count):
        if not any(shift[number].any() for shift in shifts):
            continue
        way = _way(path, number)
        wanting = max(float((shift[number][0] - shift[number][-1]).max()) for shift in shifts) - float(path.lengths[number])
        if wanting >= 0:
            raise CornerCrowded(path.pieces[number](0.0 if number in path.corners else 1.0), wanting)
        for side, shift in zip(found, shifts, strict=True):
            surface = side[number].surface
            share = surface.v.greville[None, :, None]
            first, last = (shift[number][end][:, None, None] for end in (0, -1))
            side[number] = replace(side[number], surface=replace(surface, points=surface.points + ((1 - share) * first + share * last) * way))
    return found


def _meets(before: NamedFace, after: NamedFace) -> bool:
    first, second = before.surface.points[:, -1], after.surface.points[:, 0]
    return bool(np.abs(first - second).max() < MEETS * max(1.0, float(np.ptp(first, axis=0).max())))


def _way(path: Path, number: int) -> Floats:
    first, last = path.pieces[number].points[[0, -1]]
    return np.asarray((last - first) / np.linalg.norm(last - first), dtype=np.float64)
