"""Acts that hold a drawing, and let it go: relations and measures put on things, and their numbers."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from math import degrees
from typing import Any

import numpy as np

from wander.core.document import acts as a
from wander.core.document.expressions import Kind, evaluate
from wander.core.document.fields import RailRef
from wander.core.drawing.edits.images import image_of_point
from wander.core.drawing.edits.sheet import CannotDraw, Sheet
from wander.core.drawing.ground import AXES, GROUND
from wander.core.drawing.holding.equations import Equations
from wander.core.drawing.holds import HOLD_WORDS, MEASURES, kind_of, misfit
from wander.core.drawing.model import (
    AnyCurve,
    Drawing,
    DrawnArc,
    DrawnBeside,
    DrawnCircle,
    DrawnEllipse,
    DrawnFoil,
    DrawnLine,
    DrawnPoles,
    DrawnSpline,
    DrawnTrace,
)
from wander.core.geometry.quadrature import at_length, length


def put_hold(sheet: Sheet, kind: str, of: Sequence[str], value: float | str | None, alias: str | None = None) -> None:
    """Raises CannotDraw where a kind of hold does not go with what it is put on."""
    if kind == "coincident" and len(of) == 2 and of[0] == of[1]:
        return  # what was two points is one already
    if kind not in HOLD_WORDS:
        raise CannotDraw(f"there is no hold that is called {kind}")
    if wrong := misfit(kind, of, sheet.curves):
        raise CannotDraw(f"{HOLD_WORDS[kind]}: {wrong}")
    if kind == "distance" and all(isinstance(sheet.curves.get(i), DrawnArc | DrawnCircle) for i in of):
        centers = [c.center for i in of if isinstance(c := sheet.curves[i], DrawnArc | DrawnCircle)]
        if sheet.apart(*centers) > 1e-6:
            raise CannotDraw("only circles and arcs about one centre have a distance; hold them about one centre first")
    if kind in MEASURES and value is None:
        value = round(measured(sheet.points, sheet.curves.values(), kind, of), 6)
    if kind == "curvature" or (kind == "tangent" and {kind_of(i, sheet.curves) for i in of} <= {"spline", "poles"}):
        _have_to_meet(sheet, of)
    if kind == "coincident" and not GROUND & set(of):
        # two points that are one are better one
        kept, gone = of
        sheet.replace_point(gone, kept)
        sheet.aliases |= {k: kept for k, v in sheet.aliases.items() if v == gone}
        return
    sheet.add_hold(kind, of, value, alias)


def put_on_rail(sheet: Sheet, of: Sequence[str], rail: RailRef | None, at: tuple[float, float] | None) -> None:
    """Holds a point where a rail passes; where it is held there already, from the place on that is meant now."""
    if rail is None:
        raise CannotDraw("a point is held where a rail passes: it takes a rail too")
    if len(of) != 1 or of[0] not in sheet.points:
        raise CannotDraw("only a point is held where a rail passes")
    if at is not None:
        sheet.points[of[0]] = at
    there = {"rail": {"step": rail.step}, "at": list(sheet.points[of[0]])}
    held = next((h for h in sheet.holds.values() if h["type"] == "passes" and h["of"] == list(of) and h["rail"]["step"] == rail.step), None)
    if held is None:
        held = sheet.holds[sheet.add_hold("passes", of)]
    held |= there


def _have_to_meet(sheet: Sheet, curves: Sequence[str]) -> None:
    first, second = (set(sheet.curve(name).ends() or ()) for name in curves)
    if not first & second:
        raise CannotDraw("a spline goes on in another curve where they share an end; let their ends meet first")


def hold_things(sheet: Sheet, act: a.HoldThings) -> None:
    of = [sheet.known(i) for i in act.of]
    if act.type == "symmetric" and len(of) == 3 and all(i in sheet.curves for i in of[:2]):
        _symmetric_curves(sheet, of)
        return
    if act.type == "passes":
        put_on_rail(sheet, of, act.rail, act.at)
        return
    put_hold(sheet, act.type, of, act.value)


def _symmetric_curves(sheet: Sheet, of: Sequence[str]) -> None:
    """Two curves of a kind about a line: their points in pairs."""
    first, second = sheet.curve(of[0]), sheet.curve(of[1])
    if first.type != second.type or len(first.points()) != len(second.points()):
        raise CannotDraw("only curves of one kind can be held symmetric to each other")
    partners = second.points()
    if isinstance(first, DrawnArc):
        partners = (partners[0], partners[2], partners[1])
    elif isinstance(first, DrawnLine | DrawnSpline | DrawnPoles | DrawnFoil):
        partners = min((partners, partners[::-1]), key=lambda order: _apart_mirrored(sheet, first.points(), order, of[2]))
    for p, q in zip(first.points(), partners, strict=True):
        if p == q:
            keep_on(sheet, p, of[2])
        else:
            sheet.add_hold("symmetric", [p, q, of[2]])
    if isinstance(first, DrawnCircle | DrawnEllipse):
        sheet.add_hold("equal", of[:2])
    if isinstance(first, DrawnEllipse | DrawnFoil):
        sheet.add_hold("symmetric", of)


def _apart_mirrored(sheet: Sheet, points: Sequence[str], partners: Sequence[str], about: str) -> float:
    """How far points are from the mirror images of others, together, mm."""
    return sum(float(np.hypot(*np.subtract(sheet.points[q], image_of_point(sheet, p, about)))) for p, q in zip(points, partners, strict=True))


def set_measure(sheet: Sheet, act: a.SetMeasure) -> None:
    hold = sheet.holds[sheet.known(act.hold)]
    follower = sheet.curves.get(hold["of"][0])
    if isinstance(follower, DrawnBeside) and evaluate(act.value, Kind.LENGTH, sheet.scope) < 0:
        # to the other side of what it follows
        sheet.put(follower, distance=-follower.distance)
    hold["value"] = act.value


def set_reading(sheet: Sheet, act: a.Reading) -> None:
    hold = sheet.holds[sheet.known(act.hold)]
    if hold["type"] not in MEASURES:
        raise CannotDraw("only a measure can be kept as a number that tells")
    hold["reading"] = act.on


def set_aside(sheet: Sheet, act: a.SetAside) -> None:
    hold = sheet.holds[sheet.known(act.hold)]
    if hold["type"] not in MEASURES:
        raise CannotDraw("only the number of a measure can be moved")
    hold.pop("aside", None)
    if act.by is not None:
        hold["aside"] = list(act.by)


def keep_on(sheet: Sheet, point: str, line: str) -> None:
    """Holds a point on a line or an axis, unless it is already."""
    ends = sheet.curves[line].points() if line in sheet.curves else ()
    at_origin = any(h["type"] in ("fixed", "coincident") and point in h["of"] for h in sheet.holds.values()) and line in AXES
    if point not in ends and not at_origin and not any(h["type"] == "on-curve" and h["of"] == [point, line] for h in sheet.holds.values()):
        sheet.add_hold("on-curve", [point, line])


def divide(sheet: Sheet, act: a.Divide) -> None:
    curve = sheet.curve(act.curve)
    if isinstance(curve, DrawnTrace | DrawnBeside) or curve.ends() is None:
        raise CannotDraw("lines, arcs and open splines are parted into equal lengths; this curve is none of them")
    made = sheet.geometry(curve)
    shares = np.arange(1, act.parts) / act.parts * length(made)
    sheet.add_hold("divided", [curve.id, *(sheet.add_point(place) for place in made(at_length(made, shares)))])


def measured(points: Mapping[str, Any], curves: Iterable[AnyCurve], kind: str, of: Sequence[str]) -> float:
    """What a measure of things comes to now, mm, degrees or shares. Raises ValidationError where it can't be put on them."""
    asked = {"id": "h0", "type": kind, "of": list(of), "value": 0.0 if kind == "angle" else 1.0, "reading": True}
    trial = Drawing.model_validate({"points": points, "curves": [curve.model_dump() for curve in curves], "holds": [asked]})
    [found] = Equations(trial).measured(trial.holds).values()
    return degrees(found) if kind == "angle" else found
