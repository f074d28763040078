"""Areas read off a body without sections, against closed forms and in special positions."""

from __future__ import annotations

from math import pi

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core import placed
from tests.core.bodies.test_combined import prism
from wander.core.bodies.body import Body, copied, gathered, mesh_of, moved, of_shells
from wander.core.bodies.combining import How, combined_roughly
from wander.core.bodies.slices import area_across, areas
from wander.core.drawing.outlines import shapes
from wander.core.geometry.motions import turn_about
from wander.core.geometry.tolerances import DEFAULT
from wander.core.results.bodies import body_summary
from wander.core.shaping.loft import Between

Z = np.array([0.0, 0.0, 1.0])
FINE = 0.002


def test_a_block_has_the_same_area_all_along_and_none_outside() -> None:
    mesh = mesh_of(prism(shapes.rectangle(30, 20), 5, 25, "extrude-3"), FINE)
    found = areas(mesh, Z, np.array([-1.0, 5.001, 12.5, 24.999, 26.0]))
    assert_close(found, [0.0, 600.0, 600.0, 600.0, 0.0], within=1e-9)


def test_a_cone_square_to_its_axis() -> None:
    cone = of_shells((placed.body(placed.at(0, shapes.circle(20)), placed.tip(30), between=Between.STRAIGHT).shell,))
    heights = np.array([0.1, 10.0, 15.0, 29.9])
    assert_close(areas(mesh_of(cone, FINE), Z, heights), pi * (10 * (1 - heights / 30)) ** 2, within=0.1)


def test_a_bore_is_no_area() -> None:
    bored = combined_roughly(How.CUT, prism(shapes.rectangle(30, 20), 0, 20, "extrude-3"), [prism(shapes.circle(8), 10, 30, "extrude-4")], FINE)
    found = areas(mesh_of(bored, FINE), Z, np.array([5.0, 15.0]))
    assert_close(found, [600.0, 600.0 - pi * 16], within=0.1)


def test_pieces_that_lie_apart_are_taken_together() -> None:
    block = prism(shapes.rectangle(30, 20), 0, 20, "extrude-3")
    far = moved(copied(block, "repeat-4.2"), np.eye(3), np.array([100.0, 0.0, 10.0]))
    found = areas(mesh_of(gathered([block, far]), FINE), Z, np.array([5.0, 15.0, 25.0]))
    assert_close(found, [600.0, 1200.0, 600.0], within=1e-9)


@settings(max_examples=25, deadline=None)
@given(angle=st.floats(0, 6.2), tilt=st.tuples(st.floats(-1, 1), st.floats(-1, 1), st.floats(0.2, 1)), at=st.floats(0.01, 0.99))
def test_turned_with_its_axis_the_area_is_the_same(angle: float, tilt: tuple[float, float, float], at: float) -> None:
    body = prism(shapes.rounded_rectangle(30, 20, 6), 0, 20, "extrude-3")
    turn = turn_about(np.array([3.0, 5.0, 7.0]), np.array(tilt) / np.linalg.norm(tilt), angle)
    turned = moved(body, turn.matrix, turn.origin)
    axis = turn.matrix @ Z
    low = float(np.min(mesh_of(turned, FINE).positions @ axis))
    here = areas(mesh_of(body, FINE), Z, np.array([20 * at]))
    there = areas(mesh_of(turned, FINE), axis, np.array([low + 20 * at]))
    assert_close(abs(there[0]), here[0], within=0.01)


@pytest.mark.parametrize("length", [12.0, 90.0])
def test_the_readings_of_a_body_reach_from_end_to_end_along_its_longest_side(length: float) -> None:
    body: Body = prism(shapes.rectangle(40, 20), 0, length, "extrude-3")
    said = body_summary(body, DEFAULT)
    longest = 0 if length < 40 else 2
    assert list(said.axis) == [float(i == longest) for i in range(3)]
    assert_close([said.lanes.at[0], said.lanes.at[-1]], [said.low[longest], said.high[longest]], within=1e-9)
    other = 20 * (length if longest == 0 else 40)
    assert_close(np.array(said.lanes.area), np.full(len(said.lanes.area), other), within=1e-6 * other)


def test_the_area_of_a_body_cut_open_anywhere() -> None:
    """A cone square to its axis, and a block on the skew; a pipe has its ring; beside the body there is nothing."""
    cone = of_shells((placed.body(placed.at(0, shapes.circle(40)), placed.at(60, shapes.circle(10)), between=Between.STRAIGHT).shell,))
    up = np.array([0.0, 0.0, 1.0])
    for height in (1.0, 20.0, 59.0):
        assert_close(area_across(cone, up, height), pi * (20 - height / 4) ** 2, within=2e-4 * pi * 400)
    assert area_across(cone, up, -1.0) == 0.0
    assert area_across(cone, up, 61.0) == 0.0
    block = of_shells((placed.body(placed.at(0, shapes.rectangle(30, 20)), placed.at(50, shapes.rectangle(30, 20)), between=Between.STRAIGHT).shell,))
    skew = np.array([0.6, 0.0, 0.8])
    # square to y the block is 30 wide, and a plane leaning by atan(3 / 4) through its middle cuts it from side to side
    assert_close(area_across(block, skew, 20.0), 20 * 30 / 0.8, within=1e-6 * 750)
    assert_close(area_across(block, -skew, -20.0), 750, within=1e-6 * 750)
