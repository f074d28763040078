"""Twist and scale along the length, against closed forms and the point-by-point outcome."""

from __future__ import annotations

from math import pi, radians

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import at, tip, wobbly
from wander.core.drawing.outlines import shapes
from wander.core.geometry.law import Law, constant, linear, smooth, through
from wander.core.shaping.laws import About, Laws
from wander.core.shaping.loft import Between, Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.section import PlacedSection


def shaped(sections: list[PlacedSection], laws: Laws | None, between: Between = Between.SMOOTH) -> Lofted:
    return loft(sections, [f"section-{i}" for i in range(len(sections))], name="loft-9", between=between, laws=laws)


def volume(made: Lofted) -> float:
    return mass_properties(made.shell).volume


@pytest.mark.parametrize("outline", [shapes.rectangle(20.0, 12.0), shapes.circle(16.0), shapes.slot(30.0, 9.0), shapes.spline(wobbly(11, 15.0, 3))])
@pytest.mark.parametrize("between", list(Between))
def test_a_section_turned_90_degrees_about_its_centroid_keeps_a_h(outline, between: Between) -> None:
    made = shaped([at(0, outline), at(50.0, outline)], Laws(twist=linear(0.0, pi / 2)), between)
    assert_close(volume(made), outline.area * 50.0, within=1e-4 * outline.area * 50.0)
    assert made.report.law_deviation <= 1e-3


@given(scale=st.floats(0.1, 4.0), h=st.floats(5.0, 200.0))
def test_a_linear_scale_gives_the_frustum_exactly(scale: float, h: float) -> None:
    outline = shapes.rounded_rectangle(30.0, 20.0, 6.0)
    made = shaped([at(0, outline), at(h, outline)], Laws(width=linear(1.0, scale), height=linear(1.0, scale)))
    assert made.report.law_deviation == 0.0
    expected = outline.area * h * (1 + scale + scale * scale) / 3
    assert_close(volume(made), expected, within=1e-9 * expected)


@given(scale=st.floats(0.2, 3.0))
def test_width_alone(scale: float) -> None:
    outline = shapes.spline(wobbly(9, 12.0, 8))
    made = shaped([at(0, outline), at(40.0, outline)], Laws(width=linear(1.0, scale)))
    expected = outline.area * 40.0 * (1 + scale) / 2
    assert_close(volume(made), expected, within=1e-6 * expected)


def test_scaling_about_a_riding_point_keeps_that_point() -> None:
    outline = shapes.rectangle(20.0, 10.0)
    made = shaped([at(0, outline), at(30.0, outline)], Laws(height=linear(1.0, 0.5), about=About.RIDING, riding=(0.0, -5.0)), Between.STRAIGHT)
    low = [face.surface.grid(np.linspace(0, 1, 9), face.surface.v.greville)[..., 1].min() for face in made.shell.faces]
    assert_close(min(low), -5.0, within=1e-12)
    assert_close(mass_properties(made.shell).high[1], 5.0, within=1e-9)
    assert_close(volume(made), 20 * 10 * 30 * 0.75, within=1e-8)


def test_the_spine_runs_straight_between_the_ends() -> None:
    circle = shapes.circle(10.0)
    bent = [PlacedSection(at(z, circle).frame, circle.transformed(np.eye(2), np.array([x, 0.0]))) for z, x in ((0.0, 0.0), (20.0, 8.0), (40.0, 0.0))]
    shrunk = shaped(bent, Laws(width=constant(0.5), height=constant(0.5), about=About.SPINE))
    ring = shrunk.shell.rings[1].curves[0](np.linspace(0, 1, 50))
    assert_close(ring[:, 0].max(), (8.0 + 5.0) / 2, within=1e-6)


@given(
    turns=st.lists(st.floats(-2.0, 2.0), min_size=2, max_size=5),
    sharp=st.booleans(),
    scale=st.floats(0.3, 2.0),
    between=st.sampled_from(list(Between)),
)
def test_the_skin_is_where_the_laws_say_point_by_point(turns: list[float], sharp: bool, scale: float, between: Between) -> None:
    outline = shapes.spline(wobbly(9, 14.0, 4))
    sections = [at(0, outline), at(22.0, shapes.circle(24.0)), at(60.0, outline)]
    law = through([(i / (len(turns) - 1), t, sharp) for i, t in enumerate(turns)])
    laws = Laws(twist=law, width=smooth(1.0, scale))
    made, plain = shaped(sections, laws, between), shaped(sections, None, between)
    for face, base in zip(made.shell.faces, plain.shell.faces, strict=True):
        u, v = np.linspace(0, 1, 23), np.linspace(*base.surface.v.domain, 41)[1:-1]
        found, before = face.surface.grid(u, v), base.surface.grid(u, v)
        share = before[0, :, 2] / 60.0
        center = _centers(sections, plain.plain.places, between, v)
        turn, width = law(share), 1 + (scale - 1) * share**2 * (3 - 2 * share)
        x, y = (before[..., 0] - center[:, 0]) * width, before[..., 1] - center[:, 1]
        expected = np.stack(
            [center[:, 0] + x * np.cos(turn) - y * np.sin(turn), center[:, 1] + x * np.sin(turn) + y * np.cos(turn), before[..., 2]], -1
        )
        assert_close(found, expected, within=max(1e-3, made.report.law_deviation * 1.5))


def _centers(sections: list[PlacedSection], places: np.ndarray, between: Between, v: np.ndarray) -> np.ndarray:
    from scipy.interpolate import CubicSpline

    centers = np.array([section.center for section in sections])
    if between is Between.STRAIGHT:
        return np.column_stack([np.interp(v, places, centers[:, i]) for i in range(3)])
    return CubicSpline(places, centers, bc_type="natural")(v)


def test_laws_reach_a_tip_and_leave_it_alone() -> None:
    outline = shapes.rectangle(10.0, 10.0)
    made = shaped([at(0, outline), tip(30.0)], Laws(twist=linear(0.0, radians(80))), Between.STRAIGHT)
    assert_close(volume(made), 10 * 10 * 30 / 3, within=1e-4 * 1000)
    assert_close(mass_properties(made.shell).high[2], 30.0, within=1e-9)


@pytest.mark.parametrize(
    ("law", "values"),
    [
        (constant(3.0), [3, 3, 3, 3, 3]),
        (linear(0.0, 8.0), [0, 2, 4, 6, 8]),
        (smooth(0.0, 1.0), [0, 0.15625, 0.5, 0.84375, 1]),
        (through([(0.25, 1.0, False), (0.75, 5.0, False)]), [1, 1, 3, 5, 5]),
        (through([(0.0, 0.0, False), (0.5, 2.0, True), (1.0, 0.0, False)]), [0, 1, 2, 1, 0]),
    ],
)
def test_values_of_laws(law: Law, values: list[float]) -> None:
    assert_close(law(np.linspace(0, 1, 5)), values, within=1e-12)


def test_a_law_through_points_is_the_natural_cubic_where_that_stays_between_them() -> None:
    from scipy.interpolate import CubicSpline

    places, values = [0.0, 0.3, 0.6, 1.0], [0.0, 0.45, 0.9, 2.0]
    law = through([(p, v, False) for p, v in zip(places, values, strict=True)])
    at_ = np.linspace(0, 1, 57)
    assert_close(law(at_), CubicSpline(places, values, bc_type="natural")(at_), within=1e-12)
