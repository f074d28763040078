"""Paths that the screen draws, and shapes turned into drawings: the same outline as the shape they stand for."""

from __future__ import annotations

from math import pi
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter
from svgelements import Path

from tests.core.drawing.drawings import SCOPE, act, arc, circle, drawing, graph_of, line, raw, read, solved
from wander.core.document.expressions import Dimension, Kind, Scope
from wander.core.drawing.curves.paths import bezier_path, path_of
from wander.core.drawing.curves.pieces import curve_of, pieces, spline_curve
from wander.core.drawing.edits.sheet import Sheet
from wander.core.drawing.holding.solver import solve
from wander.core.drawing.model import Drawing, DrawnPoles, DrawnSpline
from wander.core.drawing.outlines.shapes import ShapeError
from wander.core.geometry.closest import closest_parameters
from wander.core.steps.section.profiles import STARTERS, starter
from wander.core.steps.section.shapes import Shape
from wander.core.steps.section.starters import as_drawing

CURVES = {
    "line": ([(1, 2), (7, -3)], line(1, 1, 2)),
    "short arc": ([(0, 0), (5, 0), (0, 5)], arc(1, 1, 2, 3)),
    "long arc": ([(0, 0), (0, 5), (5, 0)], arc(1, 1, 2, 3)),
    "circle": ([(3, 4)], circle(1, 1, 2.5)),
    "ellipse": ([(3, 4)], {"id": "c1", "type": "ellipse", "center": "p1", "width": 9.0, "depth": 4.0, "turn": 25.0}),
    "spline": ([(0, 0), (4, 6), (9, 1), (12, 5)], {"id": "c1", "type": "spline", "through": ["p1", "p2", "p3", "p4"]}),
    "closed spline": ([(0, 0), (4, 6), (9, 1)], {"id": "c1", "type": "spline", "through": ["p1", "p2", "p3"], "closed": True}),
    "controls": ([(0, 0), (4, 6), (9, 1), (12, 5), (15, 0)], {"id": "c1", "type": "poles", "poles": ["p1", "p2", "p3", "p4", "p5"]}),
}


def along_path(text: str) -> np.ndarray:
    found = []
    for segment in Path(text):
        if segment.start is not None and type(segment).__name__ != "Move":
            found += [(segment.point(t).x, segment.point(t).y) for t in np.linspace(0, 1, 30)]
    return np.array(found)


@pytest.mark.parametrize("name", list(CURVES))
def test_a_path_is_the_curve_as_another_reader_draws_it(name: str) -> None:
    points, curve = CURVES[name]
    made = drawing(points, [curve])
    exact = curve_of(made.curves[0], made)
    seen = along_path(path_of(made.curves[0], made))
    assert np.linalg.norm(exact(closest_parameters(exact, seen)) - seen, axis=1).max() < 2e-5
    ends = seen[[0, -1]]
    assert np.linalg.norm(ends - exact(np.array([0.0, 1.0])), axis=1).max() < 2e-5


def test_an_outline_with_corners_and_arcs_is_filled_to_its_corners() -> None:
    """A half disc on a square: the way into a corner is not the way out of it."""
    points = [(-20, -20), (20, -20), (20, 20), (-20, 20), (0, 20)]
    made = drawing(points, [line(1, 1, 2), line(2, 2, 3), arc(3, 5, 3, 4), line(4, 4, 1)])
    loop = graph_of(made).regions[0].boundary
    seen = along_path(bezier_path(loop.curve))
    round_, flat = seen[:, 1] > 20, seen[:, 1] <= 20
    assert round_.any()
    assert np.abs(np.hypot(seen[round_, 0], seen[round_, 1] - 20) - 20).max() < 1e-4
    assert np.abs(np.abs(seen[flat] * (1, 1)).max(axis=1) - 20).max() < 1e-4
    assert np.abs(seen[:, 0]).max() < 20 + 1e-4


def test_a_curve_of_high_degree_is_drawn_within_a_hair() -> None:
    made = drawing([(0, 0)], [circle(1, 1, 50.0)])
    seen = along_path(bezier_path(pieces(made)[0].curve))
    assert np.abs(np.linalg.norm(seen, axis=1) - 50).max() < 1e-4


SHAPES: list[dict[str, Any]] = [
    {"type": "circle", "diameter": "wide"},
    {"type": "ellipse", "width": 30.0, "depth": 12.0},
    {"type": "rectangle", "width": "wide", "depth": 12.0},
    {"type": "rounded-rectangle", "width": "wide + 9 mm", "depth": 20.0, "radius": "wide / 10"},
    {"type": "rounded-rectangle", "width": 20.0, "depth": 20.0, "radius": 10.0},
    {"type": "slot", "length": "wide", "width": 8.0},
    {"type": "polygon", "sides": 7, "across": "wide"},
    {"type": "foil", "chord": "wide", "thickness": 0.12, "camber": 0.03, "crest": 0.4},
    {"type": "spline", "points": [[10.0, 0.0], ["wide / 4", 9.0], [-8.0, 3.0], [-4.0, -9.0]], "closed": True},
]


@pytest.mark.parametrize("shape", SHAPES, ids=lambda s: s["type"])
def test_a_shape_and_the_drawing_of_it_are_one(shape: dict[str, Any]) -> None:
    exact = TypeAdapter(Shape).validate_python(shape, context=SCOPE).loop()
    written = as_drawing(shape, SCOPE)
    found = solved(written)
    assert found.holds_true
    assert found.standing.disputes == ()
    [region] = graph_of(found.drawing).regions
    # what has no lines and arcs of its own is drawn with splines
    fitted = shape.get("radius") == 10.0
    close = 2e-5 if fitted else 1e-7
    assert abs(region.area - abs(exact.area)) < close * abs(exact.area) + 1e-9
    u = exact.curve(np.linspace(0, 1, 300))
    curve = region.boundary.curve
    assert np.linalg.norm(curve(closest_parameters(curve, u)) - u, axis=1).max() < (3e-3 if fitted else 1e-6)
    assert len(region.boundary.corners) == len(exact.corners)


DRIVEN = [s for s in SHAPES if s["type"] in ("circle", "foil", "rectangle", "rounded-rectangle", "slot", "polygon") and "wide" in str(s)]


@pytest.mark.parametrize("shape", DRIVEN, ids=lambda s: s["type"])
@settings(max_examples=8)
@given(wide=st.floats(25, 90))
def test_its_numbers_go_on_driving_it(shape: dict[str, Any], wide: float) -> None:
    """What was an expression of the shape is one of the drawing: both follow the same dimension."""
    written = as_drawing(shape, SCOPE)
    other = Scope({"wide": Dimension(wide, Kind.LENGTH)})
    exact = TypeAdapter(Shape).validate_python(shape, context=other).loop()
    found = solve(Drawing.model_validate({k: v for k, v in written.items() if k != "type"}, context=other))
    assert found.holds_true
    assert found.standing.freedoms == 0
    [region] = graph_of(found.drawing).regions
    assert abs(region.area - abs(exact.area)) < 1e-6 * abs(exact.area)


@pytest.mark.parametrize("kind", [s.name for s in STARTERS])
def test_a_starter_is_sound_at_first_and_when_scaled(kind: str) -> None:
    one = starter(kind)
    first = one.drawing({})
    lengths = {p.name: p.first * 2 for p in one.parameters if p.kind == "length"}
    twice = one.drawing(lengths)
    areas = [sum(r.area for r in graph_of(solved(d).drawing).regions) for d in (first, twice)]
    assert areas[0] > 10
    assert abs(areas[1] - 4 * areas[0]) < 1e-3 * areas[0]
    with pytest.raises(ShapeError, match="nonsense"):
        one.drawing({"nonsense": 3})


NEVER = [
    ("slot", {"length": 5, "width": 9}),
    ("moulding", {"steps": 40}),
    ("polygon", {"sides": 2}),
    ("turned", {"neck": 0}),
    ("circle", {"diameter": -3}),
]


@pytest.mark.parametrize(("kind", "values"), NEVER)
def test_a_starter_that_can_not_be_says_so(kind: str, values: dict[str, float]) -> None:
    with pytest.raises(ShapeError):
        starter(kind).drawing(values)


@settings(max_examples=25)
@given(width=st.floats(5, 60), height=st.floats(5, 60), steps=st.integers(1, 8))
def test_a_moulding_has_the_area_of_its_steps(width: float, height: float, steps: int) -> None:
    drawn = starter("moulding").drawing({"width": width, "height": height, "steps": steps})
    tread, rise = width / (steps + 1), height / steps
    wanted = sum(rise * (width - tread * i) for i in range(steps))
    [region] = graph_of(solved(drawn).drawing).regions
    assert abs(region.area - wanted) < 1e-9 * wanted


@settings(max_examples=15)
@given(height=st.floats(20, 120), foot=st.floats(10, 60), belly=st.floats(20, 80), neck=st.floats(8, 40))
def test_a_turned_profile_is_half_of_what_is_turned(height: float, foot: float, belly: float, neck: float) -> None:
    drawn = starter("turned").drawing({"height": height, "foot": foot, "belly": belly, "neck": neck})
    shape = solved(drawn).drawing
    [region] = graph_of(shape).regions
    assert region.area > 0
    low, high = (np.array(list(shape.points.values())).min(axis=0), np.array(list(shape.points.values())).max(axis=0))
    assert np.abs(low).max() < 1e-9
    assert abs(high[1] - height) < 1e-9
    side = curve_of(next(curve for curve in shape.curves if curve.type == "spline"), shape)
    places = side(np.array([0.0, 1.0]))
    assert np.abs(places - [[foot / 2, 0.0], [neck / 2, height]]).max() < 1e-9
    # where it is widest, or narrowest, it runs upright
    out = side.derivatives(side.space.breaks[1:-1], 1)[1]
    assert np.abs(out[:, 0]).max() < 1e-9 * np.abs(out).max() + 1e-9


def test_a_tangent_spline_takes_its_direction_from_its_neighbours() -> None:
    bow = {"id": "c2", "type": "spline", "through": ["p2", "p3", "p4"]}
    made = drawing([(0, 0), (10, 3), (16, 12), (8, 20), (0, 20)], [line(1, 1, 2), bow, line(3, 5, 4)], ("tangent", "c1 c2"), ("tangent", "c2 c3"))
    curve = curve_of(made.curves[1], made)
    out, into = curve.derivatives(np.array([0.0, 1.0]), 1)[1]
    assert abs(np.arctan2(out[1], out[0]) - np.arctan2(3, 10)) < 1e-12
    assert abs(abs(np.arctan2(into[1], into[0])) - pi) < 1e-12
    turned = solve(made, {"p1": (0, -8)}).drawing
    out = curve_of(turned.curves[1], turned).derivatives(0.0, 1)[1]
    (ax, ay), (bx, by) = turned.points["p1"], turned.points["p2"]
    assert abs(out[0] * (by - ay) - out[1] * (bx - ax)) < 1e-9 * np.hypot(*out) * np.hypot(bx - ax, by - ay)


def test_a_circle_touches_a_spline_and_a_point_stays_on_it() -> None:
    bow = {"id": "c1", "type": "spline", "through": ["p1", "p2", "p3"]}
    held = [("fixed", "c1"), ("tangent", "c2 c1"), ("radius", "c2", 3.0), ("on-curve", "p5 c1")]
    found = solve(drawing([(0, 0), (10, 6), (20, 0), (9, 12), (4, 5)], [bow, circle(2, 4, 2.0)], *held))
    assert found.error < 1e-8
    curve = curve_of(found.drawing.curves[0], found.drawing)
    places = np.array([found.drawing.points["p4"], found.drawing.points["p5"]])
    apart = np.linalg.norm(curve(closest_parameters(curve, places)) - places, axis=1)
    assert np.allclose(apart, [3.0, 0.0], atol=1e-7)


@pytest.mark.parametrize(
    "more", [{}, {"closed": True}, {"sharp": [2]}, {"straight": [1]}, {"sharp": [1], "straight": [2], "closed": True}, {"type": "poles"}]
)
def test_each_point_of_a_spline_has_a_share_in_every_place(more: dict[str, Any]) -> None:
    """They come to one, and to the place where the points are taken by them."""
    names = [f"p{i}" for i in range(1, 7)]
    at = dict(zip(names, [(0.0, 0.0), (10.0, 6.0), (22.0, 5.0), (30.0, -4.0), (24.0, -12.0), (8.0, -9.0)], strict=True))
    curve = DrawnPoles(id="c1", poles=names) if more.get("type") else DrawnSpline(id="c1", through=names, **more)
    t = np.linspace(0, 1, 57)
    both = spline_curve(curve, at, shares=True)(t)
    assert np.abs(both[:, 2:].sum(axis=1) - 1).max() < 1e-12
    assert np.abs(both[:, 2:] @ np.array(list(at.values())) - both[:, :2]).max() < 1e-11
    assert np.abs(both[:, :2] - spline_curve(curve, at)(t)).max() < 1e-12


def test_a_point_on_a_long_spline_that_is_led_at_its_ends_follows_in_a_few_steps() -> None:
    t = np.linspace(0, 1, 40)
    places = [(float(x), float(y)) for x, y in zip(100 * t**1.5, 12 * np.sin(7 * t), strict=True)]
    led = [{"at": 0, "angle": 120.0, "pull": 0.6}, {"at": 39, "angle": -80.0}]
    bow = {"id": "c1", "type": "spline", "through": [f"p{i}" for i in range(1, 41)], "handles": led}
    made = drawing([*places, (50.0, 20.0), (70.0, -30.0)], [bow], ("on-curve", "p41 c1"), ("on-curve", "p42 c1"), ("distance", "p41 p42", 25.0))
    found = solve(made, {"p12": (18.0, 14.0)})
    assert found.error < 1e-9
    assert found.steps < 16
    curve = curve_of(found.drawing.curves[0], found.drawing)
    held = np.array([found.drawing.points[p] for p in ("p41", "p42")])
    assert np.linalg.norm(curve(closest_parameters(curve, held)) - held, axis=1).max() < 1e-8
    assert abs(np.linalg.norm(held[0] - held[1]) - 25.0) < 1e-8


def test_what_is_written_comes_back_the_same() -> None:
    written = act(raw([(0, 0), (10, 0)], [line(1, 1, 2)]), {"act": "hold", "type": "length", "of": ["c1"], "value": "wide"})
    again = Sheet(written, SCOPE).raw()
    assert read(again) == read(written)
    assert again["holds"][0]["value"] == "wide"
