"""Fairing within a tolerance: least by an independent optimiser, nothing further than allowed, and alike however it lies."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import CubicSpline
from scipy.optimize import minimize

from tests.closeness import assert_close
from wander.core.geometry.errors import BadInput
from wander.core.geometry.smoothing import change_of_curvature, faired


def wavy(seed: int, count: int, dims: int) -> tuple[np.ndarray, np.ndarray]:
    rng = np.random.default_rng(seed)
    t = np.concatenate([[0.0], np.cumsum(rng.uniform(5, 20, count - 1))])
    base = np.stack([np.sin(t / (30 + 10 * d)) * 40 for d in range(dims)], axis=1)
    return t, base + rng.normal(scale=0.6, size=base.shape)


@given(seed=st.integers(0, 999), count=st.integers(4, 14))
def test_the_form_is_the_integral_of_the_squared_third_derivative(seed: int, count: int) -> None:
    t, points = wavy(seed, count, 2)
    spline = CubicSpline(t, points, bc_type="natural")
    third = spline(t[:-1] + np.diff(t) / 2, 3)
    assert_close(
        np.einsum("id,ij,jd->", points, change_of_curvature(t), points), float((np.diff(t)[:, None] * third**2).sum()), within=1e-9, relative=True
    )


@given(seed=st.integers(0, 999), count=st.integers(4, 12))
def test_of_a_closed_one_too(seed: int, count: int) -> None:
    t, points = wavy(seed, count + 1, 2)
    points[-1] = points[0]
    spline = CubicSpline(t, points, bc_type="periodic")
    third = spline(t[:-1] + np.diff(t) / 2, 3)
    form = change_of_curvature(t, closed=True)
    assert_close(np.einsum("id,ij,jd->", points[:-1], form, points[:-1]), float((np.diff(t)[:, None] * third**2).sum()), within=1e-8, relative=True)


@pytest.mark.parametrize("seed", range(6))
def test_no_other_optimiser_finds_less(seed: int) -> None:
    t, points = wavy(seed, 9, 2)
    within = np.where(np.isin(np.arange(9), [0, 8, seed % 9]), 0.0, 0.5)
    ours = faired(t, points, within)
    free = within > 0
    form = change_of_curvature(t)

    def energy(x: np.ndarray) -> float:
        p = points.copy()
        p[free] += x.reshape(-1, 2)
        return float(np.einsum("id,ij,jd->", p, form, p)) / ours.before

    room = {"type": "ineq", "fun": lambda x: 0.25 - (x.reshape(-1, 2) ** 2).sum(axis=1)}
    other = minimize(energy, np.zeros(2 * int(free.sum())), method="SLSQP", constraints=[room], options={"ftol": 1e-12, "maxiter": 500})
    assert ours.after / ours.before <= other.fun + 1e-6
    assert ours.moved[~free].max() == 0.0
    assert ours.moved.max() <= 0.5


@given(seed=st.integers(0, 999), within=st.floats(0.01, 5.0))
@settings(max_examples=25, deadline=None)
def test_more_room_is_never_worse_and_none_is_left(seed: int, within: float) -> None:
    t, points = wavy(seed, 8, 3)
    held = np.array([0.0, *[1.0] * 6, 0.0])
    less, more = (faired(t, points, k * within * held) for k in (1.0, 1.5))
    assert more.after <= less.after * (1 + 1e-6)
    assert less.after <= less.before
    assert less.moved.max() <= within
    assert faired(t, points, 0 * held).moved.max() == 0.0


def test_turned_and_moved_it_is_the_same() -> None:
    t, points = wavy(3, 8, 3)
    within = np.array([0.0, *[0.4] * 6, 0.0])
    turn, _ = np.linalg.qr(np.random.default_rng(1).normal(size=(3, 3)))
    here, there = faired(t, points, within), faired(t, points @ turn + [5.0, -3.0, 40.0], within)
    assert_close(here.points @ turn + [5.0, -3.0, 40.0], there.points, within=1e-5)
    back = faired(t[-1] - t[::-1], points[::-1], within)
    assert_close(back.points[::-1], here.points, within=1e-5)


def test_what_is_fair_stays() -> None:
    t = np.linspace(0, 10, 7)
    parabola = np.stack([t, t**2 / 10], axis=1)
    # a parabola that is let go at its ends bends less there: with room for nothing it stays, a straight line stays in any case
    line = np.stack([t, 2 * t], axis=1)
    assert_close(faired(t, line, np.full(7, 1.0)).points, line, within=1e-9)
    held = faired(t, parabola, np.zeros(7))
    assert_close(held.points, parabola, within=0)
    assert held.after == held.before > 0


@pytest.mark.parametrize("t", [[0.0, 1.0, 2.0], [0.0, 1.0, 1.0, 2.0]])
def test_too_few_places_or_two_at_one_are_refused(t: list[float]) -> None:
    with pytest.raises(BadInput, match="rising"):
        faired(np.array(t), np.zeros((len(t), 2)), np.ones(len(t)))
