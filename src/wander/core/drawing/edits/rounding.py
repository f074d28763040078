"""Corners made round or cut off, held tangent and by their size."""

from __future__ import annotations

import numpy as np

from wander.core.document.expressions import Kind, evaluate
from wander.core.drawing.edits.sheet import CannotDraw, Sheet
from wander.core.drawing.holding.solver import solve
from wander.core.drawing.model import AnyCurve, DrawnArc, DrawnLine
from wander.core.geometry.basis import Floats


def _corner(sheet: Sheet, point: str) -> tuple[AnyCurve, AnyCurve]:
    here = [c for c in sheet.users(point) if not c.construction and c.ends() is not None and point in (c.ends() or ())]
    if len(here) != 2:
        raise CannotDraw(f"a corner is where two curves end in one point; here {'it is' if len(here) == 1 else 'there are'} {len(here)}")
    if not all(isinstance(c, DrawnLine | DrawnArc) for c in here):
        raise CannotDraw("only corners between lines and arcs can be rounded; split the spline or make its point smooth")
    return here[0], here[1]


def _leaving(sheet: Sheet, curve: AnyCurve, point: str) -> Floats:
    """Unit direction in which a curve leaves one of its ends."""
    made = sheet.geometry(curve)
    begins = (curve.ends() or ("",))[0] == point
    tangent = made.derivatives(made.domain[0 if begins else 1], 1)[1] * (1.0 if begins else -1.0)
    return np.asarray(tangent / np.linalg.norm(tangent))


def fillet(sheet: Sheet, point: str, radius: float | str) -> str:
    """An arc of a radius between the two curves that meet in a point. Raises CannotDraw where it has no room."""
    size = evaluate(radius, Kind.LENGTH, sheet.scope)
    if size <= 0:
        raise CannotDraw("a fillet needs a radius above zero")
    first, second = _corner(sheet, point)
    corner = np.array(sheet.points[point])
    a, b = _leaving(sheet, first, point), _leaving(sheet, second, point)
    half = float(np.arccos(np.clip(a @ b, -1, 1))) / 2
    if half > np.pi / 2 - 1e-6:
        raise CannotDraw("the two curves go on in one direction here; there is no corner to round")
    if half < 1e-6:
        raise CannotDraw("the two curves lie on each other here; there is no corner to round")
    reach = size / np.tan(half)
    for curve in (first, second):
        if isinstance(curve, DrawnLine):
            room = sheet.apart(*curve.ends())
            if reach >= room - 1e-9:
                raise CannotDraw(f"a radius of {size:g} mm does not fit: the shorter side leaves room for {room * np.tan(half):.4g} mm")
    ends = [sheet.add_point(corner + reach * way) for way in (a, b)]
    middle = sheet.add_point(corner + size / np.sin(half) * (a + b) / np.linalg.norm(a + b))
    for curve, end in ((first, ends[0]), (second, ends[1])):
        _shorten(sheet, curve, point, end)
    left = float(a[0] * b[1] - a[1] * b[0]) > 0
    # from the second to the first side the arc runs counter-clockwise where the corner turns left
    start, stop = (ends[1], ends[0]) if left else (ends[0], ends[1])
    arc = sheet.add_curve(type="arc", center=middle, start=start, end=stop)
    for curve in (first, second):
        sheet.add_hold("tangent", [curve.id, arc])
    sheet.add_hold("radius", [arc], radius)
    _keep_corner(sheet, point, first, second)
    solved = solve(sheet.drawing())
    if not solved.holds_true:
        raise CannotDraw(f"a radius of {size:g} mm does not fit between these curves")
    sheet.settle(solved.drawing)
    return arc


def chamfer(sheet: Sheet, point: str, distance: float | str) -> str:
    """A straight across a corner between two lines, at the same distance from it on both."""
    size = evaluate(distance, Kind.LENGTH, sheet.scope)
    first, second = _corner(sheet, point)
    if not (isinstance(first, DrawnLine) and isinstance(second, DrawnLine)):
        raise CannotDraw("only a corner between two lines can be cut off")
    for curve in (first, second):
        room = sheet.apart(*curve.ends())
        if not 0 < size < room:
            raise CannotDraw(f"{size:g} mm does not fit: the shorter side is {room:.4g} mm long")
    corner = np.array(sheet.points[point])
    ends = [sheet.add_point(corner + size * _leaving(sheet, curve, point)) for curve in (first, second)]
    for curve, end in ((first, ends[0]), (second, ends[1])):
        _shorten(sheet, curve, point, end)
    made = sheet.add_curve(type="line", start=ends[0], end=ends[1])
    for end in ends:
        sheet.add_hold("distance", [end, point], distance)
    _keep_corner(sheet, point, first, second)
    return made


def _shorten(sheet: Sheet, curve: AnyCurve, point: str, end: str) -> None:
    field = "start" if (curve.ends() or ("",))[0] == point else "end"
    sheet.put(curve, **{field: end})


def _keep_corner(sheet: Sheet, point: str, first: AnyCurve, second: AnyCurve) -> None:
    """Where the corner was, a point stays on both curves' lines while something is held by it."""
    for hold_id, hold in list(sheet.holds.items()):
        # a size along a shortened line goes on measuring to the corner
        if hold["type"] == "length" and hold["of"][0] in (first.id, second.id):
            old = first if hold["of"][0] == first.id else second
            far = next(p for p in old.ends() or () if p != point)
            sheet.holds[hold_id] = {**hold, "type": "distance", "of": [far, point]}
    if any(point in hold["of"] for hold in sheet.holds.values()):
        for curve in (first, second):
            sheet.add_hold("on-curve", [point, curve.id])
    else:
        sheet.points.pop(point, None)
