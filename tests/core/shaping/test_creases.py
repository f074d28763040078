"""Creases at stations: the body bends anew there, and each part is the body that its own sections make."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.placed import at, tip
from wander.core.drawing.outlines import shapes
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.law import linear
from wander.core.shaping.display import display_mesh
from wander.core.shaping.ends import EndKind, EndShape
from wander.core.shaping.laws import Laws
from wander.core.shaping.loft import Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.skin import Skin
from wander.core.solids.assemble import assemble


def made(sections: Sequence[PlacedSection], creases: Sequence[int] = (), **more) -> Lofted:
    return loft(sections, [f"section-{i}" for i in range(len(sections))], name="loft-9", creases=creases, **more)


def volume(body: Lofted) -> float:
    return mass_properties(body.shell).volume


@pytest.mark.parametrize("skin", Skin)
def test_a_can_with_a_shoulder_is_two_cylinders_and_a_cone(skin: Skin) -> None:
    sections = [at(z, shapes.circle(2 * r)) for z, r in ((0.0, 20.0), (50.0, 20.0), (70.0, 10.0), (90.0, 10.0))]
    body = made(sections, [1, 2], skin=skin)
    true = np.pi * (400 * 50 + (400 + 200 + 100) / 3 * 20 + 100 * 20)
    assert_close(volume(body), true, within=1e-6 * true)
    assert_close(assemble(body.shell).volume, true, within=1e-6 * true)
    assert [face.name for face in body.shell.faces] == ["loft-9/side^section-0", "loft-9/side^section-1", "loft-9/side^section-2"]


WAVY = [at(z, shapes.ellipse(w, d)) for z, w, d in ((0.0, 50, 30), (30.0, 44, 40), (55.0, 30, 36), (80.0, 36, 20), (120.0, 24, 22))]
CORNERED = [at(z, shapes.rectangle(w, d)) for z, w, d in ((0.0, 50, 30), (30.0, 44, 40), (55.0, 30, 36), (80.0, 36, 20), (120.0, 24, 22))]
POINTED = [*WAVY[:4], tip(120.0)]


@pytest.mark.parametrize("skin", Skin)
@pytest.mark.parametrize("sections", [WAVY, CORNERED, POINTED])
@pytest.mark.parametrize("crease", [1, 2, 3])
def test_each_part_is_the_body_of_its_own_sections(skin: Skin, sections: list[PlacedSection], crease: int) -> None:
    """Where both parts match their sections as the whole does."""
    body = made(sections, [crease], skin=skin)
    parts = [made(own, skin=skin) for own in (sections[: crease + 1], sections[crease:])]
    whole = sum(volume(part) for part in parts)
    assert_close(volume(body), whole, within=1e-6 * whole)
    assert_close(assemble(body.shell).volume, volume(body), within=1e-6 * whole)
    assert np.abs(volume(body) - volume(made(sections, skin=skin))) > 1e-4 * whole


@pytest.mark.parametrize("sections", [WAVY, CORNERED])
def test_faces_meet_at_a_crease_to_the_last_bit(sections: list[PlacedSection]) -> None:
    for laws in (None, Laws(twist=linear(0.0, 0.4))):
        body = made(sections, [2], laws=laws)
        for strip in range(len(body.shell.faces) // 2):
            lower, upper = (body.shell.faces[2 * strip + bay].surface for bay in (0, 1))
            assert np.array_equal(lower.points[:, -1], upper.points[:, 0])
        mesh = display_mesh(body.shell, 0.05)
        edges = np.sort(np.concatenate([mesh.triangles[:, [0, 1]], mesh.triangles[:, [1, 2]], mesh.triangles[:, [2, 0]]]), axis=1)
        places = np.unique(np.round(mesh.positions, 7), axis=0, return_inverse=True)[1].ravel()[edges]
        _, counts = np.unique(np.sort(places[places[:, 0] != places[:, 1]], axis=1), axis=0, return_counts=True)
        assert np.all(counts == 2)


def test_creases_at_the_ends_or_at_all_stations() -> None:
    """At the ends nothing bends anew; at all stations every bay is straight."""
    assert_close(volume(made(WAVY, [0, 4])), volume(made(WAVY)), within=1e-9)
    frusta = made([at(z, shapes.circle(2 * r)) for z, r in ((0.0, 20.0), (50.0, 12.0), (70.0, 18.0), (90.0, 5.0))], [1, 2])
    true = np.pi / 3 * sum(h * (a * a + a * b + b * b) for h, a, b in ((50, 20, 12), (20, 12, 18), (20, 18, 5)))
    assert_close(volume(frusta), true, within=1e-6 * true)


def test_ends_slack_and_rails_go_with_creases() -> None:
    square = (EndShape(EndKind.SQUARE), EndShape(EndKind.SQUARE))
    body = made(WAVY, [2], ends=square)
    parts = [made(WAVY[:3], ends=(square[0], EndShape(EndKind.FREE))), made(WAVY[2:], ends=(EndShape(EndKind.FREE), square[1]))]
    assert_close(volume(body), sum(volume(part) for part in parts), within=5e-6 * volume(body))
    circles = [at(z, shapes.circle(2 * r)) for z, r in ((0.0, 20.0), (40.0, 25.0), (80.0, 15.0))]
    rails = [open_through(np.array([(r * c, r * s, z) for r, z in ((20, 0), (24, 20), (25, 40), (22, 60), (15, 80))])) for c, s in ((1, 0), (-1, 0))]
    led = made(circles, [1], rails=rails)
    assert len(led.shell.faces) == 2
    for rail in rails:
        places = rail(np.linspace(*rail.domain, 40))
        surfaces = [face.surface.grid(np.linspace(0, 1, 1441), np.linspace(*face.surface.v.domain, 301)).reshape(-1, 3) for face in led.shell.faces]
        apart = np.min([np.sqrt(((places[:, None] - grid) ** 2).sum(axis=2)).min(axis=1) for grid in surfaces], axis=0)
        assert apart.max() < 0.15, "the grid is as coarse as that"
    assert_close(assemble(led.shell).volume, volume(led), within=1e-6 * volume(led))
