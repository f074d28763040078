"""Faces, names, starts, reports and refusals of the loft."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import at, body, tip, wobbly
from wander.core.drawing.outlines import shapes
from wander.core.geometry.errors import BadInput
from wander.core.shaping.loft import Between, Lofted
from wander.core.shaping.mass import mass_properties


def face_names(made: Lofted) -> list[str]:
    return [face.name for face in made.shell.faces]


def test_a_smooth_body_is_one_face_with_a_seam() -> None:
    made = body(at(0, shapes.rounded_rectangle(60, 60, 12)), at(50, shapes.circle(40)), at(80, shapes.slot(50, 20)))
    assert face_names(made) == ["loft-9/side"]
    assert made.shell.faces[0].closed_u
    assert [cap.name for cap in made.shell.caps] == ["loft-9/end:section-1", "loft-9/end:section-3"]


def test_the_seam_is_smooth_where_the_sections_are() -> None:
    surface = body(at(0, shapes.rounded_rectangle(60, 60, 12)), at(50, shapes.circle(40)), at(80, shapes.slot(50, 20))).shell.faces[0].surface
    v = np.linspace(*surface.v.domain, 9)
    ends = surface.grid(np.array([0.0, 1.0]), v, 1, 0)
    assert_close(ends[0], ends[1], within=1e-6, relative=True)


@pytest.mark.parametrize(("count", "other"), [(4, 4), (4, 6), (3, 5), (5, 0)])
def test_faces_meet_at_the_corners(count: int, other: int) -> None:
    second = shapes.polygon(other, 30) if other else shapes.circle(30)
    made = body(at(0, shapes.polygon(count, 40)), at(30, second))
    assert len(made.shell.faces) == max(count, other)
    for face, following in zip(made.shell.faces, [*made.shell.faces[1:], made.shell.faces[0]], strict=True):
        assert_close(face.surface.edge("u1").points, following.surface.edge("u0").points, within=1e-9)


def test_a_single_corner_gives_two_faces() -> None:
    points = np.column_stack([30 * np.cos(np.linspace(0.3, 2 * np.pi - 0.3, 9)), 12 * np.sin(np.linspace(0.3, 2 * np.pi - 0.3, 9))])
    drop = shapes.polyline(np.concatenate([[(45.0, 0.0)], points]))
    smooth_tail = shapes.Loop(drop.curve, corners=(0.0,), seam=0)
    made = body(at(0, smooth_tail), at(20, smooth_tail))
    assert len(made.shell.faces) == 2


def test_straight_bays_are_faces_of_their_own() -> None:
    made = body(at(0, shapes.circle(20)), at(10, shapes.circle(30)), at(30, shapes.circle(10)), between=Between.STRAIGHT)
    assert face_names(made) == ["loft-9/side^section-1", "loft-9/side^section-2"]
    middle = made.shell.faces[0].surface.grid(np.array([0.0]), np.linspace(*made.shell.faces[0].surface.v.domain, 3))[0]
    assert_close(middle[1], (middle[0] + middle[2]) / 2, within=1e-12)


@pytest.mark.parametrize("flip", [False, True])
def test_normals_point_outwards(flip: bool) -> None:
    sections = [at(0, shapes.rectangle(20, 30)), at(20, shapes.circle(20)), at(30, shapes.polygon(3, 20))]
    made = body(*(sections[::-1] if flip else sections))
    for face in made.shell.faces:
        s = face.surface
        u, v = np.array([np.mean(s.u.domain)]), np.array([np.mean(s.v.domain)])
        normal = np.cross(s.grid(u, v, 1, 0), s.grid(u, v, 0, 1))[0, 0]
        assert normal[:2] @ s.grid(u, v)[0, 0, :2] > 0
    start, end = made.shell.caps
    assert start.frame.z[2] == (1.0 if flip else -1.0)
    assert end.frame.z[2] == -start.frame.z[2]


def test_a_clockwise_section_is_turned_and_reported() -> None:
    points = wobbly(10, 20.0, 1)
    straight = body(at(0, shapes.spline(points)), at(20, shapes.spline(points)), at(40, shapes.spline(points)))
    mixed = body(at(0, shapes.spline(points)), at(20, shapes.spline(points[::-1])), at(40, shapes.spline(points)))
    assert mixed.report.turned == (False, True, False)
    # the same points the other way round: the centripetal spline through them is the same curve
    assert_close(mass_properties(mixed.shell).volume, mass_properties(straight.shell).volume, within=1e-6 * 50_000)
    assert_close(mixed.report.wring, [0, 0], within=1e-4)


def test_the_designers_start_wrings_the_body_on_demand() -> None:
    made = body(at(0, shapes.circle(20), start=0.0), at(20, shapes.circle(20), start=0.25))
    assert made.report.starts == (0.0, 0.25)
    assert_close(made.report.wring, [90.0], within=1e-6)


@given(seed=st.integers(0, 1000))
def test_every_wobbly_body_is_closed_and_keeps_its_promise(seed: int) -> None:
    rng = np.random.default_rng(seed)
    sections = [at(25.0 * i, shapes.spline(wobbly(int(rng.integers(5, 24)), float(rng.uniform(15, 30)), seed + i))) for i in range(4)]
    made = body(*sections)
    assert made.report.deviation.max() <= 1e-3
    assert mass_properties(made.shell).volume > 0
    assert len(made.report.folds) == 0


def test_many_points_are_refitted_and_said_so() -> None:
    made = body(*(at(20.0 * i, shapes.spline(wobbly(60 + i, 30.0, i))) for i in range(6)))
    assert not made.report.exact
    assert 0 < made.report.deviation.max() <= 1e-3


def test_a_body_turned_inside_out_is_seen_to_fold() -> None:
    made = body(at(0, shapes.ellipse(40, 6), start=0.0), at(5, shapes.ellipse(40, 6), start=0.5))
    assert len(made.report.folds) > 0


@pytest.mark.parametrize(
    ("sections", "told"),
    [
        ([at(0, shapes.circle(3))], "at least 2 sections"),
        ([at(0, shapes.circle(3)), tip(5), at(9, shapes.circle(3))], "first or the last"),
        ([tip(0), tip(5)], "at least one section"),
    ],
)
def test_what_carries_no_body_is_refused(sections: list, told: str) -> None:
    with pytest.raises(BadInput, match=told):
        body(*sections)
