"""Acts in a drawing, carried out. Each leaves a drawing in which everything that can hold holds."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import cos, degrees, radians, sin
from typing import Any

import numpy as np

from wander.core.document import acts as a
from wander.core.document.expressions import Scope
from wander.core.drawing.edits import cutting, rounding
from wander.core.drawing.edits.begun import Begun
from wander.core.drawing.edits.holds import divide, hold_things, keep_on, put_hold, set_aside, set_measure, set_reading
from wander.core.drawing.edits.images import image_of_point, images
from wander.core.drawing.edits.offset import let_go_of, offset
from wander.core.drawing.edits.sheet import CannotDraw, Sheet
from wander.core.drawing.edits.splines import insert_point, redraw
from wander.core.drawing.ground import GROUND
from wander.core.drawing.holding.solver import Solved, solve
from wander.core.drawing.holds import MEASURES, SHARES
from wander.core.drawing.model import (
    AnyCurve,
    DrawnArc,
    DrawnBeside,
    DrawnCircle,
    DrawnEllipse,
    DrawnFoil,
    DrawnSpline,
    Handle,
)


def perform(raw: dict[str, Any], acts: Sequence[a.Act], scope: Scope) -> dict[str, Any]:
    """The drawing, as it is written, after acts in their order. Raises CannotDraw, or ValidationError where a number is wrong."""
    return performed(Begun(raw, scope), acts)


def performed(begun: Begun, acts: Sequence[a.Act], seen: Callable[[Solved], None] = lambda solved: None) -> dict[str, Any]:
    """The same of a drawing that is known. seen: to be told what comes of it, before it is written."""
    pulled = _only_pulled(begun, acts)
    if pulled is not None:
        # what is seen goes before what is written
        solved = solve(begun.drawing, pulled, known=begun.equations)
        seen(solved)
        sheet = Sheet.of(begun)
    else:
        sheet = Sheet.of(begun)
        solved = _carried_out(sheet, begun, acts)
        seen(solved)
    sheet.settle(solved.drawing)
    return {**begun.raw, **sheet.raw()}


def _only_pulled(begun: Begun, acts: Sequence[a.Act]) -> dict[str, tuple[float, float]] | None:
    """Where points of a drawing are pulled to, if that is all there is to be done."""
    pulled: dict[str, tuple[float, float]] = {}
    for act in acts:
        if not isinstance(act, a.Pull) or not act.points.keys() <= begun.drawing.points.keys():
            return None
        pulled |= act.points
    return pulled


def _carried_out(sheet: Sheet, begun: Begun, acts: Sequence[a.Act]) -> Solved:
    pulled: dict[str, tuple[float, float]] = {}
    for act in acts:
        if isinstance(act, a.Pull):
            pulled |= {sheet.point(p): (x, y) for p, (x, y) in act.points.items()}
            continue
        if isinstance(act, a.HoldThings) and act.type == "fixed":
            # what is fixed stays where it is pulled to, not where it was
            sheet.points |= {p: pulled[p] for p in map(sheet.known, act.of) if p in pulled}
        _DO[type(act)](sheet, act)
    pulled = {p: to for p, to in pulled.items() if p in sheet.points}
    drawing = sheet.drawing()
    return solve(drawing, pulled, known=begun.equations if drawing is begun.drawing else None)


def _add(sheet: Sheet, act: a.Add) -> None:
    for alias, at in act.points.items():
        sheet.add_point(at, alias)
    for fields in act.curves:
        sheet.add_curve(fields.get("id"), **{k: _named(sheet, k, v) for k, v in fields.items() if k != "id"})
    for fields in act.holds:
        of = [sheet.known(i) for i in fields["of"]]
        if fields["type"] == "passes":
            hold_things(sheet, a.HoldThings.model_validate({"act": "hold", **fields, "of": of}))
        else:
            put_hold(sheet, fields["type"], of, fields.get("value"), fields.get("id"))


def _named(sheet: Sheet, field: str, value: Any) -> Any:
    if field in ("start", "end", "center"):
        return sheet.point(value)
    return [sheet.point(v) for v in value] if field in ("through", "poles") else value


def _drop(sheet: Sheet, act: a.Drop) -> None:
    gone = {sheet.known(i) for i in act.things} - GROUND
    if not gone:
        raise CannotDraw("the origin and the axes stay: they are there to hold things to")
    gone |= _images_of_points(sheet, gone)
    let_go_of(sheet, gone, staying=gone)
    sheet.drop(gone)


def _images_of_points(sheet: Sheet, gone: set[str]) -> set[str]:
    """A point taken out of a spline is taken out of its mirror image too."""
    found = set()
    for curve in sheet.curves.values():
        if isinstance(curve, DrawnSpline) and curve.id not in gone and gone & set(curve.through):
            for image in images(sheet, curve):
                found |= {q for p, q in zip(curve.through, image.curve.through, strict=True) if p in gone}
    return found


def _construction(sheet: Sheet, act: a.Construction) -> None:
    for name in act.curves:
        sheet.put(sheet.curve(name), construction=act.on)


def _resize(sheet: Sheet, act: a.Resize) -> None:
    curve = sheet.curve(act.curve)
    if not isinstance(curve, DrawnCircle):
        raise CannotDraw("only a circle is resized by its radius")
    sheet.put(curve, radius=act.radius)


def _points_of(sheet: Sheet, things: Sequence[str]) -> list[str]:
    found: dict[str, None] = {}
    for name in things:
        thing = sheet.known(name)
        found |= dict.fromkeys([thing] if thing in sheet.points else sheet.curve(thing).points())
    return list(found)


def _move(sheet: Sheet, act: a.Move) -> None:
    if act.copy_:
        _copied(sheet, act.things, lambda x, y: (x + act.by[0], y + act.by[1]))
        return
    for p in _points_of(sheet, act.things):
        x, y = sheet.points[p]
        sheet.points[p] = (x + act.by[0], y + act.by[1])


def _in_order(sheet: Sheet, things: Sequence[str]) -> list[AnyCurve]:
    """The curves among things, each before the offsets that follow it. Raises CannotDraw where an offset is there without its curve."""
    found = [curve for name in things if (curve := sheet.curves.get(sheet.known(name))) is not None]
    known = {curve.id for curve in found}
    alone = next((c for c in found if isinstance(c, DrawnBeside) and c.of not in known), None)
    if alone is not None:
        raise CannotDraw(f"{sheet.called(alone.id)} follows {sheet.called(alone.of)}: take both, or release it first")
    return sorted(found, key=lambda curve: isinstance(curve, DrawnBeside))


def _hold_alike(sheet: Sheet, curve: AnyCurve, made: str) -> None:
    """The copy of an offset is held at the distance that was typed for the original."""
    for hold in [h for h in sheet.holds.values() if isinstance(curve, DrawnBeside) and h["of"] == [curve.id]]:
        sheet.add_hold(hold["type"], [made], hold["value"])


def _copied(sheet: Sheet, things: Sequence[str], place: Callable[[float, float], tuple[float, float]]) -> dict[str, str]:
    """A free copy of curves, its points in other places. Returns the new points by the old."""
    curves = _in_order(sheet, things)
    points = {p: sheet.add_point(place(*sheet.points[p])) for p in _points_of(sheet, things)}
    new: dict[str, str] = {}
    for curve in curves:
        fields = curve.model_dump(exclude={"id"})
        new[curve.id] = sheet.add_curve(**{k: _swapped(k, v, points, new) for k, v in fields.items()})
        _hold_alike(sheet, curve, new[curve.id])
    return points


def _swapped(field: str, value: Any, points: dict[str, str], curves: dict[str, str]) -> Any:
    """A field of a curve with other points, and another curve to follow."""
    if field in ("start", "end", "center"):
        return None if value is None else points[value]
    if field == "of" and isinstance(value, str):
        return curves[value]
    return [points[v] for v in value] if field in ("through", "poles") else value


def _turn(sheet: Sheet, act: a.Turn) -> None:
    angle, scale = radians(act.angle), act.scale
    across = scale if act.stretch is None else act.stretch
    c, s = cos(angle), sin(angle)
    before = dict(sheet.points)
    for p in _points_of(sheet, act.things):
        x, y = np.array(sheet.points[p]) - act.about
        x, y = x * across, y * scale
        sheet.points[p] = (act.about[0] + c * x - s * y, act.about[1] + s * x + c * y)
    for name in act.things:
        curve = sheet.curves.get(sheet.known(name))
        if isinstance(curve, DrawnCircle):
            sheet.put(curve, radius=curve.radius * scale)
        elif isinstance(curve, DrawnEllipse):
            sheet.put(curve, width=curve.width * across, depth=curve.depth * scale, turn=curve.turn + degrees(angle))
        elif isinstance(curve, DrawnFoil) and across != scale:
            # stretched along its chord it is as thick and as bent as before, and so less of its chord
            (ax, ay), (bx, by) = before[curve.start], before[curve.end]
            along, up = (across, scale) if abs(bx - ax) >= abs(by - ay) else (scale, across)
            sheet.put(curve, thickness=min(curve.thickness * up / along, SHARES["thickness"][1]), camber=curve.camber * up / along)
        elif isinstance(curve, DrawnBeside):
            sheet.put(curve, distance=curve.distance * scale)
        elif isinstance(curve, DrawnSpline) and curve.handles:
            sheet.put(curve, handles=[h.turned(h.angle + degrees(angle), scale=scale).model_dump(exclude_none=True) for h in curve.handles])
    for hold in sheet.holds.values():
        inside = all(o in act.things or (o in sheet.points and o in _points_of(sheet, act.things)) for o in hold["of"])
        if inside and scale != 1.0 and hold["type"] in MEASURES - {"angle", *SHARES}:
            # a typed size goes with the shape: its expression stays, multiplied
            hold["value"] = hold["value"] * scale if isinstance(hold["value"], int | float) else f"({hold['value']}) * {scale:g}"
        elif inside and hold["type"] == "angle" and len(hold["of"]) == 1:
            hold["value"] = hold["value"] + act.angle if isinstance(hold["value"], int | float) else f"({hold['value']}) + {act.angle:g} deg"


def _mirror(sheet: Sheet, act: a.Mirror) -> None:
    about = sheet.known(act.about)
    start, end = sheet.line(about)
    own = sheet.curves[about].points() if about in sheet.curves else ()
    turn = 2 * degrees(np.arctan2(*(end - start)[::-1]))

    def image(p: str) -> tuple[float, float]:
        return image_of_point(sheet, p, about)

    curves = _in_order(sheet, act.curves)
    on_axis = {p for p in _points_of(sheet, act.curves) if np.hypot(*(np.array(image(p)) - sheet.points[p])) < 1e-7 or p in own}
    points = {p: p if p in on_axis else sheet.add_point(image(p)) for p in _points_of(sheet, act.curves)}
    new: dict[str, str] = {}
    for curve in curves:
        fields = {k: _swapped(k, v, points, new) for k, v in curve.model_dump(exclude={"id"}).items()}
        if isinstance(curve, DrawnArc):
            fields["start"], fields["end"] = fields["end"], fields["start"]
        elif isinstance(curve, DrawnEllipse):
            fields["turn"] = turn - curve.turn
        elif isinstance(curve, DrawnFoil):
            fields["camber"] = -curve.camber
        elif isinstance(curve, DrawnBeside):
            fields["distance"] = -curve.distance
        elif isinstance(curve, DrawnSpline):
            fields["handles"] = [h.turned(turn - h.angle, mirrored=True).model_dump(exclude_none=True) for h in curve.handles]
        made = new[curve.id] = sheet.add_curve(**fields)
        _hold_alike(sheet, curve, made)
        if isinstance(curve, DrawnCircle | DrawnEllipse):
            sheet.add_hold("equal", [curve.id, made])
        if isinstance(curve, DrawnEllipse | DrawnFoil):
            sheet.add_hold("symmetric", [curve.id, made, about])
    follow = {p for curve in curves if isinstance(curve, DrawnBeside) for p in curve.points()}
    for p, q in points.items():
        if p in follow:
            continue  # where the ends of an offset are follows already
        if p != q:
            sheet.add_hold("symmetric", [p, q, about])
        else:
            keep_on(sheet, p, about)


def _spline(sheet: Sheet, name: str, index: int) -> DrawnSpline:
    curve = sheet.curve(name)
    if not isinstance(curve, DrawnSpline):
        raise CannotDraw("only a spline through points has such points")
    if index >= len(curve.through):
        raise CannotDraw(f"the spline has {len(curve.through)} points")
    return curve


def _spline_point(sheet: Sheet, act: a.AddSplinePoint) -> None:
    curve = _spline(sheet, act.curve, act.after)
    mirrored = list(images(sheet, curve))
    point = insert_point(sheet, curve, act.after, act.at)
    for image in mirrored:
        other = insert_point(sheet, image.curve, act.after, image_of_point(sheet, point, image.about))
        sheet.add_hold("symmetric", [point, other, image.about])


def _spline_handle(sheet: Sheet, act: a.SplineHandle) -> None:
    curve = _spline(sheet, act.curve, act.at)
    own = None if act.angle is None else Handle(at=act.at, angle=act.angle, pull=act.pull, bend=act.bend)
    _put_handle(sheet, curve, act.at, own)
    for image in images(sheet, curve):
        _put_handle(sheet, image.curve, act.at, None if own is None else own.turned(image.angle(sheet, own.angle), mirrored=True))


def _put_handle(sheet: Sheet, curve: DrawnSpline, at: int, handle: Handle | None) -> None:
    others = [h for h in curve.handles if h.at != at]
    sheet.put(curve, handles=[h.model_dump(exclude_none=True) for h in (others if handle is None else [*others, handle])])


def _spline_sharp(sheet: Sheet, act: a.SplineSharp) -> None:
    curve = _spline(sheet, act.curve, act.at)
    if not curve.closed and act.at in (0, len(curve.through) - 1):
        raise CannotDraw("the end of an open spline has no corner")
    for one in [curve, *(image.curve for image in images(sheet, curve))]:
        sheet.put(one, sharp=sorted({*one.sharp, act.at} if act.on else set(one.sharp) - {act.at}))


def _spline_straight(sheet: Sheet, act: a.SplineStraight) -> None:
    curve = _spline(sheet, act.curve, act.span)
    for one in [curve, *(image.curve for image in images(sheet, curve))]:
        sheet.put(one, straight=sorted({*one.straight, act.span} if act.on else set(one.straight) - {act.span}))


def _as_spline(sheet: Sheet, act: a.AsSpline) -> None:
    curve = sheet.curve(act.curve)
    let_go_of(sheet, [curve.id])
    redraw(sheet, curve, act.points)


def _use(sheet: Sheet, act: a.Use) -> None:
    sheet.use = act.regions


def _fillet(sheet: Sheet, act: a.Fillet) -> None:
    rounding.fillet(sheet, sheet.point(act.point), act.radius)


def _chamfer(sheet: Sheet, act: a.Chamfer) -> None:
    rounding.chamfer(sheet, sheet.point(act.point), act.length)


def _trim(sheet: Sheet, act: a.Trim) -> None:
    curve = sheet.curve(act.curve)
    let_go_of(sheet, [curve.id])
    cutting.trim(sheet, curve, act.at)


def _split(sheet: Sheet, act: a.Split) -> None:
    curve = sheet.curve(act.curve)
    let_go_of(sheet, [curve.id])
    cutting.split_curve(sheet, curve, act.at, act.parts)


def _join(sheet: Sheet, act: a.Join) -> None:
    first, second = (sheet.curve(name) for name in act.curves)
    let_go_of(sheet, [first.id, second.id])
    cutting.join_curves(sheet, first, second)


def _offset(sheet: Sheet, act: a.Offset) -> None:
    offset(sheet, [sheet.curve(c).id for c in act.curves], act.distance)


_DO: dict[type, Callable[[Sheet, Any], object]] = {
    a.Add: _add,
    a.Resize: _resize,
    a.Move: _move,
    a.Turn: _turn,
    a.HoldThings: hold_things,
    a.SetMeasure: set_measure,
    a.Reading: set_reading,
    a.SetAside: set_aside,
    a.Drop: _drop,
    a.Construction: _construction,
    a.Trim: _trim,
    a.Extend: lambda sheet, act: cutting.extend(sheet, sheet.curve(act.curve), act.at),
    a.Split: _split,
    a.Divide: divide,
    a.Join: _join,
    a.Fillet: _fillet,
    a.Chamfer: _chamfer,
    a.Offset: _offset,
    a.Mirror: _mirror,
    a.AddSplinePoint: _spline_point,
    a.SplineHandle: _spline_handle,
    a.SplineSharp: _spline_sharp,
    a.SplineStraight: _spline_straight,
    a.AsSpline: _as_spline,
    a.Use: _use,
}
