"""Curves followed by splines, against the curves themselves between all places that the fit looked at."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from wander.core.geometry.approximate import approximated
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import NotConverged

FINE = np.linspace(0, 1, 5003)


@given(waves=st.floats(0.5, 6), reach=st.floats(0.1, 50), tolerance=st.sampled_from([1e-2, 1e-4, 1e-6]))
def test_a_wave_is_followed_to_the_tolerance(waves: float, reach: float, tolerance: float) -> None:
    def true(t: Floats) -> Floats:
        return np.stack([t * 100, reach * np.sin(2 * np.pi * waves * t)], axis=-1)

    curve, strays = approximated(true, np.array([0.0, 1.0]), tolerance)
    assert strays <= tolerance
    # the fit is checked at five places of every span: between them it may stray a little more
    assert np.linalg.norm(curve(FINE) - true(FINE), axis=1).max() <= 1.5 * tolerance


def test_a_bend_is_met_where_it_is_told_of() -> None:
    def true(t: Floats) -> Floats:
        return np.stack([t, np.abs(t - 0.3)], axis=-1)

    curve, strays = approximated(true, np.array([0.0, 0.3, 1.0]), 1e-9, continuity={0.3: 0})
    assert strays < 1e-12
    assert len(curve.space.breaks) == 3


def test_a_step_is_never_met_and_says_how_far_it_is_off() -> None:
    def true(t: Floats) -> Floats:
        return np.stack([t, (t > 0.37).astype(float)], axis=-1)

    with pytest.raises(NotConverged) as caught:
        approximated(true, np.array([0.0, 1.0]), 1e-3, most_spans=64)
    assert caught.value.residual > 0.01
