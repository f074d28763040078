"""What the skin does at its ends, against closed forms and measured directions."""

from __future__ import annotations

from math import pi, radians, sin

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import at, tip, wobbly
from wander.core.drawing.outlines import shapes
from wander.core.shaping.ends import FREE, EndKind, EndShape
from wander.core.shaping.loft import Between, Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.section import PlacedSection

SQUARE, DOMED = EndShape(EndKind.SQUARE), EndShape(EndKind.DOMED)
OUTLINES = [shapes.rectangle(20.0, 12.0), shapes.circle(16.0), shapes.rounded_rectangle(24.0, 18.0, 5.0), shapes.polygon(5, 20.0)]


def held(sections: list[PlacedSection], start: EndShape = FREE, end: EndShape = FREE) -> Lofted:
    return loft(sections, [f"section-{i}" for i in range(len(sections))], name="loft-9", ends=(start, end))


def slopes(made: Lofted, at_end: bool) -> np.ndarray:
    """Unit directions along the body at one end, (m, 3), from all faces."""
    found = []
    for face in made.shell.faces:
        v = np.array([face.surface.v.domain[1 if at_end else 0]])
        along = face.surface.grid(np.linspace(0.03, 0.97, 25), v, 0, 1)[:, 0]
        found.append(along / np.linalg.norm(along, axis=1)[:, None])
    return np.concatenate(found)


@pytest.mark.parametrize("outline", OUTLINES)
@pytest.mark.parametrize("stations", [(0.0, 30.0), (0.0, 12.0, 40.0)])
def test_square_ends_leave_square_to_the_station(outline, stations) -> None:
    sections = [at(z, outline.transformed(np.eye(2) * (1 + z / 50), np.array([z / 4, 0.0]))) for z in stations]
    made = held(sections, SQUARE, SQUARE)
    for at_end in (False, True):
        assert_close(slopes(made, at_end) - np.array([0.0, 0, 1]), 0.0, within=1e-9)
    assert len(made.report.folds) == 0


@given(degrees=st.floats(-50, 60), fullness=st.floats(0.3, 1.5))
def test_the_wall_leaves_at_the_angle_asked_for(degrees: float, fullness: float) -> None:
    for outline in OUTLINES:
        lean = EndShape(EndKind.ANGLE, radians(degrees), fullness)
        made = held([at(0, outline), at(25.0, outline), at(60.0, outline)], lean, lean)
        for at_end, way in ((False, 1.0), (True, -1.0)):
            # the lean of a wall is the angle between its tangent plane and square
            for face in made.shell.faces:
                u, v = np.linspace(0.04, 0.96, 15), np.array([face.surface.v.domain[1 if at_end else 0]])
                normal = np.cross(face.surface.grid(u, v, 1, 0)[:, 0], face.surface.grid(u, v, 0, 1)[:, 0])
                normal /= np.linalg.norm(normal, axis=1)[:, None]
                assert_close(normal[:, 2] * way, -sin(radians(degrees)), within=2e-4)


@pytest.mark.parametrize("outline", OUTLINES)
@pytest.mark.parametrize("at_end", [True, False])
def test_a_domed_tip_has_the_axis_as_its_normal_and_no_fold(outline, at_end: bool) -> None:
    if at_end:
        made = held([at(0, outline), at(30.0, outline), tip(45.0)], FREE, DOMED)
    else:
        made = held([tip(-15.0), at(0, outline), at(30.0, outline)], DOMED, FREE)
    assert len(made.report.folds) == 0
    for face in made.shell.faces:
        low, high = face.surface.v.domain
        near = np.array([high - 1e-5 * (high - low) if at_end else low + 1e-5 * (high - low)])
        u = np.linspace(0.05, 0.95, 15)
        normal = np.cross(face.surface.grid(u, near, 1, 0)[:, 0], face.surface.grid(u, near, 0, 1)[:, 0])
        normal /= np.linalg.norm(normal, axis=1)[:, None]
        tilt = np.degrees(np.arccos(np.clip(normal[:, 2] * (1.0 if at_end else -1.0), -1, 1)))
        assert tilt.max() < 0.01


def test_a_dome_on_a_circle_is_nearly_half_a_ball() -> None:
    """One cubic from the tip to the equator with the handles of a quarter circle: 2.7e-4 of the radius off at most."""
    made = held([at(0, shapes.circle(20.0)), tip(10.0)], SQUARE, DOMED)
    face = made.shell.faces[0].surface
    # the handle at the equator is as long as the chord, not as the quarter circle asks: fullness makes up for it
    chord = np.hypot(10.0, 10.0)
    fuller = held([at(0, shapes.circle(20.0)), tip(10.0)], EndShape(EndKind.SQUARE, 0.0, 1.657 * 10.0 / chord), DOMED)
    points = fuller.shell.faces[0].surface.grid(np.linspace(0, 1, 30), np.linspace(0, 1, 40))
    assert_close(np.linalg.norm(points, axis=-1), 10.0, within=6e-3)
    assert_close(mass_properties(fuller.shell).volume, 2 / 3 * pi * 1000, within=2e-3 * 2094)
    assert face.v.count == 4


def test_more_fullness_makes_more_body() -> None:
    sections = [at(0, shapes.circle(20.0)), tip(15.0)]
    volumes = [mass_properties(held(sections, SQUARE, EndShape(EndKind.DOMED, 0.0, f)).shell).volume for f in (0.5, 1.0, 1.5)]
    assert volumes[0] < volumes[1] < volumes[2]


def test_a_wish_that_does_not_fit_the_end_changes_nothing() -> None:
    sections = [at(0, shapes.spline(wobbly(8, 12.0, 5))), at(20.0, shapes.circle(18.0)), at(50.0, shapes.circle(10.0))]
    plain = mass_properties(held(sections).shell).volume
    assert_close(mass_properties(held(sections, DOMED, DOMED).shell).volume, plain, within=1e-9 * plain)
    straight = loft(sections, ["a", "b", "c"], name="loft-9", between=Between.STRAIGHT, ends=(SQUARE, SQUARE))
    assert len(straight.shell.faces) == 2
