"""Outlines from numbers: area and girth in closed form, corners and joints where they belong, and what is refused."""

from __future__ import annotations

from math import pi, sin, sqrt

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import wobbly
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.quadrature import length

KNOWN = [
    (shapes.circle(34.0), pi * 17**2, pi * 34, 0, 0),
    (shapes.ellipse(30.0, 20.0), pi * 150, None, 0, 0),
    (shapes.rectangle(3.0, 4.0), 12.0, 14.0, 4, 0),
    (shapes.rounded_rectangle(60.0, 50.0, 8.0), 3000 - (4 - pi) * 64, 2 * (44 + 34) + 16 * pi, 0, 8),
    (shapes.rounded_rectangle(20.0, 20.0, 10.0), 100 * pi, 20 * pi, 0, 0),
    (shapes.slot(40.0, 10.0), 300 + 25 * pi, 60 + 10 * pi, 0, 4),
    (shapes.slot(10.0, 9.0), 9 + 20.25 * pi, 2 + 9 * pi, 0, 4),
    (shapes.polygon(6, 20.0), 150 * sqrt(3), 60.0, 6, 0),
    (shapes.polygon(3, 10.0), 75 * sqrt(3) / 4, 15 * sqrt(3), 3, 0),
]
LOOPS = [loop for loop, *_ in KNOWN] + [shapes.spline(wobbly(12, 25.0, 3))]


@pytest.mark.parametrize(("loop", "area", "girth", "corners", "joints"), KNOWN)
def test_known_outlines(loop: Loop, area: float, girth: float | None, corners: int, joints: int) -> None:
    assert_close(loop.area, area, within=5e-9 * area)
    if girth is not None:
        assert_close(length(loop.curve), girth, within=1e-8 * girth)
    assert len(loop.corners) == corners
    assert len(loop.joints) in (joints, max(joints - 1, 0))


@pytest.mark.parametrize("loop", LOOPS)
def test_outlines_close_and_run_counter_clockwise(loop: Loop) -> None:
    assert_close(loop.curve(0.0), loop.curve(1.0), within=1e-9)
    assert loop.area > 0


@pytest.mark.parametrize("loop", LOOPS[:9])
def test_regular_outlines_are_centred(loop: Loop) -> None:
    assert_close(loop.centroid, [0, 0], within=1e-7)


@pytest.mark.parametrize("loop", LOOPS)
def test_turning_and_moving_leave_the_area(loop: Loop) -> None:
    turn = np.array([(np.cos(1.1), -np.sin(1.1)), (np.sin(1.1), np.cos(1.1))])
    shift = np.array([13.0, -4.0])
    moved = loop.transformed(turn, shift)
    assert_close(moved.area, loop.area, within=1e-11 * loop.area)
    assert_close(moved.centroid, turn @ loop.centroid + shift, within=1e-9)


@pytest.mark.parametrize("loop", LOOPS)
def test_running_backwards_turns_the_sign(loop: Loop) -> None:
    back = loop.reversed()
    assert_close(back.area, -loop.area, within=1e-11 * loop.area)
    assert len(back.corners) == len(loop.corners)
    for corner in back.corners:
        assert_close(back.curve(corner), loop.curve((1 - corner) % 1.0), within=1e-12)


@pytest.mark.parametrize("sides", [3, 4, 7])
def test_corners_turn_by_their_angle(sides: int) -> None:
    loop = shapes.polygon(sides, 10.0)
    assert_close(loop.turning(), np.full(sides, 2 * pi / sides), within=1e-6)
    assert_close(loop.reversed().turning(), np.full(sides, -2 * pi / sides), within=1e-6)


def test_a_smooth_outline_has_no_turning() -> None:
    assert shapes.circle(3.0).turning().shape == (0,)


@pytest.mark.parametrize("loop", [shapes.rounded_rectangle(60.0, 50.0, 8.0), shapes.slot(40.0, 10.0)])
def test_joints_are_smooth_in_direction_and_jump_in_curvature(loop: Loop) -> None:
    for joint in loop.joints:
        before, after = (loop.curve.derivatives((joint + e) % 1.0, 2) for e in (-1e-9, 1e-9))
        assert_close(before[1], after[1], within=1e-5 * float(np.linalg.norm(after[1])))
        assert np.linalg.norm(before[2] - after[2]) > 1.0


@given(width=st.floats(1, 200), depth=st.floats(1, 200), share=st.floats(0.01, 1.0))
def test_rounded_rectangles_of_all_proportions(width: float, depth: float, share: float) -> None:
    radius = share * min(width, depth) / 2
    loop = shapes.rounded_rectangle(width, depth, radius)
    assert_close(loop.area, width * depth - (4 - pi) * radius**2, within=2e-8 * width * depth)
    low, high = loop.curve(np.linspace(0, 1, 2001)).min(axis=0), loop.curve(np.linspace(0, 1, 2001)).max(axis=0)
    assert_close(high - low, [width, depth], within=1e-5 * max(width, depth))


def test_an_ellipse_is_one() -> None:
    x, y = shapes.ellipse(30.0, 20.0).curve(np.linspace(0, 1, 500)).T
    assert_close((x / 15) ** 2 + (y / 10) ** 2, np.ones(500), within=5e-9)


def test_a_polygon_stands_on_its_circle() -> None:
    loop = shapes.polygon(5, 12.0)
    assert_close(np.linalg.norm(loop.curve(np.array(loop.corners)), axis=1), np.full(5, 6.0), within=1e-12)
    assert_close(length(loop.curve), 60 * sin(pi / 5), within=1e-11)


def test_a_clockwise_spline_stays_clockwise() -> None:
    points = wobbly(10, 20.0, 4)
    assert shapes.spline(points[::-1]).area < 0 < shapes.spline(points).area


@pytest.mark.parametrize(
    ("make", "field", "limit"),
    [
        (lambda: shapes.circle(0.0), "diameter", None),
        (lambda: shapes.ellipse(3.0, -1.0), "depth", None),
        (lambda: shapes.rectangle(0.0, 1.0), "width", None),
        (lambda: shapes.rounded_rectangle(20.0, 10.0, 6.0), "radius", 5.0),
        (lambda: shapes.rounded_rectangle(20.0, 10.0, 0.0), "radius", None),
        (lambda: shapes.slot(10.0, 10.0), "length", None),
        (lambda: shapes.polygon(2, 10.0), "sides", 3),
        (lambda: shapes.polygon(99, 10.0), "sides", 64),
        (lambda: shapes.polygon(5, -10.0), "across", None),
        (lambda: shapes.spline(np.array([(0, 0), (1, 1)])), "points", None),
        (lambda: shapes.spline(np.array([(0, 0), (1, 1), (1, 1), (0, 2)])), "points", None),
    ],
)
def test_impossible_numbers_are_named_with_the_nearest_that_works(make, field: str, limit: float | None) -> None:
    with pytest.raises(shapes.ShapeError) as caught:
        make()
    assert caught.value.field == field
    assert caught.value.limit == limit
