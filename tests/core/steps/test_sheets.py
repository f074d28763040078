"""Lofts through open sections: sheets, from the document to the kernel and the files."""

from __future__ import annotations

from math import pi
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, lofted, set_param
from tests.core.solids.kernel_count import counted_by_kernel
from tests.core.steps.test_halves import chain, half_circle, loft_of, spline
from tests.core.steps.test_loft_centre import BEND, lined, stand
from wander.core.bodies.body import mesh_of, moved
from wander.core.bodies.continuity import seams
from wander.core.bodies.references import edge_of
from wander.core.design.apply import apply_edits
from wander.core.design.bodies import export
from wander.core.design.exact import exact_ways
from wander.core.design.memory import Memory
from wander.core.design.rebuild import rebuild
from wander.core.document.document import Document
from wander.core.document.findings import Severity
from wander.core.exchange.formats import FileFormat
from wander.core.geometry.quadrature import length
from wander.core.shaping.density import Density
from wander.core.solids.measure import kernel_area
from wander.core.solids.named import shape_of
from wander.core.solids.step_file import read_sheets, read_step

TENT = chain((0, 0), (20, 15), (40, 0))
BOW = spline((0, 0), (15, 14), (40, 0))


def also(document: Document, kind: str, params: dict[str, Any]) -> Document:
    raw = document.model_dump(mode="json")
    raw["steps"].append({"id": f"{kind}-90", "kind": kind, "name": kind.title(), "params": params})
    return Document.model_validate({**raw, "next": 100})


def exactly(document: Document) -> dict[str, Any]:
    return {step.step: step for step in rebuild(document, Memory(), exact_ways())}


def test_half_circles_make_half_a_cylinder() -> None:
    found = loft_of(lofted((0.0, half_circle(20.0)), (50.0, half_circle(20.0))))
    assert found.state.value == "ready"
    assert not found.result.closed
    assert not found.summary.closed
    assert found.summary.volume == 0.0
    assert_close(found.summary.area, pi * 20 * 50, within=1e-6, relative=True)
    # the centre of half a cylinder's skin lies 2 r / pi from its axis
    assert_close(found.summary.center, [2 * 20 / pi, 0.0, 25.0], within=1e-3)
    assert all(area is None for area in found.summary.lanes.area)
    assert [one.start for one in found.summary.run] == [0.0, 0.0]


def test_it_is_told_that_it_is_a_sheet_and_closed_in_one_click() -> None:
    document = lofted((0.0, TENT), (30.0, BOW))
    [told] = [finding for finding in findings(document) if finding.code == "sheet"]
    assert told.severity is Severity.NOTE
    assert {fix.label for fix in told.fixes} == {"Make it whole with its mirror image", "Close the outlines"}
    for fix in told.fixes:
        after = apply_edits(document, fix.edits)
        assert "sheet" not in {finding.code for finding in findings(after)}
        assert loft_of(after).result.closed


def test_one_open_section_among_closed_ones_is_still_refused() -> None:
    assert "open-outline" in {finding.code for finding in findings(lofted((0.0, TENT), (30.0, circle(10.0))))}


def test_a_sheet_may_end_in_a_point() -> None:
    """Two flat triangles over a tent."""
    found = loft_of(lofted((0.0, TENT), (30.0, {"type": "point"}), between="straight"))
    corners = [np.array(p, dtype=float) for p in ((0, 0, 0), (20, 15, 0), (40, 0, 0), (0, 0, 30))]
    expected = sum(np.linalg.norm(np.cross(b - a, corners[3] - a)) / 2 for a, b in (corners[0:2], corners[1:3]))
    assert_close(found.summary.area, expected, within=1e-9, relative=True)


def test_a_section_that_is_turned_round_wrings_the_sheet_and_is_let_go_in_one_click() -> None:
    """A start of one's own takes the others along, unless they have one too."""
    document = lofted((0.0, TENT), (30.0, TENT))
    along = apply_edits(document, [set_param("loft-5", "sections", 1, "start", to=1.0)])
    assert [one.start for one in loft_of(along).summary.run] == [1.0, 1.0]
    against = apply_edits(along, [set_param("loft-5", "sections", 0, "start", to=0.0)])
    found = loft_of(against)
    assert [one.start for one in found.summary.run] == [0.0, 1.0]
    assert_close(found.summary.run[1].mark, [40.0, 0.0, 30.0], within=1e-6)
    told = [finding for finding in found.findings if finding.code == "wrung"]
    mended = apply_edits(against, told[0].fixes[0].edits)
    assert "wrung" not in {finding.code for finding in findings(mended)}


def test_the_kernel_takes_it_for_one_valid_sheet() -> None:
    for stands in (((0.0, TENT), (30.0, TENT)), ((0.0, BOW), (30.0, TENT), (70.0, BOW)), ((0.0, half_circle(20.0)), (50.0, half_circle(30.0)))):
        body = loft_of(lofted(*stands)).result
        shape = shape_of(body)
        assert len(shape.shells) == 1
        assert not shape.solids
        assert counted_by_kernel(body) == 0.0
        assert_close(kernel_area(shape.shape), body.measures.area, within=1e-4, relative=True)
        assert sorted(shape.names) == sorted(face.name for face in body.faces)


def test_it_goes_into_a_step_file_and_comes_back(tmp_path: Path) -> None:
    document = lofted((0.0, BOW), (30.0, TENT))
    path = tmp_path / "sheet.step"
    path.write_bytes(export(document, exactly(document).values(), FileFormat.STEP, Density()))
    [sheet] = read_sheets(path)
    assert not read_step(path)
    assert_close(kernel_area(sheet), loft_of(document).result.measures.area, within=1e-4, relative=True)


@pytest.mark.parametrize("kind", ["stl", "glb", "obj"])
def test_it_goes_into_a_mesh_too(kind: str) -> None:
    document = lofted((0.0, BOW), (30.0, TENT))
    assert len(export(document, exactly(document).values(), FileFormat(kind), Density())) > 200


def test_its_rim_has_edges_with_names() -> None:
    body = loft_of(lofted((0.0, TENT), (30.0, TENT))).result
    rim = [edge for edge in body.edges if edge.right == "rim"]
    assert sorted(edge.name.partition("|")[2] for edge in rim) == ["rim#end", "rim#end", "rim#first", "rim#last", "rim#start", "rim#start"]
    # one closed chain: every end is met by another
    ends = np.concatenate([edge.curve.points[[0, -1]] for edge in rim])
    assert all(np.count_nonzero(np.linalg.norm(ends - end, axis=1) < 1e-9) == 2 for end in ends)
    assert len(body.edges) == len(rim) + 1
    assert [seam.faces for seam in seams(body)] == [(body.edges[0].left, body.edges[0].right)]
    # and a rail along one follows it when an early section is redrawn
    wider = loft_of(lofted((0.0, chain((0, 0), (20, 15), (60, 0))), (30.0, TENT))).result
    last = next(edge for edge in rim if edge.name.endswith("#last"))
    assert_close(np.sort(edge_of(wider, last.name, None).curve.points[[0, -1], 0]), [40.0, 60.0], within=1e-9)


def test_mirrored_and_moved_it_stays_a_sheet() -> None:
    body = loft_of(lofted((0.0, BOW), (30.0, TENT))).result
    image = moved(body, np.diag([-1.0, 1.0, 1.0]), np.array([5.0, 0.0, 0.0]))
    assert not image.closed
    assert_close(image.measures.area, body.measures.area, within=1e-9, relative=True)
    assert_close(image.measures.center[0], 5.0 - body.measures.center[0], within=1e-9)
    both = built(also(lofted((0.0, BOW), (30.0, TENT)), "mirror", {"body": {"step": "loft-5"}, "plane": "side", "keep": True}))
    assert not both["mirror-90"].result.closed
    assert_close(both["mirror-90"].result.measures.area, body.measures.area, within=1e-9, relative=True)
    assert mesh_of(both["mirror-90"].result, 0.1).triangles.shape[0] > 4


def test_it_can_not_be_joined_and_that_is_mended() -> None:
    document = lofted((0.0, BOW), (30.0, TENT))
    raw = document.model_dump(mode="json")
    raw["steps"] += [
        {"id": "section-80", "kind": "section", "name": "Disc", "params": {"station": {"step": "station-1"}, "shape": circle(10.0)}},
        {"id": "extrude-81", "kind": "extrude", "name": "Boss", "params": {"section": {"step": "section-80"}, "distance": 20.0}},
    ]
    joined = also(
        Document.model_validate({**raw, "next": 100}), "combine", {"how": "join", "body": {"step": "extrude-81"}, "tools": [{"step": "loft-5"}]}
    )
    found = exactly(joined)
    [told] = [finding for finding in found["combine-90"].findings if finding.code == "sheet-apart"]
    mended = exactly(apply_edits(joined, told.fixes[0].edits))
    assert not any(finding.severity is Severity.ERROR for step in mended.values() for finding in step.findings)

    own = Document.model_validate(raw | {"next": 100}).model_dump(mode="json")
    own["steps"].append(own["steps"].pop(next(i for i, step in enumerate(own["steps"]) if step["id"] == "loft-5")))
    own["steps"][-1]["params"]["result"] = {"type": "cut", "body": {"step": "extrude-81"}}
    itself = Document.model_validate(own)
    [told] = [finding for finding in exactly(itself)["loft-5"].findings if finding.code == "sheet-apart"]
    assert exactly(apply_edits(itself, told.fixes[0].edits))["loft-5"].state.value == "ready"


def test_no_ring_goes_through_open_sections_and_that_is_said() -> None:
    document = lofted((0.0, TENT), (30.0, BOW), (60.0, TENT))
    ring = apply_edits(document, [set_param("loft-7", "closed", to=True)])
    told = [finding for finding in findings(ring) if finding.step == "loft-7"]
    assert [finding.severity for finding in told][:1] == [Severity.ERROR]
    assert loft_of(document).result is not None


def test_a_strip_goes_along_a_centre_line() -> None:
    """10 mm wide across the bend: as long as the line."""
    document = lined(
        [stand(1, chain((0, -5), (0, 5)), plane="top"), stand(2, chain((-5, 0), (5, 0)), plane="side", offset=80.0, at=[0.0, 80.0])], BEND
    )
    steps = built(document)
    assert not steps["loft-21"].result.closed
    assert_close(steps["loft-21"].summary.area, 10 * length(steps["rail-20"].result.curve), within=1e-5, relative=True)
