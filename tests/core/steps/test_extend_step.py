"""Sheets that go on beyond their rim: planes, cylinders, cones and spheres go on as such, corners are filled, refusals say what would go."""

from __future__ import annotations

from math import cos, pi, radians, sin, sqrt
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import circle, exactly, lofted, only_refusal, repaired, set_param
from tests.core.steps.test_halves import chain, half_circle
from tests.core.steps.test_surface_steps import and_then, area, drawn
from wander.core.bodies.body import mesh_of
from wander.core.bodies.continuity import seams
from wander.core.design.apply import apply_edits
from wander.core.design.rebuild import State
from wander.core.document.document import Document

FLAT = drawn(chain((0, 0), (40, 0)), distance=30.0)


def extended(document: Document, distance: float, *edges: str, way: str = "curving", body: str = "extrude-5") -> Document:
    refs = [{"step": body, "part": name} for name in edges]
    return and_then(document, ("extend", {"body": {"step": body}, "edges": refs, "whole": not refs, "distance": distance, "way": way}))


def rims(document: Document, step: str = "extrude-5") -> list[tuple[str, np.ndarray]]:
    """Edges of the rim, each with the middle of it."""
    return [(e.name, e.curve.sampled(8)[1].mean(axis=0)) for e in exactly(document, step).result.edges if "rim" in e.name]


def highest(document: Document, step: str = "extrude-5", axis: int = 2) -> str:
    return max(rims(document, step), key=lambda rim: rim[1][axis])[0]


@given(distance=st.floats(0.5, 60.0), way=st.sampled_from(["curving", "straight"]))
def test_a_rectangle_at_one_side_and_all_round(distance: float, way: str) -> None:
    """All round its corners are filled: it stays a rectangle."""
    one = exactly(extended(FLAT, distance, highest(FLAT), way=way), "extend-30")
    assert_close(area(one), 40 * (30 + distance), within=1e-6, relative=True)
    whole = exactly(extended(FLAT, distance, way=way), "extend-30")
    assert_close(area(whole), (40 + 2 * distance) * (30 + 2 * distance), within=1e-6, relative=True)
    assert_close(whole.result.measures.low, [-distance, 0, -distance], within=1e-6)


def test_half_a_pipe_goes_on_as_a_pipe_and_straight_in_its_tangent_planes() -> None:
    half = drawn(half_circle(20.0), distance=30.0)
    side = min(rims(half), key=lambda rim: rim[1][1])[0]
    round_ = exactly(extended(half, 20.0, side), "extend-30")
    assert_close(area(round_), (20 * pi + 20) * 30, within=1e-6, relative=True)
    assert_close(np.linalg.norm(mesh_of(round_.result, 0.01).positions[:, :2], axis=1), 20.0, within=1e-6)
    straight = exactly(extended(half, 20.0, side, way="straight"), "extend-30")
    assert_close(area(straight), (20 * pi + 20) * 30, within=1e-6, relative=True)
    ends = exactly(extended(half, 12.0, highest(half)), "extend-30")
    assert_close(area(ends), 20 * pi * 42, within=1e-6, relative=True)


def test_a_cone_goes_on_as_a_cone() -> None:
    raw = lofted((0.0, circle(60.0)), (40.0, circle(30.0)), between="straight")
    sheet = and_then(raw, ("offset", {"body": {"step": "loft-5"}, "faces": [{"step": "loft-5", "part": "loft-5/side^section-2"}], "distance": 0.0}))
    sheet = Document.model_validate({**sheet.model_dump(mode="json"), "next": 31})
    top = highest(sheet, "offset-30")
    slant = sqrt(40**2 + 15**2)
    further = 16.0
    narrow = 15.0 - 15.0 * further / slant
    document = and_then(sheet, ("extend", {"body": {"step": "offset-30"}, "edges": [{"step": "offset-30", "part": top}], "distance": further}))
    steps = [*document.steps[:-1], document.steps[-1].model_copy(update={"id": "extend-40"})]
    found = exactly(document.model_copy(update={"steps": steps}), "extend-40")
    assert_close(area(found), pi * (30 + narrow) * (slant + further), within=1e-6, relative=True)


@pytest.mark.parametrize("distance", [3.0, 25.0])
def test_a_bowl_goes_on_as_the_sphere_that_it_is_part_of(distance: float) -> None:
    """A quarter of a circle less its last third, turned: by the area of a zone of the sphere, and every place at its radius."""
    radius = 20.0
    raw = drawn(_arc(radius, 60.0), kind="revolve", point=[0.0, 0.0])
    rim = rims(raw, "revolve-5")
    assert len(rim) == 1
    found = exactly(extended(raw, distance, body="revolve-5"), "extend-30")
    up = radians(60.0) + distance / radius
    assert_close(area(found), 2 * pi * radius**2 * (1 - cos(up)), within=1e-6, relative=True)
    places = mesh_of(found.result, 0.01).positions
    assert np.abs(np.linalg.norm(places, axis=1) - radius).max() < 1e-5
    # and nothing of a bend is left where it goes on
    assert max(seam.angle for seam in seams(found.result)) < 1e-3


def _arc(radius: float, degrees: float) -> dict[str, Any]:
    """From the axis on through so many degrees, about the origin."""
    points = {"p1": [0.0, 0.0], "p2": [0.0, -radius], "p3": [radius * sin(radians(degrees)), -radius * cos(radians(degrees))]}
    return {"type": "drawing", "points": points, "curves": [{"id": "c1", "type": "arc", "center": "p1", "start": "p2", "end": "p3"}], "next": 20}


def test_an_early_change_and_what_is_refused() -> None:
    top = highest(FLAT)
    document = extended(FLAT, 10.0, top)
    wider = apply_edits(document, [set_param("extrude-5", "distance", to=50.0)])
    assert_close(area(exactly(wider, "extend-30")), 40 * 60, within=1e-9, relative=True)
    assert only_refusal(extended(FLAT, 0.0), "extend-30").code == "extend-by-nothing"
    tent = drawn(chain((0, 0), (20, 15), (40, 0)), distance=30.0)
    ridge = next(edge.name for edge in exactly(tent, "extrude-5").result.edges if "rim" not in edge.name)
    inside = extended(tent, 5.0, ridge)
    finding = only_refusal(inside, "extend-30")
    assert finding.code == "extend-inside"
    assert repaired(inside, finding, "Extend the whole rim").state is State.READY
    half = drawn(half_circle(10.0), distance=30.0)
    side = min(rims(half), key=lambda rim: rim[1][1])[0]
    far = extended(half, 70.0, side)
    finding = only_refusal(far, "extend-30")
    assert finding.code == "extend-comes-round"
    assert repaired(far, finding, "Make it").state is State.READY
    assert repaired(far, finding, "Let it go on straight").state is State.READY
    waiting = and_then(FLAT, ("extend", {"body": {"step": "extrude-5"}}))
    finding = only_refusal(waiting, "extend-30")
    assert finding.code == "nothing-picked"
    assert_close(area(repaired(waiting, finding, "Extend the whole rim")), 60 * 50, within=1e-6, relative=True)
    solid = lofted((0.0, circle(60.0)), (40.0, circle(30.0)))
    assert only_refusal(and_then(solid, ("extend", {"body": {"step": "loft-5"}})), "extend-30").code == "extend-closed"


@pytest.mark.parametrize(("distance", "goes"), [(3.0, True), (5.0, False), (9.0, False)])
def test_a_hollow_rim_that_would_fold_is_told(distance: float, goes: bool) -> None:
    """A flat ring, its hole 10 mm wide: both rims go on until there is no hole any more."""
    ring = drawn(chain((5, 0), (20, 0)), kind="revolve", point=[0.0, 0.0])
    document = extended(ring, distance, body="revolve-5")
    if goes:
        assert_close(area(exactly(document, "extend-30")), pi * ((20 + distance) ** 2 - (5 - distance) ** 2), within=1e-6, relative=True)
    else:
        finding = only_refusal(document, "extend-30")
        assert finding.code == "extend-folds"
        assert max(abs(value) for value in finding.where.points[0]) < 5.0
