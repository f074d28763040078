"""Laws go through their points and no further."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import CubicSpline

from tests.closeness import assert_close
from wander.core.geometry.law import through

DENSE = np.linspace(0.0, 1.0, 4001)


def test_a_dip_does_not_make_hills_beside_it() -> None:
    law = through([(0.0, 1.0, False), (0.25, 1.0, False), (0.5, 0.02, False), (0.75, 1.0, False), (1.0, 1.0, False)])
    assert law(DENSE).max() <= 1.0 + 1e-9
    assert law(DENSE).min() >= 0.02 - 1e-9


@given(
    values=st.lists(st.floats(-50, 50), min_size=2, max_size=9),
    sharp=st.lists(st.booleans(), min_size=9, max_size=9),
    gaps=st.lists(st.floats(0.02, 1.0), min_size=8, max_size=8),
)
def test_between_two_points_a_law_stays_between_their_values(values: list[float], sharp: list[bool], gaps: list[float]) -> None:
    at = np.concatenate([[0.0], np.cumsum(gaps[: len(values) - 1])])
    at /= at[-1]
    law = through([(float(a), v, s) for a, v, s in zip(at, values, sharp, strict=False)])
    assert_close(law(at), values, within=1e-8)
    slack = 1e-6 * max(float(np.ptp(values)), 1e-3)
    for a, b, low, high in zip(at[:-1], at[1:], np.minimum(values[:-1], values[1:]), np.maximum(values[:-1], values[1:]), strict=True):
        inside = law(np.linspace(a, b, 200))
        assert low - slack <= inside.min()
        assert inside.max() <= high + slack


def test_a_law_swings_beyond_its_points_where_the_designer_lets_it() -> None:
    """Through 1, 1, 0.02, 1, 1: held it stays between, let go it is the natural cubic, which is that of scipy."""
    places, values = [0.0, 0.25, 0.5, 0.75, 1.0], [1.0, 1.0, 0.02, 1.0, 1.0]
    points = [(p, v, False) for p, v in zip(places, values, strict=True)]
    at = np.linspace(0, 1, 401)
    assert through(points)(at).max() <= 1.0 + 1e-9
    let_go = through(points, swings=True)
    assert let_go(at).max() > 1.05
    assert np.abs(let_go(at) - CubicSpline(places, values, bc_type="natural")(at)).max() < 1e-12
    assert let_go.continuity.min() == 2
