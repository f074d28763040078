"""Lofts that are closed into a ring: closed forms, one skin all round, the same wherever it begins."""

from __future__ import annotations

from math import cos, pi, sin

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import moved, wobbly
from tests.soak import times
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.conics import smooth_arc
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import facing
from wander.core.geometry.interpolate import closed_through
from wander.core.geometry.quadrature import length
from wander.core.shaping.centre_line import CentreLine, LineCorner, LineOrder, ring_line
from wander.core.shaping.lanes import lanes_along
from wander.core.shaping.loft import Between, Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.matching import Track, come_round
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.skin import Skin
from wander.core.solids.assemble import assemble
from wander.core.solids.measure import kernel_volume

RADIUS = 60.0
UP = np.array([0.0, 0.0, 1.0])


def round_about(turn: float, outline: Loop, *, tilt: float = 0.0, rise: float = 0.0) -> PlacedSection:
    """A section that stands across a circle about the vertical, its x pointing outwards. tilt: radians about the circle."""
    out, way = np.array([cos(turn), sin(turn), 0.0]), np.array([-sin(turn), cos(turn), 0.0])
    return PlacedSection(facing(RADIUS * out + rise * UP, way, cos(tilt) * out + sin(tilt) * UP), outline)


def centred(loop: Loop) -> Loop:
    return loop.transformed(np.eye(2), -loop.centroid)


def ring(sections: list[PlacedSection], curve: Curve | None = None, **more: object) -> Lofted:
    names = [f"section-{i + 1}" for i in range(len(sections))]
    return loft(sections, names, name="loft-9", line=ring_line(curve, sections), **more)  # type: ignore[arg-type]


def volume(lofted: Lofted) -> float:
    return mass_properties(lofted.shell).volume


def circle_line() -> Curve:
    arc = smooth_arc((0.0, 0.0), RADIUS, 0.4, 2 * pi)
    points = np.column_stack([arc.points, np.zeros(len(arc.points))])
    points[-1] = points[0]
    return Curve(arc.space, points)


OUTLINES = [shapes.circle(20.0), shapes.rectangle(16.0, 12.0), centred(shapes.spline(wobbly(7, 9.0, 3)))]


@pytest.mark.parametrize("outline", OUTLINES)
@pytest.mark.parametrize("turns", [(0.0, pi / 2, pi, 3 * pi / 2), (0.3, 1.0, 4.0), tuple(np.arange(8) * pi / 4)])
@pytest.mark.parametrize("between", list(Between))
def test_sections_round_a_circle_make_what_turning_them_makes(outline: Loop, turns: tuple[float, ...], between: Between) -> None:
    """By the theorem of Pappus, whatever line is drawn or none."""
    expected = 2 * pi * RADIUS * outline.area
    made = ring([round_about(turn, outline) for turn in turns], between=between)
    assert_close(volume(made), expected, within=2e-6 * expected)
    assert not made.shell.caps
    with_line = ring([round_about(turn, outline) for turn in turns[:2]], circle_line(), between=between)
    assert_close(volume(with_line), expected, within=2e-6 * expected)


def test_away_from_a_circle_it_fills_its_area_times_the_line() -> None:
    line = closed_through(np.array([[0.0, 0, 0], [90, 20, 0], [120, 90, 0], [40, 110, 0], [-20, 60, 0]]))
    outline = shapes.rectangle(16.0, 12.0)
    sections = []
    for t in (0.05, 0.3, 0.62):
        place, way = line.derivatives(t, 1)
        sections.append(PlacedSection(facing(place, way, UP), outline))
    expected = outline.area * length(line)
    for order in (sections, sections[::-1], [*sections[1:], sections[0]]):
        assert_close(volume(ring(order, line)), expected, within=5e-6 * expected)


def uneven(seed: int) -> list[PlacedSection]:
    rng = np.random.default_rng(seed)
    turns = np.cumsum(rng.uniform(0.8, 1.4, 5))
    outlines = [centred(shapes.spline(wobbly(7, float(rng.uniform(8, 14)), seed + i))) for i in range(5)]
    tilts, rises = rng.uniform(-0.3, 0.3, 5), rng.uniform(-12, 12, 5)
    return [round_about(turn, loop, tilt=tilt, rise=rise) for turn, loop, tilt, rise in zip(turns, outlines, tilts, rises, strict=True)]


@pytest.mark.parametrize("skin", list(Skin))
def test_one_skin_goes_all_round_and_is_one_solid(skin: Skin) -> None:
    sections = uneven(4)
    made = ring(sections, skin=skin)
    [face] = made.shell.faces
    surface = face.surface
    u = np.linspace(*surface.u.domain, 40)
    for order, scale in ((0, 1.0), (1, 400.0), (2, 4000.0)):
        start, end = (surface.grid(u, np.array([v]), 0, order)[:, 0] for v in surface.v.domain)
        assert_close(end, start, within=1e-9 * scale)
    # the sections are met: every place of them has the skin within reach, and the first is where the skin begins
    line = ring_line(None, sections)
    for section, v in zip(sections, line.places[:-1], strict=True):
        row = surface.grid(np.linspace(*surface.u.domain, 800), np.array([v]))[:, 0]
        assert np.abs((row - section.frame.origin) @ section.frame.z).max() < 1e-3
        places = section.in_space().curve(np.linspace(0, 1, 60))
        assert np.linalg.norm(places[:, None] - row, axis=2).min(axis=1).max() < 0.1
    solid = assemble(made.shell)
    assert_close(kernel_volume(solid.shape), volume(made), within=1e-6 * volume(made))


@settings(max_examples=4)
@given(seed=st.integers(0, 1000))
def test_it_is_the_same_body_wherever_it_begins_whichever_way_it_runs_moved_and_mirrored(seed: int) -> None:
    sections = uneven(seed)
    known = volume(ring(sections))
    assert_close(volume(ring([*sections[2:], *sections[:2]])), known, within=2e-5 * known)
    assert_close(volume(ring(sections[::-1])), known, within=2e-5 * known)
    c, s = cos(1.1), sin(1.1)
    turn = np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]]) @ np.array([[1, 0, 0], [0, c, -s], [0, s, c]])
    for matrix in (turn, turn @ np.diag([1.0, 1.0, -1.0])):
        assert_close(volume(ring([moved(section, matrix, np.array([3.0, -70.0, 11.0])) for section in sections])), known, within=2e-5 * known)


def test_between_sections_of_two_sizes_it_does_not_swell() -> None:
    sections = [round_about(turn, shapes.circle(d)) for turn, d in zip(np.arange(6) * pi / 3, (20, 30, 30, 20, 21, 20), strict=True)]
    made, line = ring(sections), ring_line(None, sections)
    places = np.linspace(0.0, line.length, 400)[:-1]
    area = lanes_along(made.shell.faces, *line.places_on(places), places / line.length, 0).area
    radius = np.sqrt(area / pi)
    assert radius.min() > 10 - 0.01 * 5
    assert radius.max() < 15 + 0.01 * 5
    batten = np.sqrt(lanes_along(ring(sections, skin=Skin.BATTEN).shell.faces, *line.places_on(places), places / line.length, 0).area / pi)
    assert batten.max() > 15.2  # what is told apart


MIXED = {
    "circle": shapes.circle(20.0),
    "square": shapes.rectangle(17.0, 17.0),
    "flat": shapes.rectangle(24.0, 9.0),
    "slot": shapes.slot(26.0, 12.0),
    "hexagon": shapes.polygon(6, 20.0),
    "triangle": shapes.polygon(3, 24.0),
}


@settings(max_examples=times(6, 80), deadline=None)
@given(kinds=st.lists(st.sampled_from(sorted(MIXED)), min_size=3, max_size=5), twist=st.floats(-0.4, 0.4))
def test_sections_of_different_corners_come_round_to_themselves(kinds: list[str], twist: float) -> None:
    turns = 2 * pi * np.arange(len(kinds)) / len(kinds)
    sections = [round_about(turn, centred(MIXED[kind]), tilt=twist * (i % 2)) for i, (turn, kind) in enumerate(zip(turns, kinds, strict=True))]
    made = ring(sections)
    for face in made.shell.faces:
        assert_close(face.surface.points[:, -1], face.surface.points[:, 0], within=1e-9)
    # each section is met where it was drawn, its corners among them
    areas = [abs(section.loop.area) for section in sections if section.loop is not None]
    line = ring_line(None, sections)
    at = line.run[:-1] + 1e-6
    found = lanes_along(made.shell.faces, *line.places_on(at), at / line.length, 0).area
    assert_close(found, np.array(areas), within=0.02)
    solid = assemble(made.shell)
    assert_close(kernel_volume(solid.shape), volume(made), within=1e-5 * volume(made))


def test_what_lies_round_a_track_comes_back_to_where_it_began() -> None:
    """Two corners of the first section; one goes on, one is found again before the end, and a third stands alone half-way."""
    on = Track(np.array([0.0, 0.1, 0.1, 0.1, 0.05]), 1.0, {0: 0.0, 1: 0.1})
    back = Track(np.array([0.9, 0.9, 0.9, 0.02, 0.0]), 1.0, {3: 0.02, 4: 0.0})
    alone = Track(np.array([0.4, 0.45, 0.5, 0.55, 0.6]), 1.0, {2: 0.5})
    found = come_round([on, alone, back])
    assert len(found) == 2
    assert_close(found[0].positions, [0.0, 0.1, 0.06, 0.02, 0.0], within=1e-12)
    assert found[0].owners == {0, 1, 3, 4}
    assert_close(found[1].positions, [0.5] * 5, within=1e-12)


def test_lines_that_are_no_ring() -> None:
    outline = shapes.circle(10.0)
    four = [round_about(turn, outline) for turn in np.arange(4) * pi / 2]
    with pytest.raises(BadInput, match="third section"):
        ring_line(None, four[:2])
    with pytest.raises(BadInput, match="one middle"):
        ring_line(None, [four[0], four[0], four[1]])
    middle = PlacedSection(facing(np.zeros(3), four[0].frame.z, UP), outline)
    with pytest.raises(BadInput, match="straight back"):
        ring_line(None, [four[0], middle, four[2], middle])
    with pytest.raises(LineOrder) as order:
        ring_line(circle_line(), [four[0], four[2], four[1], four[3]])
    assert order.value.order in ((0, 2, 1, 3), (0, 3, 1, 2))
    corner = closed_through(np.array([[60.0, 0, 0], [0, 60, 0], [-60, 0, 0], [0, -60, 0]]))
    dented = corner.points.copy()
    dented[1] += (0.0, 0.0, 3.0)
    with pytest.raises(LineCorner):
        ring_line(Curve(corner.space, dented), four)


def test_frames_come_round_on_a_line_that_is_not_flat() -> None:
    """A closed line in space turns its frames by an angle when it comes back; it is spread, and they meet."""
    t = np.linspace(0, 2 * pi, 30)[:-1]
    line: CentreLine = ring_line(
        closed_through(np.column_stack([60 * np.cos(t), 60 * np.sin(t), 25 * np.sin(2 * t)])),
        [round_about(turn, shapes.circle(9.0)) for turn in (0.0, 2.0, 4.0)],
    )
    _, frames = line.frames(np.array([0.0, 1e-9, 1 - 1e-9, 1.0]))
    assert_close(frames[3], frames[0], within=1e-12)
    assert_close(frames[2], frames[1], within=1e-7)
    _, before = line.frames(np.array([1 - 2e-4, 1 - 1e-4]))
    _, after = line.frames(np.array([1e-4, 2e-4]))
    assert_close((before[1] - before[0]) / 1e-4, (after[1] - after[0]) / 1e-4, within=0.02)
