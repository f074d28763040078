"""Sections between two rails, against closed forms: rails that open, rings, frames whose corners are out of step."""

from __future__ import annotations

from math import cos, pi, sin
from typing import Any

import numpy as np
import numpy.typing as npt
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import cKDTree

from tests.closeness import assert_close
from tests.core.shaping.test_sweep import BAR, polyline, ring_path, volume
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.area import Area
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import chained, move_seam, reverse
from wander.core.geometry.errors import BadInput
from wander.core.geometry.interpolate import closed_through, open_through
from wander.core.geometry.law import linear
from wander.core.geometry.tolerances import DEFAULT
from wander.core.shaping.bays import Swept
from wander.core.shaping.spine import paired_by
from wander.core.shaping.two_rails import (
    BY_THEMSELVES,
    Begun,
    CornerAskew,
    CornersUneven,
    Feet,
    Pairing,
    RailsMeet,
    RunsSideways,
    paired,
    swept_between,
)

Row = npt.NDArray[np.float64]
WIDE, HIGH = 8.0, 6.0
"""Of the bar."""
FEET = Feet(np.array([-4.0, 0.0]), np.array([4.0, 0.0]))


def between(
    first: Curve,
    second: Curve,
    *,
    closed: bool = False,
    pairing: Pairing = Pairing.LENGTH,
    feet: Feet = FEET,
    area: Area = BAR,
    begun: Begun = BY_THEMSELVES,
    within: float | None = None,
) -> Swept:
    rails = paired(first, second, closed=closed, pairing=pairing, begun=begun)
    return swept_between([area], rails, feet, name="between-9", section="section-2", tolerances=DEFAULT, within=within)


OPENING = polyline((0, -4, 0), (100, -12, 0)), polyline((0, 4, 0), (100, 12, 0))
"""From 8 mm to 24 over 100 mm."""


def test_rails_that_open_in_proportion_in_width_only_and_by_a_law() -> None:
    w0, w1, a0 = 8.0, 24.0, WIDE * HIGH
    assert_close(volume(between(*OPENING)), a0 * 100 * (w0**2 + w0 * w1 + w1**2) / (3 * w0**2), within=1e-6, relative=True)
    level = Feet(FEET.first, FEET.second, linear(1.0, 1.0))
    assert_close(volume(between(*OPENING, feet=level)), a0 * 100 * (w0 + w1) / (2 * w0), within=1e-6, relative=True)
    # width as the rails, height from one to a half: the mean of (1 + 2 s)(1 - s / 2)
    falling = Feet(FEET.first, FEET.second, linear(1.0, 0.5))
    assert_close(volume(between(*OPENING, feet=falling)), a0 * 100 * (1 + 3 / 4 - 1 / 3), within=1e-6, relative=True)


@pytest.mark.parametrize("pairing", [Pairing.LENGTH, Pairing.PARAMETER])
def test_between_two_rings_is_a_ring(pairing: Pairing) -> None:
    """The feet on circles of 36 and 44: the bar turned about the axis at 40 (Pappus), wherever the rails begin and whichever way they run."""
    inner, outer = ring_path(36), ring_path(44)
    for other in (outer, reverse(outer), move_seam(outer, 0.3)):
        made = between(inner, other, closed=True, pairing=pairing)
        assert_close(volume(made), 2 * pi * 40 * WIDE * HIGH, within=1e-5, relative=True)
        assert len(made.skins[0].faces) == 4


def square(half: float, start: int = 0, shift: float = 0.0) -> Curve:
    corners = [(half, -half), (half, half), (-half, half), (-half, -half)]
    corners = corners[start:] + corners[:start]
    return polyline(*[(x + shift, y, 0.0) for x, y in [*corners, corners[0]]])


def test_a_frame_between_two_squares_has_crisp_corners() -> None:
    made = between(square(36), square(44), closed=True, pairing=Pairing.CORNERS, feet=Feet(FEET.first, FEET.second, linear(1.0, 1.0)))
    assert len(made.skins[0].faces) == 16
    # a square ring of 8 by 6, its middle on a square of 40: across its corners it is wider, and no higher
    assert_close(volume(made), 4 * 80 * WIDE * HIGH, within=1e-6, relative=True)


def test_corners_out_of_step_are_paired_in_turn() -> None:
    """Two chains of two lines each whose corners lie at other shares of their lengths: by length the corner of one meets a straight of the other."""
    first, second = polyline((0, 0, 0), (60, 0, 0), (60, 60, 0)), polyline((0, -8, 0), (80, -8, 0), (80, 40, 0))
    by_corner = between(first, second, pairing=Pairing.CORNERS)
    by_length = between(first, second)
    assert len(by_corner.skins[0].faces) == 2 * 4
    assert len(by_length.skins[0].faces) == 3 * 4
    with pytest.raises(CornersUneven) as uneven:
        between(first, polyline((0, -8, 0), (90, -8, 0)), pairing=Pairing.CORNERS)
    assert uneven.value.counts == (1, 0)


def test_rails_that_come_together_are_told_with_the_place() -> None:
    with pytest.raises(RailsMeet) as met:
        between(polyline((0, -4, 0), (100, 0, 0)), polyline((0, 4, 0), (100, 0, 0)))
    assert_close(met.value.place, (100, 0, 0), within=1e-9)


def test_rails_that_climb_at_a_corner_are_mitred() -> None:
    """8 mm apart and side by side: the bar of a mitred path; with a bend beside the corner there is no mitre."""
    first, second = (polyline((0, y, 0), (60, y, 0), (100, y, 40), (100, y, 90)) for y in (0.0, 8.0))
    for pairing in (Pairing.CORNERS, Pairing.LENGTH):
        assert_close(volume(between(first, second, pairing=pairing)), WIDE * HIGH * (60 + 40 * 2**0.5 + 50), within=1e-6, relative=True)
    bent = [
        chained([open_through(np.array([(-40, y, 10), (-15, y, 0), (0, y, 0)], dtype=float)), polyline((0, y, 0), (30, y, 40))]) for y in (0.0, 8.0)
    ]
    with pytest.raises(CornerAskew):
        between(bent[0], bent[1], pairing=Pairing.CORNERS)


def test_the_feet_lie_on_the_rails_everywhere() -> None:
    """At random places of two splines in space, paired by length and by parameter: against the rails themselves."""
    rng = np.random.default_rng(4)
    first = open_through(np.array([(0, 0, 0), (30, 6, 4), (70, -3, 12), (110, 8, 9)], dtype=float))
    second = open_through(np.array([(0, 14, 2), (35, 24, 0), (66, 20, 18), (118, 30, 5)], dtype=float))
    base = shapes.rectangle(8.0, 6.0).transformed(np.eye(2), np.array([0.0, 3.0]))
    for pairing in (Pairing.LENGTH, Pairing.PARAMETER):
        made = between(first, second, pairing=pairing, area=Area(base))
        edges = [face.surface for face in made.skins[0].faces]
        for rail in (first, second):
            places = rail(rng.uniform(0, 1, 500))
            grids = np.concatenate([s.grid(np.array([0.0, 1.0]), np.linspace(0, 1, 8001)).reshape(-1, 3) for s in edges])
            assert cKDTree(grids).query(places)[0].max() < 0.02


@settings(max_examples=20, deadline=None)
@given(seed=st.integers(0, 10**6), closed=st.booleans(), pairing=st.sampled_from([Pairing.LENGTH, Pairing.PARAMETER]))
def test_it_is_a_body_whichever_way_the_rails_are_drawn(seed: int, closed: bool, pairing: Pairing) -> None:
    rng = np.random.default_rng(seed)
    turn = 2 * pi * (np.arange(8) + rng.uniform(-0.2, 0.2, 8)) / 8
    inner, outer = (
        np.column_stack([r * np.cos(turn), r * np.sin(turn), rng.uniform(-4, 4, 8)]) * rng.uniform(0.97, 1.03, (8, 1)) for r in (50.0, 70.0)
    )
    if not closed:
        inner, outer = inner[:5], outer[:5]
    through = closed_through if closed else open_through
    ways: list[Any] = [(inner, outer), (inner, outer[::-1]), (inner[::-1], outer)]
    found = [volume(between(through(a), through(b), closed=closed, pairing=pairing)) for a, b in ways]
    assert min(found) > 0
    if not closed:
        # which end counts as the first changes nothing; of a closed rail it says where the other begins
        assert_close(found[0], found[1], within=1e-6, relative=True)


def test_angles_do_not_matter() -> None:
    """The same two rails turned in space: the same body."""
    c, s = cos(0.7), sin(0.7)
    turn = np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]])
    moved = [Curve(rail.space, rail.points @ turn.T + 5) for rail in OPENING]
    assert_close(volume(between(moved[0], moved[1])), volume(between(*OPENING)), within=1e-9, relative=True)


def arc(radius: float, first: float, last: float) -> Curve:
    turns = np.linspace(first, last, 65)
    return open_through(np.stack([radius * np.cos(turns), radius * np.sin(turns), np.zeros(65)], axis=1))


def test_planes_square_to_a_spine() -> None:
    """On an arc they pass its centre: from 0.1 to 1.2 radians both rails are met, whichever way they run (Pappus)."""
    spine, outer = arc(40, 0, pi / 2), arc(44, 0.1, 1.8)
    for inner in (arc(36, -0.1, 1.2), arc(36, 1.2, -0.1)):
        rails, short = paired_by(spine, inner, outer, closed=False)
        made = swept_between([BAR], rails, FEET, name="between-9", section="section-2", tolerances=DEFAULT)
        assert_close(volume(made), 1.1 * 40 * WIDE * HIGH, within=2e-4, relative=True)
        assert sorted((end.rail, round(end.length, 1)) for end in short) == [(0, 7.2), (1, 26.4)]
    # every place of a rail has its foot on the spine where its own plane is
    pair = rails.pairs[0]
    v = np.linspace(0.0, 1.0, 101)
    _, turns, _ = pair.frames(v)
    feet = spine(pair.low + (pair.high - pair.low) * v)  # type: ignore[attr-defined]
    for rail in pair.places(v):
        assert_close(np.sum((rail - feet) * turns[:, :, 2], axis=1), 0.0, within=1e-9)


def test_a_closed_spine_goes_round_wherever_rails_begin() -> None:
    for inner in (ring_path(36), move_seam(ring_path(36), 0.37)):
        rails, short = paired_by(ring_path(40), inner, reverse(ring_path(44)), closed=True)
        made = swept_between([BAR], rails, FEET, name="between-9", section="section-2", tolerances=DEFAULT)
        assert_close(volume(made), 2 * pi * 40 * WIDE * HIGH, within=1e-5, relative=True)
        assert short == []


def test_a_corner_of_a_rail_is_a_crease_in_the_plane_of_the_spine() -> None:
    """A waist of 8 to 12 and back: twice the frustum of one half."""
    rails, _ = paired_by(
        polyline((0, 0, 0), (100, 0, 0)), polyline((0, -4, 0), (50, -8, 0), (100, -4, 0)), polyline((0, 4, 0), (100, 4, 0)), closed=False
    )
    made = swept_between([BAR], rails, FEET, name="between-9", section="section-2", tolerances=DEFAULT)
    assert_close(volume(made), 2 * WIDE * HIGH * 50 * (64 + 96 + 144) / (3 * 64), within=1e-6, relative=True)
    assert len(made.skins[0].faces) == 8


def heights(first: Curve, second: Curve, begun: Begun, *, closed: bool = True) -> Row:
    """The rungs between two rails."""
    return paired(first, second, closed=closed, pairing=Pairing.LENGTH, begun=begun).rungs(24)


@pytest.mark.parametrize("share", [0.1, 0.25, 0.9])
@pytest.mark.parametrize("other", [ring_path(44), reverse(ring_path(44)), move_seam(ring_path(44), 0.3)])
def test_a_closed_second_rail_begins_further_on_by_a_share_of_its_length(share: float, other: Curve) -> None:
    """Rungs lean by that share of a turn, all alike."""
    rungs = heights(ring_path(36), other, Begun(second=share))
    turns = np.arctan2(rungs[:, :, 1], rungs[:, :, 0])
    leans = (turns[:, 1] - turns[:, 0]) / (2 * pi) % 1.0
    ahead = np.diff(np.unwrap(turns[:, 0])).mean() > 0
    assert_close(leans, share if ahead else 1 - share, within=1e-6)


@pytest.mark.parametrize("share", [0.2, 0.5, 0.77])
def test_where_both_begin_makes_no_difference_to_a_ring(share: float) -> None:
    made = between(ring_path(36), ring_path(44), closed=True, begun=Begun(first=share))
    assert_close(volume(made), 2 * pi * 40 * WIDE * HIGH, within=1e-5, relative=True)
    at = paired(ring_path(36), ring_path(44), closed=True, pairing=Pairing.LENGTH, begun=Begun(first=share)).rungs(1)[0, 0]
    assert_close(np.arctan2(at[1], at[0]) / (2 * pi) % 1.0, (np.arctan2(*ring_path(36)(0.0)[[1, 0]]) / (2 * pi) + share) % 1.0, within=1e-6)


def test_a_frame_may_begin_in_the_middle_of_a_side_and_be_turned_by_a_corner() -> None:
    level = Feet(FEET.first, FEET.second, linear(1.0, 1.0))
    whole = between(square(36), square(44), closed=True, feet=level)
    inside = between(square(36), square(44), closed=True, feet=level, begun=Begun(first=0.125))
    assert_close(volume(inside), volume(whole), within=1e-6, relative=True)
    rails = paired(square(36), square(44), closed=True, pairing=Pairing.CORNERS, begun=Begun(second=0.3))
    # to the corner that is nearest: one further
    assert_close(np.abs(np.cross(rails.rungs(1)[0, 0], rails.rungs(1)[0, 1])[2]), 36 * 44 * 2, within=1e-6)


def test_open_rails_are_run_against_each_other_where_that_is_wanted() -> None:
    first, second = polyline((0, -4, 0), (100, -4, 0)), polyline((0, 4, 0), (100, 4, 0))
    rungs = heights(first, second, Begun(against=True), closed=False)
    assert_close(rungs[0], [[0, -4, 0], [100, 4, 0]], within=1e-9)
    assert_close(rungs[-1], [[100, -4, 0], [0, 4, 0]], within=1e-9)
    with pytest.raises(RunsSideways):
        between(first, second, begun=Begun(against=True))


def wavy(y: float, seed: int, count: int = 14) -> Curve:
    rng = np.random.default_rng(seed)
    x = np.linspace(0.0, 200.0, count)
    return open_through(np.column_stack([x, y + rng.uniform(-2, 2, count), rng.uniform(-3, 3, count)]))


def rim(radius: float, seed: int, count: int = 12) -> Curve:
    rng = np.random.default_rng(seed)
    turn = 2 * pi * np.arange(count) / count
    reach = radius + rng.uniform(-1, 1, count)
    return closed_through(np.column_stack([reach * np.cos(turn), reach * np.sin(turn), rng.uniform(-2, 2, count)]))


@pytest.mark.parametrize("within", [0.4, 0.05, 0.005])
@pytest.mark.parametrize(("first", "second", "closed"), [(wavy(-10, 1), wavy(10, 2), False), (rim(60, 3), rim(72, 4), True)])
def test_what_is_simplified_is_no_further_off_than_it_says_and_has_fewer_rows(first: Curve, second: Curve, closed: bool, within: float) -> None:
    exact = between(first, second, closed=closed)
    made = between(first, second, closed=closed, within=within)
    assert made.rows < exact.rows
    assert 0 < made.miss <= 1.5 * within
    v, u = np.linspace(0.0, 1.0, 301), np.linspace(0.0, 1.0, 9)
    for one, other in zip(made.skins[0].faces, exact.skins[0].faces, strict=True):
        off = np.linalg.norm(one.surface.grid(u, v) - other.surface.grid(u, v), axis=-1)
        assert off.max() <= made.miss + 2 * DEFAULT.fit


def test_the_more_it_may_miss_the_fewer_rows_it_has_and_corners_stay_crisp() -> None:
    rows = [between(wavy(-10, 1), wavy(10, 2), within=within).rows for within in (0.002, 0.02, 0.2, 2.0)]
    assert rows == sorted(rows, reverse=True)
    assert rows[-1] < rows[0] / 3
    frame = between(square(36), square(44), closed=True, pairing=Pairing.CORNERS, within=0.1)
    assert len(frame.skins[0].faces) == 16
    with pytest.raises(BadInput, match="at least"):
        between(*OPENING, within=1e-5)
