"""Curvature combs against closed forms."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np

from tests.closeness import assert_close
from tests.core.placed import at, tip
from wander.core.bodies.body import of_shells
from wander.core.bodies.combs import FLOWS, combs
from wander.core.design.combing import combs_told
from wander.core.design.memory import Memory
from wander.core.design.reading import read_document
from wander.core.design.rebuild import rebuild
from wander.core.drawing.outlines import shapes
from wander.core.shaping.loft import loft


def test_a_cone_bends_round_and_not_along() -> None:
    body = of_shells((loft([at(0.0, shapes.circle(40.0)), at(50.0, shapes.circle(20.0))], ["a", "b"], name="loft-1").shell,))
    found = combs(body)
    assert len(found) == 2 + FLOWS
    for comb, radius in zip(found[:2], (20.0, 10.0), strict=True):
        assert_close(np.linalg.norm(comb.bends, axis=1), 1 / radius, within=1e-5)
        # towards the axis
        inwards = -comb.points * [1, 1, 0] / radius**2
        assert_close(comb.bends, inwards, within=1e-5)
    for comb in found[2:]:
        assert_close(comb.bends, 0.0, within=1e-9)


def test_a_barrel_bends_along_as_its_profile_does() -> None:
    """Through sections of a ball the flow lines have its curvature, about."""
    heights = np.linspace(-30, 30, 13)
    sections = [at(float(z), shapes.circle(2 * float(np.sqrt(2500 - z * z)))) for z in heights]
    body = of_shells((loft(sections, [f"s{i}" for i in range(13)], name="loft-1").shell,))
    along = combs(body)[len(sections) :]
    for comb in along:
        inside = np.abs(comb.points[:, 2]) < 15
        assert_close(np.linalg.norm(comb.bends[inside], axis=1), 1 / 50, within=0.1 / 50)


def test_a_tip_has_no_comb_of_its_own_and_breaks_none() -> None:
    body = of_shells((loft([at(0.0, shapes.circle(40.0)), tip(50.0)], ["a", "b"], name="loft-1").shell,))
    found = combs(body)
    assert all(np.isfinite(comb.bends).all() for comb in found)
    assert len(found) == 1 + FLOWS


def test_the_rails_of_a_body_have_combs_too(samples: Path) -> None:
    """As circles through three places close together have it."""
    document = read_document((samples / "bailer.json").read_bytes())
    results = {built.step: built.result for built in rebuild(document, Memory())}
    told = json.loads(combs_told(document, "loft-9", results) or b"")
    own = combs(results["loft-9"])
    rails = [results[f"rail-{number}"].curve for number in (10, 11, 12, 13)]
    assert len(told) == len(own) + len(rails)
    for comb, rail in zip(told[len(own) :], rails, strict=True):
        points, bends = np.array(comb["points"]), np.array(comb["bends"])
        assert_close(points[[0, -1]], rail(np.array(rail.domain)), within=1e-4)
        t = np.linspace(*rail.domain, len(points))[5:-5]
        before, here, after = rail(t - 1e-4), rail(t), rail(t + 1e-4)
        area = np.linalg.norm(np.cross(here - before, after - before), axis=1)
        sides = [np.linalg.norm(a - b, axis=1) for a, b in ((here, before), (after, here), (after, before))]
        round_three = 2 * area / (sides[0] * sides[1] * sides[2])
        assert_close(np.linalg.norm(bends[5:-5], axis=1), round_three, within=1e-3)
        assert round_three.max() > 1e-3
