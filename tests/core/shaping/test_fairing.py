"""Skins that are held between their sections: curved as evenly as can be, bent least within bounds; the same turned, mirrored, reversed, rescaled."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import make_interp_spline
from scipy.optimize import LinearConstraint, minimize

from tests.closeness import assert_close
from tests.core.shaping.rows import ROWS, Row, bent, beyond, changed, line, rounds
from wander.core.geometry.curve import Curve
from wander.core.shaping.bounds import SWELLING
from wander.core.shaping.fairing import along, even_swinging, swinging
from wander.core.shaping.skin import Skin
from wander.core.shaping.unit_span import LOOKED


@pytest.mark.parametrize("skin", [Skin.CALM, Skin.EVEN, Skin.FAIR])
@pytest.mark.parametrize("name", ROWS)
def test_rows_that_swell_by_themselves_stay_within_a_hundredth(name: str, skin: Skin) -> None:
    places, radii = (np.array(numbers, dtype=float) for numbers in ROWS[name])
    curve = line(places, rounds(radii), skin=skin)
    assert beyond(places, radii, curve) <= 0.0101
    assert_close(np.linalg.norm(curve(places)[:, :3], axis=1), radii, within=1e-9)
    for inside in places[1:-1]:
        one, other = (curve.derivatives(np.array([inside + d]), 2) for d in (-1e-12, 1e-12))
        for a, b in zip(one[1:], other[1:], strict=True):
            assert_close(a, b, within=1e-6 * max(1.0, float(np.abs(b).max())))


def test_centres_swing_along_the_natural_cubic() -> None:
    for count in (2, 3, 7):
        places = np.cumsum(np.random.default_rng(count).uniform(0.1, 4, count))
        spline = make_interp_spline(places, np.eye(count), k=1 if count == 2 else 3, bc_type="natural" if count > 2 else None)
        expected = np.stack([spline(places, derivative) for derivative in range(3)], axis=1).reshape(3 * count, count)
        assert_close(swinging(places), expected, within=1e-9 * np.abs(expected).max())


@pytest.mark.parametrize("count", [4, 5, 9])
def test_centres_on_an_arc_stay_on_it(count: int) -> None:
    angle = np.linspace(0, np.pi / 2, count)
    centers = 100 * np.stack([np.cos(angle), np.sin(angle), 0 * angle], axis=1)
    places = np.append(0.0, np.cumsum(np.linalg.norm(np.diff(centers, axis=0), axis=1)))
    own, natural = (off_the_arc(places, centers, swings) for swings in (even_swinging(places, centers), swinging(places)))
    assert own < natural / (6 if count == 4 else 20)
    # a straight row is straight, and its places run on evenly
    straight = np.outer(places, [0.6, 0.0, 0.8])
    found = along(places, np.zeros((count, 1, 3)), swings=even_swinging(places, straight), held={})
    t = np.linspace(0, places[-1], 50)
    assert_close(Curve(found.space, found.centers @ straight)(t), np.outer(t, [0.6, 0.0, 0.8]), within=1e-9 * places[-1])


def off_the_arc(places: Row, centers: Row, swings: Row) -> float:
    found = along(places, np.zeros((len(places), 1, 3)), swings=swings, held={})
    seen = Curve(found.space, found.centers @ centers)(np.linspace(0, places[-1], 400))
    return float(np.abs(np.linalg.norm(seen, axis=1) - 100).max())


@settings(max_examples=100, deadline=None)
@given(st.integers(0, 10**6), st.integers(3, 8))
def test_centres_that_would_run_back_do_not_where_the_natural_cubic_does_not(seed: int, count: int) -> None:
    chance = np.random.default_rng(seed)
    centers = np.cumsum(np.column_stack([chance.normal(0, 12, (count, 2)), 10 ** chance.uniform(0, 1.8, count)]), axis=0)
    chords = np.diff(centers, axis=0)
    places = np.append(0.0, np.cumsum(np.linalg.norm(chords, axis=1)))
    ahead = []
    for swings in (even_swinging(places, centers), swinging(places)):
        found = along(places, np.zeros((count, 1, 3)), swings=swings, held={})
        curve = Curve(found.space, found.centers @ centers)
        ways = [
            curve.derivatives(np.linspace(a, b, 30), 1)[1] @ chord / (chord @ chord) * (b - a)
            for (a, b), chord in zip(pairwise(places), chords, strict=True)
        ]
        ahead.append(float(np.min(ways)))
    assert ahead[0] > min(ahead[1], 0.0) - 0.3


@pytest.mark.parametrize("name", ["flask", "up and down", "step"])
def test_it_is_the_least_bent_that_keeps_the_bounds(name: str) -> None:
    """Against a general solver of programmes, which sees nothing but numbers."""
    places, radii = (np.array(numbers, dtype=float) for numbers in ROWS[name])
    k = len(places)
    shapes = np.zeros((k, 1, 3))
    shapes[:, 0, 0] = radii
    curve = line(places, shapes, skin=Skin.FAIR)
    own = np.concatenate([curve.derivatives(places, 2)[d][:, 0] for d in (1, 2)])
    scale = np.concatenate([np.full(k, np.diff(places).min() ** -d) for d in (1, 2)])
    chords = np.hypot(np.diff(places), np.diff(radii))
    form = np.array([[bent(places, 0 * radii, *np.split(scale * (a + b), 2), chords) for b in np.eye(2 * k)] for a in np.eye(2 * k)])
    single = np.diag(form) / 4
    form = (form - single[:, None] - single) / 2
    moved = [[bent(places, radii, *np.split(sign * scale * e, 2), chords) for sign in (1, -1)] for e in np.eye(2 * k)]
    pull = np.array([there - back for there, back in moved]) / 4
    base = bent(places, radii, np.zeros(k), np.zeros(k), chords)

    def measure(x: Row) -> float:
        return float(x @ form @ x + 2 * pull @ x + base)

    t = np.concatenate([a + (b - a) * LOOKED for a, b in pairwise(places)])
    to_values = np.linalg.inv(np.concatenate([curve.space.matrix(places, d) for d in range(3)]))
    reach = curve.space.matrix(t) @ to_values
    steps = np.pad(np.abs(np.diff(radii)), 1)
    bays = np.repeat(np.arange(k - 1), len(LOOKED))
    allowed = SWELLING * np.maximum(np.maximum(steps[:-2], steps[2:]), steps[1:-1])[bays]
    low, high = np.minimum(radii[:-1], radii[1:])[bays] - allowed, np.maximum(radii[:-1], radii[1:])[bays] + allowed
    fixed = reach[:, :k] @ radii
    bounds = LinearConstraint(reach[:, k:] * scale, low - fixed, high - fixed)
    best = minimize(
        measure, np.zeros(2 * k), jac=lambda x: 2 * (form @ x + pull), constraints=[bounds], method="SLSQP", options={"ftol": 1e-14, "maxiter": 2000}
    )
    ours = own / scale
    assert np.all(bounds.A @ ours >= bounds.lb - 1e-8)
    assert np.all(bounds.A @ ours <= bounds.ub + 1e-8)
    assert measure(ours) <= measure(best.x) * (1 + 1e-5)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.floats(8, 80), min_size=2, max_size=7), st.floats(-0.4, 0.4), st.floats(0.001, 0.02), st.booleans())
def test_a_row_on_a_parabola_stays_on_it(steps: list[float], slope: float, bend: float, hollow: bool) -> None:
    """What changes its bending nowhere is the most even there is, wherever the stations stand on it, while it keeps between them."""
    places = np.append(0.0, np.cumsum(steps))
    # it turns at a station, so that it leaves no bay
    turn = places[len(places) // 2]
    bend = -bend if hollow else bend
    heights = 400 + bend * (places - turn) ** 2
    shapes = np.zeros((len(places), 1, 3))
    shapes[:, 0, 0], shapes[:, 0, 1] = heights, slope * heights
    curve = line(places, shapes)
    t = np.linspace(0, places[-1], 90)
    expected = 400 + bend * (t - turn) ** 2
    assert_close(curve(t)[:, :2], expected[:, None] * [1, slope], within=1e-7 * float(np.ptp(heights)))


@pytest.mark.parametrize("seed", range(4))
def test_what_keeps_the_bounds_changes_its_bending_least(seed: int) -> None:
    """Against a general solver, which sees nothing but numbers."""
    chance = np.random.default_rng(seed)
    places = np.append(0.0, np.cumsum(chance.uniform(15, 60, 5)))
    radii = 40 - 0.002 * (places - places[2]) ** 2 + 1e-5 * chance.uniform(-1, 1) * (places - places[2]) ** 3
    shapes = np.zeros((6, 1, 3))
    shapes[:, 0, 0] = radii
    curve = line(places, shapes)
    assert beyond(places, radii, curve) < SWELLING / 2, "nothing holds it"
    own = np.concatenate([curve.derivatives(places, 2)[d][:, 0] for d in (1, 2)])
    scale = np.concatenate([np.full(6, 0.1), np.full(6, 0.004)])
    chords = np.hypot(np.diff(places), np.diff(radii))
    best = minimize(lambda x: 1e9 * changed(places, radii, scale * x, chords), np.zeros(12), method="BFGS", options={"gtol": 1e-9, "maxiter": 4000})
    assert 1e9 * changed(places, radii, own, chords) <= best.fun * (1 + 1e-6)


@pytest.mark.parametrize("skin", [Skin.EVEN, Skin.CALM])
def test_between_what_is_even_and_what_is_bent_least_nothing_jumps(skin: Skin) -> None:
    """A section is pulled out step by step: the skin follows in steps as small, from a row that keeps the bounds to one far from it."""
    places = np.array([0.0, 30.0, 55.0, 100.0])
    before = None
    reached = set()
    for pulled in np.linspace(0.0, 24.0, 481):
        radii = np.array([20.0, 24.0, 26.0 + pulled, 22.0])
        curve = line(places, rounds(radii, 8), skin=skin)
        seen = np.linalg.norm(curve(np.linspace(0, 100, 200)).reshape(200, -1, 3)[:, 0], axis=1)
        least = np.linalg.norm(line(places, rounds(radii, 8), skin=Skin.FAIR)(np.linspace(0, 100, 200)).reshape(200, -1, 3)[:, 0], axis=1)
        reached.add(bool(np.abs(seen - least).max() < 1e-9))
        if before is not None:
            assert np.abs(seen - before).max() < 0.25, f"at {pulled:.2f} mm"
        before = seen
    # far from the bounds what is even is what is bent least; what is calm need not be
    assert reached == ({True, False} if skin is Skin.EVEN else {False})


def sections(seed: int, count: int) -> tuple[Row, Row]:
    """Places and bodies of random ovals, turned and set off, (k,), (k, m, 3)."""
    chance = np.random.default_rng(seed)
    places = np.cumsum(10 ** chance.uniform(0, 1.7, count))
    angle = 2 * np.pi * (np.arange(24) + 0.5) / 24
    shapes = []
    for _ in range(count):
        wide, deep, third, turn = chance.uniform(5, 40), chance.uniform(5, 40), chance.uniform(0, 3), chance.uniform(-0.5, 0.5)
        flat = np.stack([wide * np.cos(angle) + third * np.cos(3 * angle), deep * np.sin(angle) + third * np.sin(2 * angle)], axis=-1)
        c, s = np.cos(turn), np.sin(turn)
        shapes.append(np.column_stack([flat @ np.array([[c, -s], [s, c]]).T, np.zeros(24)]))
    return places, np.array(shapes)


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10**6), st.integers(2, 9))
def test_in_every_direction_it_stays_between_its_sections(seed: int, count: int) -> None:
    places, shapes = sections(seed, count)
    curve = line(places, shapes)
    steps = np.pad(np.linalg.norm(np.diff(shapes, axis=0), axis=2), ((1, 1), (0, 0)))
    beside = np.maximum(np.maximum(steps[:-2], steps[2:]), steps[1:-1])
    for i in range(count - 1):
        way = shapes[i] + shapes[i + 1]
        way /= np.linalg.norm(way, axis=1, keepdims=True)
        ends = np.einsum("emc,mc->em", shapes[i : i + 2], way)
        seen = np.einsum("tmc,mc->tm", curve(np.linspace(*places[i : i + 2], 200)).reshape(200, -1, 3), way)
        over = np.maximum(seen - ends.max(axis=0), ends.min(axis=0) - seen).max(axis=0)
        assert np.all(over <= 0.0105 * np.maximum(beside[i], 0.1 * beside[i].max()))


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 10**6), st.integers(2, 8), st.sampled_from(["reversed", "turned", "mirrored", "larger"]))
def test_it_is_the_same_reversed_turned_mirrored_and_rescaled(seed: int, count: int, how: str) -> None:
    places, shapes = sections(seed, count)
    other_places, others = places, shapes
    if how == "reversed":
        other_places, others = (places[0] + places[-1] - places)[::-1], shapes[::-1, ::-1]
    elif how == "turned":
        turn, _ = np.linalg.qr(np.random.default_rng(seed).normal(size=(3, 3)))
        others = shapes @ turn.T
    elif how == "mirrored":
        others = shapes * [1, -1, 1]
    else:
        other_places, others = 25 * places, 25 * shapes
    t = np.linspace(places[0], places[-1], 60)
    here = line(places, shapes)(t).reshape(60, -1, 3)
    there_at = t if how != "larger" else 25 * t
    there = line(other_places, others)(places[0] + places[-1] - t if how == "reversed" else there_at).reshape(60, -1, 3)
    if how == "reversed":
        there = there[:, ::-1]
    elif how == "turned":
        there = there @ turn
    elif how == "mirrored":
        there = there * [1, -1, 1]
    else:
        there = there / 25
    assert_close(there, here, within=1e-8 * float(np.abs(shapes).max()))


def test_slack_gives_the_swelling_back() -> None:
    places, radii = (np.array(numbers, dtype=float) for numbers in ROWS["flask"])
    tight, half, full = (beyond(places, radii, line(places, rounds(radii), np.full(5, s))) for s in (0.0, 0.5, 1.0))
    assert tight < 0.0101 < half < full
    assert full > 0.08, "the flask swells by a twelfth of its step where nothing holds it"


def test_two_sections_and_sections_alike_are_joined_straight() -> None:
    places = np.array([0.0, 7.0, 30.0])
    for radii in ([12, 12, 12], [5, 12, 35]):
        curve = line(places, rounds(radii))
        t = np.linspace(0, 30, 50)
        assert_close(np.linalg.norm(curve(t)[:, :3], axis=1), np.interp(t, places, radii), within=1e-9)
    curve = line(places[[0, 2]], rounds([5, 35]))
    assert_close(np.linalg.norm(curve(t)[:, :3], axis=1), 5 + t, within=1e-9)


@pytest.mark.parametrize("seed", range(3))
def test_a_long_row_is_held_as_a_short_one_is(seed: int) -> None:
    places, shapes = sections(seed, 40)
    found = along(places, shapes, swings=swinging(places), held={})
    curve = Curve(found.space, found.shapes @ shapes.reshape(40, -1))
    for i in range(39):
        way = shapes[i] + shapes[i + 1]
        way /= np.linalg.norm(way, axis=1, keepdims=True)
        ends = np.einsum("emc,mc->em", shapes[i : i + 2], way)
        seen = np.einsum("tmc,mc->tm", curve(np.linspace(*places[i : i + 2], 60)).reshape(60, -1, 3), way)
        over = np.maximum(seen - ends.max(axis=0), ends.min(axis=0) - seen).max()
        assert over <= 0.02 * np.linalg.norm(np.diff(shapes[max(i - 1, 0) : i + 3], axis=0), axis=2).max()
