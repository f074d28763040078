"""Meshes of four-sided facets: closed, looking outwards, as many as were asked for, and no further off than they say."""

from __future__ import annotations

from collections import Counter
from math import cos, pi

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.placed import at, body, tip
from tests.core.shaping.test_extrusion_and_revolution import RING, beside, pull, spin
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.area import area_of
from wander.core.geometry.errors import BadInput
from wander.core.shaping.density import Density
from wander.core.shaping.loft import Between
from wander.core.shaping.quads import QuadMesh, quads


def volume(mesh: QuadMesh) -> float:
    """Of its polygons, each parted from its first corner, if they close: each side has to be there once in either direction."""
    sides = Counter((a, b) for polygon in mesh.polygons for a, b in zip(polygon, polygon[1:] + polygon[:1], strict=True))
    assert set(sides.values()) == {1}
    assert all((b, a) in sides for a, b in sides)
    total = 0.0
    for polygon in mesh.polygons:
        corners = mesh.points[list(polygon)]
        total += sum(float(corners[0] @ np.cross(corners[i], corners[i + 1])) for i in range(1, len(polygon) - 1)) / 6
    return total


(CYLINDER,) = pull(area_of(shapes.circle(40)), high=30)


def test_a_cylinder_by_counts_is_a_prism() -> None:
    mesh = quads(CYLINDER, Density(around=12, along=3))
    assert mesh.sides == {4: 36, 12: 2}
    assert_close(volume(mesh), 12 / 2 * 20**2 * np.sin(2 * pi / 12) * 30, within=1e-6, relative=True)
    # the middle of a side lies inside by the sagitta
    assert_close(mesh.off, 20 * (1 - cos(pi / 12)), within=1e-6)


def test_a_box_needs_six() -> None:
    (box,) = pull(area_of(shapes.rectangle(20, 10)))
    mesh = quads(box, Density())
    assert mesh.sides == {4: 6}
    assert mesh.off < 1e-9
    assert_close(volume(mesh), 6000, within=1e-9, relative=True)
    assert quads(box, Density(around=20, along=5)).sides == {4: 100, 20: 2}


def test_loops_go_in_where_they_are_wanted() -> None:
    mesh = quads(CYLINDER, Density(around=12, along=3, loops=(0.1, 0.95, 1.0)))
    assert mesh.sides == {4: 60, 12: 2}
    heights = np.unique(mesh.points[:, 2].round(6))
    assert_close(heights, (0, 3, 10, 20, 28.5, 30), within=1e-6)
    assert_close(volume(mesh), volume(quads(CYLINDER, Density(around=12, along=3))), within=1e-9, relative=True)


@pytest.mark.parametrize("tolerance", [0.5, 0.05, 0.005])
def test_within_a_tolerance_it_is_as_it_says(tolerance: float) -> None:
    """Middles of sides and of facets, measured from the axis of a cylinder, and from the circle in the middle of a ring."""
    ring = spin(area_of(beside(shapes.circle(8), 20.0)))[0]
    for skin, off in (
        (CYLINDER, lambda p: np.abs(np.hypot(p[:, 0], p[:, 1]) - 20)),
        (ring, lambda p: np.abs(np.hypot(np.hypot(p[:, 0], p[:, 2]) - 20, p[:, 1]) - 4)),
    ):
        mesh = quads(skin, Density(tolerance))
        corners = np.stack([mesh.points[list(polygon)] for polygon in mesh.polygons if len(polygon) == 4])
        middles = np.concatenate([corners.mean(axis=1), ((corners + np.roll(corners, 1, axis=1)) / 2).reshape(-1, 3)])
        assert off(mesh.points[np.unique([n for p in mesh.polygons for n in p])]).max() < 1e-6
        assert off(middles).max() <= tolerance
        assert off(middles).max() <= mesh.off + 1e-6 <= 1.25 * off(middles).max()
        assert mesh.off > tolerance / 8


def test_a_ring_has_holes_and_no_caps_of_many_sides() -> None:
    (tube,) = pull(RING, high=30)
    mesh = quads(tube, Density(around=16, along=2))
    assert mesh.sides[4] == 16 * 2 * 2
    assert set(mesh.sides) == {3, 4}
    assert_close(volume(mesh), 16 / 2 * (20**2 - 10**2) * np.sin(2 * pi / 16) * 30, within=1e-6, relative=True)


def test_what_shrinks_to_a_point_ends_in_triangles() -> None:
    cone = body(at(0, shapes.circle(20)), tip(30), between=Between.STRAIGHT).shell
    mesh = quads(cone, Density(around=8, along=4))
    assert mesh.sides == {3: 8, 4: 24, 8: 1}
    assert_close(volume(mesh), 8 / 2 * 10**2 * np.sin(2 * pi / 8) * 30 / 3, within=1e-6, relative=True)


def test_lines_stand_where_the_shape_bends() -> None:
    """A square rounded at its corners: most of the lines round it stand in the arcs."""
    (block,) = pull(area_of(shapes.rounded_rectangle(100, 100, 10)), high=10)
    mesh = quads(block, Density(around=40, along=1))
    foot = mesh.points[mesh.points[:, 2] < 1e-6]
    straight = (np.abs(foot[:, 0]) < 39.9) | (np.abs(foot[:, 1]) < 39.9)
    assert straight.sum() <= 12
    assert_close(volume(mesh), block_area(mesh) * 10, within=1e-9, relative=True)


def block_area(mesh: QuadMesh) -> float:
    return next(
        abs(sum(float(np.cross(a, b)[2]) for a, b in zip(corners, np.roll(corners, -1, axis=0), strict=True))) / 2
        for corners in (mesh.points[list(p)] for p in mesh.polygons if len(p) > 4)
    )


def test_counts_that_are_none_are_refused() -> None:
    with pytest.raises(BadInput, match="round the body"):
        quads(CYLINDER, Density(around=0))
