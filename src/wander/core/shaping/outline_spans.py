"""An outline as what faces are made from: curves between its corners, each with its name."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from wander.core.drawing.outlines.area import Area
from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import move_seam, split
from wander.core.shaping.edges import numbered
from wander.core.shaping.naming import corner_at, curve_between

HALF = 1e-9
"""Of a girth: what begins nearer to the middle of an open run begins at its end."""


@dataclass(frozen=True)
class OutlineSpan:
    """curve: planar, from corner to corner, or all round where there is none (closed). name: what it was drawn as. corner: where it begins."""

    curve: Curve
    name: str
    corner: str
    closed: bool


def spans_of(area: Area) -> list[list[OutlineSpan]]:
    """The spans of each loop of an area, in order; the names of all of them are different."""
    found = [_spans(loop) for loop in area.loops]
    flat = [span for spans in found for span in spans]
    # one curve that is cut by others stands for several spans: the corner where each begins tells them apart
    names = iter(numbered([span.name for span in flat], [span.corner for span in flat]))
    return [[OutlineSpan(s.curve, next(names).replace("#", "/"), s.corner, s.closed) for s in spans] for spans in found]


def _spans(loop: Loop) -> list[OutlineSpan]:
    if not loop.corners:
        return [OutlineSpan(loop.curve, loop.label, "", True)]
    first = loop.corners[0]
    rest = loop.curve if first == 0.0 else move_seam(loop.curve, first)
    # round a single corner there are two sides, as on a loft: one face that meets itself at a sharp edge is no good
    bounds = [*loop.corners, *([first + 0.5] if len(loop.corners) == 1 else []), first + 1.0]
    alone = len(loop.corners) == 1
    found = []
    for k, (at, following) in enumerate(pairwise(bounds)):
        name = curve_between(loop, at, following - at, starts=not alone or k == 0, ends=not alone or k == 1)
        piece = rest
        if following < bounds[-1]:
            piece, rest = split(rest, following - first)
        found.append(OutlineSpan(_unit(piece), name, corner_at(loop, at % 1.0), False))
    # one that is gone there and back is a sheet: there is nothing on the way back
    return [span for span, at in zip(found, bounds, strict=False) if at < first + 0.5 - HALF] if loop.open else found


def _unit(curve: Curve) -> Curve:
    return Curve(curve.space.mapped(0.0, 1.0), curve.points)


def numbers_of_first_curves(loops: Sequence[Sequence[object]]) -> list[int]:
    """Where the curves of each loop begin among all curves of a cap."""
    found, total = [], 0
    for loop in loops:
        found.append(total)
        total += len(loop)
    return found
