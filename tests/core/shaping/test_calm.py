"""Calm skins: between two sections that turn to one side they bend to no other, and what keeps to that by itself is left as it is."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import LinearConstraint, minimize

from tests.closeness import assert_close
from tests.core.shaping.rows import Row, bent, beyond, changed, curvature_of, line, rounds
from wander.core.geometry.curve import Curve
from wander.core.shaping.bounds import SWELLING, WAVE, waving
from wander.core.shaping.skin import Skin
from wander.core.shaping.unit_span import LOOKED

HUMP = ([0, 0.4, 0.9, 1.4, 2], [0.5, 0.9, 0.95, 0.6, 0.55])
"""Held below its highest section, what is bent least has a dent beside it."""
DENTED = {
    "hump": HUMP,
    "large": ([400 * z for z in HUMP[0]], [400 * r for r in HUMP[1]]),
    "neck": ([0, 20, 70, 80, 110], [30, 14, 12, 26, 28]),
    "barrel": ([0, 25, 39, 81, 153, 199], [21, 33, 38, 49, 43, 25]),
}


def radius(curve: Curve, at: Row) -> Row:
    return np.asarray(np.linalg.norm(curve(at)[:, :3], axis=1))


def sides(places: Row, curve: Curve, share: float) -> list[int]:
    """To which sides a line bends in turn, by its radii at close places: a bend that moves it by less than a share of its largest step is none."""
    z = np.linspace(places[0], places[-1], 4001)
    r = radius(curve, z)
    bend = np.gradient(np.gradient(r, z), z)[2:-2]
    size = share * np.abs(np.diff(radius(curve, places))).max()
    edges = [0, *(np.flatnonzero(np.diff(np.sign(bend))) + 1), len(bend)]
    step = z[1] - z[0]
    found: list[int] = []
    for low, high in pairwise(edges):
        side = int(np.sign(bend[low:high].sum()))
        if abs(bend[low:high].sum()) * step * (high - low) * step / 8 > size and found[-1:] != [side]:
            found.append(side)
    return found


def asked(places: Row, radii: Row) -> list[int]:
    turns = np.sign(np.diff(np.diff(radii) / np.diff(places)))
    return [int(side) for i, side in enumerate(turns) if not i or side != turns[i - 1]]


@pytest.mark.parametrize("name", DENTED)
def test_it_bends_to_no_side_that_its_sections_do_not_ask_for(name: str) -> None:
    places, radii = (np.array(numbers, dtype=float) for numbers in DENTED[name])
    curve = line(places, rounds(radii))
    assert beyond(places, radii, curve) <= 0.0101
    assert sides(places, curve, 2e-3) == asked(places, radii)
    assert len(sides(places, line(places, rounds(radii), skin=Skin.EVEN), 2e-3)) > len(asked(places, radii)), "what is even does"


def gentle(seed: int, count: int) -> tuple[Row, Row]:
    """Places along a line that bends to one side, and radii there."""
    chance = np.random.default_rng(seed)
    places = np.append(0.0, np.cumsum(chance.uniform(10, 60, count - 1)))
    share = places / places[-1]
    return places, 30 + 10 * chance.uniform(-1, 1) * share + 20 * chance.uniform(0.2, 1) * share * (1 - share)


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10**6), st.integers(3, 8))
def test_a_row_that_turns_to_one_side_is_bent_to_one_side(seed: int, count: int) -> None:
    places, radii = gentle(seed, count)
    assert sides(places, line(places, rounds(radii)), 2e-3) == [-1]


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 10**6), st.integers(3, 8))
def test_what_is_calm_by_itself_is_the_even_skin(seed: int, count: int) -> None:
    chance = np.random.default_rng(seed)
    places = np.append(0.0, np.cumsum(chance.uniform(20, 30, count - 1)))
    radii = 30 - 0.002 * (places - places[-1] * chance.uniform(-1, 0)) ** 2
    calm, even = (line(places, rounds(radii), skin=skin) for skin in (Skin.CALM, Skin.EVEN))
    assert_close(calm.points, even.points, within=1e-9)


def quadratic(of: Callable[[Row], float], k: int) -> tuple[Row, Row]:
    """The form (2 k, 2 k) and the slope at nought of what is quadratic in slopes and second derivatives at k stations."""
    base, units = of(np.zeros(2 * k)), np.eye(2 * k)
    there, back = (np.array([of(sign * e) for e in units]) for sign in (1, -1))
    pull, own = (there - back) / 2, (there + back) / 2 - base
    both = np.array([[of(a + b) for b in units] for a in units])
    return (both - base - own[:, None] - own - pull[:, None] - pull) / 2, pull / 2


@pytest.mark.parametrize("name", ["hump", "neck"])
def test_it_is_the_nearest_to_where_it_begins_that_keeps_to_all(name: str) -> None:
    """Against a general solver, which sees nothing but numbers. It begins as what full slack leaves alone."""
    places, radii = (np.array(numbers, dtype=float) for numbers in DENTED[name])
    k = len(places)
    shapes = np.zeros((k, 1, 3))
    shapes[:, 0, 0] = radii
    curve, free = line(places, shapes), line(places, shapes, np.ones(k - 1))
    steps = np.diff(places)
    scale = np.concatenate([np.full(k, steps.min() ** -d) for d in (1, 2)])
    chords = np.hypot(steps, np.diff(radii))
    own, first = (np.concatenate([found.derivatives(places, 2)[d][:, 0] for d in (1, 2)]) / scale for found in (curve, free))
    bending, pull = quadratic(lambda x: bent(places, radii, *np.split(scale * x, 2), chords), k)
    changing, way = quadratic(lambda x: changed(places, radii, scale * x, chords), k)
    loosest, evenest = -np.linalg.solve(bending, pull), -np.linalg.solve(changing, way)
    even = float(np.linalg.norm(first - loosest) / np.linalg.norm(evenest - loosest))
    assert_close(first, loosest + even * (evenest - loosest), within=1e-6 * float(np.abs(first).max()))
    # as far as it begins even, what is near is told by how bending changes, on the mean by as much
    form = (1 - even) * bending + even * changing * 2 * k / np.trace(np.linalg.solve(bending, changing))
    # what a line through the stations has in each bay, by its slopes and second derivatives: places between, and how it bends at its knots
    to_values = np.linalg.inv(np.concatenate([curve.space.matrix(places, d) for d in range(3)]))
    reach = curve.space.matrix(np.concatenate([a + (b - a) * LOOKED for a, b in pairwise(places)])) @ to_values
    stretches = np.pad(np.abs(np.diff(radii)), 1)
    step = np.maximum(np.maximum(stretches[:-2], stretches[2:]), stretches[1:-1])
    bays = np.repeat(np.arange(k - 1), len(LOOKED))
    low, high = np.minimum(radii[:-1], radii[1:])[bays], np.maximum(radii[:-1], radii[1:])[bays]
    turns = np.diff(np.diff(radii) / steps)
    both = np.array([0.0 if a * b < 0 else np.sign(a) for a, b in pairwise([turns[0], *turns, turns[-1]])])

    def bends(x: Row) -> Row:
        slopes, seconds = np.split(scale * x, 2)
        found = []
        for i, h in enumerate(steps):
            span = slice(i, i + 2)
            found.append(both[i] * curvature_of(radii[span], h * slopes[span], h**2 * seconds[span])(np.array([0, 1 / 3, 2 / 3, 1])) / step[i])
        return np.concatenate(found)

    base = bends(np.zeros(2 * k))
    turned = np.stack([bends(e) - base for e in np.eye(2 * k)], axis=1)
    fixed = reach[:, :k] @ radii
    allowed = SWELLING * step[bays]
    kept = [LinearConstraint(reach[:, k:] * scale, low - allowed - fixed, high + allowed - fixed), LinearConstraint(turned, -WAVE - base, np.inf)]

    form /= (own - first) @ form @ (own - first)

    def away(x: Row) -> float:
        return float((x - first) @ form @ (x - first))

    best = minimize(away, first, jac=lambda x: 2 * form @ (x - first), constraints=kept, method="SLSQP", options={"ftol": 1e-13, "maxiter": 2000})
    assert best.success
    assert (reach[:, k:] @ (scale * own) + fixed - high - allowed).max() < 1e-7 * radii.max()
    assert (base + turned @ own).min() > -WAVE - 0.02, "it gives a little"
    assert away(own) <= away(best.x) * 1.0001
    found = reach[:, k:] @ (scale * (own - best.x))
    assert np.abs(found).max() < 2e-3 * np.abs(np.diff(radii)).max()


def test_where_sections_hardly_turn_nothing_jumps() -> None:
    """A station is pulled through the line of its neighbours: the side that is asked for changes, and the skin follows without a jump."""
    places = np.array([0.0, 33.0, 79.0, 101.0])
    t = np.linspace(0, 101, 200)
    for fine in (0.02, 0.005):
        before = None
        for pulled in np.arange(-0.6, 0.6, fine):
            radii = np.array([16.4, 22.6 + pulled, 31.2, 11.6])
            seen = radius(line(places, rounds(radii, 4)), t)
            if before is not None:
                assert np.abs(seen - before).max() < 30 * fine
            before = seen


@pytest.mark.parametrize("name", ["hump", "neck", "barrel"])
def test_full_slack_lets_it_bend_back_as_it_would_by_itself(name: str) -> None:
    places, radii = (np.array(numbers, dtype=float) for numbers in DENTED[name])
    slack = np.ones(len(places) - 1)
    free, even = (line(places, rounds(radii), slack, skin=skin) for skin in (Skin.CALM, Skin.EVEN))
    assert_close(free.points, even.points, within=1e-9 * radii.max())


def test_waves_are_found_where_they_are() -> None:
    """A dent pressed into an arc, by its own second derivative."""
    places = np.array([0.0, 30.0, 60.0, 90.0])
    shapes = rounds([10.0, 16.0, 17.0, 12.0])
    way = shapes / np.linalg.norm(shapes, axis=2, keepdims=True)
    bends = -0.01 * np.repeat(way[:3, None], 4, axis=1)
    assert waving(places, shapes, bends)[0] == 0.0
    bends[1, 2, 5] *= -2
    share, bay, knot, number = waving(places, shapes, bends)
    assert (bay, knot, number) == (1, 2, 5)
    assert share == pytest.approx(0.02 * 30**2 / 8 / 6)
