"""Linked things: copies of sections and traces follow, and are let go without anything moving."""

from __future__ import annotations

from math import pi
from typing import Any

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, lofted, set_param
from wander.core.design.apply import apply_edits
from wander.core.design.memory import Memory
from wander.core.design.rebuild import State, rebuild
from wander.core.design.releasing import NothingToRelease, release_edits
from wander.core.document.document import Document
from wander.core.document.edits import Draw, ReleaseCopy
from wander.core.results.drawn import Drawn
from wander.core.results.summaries import SectionSummary


def with_copy(original: dict[str, Any], **params: Any) -> Document:
    """A loft of a circle and a section, and a copy of that section on a station further along."""
    raw = lofted((0, circle(40)), (60, original)).model_dump(mode="json")
    raw["steps"].insert(-1, {"id": "station-6", "kind": "station", "name": "Further", "params": {"plane": "top", "offset": 100.0}})
    copied = {"station": {"step": "station-6"}, "shape": {"type": "copied", "section": {"step": "section-4"}}, **params}
    raw["steps"].insert(-1, {"id": "section-7", "kind": "section", "name": "Copy", "params": copied})
    raw["steps"][-1]["params"]["sections"].append({"section": {"step": "section-7"}})
    return Document.model_validate({**raw, "next": 20})


def area(document: Document, step: str = "section-7") -> float:
    summary = built(document)[step].summary
    assert isinstance(summary, SectionSummary)
    return summary.area


def outline(document: Document) -> np.ndarray:
    placed = built(document)["section-7"].result.placed
    return np.asarray(placed.loop.curve(np.linspace(0, 1, 61)))


def test_a_linked_copy_follows_and_a_released_one_stays() -> None:
    document = with_copy(circle(30))
    wider = apply_edits(document, [set_param("section-4", "shape", "diameter", to=36.0)])
    assert_close(area(wider), pi * 18**2, within=1e-3)
    assert built(wider)["loft-5"].state is State.READY
    released = apply_edits(wider, [ReleaseCopy(do="release-copy", step="section-7")])
    assert built(released)["section-7"].key != built(wider)["section-7"].key
    later = apply_edits(released, [set_param("section-4", "shape", "diameter", to=20.0)])
    assert_close(area(later), pi * 18**2, within=1e-3)


@pytest.mark.parametrize("turn", [0.0, 30.0])
def test_a_copy_is_moved_and_turned_on_top_and_looks_the_same_when_released(turn: float) -> None:
    slot = {"type": "slot", "length": 30.0, "width": 12.0}
    document = apply_edits(
        with_copy(slot, at=[5.0, -3.0], turn=turn), [set_param("section-4", "at", to=[2.0, 1.0]), set_param("section-4", "turn", to=20.0)]
    )
    before = outline(document)
    after = outline(apply_edits(document, [ReleaseCopy(do="release-copy", step="section-7")]))
    assert_close(after, before, within=1e-9)


def test_a_copy_of_a_point_is_a_point_and_one_of_an_open_section_is_open() -> None:
    tip = with_copy({"type": "point"})
    assert isinstance(built(tip)["section-7"].result, Drawn)
    assert built(tip)["section-7"].result.placed.is_point
    opened = with_copy({"type": "spline", "points": [[0, 0], [9, 3]], "closed": False})
    copied = built(opened)["section-7"].result
    assert copied.placed is None
    assert_close(copied.gap, [[0, 0, 100], [9, 3, 100]], within=1e-9)
    assert "open-outline" in [f.code for f in findings(opened)]


OFFSET_OF_TRACE = {"act": "offset", "curves": ["c1"], "distance": 3.0}


def traced() -> Document:
    """A drawing on a plane through a cylinder, in which its upper rim and a line of its own stand."""
    raw = lofted((0, circle(40)), (60, circle(40)), between="straight").model_dump(mode="json")
    raw["steps"].append({"id": "station-6", "kind": "station", "name": "Over", "params": {"plane": "top", "offset": 90.0}})
    shape = {
        "type": "drawing",
        "points": {"p1": [0.0, 0.0], "p2": [10.0, 0.0], "p3": [0.0, 5.0], "p4": [10.0, 5.0]},
        "curves": [
            {"id": "c1", "type": "trace", "of": {"step": "loft-5", "part": "ring:section-4"}},
            {"id": "c2", "type": "line", "start": "p1", "end": "p2"},
            {"id": "c3", "type": "line", "start": "p3", "end": "p4"},
        ],
        "holds": [{"id": "h1", "type": "parallel", "of": ["c2", "c3"]}, {"id": "h2", "type": "horizontal", "of": ["c2"]}],
        "next": 10,
    }
    raw["steps"].append({"id": "section-7", "kind": "section", "name": "Traced", "params": {"station": {"step": "station-6"}, "shape": shape}})
    return Document.model_validate({**raw, "next": 20})


def released(document: Document, *things: str) -> Document:
    return apply_edits(document, release_edits(document, list(rebuild(document, Memory())), "section-7", things))


def test_a_released_trace_stays_where_the_edge_was() -> None:
    document = released(traced(), "c1")
    curves = next(s for s in document.steps if s.id == "section-7").params["shape"]["curves"]
    assert "trace" not in [curve["type"] for curve in curves]
    moved = apply_edits(document, [set_param("section-4", "shape", "diameter", to=70.0)])
    summary = built(moved)["section-7"].summary
    assert isinstance(summary, SectionSummary)
    assert summary.drawing is not None
    largest = max(region.area for region in summary.drawing.regions)
    assert_close(largest, pi * 400, within=0.1)


def whole_area(document: Document) -> float:
    summary = built(document)["section-7"].summary
    assert isinstance(summary, SectionSummary)
    assert summary.drawing is not None
    return sum(region.area for region in summary.drawing.regions)


@pytest.mark.parametrize(("thing", "outermost"), [(None, 33), ("c10", 30), ("c1", 23)])
def test_the_offset_of_a_trace_follows_the_body_until_it_is_let_go(thing: str | None, outermost: float) -> None:
    """The rim goes from a radius of 20 to one of 30: with its offset, without it, or not at all."""
    document = apply_edits(traced(), [Draw.model_validate({"do": "draw", "step": "section-7", "acts": [OFFSET_OF_TRACE]})])
    assert_close(whole_area(document), pi * 23**2, within=0.1)
    kept = released(document, thing) if thing else document
    assert_close(whole_area(kept), pi * 23**2, within=0.1)
    moved = apply_edits(kept, [set_param("section-4", "shape", "diameter", to=60.0)])
    assert_close(whole_area(moved), pi * outermost**2, within=0.1)


@pytest.mark.parametrize(("thing", "free"), [("c2", True), ("c1", False)])
def test_while_its_body_is_not_built_only_what_needs_it_is_not_let_go(thing: str, free: bool) -> None:
    broken = apply_edits(traced(), [set_param("section-4", "shape", "diameter", to=-1.0)])
    if free:
        assert released(broken, thing) != broken
        return
    with pytest.raises(NothingToRelease, match="settle that first"):
        released(broken, thing)


def test_letting_go_drops_the_holds_to_others_and_keeps_its_own() -> None:
    document = released(traced(), "c2")
    holds = next(s for s in document.steps if s.id == "section-7").params["shape"]["holds"]
    assert [hold["type"] for hold in holds] == ["horizontal"]


@pytest.mark.parametrize("thing", ["p9", "c3"])
def test_what_follows_nothing_can_not_be_let_go(thing: str) -> None:
    document = released(traced(), "c2")
    with pytest.raises(NothingToRelease, match="follows"):
        released(document, thing)
