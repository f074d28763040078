"""Foils from their formula, and outlines as they are cut from a body."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad

from tests.closeness import assert_close
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.shapes import ShapeError


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
