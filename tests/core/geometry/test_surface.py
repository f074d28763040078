"""Surfaces: evaluation against curves and closed forms, exact edits in both directions."""

from __future__ import annotations

import numpy as np
import pytest

from tests.closeness import assert_close
from wander.core.geometry.conics import circle
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import BASE_FRAMES
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross, lengths

U, V = np.linspace(0, 1, 31), np.linspace(0, 1, 17)


def bumpy() -> Surface:
    u, v = SplineSpace.from_breaks(3, [0, 0.4, 1]), SplineSpace.from_breaks(2, [0, 0.5, 1])
    return Surface(u, v, np.random.default_rng(8).normal(size=(u.count, v.count, 3)))


def cylinder(radius: float = 4.0, height: float = 10.0) -> Surface:
    ring = circle(radius)
    low = np.column_stack([ring.points, np.zeros(len(ring.points))])
    high = low + np.array([0.0, 0.0, height])
    weights = np.column_stack([ring.weights, ring.weights])
    return Surface(ring.space, SplineSpace.from_breaks(1, [0, 1]), np.stack([low, high], axis=1), weights)


def test_a_rational_cylinder_is_one() -> None:
    points = cylinder().grid(U, V)
    assert_close(np.hypot(points[..., 0], points[..., 1]), np.full((31, 17), 4.0), within=1e-14)
    normal = cross(cylinder().grid(U, V, 1, 0), cylinder().grid(U, V, 0, 1))
    outward = points[..., :2] / 4.0
    assert_close(normal[..., :2] / lengths(normal)[..., None], outward, within=1e-12)
    assert_close(normal[..., 2], np.zeros((31, 17)), within=1e-9)


@pytest.mark.parametrize("surface", [bumpy(), cylinder()])
@pytest.mark.parametrize(("du", "dv"), [(1, 0), (0, 1), (1, 1)])
def test_derivatives_agree_with_differences(surface: Surface, du: int, dv: int) -> None:
    u, v, h = np.array([0.13, 0.61]), np.array([0.21, 0.83]), 1e-4
    if du and dv:
        corners = [surface.grid(u + a * h, v + b * h) * a * b for a in (-1, 1) for b in (-1, 1)]
        expected = sum(corners) / (4 * h * h)
    else:
        expected = (surface.grid(u + du * h, v + dv * h) - surface.grid(u - du * h, v - dv * h)) / (2 * h)
    assert_close(surface.grid(u, v, du, dv), expected, within=1e-4)


def test_pairs_of_parameters_agree_with_the_grid() -> None:
    surface, u, v = bumpy(), np.array([0.1, 0.5, 0.9]), np.array([0.2, 0.3, 0.95])
    for order, found in zip([(0, 0), (1, 0), (1, 1)], surface.at(u, v, [(0, 0), (1, 0), (1, 1)]), strict=True):
        grid = surface.grid(u, v, *order)
        assert_close(found, grid[np.arange(3), np.arange(3)], within=1e-12)


@pytest.mark.parametrize("surface", [bumpy(), cylinder()])
@pytest.mark.parametrize("degree", [1, 2, 3])
def test_rows_with_places_of_their_own_agree_with_pairs(surface: Surface, degree: int) -> None:
    chance = np.random.default_rng(degree)
    if surface.weights is None:
        # bent in the middle: from there on it is another piece
        along = SplineSpace.from_breaks(degree, [0.0, 0.3, 0.7, 1.0], [degree, 1])
        surface = Surface(surface.u, along, chance.normal(size=(surface.u.count, along.count, 3)))
    u = np.sort(chance.uniform(0, 1, 7))
    (low, high), orders = surface.v.domain, [(du, dv) for du in range(3) for dv in range(4)]
    # also at the knots, at both ends, and a little beyond them
    v = np.concatenate([low + (high - low) * chance.uniform(-0.01, 1.01, (7, 6)), np.tile([low, low + 0.3 * (high - low), high], (7, 1))], axis=1)
    together = surface.along_rows(u, v, orders)
    for order, found in zip(orders, together, strict=True):
        expected = surface.at(np.repeat(u, v.shape[1]), v.ravel(), [order])[0]
        assert_close(found, expected, within=1e-9 * max(1.0, float(np.abs(expected).max())))


@pytest.mark.parametrize("surface", [bumpy(), cylinder()])
@pytest.mark.parametrize("axis", [0, 1])
def test_insertion_and_elevation_change_nothing(surface: Surface, axis: int) -> None:
    space = (surface.u, surface.v)[axis]
    more = surface.represented(space.elevated(4).with_knots([0.37]), axis)
    assert_close(more.grid(U, V), surface.grid(U, V), within=1e-12, relative=True)


@pytest.mark.parametrize("surface", [bumpy(), cylinder()])
@pytest.mark.parametrize("axis", [0, 1])
def test_split_gives_two_parts(surface: Surface, axis: int) -> None:
    left, right = surface.split(0.3, axis)
    for part, t in ((left, U * 0.3), (right, 0.3 + U * 0.7)):
        u, v = (t, V) if axis == 0 else (V, t)
        assert_close(part.grid(u, v), surface.grid(u, v), within=1e-12, relative=True)


@pytest.mark.parametrize("surface", [bumpy(), cylinder()])
def test_edges_are_the_boundary(surface: Surface) -> None:
    grid = surface.grid(U, U)
    for side, expected in (("u0", grid[0]), ("u1", grid[-1]), ("v0", grid[:, 0]), ("v1", grid[:, -1])):
        assert_close(surface.edge(side)(U), expected, within=1e-13)


def test_bad_surfaces_are_refused() -> None:
    knots = ([0, 0, 1, 1], [0, 0, 1, 1])
    with pytest.raises(BadInput, match=r"control points \(2, 2, 3\)"):
        Surface.checked((1, 1), knots, np.zeros((2, 3, 3)))
    with pytest.raises(BadInput, match="positive weight"):
        Surface.checked((1, 1), knots, np.zeros((2, 2, 3)), np.zeros((2, 2)))


@pytest.mark.parametrize(("name", "normal"), [("top", (0, 0, 1)), ("front", (0, -1, 0)), ("side", (1, 0, 0))])
def test_base_planes_look_where_their_names_say(name: str, normal: tuple[float, float, float]) -> None:
    frame = BASE_FRAMES[name]
    assert_close(frame.z, normal, within=0)
    assert_close(frame.moved(3.0).origin, 3.0 * np.array(normal), within=0)


def test_lifting_and_dropping_are_inverse() -> None:
    frame = BASE_FRAMES["front"].moved(7.0)
    flat = np.random.default_rng(2).normal(size=(5, 2))
    assert_close(frame.drop(frame.lift(flat)), flat, within=1e-15)
