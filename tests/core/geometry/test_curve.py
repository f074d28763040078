"""Curves: evaluation, derivatives, exact edits."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, example, given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import wobbly
from wander.core.geometry import curve_edits as edits
from wander.core.geometry.conics import arc, circle, smooth_arc
from wander.core.geometry.curve import Curve, Together
from wander.core.geometry.errors import BadInput
from wander.core.geometry.interpolate import closed_through, open_through
from wander.core.geometry.space import SplineSpace

U = np.linspace(0, 1, 401)
RATIONAL = arc(7.0, 0.3, 4.0)
POLYNOMIAL = open_through(np.array([(0, 0, 0), (2, 1, 4), (5, -1, 2), (7, 7, 7), (9, 2, 1)], dtype=float))
CURVES = [RATIONAL, POLYNOMIAL]
inside = st.floats(0.02, 0.98)


@pytest.mark.parametrize("curve", CURVES)
def test_derivatives_agree_with_differences(curve: Curve) -> None:
    u, h = np.array([0.11, 0.42, 0.87]), 1e-5
    first = (curve(u + h) - curve(u - h)) / (2 * h)
    second = (curve(u + h) - 2 * curve(u) + curve(u - h)) / h**2
    _, d1, d2 = curve.derivatives(u, 2)
    assert_close(d1, first, within=1e-6, relative=True)
    assert_close(d2, second, within=1e-4, relative=True)


@pytest.mark.parametrize("sizes", [(5, 16, 9), (40,) * 30])
def test_curves_evaluated_together_are_as_when_evaluated_alone(sizes: tuple[int, ...]) -> None:
    random = np.random.default_rng(7)
    curves = [closed_through(random.normal(size=(size, 3)) * 40) for size in sizes]
    for own in (U, np.vstack([[0.0, 1.0, *row] for row in random.random((len(sizes), 50))])):
        alone = [curve(row) for curve, row in zip(curves, np.broadcast_to(own, (len(curves), own.shape[-1])), strict=True)]
        assert_close(Together(curves)(own), alone, within=1e-10)


def test_curves_of_different_degrees_are_evaluated_together() -> None:
    curves = [POLYNOMIAL, Curve(SplineSpace.from_breaks(1, [0, 1]), np.eye(3)[:2])]
    assert_close(Together(curves)(U), [curve(U) for curve in curves], within=0)


@pytest.mark.parametrize("curve", CURVES)
def test_rank_follows_input(curve: Curve) -> None:
    size = curve.points.shape[1]
    assert curve(0.5).shape == (size,)
    assert curve(np.array([0.5])).shape == (1, size)
    assert curve.derivatives(0.5, 2).shape == (3, size)
    assert curve.derivatives(U, 1).shape == (2, 401, size)


@pytest.mark.parametrize(
    ("points", "weights", "told"),
    [
        ([(0, 0)], None, "expected 2 control points"),
        ([(0, 0, 0, 0), (1, 1, 1, 1)], None, "2 or 3 coordinates"),
        ([(0, 0), (1, 1)], [1.0, 0.0], "positive weights"),
        ([(0, 0), (1, 1)], [1.0], "positive weights"),
        ([(0, 0), (1, float("inf"))], None, "finite"),
    ],
)
def test_bad_curves_are_refused(points: list, weights: list | None, told: str) -> None:
    with pytest.raises(BadInput, match=told):
        Curve.checked(1, [0, 0, 1, 1], points, weights)


def test_a_good_curve_is_taken() -> None:
    line = Curve.checked(1, [0, 0, 1, 1], [(0, 0), (4, 2)])
    assert_close(line(0.25), [1, 0.5], within=1e-15)


@pytest.mark.parametrize("curve", CURVES)
@given(at=inside, again=inside)
def test_insertion_changes_nothing(curve: Curve, at: float, again: float) -> None:
    present = np.concatenate([curve.space.breaks, [at]])
    assume(np.abs(curve.space.breaks - at).min() > 1e-6)
    assume(np.abs(present - again).min() > 1e-6)
    more = edits.insert_knots(curve, sorted([at, again]))
    assert more.space.count == curve.space.count + 2
    assert_close(more(U), curve(U), within=1e-12, relative=True)


@pytest.mark.parametrize("curve", CURVES)
def test_insertion_of_nothing_is_the_curve_itself(curve: Curve) -> None:
    assert edits.insert_knots(curve, []) is curve


@pytest.mark.parametrize("curve", CURVES)
def test_elevation_changes_nothing(curve: Curve) -> None:
    for degree in range(curve.degree, 6):
        assert_close(edits.elevate(curve, degree)(U), curve(U), within=1e-12, relative=True)


@pytest.mark.parametrize("curve", CURVES)
@given(at=inside)
def test_split_gives_the_two_parts(curve: Curve, at: float) -> None:
    left, right = edits.split(curve, at)
    assert left.domain == (0.0, at)
    assert right.domain == (at, 1.0)
    assert_close(left(U * at), curve(U * at), within=1e-11, relative=True)
    assert_close(right(at + U * (1 - at)), curve(at + U * (1 - at)), within=1e-11, relative=True)
    assert_close(left(at), right(at), within=1e-12, relative=True)


@pytest.mark.parametrize("at", [0.0, 1.0, 2.0])
def test_split_at_an_end_is_refused(at: float) -> None:
    with pytest.raises(BadInput, match="inside"):
        edits.split(POLYNOMIAL, at)


def test_split_at_a_knot_that_is_there() -> None:
    knot = float(RATIONAL.space.breaks[1])
    left, right = edits.split(RATIONAL, knot)
    assert_close(left(knot), RATIONAL(knot), within=1e-14)
    assert left.space.count + right.space.count == RATIONAL.space.count + 1


@pytest.mark.parametrize("curve", CURVES)
def test_reversing_runs_backwards(curve: Curve) -> None:
    back = edits.reverse(curve)
    assert_close(back(U), curve(1 - U), within=1e-13, relative=True)
    assert_close(edits.reverse(back)(U), curve(U), within=1e-14, relative=True)


@given(at=inside)
def test_split_and_join_return_the_curve(at: float) -> None:
    parts = edits.split(POLYNOMIAL, at)
    joined = edits.join(parts, [at, 1 - at], [True])
    assert_close(joined(U), POLYNOMIAL(U), within=1e-9, relative=True)


def test_joining_across_a_gap_is_refused() -> None:
    line = Curve.checked(1, [0, 0, 1, 1], [(0, 0), (1, 0)])
    with pytest.raises(BadInput, match="do not meet"):
        edits.join([line, line], [1, 1], [False])


def test_a_join_may_keep_its_corner() -> None:
    a = Curve.checked(1, [0, 0, 1, 1], [(0, 0), (1, 0)])
    b = Curve.checked(1, [0, 0, 1, 1], [(1, 0), (1, 2)])
    joined = edits.join([a, b], [1, 2], [False])
    assert_close(joined(np.array([0, 1 / 3, 1])), [(0, 0), (1, 0), (1, 2)], within=1e-15)


@given(at=st.floats(-1, 2))
@example(at=6e-8)
def test_the_seam_moves_without_changing_a_closed_curve(at: float) -> None:
    ring = closed_through(wobbly(11, 20.0, 5))
    moved = edits.move_seam(ring, at)
    assert_close(moved(U), ring((U + at) % 1.0), within=1e-10, relative=True)


@pytest.mark.parametrize("at", [0.05, 0.31, 0.77])
def test_a_moved_seam_is_as_smooth_as_the_curve(at: float) -> None:
    assert edits.continuity_at_seam(edits.move_seam(closed_through(wobbly(11, 20.0, 5)), at)) >= 2


def test_seam_of_a_smooth_circle() -> None:
    ring = smooth_arc((1.0, 2.0), 5.0, 0.0, 2 * np.pi)
    moved = edits.move_seam(ring, 0.31)
    assert_close(moved(U), ring((U + 0.31) % 1.0), within=1e-11, relative=True)


def test_an_open_or_rational_curve_has_no_seam_to_move() -> None:
    with pytest.raises(BadInput, match="closed"):
        edits.move_seam(POLYNOMIAL, 0.5)
    with pytest.raises(BadInput, match="rational"):
        edits.move_seam(circle(3.0), 0.5)


def test_continuity_at_the_seam_is_counted() -> None:
    assert edits.continuity_at_seam(POLYNOMIAL) == -1
    assert edits.continuity_at_seam(closed_through(wobbly(9, 10.0, 1))) == 2
    square = Curve.checked(1, [0, 0, 1, 2, 3, 4, 4], [(0, 0), (1, 0), (1, 1), (0, 1), (0, 0)])
    assert edits.continuity_at_seam(square) == 0


def test_transformation_lifts_a_planar_curve_into_space() -> None:
    lifted = edits.transformed(RATIONAL, np.array([(1, 0), (0, 0), (0, 2)]), np.array([1.0, 2.0, 3.0]))
    flat = RATIONAL(U)
    assert_close(lifted(U), np.column_stack([flat[:, 0] + 1, np.full(401, 2.0), 2 * flat[:, 1] + 3]), within=1e-13, relative=True)


def test_samples_hold_every_break() -> None:
    u, points = POLYNOMIAL.sampled(4)
    assert np.isin(POLYNOMIAL.space.breaks, u).all()
    assert_close(points, POLYNOMIAL(u), within=0)


def test_space_is_seen_through_the_curve() -> None:
    assert POLYNOMIAL.degree == 3
    assert isinstance(POLYNOMIAL.space, SplineSpace)
