"""Foils from their formula, and outlines as they are cut from a body."""

from __future__ import annotations

from math import cos, radians, sin

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from tests.closeness import assert_close
from tests.core.drawing.drawings import SCOPE, Raw, act, graph_of, solved
from wander.core.drawing.curves.pieces import pieces
from wander.core.drawing.drafted import Drafted
from wander.core.drawing.edits.sheet import CannotDraw
from wander.core.drawing.model import DrawnFoil, DrawnSpline
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.shapes import ShapeError
from wander.core.geometry.closest import closest_parameter, closest_parameters
from wander.core.geometry.curve import Curve
from wander.core.steps.section.starters import as_drawing


def half_thickness(x: float, thickness: float) -> float:
    return 5 * thickness * (0.2969 * np.sqrt(x) - 0.1260 * x - 0.3516 * x**2 + 0.2843 * x**3 - 0.1036 * x**4)


@given(chord=st.floats(5, 400), thickness=st.floats(0.04, 0.3))
def test_the_area_of_a_symmetric_foil(chord: float, thickness: float) -> None:
    expected = 2 * quad(half_thickness, 0, 1, args=(thickness,))[0] * chord**2
    assert_close(shapes.foil(chord, thickness, 0.0, 0.4).area, expected, within=1e-6 * expected)


@given(thickness=st.floats(0.05, 0.25), x=st.floats(0.002, 0.98))
def test_the_outline_is_where_the_formula_says(thickness: float, x: float) -> None:
    loop = shapes.foil(100.0, thickness, 0.0, 0.4)
    points = loop.curve(np.linspace(0, 1, 6001))
    upper = points[: len(points) // 2]
    found = np.interp(x, (upper[::-1, 0] + 25) / 100, upper[::-1, 1])
    assert_close(found, 100 * half_thickness(x, thickness), within=2e-3)


def test_greatest_thickness_nose_and_trailing_edge() -> None:
    loop = shapes.foil(100.0, 0.12, 0.0, 0.4)
    points = loop.curve(np.linspace(0, 1, 4001))
    assert_close(np.ptp(points[:, 1]), 12.0, within=0.01)
    assert_close(points[:, 0].min(), -25.0, within=1e-4)
    assert_close(points[0], [75.0, 0.0], within=1e-9)
    assert_close(points[0], points[-1], within=1e-12)
    assert loop.corners == (0.0,)
    assert abs(loop.turning()[0]) > np.radians(150)


@pytest.mark.parametrize("crest", [0.3, 0.4, 0.6])
def test_the_middle_line_rises_to_the_camber_at_its_crest(crest: float) -> None:
    loop = shapes.foil(100.0, 0.10, 0.04, crest)
    flat = shapes.foil(100.0, 0.10, 0.0, crest)
    assert loop.centroid[1] > flat.centroid[1] + 1
    at = np.linspace(0, 1, 8001)
    points = loop.curve(at)
    middle = len(points) // 2
    upper, lower = points[:middle], points[middle:]
    x = crest * 100 - 25
    line = (np.interp(x, upper[::-1, 0], upper[::-1, 1]) + np.interp(x, lower[:, 0], lower[:, 1])) / 2
    assert_close(line, 4.0, within=0.01)


@given(angle=st.floats(0, 6.28), scale=st.floats(0.1, 9))
def test_a_foil_is_the_same_foil_turned_and_scaled(angle: float, scale: float) -> None:
    c, s = np.cos(angle), np.sin(angle)
    loop = shapes.foil(50.0, 0.14, 0.02, 0.4)
    moved = loop.transformed(scale * np.array([[c, -s], [s, c]]), np.array([3.0, -7.0]))
    assert_close(moved.area, loop.area * scale**2, within=1e-9 * moved.area)


@pytest.mark.parametrize(
    ("numbers", "field"),
    [((0.0, 0.12, 0.0, 0.4), "chord"), ((50.0, 0.7, 0.0, 0.4), "thickness"), ((50.0, 0.1, 0.4, 0.4), "camber"), ((50.0, 0.1, 0.02, 0.95), "crest")],
)
def test_numbers_that_make_no_foil(numbers: tuple[float, float, float, float], field: str) -> None:
    with pytest.raises(ShapeError) as refused:
        shapes.foil(*numbers)
    assert refused.value.field == field


def test_a_traced_outline_is_the_curve_it_was_given() -> None:
    loop = shapes.rounded_rectangle(30.0, 20.0, 4.0)
    again = shapes.traced(loop.curve.degree, loop.curve.space.knots, loop.curve.points, [])
    assert_close(again.area, loop.area, within=1e-12 * loop.area)
    assert_close(again.curve(np.linspace(0, 1, 33)), loop.curve(np.linspace(0, 1, 33)), within=1e-12)


@pytest.mark.parametrize("broken", ["short", "open", "nan"])
def test_a_traced_outline_that_can_not_be_one(broken: str) -> None:
    loop = shapes.spline(np.array([[10.0, 0], [0, 8], [-9, 0], [0, -7]]))
    points = loop.curve.points.copy()
    if broken == "short":
        points = points[:-1]
    elif broken == "open":
        points[-1] += 1.0
    else:
        points[2, 0] = np.nan
    with pytest.raises(ShapeError):
        shapes.traced(loop.curve.degree, loop.curve.space.knots, points, [])


# -- a foil on the board ------------------------------------------------------------------------------------------------------

SHAPE = {"type": "foil", "chord": "wide", "thickness": 0.14, "camber": 0.03, "crest": 0.35}


def outline(written: Raw, which: int = 0) -> Curve:
    return [p.curve for p in pieces(solved(written).drawing) if p.type == "foil"][which]


def only(written: Raw) -> DrawnFoil:
    [found] = [c for c in solved(written).drawing.curves if isinstance(c, DrawnFoil)]
    return found


def hold_of(written: Raw, kind: str) -> str:
    return next(h["id"] for h in written["holds"] if h["type"] == kind)


def test_drawn_it_is_one_curve_with_its_chord_and_shares() -> None:
    written = as_drawing(SHAPE, SCOPE)
    assert [c["type"] for c in written["curves"]] == ["foil"]
    assert {h["type"]: h.get("value") for h in written["holds"]} == {
        "fixed": None,
        "horizontal": None,
        "length": "wide",
        "thickness": 0.14,
        "camber": 0.03,
        "crest": 0.35,
    }
    exact = shapes.foil(31.0, 0.14, 0.03, 0.35).curve
    u = np.linspace(0, 1, 500)
    assert np.abs(outline(written)(u) - exact(u)).max() < 1e-9
    assert solved(written).standing.freedoms == 0


@given(chord=st.floats(5, 300), thickness=st.floats(0.01, 0.5), camber=st.floats(-0.2, 0.2), crest=st.floats(0.2, 0.8))
def test_its_measures_make_the_foil_that_they_say(chord: float, thickness: float, camber: float, crest: float) -> None:
    written = as_drawing(SHAPE, SCOPE)
    sizes = {"length": chord, "thickness": thickness, "camber": camber, "crest": crest}
    changed = act(written, *({"act": "measure", "hold": hold_of(written, kind), "value": value} for kind, value in sizes.items()))
    exact = shapes.foil(chord, thickness, camber, crest).curve
    u = np.linspace(0, 1, 200)
    nose = np.array(solved(changed).drawing.points["p1"])
    assert np.abs(outline(changed)(u) - (exact(u) + nose + (chord / 4, 0))).max() < 1e-6 * chord
    drafted = Drafted(solved(changed)).summary()
    assert drafted.measures[hold_of(written, "camber")] == pytest.approx(camber, abs=1e-9)


@pytest.mark.parametrize(("kind", "value"), [("thickness", 0.7), ("thickness", 0.0), ("camber", -0.4), ("crest", 0.95)])
def test_a_share_that_makes_no_foil_is_refused_with_what_it_can_be(kind: str, value: float) -> None:
    written = as_drawing(SHAPE, SCOPE)
    with pytest.raises(ValueError, match=f"the {kind} of a foil lies between .* and .* of its chord"):
        act(written, {"act": "measure", "hold": hold_of(written, kind), "value": value})


@settings(max_examples=15)
@given(angle=st.floats(-180, 180), scale=st.floats(0.2, 5))
def test_turned_scaled_and_mirrored_it_is_the_same_foil(angle: float, scale: float) -> None:
    free = {**as_drawing(SHAPE, SCOPE), "holds": []}
    turned = act(free, {"act": "turn", "things": ["c3"], "about": (3, 4), "angle": angle, "scale": scale})
    c, s = scale * cos(radians(angle)), scale * sin(radians(angle))
    u = np.linspace(0, 1, 200)
    assert np.abs(outline(turned)(u) - ((outline(free)(u) - (3, 4)) @ np.array([[c, s], [-s, c]]) + (3, 4))).max() < 1e-9 * max(scale, 1) * 100
    axis = act(free, {"act": "add", "points": {"$a": (0, 20), "$b": (10, 20)}, "curves": [{"id": "$l", "type": "line", "start": "$a", "end": "$b"}]})
    line = axis["curves"][-1]["id"]
    two = act(axis, {"act": "mirror", "curves": ["c3"], "about": line})
    image = outline(two, 1)
    assert np.abs(image(1 - u) - (outline(two)(u) * (1, -1) + (0, 40))).max() < 1e-9
    # and it goes on following: what one becomes thick, the other does
    foils = [c["id"] for c in two["curves"] if c["type"] == "foil"]
    thick = act(
        two, {"act": "hold", "type": "thickness", "of": [foils[1]], "value": 0.25}, {"act": "hold", "type": "camber", "of": [foils[0]], "value": 0.06}
    )
    drawn = [c for c in solved(thick).drawing.curves if isinstance(c, DrawnFoil)]
    assert [c.thickness for c in drawn] == pytest.approx([0.25, 0.25])
    assert [c.camber for c in drawn] == pytest.approx([0.06, -0.06])


def test_a_point_held_on_it_stays_on_it() -> None:
    written = as_drawing(SHAPE, SCOPE)
    dot = act(written, {"act": "add", "points": {"$d": (5, 4)}, "curves": [{"id": "$k", "type": "circle", "center": "$d", "radius": 1}]})
    circle = dot["curves"][-1]
    held = act(dot, {"act": "hold", "type": "on-curve", "of": [circle["center"], "c3"]})
    for thickness in (0.14, 0.3):
        held = act(held, {"act": "measure", "hold": hold_of(held, "thickness"), "value": thickness})
        at = np.array(solved(held).drawing.points[circle["center"]])
        curve = outline(held)
        assert np.linalg.norm(curve(closest_parameter(curve, at)) - at) < 1e-7
    # a fixed point makes the foil come to it
    free = {**held, "holds": [h for h in held["holds"] if h["type"] not in ("thickness", "camber", "crest")]}
    pulled = act(free, {"act": "hold", "type": "fixed", "of": [circle["center"]]}, {"act": "pull", "points": {circle["center"]: (6, 5)}})
    curve, at = outline(pulled), np.array(solved(pulled).drawing.points[circle["center"]])
    assert np.linalg.norm(curve(closest_parameter(curve, at)) - at) < 1e-6


@pytest.mark.parametrize("act_", [{"act": "split", "curve": "c3", "parts": 3}, {"act": "split", "curve": "c3", "at": (0, 2)}])
def test_a_held_foil_that_is_cut_lets_go_of_what_splines_have_not(act_: Raw) -> None:
    """As it comes from a section it is held by chord, shares and direction."""
    parts = act(as_drawing(SHAPE, SCOPE), act_)
    assert {c["type"] for c in parts["curves"]} == {"spline"}
    assert [h["type"] for h in parts["holds"]] == []
    exact = outline(as_drawing(SHAPE, SCOPE))
    for piece in pieces(solved(parts).drawing):
        seen = piece.curve(np.linspace(0, 1, 200))
        assert np.linalg.norm(exact(closest_parameters(exact, seen)) - seen, axis=1).max() < 1e-8


def test_cut_by_a_line_what_is_left_is_the_foil() -> None:
    written = as_drawing(SHAPE, SCOPE)
    exact = outline(written)
    crossed = act(
        written, {"act": "add", "points": {"$a": (8, -9), "$b": (8, 9)}, "curves": [{"id": "$l", "type": "line", "start": "$a", "end": "$b"}]}
    )
    blunt = act(crossed, {"act": "trim", "curve": "c3", "at": (22, 0)})
    [left] = [p.curve for p in pieces(solved(blunt).drawing) if p.type == "spline"]
    seen = left(np.linspace(0, 1, 400))
    assert np.linalg.norm(exact(closest_parameters(exact, seen)) - seen, axis=1).max() < 1e-8
    assert seen[:, 0].max() < 8 + 1e-9


@pytest.mark.parametrize("points", [8, 14])
def test_as_a_spline_it_has_a_few_points_and_keeps_its_tail(points: int) -> None:
    written = as_drawing(SHAPE, SCOPE)
    exact = outline(written)
    eased = act(written, {"act": "as-spline", "curve": "c3", "points": points})
    [spline] = solved(eased).drawing.curves
    assert isinstance(spline, DrawnSpline)
    assert len(spline.through) == points
    [made] = [p.curve for p in pieces(solved(eased).drawing)]
    seen = made(np.linspace(0, 1, 400))
    far = np.linalg.norm(exact(closest_parameters(exact, seen)) - seen, axis=1).max()
    assert far < {8: 0.31, 14: 0.031}[points]
    [region] = graph_of(solved(eased).drawing).regions
    assert len(region.boundary.corners) == 1


def test_there_is_no_offset_of_a_foil_and_one_of_its_halves_as_it_is_told() -> None:
    written = as_drawing(SHAPE, SCOPE)
    with pytest.raises(CannotDraw, match=r"^foil 1 has a corner at its tail; split it there"):
        act(written, {"act": "offset", "curves": ["c3"], "distance": 0.5})
    halves = act(written, {"act": "split", "curve": "c3", "at": solved(written).drawing.points["p2"]})
    names = [c["id"] for c in halves["curves"]]
    assert len(names) == 2
    grown = act(halves, {"act": "offset", "curves": names, "distance": 0.5})
    exact = outline(written)
    added = [p.curve for p in pieces(solved(grown).drawing) if p.id not in names and p.type in ("spline", "beside")]
    assert added
    for curve in added:
        seen = curve(np.linspace(0.1, 0.9, 60))
        assert np.abs(np.linalg.norm(exact(closest_parameters(exact, seen)) - seen, axis=1) - 0.5).max() < 2e-3
