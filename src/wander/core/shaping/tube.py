"""The seams of a skin that is made of strips round it, each of one or more bays along it: lofts, extrusions and revolutions alike."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import Literal

import numpy as np

from wander.core.shaping.shell import NamedFace, Seam, Side

NOTHING = 1e-9
"""A side whose control points are no further apart (mm) has shrunk to a point and meets nothing."""


def tube_seams(
    grid: Sequence[Sequence[tuple[int, NamedFace]]],
    *,
    corners: Sequence[str],
    caps: tuple[tuple[int, int] | None, tuple[int, int] | None],
    ring: bool,
    open_: bool = False,
) -> list[Seam]:
    """Where the faces of a tube meet.

    grid: for each strip round the body its bays from start to end, with their numbers in the shell; none for a strip that has shrunk to a line, where
    the caps meet. corners: what the corner is called where
    each strip begins. caps: the number of the cap at either end and of its curve that the first strip ends on; the curves of the further strips
    follow it; None where there is no cap. ring: the end of the tube meets its start. open_: the last strip does not meet the first.
    """
    found: list[Seam] = []
    for strip, bays in enumerate(grid):
        behind = grid[strip - 1]
        if not bays:
            if caps[0] is not None and caps[1] is not None:
                found.append(Seam(Side(caps[0][0], caps[0][1] + strip), Side(caps[1][0], caps[1][1] + strip)))
            continue
        for (number, face), (other, _) in zip(bays, behind, strict=bool(behind)):
            if _long(face, "u0") and not (open_ and strip == 0):
                found.append(Seam(Side(other, "u1"), Side(number, "u0"), corners[strip]))
        for (number, face), (other, _) in pairwise(bays):
            if _long(face, "v1"):
                found.append(Seam(Side(number, "v1"), Side(other, "v0")))
        (first, at_start), (last, at_end) = bays[0], bays[-1]
        if ring:
            found.append(Seam(Side(last, "v1"), Side(first, "v0")))
            continue
        outermost: tuple[tuple[tuple[int, int] | None, int, NamedFace, Literal["v0", "v1"]], ...] = (
            (caps[0], first, at_start, "v0"),
            (caps[1], last, at_end, "v1"),
        )
        for cap, number, face, side in outermost:
            if cap is not None and _long(face, side):
                found.append(Seam(Side(number, side), Side(cap[0], cap[1] + strip)))
    return found


def _long(face: NamedFace, side: Literal["u0", "v0", "v1"]) -> bool:
    points = face.surface.points
    along = points[0] if side == "u0" else points[:, 0 if side == "v0" else -1]
    return bool(np.abs(along - along[0]).max() > NOTHING)
