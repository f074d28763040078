"""Frames of least turning against the torsion of a helix, and against the differential equation that they solve."""

from __future__ import annotations

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from tests.closeness import assert_close
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.least_turning import LeastTurning


def test_along_a_helix_they_turn_back_by_its_torsion() -> None:
    radius, climb, turns = 20.0, 30.0, 1.5
    angle = np.linspace(0.0, 2 * np.pi * turns, 400)
    helix = open_through(np.column_stack([radius * np.cos(angle), radius * np.sin(angle), climb * angle / (2 * np.pi)]))
    ends = np.array([0.0, 1.0])
    place, way = helix.derivatives(ends, 1)
    inwards = -place * (1, 1, 0) / radius
    frames = LeastTurning(helix, inwards[0])
    _, turned = frames(ends)
    # against the Frenet frame, whose normal points inwards all along, by the torsion times the length
    pitch = climb / (2 * np.pi)
    torsion = pitch / (radius**2 + pitch**2)
    length = np.hypot(radius, pitch) * 2 * np.pi * turns
    across = np.cross(way[1] / np.linalg.norm(way[1]), inwards[1])
    found = np.arctan2(turned[1, :, 0] @ across, turned[1, :, 0] @ inwards[1])
    away = (found + torsion * length + np.pi) % (2 * np.pi) - np.pi
    assert abs(away) < 1e-4  # the spline ends without curvature, which the helix has


@settings(max_examples=20)
@given(seed=st.integers(0, 10**6))
def test_nothing_turns_about_the_way_it_goes(seed: int) -> None:
    rng = np.random.default_rng(seed)
    curve = open_through(np.cumsum(rng.normal(size=(6, 3)) + np.array([0, 0, 2.5]), axis=0))
    x = rng.normal(size=3)
    frames = LeastTurning(curve, x)
    places = np.linspace(0.0, 1.0, 23)
    points, turned = frames(places)
    assert_close(points, curve(places), within=1e-12)
    assert_close(np.einsum("mij,mik->mjk", turned, turned), np.tile(np.eye(3), (23, 1, 1)), within=1e-12)

    def change(t: float, r: np.ndarray) -> np.ndarray:
        _, first, second = curve.derivatives(t, 2)
        way, speed = first / np.linalg.norm(first), np.linalg.norm(first)
        bent = (second - (second @ way) * way) / speed
        return np.asarray(-(r @ bent) * way)

    solved = solve_ivp(change, (0.0, 1.0), turned[0, :, 0], t_eval=places, rtol=1e-11, atol=1e-12, max_step=0.01)
    assert_close(turned[:, :, 0], solved.y.T, within=2e-6)
