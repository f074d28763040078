"""Curves cut, lengthened and put together. Exact on lines, arcs, circles and splines; a part of an ellipse is drawn anew within 5e-4 mm."""

from __future__ import annotations

import itertools
from collections.abc import Iterable
from dataclasses import replace
from math import radians
from typing import Any

import numpy as np

from wander.core.drawing.curves.crossings import crossings
from wander.core.drawing.curves.pieces import LINE
from wander.core.drawing.edits.sheet import CannotDraw, Sheet
from wander.core.drawing.edits.splines import Mark, add_like, add_part, lent_to, marks_of, part_between, spline_through, with_knots
from wander.core.drawing.holds import MEASURES, fits
from wander.core.drawing.model import AnyCurve, DrawnArc, DrawnBeside, DrawnCircle, DrawnFoil, DrawnLine, DrawnPoles, DrawnSpline, DrawnTrace
from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameter
from wander.core.geometry.conics import smooth_arc
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import join
from wander.core.geometry.quadrature import at_length, length

Spot = tuple[float, float]
NEAR = 1e-6


def trim(sheet: Sheet, curve: AnyCurve, at: Spot) -> None:
    """Take the part of a curve away that lies at a place, up to what crosses it. Without crossings the whole curve goes."""
    _own(sheet, curve)
    made = sheet.geometry(curve)
    stops = _stops(sheet, curve, made)
    if not stops:
        sheet.drop([curve.id])
        return
    t = closest_parameter(made, np.array(at))
    if curve.ends() is None:
        if len(stops) == 1:
            sheet.drop([curve.id])
            return
        following = next((s for s in stops if s[0] > t), stops[0])
        preceding = next((s for s in reversed(stops) if s[0] <= t), stops[-1])
        _keep(sheet, curve, made, [(following, preceding)])
        return
    before = next((s for s in reversed(stops) if s[0] <= t), None)
    after = next((s for s in stops if s[0] > t), None)
    kept: list[tuple[Stop, Stop]] = []
    if before is not None:
        kept.append(((0.0, None), before))
    if after is not None:
        kept.append((after, (1.0, None)))
    _keep(sheet, curve, made, kept)


def _own(sheet: Sheet, curve: AnyCurve) -> None:
    if isinstance(curve, DrawnTrace):
        raise CannotDraw(f"{sheet.called(curve.id)} follows an edge of a body; release it first, or draw beside it")
    if isinstance(curve, DrawnBeside):
        raise CannotDraw(f"{sheet.called(curve.id)} follows {sheet.called(curve.of)}; release it first")


Stop = tuple[float, str | None]
"""A parameter on a curve, and the curve that crosses it there."""


def _stops(sheet: Sheet, curve: AnyCurve, made: Curve) -> list[Stop]:
    found: list[Stop] = []
    for other in sheet.curves.values():
        if other.id == curve.id:
            continue
        if isinstance(other, DrawnTrace | DrawnBeside) and not sheet.has_shape(other):
            continue
        for t, _ in crossings(made, sheet.geometry(other)):
            away = min(float(np.linalg.norm(made(float(t)) - made.points[k])) for k in (0, -1))
            inside = curve.ends() is None or away > NEAR
            if inside and all(abs(t - s) > 1e-7 for s, _ in found):
                found.append((float(t), other.id))
    return sorted(found, key=lambda s: s[0])


def _keep(sheet: Sheet, curve: AnyCurve, made: Curve, kept: list[tuple[Stop, Stop]]) -> None:
    """Only these parts of a curve, new ends held on what cut them; sizes of the whole curve no longer hold."""
    ends = curve.ends()
    points: dict[float, str] = {}

    def point(stop: Stop) -> str:
        t, cutter = stop
        if ends is not None and t in (0.0, 1.0):
            return ends[0 if t == 0.0 else 1]
        if t not in points:
            points[t] = _existing(sheet, made(t), cutter) or _own_point(sheet, curve, made(t)) or sheet.add_point(made(t))
            if cutter is not None and points[t] not in sheet.curves[cutter].points():
                sheet.add_hold("on-curve", [points[t], cutter])
        return points[t]

    new = [_part(sheet, curve, made, a[0], b[0], point(a), point(b)) for a, b in kept]
    first = new[0] if new else None
    for hold_id, hold in list(sheet.holds.items()):
        if curve.id not in hold["of"]:
            continue
        if first is None or hold["type"] in MEASURES - {"radius", "diameter", "angle"} or hold["type"] in ("midpoint", "divided"):
            del sheet.holds[hold_id]
        else:
            others = {p for o in hold["of"] if o != curve.id and o in sheet.curves for p in sheet.curves[o].points()}
            # what holds an end goes with the part that has it
            part = next((n for n in new if others & set(sheet.curves[n].ends() or ())), first)
            of = [part if o == curve.id else o for o in hold["of"]]
            # a part of a foil or an ellipse is a spline, which not everything can hold that held the whole
            if fits(hold["type"], of, sheet.curves):
                sheet.holds[hold_id] = {**hold, "of": of}
            else:
                del sheet.holds[hold_id]
    sheet.drop([curve.id])


def _own_point(sheet: Sheet, curve: AnyCurve, at: Floats) -> str | None:
    """The point of a spline that lies just there."""
    through = curve.through if isinstance(curve, DrawnSpline) else []
    return next((p for p in through if np.linalg.norm(np.subtract(sheet.points[p], at)) < NEAR), None)


def _existing(sheet: Sheet, at: Floats, cutter: str | None) -> str | None:
    """An end of the curve that cuts, where it ends just there."""
    if cutter is None:
        return None
    return next((p for p in sheet.curves[cutter].ends() or () if np.linalg.norm(np.subtract(sheet.points[p], at)) < NEAR), None)


def _part(sheet: Sheet, curve: AnyCurve, made: Curve, low: float, high: float, start: str, end: str) -> str:
    """The part of a curve between two parameters as a curve of its own; of a closed one it may run over the seam."""
    match curve:
        case DrawnLine():
            return sheet.add_curve(type="line", start=start, end=end, construction=curve.construction)
        case DrawnArc() | DrawnCircle():
            return sheet.add_curve(type="arc", center=curve.center, start=start, end=end, construction=curve.construction)
        case DrawnSpline():
            return add_part(sheet, curve, low, high, start, end)
        case DrawnPoles() | DrawnFoil():
            part = part_between(made, low, high)
            return sheet.add_curve(type="spline", construction=curve.construction, **spline_through(sheet.add_point, part, _knots(part, start, end)))
        case _:
            return add_like(sheet, part_between(made, low, high), start, end, curve.construction)[0]


def _knots(part: Curve, start: str, end: str) -> list[Mark]:
    """The knots of a cubic as the places that a spline has to run through to be it; at one of full multiplicity it has a corner."""
    inner = zip(part.space.breaks[1:-1], part.space.multiplicities[1:-1], strict=True)
    return [Mark(0.0, start, held=True), *(Mark(float(t), sharp=int(m) >= part.degree) for t, m in inner), Mark(1.0, end, held=True)]


def extend(sheet: Sheet, curve: AnyCurve, at: Spot) -> None:
    """Lengthen a line or an arc at the end nearer to a place up to the next curve in its way."""
    if not isinstance(curve, DrawnLine | DrawnArc):
        raise CannotDraw("lines and arcs can be extended; pull the end of a spline instead")
    ends = curve.ends()
    which = min((0, 1), key=lambda k: float(np.hypot(sheet.points[ends[k]][0] - at[0], sheet.points[ends[k]][1] - at[1])))
    longer, shared = _longer(sheet, curve, which)
    best: tuple[float, str] | None = None
    for other in sheet.curves.values():
        if other.id == curve.id:
            continue
        for t, _ in crossings(longer, sheet.geometry(other)):
            if t > shared and (best is None or t < best[0]):
                best = (float(t), other.id)
    if best is None:
        raise CannotDraw("nothing lies in the way that this curve would take")
    place = longer(best[0])
    end = ends[which]
    if len(sheet.users(end)) > 1 or any(end in hold["of"] for hold in sheet.holds.values()):
        raise CannotDraw("this end belongs to another curve as well, or is held; take it off first")
    sheet.points[end] = (float(place[0]), float(place[1]))
    there = _existing(sheet, place, best[1])
    if there is not None:
        sheet.replace_point(end, there)
    else:
        sheet.add_hold("on-curve", [end, best[1]])


def _longer(sheet: Sheet, curve: DrawnLine | DrawnArc, which: int) -> tuple[Curve, float]:
    """The way on from one end over [0, 1], and the parameter below which nothing counts."""
    if isinstance(curve, DrawnLine):
        a, b = np.array(sheet.points[curve.start]), np.array(sheet.points[curve.end])
        here, way = (a, a - b) if which == 0 else (b, b - a)
        long = float(np.linalg.norm(way))
        if long < 1e-9:
            raise CannotDraw("this line has no length, and so no way to go on; pull its ends apart first")
        spread = np.ptp(np.array(list(sheet.points.values())), axis=0).max() + long
        far = here + way / long * 4 * spread
        return Curve(LINE, np.stack([here, far])), 1e-9
    made = sheet.geometry(curve)
    center = np.array(sheet.points[curve.center])
    begin, end = (np.arctan2(*(p - center)[::-1]) for p in (made.points[0], made.points[-1]))
    sweep = float((end - begin) % (2 * np.pi))
    radius = float(np.linalg.norm(made.points[0] - center))
    rest = 2 * np.pi - sweep
    at = (float(center[0]), float(center[1]))
    return (smooth_arc(at, radius, float(end), rest) if which == 1 else smooth_arc(at, radius, float(begin), -rest)), 1e-9


def split_curve(sheet: Sheet, curve: AnyCurve, at: Spot | None, parts: int) -> list[str]:
    """Two curves that meet at a place, or equal parts by length. Returns the ids of the parts."""
    _own(sheet, curve)
    made = sheet.geometry(curve)
    if at is not None:
        stops = [closest_parameter(made, np.array(at))]
        if curve.ends() is None:
            stops.append((stops[0] + 0.5) % 1.0)
    else:
        total = length(made)
        first = 1 if curve.ends() is not None else 0
        stops = at_length(made, total * np.arange(first, parts) / parts).tolist()
    stops = sorted(stops)
    if any(curve.ends() is not None and not 1e-6 < t < 1 - 1e-6 for t in stops):
        raise CannotDraw("this place is the end of the curve")
    marks: list[Stop] = [(t, None) for t in stops]
    if curve.ends() is not None:
        marks = [(0.0, None), *marks, (1.0, None)]
        pairs = list(itertools.pairwise(marks))
    else:
        pairs = list(zip(marks, [*marks[1:], marks[0]], strict=True))
    before = set(sheet.curves)
    _keep(sheet, curve, made, pairs)
    new = [c for c in sheet.curves if c not in before]
    if isinstance(curve, DrawnLine):
        # the parts stay in one line until one of them is bent on purpose
        for one, other in itertools.pairwise(new):
            sheet.add_hold("parallel", [one, other])
    return new


def join_curves(sheet: Sheet, first: AnyCurve, second: AnyCurve) -> None:
    """One curve of two that go on in each other; otherwise their nearest ends become one point."""
    if first.ends() is None or second.ends() is None:
        raise CannotDraw("a closed curve has no end to join")
    near = min(
        ((p, q) for p in first.ends() or () for q in second.ends() or ()),
        key=lambda pair: sheet.apart(*pair),
    )
    if near[0] != near[1]:
        sheet.replace_point(near[1], near[0])
        return
    point = near[0]
    if any(c.id not in (first.id, second.id) for c in sheet.users(point)):
        raise CannotDraw("a third curve ends in this point")
    if isinstance(first, DrawnLine) and isinstance(second, DrawnLine) and _in_line(sheet, first, second):
        _merged(sheet, first, second, point, "line")
    elif isinstance(first, DrawnArc) and isinstance(second, DrawnArc) and _on_one_circle(sheet, first, second):
        _merged(sheet, first, second, point, "arc")
    elif isinstance(first, DrawnSpline) and isinstance(second, DrawnSpline):
        _joined_splines(sheet, first, second, point)
    else:
        raise CannotDraw("these two share their end already, and don't go on in each other as one line, arc or spline")


def _in_line(sheet: Sheet, first: DrawnLine, second: DrawnLine) -> bool:
    (a, b), (c, d) = ((np.array(sheet.points[p]) for p in line.points()) for line in (first, second))
    u, v = b - a, d - c
    return bool(abs(u[0] * v[1] - u[1] * v[0]) < 1e-7 * np.linalg.norm(u) * np.linalg.norm(v))


def _on_one_circle(sheet: Sheet, first: DrawnArc, second: DrawnArc) -> bool:
    return first.center == second.center or sheet.apart(first.center, second.center) < 1e-6


def _merged(sheet: Sheet, first: DrawnLine | DrawnArc, second: DrawnLine | DrawnArc, point: str, kind: str) -> None:
    ends = [p for p in (*first.ends(), *second.ends()) if p != point]
    if isinstance(first, DrawnArc):
        assert isinstance(second, DrawnArc)
        if first.start == point:
            first, second = second, first
        if len(ends) != 2:
            sheet.add_curve(type="circle", center=first.center, radius=sheet.apart(first.start, first.center))
        else:
            sheet.put(first, end=second.end)
    else:
        sheet.put(first, start=ends[0], end=ends[1])
    for hold in sheet.holds.values():
        hold["of"] = [first.id if o == second.id else o for o in hold["of"]]
    for hold_id, hold in list(sheet.holds.items()):
        of_the_whole = hold["type"] in ("length", "midpoint", "divided") and first.id in hold["of"]
        if len(set(hold["of"])) < len(hold["of"]) or point in hold["of"] or of_the_whole:
            del sheet.holds[hold_id]
    sheet.drop([second.id] if len(ends) == 2 else [first.id, second.id])
    if not sheet.users(point):
        sheet.points.pop(point, None)


def _joined_splines(sheet: Sheet, first: DrawnSpline, second: DrawnSpline, point: str) -> None:
    """One spline through the points of both, with a corner where they meet at an angle."""
    one = first if first.through[-1] == point else _backwards(first)
    other = second if second.through[0] == point else _backwards(second)
    parts = [sheet.geometry(one), sheet.geometry(other)]
    (ax, ay), (bx, by) = parts[0].derivatives(1.0, 1)[1], parts[1].derivatives(0.0, 1)[1]
    corner = bool(abs(np.arctan2(ax * by - ay * bx, ax * bx + ay * by)) > radians(0.1))
    # each part is run through at its own pace; where they go on in each other the second takes up the speed of the first
    share = float(np.hypot(bx, by) / np.hypot(ax, ay)) if not corner else length(parts[1]) / length(parts[0])
    whole = join(parts, [1.0, share], [False])
    met = 1 / (1 + share)
    before, after = marks_of(one, sheet.points), marks_of(other, sheet.points)
    straight = (before[-2].straight, after[0].straight)
    marks = [
        *(replace(m, at=m.at * met) for m in before[:-1]),
        Mark(met, point, sharp=corner, held=not corner and not any(straight), straight=straight[1]),
        *(replace(m, at=met + m.at * (1 - met)) for m in after[1:]),
    ]
    sheet.put(first, **spline_through(sheet.add_point, whole, with_knots(marks, whole, (lent_to(sheet, one)[0], lent_to(sheet, other)[1]))))
    for hold in sheet.holds.values():
        hold["of"] = [first.id if o == second.id else o for o in hold["of"]]
    sheet.holds = {i: h for i, h in sheet.holds.items() if len(set(h["of"])) == len(h["of"])}
    sheet.drop([second.id])
    left = {p for curve in sheet.curves.values() for p in curve.points()} | {o for hold in sheet.holds.values() for o in hold["of"]}
    for p in {*one.through, *other.through} - left:
        sheet.points.pop(p, None)


def _backwards(curve: DrawnSpline) -> DrawnSpline:
    last = len(curve.through) - 1
    changes: dict[str, Any] = {
        "through": curve.through[::-1],
        "sharp": sorted(last - i for i in curve.sharp),
        "straight": sorted(last - 1 - i for i in curve.straight),
        "handles": [h.turned(h.angle + 180, mirrored=True).model_copy(update={"at": last - h.at}) for h in curve.handles],
        "spacing": curve.spacing[::-1],
    }
    return curve.model_copy(update=changes)


def chain_of(sheet: Sheet, curves: Iterable[str]) -> list[tuple[AnyCurve, bool]]:
    """Curves in the order in which they follow each other, and whether each is run forwards. Raises CannotDraw where they are no chain."""
    left = {c: sheet.curves[c] for c in curves}
    if len(left) == 1 and next(iter(left.values())).ends() is None:
        return [(next(iter(left.values())), True)]
    if any(c.ends() is None for c in left.values()):
        raise CannotDraw("a closed curve is offset by itself")
    count: dict[str, int] = {}
    for curve in left.values():
        for p in curve.ends() or ():
            count[p] = count.get(p, 0) + 1
    if any(n > 2 for n in count.values()):
        raise CannotDraw("more than two of these curves end in one point, so they are no chain")
    here = next((p for c in left.values() for p in c.ends() or () if count[p] == 1), next(iter(left.values())).ends()[0])  # type: ignore[index]
    found = []
    while left:
        following = next((c for c in left.values() if here in (c.ends() or ())), None)
        if following is None:
            raise CannotDraw("these curves don't follow each other end to end")
        start, end = following.ends() or ("", "")
        forward = start == here
        found.append((following, forward))
        here = end if forward else start
        del left[following.id]
    return found
