"""Skins that are closed, and skins with a side of one triangle missing or turned round."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.design.designs import circle, exactly, lofted
from tests.core.shaping.test_mass import BODIES
from wander.core.bodies.body import Body, mesh_of, of_shells
from wander.core.bodies.watertight import open_sides
from wander.core.checks.skins import check_skins
from wander.core.design.exact import exact_ways
from wander.core.design.memory import Memory
from wander.core.design.rebuild import Ways, rebuild
from wander.core.document.document import Document
from wander.core.shaping.display import display_mesh, merged


@pytest.mark.parametrize("name", BODIES)
def test_what_a_loft_makes_is_closed(name: str) -> None:
    assert not len(open_sides(display_mesh(BODIES[name].shell, 0.05)))


@pytest.mark.parametrize("sample", ["tarn", "bailer", "coaming", "plover"])
def test_every_body_of_a_design_on_the_way_is_closed(sample: str, samples: Path) -> None:
    """As it was extruded, hollowed, rounded, swept and joined; coarse and fine."""
    document = Document.model_validate_json((samples / f"{sample}.json").read_bytes())
    made = [step.result for step in rebuild(document, Memory(), exact_ways()) if isinstance(step.result, Body) and step.result.closed]
    assert made
    for body in made:
        for tolerance in (0.05, 0.4):
            assert not len(open_sides(mesh_of(body, tolerance)))


def test_a_round_extrusion_is_closed_where_its_seam_meets_its_ends() -> None:
    pin = {"section": {"step": "section-2"}, "distance": 110.0}
    raw = lofted((0.0, circle(44.0)), (50.0, circle(44.0))).model_dump(mode="json")
    raw["steps"] = [*raw["steps"][:2], {"id": "extrude-6", "kind": "extrude", "name": "Pin", "params": pin}]
    body = exactly(Document.model_validate({**raw, "next": 7}), "extrude-6", Ways()).result
    assert isinstance(body, Body)
    assert not len(open_sides(mesh_of(body, 0.05)))


def test_a_triangle_that_is_gone_or_looks_inwards_is_found_by_its_sides() -> None:
    mesh = display_mesh(BODIES["flask"].shell, 0.05)
    which = 100
    corners = mesh.positions[mesh.triangles[which]]
    middles = (corners + np.roll(corners, -1, axis=0)) / 2
    for triangles in (
        np.delete(mesh.triangles, which, axis=0),
        np.concatenate([mesh.triangles[:which], mesh.triangles[which : which + 1, ::-1], mesh.triangles[which + 1 :]]),
    ):
        gaps = open_sides(replace(mesh, triangles=triangles))
        assert_close(np.abs(gaps[:, None] - middles).max(axis=2).min(axis=0), [0.0, 0.0, 0.0], within=1e-12)
        assert_close(np.abs(gaps[:, None] - middles).max(axis=2).min(axis=1), np.zeros(len(gaps)), within=1e-12)


def test_a_skin_without_one_of_its_ends_is_told_with_places() -> None:
    whole = BODIES["prism"].shell
    gone = len(whole.faces) + len(whole.caps) - 1
    seams = tuple(seam for seam in whole.seams if gone not in (seam.first.part, seam.second.part))
    assert check_skins("loft-5", of_shells((whole,))) == []
    (finding,) = check_skins("loft-5", of_shells((replace(whole, caps=whole.caps[:-1], seams=seams),)))
    assert finding.code == "skin-open"
    rim = whole.caps[-1].frame.origin[2]
    assert_close([place[2] for place in finding.where.points], [rim] * len(finding.where.points), within=1e-6)


def test_bodies_that_touch_are_closed_both() -> None:
    box = display_mesh(BODIES["prism"].shell, 0.05)
    beside = replace(box, positions=box.positions * [-1, -1, 1] + [30.0, 20.0, 0.0])  # top edges in one line, turned about the upright
    assert not len(open_sides(merged([box, beside])))
