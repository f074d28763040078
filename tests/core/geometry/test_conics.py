"""Circles, ellipses and arcs against their equations."""

from __future__ import annotations

from math import pi

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from wander.core.geometry.conics import arc, circle, ellipse, smooth_arc
from wander.core.geometry.errors import BadInput
from wander.core.geometry.quadrature import length

U = np.linspace(0, 1, 1001)


@given(radius=st.floats(1e-3, 1e4))
def test_the_circle_is_exact(radius: float) -> None:
    assert_close(np.linalg.norm(circle(radius)(U), axis=1), np.full(1001, radius), within=1e-14, relative=True)


def test_the_ellipse_satisfies_its_equation() -> None:
    x, y = ellipse(30.0, 12.0)(U).T
    assert_close((x / 30) ** 2 + (y / 12) ** 2, np.ones(1001), within=1e-14)


@given(start=st.floats(-7, 7), sweep=st.floats(0.01, 2 * pi))
def test_the_arc_is_exact_and_ends_where_it_should(start: float, sweep: float) -> None:
    curve = arc(5.0, start, sweep)
    points = curve(U)
    assert_close(np.linalg.norm(points, axis=1), np.full(1001, 5.0), within=1e-13, relative=True)
    ends = np.array([start, start + sweep])
    assert_close(points[[0, -1]], 5 * np.column_stack([np.cos(ends), np.sin(ends)]), within=1e-12)


def test_an_arc_runs_either_way() -> None:
    assert_close(arc(2.0, 0.0, -pi / 2)(1.0), [0, -2], within=1e-14)


@pytest.mark.parametrize("sweep", [2 * pi, pi, pi / 2, 0.3, -1.0, 1e-4])
def test_the_smooth_arc_stays_within_its_promise(sweep: float) -> None:
    curve = smooth_arc((3.0, -4.0), 100.0, 0.7, sweep)
    miss = np.abs(np.linalg.norm(curve(U) - (3.0, -4.0), axis=1) - 100.0).max()
    assert miss <= 2e-9 * 100.0
    assert_close(length(curve), 100.0 * abs(sweep), within=1e-8, relative=True)


def test_the_smooth_arc_runs_at_constant_speed() -> None:
    speed = np.linalg.norm(smooth_arc((0.0, 0.0), 10.0, 0.0, 2 * pi).derivatives(U, 1)[1], axis=1)
    assert_close(speed, np.full(1001, 20 * pi), within=1e-6, relative=True)


@pytest.mark.parametrize("make", [arc, lambda r, s, w: smooth_arc((0.0, 0.0), r, s, w)])
@pytest.mark.parametrize(("radius", "sweep"), [(0.0, 1.0), (-1.0, 1.0), (1.0, 0.0), (1.0, 7.0)])
def test_impossible_arcs_are_refused(make, radius: float, sweep: float) -> None:
    with pytest.raises(BadInput, match="positive radius"):
        make(radius, 0.0, sweep)


def test_an_ellipse_needs_two_axes() -> None:
    with pytest.raises(BadInput, match="positive half axes"):
        ellipse(3.0, 0.0)
