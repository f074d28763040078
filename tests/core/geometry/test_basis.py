"""Basis functions against the definition, written the slow way."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from wander.core.geometry.basis import basis_functions, find_spans
from wander.core.geometry.space import SplineSpace

SPACES = [
    SplineSpace.checked(1, [0, 0, 1, 2, 2]),
    SplineSpace.checked(2, [0, 0, 0, 0.3, 0.3, 1, 1, 1]),
    SplineSpace.checked(3, [0, 0, 0, 0, 0.2, 0.5, 0.5, 0.9, 1, 1, 1, 1]),
    SplineSpace.checked(5, [-1] * 6 + [0.0, 0.1, 0.1, 0.1] + [2] * 6),
]


def naive(i: int, p: int, knots: np.ndarray, u: float) -> float:
    """The recursion of Cox and de Boor, word for word; the last span is closed."""
    if p == 0:
        last = u == knots[-1] and knots[i] < knots[i + 1] == knots[-1]
        return float(knots[i] <= u < knots[i + 1] or last)
    left = knots[i + p] - knots[i]
    right = knots[i + p + 1] - knots[i + 1]
    value = 0.0
    if left > 0:
        value += (u - knots[i]) / left * naive(i, p - 1, knots, u)
    if right > 0:
        value += (knots[i + p + 1] - u) / right * naive(i + 1, p - 1, knots, u)
    return value


def full(space: SplineSpace, u: np.ndarray, derivative: int = 0) -> np.ndarray:
    spans, values = basis_functions(space.knots, space.degree, u, derivative)
    matrix = np.zeros((len(u), space.count))
    for row, (span, line) in enumerate(zip(spans, values, strict=True)):
        matrix[row, span - space.degree : span + 1] = line
    return matrix


@pytest.mark.parametrize("space", SPACES)
def test_agrees_with_the_definition(space: SplineSpace) -> None:
    u = np.linspace(*space.domain, 41)
    slow = np.array([[naive(i, space.degree, space.knots, x) for i in range(space.count)] for x in u])
    assert_close(full(space, u), slow, within=1e-14)
    assert_close(space.matrix(u), slow, within=1e-14)


@pytest.mark.parametrize("space", SPACES)
@pytest.mark.parametrize("derivative", [1, 2, 3])
def test_derivatives_agree_with_the_compiled_ones(space: SplineSpace, derivative: int) -> None:
    low, high = space.domain
    u = np.setdiff1d(np.linspace(low, high, 57), space.knots)
    expected = space.matrix(u, derivative)
    assert_close(full(space, u, derivative), expected, within=1e-12 * max(1.0, float(np.abs(expected).max())))


@pytest.mark.parametrize("space", SPACES)
def test_functions_sum_to_one_and_their_slopes_to_zero(space: SplineSpace) -> None:
    u = np.linspace(*space.domain, 101)
    assert_close(full(space, u).sum(axis=1), np.ones(101), within=1e-14)
    assert_close(space.matrix(u, 1).sum(axis=1), np.zeros(101), within=1e-11)


@given(st.floats(0, 1))
def test_span_holds_its_parameter(u: float) -> None:
    space = SPACES[2]
    span = int(find_spans(space.knots, 3, np.array([u]))[0])
    assert space.knots[span] <= u <= space.knots[span + 1]
    assert space.knots[span] < space.knots[span + 1]


def test_a_derivative_above_the_degree_is_zero() -> None:
    assert not SPACES[0].matrix(np.array([0.5, 1.5]), 2).any()
    assert not full(SPACES[0], np.array([0.5, 1.5]), 2).any()
