"""Findings about bodies: each made to appear, and gone when what it says would help was done.

A preview refuses nothing: what can't be put together is told by the exact build, which has the last word.
"""

from __future__ import annotations

from typing import Any

import pytest

from tests.closeness import assert_close
from tests.core.design.designs import set_param
from wander.core.design.apply import apply_edits
from wander.core.design.exact import exact_ways
from wander.core.design.memory import Memory
from wander.core.design.rebuild import State, Ways, rebuild
from wander.core.document.document import Document
from wander.core.document.edits import Edit
from wander.core.document.findings import Finding, Severity

BOTH = pytest.mark.parametrize("ways", [Ways(), exact_ways()], ids=["roughly", "exactly"])


def blocks(*more: tuple[str, dict[str, Any]], tool: dict[str, Any] | None = None, at: float = 0.0) -> Document:
    """A block of 40 × 40 × 20 mm (extrude-3), and a bar of 10 × 10 × 30 mm through its middle (extrude-6), moved aside by `at`."""
    steps: list[dict[str, Any]] = []

    def add(kind: str, params: dict[str, Any]) -> None:
        steps.append({"id": f"{kind}-{len(steps) + 1}", "kind": kind, "name": f"{kind.title()} {len(steps) + 1}", "params": params})

    add("station", {"plane": "top", "offset": 0.0})
    add("section", {"station": {"step": "station-1"}, "shape": {"type": "rectangle", "width": 40.0, "depth": 40.0}})
    add("extrude", {"section": {"step": "section-2"}, "distance": 20.0})
    add("station", {"plane": "top", "offset": -5.0})
    add("section", {"station": {"step": "station-4"}, "at": [at, 0.0], "shape": {"type": "rectangle", "width": 10.0, "depth": 10.0}})
    add("extrude", {"section": {"step": "section-5"}, "distance": 30.0, **(tool or {})})
    for kind, params in more:
        add(kind, params)
    return Document.model_validate({"format": "wander-design/1", "name": "Blocks", "steps": steps, "next": len(steps) + 1})


def told(document: Document, ways: Ways | None = None) -> list[Finding]:
    return [finding for step in rebuild(document, Memory(), ways or Ways()) for finding in step.findings]


def only(document: Document, code: str, severity: Severity, ways: Ways | None = None) -> Finding:
    found = told(document, ways)
    assert [finding.code for finding in found] == [code], [finding.title for finding in found]
    assert found[0].severity is severity
    return found[0]


def settled(document: Document, *edits: Edit, ways: Ways | None = None) -> None:
    after = apply_edits(document, edits)
    assert told(after, ways) == []
    assert all(step.state is not State.FAILED for step in rebuild(after, Memory(), ways or Ways()))


def to(how: str) -> dict[str, Any]:
    return {"result": {"type": how, "body": {"step": "extrude-3"}}}


@BOTH
@pytest.mark.parametrize("combined", [False, True], ids=["own", "combine"])
def test_a_cut_that_takes_nothing_away(ways: Ways, combined: bool) -> None:
    """Told of every step that cuts, not only of one that does nothing else."""
    if combined:
        document = blocks(("combine", {"how": "cut", "body": {"step": "extrude-3"}, "tools": [{"step": "extrude-6"}]}), at=100.0)
    else:
        document = blocks(tool=to("cut"), at=100.0)
    found = only(document, "no-effect", Severity.WARNING, ways)
    assert "takes nothing away from Extrude 3" in found.title
    assert found.step == ("combine-7" if combined else "extrude-6")
    settled(document, set_param("section-5", "at", to=[0.0, 0.0]), ways=ways)


@BOTH
def test_a_tool_that_goes_away_from_the_body_is_turned_round(ways: Ways) -> None:
    """Drawn on top of the block and extruded upwards: it takes nothing away, and the repair makes it reach in."""
    document = apply_edits(blocks(tool=to("cut")), [set_param("station-4", "offset", to=20.0), set_param("extrude-6", "distance", to="4 mm")])
    found = only(document, "no-effect", Severity.WARNING, ways)
    assert [fix.label for fix in found.fixes] == ["Extrude it the other way"]
    after = apply_edits(document, found.fixes[0].edits)
    assert told(after, ways) == []
    volume = next(step.result.measures.volume for step in rebuild(after, Memory(), ways) if step.step == "extrude-6")
    assert_close(volume, 40 * 40 * 20 - 10 * 10 * 4, within=1e-6 * volume)
    away = apply_edits(document, [set_param("section-5", "at", to=[100.0, 0.0])])
    assert only(away, "no-effect", Severity.WARNING, ways).fixes == [], "the other way it would not reach it either"


def test_a_join_that_leaves_bodies_apart() -> None:
    document = blocks(tool=to("join"), at=100.0)
    assert "leaves bodies apart" in only(document, "no-effect", Severity.WARNING, exact_ways()).title
    settled(document, set_param("section-5", "at", to=[0.0, 0.0]), ways=exact_ways())


def test_what_shares_nothing_is_told_with_the_distance() -> None:
    document = blocks(tool=to("overlap"), at=100.0)
    found = only(document, "not-combined", Severity.ERROR, exact_ways())
    assert "75 mm lie between their boxes" in found.detail
    assert found.where is not None
    assert found.where.names == ["extrude-3"]
    settled(document, set_param("section-5", "at", to=[0.0, 0.0]), ways=exact_ways())
    settled(document, *found.fixes[0].edits, ways=exact_ways())


def test_a_cut_that_leaves_nothing_says_what_would_help() -> None:
    document = apply_edits(
        blocks(tool=to("cut")), [set_param("section-5", "shape", "width", to=60.0), set_param("section-5", "shape", "depth", to=60.0)]
    )
    found = only(document, "not-combined", Severity.ERROR, exact_ways())
    assert "Nothing is left of it" in found.detail
    assert "Make the tool smaller" in found.detail
    assert "only just touch" not in found.detail
    settled(document, set_param("section-5", "shape", "width", to=10.0), ways=exact_ways())


def test_copies_that_may_run_into_each_other() -> None:
    document = blocks(("repeat", {"body": {"step": "extrude-3"}, "count": 3, "way": {"type": "line", "by": [5.0, 0.0, 0.0]}}))
    assert "Copies 1 and 2 of Repeat 7" in only(document, "copies-overlap", Severity.NOTE).title
    settled(document, set_param("repeat-7", "way", "by", to=[40.0, 0.0, 0.0]))


@pytest.mark.parametrize("tools", [["extrude-3"], ["extrude-6", "extrude-6"]])
def test_a_body_taken_twice(tools: list[str]) -> None:
    document = blocks(("combine", {"how": "join", "body": {"step": "extrude-3"}, "tools": [{"step": tool} for tool in tools]}))
    only(document, "same-body", Severity.ERROR, exact_ways())
    settled(document, set_param("combine-7", "tools", to=[{"step": "extrude-6"}]), ways=exact_ways())


def test_a_point_encloses_nothing() -> None:
    document = apply_edits(blocks(), [set_param("section-5", "shape", to={"type": "point"})])
    found = [finding for finding in told(document) if finding.step == "extrude-6"]
    assert [finding.code for finding in found] == ["encloses-nothing"]
    assert found[0].severity is Severity.ERROR
    settled(document, set_param("section-5", "shape", to={"type": "circle", "diameter": 10.0}))


@pytest.mark.parametrize(("path", "bad", "good"), [("distance", 0.0, 30.0), ("taper", 89.9, 5.0), ("taper", 60.0, 5.0)])
def test_an_extrude_without_a_body(path: str, bad: float, good: float) -> None:
    document = apply_edits(blocks(), [set_param("extrude-6", path, to=bad)])
    only(document, "no-body", Severity.ERROR)
    settled(document, set_param("extrude-6", path, to=good))


def test_a_drawing_on_both_sides_of_its_axis() -> None:
    document = blocks(("revolve", {"section": {"step": "section-2"}, "point": [5.0, 0.0], "direction": 90.0}))
    found = only(document, "crosses-axis", Severity.ERROR)
    assert found.where is not None
    assert len(found.where.points) == 1
    settled(document, set_param("revolve-7", "point", to=[-20.0, 0.0]))
    settled(document, set_param("revolve-7", "point", to=[-60.0, 0.0]))


def test_a_station_that_waits_for_its_face_is_not_told_that_it_is_gone() -> None:
    waiting = {"place": {"type": "touching", "face": {"step": "extrude-3", "part": None}}}
    document = blocks(("station", waiting))
    found = only(document, "nothing-picked", Severity.ERROR)
    assert "gone" not in found.title + found.detail
    assert found.fixes == []
    settled(document, set_param("station-7", "place", "face", to={"step": "extrude-3", "part": "extrude-3/far"}))
