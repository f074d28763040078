"""Extrusion: an area moved along the normal of its plane, its sides upright or leaning."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from math import tan

import numpy as np

from wander.core.drawing.outlines.area import Area
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.tolerances import DEFAULT, Tolerances
from wander.core.shaping.cut_ends import SQUARE, Slope, with_cut_ends
from wander.core.shaping.leaning import Leaning, leaning_rows
from wander.core.shaping.naming import number_of
from wander.core.shaping.outline_spans import OutlineSpan, numbers_of_first_curves, spans_of
from wander.core.shaping.shell import Cap, NamedFace, Shell
from wander.core.shaping.tube import tube_seams


def extruded(
    areas: Sequence[Area],
    frame: Frame,
    *,
    low: float,
    high: float,
    taper: float = 0.0,
    name: str,
    section: str,
    ends: tuple[str, str] = ("near", "far"),
    slopes: tuple[Slope, Slope] = SQUARE,
    tolerances: Tolerances = DEFAULT,
) -> tuple[Shell, ...]:
    """One skin for each area, or the sheet of an open run, from `low` to `high` mm along the normal of its plane.

    taper: radians by which the sides lean inwards going away from the plane of the drawing, those of an open run to its left. name: of the body;
    section: what sides are named by; ends: what the ends at `low` and `high` are called; slopes: of both, which turn about the origin of the drawing,
    so that the length is that along its normal there. Raises BadInput where it has no length, the sides lean into each other, or lean and are to be
    cut; EndsMeet.
    """
    if taper and slopes != SQUARE:
        raise BadInput("sides that lean can't be cut at an angle; make them upright, or the ends square")
    if high - low < 1e-6:
        raise BadInput("it has no length: both ends are at the same place")
    levels = [low, 0.0, high] if taper and low < -1e-9 and high > 1e-9 else [low, high]
    made = tuple(
        _extruded(area, frame, levels, tan(taper), name, section, ends, area.outer.label if len(areas) > 1 else None, tolerances) for area in areas
    )
    return made if slopes == SQUARE else with_cut_ends(made, areas, frame, high - low, slopes)


def _extruded(
    area: Area,
    frame: Frame,
    levels: list[float],
    lean: float,
    name: str,
    section: str,
    ends: tuple[str, str],
    label: str | None,
    tolerances: Tolerances,
) -> Shell:
    loops = spans_of(area)
    first_curves = numbers_of_first_curves(loops)
    bays = list(pairwise(levels))
    below = ("^low", "^high") if len(bays) > 1 else ("",)
    sides: list[list[list[Surface]]] = [[[] for _ in spans] for spans in loops]
    for a, b in bays:
        for spans, strips in zip(loops, sides, strict=True):
            for strip, surface in zip(strips, _bay(spans, frame, a, b, lean, area.outer.open, tolerances), strict=True):
                strip.append(surface)
    faces: list[NamedFace] = []
    grids = []
    for spans, strips in zip(loops, sides, strict=True):
        grid = []
        for span, surfaces in zip(spans, strips, strict=True):
            row = []
            for surface, suffix in zip(surfaces, below, strict=True):
                row.append((len(faces), NamedFace(f"{name}/{number_of(section)}.{span.name}{suffix}", surface, span.closed)))
                faces.append(row[-1][1])
            grid.append(row)
        grids.append(grid)
    seams = []
    sheet = area.outer.open
    for grid, spans, offset in zip(grids, loops, first_curves, strict=True):
        ends_on = (None, None) if sheet else ((len(faces), offset), (len(faces) + 1, offset))
        seams += tube_seams(grid, corners=[s.corner for s in spans], caps=ends_on, ring=False, open_=sheet)
    if sheet:
        return Shell(tuple(faces), (), (), tuple(seams), closed=False)
    rims = [[[strip[k].edge(side) for strip in strips] for strips in sides] for k, side in ((0, "v0"), (-1, "v1"))]
    bottom, top = frame.moved(levels[0]), frame.moved(levels[-1])
    caps = tuple(
        Cap(f"{name}/{end}" if label is None else f"{name}/{end}:{label}", plane, tuple(chains[0]), tuple(tuple(c) for c in chains[1:]))
        for end, plane, chains in zip(ends, (Frame(bottom.origin, bottom.y, bottom.x), top), rims, strict=True)
    )
    return Shell(tuple(faces), caps, (), tuple(seams))


def _bay(spans: Sequence[OutlineSpan], frame: Frame, low: float, high: float, lean: float, open_: bool, tolerances: Tolerances) -> list[Surface]:
    """The sides between two levels."""
    if not lean:
        space = SplineSpace.from_breaks(1, [0.0, 1.0])
        return [Surface(s.curve.space, space, np.stack([_lifted(s.curve, frame, h) for h in (low, high)], axis=1)) for s in spans]
    leaning = Leaning(spans, abs(low) * lean, abs(high) * lean, open_)
    return [
        Surface(
            u, v, np.stack([frame.lift(row) + (low + (high - low) * share) * frame.z for row, share in zip(rows, v.greville, strict=True)], axis=1)
        )
        for u, v, rows in leaning_rows(leaning, tolerances)
    ]


def _lifted(curve: Curve, frame: Frame, height: float) -> Floats:
    return frame.lift(curve.points) + height * frame.z
