"""A loft of rings: a skin of its own through the holes that belong together, looking into the hole."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import pairwise

import numpy as np

from wander.core.drawing.outlines.area import Area
from wander.core.drawing.outlines.loop import Loop
from wander.core.shaping.loft import Lofted
from wander.core.shaping.loft_report import LoftReport
from wander.core.shaping.shell import Seam, Shell, Side


def holes_along(areas: Sequence[Area]) -> list[list[Loop]]:
    """For each hole of the first area the holes of all others that belong to it, counter-clockwise. All have the same number of them.

    From one to the next the holes are paired that lie and are alike: by the least sum of squares of how far they are from where they lay
    in the area before, and of how much larger or smaller.
    """
    if not areas[0].holes:
        return []
    from scipy.optimize import linear_sum_assignment

    told = [np.array([(*(hole.centroid - area.outer.centroid), np.sqrt(abs(hole.area))) for hole in area.holes]) for area in areas]
    order = np.arange(len(areas[0].holes))
    tracks = [[hole] for hole in areas[0].holes]
    for (before, after), area in zip(pairwise(told), areas[1:], strict=True):
        apart = np.sum((before[order][:, None] - after) ** 2, axis=2)
        order = linear_sum_assignment(apart)[1]
        for track, i in zip(tracks, order.tolist(), strict=True):
            track.append(area.holes[i])
    return [[hole.reversed() if hole.area < 0 else hole for hole in track] for track in tracks]


def hollowed(outer: Lofted, holes: Sequence[Lofted]) -> Lofted:
    """The body less its holes, which go through it from end to end; what is said of it holds for all of its skins."""
    skins = [outer.shell, *(hole.shell.turned() for hole in holes)]
    firsts = np.cumsum([0, *(len(skin.faces) for skin in skins)]).tolist()
    seams: list[Seam] = []
    curves = [0] * len(outer.shell.caps)
    for skin, first in zip(skins, firsts, strict=False):
        seams += [
            replace(s, first=_in_all(s.first, skin, first, firsts[-1], curves), second=_in_all(s.second, skin, first, firsts[-1], curves))
            for s in skin.seams
        ]
        curves = [count + len(cap.boundary) for count, cap in zip(curves, skin.caps, strict=True)]
    caps = tuple(replace(cap, holes=tuple(skin.caps[number].boundary for skin in skins[1:])) for number, cap in enumerate(outer.shell.caps))
    faces = tuple(face for skin in skins for face in skin.faces)
    return replace(outer, shell=Shell(faces, caps, outer.shell.rings, tuple(seams)), report=_together([outer, *holes]))


def _in_all(side: Side, skin: Shell, first: int, faces: int, curves: Sequence[int]) -> Side:
    """A side of one skin as a side of all together. first: number of its first face; curves: how many each cap has of the skins before."""
    cap = side.part - len(skin.faces)
    return Side(first + side.part, side.side) if cap < 0 else Side(faces + cap, curves[cap] + int(side.side))


def _together(lofted: Sequence[Lofted]) -> LoftReport:
    """What was found of all skins; those of holes may go through fewer sections, where some follow that were cut from the outer one."""
    whole = lofted[0].report
    reports = [one.report for one in lofted if len(one.report.wring) == len(whole.wring)]
    largest = np.argmax(np.abs([report.wring for report in reports]), axis=0)
    return replace(
        whole,
        wring=np.array([reports[k].wring[i] for i, k in enumerate(largest.tolist())]),
        deviation=np.max([report.deviation for report in reports], axis=0),
        exact=all(one.report.exact for one in lofted),
        law_deviation=max(one.report.law_deviation for one in lofted),
        folds=np.concatenate([one.report.folds for one in lofted]),
    )
