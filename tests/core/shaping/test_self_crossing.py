"""Skins that run through themselves, and skins that only come near: bent tubes whose distance is known in closed form."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.placed import at, body, tip, wobbly
from tests.core.shaping.test_mass import BODIES
from tests.core.solids.test_assemble import MORE
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.area import Area
from wander.core.geometry.frame import BASE_FRAMES, Frame
from wander.core.shaping.extrusion import extruded
from wander.core.shaping.loft import Between
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.self_crossing import self_crossing
from wander.core.shaping.shell import Shell

RADIUS = 5.0


def tube(middles: np.ndarray, ways: np.ndarray, radius: float = RADIUS) -> Shell:
    """A round tube through places (k, 3) in directions (k, 3)."""
    placed = []
    for middle, way in zip(middles, ways, strict=True):
        x = np.cross([0.0, 1.0, 0.0], way)
        x /= np.linalg.norm(x)
        placed.append(PlacedSection(Frame(middle, x, np.cross(way, x) / np.linalg.norm(way)), shapes.circle(2 * radius)))
    return body(*placed).shell


def helix(pitch: float, turns: float) -> Shell:
    """A tube along a helix of radius 30 about y. Its turns are `pitch` apart along y, a little less square to the tube."""
    angles = np.linspace(0, 2 * np.pi * turns, int(14 * turns))
    middles = np.column_stack([30 * np.cos(angles), pitch * angles / (2 * np.pi), 30 * np.sin(angles)])
    ways = np.column_stack([-30 * np.sin(angles), np.full(len(angles), pitch / (2 * np.pi)), 30 * np.cos(angles)])
    return tube(middles, ways / np.linalg.norm(ways, axis=1)[:, None])


@pytest.mark.parametrize("pitch", [11.0, 10.3, 10.1])
def test_turns_of_a_helix_that_only_come_near(pitch: float) -> None:
    assert self_crossing(helix(pitch, 2.2)) is None


@pytest.mark.parametrize("pitch", [9.8, 9.0, 6.0])
def test_turns_of_a_helix_that_run_through_each_other(pitch: float) -> None:
    """Two tenths of a millimetre are found, and the places are where two turns are."""
    found = self_crossing(helix(pitch, 2.2))
    assert found is not None
    assert found.depth < RADIUS
    for place in found.places:
        out = np.hypot(place[0], place[2])
        assert abs(out - 30) < RADIUS + 0.5
        assert -RADIUS - 0.5 < place[1] < 2.2 * pitch + RADIUS + 0.5


def test_a_loop_that_meets_its_own_beginning() -> None:
    angles = np.linspace(0, 2 * np.pi * 1.05, 14)
    flat = np.column_stack([30 * np.cos(angles), np.zeros(14), 30 * np.sin(angles)])
    ways = np.column_stack([-np.sin(angles), np.zeros(14), np.cos(angles)])
    crossed, apart = tube(flat, ways), tube(flat[:-2], ways[:-2])
    found = self_crossing(crossed)
    assert found is not None
    assert found.depth > 0.1
    assert all(np.linalg.norm(place - (30, 0, 0)) < 16 for place in found.places)
    assert self_crossing(apart) is None


def test_a_station_set_behind_the_one_before_it() -> None:
    """The body runs up, back down through itself, and up again."""
    placed = [at(0, shapes.circle(20)), at(40, shapes.circle(12)), at(15, shapes.circle(16)), at(60, shapes.circle(20))]
    assert self_crossing(body(*placed, between=Between.STRAIGHT).shell) is not None


@pytest.mark.parametrize("name", sorted({**BODIES, **MORE}))
def test_sound_bodies_are_sound(name: str) -> None:
    assert self_crossing({**BODIES, **MORE}[name].shell) is None


def test_a_thin_wall_is_no_crossing() -> None:
    ring = Area(shapes.circle(40), (shapes.circle(39.8).reversed(),))
    [shell] = extruded([ring], BASE_FRAMES["top"], low=0.0, high=30.0, name="extrude-3", section="section-2")
    assert self_crossing(shell) is None


@settings(max_examples=15, deadline=None)
@given(seed=st.integers(0, 500), scale=st.sampled_from([0.2, 1.0, 30.0]))
def test_bodies_that_bulge_and_taper_are_sound_at_every_size(seed: int, scale: float) -> None:
    rng = np.random.default_rng(seed)
    placed = [at(scale * 25 * i, shapes.spline(scale * wobbly(9, float(rng.uniform(15, 20)), seed + i))) for i in range(4)]
    assert self_crossing(body(*placed, tip(scale * 95)).shell) is None
