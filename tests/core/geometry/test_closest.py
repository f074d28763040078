"""The nearest place on a curve, against a brute search."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from wander.core.drawing.outlines import shapes
from wander.core.geometry.closest import closest_parameter, closest_parameters
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import join
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.space import SplineSpace

CURVES: dict[str, Curve] = {
    "open": open_through(np.array([(0, 0), (10, 8), (22, 3), (30, 12), (28, 20)], dtype=float)),
    "closed": shapes.spline(np.array([(20, 0), (3, 18), (-16, 2), (0, -14)], dtype=float)).curve,
    "cornered": shapes.rectangle(30.0, 12.0).curve,
    "rounded": shapes.rounded_rectangle(30.0, 12.0, 3.0).curve,
    "foil": shapes.foil(60.0, 0.12, 0.03, 0.4).curve,
    "in space": open_through(np.array([(0, 0, 0), (10, 8, 3), (22, 3, 9), (30, 12, 2)], dtype=float)),
}


@pytest.mark.parametrize("name", list(CURVES))
@settings(max_examples=40)
@example(at=(9.0, 0.0625, 0.0))  # nearest to one side by a hair, nearer to the samples of another
@given(at=st.tuples(st.floats(-40, 50), st.floats(-30, 30), st.floats(-10, 20)))
def test_no_place_is_nearer(name: str, at: tuple[float, float, float]) -> None:
    curve = CURVES[name]
    point = np.array(at[: curve.points.shape[1]])
    dense = curve(np.linspace(*curve.domain, 20001))
    least = float(np.linalg.norm(dense - point, axis=1).min())
    found = curve(closest_parameter(curve, point))
    assert np.linalg.norm(found - point) <= least + 1e-9


@pytest.mark.parametrize("name", list(CURVES))
def test_a_place_on_the_curve_is_its_own_nearest(name: str) -> None:
    curve = CURVES[name]
    u = np.concatenate([np.linspace(*curve.domain, 400), curve.space.breaks, [1e-9, 1 - 1e-9]])
    p = curve(u)
    assert np.linalg.norm(curve(closest_parameters(curve, p)) - p, axis=1).max() < 1e-7


def test_the_foot_stands_square_to_the_curve() -> None:
    curve = CURVES["open"]
    point = np.array([14.0, 12.0])
    p, d = curve.derivatives(closest_parameter(curve, point), 1)
    assert abs((point - p) @ d) < 1e-9 * np.linalg.norm(d)


def test_beyond_the_ends_the_end_is_nearest() -> None:
    curve = CURVES["open"]
    assert closest_parameter(curve, np.array([-20.0, -30.0])) == 0.0
    assert closest_parameter(curve, np.array([30.0, 60.0])) == 1.0


def test_beside_a_sharp_corner_both_arms_are_looked_along() -> None:
    """The arm that a point lies on may have its nearest sample farther off than one of the other arm."""
    arm = SplineSpace.from_breaks(2, [0.0, 1.0])
    needle = join([Curve(arm, np.array([(-9.0, -3), (-3, 0), (0, 8)])), Curve(arm, np.array([(0.0, 8), (1, 0), (9, -3)]))], [1.0, 1.0], [False])
    fine = needle(np.linspace(0, 1, 60001))
    points = needle(np.linspace(0.4, 0.6, 301)) + np.array([0.01, 0.0])
    brute = np.array([np.linalg.norm(fine - p, axis=1).min() for p in points])
    found = np.linalg.norm(needle(closest_parameters(needle, points)) - points, axis=1)
    assert np.all(found <= brute + 1e-9)
