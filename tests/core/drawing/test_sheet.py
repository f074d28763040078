"""A drawing while it is changed: ids, aliases, what goes with what; and that acts don't depend on where and how a drawing lies."""

from __future__ import annotations

from math import cos, pi, radians, sin
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.core.drawing.drawings import BOX, SCOPE, Raw, act, arc, area, circle, drawing, graph_of, line, polygon, raw, read, solved
from wander.core.drawing.edits.sheet import CannotDraw, Sheet
from wander.core.drawing.holding.solver import solve
from wander.core.drawing.model import Drawing


def test_ids_are_never_used_twice() -> None:
    grown = act(BOX, {"act": "add", "points": {"$a": (50, 50)}})
    made = (set(grown["points"]) - set(BOX["points"])).pop()
    again = act(act(grown, {"act": "drop", "things": [made]}), {"act": "add", "points": {"$a": (60, 60)}})
    assert made not in again["points"]
    assert len(again["points"]) == 5


def test_aliases_stand_for_what_was_just_made() -> None:
    written = act(
        {},
        {"act": "add", "points": {"$a": (0, 0), "$b": (9, 1)}, "curves": [{"id": "$l", "type": "line", "start": "$a", "end": "$b"}]},
        {"act": "hold", "type": "horizontal", "of": ["$l"]},
        {"act": "hold", "type": "length", "of": ["$l"], "value": "wide"},
        {"act": "pull", "points": {"$a": (5, 5)}},
    )
    (ax, ay), (bx, by) = written["points"].values()
    assert np.allclose((ax, ay), (5, 5), atol=1e-3)
    assert abs(by - ay) < 1e-9
    assert abs(bx - ax - 31) < 1e-9


def test_points_that_are_one_are_one_point() -> None:
    apart = raw([(0, 0), (10, 0), (10.4, 0.2), (10, 9)], [line(1, 1, 2), line(2, 3, 4)], ("length", "c2", 8.0), ("fixed", "p3"))
    joined = act(apart, {"act": "hold", "type": "coincident", "of": ["p2", "p3"]})
    assert "p3" not in joined["points"]
    assert {c["id"]: c.get("start") for c in joined["curves"]}["c2"] == "p2"
    assert any(h["of"] == ["p2"] for h in joined["holds"])


def test_a_measure_without_a_value_takes_what_it_comes_to() -> None:
    cross = raw([(0, 0), (10, 0), (0, 0), (5, 5)], [line(1, 1, 2), line(2, 1, 4), circle(3, 2, 3.5)])
    held = act(
        cross,
        {"act": "hold", "type": "angle", "of": ["c1", "c2"]},
        {"act": "hold", "type": "diameter", "of": ["c3"]},
        {"act": "hold", "type": "distance", "of": ["p4", "c1"]},
        {"act": "hold", "type": "up", "of": ["p1", "p4"]},
    )
    assert [h["value"] for h in held["holds"]] == [45.0, 7.0, 5.0, 5.0]
    assert solved(held).holds_true


def test_a_size_is_read_and_holds_again() -> None:
    read_only = act(BOX, {"act": "reading", "hold": "h5"})
    wider = act(read_only, {"act": "pull", "points": {"p2": (40, 0)}})
    assert abs(wider["points"]["p2"][0] - 40) < 0.01
    back = act(wider, {"act": "reading", "hold": "h5", "on": False})
    assert abs(back["points"]["p2"][0] - 31) < 1e-9


def test_curves_are_held_symmetric_as_wholes() -> None:
    pair = raw(
        [(0, -20), (0, 20), (10, 0), (14, 0), (10, 4), (-9, 1), (-13, 1), (-9, 5)],
        [line(9, 1, 2, construction=True), arc(1, 3, 4, 5), arc(2, 6, 8, 7)],
        ("fixed", "c9"),
    )
    held = read(act(pair, {"act": "hold", "type": "symmetric", "of": ["c1", "c2", "c9"]}))
    for right, left in (("p3", "p6"), ("p4", "p7"), ("p5", "p8")):
        assert np.allclose(held.points[left], np.multiply(held.points[right], (-1, 1)), atol=1e-8)
    rings = raw([(0, -20), (0, 20), (10, 0), (-8, 1)], [line(9, 1, 2), circle(1, 3, 3.0), circle(2, 4, 5.0)], ("fixed", "c9"))
    same = read(act(rings, {"act": "hold", "type": "symmetric", "of": ["c1", "c2", "c9"]}))
    assert abs(same.curve("c1").radius - same.curve("c2").radius) < 1e-9
    with pytest.raises(CannotDraw, match="one kind"):
        act(pair, {"act": "hold", "type": "symmetric", "of": ["c1", "c9", "c2"]})


@pytest.mark.parametrize(
    ("wrong", "words"),
    [
        ({"curves": [line(1, 1, 7)]}, "p7"),
        ({"curves": [line(1, 1, 2), line(1, 2, 1)]}, "twice"),
        ({"holds": [{"id": "h1", "type": "parallel", "of": ["c1", "p1"]}]}, "a line and a line"),
        ({"holds": [{"id": "h1", "type": "radius", "of": ["c1"], "value": 3.0}]}, "a circle or arc"),
        ({"holds": [{"id": "h1", "type": "horizontal", "of": ["p1", "p1"]}]}, "a line"),
        ({"holds": [{"id": "h1", "type": "length", "of": ["c1"], "value": "5 deg"}]}, "length"),
        ({"holds": [{"id": "h1", "type": "glued", "of": ["c1"]}]}, "glued|tag"),
        ({"points": {"q1": (0, 0)}}, "pattern|match"),
    ],
)
def test_a_drawing_that_makes_no_sense_is_refused(wrong: dict[str, Any], words: str) -> None:
    good = {"points": {"p1": (0, 0), "p2": (5, 0)}, "curves": [line(1, 1, 2)], "holds": []}
    with pytest.raises(ValidationError, match=words):
        Drawing.model_validate({**good, **wrong}, context=SCOPE)


def test_dropping_a_curve_takes_its_points_but_not_those_of_others() -> None:
    left = Sheet(act(BOX, {"act": "drop", "things": ["c1", "c2"]}), SCOPE)
    assert set(left.points) == {"p1", "p3", "p4"}
    assert set(left.curves) == {"c3", "c4"}
    with pytest.raises(CannotDraw, match="no c1"):
        left.curve("c1")
    with pytest.raises(CannotDraw, match="no curve"):
        left.curve("p1")


# -- the same wherever a drawing lies -----------------------------------------------------------------------------------------


def moved(written: Raw, turn: float, by: tuple[float, float], mirrored: bool) -> Raw:
    c, s = cos(turn), sin(turn)

    def place(p: tuple[float, float]) -> tuple[float, float]:
        x, y = (-p[0] if mirrored else p[0]), p[1]
        return c * x - s * y + by[0], s * x + c * y + by[1]

    curves = []
    for curve in written["curves"]:
        swap = mirrored and curve["type"] == "arc"
        curves.append({**curve, "start": curve["end"], "end": curve["start"]} if swap else curve)
    return {**written, "points": {p: place(at) for p, at in written["points"].items()}, "curves": curves}


STAR = [(20 * (1 + 0.35 * (-1) ** i) * cos(pi * i / 5), 20 * (1 + 0.35 * (-1) ** i) * sin(pi * i / 5)) for i in range(10)]
LENSES = raw(
    [(0, 0), (12, 0), (6, 9), (-30, 4), (40, 5)],
    [circle(1, 1, 10.0), circle(2, 2, 9.0), circle(3, 3, 8.0), line(4, 4, 5)],
)


@settings(max_examples=15)
@given(turn=st.floats(-pi, pi), by=st.tuples(st.floats(-200, 200), st.floats(-200, 200)), mirrored=st.booleans())
def test_areas_do_not_depend_on_how_a_drawing_lies(turn: float, by: tuple[float, float], mirrored: bool) -> None:
    for written in (polygon(STAR), LENSES):
        here = sorted(r.area for r in graph_of(read(written)).regions)
        there = sorted(r.area for r in graph_of(read(moved(written, turn, by, mirrored))).regions)
        assert len(here) == len(there)
        assert np.allclose(here, there, rtol=1e-6)


def test_three_circles_and_a_line_make_all_their_parts() -> None:
    """Against a count of cells on a fine grid: every cell belongs to just one area."""
    regions = graph_of(read(LENSES)).regions
    x, y = np.meshgrid(np.arange(-31, 41, 0.05) + 0.013, np.arange(-12, 20, 0.05) + 0.017)
    inside = [(x - a) ** 2 + (y - b) ** 2 < r * r for (a, b), r in (((0, 0), 10), ((12, 0), 9), ((6, 9), 8))]
    above = (y - 4) * 70 - (x + 30) * 1 > 0
    code = inside[0] + 2 * inside[1] + 4 * inside[2] + 8 * above
    union = inside[0] | inside[1] | inside[2]
    counted = sorted(np.count_nonzero(code[union] == k) * 0.0025 for k in np.unique(code[union]))
    found = sorted(r.area for r in regions)
    assert abs(sum(found) - sum(counted)) < 0.5
    assert len(found) >= len(counted)


@settings(max_examples=15)
@given(turn=st.floats(-pi, pi), by=st.tuples(st.floats(-50, 50), st.floats(-50, 50)), radius=st.floats(0.5, 3))
def test_rounding_commutes_with_moving(turn: float, by: tuple[float, float], radius: float) -> None:
    corner = polygon([(0, 0), (30, 2), (22, 25), (-4, 18)])
    rounded_there = area(act(moved(corner, turn, by, False), {"act": "fillet", "point": "p2", "radius": radius}))
    assert abs(rounded_there - area(act(corner, {"act": "fillet", "point": "p2", "radius": radius}))) < 1e-6


@settings(max_examples=25)
@given(
    links=st.lists(st.tuples(st.floats(3, 20), st.floats(-80, 80)), min_size=2, max_size=8),
    shake=st.lists(st.floats(-0.8, 0.8), min_size=20, max_size=20),
)
def test_a_chain_is_put_together_from_any_start_near_it(links: list[tuple[float, float]], shake: list[float]) -> None:
    """Lengths and bends given: the chain is found again from shaken points, every size to 1e-8."""
    points, way = [(0.0, 0.0)], 0.0
    for length, bend in links:
        way += radians(bend) if len(points) > 1 else 0.0
        points.append((points[-1][0] + length * cos(way), points[-1][1] + length * sin(way)))
    shaken = [(x + shake[2 * i], y + shake[2 * i + 1]) for i, (x, y) in enumerate(points)]
    curves = [line(i + 1, i + 1, i + 2) for i in range(len(links))]
    holds: list[tuple[Any, ...]] = [("length", f"c{i}", length) for i, (length, _) in enumerate(links, start=1)]
    found = solve(drawing(shaken, curves, *holds, ("fixed", "p1"), ("horizontal", "c1")))
    assert found.error < 1e-8
    assert found.standing.freedoms == len(links) - 1
    for i, (length, _) in enumerate(links, start=1):
        (ax, ay), (bx, by) = found.drawing.points[f"p{i}"], found.drawing.points[f"p{i + 1}"]
        assert abs(np.hypot(bx - ax, by - ay) - length) < 1e-8
    # nothing holds the bends: they stay near what they were
    moved_by = max(np.hypot(*np.subtract(found.drawing.points[f"p{i + 1}"], shaken[i])) for i in range(len(shaken)))
    assert moved_by < 12


@pytest.mark.parametrize("value", [0.0, -5.0, "0 mm", "wide - 31 mm"])
@pytest.mark.parametrize("kind", ["length", "distance", "radius", "diameter"])
def test_a_size_is_more_than_nothing(kind: str, value: float | str) -> None:
    """A size of nothing or less would make the drawing fall together, and every hold in it would seem to hold."""
    of = {"length": "c1", "distance": "p1 p2", "radius": "c2", "diameter": "c2"}[kind]
    with pytest.raises(ValueError, match="has to be more than 0"):
        drawing([(0, 0), (10, 0)], [line(1, 1, 2), circle(2, 1, 4.0)], (kind, of, value))
    assert drawing([(0, 0), (10, 0)], [line(1, 1, 2), circle(2, 1, 4.0)], ("across", "p1 p2", -5.0)).holds


def test_an_ellipse_is_held_by_its_width_and_depth() -> None:
    """By expressions too, whichever way it lies; nothing but its turn and its place is left free."""
    ellipse = {"id": "c1", "type": "ellipse", "center": "p1", "width": 20.0, "depth": 12.0, "turn": 30.0}
    found = solved(raw([(3, 4)], [ellipse], ("across", "c1", "wide"), ("up", "c1", 14.0)))
    [held] = found.drawing.curves
    assert (round(held.width, 9), round(held.depth, 9)) == (31.0, 14.0)
    assert found.standing.freedoms == 3
    with pytest.raises(ValueError, match="has to be more than 0"):
        drawing([(3, 4)], [ellipse], ("across", "c1", -5.0))
