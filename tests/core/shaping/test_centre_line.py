"""Sections that swing along a centre line: closed forms of what is swept by its centre, and where the line does not go with the sections."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import at, moved, wobbly
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.conics import smooth_arc
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import chained, reverse, transformed
from wander.core.geometry.frame import facing
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.quadrature import length
from wander.core.geometry.space import SplineSpace
from wander.core.shaping.centre_line import LineBeside, LineCorner, LineOrder, centre_line
from wander.core.shaping.lanes import lanes_along
from wander.core.shaping.laws import Laws
from wander.core.shaping.loft import Between, Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.section import PlacedSection
from wander.core.solids.assemble import assemble
from wander.core.solids.measure import kernel_volume

ACROSS = np.array([0.0, 1.0, 0.0])
SPIRAL = np.linspace(0.0, 7.0, 60)
HELIX = open_through(np.column_stack([30 * np.cos(SPIRAL), 30 * np.sin(SPIRAL), 17 * SPIRAL]))
WAVE = open_through(np.array([[0.0, 0, 0], [12, 0, 30], [4, 0, 66], [-20, 0, 100], [-20, 0, 140]]))
HALF_TURN = open_through(np.column_stack([50 * np.cos(np.linspace(0, np.pi, 9)), np.zeros(9), 50 * np.sin(np.linspace(0, np.pi, 9))]))


def line(*points: tuple[float, float, float]) -> Curve:
    return Curve(SplineSpace.from_breaks(1, np.linspace(0.0, 1.0, len(points))), np.array(points, dtype=np.float64))


def elbow() -> Curve:
    """A straight, a quarter of a circle, and a straight: its curvature jumps where they meet."""
    quarter = smooth_arc((0.0, 0.0), 40.0, 0.0, np.pi / 2)
    lifted = Curve(quarter.space, np.column_stack([quarter.points[:, 0] - 40, np.zeros(len(quarter.points)), quarter.points[:, 1]]))
    return chained([line((0, 0, -50), (0, 0, 0)), lifted, line((-40, 0, 40), (-90, 0, 40))])


def centred(loop: Loop) -> Loop:
    return loop.transformed(np.eye(2), -loop.centroid)


def square_to(curve: Curve, t: float, loop: Loop, x: np.ndarray = ACROSS) -> PlacedSection:
    place, way = curve.derivatives(t, 1)
    return PlacedSection(facing(place, way, x), loop)


def along(curve: Curve, sections: list[PlacedSection], between: Between = Between.SMOOTH, laws: Laws | None = None, **more: Any) -> Lofted:
    names = [f"section-{i + 1}" for i in range(len(sections))]
    return loft(sections, names, name="loft-9", between=between, line=centre_line(curve, sections), laws=laws, **more)


def volume(lofted: Lofted) -> float:
    return mass_properties(lofted.shell).volume


@pytest.mark.parametrize("curve", [WAVE, HALF_TURN, elbow(), reverse(WAVE)])
@pytest.mark.parametrize("outline", [shapes.circle(20.0), shapes.rectangle(16.0, 12.0), shapes.spline(wobbly(7, 9.0, 3))])
@pytest.mark.parametrize("between", list(Between))
def test_what_rides_on_its_centroid_square_to_a_plane_line_fills_its_area_times_the_length(curve: Curve, outline: Loop, between: Between) -> None:
    loop = centred(outline)
    made = along(curve, [square_to(curve, t, loop) for t in (0.0, 0.3, 0.62, 1.0)], between)
    expected = abs(loop.area) * length(curve)
    assert_close(volume(made), expected, within=2e-6 * expected)
    assert made.report.deviation.max() <= 1e-3
    assert not len(made.report.folds)


def test_a_round_tube_along_a_helix_and_its_solid() -> None:
    made = along(HELIX, [square_to(HELIX, t, shapes.circle(20.0)) for t in (0.0, 0.35, 0.6, 1.0)])
    expected = np.pi * 100 * length(HELIX)
    assert_close(volume(made), expected, within=1e-6 * expected)
    assert_close(kernel_volume(assemble(made.shell).shape), expected, within=1e-5 * expected)


def test_an_elbow_is_a_straight_an_arc_and_a_straight_and_one_solid() -> None:
    curve = elbow()
    made = along(curve, [square_to(curve, t, shapes.circle(20.0)) for t in (0.0, 1.0)])
    assert [face.name for face in made.shell.faces] == ["loft-9/side^0", "loft-9/side^1", "loft-9/side^2"]
    expected = np.pi * 100 * (100 + 40 * np.pi / 2)
    assert_close(volume(made), expected, within=1e-6 * expected)
    assert_close(kernel_volume(assemble(made.shell).shape), expected, within=1e-5 * expected)
    # each part by itself: a cylinder, a piece of a torus, a cylinder
    for face, (axis, radius) in zip(made.shell.faces, [((0, 0), 10.0), (None, 10.0), ((0, 40), 10.0)], strict=True):
        points = face.surface.grid(np.linspace(*face.surface.u.domain, 19), np.linspace(*face.surface.v.domain, 17)).reshape(-1, 3)
        if axis is None:
            ring = np.hypot(points[:, 0] + 40, points[:, 2])
            off = np.hypot(ring - 40, points[:, 1])
        elif axis == (0, 0):
            off = np.hypot(points[:, 0], points[:, 1])
        else:
            off = np.hypot(points[:, 1], points[:, 2] - 40)
        assert_close(off, np.full(len(off), radius), within=1e-3)


def test_sections_are_met_where_they_were_drawn_however_they_lean() -> None:
    sections = leaning(5)
    made = along(WAVE, sections)
    for ring, section in zip(made.shell.rings, sections, strict=True):
        on = ring.curves[0](np.linspace(0.0, 1.0, 97))
        flat = section.frame.drop(on)
        assert_close((on - section.frame.origin) @ section.frame.z, np.zeros(97), within=1e-9)
        assert_close(np.hypot(flat[:, 0] / 11, flat[:, 1] / 7), np.ones(97), within=1e-4)
    # and the skin goes through what is told of it
    v = made.plain.places
    skin = made.shell.faces[0].surface.grid(np.linspace(0, 1, 33), v)
    for i, ring in enumerate(made.shell.rings):
        assert_close(skin[:, i], ring.curves[0](np.linspace(0, 1, 33)), within=1e-3)


def leaning(seed: int) -> list[PlacedSection]:
    rng = np.random.default_rng(seed)
    sections = []
    for t in (0.0, 0.3, 0.6, 1.0):
        place, way = WAVE.derivatives(t, 1)
        normal = way / np.linalg.norm(way) + rng.normal(scale=0.15, size=3)
        sections.append(PlacedSection(facing(place + rng.normal(scale=2.0, size=3), normal, ACROSS), shapes.ellipse(22.0, 14.0)))
    return sections


def test_the_area_across_the_line_is_that_of_a_cut_there() -> None:
    sections = leaning(5)
    run = centre_line(WAVE, sections)
    made = along(WAVE, sections)
    at = np.array([0.21, 0.45, 0.5, 0.83]) * run.length
    points, ways = run.places_on(at)
    read = lanes_along(made.shell.faces, points, ways, at / run.length, 4)
    surface = made.shell.faces[0].surface
    fine = np.linspace(0.0, 1.0, 4001)
    for place, way, near, area in zip(points, ways, at / run.length, read.area, strict=True):
        # by brute force: along each of many flow lines the first step on which it passes the plane, next to where it should
        own = np.abs(fine - near) < 0.15
        lines = surface.grid(np.linspace(0.0, 1.0, 1500)[:-1], fine[own])
        height = (lines - place) @ way
        step = np.argmax(height[:, :-1] * height[:, 1:] <= 0, axis=1)
        rows = np.arange(len(lines))
        share = height[rows, step] / (height[rows, step] - height[rows, step + 1])
        cut = lines[rows, step] + share[:, None] * (lines[rows, step + 1] - lines[rows, step])
        polygon = np.cross(cut - place, np.roll(cut, -1, axis=0) - place).sum(axis=0) @ way / 2
        assert_close(area, abs(polygon), within=2e-5 * area)


def test_along_a_straight_line_it_is_what_it_was() -> None:
    sections = [at(0, shapes.circle(30.0)), at(30, shapes.spline(wobbly(8, 14.0, 1))), at(80, shapes.ellipse(20.0, 30.0))]
    plain = loft(sections, ["a", "b", "c"], name="loft-9")
    lined = loft(sections, ["a", "b", "c"], name="loft-9", line=centre_line(line((0, 0, -10), (0, 0, 100)), sections))
    # the line has its own way to count: by itself, not by the centres
    assert_close(volume(lined), volume(plain), within=2e-3 * volume(plain))
    straight = [
        loft(sections, ["a", "b", "c"], name="loft-9", between=Between.STRAIGHT, line=run)
        for run in (None, centre_line(line((3, 0, 0), (3, 0, 80)), sections))
    ]
    assert_close(volume(straight[1]), volume(straight[0]), within=1e-9 * volume(plain))


@settings(max_examples=15)
@given(seed=st.integers(0, 10**6))
def test_moved_turned_mirrored_and_run_through_from_its_other_end_it_is_the_same_body(seed: int) -> None:
    rng = np.random.default_rng(seed)
    curve = open_through(np.cumsum(rng.normal(scale=8, size=(5, 3)) + np.array([0, 0, 40.0]), axis=0))
    sections = [square_to(curve, t, shapes.ellipse(*rng.uniform(8, 20, 2)), rng.normal(size=3)) for t in (0.0, 0.4, 1.0)]
    true = volume(along(curve, sections))
    turn, _ = np.linalg.qr(rng.normal(size=(3, 3)))
    turn *= np.sign(np.linalg.det(turn))
    shift = rng.normal(scale=50, size=3)
    assert_close(volume(along(transformed(curve, turn, shift), [moved(s, turn, shift) for s in sections])), true, within=1e-8 * true)
    assert_close(volume(along(reverse(curve), sections)), true, within=1e-8 * true)
    # from the other end the frames are carried from there: they turn alike, but for what the fit leaves
    assert_close(volume(along(curve, sections[::-1])), true, within=1e-6 * true)


def test_where_the_line_does_not_go_with_the_sections() -> None:
    sections = [square_to(HALF_TURN, t, shapes.circle(20.0)) for t in (0.0, 0.5, 1.0)]
    short = open_through(HALF_TURN(np.linspace(0.0, 0.8, 7)))
    with pytest.raises(LineBeside) as beside:
        centre_line(short, sections)
    assert beside.value.section == 2
    with pytest.raises(LineOrder) as order:
        centre_line(HALF_TURN, [sections[1], sections[0], sections[2]])
    assert order.value.order in ((1, 0, 2), (2, 0, 1))
    with pytest.raises(LineCorner) as corner:
        centre_line(line((0, 0, 0), (0, 0, 40), (30, 0, 60)), [at(0, shapes.circle(9.0)), at(50, shapes.circle(9.0))])
    assert_close(corner.value.place, [0, 0, 40], within=1e-9)
