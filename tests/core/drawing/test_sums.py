"""Terms that equations are made of: their values by closed forms, their slopes by small steps, and what is put together in the order of its ranks."""

from __future__ import annotations

from math import atan2, cos, hypot, sin

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.closeness import assert_close
from wander.core.drawing.holding.rows import Rows, System
from wander.core.drawing.holding.sums import KINDS, Kind, Sums, along, away, cosine, distance, level, number, sine

VARIABLES = {number: 1, distance: 2, away: 3, along: 4, sine: 4, cosine: 4, level: 2}
"""How many points each kind is of; a number is of itself."""
STEADY = (sine, cosine, along, level)
"""Their slopes leave out how lengths change."""


def of_points(kind: Kind, first: int = 0) -> tuple[int, ...]:
    own = tuple(first + 2 * i for i in range(VARIABLES[kind]))
    return (*own, own[0] + 1, own[1] + 1) if kind is level else own


def worth(kind: Kind, v: np.ndarray) -> float:
    sums = Sums()
    sums.begin(None, 0)
    sums.term(kind, 1.0, *of_points(kind))
    return float(sums.laid().worked(v)[0][0])


def points(seed: int) -> np.ndarray:
    return np.random.default_rng(seed).uniform(-10, 10, 8)


def test_every_kind_is_tried() -> None:
    assert set(VARIABLES) == set(KINDS)


@given(st.integers(0, 10_000))
def test_what_terms_come_to(seed: int) -> None:
    v = points(seed)
    a, b, c, d = v.reshape(4, 2)
    turn = atan2(*(d - c)[::-1]) - atan2(*(b - a)[::-1])
    assert_close(worth(number, v), v[0], within=1e-12)
    assert_close(worth(distance, v), hypot(*(a - b)), within=1e-12)
    lean = atan2(*(c - b)[::-1]) - atan2(*(a - b)[::-1])
    assert_close(worth(away, v), -hypot(*(a - b)) * sin(lean), within=1e-9)
    assert_close(worth(sine, v), sin(turn), within=1e-9)
    assert_close(worth(cosine, v), cos(turn), within=1e-9)
    assert_close(worth(along, v), (b - a) @ (c - d) / hypot(*(b - a)), within=1e-9)
    assert_close(worth(level, v), (b[1] - a[1]) / hypot(*(b - a)), within=1e-9)


@pytest.mark.parametrize("kind", [number, distance, away])
@given(st.integers(0, 10_000))
def test_slopes_are_those_of_small_steps(kind: Kind, seed: int) -> None:
    v = points(seed)
    assert_close(slopes(kind, v), stepped(kind, v), within=2e-5)


@pytest.mark.parametrize("kind", STEADY)
@given(st.integers(0, 10_000))
def test_slopes_of_what_holds_are_those_of_small_steps(kind: Kind, seed: int) -> None:
    """Where the term is nothing, so that what they leave out is nothing as well."""
    v = points(seed)
    a, b = v[:2], v[2:4]
    if kind is level:
        v[3] = v[1]
        # of a line next to no length small steps are no measure
        assume(abs(v[2] - v[0]) > 0.5)
    else:
        way = (b - a) if kind is sine else np.array([a[1] - b[1], b[0] - a[0]])
        # the second line along the first, or square to it
        v[6:8] = v[4:6] + 0.7 * way
    assert_close(slopes(kind, v), stepped(kind, v), within=2e-5)


def slopes(kind: Kind, v: np.ndarray) -> np.ndarray:
    sums = Sums()
    sums.begin(None, 0)
    sums.term(kind, 1.0, *of_points(kind))
    laid = sums.laid()
    found = np.zeros(len(v))
    np.add.at(found, laid.column, laid.worked(v)[1]())
    return found


def stepped(kind: Kind, v: np.ndarray) -> np.ndarray:
    step = 1e-6 * np.eye(len(v))
    return np.array([(worth(kind, v + row) - worth(kind, v - row)) / 2e-6 for row in step])


def test_points_that_lie_on_each_other_make_no_nonsense() -> None:
    v = np.zeros(8)
    for kind in KINDS:
        assert np.isfinite(worth(kind, v))
        assert np.isfinite(slopes(kind, v)).all()


def test_equations_of_both_kinds_stand_in_the_order_of_their_ranks() -> None:
    sums = Sums()
    for owner, rank in ((None, -1), ("h1", 0), ("h3", 2)):
        sums.begin(owner, rank, 1.0)
        sums.term(number, 2.0, max(rank, 0))
    rows = Rows(rank=1)
    rows.add("h2", 5.0, {1: 7.0, 3: 9.0})
    made = System(sums, 3).at(np.array([1.0, 10.0, 100.0, 4.0]), rows)
    assert made.owner == [None, "h1", "h2", "h3"]
    assert_close(made.residual, [1.0, 1.0, 5.0, 199.0], within=1e-12)
    # what never varies is left out
    assert sorted(zip(made.row.tolist(), made.column.tolist(), made.slopes.tolist(), strict=True)) == [
        (0, 0, 2.0),
        (1, 0, 2.0),
        (2, 1, 7.0),
        (3, 2, 2.0),
    ]
