"""Drawings for tests, put together in few words."""

from __future__ import annotations

from math import cos, hypot, pi, sin, tan
from typing import Any

from pydantic import TypeAdapter

from wander.core.document.acts import Act
from wander.core.document.expressions import Dimension, Kind, Scope
from wander.core.drawing.areas.regions import Graph, graph
from wander.core.drawing.curves.pieces import pieces
from wander.core.drawing.edits.acts import perform
from wander.core.drawing.holding.solver import Solved, solve
from wander.core.drawing.model import Drawing

SCOPE = Scope({"wide": Dimension(31.0, Kind.LENGTH)})
_ACTS: TypeAdapter[list[Act]] = TypeAdapter(list[Act])
Raw = dict[str, Any]


def line(number: int, start: int, end: int, **more: Any) -> Raw:
    return {"id": f"c{number}", "type": "line", "start": f"p{start}", "end": f"p{end}", **more}


def arc(number: int, center: int, start: int, end: int) -> Raw:
    return {"id": f"c{number}", "type": "arc", "center": f"p{center}", "start": f"p{start}", "end": f"p{end}"}


def circle(number: int, center: int, radius: float, **more: Any) -> Raw:
    return {"id": f"c{number}", "type": "circle", "center": f"p{center}", "radius": radius, **more}


def raw(points: list[tuple[float, float]], curves: list[Raw], *holds: tuple[Any, ...]) -> Raw:
    """holds: a kind, the ids it is on as one text, and the value of a measure: ("length", "c1", 20.0)."""
    written = [
        {"id": f"h{i}", "type": kind, "of": of.split(), **({"value": value[0]} if value else {})}
        for i, (kind, of, *value) in enumerate(holds, start=1)
    ]
    return {"points": {f"p{i}": p for i, p in enumerate(points, start=1)}, "curves": curves, "holds": written, "next": 100}


def drawing(points: list[tuple[float, float]], curves: list[Raw], *holds: tuple[Any, ...]) -> Drawing:
    return Drawing.model_validate(raw(points, curves, *holds), context=SCOPE)


def read(written: Raw) -> Drawing:
    return Drawing.model_validate({k: v for k, v in written.items() if k != "type"}, context=SCOPE)


def solved(written: Raw) -> Solved:
    return solve(read(written))


def graph_of(drawn: Drawing) -> Graph:
    return graph(pieces(drawn))


def area(written: Raw) -> float:
    """The area of all regions together."""
    return sum(region.area for region in graph_of(read(written)).regions)


def act(written: Raw, *acts: Raw) -> Raw:
    return perform(written, _ACTS.validate_python(list(acts)), SCOPE)


def polygon(points: list[tuple[float, float]]) -> Raw:
    """A closed chain of lines."""
    count = len(points)
    return raw(points, [line(i + 1, i + 1, (i + 1) % count + 1) for i in range(count)])


def flange(sides: int, *, corner: float = 2.0) -> Raw:
    """For each side a straight edge and a rounded corner, tangent to each other and equal all round, and a bolt hole with a diameter."""
    outer, half = 100.0, pi / sides
    middle, run = (outer - corner / cos(half)), outer * sin(half) - corner * tan(half)
    points: list[tuple[float, float]] = []
    curves, holds = [], []
    for i in range(sides):
        turn = 2 * pi * i / sides
        c, s = cos(turn), sin(turn)
        # of the corner: where the edge before ends, where the edge after begins, and its centre; then the hole
        ends = [
            (outer * cos(half) * cos(way) - side * run * -sin(way), outer * cos(half) * sin(way) - side * run * cos(way))
            for way, side in ((turn - half, -1), (turn + half, 1))
        ]
        points += [*ends, (middle * c, middle * s), (0.7 * outer * c, 0.7 * outer * s)]
        first, following = 4 * i, 4 * ((i + 1) % sides)
        curves += [arc(3 * i + 1, first + 3, first + 1, first + 2), line(3 * i + 2, first + 2, following + 1), circle(3 * i + 3, first + 4, 1.5)]
        holds += [
            ("tangent", f"c{3 * i + 1} c{3 * i + 2}"),
            ("tangent", f"c{3 * ((i + 1) % sides) + 1} c{3 * i + 2}"),
            ("diameter", f"c{3 * i + 3}", 3.0),
        ]
        holds += [("equal", f"c1 c{3 * i + 1}")] if i else []
    made = raw(points, curves, *holds)
    assert all(abs(hypot(*p)) <= outer for p in points)
    return {**made, "next": 10 * sides + 1000}


BOX = raw(
    [(0, 0), (30, 1), (29, 19), (1, 21)],
    [line(1, 1, 2), line(2, 2, 3), line(3, 3, 4), line(4, 4, 1)],
    ("horizontal", "c1"),
    ("vertical", "c2"),
    ("horizontal", "c3"),
    ("vertical", "c4"),
    ("length", "c1", "wide"),
    ("length", "c2", 20.0),
    ("fixed", "p1"),
)
