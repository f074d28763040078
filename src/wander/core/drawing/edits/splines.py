"""Splines through points: parts of them and further points on them, exactly; other curves drawn anew as splines, within a tolerance."""

from __future__ import annotations

from bisect import bisect
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from wander.core.drawing.curves.pieces import Positions, pace_at, places_along, spline_curve
from wander.core.drawing.edits.sheet import CannotDraw, Sheet
from wander.core.drawing.model import AnyCurve, DrawnBeside, DrawnFoil, DrawnLine, DrawnSpline, DrawnTrace, Handle
from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameter, closest_parameters
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import move_seam, split
from wander.core.geometry.interpolate import spread_parameters
from wander.core.geometry.quadrature import at_length, length

FAITHFUL = 5e-4
"""mm that a spline drawn anew may leave the one it stands for."""
MOST_POINTS = 400
SAME = 1e-7
"""Parameters that are one."""
ON = 1e-6
"""mm within which a place is on a curve."""


@dataclass(frozen=True)
class Mark:
    """A place on a curve that a spline is to run through. at: its parameter. point: an id, or none for a new one.

    sharp: it is a corner. held: the direction there is held. straight: the span after it is straight.
    """

    at: float
    point: str | None = None
    sharp: bool = False
    held: bool = False
    straight: bool = False


def marks_of(curve: DrawnSpline, at: Positions, low: float = 0.0, high: float = 1.0) -> list[Mark]:
    """The points of a spline from one parameter to another as places on that part; of a closed one it may go over the seam, where high <= low.

    The first mark is the last point at or before low, which may lie outside the part. The closing point of a closed spline is not said twice.
    """
    held = {h.at for h in curve.handles}
    places = places_along(curve, at)
    size = high - low
    if curve.closed and size <= 0:
        size += 1.0
        places += [(t + 1.0, i) for t, i in places[1:]]
    first = bisect([t for t, _ in places], low + SAME) - 1
    found = [(t, i) for t, i in places[first:] if t < low + size - (SAME if curve.closed else -SAME)]
    return [Mark((t - low) / size, curve.through[i], i in curve.sharp, i in held, i in curve.straight) for t, i in found]


def part_between(made: Curve, low: float, high: float) -> Curve:
    """The part of a curve between two parameters, over [0, 1]; of a closed one it goes over the seam where high <= low."""
    # beside a knot is at it: two knots a hair apart are no basis
    breaks = made.space.breaks
    low, high = (float(breaks[k]) if abs(breaks[k := int(np.abs(breaks - t).argmin())] - t) < SAME else t for t in (low, high))
    if high <= low:
        made = move_seam(made, low)
        low, high = 0.0, (high - low) % 1.0 or 1.0
    if low > 1e-12:
        made = split(made, low)[1]
    if high < 1 - 1e-12:
        made = split(made, high)[0]
    return Curve(made.space.mapped(0.0, 1.0), made.points)


def add_part(sheet: Sheet, curve: DrawnSpline, low: float, high: float, start: str, end: str) -> str:
    """The part of a spline between two parameters as a spline of its own, through the points that lie in it: the same curve, exactly."""
    first, *inner = (m for m in marks_of(curve, sheet.points, low, high) if m.at < 1.0 - SAME)
    open_ended = curve.ends() is not None
    own = (open_ended and low <= 0.0, open_ended and high >= 1.0)
    last_straight = (inner or [first])[-1].straight
    # a free end stays free; at a cut the curve goes on as it went
    marks = [
        Mark(0.0, start, held=first.held if own[0] else not first.straight, straight=first.straight),
        *inner,
        Mark(1.0, end, held=any(h.at == len(curve.through) - 1 for h in curve.handles) if own[1] else not last_straight),
    ]
    made = part_between(sheet.geometry(curve), low, high)
    first_lent, last_lent = lent_to(sheet, curve)
    # a span that is cut is another one
    lent = (own[0] and bool(inner) and first_lent, own[1] and bool(inner) and last_lent)
    return sheet.add_curve(type="spline", construction=curve.construction, **spline_through(sheet.add_point, made, with_knots(marks, made, lent)))


def with_knots(marks: Sequence[Mark], made: Curve, lent: tuple[bool, bool] = (False, False)) -> list[Mark]:
    """Marks, and further ones where a curve has knots beside them: where it was led with a curvature it has one more.

    lent: whether a neighbour goes on to lend its curvature to the first and to the last span, and so to give them their knot.
    """
    places = np.array([m.at for m in marks] + [1.0])
    low, high = marks[1].at if lent[0] else 0.0, marks[-2].at if lent[1] else 1.0
    further = [Mark(float(t)) for t in made.space.breaks[1:-1] if low < t < high and np.abs(places - t).min() > SAME]
    return sorted([*marks, *further], key=lambda m: m.at)


def lent_to(sheet: Sheet, curve: DrawnSpline) -> tuple[bool, bool]:
    """Whether the first and the last span of a spline have a knot more for a curvature that a neighbour lends."""
    if curve.closed:
        return False, False
    last, own = len(curve.through) - 1, {h.at for h in curve.handles if h.bend is not None}
    places = [t for t, _ in places_along(curve, sheet.points)]
    breaks = sheet.geometry(curve).space.breaks

    def parted(span: int) -> bool:
        return bool(np.any((breaks > places[span] + SAME) & (breaks < places[span + 1] - SAME)))

    return not own & {0, 1} and parted(0), not own & {last - 1, last} and parted(last - 1)


def spline_through(add_point: Callable[[Floats], str], made: Curve, marks: Sequence[Mark], *, closed: bool = False) -> dict[str, Any]:
    """The fields of a spline that runs as a curve does, which is a cubic with knots at the marks alone, or straight between them.

    What is held in the marks gets the direction and the speed of the curve there. made: over [0, 1], from the first mark to the last; a closed one
    has its first mark once. add_point: where a mark has no point yet, gives it one.
    """
    u = np.array([m.at for m in marks] + ([1.0] if closed else []))
    ring = made(u)
    spacing = np.diff(u) / np.sqrt(np.linalg.norm(np.diff(ring, axis=0), axis=1))
    spacing /= np.median(spacing)
    handles = []
    for k, mark in enumerate(marks):
        if not mark.held:
            continue
        # on the side that is bent; at the seam that may be the end
        before = mark.straight or k == len(u) - 1
        t = (1.0 if k == 0 else np.nextafter(u[k], 0.0)) if before and (k or closed) else u[k]
        x, y = made.derivatives(float(t), 1)[1]
        pull = float(np.hypot(x, y)) / pace_at(ring, u, k, closed=closed)
        handles.append({"at": k, "angle": float(np.degrees(np.arctan2(y, x))), "pull": min(max(pull, 1e-6), 20.0)})
    return {
        "through": [m.point or add_point(p) for m, p in zip(marks, ring, strict=False)],
        "sharp": [k for k, m in enumerate(marks) if m.sharp],
        "straight": [k for k, m in enumerate(marks) if m.straight],
        "handles": handles,
        "spacing": [] if np.allclose(spacing, 1.0, rtol=0, atol=1e-12) else spacing.tolist(),
    }


def insert_point(sheet: Sheet, curve: DrawnSpline, after: int, at: tuple[float, float] | None) -> str:
    """A point in a span of a spline: in its middle, or at a place. On the curve it leaves the curve as it is."""
    made, marks = sheet.geometry(curve), marks_of(curve, sheet.points)
    if curve.closed:
        # counted from its first point, wherever it is put together
        begun = next(t for t, i in places_along(curve, sheet.points) if i == 0)
        made, marks = part_between(made, begun, begun), marks_of(curve, sheet.points, begun, begun)
    elif after + 1 >= len(marks):
        raise CannotDraw("after its last point a spline has no span")
    low, high = marks[after].at, marks[after + 1].at if after + 1 < len(marks) else 1.0
    t = (low + high) / 2 if at is None else min(max(closest_parameter(made, np.array(at)), low), high)
    if low < t < high and (at is None or np.linalg.norm(made(t) - at) < ON):
        new = Mark(t, sheet.add_point(made(t)), straight=marks[after].straight)
        first_lent, last_lent = lent_to(sheet, curve)
        lent = (first_lent and after > 0, last_lent and after < len(marks) - 2)
        all_marks = with_knots([*marks[: after + 1], new, *marks[after + 1 :]], made, lent)
        sheet.put(curve, **spline_through(sheet.add_point, made, all_marks, closed=curve.closed))
        return str(new.point)
    point = sheet.add_point(at if at is not None else made(t))

    def moved(i: int) -> int:
        return i + 1 if i > after else i

    sheet.put(
        curve,
        through=[*curve.through[: after + 1], point, *curve.through[after + 1 :]],
        sharp=[moved(i) for i in curve.sharp],
        straight=sorted({moved(i) for i in curve.straight} | ({after + 1} if after in curve.straight else set())),
        handles=[{**h.model_dump(exclude_none=True), "at": moved(h.at)} for h in curve.handles],
        spacing=[*curve.spacing[: after + 1], *curve.spacing[after:]],
    )
    return point


def redraw(sheet: Sheet, curve: AnyCurve, count: int) -> None:
    """A spline through so many points in place of a round or a foil: as near as that many allow. Raises CannotDraw for other curves."""
    if isinstance(curve, DrawnLine | DrawnSpline | DrawnTrace | DrawnBeside):
        raise CannotDraw("rounds, foils and splines by control points are drawn anew as splines through points; this curve is none of them")
    made, ends = sheet.geometry(curve), curve.ends()
    u = np.linspace(0.0, 1.0, count + (ends is None))
    known = {0.0: ends[0], 1.0: ends[1]} if ends is not None else {}
    if isinstance(curve, DrawnFoil):
        known = {0.0: curve.end, 0.5: curve.start}
    marks = [
        Mark(float(t), known.get(float(t)), sharp=isinstance(curve, DrawnFoil) and k == 0, held=ends is not None and t in (0.0, 1.0))
        for k, t in enumerate(u[: count if ends is None else None])
    ]
    fields = spline_through(sheet.add_point, made, marks, closed=ends is None)
    sheet.add_curve(type="spline", closed=ends is None, construction=curve.construction, **fields)
    sheet.drop([curve.id])


def add_like(sheet: Sheet, curve: Curve, start: str | None, end: str | None, construction: bool) -> tuple[str, float]:
    """A spline through points within FAITHFUL of a smooth open curve, from a given point to another. Returns its id and how far it is off, mm."""
    tangents = curve.derivatives(np.array(curve.domain), 1)[1]
    angles = np.degrees(np.arctan2(tangents[:, 1], tangents[:, 0]))
    spans = max(2, len(curve.space.breaks) - 1)
    while True:
        u = _even_chords(curve, spans)
        points = curve(u)
        handles, missed = _with_speeds(curve, u, points, angles)
        if missed <= FAITHFUL or spans * 2 > MOST_POINTS:
            break
        spans *= 2
    ids = [start if start is not None else sheet.add_point(points[0])]
    ids += [sheet.add_point(p) for p in points[1:-1]]
    ids.append(end if end is not None else sheet.add_point(points[-1]))
    return sheet.add_curve(type="spline", through=ids, handles=handles, construction=construction), missed


def _even_chords(curve: Curve, spans: int) -> Floats:
    return at_length(curve, np.linspace(0.0, length(curve), spans + 1))


def _with_speeds(curve: Curve, u: Floats, points: Floats, angles: Floats) -> tuple[list[dict[str, Any]], float]:
    """Handles that hold the direction at both ends, and how far the spline through the points is off."""
    at = {f"p{i}": (float(x), float(y)) for i, (x, y) in enumerate(points)}
    handles = [Handle(at=0, angle=float(angles[0])), Handle(at=len(points) - 1, angle=float(angles[1]))]
    trial = DrawnSpline(id="c0", through=list(at), handles=handles)
    made = spline_curve(trial, at)
    knots = spread_parameters(points)
    inside = (knots[:-1, None] + np.diff(knots)[:, None] * np.array([0.25, 0.5, 0.75])).ravel()
    there = made(inside)
    missed = float(np.linalg.norm(curve(closest_parameters(curve, there)) - there, axis=1).max())
    return [h.model_dump(exclude_none=True) for h in handles], missed
