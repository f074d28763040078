"""Ends of a loft that go on from another body: what the document says, what follows, and what is told when it can't be."""

from __future__ import annotations

from typing import Any

import pytest

from tests.core.design.designs import built, circle, lofted, set_param
from wander.core.bodies.continuity import between
from wander.core.design.apply import apply_edits
from wander.core.document.document import Document
from wander.core.document.edits import AddStep


def two(shape: str, *, onto: bool = True, upper: float = 40.0) -> tuple[Document, str, str]:
    """A body and a second one that stands on its end, by a section of its own there."""
    document = lofted((0.0, circle(30.0)), (30.0, circle(46.0)), (60.0, circle(40.0)))
    below = document.steps[-1].id
    station = next(step.id for step in document.steps if step.kind == "station" and step.params["offset"] == 60.0)
    more: list[Any] = [
        AddStep(do="add-step", kind="section", name="Foot", params={"station": {"step": station}, "shape": circle(upper)}),
        AddStep(do="add-step", kind="station", name="Above", params={"plane": "top", "offset": 110.0}),
    ]
    document = apply_edits(document, more)
    foot, above = document.steps[-2].id, document.steps[-1].id
    document = apply_edits(
        document, [AddStep(do="add-step", kind="section", name="Head", params={"station": {"step": above}, "shape": circle(20.0)})]
    )
    start: dict[str, Any] = {"shape": shape, **({"onto": {"step": below}} if onto else {})}
    sections = [{"section": {"step": foot}}, {"section": {"step": document.steps[-1].id}}]
    params = {"sections": sections, "skin": "fair", "start": start}
    return apply_edits(document, [AddStep(do="add-step", kind="loft", name="Neck", params=params)]), below, foot


@pytest.mark.parametrize(("shape", "grade"), [("free", 0), ("tangent", 1), ("curvature", 2)])
def test_both_meet_as_smoothly_as_was_asked(shape: str, grade: int) -> None:
    document, below, _ = two(shape)
    neck = document.steps[-1].id
    found = built(document)
    assert not [finding for finding in found[neck].findings if finding.severity.value == "error"]
    lower, upper = found[below].result, found[neck].result
    side = next(face for face in lower.faces if face.name.endswith("/side"))
    other = next(face for face in upper.faces if face.name.endswith("/side"))
    ring = upper.skins[0].rings[0].curves[0]
    seam = between(side, other, ring, size=upper.size)
    assert seam.grade == grade
    again = built(apply_edits(document, [_wider(document)]))
    side = next(face for face in again[below].result.faces if face.name.endswith("/side"))
    other = next(face for face in again[neck].result.faces if face.name.endswith("/side"))
    assert between(side, other, again[neck].result.skins[0].rings[0].curves[0], size=upper.size).grade == grade, "it follows the body below"


def _wider(document: Document) -> Any:
    middle = next(step.id for step in document.steps if step.kind == "section" and step.params["shape"].get("diameter") == 46.0)
    return set_param(middle, "shape", "diameter", to=54.0)


def test_what_can_not_go_on_is_told_with_a_way_out() -> None:
    curved = two("curvature")[0]
    batten = apply_edits(curved, [set_param(curved.steps[-1].id, "skin", to="batten")])
    wrong = ((two("tangent", onto=False)[0], "end-onto-nothing"), (two("tangent", upper=41.0)[0], "end-off-body"), (batten, "end-needs-fair"))
    for document, code in wrong:
        neck = document.steps[-1].id
        told = built(document)[neck].findings
        assert [finding.code for finding in told] == [code]
        mended = apply_edits(document, told[0].fixes[0].edits)
        assert not [finding for finding in built(mended)[neck].findings if finding.severity.value == "error"]


@pytest.mark.parametrize("shape", ["tangent", "curvature"])
def test_an_end_that_is_not_full_at_all_is_still_a_body(shape: str) -> None:
    document, _, _ = two(shape)
    neck = document.steps[-1].id
    flat = built(apply_edits(document, [set_param(neck, "start", "fullness", to=0)]))[neck].summary
    assert 0 < flat.volume < built(document)[neck].summary.volume * 2
