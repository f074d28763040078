"""Extrusions past a body, to a face that leans, and with a wall: closed forms, early changes, and what is said where there is nothing to reach."""

from __future__ import annotations

from math import asin, pi, sqrt, tan
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import circle, exactly, lofted, only_refusal, repaired, set_param
from tests.core.solids.kernel_count import counted_by_kernel
from tests.core.steps.test_blend_steps import rectangle, volume
from tests.core.steps.test_halves import chain
from tests.core.steps.test_surface_steps import and_then, drawn
from wander.core.design.apply import apply_edits
from wander.core.design.exact import exact_ways
from wander.core.design.memory import Memory
from wander.core.design.rebuild import State, rebuild
from wander.core.document.document import Document

BLOCK = lofted((0.0, rectangle(40.0, 30.0)), (50.0, rectangle(40.0, 30.0)))


def with_tool(document: Document, offset: float, shape: dict[str, Any], **params: Any) -> Document:
    """A drawing on a station of its own and an extrusion of it, `extrude-22`."""
    raw = document.model_dump(mode="json")
    raw["steps"] += [
        {"id": "station-20", "kind": "station", "name": "Tool", "params": {"plane": "top", "offset": offset}},
        {"id": "section-21", "kind": "section", "name": "Tool", "params": {"station": {"step": "station-20"}, "shape": shape}},
        {"id": "extrude-22", "kind": "extrude", "name": "Bore", "params": {"section": {"step": "section-21"}, "distance": 5.0, **params}},
    ]
    return Document.model_validate({**raw, "next": 40})


CUT = {"result": {"type": "cut", "body": {"step": "loft-5"}}}


@given(st.floats(-10.0, 45.0), st.floats(20.0, 80.0))
def test_a_bore_goes_through_whatever_the_body_has_become(offset: float, high: float) -> None:
    bored = with_tool(BLOCK, offset, circle(10.0), reach={"type": "through"}, **CUT)
    document = apply_edits(bored, [set_param("station-3", "offset", to=high)])
    built = exactly(document, "extrude-22")
    if offset >= high:
        finding = built.findings[0]
        assert finding.code == "nothing-to-reach"
        assert repaired(document, finding, "Extrude it the other").state is State.READY
        return
    left = 1200 * high - pi * 25 * (high - max(0.0, offset))
    assert_close(volume(built), left, within=1e-6 * 1200 * high)


def test_with_what_is_remembered_it_goes_as_far_as_the_body_does_now() -> None:
    memory = Memory()
    bored = with_tool(BLOCK, 0.0, circle(10.0), reach={"type": "through"}, **CUT)
    for high in (50.0, 80.0, 30.0):
        document = apply_edits(bored, [set_param("station-3", "offset", to=high)])
        built = next(each for each in rebuild(document, memory, exact_ways()) if each.step == "extrude-22")
        assert_close(volume(built), (1200 - pi * 25) * high, within=1e-6, relative=True)


def test_through_needs_a_body_and_goes_to_the_side_of_its_distance() -> None:
    alone = with_tool(BLOCK, 0.0, circle(10.0), reach={"type": "through"})
    finding = only_refusal(alone, "extrude-22")
    assert finding.code == "nothing-to-reach"
    assert repaired(alone, finding, "By its distance").state is State.READY
    down = with_tool(BLOCK, 60.0, circle(10.0), distance=-1.0, reach={"type": "through"}, **CUT)
    assert_close(volume(exactly(down, "extrude-22")), 60000 - pi * 25 * 50, within=1e-6, relative=True)


@given(st.floats(-40.0, 40.0), st.floats(-20.0, 20.0))
def test_a_post_reaches_the_plane_of_a_face_that_leans(angle: float, shift: float) -> None:
    """The face is the far end of another extrusion, cut at an angle; where the post stands off its middle it is longer or shorter."""
    raw = lofted((0.0, rectangle(40.0, 30.0))).model_dump(mode="json")
    lid = {"section": {"step": "section-2"}, "distance": 40.0, "ends": "cut", "far_across": angle}
    steps = [*raw["steps"][:2], {"id": "extrude-5", "kind": "extrude", "name": "Lid", "params": lid}]
    document = Document.model_validate({**raw, "steps": steps, "next": 10})
    post = with_tool(document, -20.0, circle(6.0), reach={"type": "face", "face": {"step": "extrude-5", "part": "extrude-5/far"}})
    post = apply_edits(post, [set_param("section-21", "at", to=[shift, 0.0])])
    built = exactly(post, "extrude-22")
    assert built.state is State.READY, built.findings
    assert_close(volume(built), pi * 9 * (60 + shift * tan(angle * pi / 180)), within=1e-6, relative=True)
    assert_close(counted_by_kernel(built.result), volume(built), within=1e-6, relative=True)
    # and from above it comes down to it
    above = apply_edits(post, [set_param("station-20", "offset", to=100.0)])
    assert_close(volume(exactly(above, "extrude-22")), pi * 9 * (60 - shift * tan(angle * pi / 180)), within=1e-6, relative=True)


ROD = lofted((0.0, circle(40.0)), (50.0, circle(40.0)), between="straight")
SIDE = {"type": "face", "face": {"step": "loft-5", "part": "loft-5/side^section-2"}}


def beside(document: Document, offset: float, shape: dict[str, Any], **params: Any) -> Document:
    """A tool on a station that stands upright, so far in front of the axis of a rod; it looks towards it, or away."""
    tool = with_tool(document, offset, shape, **params)
    return apply_edits(tool, [set_param("station-20", "plane", to="front"), set_param("section-21", "at", to=[0.0, 25.0])])


def under_round(half: float, radius: float) -> float:
    """The mean height of a cylinder over a square of that half width on its top: the integral of the root."""
    return (half * sqrt(radius**2 - half**2) + radius**2 * asin(half / radius)) / (2 * half)


@pytest.mark.parametrize("offset", [-45.0, 45.0, 0.0])
@pytest.mark.parametrize("wall", [0.0, 1.0])
def test_a_post_reaches_a_curved_face(offset: float, wall: float) -> None:
    """From either side to the nearer half of a rod, and from inside it to the half that its distance looks to."""
    post = beside(ROD, offset, rectangle(10.0, 8.0), reach=SIDE, wall=wall)
    built = exactly(post, "extrude-22")
    assert built.state is State.READY, built.findings
    mean = under_round(5.0, 20.0)
    far = abs(offset) - mean if offset else mean
    filled = 10.0 * 8.0 * far
    if wall:
        inner = under_round(4.0, 20.0)
        filled -= 8.0 * 6.0 * (abs(offset) - inner if offset else inner)
    assert_close(volume(built), filled, within=1e-6, relative=True)
    assert "extrude-22/far" in {face.name for face in built.result.faces}
    # a thicker rod is reached sooner from outside
    if offset and not wall:
        thicker = apply_edits(post, [set_param(f"section-{k}", "shape", "diameter", to=60.0) for k in (2, 4)])
        assert_close(volume(exactly(thicker, "extrude-22")), 80.0 * (45 - under_round(5.0, 30.0)), within=1e-6, relative=True)


def test_a_sheet_reaches_a_curved_face() -> None:
    sheet = beside(ROD, -45.0, chain((-5, 0), (5, 0)), reach=SIDE)
    built = exactly(sheet, "extrude-22")
    assert built.state is State.READY, built.findings
    assert_close(built.result.measures.area, 10 * (45 - under_round(5.0, 20.0)), within=1e-6, relative=True)
    wide = exactly(beside(ROD, -45.0, chain((-25, 0), (5, 0)), reach=SIDE), "extrude-22")
    assert [finding.code for finding in wide.findings] == ["face-too-small"]


def test_a_post_joined_to_the_rod_that_it_reaches() -> None:
    post = beside(ROD, -45.0, rectangle(10.0, 8.0), reach=SIDE, result={"type": "join", "body": {"step": "loft-5"}})
    built = exactly(post, "extrude-22")
    assert built.state is State.READY, built.findings
    assert_close(volume(built), pi * 400 * 50 + 80.0 * (45 - under_round(5.0, 20.0)), within=1e-6, relative=True)
    assert built.summary.pieces == 1
    without = rebuild(post, Memory())
    assert next(each for each in without if each.step == "extrude-22").state is State.WORKING, "the kernel alone can do it"


def test_faces_that_are_never_reached_are_told() -> None:
    wide = beside(ROD, -45.0, rectangle(50.0, 8.0), reach=SIDE)
    finding = only_refusal(wide, "extrude-22")
    assert finding.code == "face-too-small"
    assert repaired(wide, finding, "By its distance").state is State.READY
    rod = lofted((0.0, circle(40.0)), (50.0, circle(40.0)))
    # a drawing that stands upright goes along the flat end, never to it
    upright = with_tool(rod, 30.0, circle(6.0), reach={"type": "face", "face": {"step": "loft-5", "part": "loft-5/end:section-4"}})
    upright = apply_edits(upright, [set_param("station-20", "plane", to="front")])
    finding = only_refusal(upright, "extrude-22")
    assert finding.code == "face-stands-along"
    assert repaired(upright, finding, "By its distance").state is State.READY


@pytest.mark.parametrize(
    ("lies", "area"),
    [("inwards", 40 * 30 - 36 * 26), ("outwards", 44 * 34 - 40 * 30), ("middle", 42 * 32 - 38 * 28)],
)
def test_a_wall_along_a_closed_outline(lies: str, area: float) -> None:
    built = exactly(drawn(rectangle(40.0, 30.0), distance=25.0, wall=2.0, wall_lies=lies), "extrude-5")
    assert_close(volume(built), 25 * area, within=1e-6, relative=True)
    assert_close(counted_by_kernel(built.result), volume(built), within=1e-6, relative=True)
    tube = exactly(drawn(circle(20.0), distance=25.0, wall=1.0, wall_lies=lies), "extrude-5")
    inner, outer = {"inwards": (9.0, 10.0), "outwards": (10.0, 11.0), "middle": (9.5, 10.5)}[lies]
    assert_close(volume(tube), pi * (outer**2 - inner**2) * 25, within=1e-6, relative=True)


def test_a_wall_along_open_lines_and_one_that_is_cut_out() -> None:
    bracket = exactly(drawn(chain((0, 0), (40, 0), (40, 30)), distance=25.0, wall=2.0), "extrude-5")
    assert bracket.state is State.READY, bracket.findings
    # at the bend one side is mitred, the other one rolled round
    assert any(abs(volume(bracket) / 25 - area) < 1e-4 for area in (70 * 2 - 4, 70 * 2 + pi))
    groove = with_tool(BLOCK, 40.0, circle(20.0), distance=10.0, wall=1.0, **CUT)
    assert_close(volume(exactly(groove, "extrude-22")), 60000 - 10 * pi * (100 - 81), within=1e-6, relative=True)


def test_a_wall_that_has_no_room_is_told_with_what_has() -> None:
    tight = drawn(circle(20.0), distance=25.0, wall=12.0)
    finding = only_refusal(tight, "extrude-5")
    assert finding.code == "thin-too-thick"
    assert repaired(tight, finding, "Make the wall").state is State.READY
    assert only_refusal(drawn(circle(20.0), distance=25.0, wall=-1.0), "extrude-5").code == "no-thickness"
    fillet = and_then(drawn(circle(20.0), distance=25.0, wall=1.0), ("move", {"body": {"step": "extrude-5"}, "by": [1.0, 0.0, 0.0]}))
    assert exactly(fillet, "move-30").state is State.READY
