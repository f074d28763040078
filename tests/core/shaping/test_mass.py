"""Mass properties against closed forms, and against the sum over a fine mesh."""

from __future__ import annotations

from math import pi

import numpy as np
import pytest
import trimesh

from tests.closeness import assert_close
from tests.core.placed import at, body, tip, wobbly
from wander.core.drawing.outlines import shapes
from wander.core.shaping.display import display_mesh
from wander.core.shaping.loft import Between
from wander.core.shaping.mass import extremes, mass_properties, volume_about

BODIES = {
    "cone": body(at(0, shapes.circle(20)), tip(30)),
    "flask": body(
        at(0, shapes.rounded_rectangle(60, 60, 12)),
        at(70, shapes.rounded_rectangle(76, 76, 20)),
        at(160, shapes.circle(30)),
        at(190, shapes.circle(28)),
    ),
    "prism": body(at(0, shapes.polygon(5, 40)), at(30, shapes.rectangle(30, 20))),
    "wobble": body(at(0, shapes.spline(wobbly(12, 20, 1))), at(30, shapes.spline(wobbly(12, 24, 2))), at(55, shapes.spline(wobbly(12, 16, 3)))),
}


def test_a_cylinder() -> None:
    found = mass_properties(body(at(0, shapes.circle(20)), at(30, shapes.circle(20))).shell)
    assert_close(found.volume, 3000 * pi, within=1e-8 * 3000 * pi)
    assert_close(found.area, 2 * 100 * pi + 20 * pi * 30, within=1e-7 * found.area)
    assert_close(found.center, [0, 0, 15], within=1e-7)
    assert_close(found.low, [-10, -10, 0], within=1e-7)
    assert_close(found.high, [10, 10, 30], within=1e-7)


def test_moments_of_a_cylinder_and_a_box_wherever_they_stand() -> None:
    """About axes through the centre: m (3 r2 + h2) / 12 and m r2 / 2 of a cylinder, m (a2 + b2) / 12 of a box; none of them mixed."""
    round_one = mass_properties(body(at(0, shapes.circle(20)), at(30, shapes.circle(20))).shell)
    m = 3000 * pi
    assert_close(round_one.spread, np.diag([m * 100 / 4, m * 100 / 4, m * 900 / 12]), within=1e-7 * m * 900)
    away = shapes.rectangle(4, 6).transformed(np.eye(2), np.array([1100.0, -300.0]))
    box = mass_properties(body(at(505, away), at(515, away)).shell)
    assert_close(box.spread, 240 * np.diag([16.0, 36.0, 100.0]) / 12, within=1e-6)


def test_an_oblique_pyramid() -> None:
    found = mass_properties(body(at(0, shapes.rectangle(20, 10)), tip(30, 6, 8), between=Between.STRAIGHT).shell)
    assert_close(found.volume, 2000, within=1e-9)
    assert_close(found.center, [1.5, 2.0, 7.5], within=1e-9)
    assert_close(found.low, [-10, -5, 0], within=1e-12)
    assert_close(found.high, [10, 8, 30], within=1e-12)


def test_a_shifted_box_has_its_centre_where_it_should() -> None:
    box = shapes.rectangle(4, 6).transformed(np.eye(2), np.array([11.0, -3.0]))
    found = mass_properties(body(at(5, box), at(15, box)).shell)
    assert_close(found.center, [11, -3, 10], within=1e-12)
    assert_close(found.area, 2 * (24 + 40 + 60), within=1e-10)


@pytest.mark.parametrize("name", BODIES)
def test_agrees_with_a_fine_mesh(name: str) -> None:
    shell = BODIES[name].shell
    found, mesh = mass_properties(shell), display_mesh(shell, 0.0005)
    solid = trimesh.Trimesh(mesh.positions, mesh.triangles)
    assert_close(solid.volume, found.volume, within=2e-4 * found.volume)
    assert_close(solid.area, found.area, within=2e-4 * found.area)
    assert_close(solid.center_mass, found.center, within=2e-3)
    inertia = np.trace(found.spread) * np.eye(3) - found.spread
    assert_close(solid.moment_inertia, inertia, within=1e-3 * np.abs(inertia).max())
    assert_close(mesh.positions.min(axis=0), found.low, within=2e-3)
    assert_close(mesh.positions.max(axis=0), found.high, within=2e-3)


@pytest.mark.parametrize("name", BODIES)
def test_a_volume_that_is_told_at_once_is_about_the_volume(name: str) -> None:
    shell = BODIES[name].shell
    for placed in (shell, shell.moved(np.diag([1.0, 1.0, -1.0]), np.array([3.0, -200.0, 40.0]))):
        exact = mass_properties(placed).volume
        assert_close(volume_about(placed), exact, within=1e-3 * abs(exact))


@pytest.mark.parametrize("name", BODIES)
def test_nothing_sticks_out_of_the_box(name: str) -> None:
    for face in BODIES[name].shell.faces:
        low, high = extremes(face.surface)
        points = face.surface.grid(np.linspace(*face.surface.u.domain, 301), np.linspace(*face.surface.v.domain, 301))
        assert np.all(points.min(axis=(0, 1)) >= low - 1e-9)
        assert np.all(points.max(axis=(0, 1)) <= high + 1e-9)
