"""Orientation and starts against brute force."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import at, tip, wobbly
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.loop import RING
from wander.core.shaping.alignment import choose_starts, runs_backwards, travel, wring
from wander.core.shaping.girth import Girth, Girths, girth_of

T = np.arange(RING * 4) / (RING * 4)


def ring(loop: Girth, start: float) -> np.ndarray:
    points = loop((T + start) % 1.0)
    return points - points.mean(axis=0)


def rings(loops: Girths, starts: list[float]) -> np.ndarray:
    return np.stack([ring(loop, start) for loop, start in zip(loops.each, starts, strict=True)])


def cost(loops: Girths, starts: list[float]) -> float:
    rings = [ring(loop, start) for loop, start in zip(loops.each, starts, strict=True)]
    return sum(float(np.sum((a - b) ** 2)) / len(T) for a, b in pairwise(rings))


@given(seed=st.integers(0, 500), turn=st.floats(0, 2 * np.pi))
def test_no_nearby_start_is_better(seed: int, turn: float) -> None:
    rotation = np.array([(np.cos(turn), -np.sin(turn)), (np.sin(turn), np.cos(turn))])
    sections = [at(0, shapes.spline(wobbly(12, 20, seed))), at(30, shapes.spline(wobbly(9, 25, seed + 1) @ rotation.T)), at(60, shapes.circle(30.0))]
    loops = Girths([girth_of(s) for s in sections])
    starts = choose_starts(loops.each, [None] * 3)
    best = cost(loops, starts)
    for i in (1, 2):
        for shift in np.linspace(-0.5, 0.5, 41)[:-1]:
            tried = list(starts)
            tried[i] = (tried[i] + shift) % 1.0
            assert cost(loops, tried) >= best - 1e-6 * best
    # both later loops together, coarsely: the choice is global
    for a in np.linspace(0, 1, 13)[:-1]:
        for b in np.linspace(0, 1, 13)[:-1]:
            assert cost(loops, [starts[0], a, b]) >= best - 1e-6 * best


def test_cornered_loops_start_at_the_corner_that_wrings_least() -> None:
    square = shapes.rectangle(20.0, 20.0)
    loops = Girths([girth_of(at(0, square)), girth_of(at(10, square))])
    starts = choose_starts(loops.each, [None, None])
    assert starts[0] in square.corners
    assert starts[0] == starts[1]


def test_a_turned_square_follows_the_nearest_corner() -> None:
    turn = np.radians(30)
    rotation = np.array([(np.cos(turn), -np.sin(turn)), (np.sin(turn), np.cos(turn))])
    loops = Girths([girth_of(at(0, shapes.rectangle(20.0, 20.0))), girth_of(at(10, shapes.rectangle(20.0, 20.0).transformed(rotation, np.zeros(2))))])
    starts = choose_starts(loops.each, [None, None])
    assert_close(wring(rings(loops, starts), np.array([0.0, 0, 1])), [30.0], within=1e-9)


def test_a_start_chosen_by_the_designer_stays() -> None:
    loops = Girths([girth_of(at(0, shapes.circle(10.0))), girth_of(at(10, shapes.circle(12.0)))])
    starts = choose_starts(loops.each, [None, 0.25])
    assert starts[1] == 0.25
    assert_close(starts[0], 0.25, within=1e-6)


def test_symmetric_sections_keep_their_own_start() -> None:
    loops = Girths([girth_of(at(0, shapes.rounded_rectangle(20.0, 20.0, 4.0))), girth_of(at(10, shapes.circle(12.0)))])
    assert choose_starts(loops.each, [None, None]) == [0.0, 0.0]


def test_least_twist_is_what_the_eye_expects() -> None:
    loops = Girths([girth_of(at(0, shapes.ellipse(40.0, 20.0))), girth_of(at(10, shapes.slot(60.0, 10.0)))])
    starts = choose_starts(loops.each, [None, None])
    assert_close(wring(rings(loops, starts), np.array([0.0, 0, 1])), [0.0], within=1e-6)


def test_travel_is_the_way_from_neighbour_to_neighbour() -> None:
    centers = np.array([(0, 0, 0), (0, 0, 2), (0, 3, 2)], dtype=float)
    assert_close(travel(centers), [(0, 0, 2), (0, 3, 2), (0, 3, 0)], within=0)


@pytest.mark.parametrize("upwards", [True, False])
def test_sections_that_run_against_the_others_are_found(upwards: bool) -> None:
    points = wobbly(10, 20.0, 1)
    sections = [at(0, shapes.spline(points)), at(10, shapes.spline(points[::-1])), at(20, shapes.spline(points)), tip(30)]
    expected = [False, True, False, False]
    if not upwards:
        sections, expected = sections[::-1], [False, True, False, True]
    assert runs_backwards(sections) == expected
