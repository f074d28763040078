"""Corrections of least weighted length against the pseudo-inverse, and pulls on large drawings against the same worked out another way."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.drawing.drawings import flange, read
from wander.core.drawing.holding import shortest
from wander.core.drawing.holding.equations import Equations
from wander.core.drawing.holding.rows import Linearised, Rows, System
from wander.core.drawing.holding.solver import solve
from wander.core.drawing.holding.sums import Sums, distance, number
from wander.core.geometry.basis import Floats


def system(seed: int, count: int, variables: int, *, twice: bool = False) -> tuple[Linearised, Floats, Floats]:
    """Equations of a few variables each, the last variable in all of them; twice: one stands there twice. Their Jacobian and weights too."""
    rng = np.random.default_rng(seed)
    jacobian = np.zeros((count, variables))
    for i in range(count):
        jacobian[i, rng.choice(variables - 1, 4, replace=False)] = rng.uniform(0.2, 1.0, 4) * rng.choice([-1, 1], 4)
        jacobian[i, -1] = 1.0
    if twice:
        jacobian[-1] = jacobian[0]
    row, column = np.nonzero(jacobian)
    residual = rng.uniform(-1, 1, count)
    if twice:
        residual[-1] = residual[0]
    slopes = jacobian[row, column]
    # a variable may be part of an equation more than once
    row, column, slopes = np.append(row, row[:9]), np.append(column, column[:9]), np.append(slopes, 0.5 * slopes[:9])
    slopes[:9] *= 0.5
    rows = Linearised(residual, row.astype(np.int32), column.astype(np.int32), lambda: slopes)
    return rows, jacobian, rng.choice([1.0, 1.0, 1e4], variables)


def expected(jacobian: Floats, weights: Floats, residual: Floats) -> Floats:
    root = np.sqrt(weights)
    return np.asarray(np.linalg.pinv(jacobian / root) @ -residual / root)


@pytest.mark.parametrize("most", [shortest.MOST_PRODUCTS, 0])
@given(seed=st.integers(0, 10_000), more=st.integers(20, 60))
@settings(max_examples=12, deadline=None)
def test_the_shortest_correction_is_that_of_the_pseudo_inverse(most: int, seed: int, more: int) -> None:
    rows, jacobian, weights = system(seed, 150, 280 + more)
    assert len(rows.residual) * len(weights) > shortest.DENSE
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(shortest, "MOST_PRODUCTS", most)
        found = shortest.Shortest()(rows, weights, 1e-13)
    assert_close(found, expected(jacobian, weights, rows.residual), within=1e-6)


def test_the_same_slopes_serve_another_residual() -> None:
    rows, jacobian, weights = system(1, 160, 300)
    known = shortest.Shortest()
    assert known.again(rows) is None
    known(rows, weights, 1e-13)
    rows.residual = np.linspace(-1, 1, 160)
    found = known.again(rows)
    assert found is not None
    assert_close(found, expected(jacobian, weights, rows.residual), within=1e-6)
    # what begins afresh knows where slopes stand, and of no correction
    assert known.afresh().again(rows) is None
    other, wider, _ = system(2, 160, 300)
    assert known.again(other) is None
    assert_close(known.afresh()(other, weights, 1e-13), expected(wider, weights, other.residual), within=1e-6)


def test_an_equation_that_stands_twice_is_no_harm() -> None:
    rows, jacobian, weights = system(5, 160, 300, twice=True)
    assert_close(shortest.Shortest()(rows, weights, 1e-13), expected(jacobian, weights, rows.residual), within=1e-3)


@pytest.mark.parametrize("by", [0.0, 1e-7, 0.3, 2.0, 7.0, 25.0])
def test_a_pull_on_a_large_drawing_comes_to_the_same_either_way(by: float) -> None:
    """As a small drawing is: from full matrices, and with slopes of its own for every step."""
    plate = read(flange(60))
    x, y = plate.points["p1"]
    large = solve(plate, {"p1": (x + by, y + by / 3)})
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(shortest, "DENSE", 10**9)
        small = solve(plate, {"p1": (x + by, y + by / 3)})
    assert large.final
    assert small.final
    assert_close(np.array(list(large.drawing.points.values())), np.array(list(small.drawing.points.values())), within=1e-4)


@given(seed=st.integers(0, 10_000), others=st.integers(0, 12))
@settings(max_examples=25, deadline=None)
def test_equations_that_share_a_term_are_corrected_as_they_stand(seed: int, others: int) -> None:
    """A few things that many are compared with, each by itself so often, some by two at once; equations of other kinds stand between them."""
    rng = np.random.default_rng(seed)
    hubs, count = 3, 90
    variables = 2 * (hubs + 1 + count)
    sums = Sums()
    for i in range(count):
        own = 2 * (hubs + 1 + i)
        sums.begin(f"h{i}", i, float(rng.uniform(-1, 1)))
        for hub in rng.choice(hubs, rng.integers(0, 3), replace=False):
            sums.term(distance, float(rng.choice([1.0, -1.0, 2.0])), 2 * int(hub), 2 * hubs)
        sums.term(number, 1.0, own)
        if i:
            sums.term(number, float(rng.uniform(-0.5, 0.5)), own - 1)
    rows = Rows()
    for rank in rng.choice(count, others, replace=False):
        rows.rank = int(rank)
        rows.add("other", float(rng.uniform(-1, 1)), {2 * int(rank) + 9: 1.0, 0: 0.5})
    made = System(sums, variables).at(rng.uniform(-10, 10, variables), rows)
    assert made.shared is not None
    jacobian = np.zeros((len(made.residual), variables))
    np.add.at(jacobian, (made.row, made.column), made.slopes)
    assert jacobian.size > shortest.DENSE
    weights = rng.choice([1.0, 1.0, 10.0], variables)
    assert_close(shortest.Shortest()(made, weights, 1e-13), expected(jacobian, weights, made.residual), within=1e-6)


def test_what_many_are_compared_with_does_not_make_them_all_hang_together() -> None:
    """The normal matrix of a ring of equal corners has a few entries for each equation, not one for every pair of them."""
    entries = []
    for sides in (50, 100):
        plate = Equations(read(flange(sides)))
        plate.shortest(plate.linearised(), plate.weights(()), 1e-13)
        entries.append(plate.shortest.products)
    assert entries[1] < 2.1 * entries[0]
