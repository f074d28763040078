"""Spline spaces and the exact way from one into a larger one."""

from __future__ import annotations

import numpy as np
import pytest

from tests.closeness import assert_close
from wander.core.geometry.errors import BadInput
from wander.core.geometry.space import SplineSpace, change_of_basis, space_with


def cubic(*inner: float) -> SplineSpace:
    return SplineSpace.from_breaks(3, [0.0, *inner, 1.0])


@pytest.mark.parametrize(
    ("degree", "knots", "told"),
    [
        (0, [0, 1], "degree must be 1 to 5"),
        (6, [0] * 7 + [1] * 7, "degree must be 1 to 5"),
        (3, [0, 0, 0, 1, 1, 1], "needs at least 8 knots, got 6"),
        (1, [0, 0, 2, 1, 3, 3], "must not decrease"),
        (1, [0, 0, float("nan"), 1, 1], "finite"),
        (2, [0, 0, 0.1, 0.5, 1, 1, 1], "clamped"),
        (2, [0, 0, 0, 0.5, 0.5, 0.5, 1, 1, 1], "at most 2 times"),
    ],
)
def test_bad_knots_are_named(degree: int, knots: list[float], told: str) -> None:
    with pytest.raises(BadInput, match=told):
        SplineSpace.checked(degree, knots)


def test_counts_and_breaks() -> None:
    space = SplineSpace.from_breaks(3, [0, 0.25, 0.5, 1], [2, 1])
    assert space.count == 7
    assert space.domain == (0.0, 1.0)
    assert_close(space.breaks, [0, 0.25, 0.5, 1], within=0)
    assert space.multiplicities.tolist() == [4, 2, 1, 4]


def test_greville_points_are_knot_averages() -> None:
    space = SplineSpace.from_breaks(2, [0, 1, 2, 4])
    assert_close(space.greville, [0, 0.5, 1.5, 3, 4], within=0)


def test_interpolation_gives_back_a_spline_of_the_space() -> None:
    space = SplineSpace.from_breaks(5, [0, 0.1, 0.4, 0.5, 1], [1, 4, 2])
    controls = np.random.default_rng(3).normal(size=(space.count, 2, 3))
    values = space.evaluate(controls, space.greville)
    assert_close(space.interpolate(values), controls, within=1e-12)


def test_elevation_keeps_continuity() -> None:
    raised = SplineSpace.from_breaks(2, [0, 0.5, 1], [2]).elevated(4)
    assert raised.degree == 4
    assert raised.multiplicities.tolist() == [5, 4, 5]
    with pytest.raises(BadInput, match="can't elevate"):
        cubic().elevated(2)


@pytest.mark.parametrize("new", [[0.0], [1.0], [1.5]])
def test_knots_go_only_inside(new: list[float]) -> None:
    with pytest.raises(BadInput, match="inside"):
        cubic(0.5).with_knots(new)


def test_knots_go_only_up_to_the_degree() -> None:
    assert cubic(0.5).with_knots([0.5, 0.5]).multiplicities.tolist() == [4, 3, 4]
    with pytest.raises(BadInput, match="at most 3 times"):
        cubic(0.5).with_knots([0.5, 0.5, 0.5])


def test_a_space_with_the_knots_of_others_keeps_the_highest_multiplicity() -> None:
    both = space_with(3, np.array([0.7, 0.3, 0.3 + 1e-12]), np.array([1, 1, 3]), 1e-9)
    assert_close(both.breaks, [0, 0.3, 0.7, 1], within=1e-9)
    assert both.multiplicities.tolist() == [4, 3, 1, 4]
    assert space_with(2, np.zeros(0), np.zeros(0, dtype=int), 1e-9).breaks.tolist() == [0, 1]


def test_change_of_basis_is_exact() -> None:
    small = SplineSpace.from_breaks(3, [0, 0.2, 0.6, 1], [2, 1])
    large = small.elevated(5).with_knots([0.1, 0.1, 0.9])
    controls = np.random.default_rng(4).normal(size=(small.count, 3))
    u = np.linspace(0, 1, 301)
    assert_close(large.evaluate(change_of_basis(small, large) @ controls, u), small.evaluate(controls, u), within=1e-12)


def test_mapping_moves_the_domain() -> None:
    moved = cubic(0.25).mapped(-2.0, 2.0)
    assert moved.domain == (-2.0, 2.0)
    assert_close(moved.breaks, [-2, -1, 2], within=1e-15)


@pytest.mark.parametrize("degree", [1, 3, 5])
def test_the_derivative_is_a_spline_of_one_degree_less(degree: int) -> None:
    space = SplineSpace.from_breaks(degree, [0.0, 0.2, 0.5, 1.0], [degree, 1])
    controls = np.random.default_rng(degree).normal(size=(space.count, 2))
    u = np.array([0.0, 0.1, 0.2, 0.35, 0.5, 0.77, 1.0])
    lower, derived = space.derived(controls)
    assert_close(lower.matrix(u) @ derived, space.evaluate(controls, u, 1), within=1e-10)
