"""Profiles to begin a drawing with: starters made from a few numbers, each with its own parameters and what they are at first."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from wander.core.document.expressions import Scope
from wander.core.drawing.edits.sheet import Sheet
from wander.core.drawing.holding.solver import solve
from wander.core.drawing.outlines.shapes import ShapeError
from wander.core.steps.section.starters import as_drawing


@dataclass(frozen=True)
class Parameter:
    """kind: 'length', 'share' or 'count'. first: what it is when nothing else is said, mm."""

    name: str
    title: str
    first: float
    kind: str = "length"


@dataclass(frozen=True)
class Starter:
    name: str
    title: str
    parameters: tuple[Parameter, ...]
    make: Callable[[dict[str, Any]], dict[str, Any]]

    def drawing(self, values: dict[str, Any]) -> dict[str, Any]:
        """The drawing with these values, the others as they are at first. Raises ShapeError where they make no shape."""
        unknown = set(values) - {p.name for p in self.parameters}
        if unknown:
            raise ShapeError(f"a {self.title.lower()} has no {sorted(unknown)[0]}", sorted(unknown)[0])
        return self.make({p.name: values.get(p.name, p.first) for p in self.parameters})


def _shape(kind: str) -> Callable[[dict[str, Any]], dict[str, Any]]:
    return lambda values: as_drawing({"type": kind, **values}, Scope({}))


def _count(values: dict[str, Any]) -> dict[str, Any]:
    return as_drawing({"type": "polygon", "sides": round(values["sides"]), "across": values["across"]}, Scope({}))


def _moulding(values: dict[str, Any]) -> dict[str, Any]:
    """Steps from a back to a top edge, each with the same rise and tread; the back is straight."""
    width, height, steps = values["width"], values["height"], round(values["steps"])
    if not 1 <= steps <= 12:
        raise ShapeError(f"a moulding has 1 to 12 steps, not {steps}", "steps", min(max(steps, 1), 12))
    if not (width > 0 and height > 0):
        raise ShapeError("a moulding needs a width and a height above zero", "width")
    tread, rise = width / (steps + 1), height / steps
    places = [(0.0, 0.0), (width, 0.0)]
    for i in range(steps):
        places += [(width - tread * i, rise * (i + 1)), (width - tread * (i + 1), rise * (i + 1))]
    places.append((0.0, height))
    places = [p for i, p in enumerate(places) if i == 0 or p != places[i - 1]]
    sheet = Sheet({}, Scope({}))
    points = [sheet.add_point(p) for p in places]
    lines = [sheet.add_curve(type="line", start=a, end=b) for a, b in zip(points, [*points[1:], points[0]], strict=True)]
    for line in lines:
        (ax, ay), (bx, by) = (sheet.points[p] for p in sheet.curves[line].points())
        sheet.add_hold("vertical" if abs(bx - ax) < abs(by - ay) else "horizontal", [line])
    sheet.add_hold("fixed", [points[0]])
    sheet.add_hold("length", [lines[0]], width)
    sheet.add_hold("length", [lines[-1]], height)
    sheet.settle(solve(sheet.drawing()).drawing)
    return {"type": "drawing", **sheet.raw()}


def _turned(values: dict[str, Any]) -> dict[str, Any]:
    """Half of what is turned about the upright through the origin: a foot, a belly and a neck on one curve, led squarely through the widest place."""
    height, foot, belly, neck = (values[name] for name in ("height", "foot", "belly", "neck"))
    for name in ("height", "foot", "belly", "neck"):
        if not values[name] > 0:
            raise ShapeError(f"a turned profile needs a {name} above zero", name)
    sheet = Sheet({}, Scope({}))
    places = [(0.0, 0.0), (foot / 2, 0.0), (belly / 2, 0.4 * height), (neck / 2, height), (0.0, height)]
    bottom, rim, wide, mouth, top = (sheet.add_point(place) for place in places)
    base = sheet.add_curve(type="line", start=bottom, end=rim)
    sheet.add_curve(type="spline", through=[rim, wide, mouth], handles=[{"at": 1, "angle": 90.0}])
    lid = sheet.add_curve(type="line", start=mouth, end=top)
    middle = sheet.add_curve(type="line", start=top, end=bottom)
    sheet.add_hold("fixed", [bottom])
    for line in (base, lid):
        sheet.add_hold("horizontal", [line])
    sheet.add_hold("vertical", [middle])
    sheet.add_hold("length", [base], foot / 2)
    sheet.add_hold("length", [lid], neck / 2)
    sheet.add_hold("length", [middle], height)
    sheet.settle(solve(sheet.drawing()).drawing)
    return {"type": "drawing", **sheet.raw()}


WIDTH, DEPTH = Parameter("width", "Width", 40.0), Parameter("depth", "Depth", 30.0)
STARTERS = (
    Starter("circle", "Circle", (Parameter("diameter", "Diameter", 40.0),), _shape("circle")),
    Starter("ellipse", "Ellipse", (WIDTH, DEPTH), _shape("ellipse")),
    Starter("rectangle", "Rectangle", (WIDTH, DEPTH), _shape("rectangle")),
    Starter("rounded-rectangle", "Rounded rectangle", (WIDTH, DEPTH, Parameter("radius", "Corner radius", 8.0)), _shape("rounded-rectangle")),
    Starter("slot", "Slot", (Parameter("length", "Length over all", 60.0), Parameter("width", "Width", 20.0)), _shape("slot")),
    Starter("polygon", "Regular polygon", (Parameter("sides", "Sides", 6, "count"), Parameter("across", "Across corners", 40.0)), _count),
    Starter(
        "foil",
        "Foil, four digits",
        (
            Parameter("chord", "Chord", 100.0),
            Parameter("thickness", "Thickness, of the chord", 0.12, "share"),
            Parameter("camber", "Camber, of the chord", 0.02, "share"),
            Parameter("crest", "Crest, of the chord", 0.4, "share"),
        ),
        _shape("foil"),
    ),
    Starter(
        "moulding",
        "Moulding in steps",
        (WIDTH, Parameter("height", "Height", 24.0), Parameter("steps", "Steps", 3, "count")),
        _moulding,
    ),
    Starter(
        "turned",
        "Turned profile",
        (
            Parameter("height", "Height", 80.0),
            Parameter("foot", "Foot, across", 36.0),
            Parameter("belly", "Belly, across", 56.0),
            Parameter("neck", "Neck, across", 24.0),
        ),
        _turned,
    ),
)


def starter(name: str) -> Starter:
    """Raises KeyError where there is none of this name."""
    return {s.name: s for s in STARTERS}[name]
