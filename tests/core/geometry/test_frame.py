"""Frames: facing a direction, turned about a line, there and back."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import BASE_FRAMES, facing, turned_about

vector = st.tuples(*[st.floats(-10, 10)] * 3).map(np.array)


@given(origin=vector, normal=vector, x=vector)
def test_facing_has_the_normal_and_right_handed_unit_axes(origin, normal, x) -> None:
    if np.linalg.norm(np.cross(normal, x)) < 1e-3 or np.linalg.norm(normal) < 1e-3:
        return
    frame = facing(origin, normal, x)
    assert_close(np.array([frame.x, frame.y, frame.z]) @ np.array([frame.x, frame.y, frame.z]).T, np.eye(3), within=1e-9)
    assert_close(frame.z, normal / np.linalg.norm(normal), within=1e-9)
    assert frame.x @ x > 0


@pytest.mark.parametrize(("normal", "x"), [([0, 0, 0], [1, 0, 0]), ([0, 0, 2], [0, 0, 5]), ([1, 1, 1], [0, 0, 0])])
def test_directions_that_make_no_plane(normal, x) -> None:
    with pytest.raises(BadInput, match="no plane"):
        facing(np.zeros(3), np.array(normal, dtype=float), np.array(x, dtype=float))


@given(point=vector, direction=vector, angle=st.floats(-6, 6), flat=st.tuples(st.floats(-5, 5), st.floats(-5, 5)).map(np.array))
def test_turning_keeps_distances_to_the_line_and_comes_back(point, direction, angle, flat) -> None:
    if np.linalg.norm(direction) < 1e-3:
        return
    frame = BASE_FRAMES["front"].moved(3.0)
    turned = turned_about(frame, point, direction, angle)
    unit = direction / np.linalg.norm(direction)
    before, after = (np.linalg.norm(np.cross(f.lift(flat) - point, unit)) for f in (frame, turned))
    assert_close(after, before, within=1e-9)
    back = turned_about(turned, point, direction, -angle)
    assert_close(back.lift(flat), frame.lift(flat), within=1e-9)
    assert_close(turned.drop(turned.lift(flat)), flat, within=1e-9)
