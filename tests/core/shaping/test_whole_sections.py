"""Rails that carry whole sections: closed forms of what one and two rails make of circles and squares, and rails met all along."""

from __future__ import annotations

from math import cos, pi, sin

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import at, tip
from tests.core.shaping.test_guiding import assert_met, made, through
from wander.core.drawing.outlines import shapes
from wander.core.geometry.curve import Curve
from wander.core.geometry.interpolate import open_through
from wander.core.shaping.lanes import lanes
from wander.core.shaping.loft import Lofted
from wander.core.shaping.mass import mass_properties

UP = np.array([0.0, 0.0, 1.0])
CIRCLES = [at(z, shapes.circle(40.0)) for z in (0.0, 50.0, 100.0)]
BELLY = through((20, 0, 0), (26, 0, 25), (20, 0, 50), (24, 0, 75), (20, 0, 100))


def areas(body: Lofted, heights: np.ndarray) -> np.ndarray:
    return lanes(body.shell.faces, UP, heights, 0).area


def at_heights(rail: Curve, heights: np.ndarray) -> np.ndarray:
    """Places of a rail that climbs, by bisection: (m, 3)."""
    low, high = np.zeros(len(heights)), np.ones(len(heights))
    for _ in range(60):
        middle = (low + high) / 2
        above = rail(middle)[:, 2] > heights
        low, high = np.where(above, low, middle), np.where(above, middle, high)
    return rail(low)


HEIGHTS = np.linspace(1.0, 99.0, 60)


def test_one_rail_scales_circles_about_their_centre() -> None:
    whole, near = (made(CIRCLES, [BELLY], whole=whole) for whole in (True, False))
    reach = at_heights(BELLY, HEIGHTS)[:, 0]
    assert_close(areas(whole, HEIGHTS), pi * reach**2, within=0.05)
    assert_met(whole, [BELLY], CIRCLES)
    # and not the skin beside it alone
    assert mass_properties(near.shell).volume < mass_properties(whole.shell).volume - 1000
    assert_close(mass_properties(whole.shell).center[:2], [0.0, 0.0], within=1e-3)


def test_two_rails_say_where_circles_are_and_how_large() -> None:
    other = through((-20, 0, 0), (-20, 0, 50), (-20, 0, 100))
    body = made(CIRCLES, [BELLY, other], whole=True)
    reach = at_heights(BELLY, HEIGHTS)[:, 0]
    assert_close(areas(body, HEIGHTS), pi * ((reach + 20) / 2) ** 2, within=0.05)
    assert_met(body, [BELLY, other], CIRCLES)


def test_a_rail_that_goes_round_turns_the_sections_with_it() -> None:
    """A corner of a square led an eighth round and back: everywhere the square is as large, and turned by as much."""
    squares = [at(z, shapes.rectangle(20.0, 20.0)) for z in (0.0, 100.0)]
    z = np.linspace(0.0, 100.0, 41)
    turn = pi / 4 + pi / 4 * np.sin(pi * z / 100) ** 2
    rail = open_through(np.column_stack([np.sqrt(200) * np.cos(turn), np.sqrt(200) * np.sin(turn), z]))
    body = made(squares, [rail], whole=True)
    assert_close(areas(body, HEIGHTS), np.full(len(HEIGHTS), 400.0), within=0.05)
    expected = 400.0 * 100.0
    assert_close(mass_properties(body.shell).volume, expected, within=1e-5 * expected)


def test_at_a_point_nothing_is_turned() -> None:
    sections = [CIRCLES[0], at(60.0, shapes.circle(30.0)), tip(100.0)]
    rail = through((20, 0, 0), (21, 0, 30), (15, 0, 60), (9, 0, 85), (0, 0, 100))
    body = made(sections, [rail], whole=True)
    assert_met(body, [rail], sections)
    # towards a point a rail is counted along its own way, not by planes: nearly the same
    reach = at_heights(rail, HEIGHTS[:-3])[:, 0]
    assert_close(np.sqrt(areas(body, HEIGHTS[:-3]) / pi), reach, within=0.8)


@settings(max_examples=8, deadline=None)
@given(seed=st.integers(0, 1000), count=st.integers(1, 4))
def test_rails_of_any_number_are_met_and_so_are_the_sections(seed: int, count: int) -> None:
    rng = np.random.default_rng(seed)
    rails = []
    for k in range(count):
        turn = 2 * pi * k / count
        out = np.array([cos(turn), sin(turn), 0.0])
        rails.append(
            through(
                *[
                    tuple((20 + d) * out + z * UP)
                    for z, d in zip((0, 25, 50, 75, 100), (0, rng.uniform(-4, 5), 0, rng.uniform(-4, 5), 0), strict=True)
                ]
            )
        )
    body = made(CIRCLES, rails, whole=True)
    assert_met(body, rails, CIRCLES)
    assert mass_properties(body.shell).volume > 0


@pytest.mark.parametrize("whole", [True, False])
def test_rails_that_ask_for_nothing_change_nothing(whole: bool) -> None:
    straight = through((20, 0, 0), (20, 0, 50), (20, 0, 100))
    known = mass_properties(made(CIRCLES, []).shell).volume
    assert_close(mass_properties(made(CIRCLES, [straight], whole=whole).shell).volume, known, within=1e-8 * known)
