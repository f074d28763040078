"""Lofts whose volume is known in closed form, and lofts that must not change when the world is turned."""

from __future__ import annotations

from math import pi

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import at, body, moved, tip, wobbly
from wander.core.drawing.outlines import shapes
from wander.core.shaping.loft import Between, Lofted
from wander.core.shaping.mass import mass_properties

size = st.floats(1.0, 100.0)


def distance_to(polyline: np.ndarray, points: np.ndarray) -> float:
    """Largest distance of the points from a fine polyline, by brute force over its segments."""
    worst = 0.0
    a, along = polyline[:-1], np.diff(polyline, axis=0)
    for point in points:
        share = np.clip(np.sum((point - a) * along, axis=1) / np.sum(along * along, axis=1), 0, 1)
        worst = max(worst, float(np.linalg.norm(a + share[:, None] * along - point, axis=1).min()))
    return worst


def volume(lofted: Lofted) -> float:
    return mass_properties(lofted.shell).volume


@given(r=size, big=size, h=size)
def test_straight_loft_of_two_circles(r: float, big: float, h: float) -> None:
    made = body(at(0, shapes.circle(2 * r)), at(h, shapes.circle(2 * big)), between=Between.STRAIGHT)
    expected = pi * h * (r * r + r * big + big * big) / 3
    assert_close(volume(made), expected, within=1e-6 * expected)


@given(w=size, d=size, scale=st.floats(0.1, 5), h=size)
def test_frustum_of_similar_rectangles(w: float, d: float, scale: float, h: float) -> None:
    made = body(at(0, shapes.rectangle(w, d)), at(h, shapes.rectangle(scale * w, scale * d)), between=Between.STRAIGHT)
    low, high = w * d, scale * scale * w * d
    assert_close(volume(made), h * (low + high + np.sqrt(low * high)) / 3, within=1e-11 * h * max(low, high))


@pytest.mark.parametrize(
    "outline",
    [shapes.rectangle(20.0, 10.0), shapes.circle(18.0), shapes.polygon(7, 22.0), shapes.slot(30.0, 8.0), shapes.spline(wobbly(9, 14.0, 2))],
)
@pytest.mark.parametrize("at_end", [True, False])
def test_section_to_a_sharp_point(outline, at_end: bool) -> None:
    sections = [at(0, outline), tip(45.0, 3.0, -4.0)] if at_end else [tip(-45.0, 3.0, -4.0), at(0, outline)]
    expected = outline.area * 45.0 / 3
    assert_close(volume(body(*sections, between=Between.STRAIGHT)), expected, within=1e-6 * expected)


@pytest.mark.parametrize(
    "outline", [shapes.circle(30.0), shapes.rounded_rectangle(40.0, 30.0, 6.0), shapes.polygon(6, 30.0), shapes.spline(wobbly(10, 20, 7))]
)
@pytest.mark.parametrize("between", list(Between))
def test_equal_sections_make_a_prism(outline, between: Between) -> None:
    made = body(at(0, outline), at(20, outline), at(55, outline), between=between)
    assert_close(volume(made), outline.area * 55, within=1e-6 * outline.area * 55)
    assert made.report.deviation.max() <= 1e-4


def test_coaxial_circles_make_a_surface_of_revolution() -> None:
    made = body(*(at(z, shapes.circle(d)) for z, d in [(0, 60), (14, 72), (78, 76), (132, 64), (172, 35), (200, 34)]))
    surface = made.shell.faces[0].surface
    for v in np.linspace(*surface.v.domain, 23):
        ring = surface.grid(np.linspace(0, 1, 257), np.array([v]))[:, 0]
        radius = np.linalg.norm(ring[:, :2], axis=1)
        assert np.ptp(radius) <= 1e-6
        assert np.ptp(ring[:, 2]) <= 1e-9
    # and its volume is that of the curve turned about the axis, by fine numeric integration of the profile
    z, r = surface.grid(np.array([0.0]), np.linspace(*surface.v.domain, 200_001))[0][:, [2, 0]].T
    turned = pi * np.sum(np.diff(z) * (r[1:] ** 2 + r[1:] * r[:-1] + r[:-1] ** 2) / 3)
    assert_close(volume(made), turned, within=1e-8 * turned)


def test_the_skin_meets_every_section() -> None:
    sections = [
        at(0, shapes.rounded_rectangle(62, 62, 16)),
        at(60, shapes.rounded_rectangle(76, 70, 24)),
        at(120, shapes.slot(60, 20)),
        at(150, shapes.circle(30)),
    ]
    made = body(*sections)
    surface = made.shell.faces[0].surface
    for ring, section in zip(made.shell.rings, sections, strict=True):
        points = ring.curves[0](np.linspace(0, 1, 400))
        assert distance_to(section.in_space().curve(np.linspace(0, 1, 20_001)), points) <= 1e-3
        v = next(v for v in surface.v.breaks if abs(surface.grid(np.array([0.0]), np.array([v]))[0, 0, 2] - section.frame.origin[2]) < 1e-9)
        assert_close(surface.grid(np.linspace(0, 1, 400), np.array([v]))[:, 0], points, within=1e-9)
    assert made.report.deviation.max() <= 1e-3


SECTIONS = [
    at(0, shapes.rounded_rectangle(62, 50, 16)),
    at(40, shapes.spline(wobbly(11, 30, 3))),
    at(75, shapes.circle(40)),
    at(90, shapes.slot(50, 20)),
]
REFERENCE = volume(body(*SECTIONS))
CORNERED = [at(0, shapes.polygon(5, 60)), at(30, shapes.rectangle(40, 30)), at(70, shapes.circle(30)), tip(90, 2, 1)]


@given(axis=st.tuples(*[st.floats(-1, 1)] * 3), turn=st.floats(-3, 3), shift=st.tuples(*[st.floats(-500, 500)] * 3))
def test_moving_the_whole_leaves_the_volume(axis: tuple, turn: float, shift: tuple) -> None:
    x, y, z = np.array(axis) / max(np.linalg.norm(axis), 1e-9)
    k = np.array([(0, -z, y), (z, 0, -x), (-y, x, 0)])
    rotation = np.eye(3) + np.sin(turn) * k + (1 - np.cos(turn)) * k @ k
    if not np.allclose(rotation @ rotation.T, np.eye(3), rtol=0, atol=1e-12):
        rotation = np.eye(3)
    made = body(*(moved(s, rotation, np.array(shift)) for s in SECTIONS))
    assert_close(volume(made), REFERENCE, within=1e-9 * REFERENCE)


@pytest.mark.parametrize("sections", [SECTIONS, CORNERED])
def test_a_mirror_image_has_the_same_volume(sections: list) -> None:
    mirror = np.diag([-1.0, 1.0, 1.0])
    assert_close(volume(body(*(moved(s, mirror, np.zeros(3)) for s in sections))), volume(body(*sections)), within=1e-9 * REFERENCE)


@pytest.mark.parametrize("sections", [SECTIONS, CORNERED])
@pytest.mark.parametrize("between", list(Between))
def test_the_other_order_changes_nothing(sections: list, between: Between) -> None:
    forwards, backwards = body(*sections, between=between), body(*sections[::-1], between=between)
    assert_close(volume(backwards), volume(forwards), within=1e-9 * REFERENCE)


@given(scale=st.floats(0.01, 100))
def test_volume_goes_with_the_cube_of_size(scale: float) -> None:
    def scaled(z: float, d: float) -> object:
        return at(z * scale, shapes.circle(d * scale))

    one = volume(body(at(0, shapes.circle(10)), at(9, shapes.circle(14)), at(20, shapes.circle(6))))
    other = volume(body(scaled(0, 10), scaled(9, 14), scaled(20, 6)))
    assert_close(other, one * scale**3, within=1e-9 * one * scale**3)
