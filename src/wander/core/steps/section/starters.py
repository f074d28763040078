"""Shapes given by a few numbers turned into drawings that say the same, held by the same numbers."""

from __future__ import annotations

import itertools
from math import pi
from typing import Any

import numpy as np
from pydantic import TypeAdapter

from wander.core.document.acts import Turn
from wander.core.document.document import Step
from wander.core.document.expressions import Kind, Scope, evaluate
from wander.core.drawing.curves.crossings import polygon as polygon_of
from wander.core.drawing.edits.acts import perform
from wander.core.drawing.edits.sheet import Sheet
from wander.core.drawing.edits.splines import add_like
from wander.core.drawing.holding.solver import solve
from wander.core.drawing.outlines.loop import Loop
from wander.core.drawing.outlines.runs import OpenRun
from wander.core.drawing.outlines.shapes import SIDES
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import split
from wander.core.steps.section.shapes import Shape

_SHAPE: TypeAdapter[Any] = TypeAdapter(Shape)


def as_drawing(shape: dict[str, Any], scope: Scope) -> dict[str, Any]:
    """The drawing that a shape stands for, as it is written. Typed numbers and expressions become its measures."""
    sheet = Sheet({}, scope)
    kind = shape.get("type")
    make = _MAKE.get(str(kind))
    if make is not None:
        _SHAPE.validate_python(shape, context=scope).loop()  # the numbers have to make sense first
        make(sheet, shape)
        sheet.settle(solve(sheet.drawing()).drawing)
    elif kind == "spline":
        points = [sheet.add_point((_length(sheet, x), _length(sheet, y))) for x, y in shape["points"]]
        sheet.add_curve(type="spline", through=points, closed=shape.get("closed", True))
    elif kind == "traced" and not shape.get("closed", True):
        _from_run(sheet, _SHAPE.validate_python(shape, context=scope).run())
    elif kind != "point" and kind is not None:
        _from_loop(sheet, _SHAPE.validate_python(shape, context=scope).loop())
    return {"type": "drawing", **sheet.raw()}


def labels_as_drawn(shape: dict[str, Any]) -> dict[str, str]:
    """What the sides of a shape are called in names of faces, and the curves of the drawing that `as_drawing` makes of them."""
    if shape.get("type") == "rectangle":
        return {side: f"c{number}" for number, side in enumerate(SIDES, start=2)}
    if shape.get("type") == "polygon" and isinstance(shape.get("sides"), int):
        count = shape["sides"]
        return {f"{number}of{count}": f"c{number}" for number in range(1, count + 1)}
    return {}


def is_drawn_on(step: Step) -> bool:
    """Whether the board is the place to change a step."""
    made = step.params.get("shape", {}).get("type")
    return (step.kind == "section" and made not in ("copied", "face", "edges")) or (step.kind == "rail" and made == "drawing")


def drawing_of(shape: dict[str, Any], scope: Scope) -> dict[str, Any]:
    """The drawing that a section has, or the one that its shape stands for."""
    return shape if shape.get("type") == "drawing" else as_drawing(shape, scope)


def grown(drawing: dict[str, Any], scale: float, scope: Scope) -> dict[str, Any]:
    """A drawing with everything in it, its sizes too, that many times as large about the middle of its sheet."""
    things = [*drawing["points"], *(curve["id"] for curve in drawing["curves"])]
    return perform(drawing, [Turn(act="turn", things=things, scale=scale)], scope) if things else drawing


def _length(sheet: Sheet, value: float | str) -> float:
    return evaluate(value, Kind.LENGTH, sheet.scope)


def _center(sheet: Sheet) -> str:
    """A point in the middle, fixed where the section stands."""
    center = sheet.add_point((0.0, 0.0))
    sheet.add_hold("fixed", [center])
    return center


def _circle(sheet: Sheet, shape: dict[str, Any]) -> None:
    center = _center(sheet)
    circle = sheet.add_curve(type="circle", center=center, radius=_length(sheet, shape["diameter"]) / 2)
    sheet.add_hold("diameter", [circle], shape["diameter"])


def _ellipse(sheet: Sheet, shape: dict[str, Any]) -> None:
    center = _center(sheet)
    ellipse = sheet.add_curve(type="ellipse", center=center, width=_length(sheet, shape["width"]), depth=_length(sheet, shape["depth"]))
    sheet.add_hold("across", [ellipse], shape["width"])
    sheet.add_hold("up", [ellipse], shape["depth"])


def _foil(sheet: Sheet, shape: dict[str, Any]) -> None:
    chord = _length(sheet, shape["chord"])
    shares = {"thickness": shape["thickness"], "camber": shape.get("camber", 0.0), "crest": shape.get("crest", 0.4)}
    nose, tail = sheet.add_point((-chord / 4, 0.0)), sheet.add_point((3 * chord / 4, 0.0))
    sizes: dict[str, Any] = {k: evaluate(v, Kind.NUMBER, sheet.scope) for k, v in shares.items()}
    foil = sheet.add_curve(type="foil", start=nose, end=tail, **sizes)
    sheet.add_hold("fixed", [nose])
    sheet.add_hold("horizontal", [foil])
    sheet.add_hold("length", [foil], shape["chord"])
    for kind, value in shares.items():
        sheet.add_hold(kind, [foil], value)


def _box(sheet: Sheet, width: float, depth: float) -> list[str]:
    """Four corners about a fixed middle, from the lower right one counter-clockwise."""
    center = _center(sheet)
    corners = [sheet.add_point((sx * width / 2, sy * depth / 2)) for sx, sy in ((1, -1), (1, 1), (-1, 1), (-1, -1))]
    diagonal = sheet.add_curve(type="line", start=corners[3], end=corners[1], construction=True)
    sheet.add_hold("midpoint", [center, diagonal])
    return corners


def _sides(sheet: Sheet, corners: list[str]) -> list[str]:
    sides = [sheet.add_curve(type="line", start=a, end=b) for a, b in zip(corners, [*corners[1:], corners[0]], strict=True)]
    for i, side in enumerate(sides):
        sheet.add_hold("vertical" if i % 2 == 0 else "horizontal", [side])
    return sides


def _rectangle(sheet: Sheet, shape: dict[str, Any]) -> None:
    sides = _sides(sheet, _box(sheet, _length(sheet, shape["width"]), _length(sheet, shape["depth"])))
    sheet.add_hold("length", [sides[1]], shape["width"])
    sheet.add_hold("length", [sides[0]], shape["depth"])


def _rounded(sheet: Sheet, shape: dict[str, Any]) -> None:
    """Four sides and four arcs of one radius; sizes over all are held between opposite sides."""
    width, depth, radius = (_length(sheet, shape[k]) for k in ("width", "depth", "radius"))
    if radius >= min(width, depth) / 2 - 1e-9:
        _from_loop(sheet, _SHAPE.validate_python(shape, context=sheet.scope).loop())
        return
    x, y = width / 2 - radius, depth / 2 - radius
    center = _center(sheet)
    middles = [sheet.add_point(p) for p in ((x, y), (-x, y), (-x, -y), (x, -y))]
    ends = []
    for (cx, cy), turn in zip(((x, y), (-x, y), (-x, -y), (x, -y)), range(4), strict=True):
        ends.append([sheet.add_point((cx + radius * np.cos((turn + k) * pi / 2), cy + radius * np.sin((turn + k) * pi / 2))) for k in (0, 1)])
    arcs = [sheet.add_curve(type="arc", center=middles[i], start=ends[i][0], end=ends[i][1]) for i in range(4)]
    sides = [sheet.add_curve(type="line", start=ends[i][1], end=ends[(i + 1) % 4][0]) for i in range(4)]
    for i, side in enumerate(sides):
        sheet.add_hold("horizontal" if i % 2 == 0 else "vertical", [side])
        sheet.add_hold("tangent", [arcs[i], side])
        sheet.add_hold("tangent", [side, arcs[(i + 1) % 4]])
    for arc in arcs[1:]:
        sheet.add_hold("equal", [arcs[0], arc])
    diagonal = sheet.add_curve(type="line", start=middles[2], end=middles[0], construction=True)
    sheet.add_hold("midpoint", [center, diagonal])
    sheet.add_hold("distance", [sides[1], sides[3]], shape["width"])
    sheet.add_hold("distance", [sides[0], sides[2]], shape["depth"])
    sheet.add_hold("radius", [arcs[0]], shape["radius"])
    _without_idle_holds(sheet)


def _slot(sheet: Sheet, shape: dict[str, Any]) -> None:
    long, width = _length(sheet, shape["length"]), _length(sheet, shape["width"])
    x, r = (long - width) / 2, width / 2
    center = _center(sheet)
    right, left = sheet.add_point((x, 0.0)), sheet.add_point((-x, 0.0))
    a, b, c, d = (sheet.add_point(p) for p in ((x, -r), (x, r), (-x, r), (-x, -r)))
    arcs = [sheet.add_curve(type="arc", center=right, start=a, end=b), sheet.add_curve(type="arc", center=left, start=c, end=d)]
    sides = [sheet.add_curve(type="line", start=b, end=c), sheet.add_curve(type="line", start=d, end=a)]
    spine = sheet.add_curve(type="line", start=left, end=right, construction=True)
    sheet.add_hold("midpoint", [center, spine])
    sheet.add_hold("horizontal", [spine])
    for arc in arcs:
        for side in sides:
            sheet.add_hold("tangent", [arc, side])
    sheet.add_hold("equal", arcs)
    sheet.add_hold("radius", [arcs[0]], _halved(shape["width"]))
    sheet.add_hold("length", [spine], _difference(shape["length"], shape["width"]))
    _without_idle_holds(sheet)


def _polygon(sheet: Sheet, shape: dict[str, Any]) -> None:
    count = round(evaluate(shape["sides"], Kind.NUMBER, sheet.scope))
    across = _length(sheet, shape["across"])
    center = _center(sheet)
    turn = 2 * pi * np.arange(count) / count
    corners = [sheet.add_point((across / 2 * np.cos(t), across / 2 * np.sin(t))) for t in turn]
    sides = [sheet.add_curve(type="line", start=a, end=b) for a, b in zip(corners, [*corners[1:], corners[0]], strict=True)]
    round_it = sheet.add_curve(type="circle", center=center, radius=across / 2, construction=True)
    for corner in corners:
        sheet.add_hold("on-curve", [corner, round_it])
    for side in sides[1:]:
        sheet.add_hold("equal", [sides[0], side])
    sheet.add_hold("horizontal", [center, corners[0]])
    sheet.add_hold("diameter", [round_it], shape["across"])
    _without_idle_holds(sheet)


def _halved(value: float | str) -> float | str:
    return value / 2 if isinstance(value, int | float) else f"({value}) / 2"


def _difference(a: float | str, b: float | str) -> float | str:
    if isinstance(a, int | float) and isinstance(b, int | float):
        return a - b
    return f"{_with_unit(a)} - {_with_unit(b)}"


def _with_unit(value: float | str) -> str:
    """In a sum every number has its unit."""
    return f"({value})" if isinstance(value, str) else f"{value!r} mm"


def _without_idle_holds(sheet: Sheet) -> None:
    """What is held twice by the nature of a shape is said once."""
    disputes = solve(sheet.drawing()).standing.disputes
    sheet.drop(d.last for d in disputes if not d.conflict)


def _from_loop(sheet: Sheet, loop: Loop) -> None:
    """Splines between the corners of an outline; one closed spline where it has none."""
    if not loop.corners:
        _, ring = polygon_of(loop.curve)
        points = [sheet.add_point(p) for p in _spread(loop.curve, 48 if len(ring) > 24 else 24)]
        sheet.add_curve(type="spline", through=points, closed=True)
        return
    stops = [*loop.corners, loop.corners[0] + 1.0]
    corners = [sheet.add_point(loop.curve(c)) for c in loop.corners]
    for i, (low, high) in enumerate(itertools.pairwise(stops)):
        curve = loop.curve
        part = split(curve, low)[1] if low > 1e-12 else curve
        part = split(part, high)[0] if high < 1 - 1e-12 else part
        add_like(sheet, Curve(part.space.mapped(0.0, 1.0), part.points), corners[i], corners[(i + 1) % len(corners)], False)


def _from_run(sheet: Sheet, run: OpenRun) -> None:
    """A spline for each stretch of an open outline."""
    start = sheet.add_point(run.ends[0])
    for stretch in run.stretches:
        end = sheet.add_point(stretch.curve(1.0))
        add_like(sheet, stretch.curve, start, end, False)
        start = end


def _spread(curve: Curve, count: int) -> Floats:
    from wander.core.geometry.quadrature import at_length, length

    return curve(at_length(curve, length(curve) * np.arange(count) / count))


_MAKE = {
    "circle": _circle,
    "ellipse": _ellipse,
    "foil": _foil,
    "rectangle": _rectangle,
    "rounded-rectangle": _rounded,
    "slot": _slot,
    "polygon": _polygon,
}
