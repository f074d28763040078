"""Drawings for tests, put together in few words."""

from __future__ import annotations

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
