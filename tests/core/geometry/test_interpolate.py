"""Curves through points, and near them."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import wobbly
from wander.core.geometry.errors import BadInput, NotConverged
from wander.core.geometry.interpolate import closed_through, fit, open_through, spread_parameters
from wander.core.geometry.quadrature import at_length, gauss_points, length


@given(seed=st.integers(0, 10_000), count=st.integers(3, 40))
def test_the_closed_spline_meets_its_points_and_closes_smoothly(seed: int, count: int) -> None:
    points = wobbly(count, 30.0, seed)
    ring = closed_through(points)
    at = spread_parameters(np.concatenate([points, points[:1]]))
    assert_close(ring(at[:-1]), points, within=1e-11, relative=True)
    start, end = ring.derivatives(np.array([0.0, 1.0]), 2).transpose(1, 0, 2)
    assert_close(start, end, within=1e-9, relative=True)


def test_the_open_spline_is_straight_at_its_ends() -> None:
    points = np.array([(0, 0), (1, 3), (4, 4), (9, 1)], dtype=float)
    curve = open_through(points)
    assert_close(curve(spread_parameters(points)), points, within=1e-12)
    assert_close(curve.derivatives(np.array([0.0, 1.0]), 2)[2], np.zeros((2, 2)), within=1e-9)


def test_two_points_make_a_line() -> None:
    line = open_through(np.array([(0.0, 0.0), (3.0, 4.0)]))
    assert_close(line(np.array([0.5])), [(1.5, 2.0)], within=1e-14)


def test_parameters_follow_chords() -> None:
    points = np.array([(0, 0), (1, 0), (5, 0)], dtype=float)
    assert_close(spread_parameters(points, 1.0), [0, 0.2, 1], within=1e-15)
    assert_close(spread_parameters(points, 0.5), [0, 1 / 3, 1], within=1e-15)


@pytest.mark.parametrize("make", [closed_through, open_through])
def test_too_few_points_are_refused(make) -> None:
    with pytest.raises(BadInput, match="at least"):
        make(np.array([(0.0, 0.0)]))


def test_points_on_each_other_are_named() -> None:
    with pytest.raises(BadInput, match="points 2 and 3"):
        open_through(np.array([(0, 0), (1, 1), (1, 1), (2, 0)], dtype=float))


@pytest.mark.parametrize(("tolerance", "degree"), [(1e-2, 3), (1e-5, 3), (1e-7, 5)])
def test_a_fit_keeps_its_tolerance_and_its_ends(tolerance: float, degree: int) -> None:
    u = np.linspace(0, 1, 2001)
    points = np.column_stack([40 * u, 6 * np.sin(7 * u), np.cos(3 * u)])
    curve = fit(points, u, tolerance, degree)
    assert np.linalg.norm(curve(u) - points, axis=1).max() <= tolerance
    assert_close(curve(np.array([0.0, 1.0])), points[[0, -1]], within=1e-12)
    assert curve.space.count < 120


def test_a_tighter_fit_takes_more_spans() -> None:
    u = np.linspace(0, 1, 2001)
    points = np.column_stack([u, np.sin(9 * u)])
    assert fit(points, u, 1e-7).space.count > fit(points, u, 1e-3).space.count


def test_a_fit_that_can_not_be_had_says_how_far_it_came() -> None:
    u = np.linspace(0, 1, 50)
    noise = np.random.default_rng(1).normal(size=(50, 2))
    with pytest.raises(NotConverged) as caught:
        fit(noise, u, 1e-9)
    assert caught.value.residual > 1e-9
    assert caught.value.iterations >= 1


def test_gauss_points_integrate_polynomials_exactly() -> None:
    u, w = gauss_points(np.array([0.0, 0.3, 2.0]), 4)
    for power in range(8):
        assert_close(np.sum(w * u**power), 2.0 ** (power + 1) / (power + 1), within=1e-13, relative=True)


@given(share=st.floats(0, 1))
def test_arc_length_and_its_inverse(share: float) -> None:
    curve = open_through(np.array([(0, 0, 0), (2, 1, 4), (5, -1, 2), (7, 7, 7)], dtype=float))
    total = length(curve)
    u = float(at_length(curve, np.array([share * total]))[0])
    t = np.linspace(0, u, 20001)
    brute = np.linalg.norm(np.diff(curve(t), axis=0), axis=1).sum()
    assert_close(brute, share * total, within=1e-6 * total)
