"""Rails against closed forms, and against the curves they were made from by brute force."""

from __future__ import annotations

from math import hypot, pi

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import BASE_FRAMES, Frame
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.quadrature import length
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.tolerances import DEFAULT
from wander.core.shaping.rails import Through, from_two_views, helix, spline_through

TOP, FRONT = BASE_FRAMES["top"], BASE_FRAMES["front"]
spot = st.tuples(*[st.floats(-50, 50)] * 3)
FINE = np.linspace(0, 1, 4001)


def line(*points: tuple[float, ...]) -> Curve:
    return Curve(SplineSpace.from_breaks(1, [0.0, 1.0]), np.array(points, dtype=float))


@given(radius=st.floats(1, 60), rise=st.floats(-80, 80), turns=st.floats(0.1, 5), left=st.booleans())
def test_a_helix_is_as_long_as_its_unrolled_line(radius: float, rise: float, turns: float, left: bool) -> None:
    curve, strays = helix(
        TOP, np.zeros(2), radius=radius, end_radius=radius, rise=rise, turns=-turns if left else turns, begins=0.3, tolerances=DEFAULT
    )
    along = hypot(2 * pi * radius * turns, rise)
    assert strays <= DEFAULT.fit
    assert_close(length(curve), along, within=1e-5 * along)
    points = curve(FINE)
    assert_close(np.hypot(points[:, 0], points[:, 1]), np.full(len(points), radius), within=DEFAULT.promised)
    x, y, z = points.T
    turned = np.unwrap(np.arctan2(y, x))
    assert_close(turned[-1] - turned[0], (-1 if left else 1) * 2 * pi * turns, within=1e-4)
    assert_close(z[-1], rise, within=1e-9 + 1e-12 * abs(rise))


def test_a_helix_of_no_turn_or_no_radius_says_so() -> None:
    with pytest.raises(BadInput, match="turn"):
        helix(TOP, np.zeros(2), radius=1, end_radius=1, rise=1, turns=0, begins=0, tolerances=DEFAULT)
    with pytest.raises(BadInput, match="radius"):
        helix(TOP, np.zeros(2), radius=0, end_radius=0, rise=1, turns=1, begins=0, tolerances=DEFAULT)


def test_a_rail_like_two_views_looks_like_both() -> None:
    # seen from above y = f(x), seen from the front z = g(x), each drawn as it lies in its station
    above = open_through(np.array([[0, 0], [30, 8], [60, -4], [100, 3]], dtype=float))
    front = open_through(np.array([[-5, 20], [40, 25], [80, 5], [95, 9]], dtype=float)[::-1])
    curve, strays = from_two_views(above, TOP, front, FRONT, DEFAULT)
    assert strays <= DEFAULT.fit
    points = curve(np.linspace(0, 1, 57))
    assert_close(points[[0, -1], 0], np.array([0.0, 95.0]), within=1e-6)
    for flat, frame in ((above, TOP), (front, FRONT)):
        seen, drawn = frame.drop(points), flat(FINE)
        apart = np.linalg.norm(seen[:, None] - drawn, axis=2).min(axis=1)
        assert apart.max() < 0.02, "the drawing is sampled every 0.03 mm"


def test_two_straight_views_on_leaning_stations_make_the_straight_rail_between() -> None:
    c, s = np.cos(0.7), np.sin(0.7)
    leaning = Frame(np.array([0.0, 0.0, 5.0]), np.array([1.0, 0, 0]), np.array([0.0, c, s]))
    wanted = np.array([[2.0, 3.0, 4.0], [50.0, -7.0, 11.0]])
    curve, _ = from_two_views(line(*TOP.drop(wanted)), TOP, line(*leaning.drop(wanted)), leaning, DEFAULT)
    assert_close(curve(np.array([0.0, 0.5, 1.0])), np.stack([wanted[0], wanted.mean(axis=0), wanted[1]]), within=1e-8)


@pytest.mark.parametrize(
    ("second", "frame", "says"),
    [
        (line((0, 0), (10, 0)), TOP.moved(20), "parallel"),
        (open_through(np.array([[0.0, 0], [10, 5], [2, 10]])), FRONT, "turns back"),
        (line((40, 0), (60, 9)), FRONT, "in common"),
    ],
)
def test_two_views_that_make_no_rail_say_why(second: Curve, frame: Frame, says: str) -> None:
    with pytest.raises(BadInput, match=says):
        from_two_views(line((0, 0), (20, 3)), TOP, second, frame, DEFAULT)


@given(points=st.lists(spot, min_size=3, max_size=7, unique_by=lambda p: round(p[0])), closed=st.booleans(), sharp=st.sets(st.integers(0, 6)))
def test_a_spline_goes_through_its_points_and_along_its_handles(points: list[tuple[float, ...]], closed: bool, sharp: set[int]) -> None:
    handle = np.array([4.0, -2.0, 7.0])
    marks = [Through(np.array(p), handle if i == 1 and 1 not in sharp else None, i in sharp) for i, p in enumerate(points)]
    curve = spline_through(marks, closed=closed)
    t, sampled = curve.sampled(1)
    for number, mark in enumerate(marks):
        apart = np.linalg.norm(sampled - mark.at, axis=1)
        assert apart.min() < 1e-7
        if mark.handle is not None and number == 1:
            way = curve.derivatives(t[[int(apart.argmin())]], 1)[1][0]
            assert_close(way / np.linalg.norm(way), handle / np.linalg.norm(handle), within=1e-6)
    if closed:
        assert_close(curve(0.0), curve(1.0), within=1e-9)


@given(points=st.lists(spot, min_size=2, max_size=6, unique_by=lambda p: round(p[0])), pull=spot, shift=spot)
def test_a_moved_and_turned_spline_is_the_moved_and_turned_curve(
    points: list[tuple[float, ...]], pull: tuple[float, ...], shift: tuple[float, ...]
) -> None:
    turn = np.array([[0.0, -1, 0], [0, 0, -1], [1, 0, 0]])
    plain = spline_through([Through(np.array(p), np.array(pull) if i == 0 else None) for i, p in enumerate(points)])
    moved = spline_through([Through(turn @ p + shift, turn @ pull if i == 0 else None) for i, p in enumerate(points)])
    assert_close(moved(FINE[::100]), plain(FINE[::100]) @ turn.T + np.array(shift), within=1e-6)
