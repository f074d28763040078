"""Sheets from open drawings; trimmed, split, sewn, patched, offset and made thick: closed forms, early changes, refusals with their repairs."""

from __future__ import annotations

from math import acos, atan, cos, pi, radians, sqrt, tan
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import circle, exactly, lofted, only_refusal, repaired, set_param
from tests.core.solids.kernel_count import counted_by_kernel
from tests.core.steps.test_blend_steps import rectangle, volume
from tests.core.steps.test_halves import chain, half_circle, spline
from wander.core.design.apply import apply_edits
from wander.core.design.bodies import export
from wander.core.design.exact import exact_ways
from wander.core.design.memory import Memory
from wander.core.design.rebuild import State, StepBuilt, Ways, rebuild
from wander.core.document.document import Document
from wander.core.exchange.formats import FileFormat
from wander.core.shaping.density import Density
from wander.core.solids.step_file import read_sheets, read_step

CUP = lofted((0.0, circle(40.0)), (50.0, circle(40.0)))


def and_then(document: Document, *steps: tuple[str, dict[str, Any]]) -> Document:
    """With further steps, numbered from 30 on."""
    raw = document.model_dump(mode="json")
    for number, (kind, params) in enumerate(steps, start=30):
        raw["steps"].append({"id": f"{kind}-{number}", "kind": kind, "name": f"{kind.title()} {number}", "params": params})
    return Document.model_validate({**raw, "next": 60})


def drawn(shape: dict[str, Any], kind: str = "extrude", **params: Any) -> Document:
    """A drawing on the ground and what is made of it, `extrude-5`."""
    raw = lofted((0.0, shape)).model_dump(mode="json")
    steps = [*raw["steps"][:2], {"id": f"{kind}-5", "kind": kind, "name": "Sheet", "params": {"section": {"step": "section-2"}, **params}}]
    return Document.model_validate({**raw, "steps": steps, "next": 10})


def area(built: StepBuilt) -> float:
    assert built.state is State.READY, built.findings
    return float(built.result.measures.area)


def test_an_open_drawing_is_extruded_to_a_sheet() -> None:
    tent = exactly(drawn(chain((0, 0), (20, 15), (40, 0)), distance=30.0), "extrude-5")
    assert_close(area(tent), 50 * 30, within=1e-9)
    assert not tent.result.closed
    assert [edge.name for edge in tent.result.edges if "rim" in edge.name] != []
    cut = exactly(drawn(chain((0, 0), (40, 0)), distance=30.0, ends="cut", far_across=45.0), "extrude-5")
    assert_close(area(cut), 30 * 40 + 40 * 40 / 2, within=1e-9)


def test_an_open_drawing_is_turned_to_a_sheet_or_from_axis_to_axis_to_a_body() -> None:
    half = {"point": [0.0, 0.0], "direction": 90.0}
    line = exactly(drawn(chain((10, 0), (10, 30)), "revolve", **half, angle=180.0), "revolve-5")
    assert_close(area(line), pi * 10 * 30, within=1e-6, relative=True)
    cone = exactly(drawn(chain((0, 0), (10, 0), (0, 30)), "revolve", **half), "revolve-5")
    assert cone.result.closed
    assert_close(volume(cone), pi * 100 * 30 / 3, within=1e-6, relative=True)
    ball = exactly(drawn(half_circle(20.0), "revolve", **half), "revolve-5")
    assert_close(volume(ball), 4 / 3 * pi * 20**3, within=1e-6, relative=True)
    assert_close(counted_by_kernel(ball.result), volume(ball), within=1e-6, relative=True)


@pytest.mark.parametrize("sheet_taper", [8.0, -12.0])
def test_an_open_drawing_leans_to_its_left(sheet_taper: float) -> None:
    """Two walls at a corner: the nearer they lean, the shorter they get; both stand as steep as asked."""
    raw = lofted((0.0, chain((0, 0), (20, 0), (20, 10)))).model_dump(mode="json")
    lean = {
        "id": "extrude-6",
        "kind": "extrude",
        "name": "Wall",
        "params": {"section": {"step": "section-2"}, "distance": 15.0, "taper": sheet_taper},
    }
    built = exactly(Document.model_validate({**raw, "steps": [*raw["steps"][:2], lean], "next": 9}), "extrude-6", Ways())
    assert built.state is State.READY, built.findings
    angle = radians(sheet_taper)
    in_by = 15 * tan(angle)
    assert_close(built.result.measures.area, (30 - in_by) * 15 / cos(angle), within=1e-9, relative=True)  # type: ignore[union-attr]
    assert_close(built.result.measures.high, [20.0 + max(0.0, -in_by), 10.0, 15.0], within=1e-9)  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("shape", "thickness", "inside", "outside"),
    [
        (chain((0, 0), (40, 0)), 2.0, 80.0, 80.0),
        # at the ridge one side is mitred, the other one rolled round
        (chain((0, 0), (20, 15), (40, 0)), 2.0, 100 - 4 * 0.75, 100 + 2 * 2 * atan(0.75)),
        (half_circle(20.0), 3.0, pi / 2 * (20**2 - 17**2), pi / 2 * (23**2 - 20**2)),
    ],
    ids=["flat", "ridge", "half pipe"],
)
def test_a_sheet_is_made_thick(shape: dict[str, Any], thickness: float, inside: float, outside: float) -> None:
    sides = sorted((inside, outside))
    found = []
    for way in ("inwards", "outwards"):
        document = and_then(drawn(shape, distance=30.0), ("wall", {"body": {"step": "extrude-5"}, "thickness": thickness, "way": way}))
        built = exactly(document, "wall-30")
        found.append(volume(built) / 30)
        assert built.result.closed
        told = built.summary.wall  # type: ignore[union-attr]
        assert_close([told.least, told.largest], thickness, within=0.001 * thickness)
    assert_close(sorted(found), sides, within=2e-6 * sides[1])


def test_half_and_half_lies_on_both_sides_of_a_sheet() -> None:
    document = and_then(drawn(half_circle(20.0), distance=30.0), ("wall", {"body": {"step": "extrude-5"}, "thickness": 2.0, "way": "middle"}))
    assert_close(volume(exactly(document, "wall-30")), 30 * pi / 2 * (21**2 - 19**2), within=1e-5, relative=True)


def test_a_sheet_too_tight_for_its_wall_is_told_with_what_goes() -> None:
    tight = and_then(drawn(half_circle(1.0), distance=30.0), ("wall", {"body": {"step": "extrude-5"}, "thickness": 3.0}))
    for way in ("inwards", "outwards"):
        document = apply_edits(tight, [set_param("wall-30", "way", to=way)])
        built = exactly(document, "wall-30")
        if built.state is State.FAILED:
            finding = only_refusal(document, "wall-30")
            assert finding.code == "not-thickened"
            assert repaired(document, finding, "Skip").state is State.SKIPPED
            break
    else:
        pytest.fail("a half circle of 1 mm can't be 3 mm thick to the inside")


def test_a_body_is_parted_by_a_station_a_body_and_a_rail() -> None:
    by_station = ("trim", {"body": {"step": "loft-5"}, "by": {"type": "station", "station": {"step": "station-20"}}})
    raw = CUP.model_dump(mode="json")
    raw["steps"].insert(0, {"id": "station-20", "kind": "station", "name": "Cut", "params": {"plane": "top", "offset": 20.0}})
    document = and_then(Document.model_validate({**raw, "next": 30}), by_station)
    slice_ = pi * 400
    for keep, expected in (("front", 30 * slice_), ("back", 20 * slice_), ("both", 50 * slice_)):
        built = exactly(apply_edits(document, [set_param("trim-30", "keep", to=keep)]), "trim-30")
        assert_close(volume(built), expected, within=1e-6, relative=True)
        assert built.summary.pieces == (2 if keep == "both" else 1)  # type: ignore[union-attr]
    moved = exactly(apply_edits(document, [set_param("station-20", "offset", to=35.0)]), "trim-30")
    assert_close(volume(moved), 15 * slice_, within=1e-6, relative=True)
    beside = apply_edits(document, [set_param("station-20", "offset", to=80.0)])
    assert only_refusal(beside, "trim-30").code == "trim-misses"
    flush = apply_edits(document, [set_param("station-20", "offset", to=50.0)])
    assert only_refusal(flush, "trim-30").code == "trim-misses"


def test_the_part_that_is_picked_stays_whatever_becomes_of_the_body() -> None:
    """A rod cut into three by a zigzag sheet: each part by a place on it, also when it is longer. Without a place all of them stay, which is told."""
    zigzag = chain((-40, 20), (40, 20), (40, 35), (-40, 35))
    tool = [
        ("station", {"plane": "front", "offset": -50.0}),
        ("section", {"station": {"step": "station-30"}, "shape": zigzag}),
        ("extrude", {"section": {"step": "section-31"}, "distance": 100.0}),
    ]
    rod = lofted((0.0, circle(40.0)), (50.0, circle(40.0)), between="straight")
    trim = {"body": {"step": "loft-5"}, "by": {"type": "body", "body": {"step": "extrude-32"}}, "keep": "picked"}
    for share, high in ((0.1, 20.0), (0.55, 15.0), (0.9, 15.0)):
        document = and_then(rod, *tool, ("trim", {**trim, "place": [1.0, 0.5, share]}))
        assert_close(volume(exactly(document, "trim-33")), pi * 400 * high, within=1e-6 * pi * 400 * high)
    longer = apply_edits(document, [set_param("station-3", "offset", to=60.0)])
    assert_close(volume(exactly(longer, "trim-33")), pi * 400 * 25, within=1e-6 * pi * 400 * 25)
    waiting = exactly(and_then(rod, *tool, ("trim", trim)), "trim-33")
    assert_close(volume(waiting), pi * 400 * 50, within=1e-6 * pi * 400 * 50)
    assert [finding.code for finding in waiting.findings] == ["part-not-picked"]
    assert waiting.summary.pieces == 3
    after = apply_edits(and_then(rod, *tool, ("trim", trim)), waiting.findings[0].fixes[0].edits)
    assert exactly(after, "trim-33").findings == []


def test_sides_of_a_tool_that_is_a_body_or_a_sheet() -> None:
    raw = CUP.model_dump(mode="json")
    raw["steps"] += [
        {"id": "section-8", "kind": "section", "name": "Core", "params": {"station": {"step": "station-1"}, "shape": circle(20.0)}},
        {"id": "extrude-9", "kind": "extrude", "name": "Core", "params": {"section": {"step": "section-8"}, "distance": 60.0, "other": 10.0}},
        {
            "id": "section-10",
            "kind": "section",
            "name": "Line",
            "params": {"station": {"step": "station-1"}, "shape": chain((-40, 5), (0, 10), (40, 5))},
        },
        {"id": "extrude-11", "kind": "extrude", "name": "Blade", "params": {"section": {"step": "section-10"}, "distance": 60.0, "other": 10.0}},
    ]
    document = Document.model_validate({**raw, "next": 30})
    core = pi * 100 * 50
    whole = pi * 400 * 50
    for keep, expected in (("front", whole - core), ("back", core)):
        step = ("trim", {"body": {"step": "loft-5"}, "by": {"type": "body", "body": {"step": "extrude-9"}}, "keep": keep})
        assert_close(volume(exactly(and_then(document, step), "trim-30")), expected, within=1e-6, relative=True)
    parts = [
        volume(
            exactly(
                and_then(document, ("trim", {"body": {"step": "loft-5"}, "by": {"type": "body", "body": {"step": "extrude-11"}}, "keep": k})),
                "trim-30",
            )
        )
        for k in ("front", "back")
    ]
    assert_close(sum(parts), whole, within=1e-6, relative=True)
    # the blade runs above the middle: what lies above it is the smaller part, by the segment that a line at 10 mm cuts and more
    segment = 50 * (400 * acos(0.5) - 10 * sqrt(300))
    assert segment < min(parts) < whole / 2


def test_two_sheets_trimmed_against_each_other_and_sewn() -> None:
    """Two planes that cross at a right angle: trimmed they make an L, sewn one sheet."""
    raw = lofted((0.0, chain((-20, 0), (20, 0)))).model_dump(mode="json")
    steps = raw["steps"][:2]
    steps += [
        {"id": "extrude-5", "kind": "extrude", "name": "First", "params": {"section": {"step": "section-2"}, "distance": 30.0}},
        {"id": "section-6", "kind": "section", "name": "Other", "params": {"station": {"step": "station-1"}, "shape": chain((5, -10), (5, 10))}},
        {"id": "extrude-7", "kind": "extrude", "name": "Second", "params": {"section": {"step": "section-6"}, "distance": 30.0}},
    ]
    document = and_then(
        Document.model_validate({**raw, "steps": steps, "next": 30}),
        ("trim", {"body": {"step": "extrude-5"}, "by": {"type": "body", "body": {"step": "extrude-7"}}}),
        ("trim", {"body": {"step": "extrude-7"}, "by": {"type": "body", "body": {"step": "trim-30"}}}),
        ("sew", {"body": {"step": "trim-30"}, "others": [{"step": "trim-31"}]}),
    )
    first = area(exactly(document, "trim-30"))
    assert min(abs(first - 25 * 30), abs(first - 15 * 30)) < 1e-6
    second = area(exactly(document, "trim-31"))
    # the line at y = 0 halves it
    assert_close(second, 10 * 30, within=1e-9)
    sewn = exactly(document, "sew-32")
    assert_close(area(sewn), first + second, within=1e-9)
    assert not sewn.findings
    assert len(sewn.result.edges) == 7
    assert not sewn.result.exact[0].mesh.closed
    (seam,) = [edge.name for edge in sewn.result.edges if "rim" not in edge.name]
    lost = 30 * (2 - pi / 2)  # for each mm of the radius
    for along, mean in (([], 3.0), ([{"at": 0.0, "radius": 1.0}, {"at": 1.0, "radius": 4.0}], 2.5)):
        params = {"sets": [{"edges": [{"step": "sew-32", "part": seam}], "radius": 3.0, "along": along}], "body": {"step": "sew-32"}}
        raw = document.model_dump(mode="json")
        raw["steps"].append({"id": "fillet-40", "kind": "fillet", "name": "Soft", "params": params})
        soft = exactly(Document.model_validate(raw), "fillet-40")
        assert_close(area(soft), first + second - lost * mean, within=1e-2 if not along else 0.2)


def test_sewn_sheets_that_close_become_a_body() -> None:
    """The side of a cup copied off, both openings patched flat."""
    document = and_then(
        CUP,
        ("offset", {"body": {"step": "loft-5"}, "faces": [{"step": "loft-5", "part": "loft-5/side"}], "distance": 0.0}),
        ("patch", {"edges": [{"step": "offset-30", "part": "loft-5/side|rim#start"}]}),
        ("patch", {"edges": [{"step": "offset-30", "part": "loft-5/side|rim#end"}]}),
        ("sew", {"body": {"step": "offset-30"}, "others": [{"step": "patch-31"}, {"step": "patch-32"}]}),
    )
    built = {item.step: item for item in rebuild(document, Memory(), exact_ways())}
    assert_close(area(built["offset-30"]), pi * 40 * 50, within=1e-6, relative=True)
    for patch in ("patch-31", "patch-32"):
        assert_close(area(built[patch]), pi * 400, within=1e-6, relative=True)
    sewn = built["sew-33"]
    assert sewn.result.closed
    assert_close(volume(sewn), pi * 400 * 50, within=1e-6, relative=True)
    assert sewn.changes == ("offset-30", "patch-31", "patch-32")
    wider = apply_edits(document, [set_param(f"section-{n}", "shape", "diameter", to=30.0) for n in (2, 4)])
    assert_close(volume(exactly(wider, "sew-33")), pi * 225 * 50, within=1e-6, relative=True)


def test_a_gap_is_told_and_sewn_when_asked(tmp_path: Path) -> None:
    raw = lofted((0.0, chain((0, 0), (20, 0))), (0.0, chain((20.05, 0), (40, 5)))).model_dump(mode="json")
    steps = [step for step in raw["steps"] if step["kind"] != "loft"]
    for number, section in ((5, 2), (6, 4)):
        params = {"section": {"step": f"section-{section}"}, "distance": 30.0}
        steps.append({"id": f"extrude-{number}", "kind": "extrude", "name": f"Strip {number}", "params": params})
    base = Document.model_validate({**raw, "steps": steps, "next": 30})
    document = and_then(base, ("sew", {"body": {"step": "extrude-5"}, "others": [{"step": "extrude-6"}]}))
    found = exactly(document, "sew-30")
    assert {finding.code for finding in found.findings} == {"sewn-gap", "sewn-in-pieces"}
    gap = next(finding for finding in found.findings if finding.code == "sewn-gap")
    assert "0.05 mm" in gap.title
    mended = repaired(document, gap, "Sew within")
    assert not mended.findings
    assert mended.summary.pieces == 1  # type: ignore[union-attr]
    data = export(document, rebuild(document, Memory(), exact_ways()), FileFormat.STEP, Density(0.05))
    (tmp_path / "sheet.step").write_bytes(data)
    assert len(read_sheets(tmp_path / "sheet.step")) == 2
    assert not read_step(tmp_path / "sheet.step")


@settings(max_examples=5)
@given(tilt=st.floats(5, 25), bulge=st.floats(41, 60))
def test_a_slanted_opening_is_patched_in_the_tangent_planes_of_its_neighbour(tilt: float, bulge: float) -> None:
    """A loft cut askew: the opening is flat, and yet the patch leaves its side as it runs."""
    raw = lofted((0.0, circle(40.0)), (30.0, circle(bulge)), (60.0, circle(40.0))).model_dump(mode="json")
    place = {"type": "turned", "station": {"step": "station-20"}, "direction": 0.0, "angle": tilt}
    raw["steps"][:0] = [
        {"id": "station-20", "kind": "station", "name": "Low", "params": {"plane": "top", "offset": 35.0}},
        {"id": "station-21", "kind": "station", "name": "Cut", "params": {"plane": "top", "place": place}},
    ]
    document = and_then(
        Document.model_validate({**raw, "next": 30}),
        ("offset", {"body": {"step": "loft-7"}, "faces": [{"step": "loft-7", "part": "loft-7/side"}], "distance": 0.0}),
        ("trim", {"body": {"step": "offset-30"}, "by": {"type": "station", "station": {"step": "station-21"}}, "keep": "back"}),
    )
    cut = exactly(document, "trim-31")
    assert cut.state is State.READY, cut.findings
    top = max((edge for edge in cut.result.edges if "rim" in edge.name), key=lambda edge: float(edge.curve.points[:, 2].mean()))
    raw = document.model_dump(mode="json")
    edges = [{"step": "trim-31", "part": top.name}]
    raw["steps"].append({"id": "patch-32", "kind": "patch", "name": "Patch", "params": {"edges": edges, "meets": "tangent"}})
    found = exactly(Document.model_validate({**raw, "next": 60}), "patch-32")
    assert found.state is State.READY, found.findings
    (told,) = found.summary.bridged  # type: ignore[union-attr]
    assert told.gap < 1e-3
    assert (told.angle < 0.05) == (not found.findings)


def test_offsets_of_a_sphere_a_cylinder_and_a_cone() -> None:
    half = {"point": [0.0, 0.0], "direction": 90.0}
    ball = and_then(drawn(half_circle(20.0), "revolve", **half), ("offset", {"body": {"step": "revolve-5"}, "distance": 3.0}))
    shell = exactly(ball, "offset-30", Ways())
    assert_close(area(shell), 4 * pi * 23**2, within=1e-6, relative=True)
    assert shell.result.closed
    assert_close(volume(shell), 4 / 3 * pi * 23**3, within=1e-6, relative=True)
    ring = and_then(drawn(circle(8.0), "revolve", point=[20.0, 0.0], direction=90.0), ("offset", {"body": {"step": "revolve-5"}, "distance": -1.5}))
    assert_close(area(exactly(ring, "offset-30", Ways())), 4 * pi**2 * 20 * 2.5, within=1e-6, relative=True)
    deep = only_refusal(apply_edits(ring, [set_param("offset-30", "distance", to=-4.5)]), "offset-30")
    assert deep.code == "offset-too-far"
    assert [fix.label for fix in deep.fixes] == ["Make it -3.8 mm"]
    side = [{"step": "loft-5", "part": "loft-5/side"}]
    for distance in (3.0, -3.0):
        pipe = and_then(CUP, ("offset", {"body": {"step": "loft-5"}, "faces": side, "distance": distance}))
        assert_close(area(exactly(pipe, "offset-30")), 2 * pi * (20 + distance) * 50, within=1e-6, relative=True)
    cone = lofted((0.0, circle(40.0)), (30.0, circle(20.0)), between="straight")
    slant, lean = sqrt(30**2 + 10**2), atan(1 / 3)
    name = next(face.name for face in exactly(cone, "loft-5", Ways()).result.faces if face.frame is None)
    moved = and_then(cone, ("offset", {"body": {"step": "loft-5"}, "faces": [{"step": "loft-5", "part": name}], "distance": 2.0}))
    wider = 2 * np.cos(lean)
    assert_close(area(exactly(moved, "offset-30")), pi * slant * (20 + 10 + 2 * wider), within=1e-5, relative=True)


def test_what_is_refused_says_what_would_help() -> None:
    both = and_then(CUP, ("sew", {"body": {"step": "loft-5"}, "others": [{"step": "loft-5"}]}))
    assert only_refusal(both, "sew-30").code == "same-body"
    sheet = drawn(spline((0, 0), (15, 14), (40, 0)), distance=30.0)
    raw = sheet.model_dump(mode="json")
    raw["steps"] += [{"id": "section-6", "kind": "section", "name": "Disc", "params": {"station": {"step": "station-1"}, "shape": circle(10.0)}}]
    raw["steps"] += [{"id": "extrude-7", "kind": "extrude", "name": "Disc", "params": {"section": {"step": "section-6"}, "distance": 5.0}}]
    two = Document.model_validate({**raw, "next": 30})
    closed = and_then(two, ("sew", {"body": {"step": "extrude-5"}, "others": [{"step": "extrude-7"}]}))
    assert only_refusal(closed, "sew-30").code == "sewn-body-closed"
    nothing = and_then(two, ("sew", {"body": {"step": "extrude-5"}, "others": [{"step": "extrude-7"}], "within": 0.0}))
    assert only_refusal(nothing, "sew-30").code == "sewn-within-nothing"
    empty = and_then(two, ("patch", {"edges": []}))
    assert only_refusal(empty, "patch-30").code == "patch-no-edges"
    gap = and_then(
        two,
        ("patch", {"edges": [{"step": "extrude-5", "part": "extrude-5/2.c1|rim#start"}, {"step": "extrude-5", "part": "extrude-5/2.c1|rim#end"}]}),
    )
    assert only_refusal(gap, "patch-30").code == "patch-loop-open"
    far = and_then(two, ("offset", {"body": {"step": "extrude-7"}, "distance": -400.0}))
    refusal = only_refusal(far, "offset-30")
    assert refusal.code == "not-offset"
    assert [fix.label for fix in refusal.fixes] == ["Make it -200 mm", "Skip Offset 30"]


def test_of_a_sheet_only_its_outline_is_left_while_the_kernel_is_away() -> None:
    document = and_then(drawn(chain((0, 0), (40, 0)), distance=30.0), ("wall", {"body": {"step": "extrude-5"}, "thickness": 2.0}))
    assert exactly(document, "wall-30", Ways()).state is not State.FAILED


def test_a_box_is_patched_from_three_sides() -> None:
    box = lofted((0.0, rectangle(30.0, 20.0)), (40.0, rectangle(30.0, 20.0)))
    document = and_then(
        box,
        (
            "offset",
            {
                "body": {"step": "loft-5"},
                "faces": [
                    {"step": "loft-5", "part": f"loft-5/{n}"} for n in ("2.left+4.left", "2.top+4.top", "2.right+4.right", "2.bottom+4.bottom")
                ],
                "distance": 0.0,
            },
        ),
    )
    sheet = exactly(document, "offset-30")
    assert_close(area(sheet), 100 * 40, within=1e-6, relative=True)
    rims = [edge.name for edge in sheet.result.edges if "rim" in edge.name]
    assert len(rims) == 8
    whole = and_then(document, *(("patch", {"edges": [{"step": "offset-30", "part": rims[0]}]}),))
    raw = whole.model_dump(mode="json")
    raw["steps"][-1]["id"] = "patch-40"
    patch = exactly(Document.model_validate(raw), "patch-40")
    assert_close(area(patch), 600.0, within=1e-6, relative=True)
