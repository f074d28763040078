"""Normal matrices, in a band and scattered, against full ones."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from wander.core.drawing.holding.normal import WIDEST, Banded, Scattered, laid_out
from wander.core.drawing.holding.sums import Ints
from wander.core.geometry.basis import Floats


def products_of(slopes: Floats) -> tuple[Ints, Ints, Floats]:
    """Of all pairs of slopes of a variable: both equations, each pair once, and what comes of them. slopes: (equations, variables)."""
    found = [
        (i, j, slopes[i, v] * slopes[j, v])
        for v in range(slopes.shape[1])
        for i in np.flatnonzero(slopes[:, v])
        for j in np.flatnonzero(slopes[:, v])
        if j <= i
    ]
    first, second, worth = zip(*found, strict=True)
    return np.array(first, dtype=np.int32), np.array(second, dtype=np.int32), np.array(worth)


def chain(seed: int, count: int, *, ring: bool, hubs: int = 0) -> Floats:
    """Equations of which each has to do with the two beside it, in no order; ring: the last with the first. hubs: variables that are part of all."""
    rng = np.random.default_rng(seed)
    slopes = np.zeros((count, count + 1 + hubs))
    for i in range(count):
        slopes[i, [i, (i + 1) % count if ring else i + 1]] = rng.uniform(0.3, 1.0, 2) * rng.choice([-1, 1], 2)
        slopes[i, count + 1 :] = rng.uniform(0.3, 1.0, hubs)
    return slopes[rng.permutation(count)]


@given(seed=st.integers(0, 10_000), count=st.integers(1, 70), ring=st.booleans(), hubs=st.integers(0, 2))
@settings(max_examples=40, deadline=None)
def test_both_ways_solve_as_full_matrices_do(seed: int, count: int, ring: bool, hubs: int) -> None:
    slopes = chain(seed, count, ring=ring, hubs=hubs)
    # equations with a variable of their own, so that they are well apart
    slopes = np.hstack([slopes, np.diag(np.random.default_rng(seed).uniform(0.5, 1.0, count))])
    first, second, products = products_of(slopes)
    right = np.random.default_rng(seed + 1).uniform(-1, 1, count)
    expected = np.linalg.solve(slopes @ slopes.T, right)
    order = np.random.default_rng(seed + 2).permutation(count).astype(np.int32)
    for normal in (laid_out(first, second, count), Banded(order, first, second), Scattered(order, first, second)):
        assert_close(normal.solving(products, 0.0)(right), expected, within=1e-9)
    damped = np.linalg.solve(slopes @ slopes.T + 0.3 * (slopes @ slopes.T).diagonal().max() * np.eye(count), right)
    for normal in (Banded(order, first, second), Scattered(order, first, second)):
        assert_close(normal.solving(products, 0.3)(right), damped, within=1e-9)


@pytest.mark.parametrize(("ring", "widest"), [(False, 1), (True, 2)])
def test_what_hangs_together_like_a_chain_has_a_narrow_band(ring: bool, widest: int) -> None:
    first, second, _ = products_of(chain(3, 300, ring=ring))
    normal = laid_out(first, second, 300)
    assert isinstance(normal, Banded)
    assert normal.width == widest


def test_what_hangs_together_all_over_has_none() -> None:
    first, second, _ = products_of(chain(4, WIDEST + 20, ring=False, hubs=1))
    assert isinstance(laid_out(first, second, WIDEST + 20), Scattered)


@pytest.mark.parametrize("twice", [1, 5])
def test_equations_that_stand_twice_are_no_harm(twice: int) -> None:
    """Neither of them is one too many as long as they agree: together they press as one does."""
    slopes = chain(5, 60, ring=False)
    slopes = np.vstack([slopes, slopes[:twice]])
    right = slopes @ np.random.default_rng(6).uniform(-1, 1, slopes.shape[1])
    first, second, products = products_of(slopes)
    normal = Banded(np.arange(len(slopes), dtype=np.int32), first, second)
    pressed = normal.solving(products, 1e-13)(right)
    assert np.isfinite(pressed).all()
    assert_close(slopes @ slopes.T @ pressed, right, within=1e-6)
