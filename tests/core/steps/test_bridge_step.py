"""Bridges between edges of bodies: known answers, seams judged by the kernel's own evaluators, early changes, and refusals."""

from __future__ import annotations

import json
from math import pi
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import circle, exactly, lofted, only_refusal, set_param
from tests.core.shaping.test_ends_onto import Judge
from tests.core.solids.kernel_count import counted_by_kernel
from tests.core.steps.test_blend_steps import rectangle, volume
from wander.core.design.apply import apply_edits
from wander.core.design.exact import exact_ways
from wander.core.design.rebuild import State, StepBuilt, Ways
from wander.core.document.document import Document
from wander.core.shaping.shell import Shell
from wander.core.solids.assemble import assemble

OVAL = {"type": "ellipse", "width": 34.0, "depth": 22.0}
Shape = dict[str, Any]
PLACES = 12


def two(low: Shape, high: Shape, *, gap: float = 40.0, between: str = "smooth", foot: Shape | None = None) -> Document:
    """A loft from 0 to 20 mm, and one that begins at a gap above it: `loft-5` and `loft-25`."""
    one, other = (
        lofted(*stands, between=between).model_dump(mode="json")
        for stands in (((0.0, foot or low), (20.0, low)), ((20.0 + gap, high), (40.0 + gap, foot or high)))
    )
    words = json.dumps(other["steps"])
    for number in range(9, 0, -1):
        for kind in ("station", "section", "loft"):
            words = words.replace(f'"{kind}-{number}"', f'"{kind}-{number + 20}"')
    steps = json.loads(words)
    for step in steps:
        step["name"] += " above"
    return Document.model_validate({**one, "steps": [*one["steps"], *steps], "next": 60})


def edges_round(document: Document, body: str, end: str) -> list[dict[str, str]]:
    made = exactly(document, body, Ways()).result
    return [{"step": body, "part": edge.name} for edge in made.edges if f"{body}/end:{end}" in (edge.left, edge.right)]


def bridged(document: Document, meets: str = "tangent", fullness: float = 1.0, **params: Any) -> Document:
    """From the top of the lower one to the foot of the upper one."""
    raw = document.model_dump(mode="json")
    ends = [edges_round(document, "loft-5", "section-4"), edges_round(document, "loft-25", "section-22")]
    first, second = ({"edges": edges, "meets": meets, "fullness": fullness} for edges in ends)
    raw["steps"].append({"id": "bridge-40", "kind": "bridge", "name": "Bridge", "params": {"first": first, "second": second, **params}})
    return Document.model_validate(raw)


def made(document: Document, ways: Ways | None = None) -> StepBuilt:
    found = exactly(document, "bridge-40", ways or Ways())
    assert found.state is State.READY, found.findings
    return found


def test_it_tells_where_its_runs_begin_and_how_it_leaves_them() -> None:
    """Between equal pipes: on both rims all round, straight up and straight down, a third of the way for one of fullness; begun a quarter later."""
    pipes = two(circle(40.0), circle(40.0))
    plain = [told.begins for told in made(bridged(pipes)).summary.bridged]  # type: ignore[union-attr]
    for begins, height, way in zip(plain, (20.0, 60.0), (1.0, -1.0), strict=True):
        ring = np.array(begins.places)
        assert_close(np.linalg.norm(ring[:, :2], axis=1), np.full(len(ring), 20.0), within=1e-6)
        assert_close(ring[:, 2], np.full(len(ring), height), within=1e-9)
        assert_close(np.linalg.norm(np.diff(ring, axis=0), axis=1), np.full(len(ring) - 1, 40 * np.sin(pi / (len(ring) - 1))), within=1e-5)
        assert_close(begins.leaves, [0.0, 0.0, way], within=1e-6)
        assert_close(begins.reach, 40 / 3, within=1e-6)
    later = [told.begins for told in made(bridged(pipes, start=0.25)).summary.bridged]  # type: ignore[union-attr]
    marks = [np.array(begins.places[0]) for begins in (plain[1], later[1])]
    assert_close(np.linalg.norm(marks[1] - marks[0]), 20 * np.sqrt(2), within=1e-5)
    assert_close(later[0].places[0], plain[0].places[0], within=1e-9)


def test_without_fullness_it_is_straight() -> None:
    cone = pi * 40 * (20**2 + 20 * 15 + 15**2) / 3
    for meets in ("position", "tangent", "curvature"):
        assert_close(volume(made(bridged(two(circle(40.0), circle(30.0)), meets, 0.0, ends="closed"))), cone, within=1e-6 * cone)
    box = two(rectangle(30.0, 20.0), rectangle(15.0, 10.0), foot=None)
    frustum = 40 * (600 + 150 + np.sqrt(600 * 150)) / 3
    found = made(bridged(box, "position", ends="closed"))
    assert_close(volume(found), frustum, within=1e-9 * frustum)
    assert len(found.result.faces) == 6


def test_between_two_ends_of_one_prism_it_is_the_prism() -> None:
    for shape, area in ((circle(40.0), 400 * pi), (rectangle(30.0, 20.0), 600.0)):
        for meets in ("tangent", "curvature"):
            found = made(bridged(two(shape, shape), meets, ends="closed"))
            assert_close(volume(found), 40 * area, within=1e-6 * 40 * area)
            assert all(end.grade == 2 for end in found.summary.bridged)  # type: ignore[union-attr]


@pytest.mark.parametrize("fullness", [0.5, 1.0, 2.0])
def test_between_cylinders_it_is_the_turned_hermite_curve(fullness: float) -> None:
    """From radius 20 straight up to radius 15, 40 mm above: r = 20 - 5 (3 v2 - 2 v3); z with derivatives f d at both ends, d the distance."""
    v = np.linspace(0.0, 1.0, 20001)
    r = 20 - 5 * (3 * v**2 - 2 * v**3)
    reach = fullness * np.hypot(40, 5)
    z = reach * (v - 3 * v**2 + 2 * v**3) + 40 * (3 * v**2 - 2 * v**3)
    expected = float(pi * np.trapezoid(r**2 * np.gradient(z, v, edge_order=2), v))
    assert_close(volume(made(bridged(two(circle(40.0), circle(30.0)), "tangent", fullness, ends="closed"))), expected, within=1e-5 * expected)


@pytest.mark.parametrize(("meets", "grade"), [("position", 0), ("tangent", 1), ("curvature", 2)])
@pytest.mark.parametrize(("low", "high"), [(circle(40.0), OVAL), (OVAL, rectangle(24.0, 18.0)), (rectangle(30.0, 20.0), circle(24.0))], ids=str)
def test_seams_are_as_asked_by_the_kernels_own_evaluators(low: Shape, high: Shape, meets: str, grade: int) -> None:
    """The neighbours belly out: they are curved across the seam."""
    document = bridged(two(low, high, foot=circle(30.0), between="smooth"), meets)
    judges = {body: Judge(_Made(made_(document, body))) for body in ("loft-5", "loft-25")}
    found = made(document)
    bridge = Judge(_Made(found))
    edges = [edge for edge in found.result.edges if edge.right == "rim" or edge.left == "rim"]
    for edge in edges:
        below = "loft-5" if edge.curve(np.array([0.5]))[0, 2] < 40 else "loft-25"
        angle, jump = _worst(bridge, judges[below], edge.curve)
        told = next(end for end in found.summary.bridged if end.end == ("first" if below == "loft-5" else "second"))  # type: ignore[union-attr]
        assert told.gap < 1e-3
        assert angle <= told.angle + 0.01
        if grade >= 1:
            assert angle < 0.05
        if grade == 2:
            assert jump < 0.02
    assert {end.grade for end in found.summary.bridged} == {grade}  # type: ignore[union-attr]


class _Made:
    def __init__(self, step: StepBuilt) -> None:
        self.shell: Shell
        (self.shell,) = step.result.skins


def made_(document: Document, step: str) -> StepBuilt:
    return exactly(document, step, Ways())


def _worst(one: Judge, other: Judge, curve: Any) -> tuple[float, float]:
    points, ways = curve.derivatives((np.arange(PLACES) + 0.5) / PLACES, 1)
    angles, jumps = [], []
    for point, way in zip(points, ways, strict=True):
        (n, k), (m, c) = (judge(point, way / np.linalg.norm(way)) for judge in (one, other))
        # a sheet may look the other way
        k *= np.sign(n @ m)
        angles.append(np.degrees(np.arccos(np.clip(abs(n @ m), -1, 1))))
        jumps.append(abs(k - c) / max(abs(k), abs(c), 1e-4))
    return max(angles), max(jumps)


@given(width=st.floats(16, 60), depth=st.floats(16, 60), gap=st.floats(5, 120), fullness=st.floats(0.1, 1.5), closed=st.booleans())
def test_it_follows_early_changes_and_is_one_valid_body(width: float, depth: float, gap: float, fullness: float, closed: bool) -> None:
    document = bridged(two(circle(40.0), rectangle(24.0, 18.0)), "tangent", fullness, ends="closed" if closed else "open")
    edits = [set_param("section-22", "shape", name, to=to) for name, to in (("width", width), ("depth", depth))]
    changed = apply_edits(document, [*edits, set_param("station-21", "offset", to=20 + gap), set_param("station-23", "offset", to=40 + gap)])
    found = made(changed, exact_ways())
    assert found.result.closed == closed
    if closed:
        assert_close(counted_by_kernel(found.result), volume(found), within=1e-6 * volume(found))
    else:
        assemble(found.result.skins[0])
    assert [end.grade for end in found.summary.bridged] == [1, 1] or all(end.angle < 0.05 for end in found.summary.bridged)  # type: ignore[union-attr]


def test_joined_to_what_it_goes_on_from() -> None:
    raw = bridged(two(circle(40.0), circle(30.0)), ends="closed").model_dump(mode="json")
    join = {"body": {"step": "loft-5"}, "tools": [{"step": "bridge-40"}, {"step": "loft-25"}]}
    raw["steps"].append({"id": "combine-41", "kind": "combine", "name": "Join", "params": join})
    document = Document.model_validate(raw)
    whole = exactly(document, "combine-41")
    alone = volume(made(document)) + pi * 20 * (400 + 225)
    assert_close(volume(whole), alone, within=1e-6 * alone)
    assert whole.summary.pieces == 1  # type: ignore[union-attr]


def test_turned_round_and_run_the_other_way() -> None:
    document = two(circle(40.0), OVAL)
    plain, turned = (made(bridged(document, ends="closed", start=start)) for start in (0.0, 0.25))
    assert volume(turned) < 0.99 * volume(plain)
    assert_close(volume(made(bridged(document, ends="closed", start=1.0))), volume(plain), within=1e-6 * volume(plain))


def test_what_keeps_it_from_being_made_is_told() -> None:
    document = bridged(two(rectangle(30.0, 20.0), circle(24.0)))
    empty = apply_edits(document, [set_param("bridge-40", "second", "edges", to=[])])
    assert only_refusal(empty, "bridge-40").code == "bridge-no-edges"
    edges = document.steps[-1].params["first"]["edges"]
    apart = apply_edits(document, [set_param("bridge-40", "first", "edges", to=[edges[0], edges[2]])])
    finding = only_refusal(apart, "bridge-40")
    assert (finding.code, len(finding.where.names)) == ("bridge-run-apart", 2)
    opened = apply_edits(document, [set_param("bridge-40", "first", "edges", to=edges[:2])])
    assert only_refusal(opened, "bridge-40").code == "bridge-one-closes"
    same = apply_edits(document, [set_param("bridge-40", "second", "edges", to=edges)])
    assert only_refusal(same, "bridge-40").code == "bridge-no-width"


def test_an_end_that_is_not_flat_can_be_left_open() -> None:
    document = bridged(two(circle(40.0), circle(30.0)))
    tilted = {"type": "turned", "station": {"step": "station-1"}, "direction": 0.0, "angle": 20.0}
    leaning = apply_edits(document, [set_param("station-3", "place", to=tilted), set_param("station-3", "offset", to=20.0)])
    assert made(apply_edits(leaning, [set_param("bridge-40", "ends", to="closed")])).result.closed
