"""Lofts closed into a ring: the body follows what is changed, and what keeps it from closing is told with its repair."""

from __future__ import annotations

from math import cos, pi, sin
from typing import Any

import pytest

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, set_param
from tests.core.steps.test_loft_centre import stand
from wander.core.design.apply import apply_edits
from wander.core.design.rebuild import State
from wander.core.document.document import Document
from wander.core.document.findings import Finding, Severity

REACH = 60.0
SQUARE = {"type": "rectangle", "width": 16.0, "depth": 16.0}


def rings(*shapes: dict[str, Any], rail: dict[str, Any] | None = None, **params: Any) -> Document:
    """Sections on planes through the vertical, evenly about it, and a ring through them."""
    steps: list[dict[str, Any]] = []
    for number, shape in enumerate(shapes, start=1):
        turn = {"type": "turned", "station": {"step": "station-100"}, "direction": 90.0, "angle": 360.0 * (number - 1) / len(shapes)}
        steps += stand(number, shape, place=turn, at=[REACH, 0.0])
    upright = {"id": "station-100", "kind": "station", "name": "Upright", "params": {"plane": "front"}}
    if rail is not None:
        steps.append({"id": "rail-20", "kind": "rail", "name": "Line", "params": {"shape": rail}})
        params["centre"] = {"step": "rail-20"}
    sections = [{"section": {"step": f"section-{2 * number}"}} for number in range(1, len(shapes) + 1)]
    loft = {"sections": sections, "closed": True, "skin": "fair", **params}
    steps = [upright, *steps, {"id": "loft-21", "kind": "loft", "name": "Lifebelt", "params": loft}]
    return Document.model_validate({"format": "wander-design/1", "name": "Trial", "steps": steps, "next": 200})


def ring_of(document: Document) -> Any:
    return built(document)["loft-21"]


def the(code: str, document: Document) -> Finding:
    return next(finding for finding in findings(document) if finding.code == code)


def round_line(points: int = 8, *, closed: bool = True) -> dict[str, Any]:
    turns = [2 * pi * k / points for k in range(points)]
    return {"type": "spline", "points": [{"at": [REACH * cos(turn), REACH * sin(turn), 0.0]} for turn in turns], "closed": closed}


def test_a_lifebelt_is_a_torus_and_follows_its_sections() -> None:
    document = rings(*[circle(20.0)] * 4)
    made = ring_of(document)
    assert made.state is State.READY
    assert not made.findings
    volume = 2 * pi**2 * REACH * 10**2
    assert_close(made.result.measures.volume, volume, within=2e-6 * volume)
    assert_close([one.at for one in made.summary.run], [0.0, pi * REACH / 2, pi * REACH, 3 * pi * REACH / 2], within=1e-6 * REACH)
    assert_close(made.summary.line[-1].at, 2 * pi * REACH, within=1e-6 * REACH)
    assert_close(made.summary.line[-1].point, made.summary.line[0].point, within=1e-9)
    assert_close([area for area in made.summary.lanes.area if area is not None], [pi * 100] * len(made.summary.lanes.area), within=2e-3)
    assert_close([face.name for face in made.result.faces] == ["loft-21/side"], True, within=0)
    grown = ring_of(apply_edits(document, [set_param("section-4", "shape", "diameter", to=30.0)]))
    assert grown.result.measures.volume > 1.1 * volume
    # along what is one line again a section keeps its share
    lanes = dict(zip(grown.summary.lanes.at, grown.summary.lanes.area, strict=True))
    middle = min(lanes, key=lambda at: abs(at - pi * REACH / 2))
    assert_close(lanes[middle], pi * 15**2, within=0.5)


def test_along_a_closed_rail_two_sections_are_enough() -> None:
    made = ring_of(rings(circle(20.0), circle(20.0), rail=round_line(12)))
    assert made.state is State.READY
    expected = made.summary.line[-1].at * pi * 100
    assert_close(made.result.measures.volume, expected, within=1e-4 * expected)


def test_a_hollow_ring_keeps_its_wall_all_round() -> None:
    shape = {"type": "drawing", "points": {"p1": [0, 0]}, "use": ["c1"], "next": 9}
    shape["curves"] = [{"id": f"c{i}", "type": "circle", "center": "p1", "radius": r} for i, r in enumerate((10.0, 8.0), start=1)]
    made = ring_of(rings(*[shape] * 4))
    expected = 2 * pi * REACH * pi * (10**2 - 8**2)
    assert_close(made.result.measures.volume, expected, within=1e-5 * expected)


def test_it_bends_anew_where_it_is_told_to_and_is_smooth_elsewhere() -> None:
    shapes = [circle(d) for d in (20.0, 26.0, 20.0, 26.0)]
    smooth, creased = rings(*shapes), rings(*shapes)
    creased = apply_edits(creased, [set_param("loft-21", "sections", 2, "crease", to=True)])
    made = ring_of(creased)
    assert made.state is State.READY
    # the ring begins at its crease, and is told as the designer has its sections
    assert [one.section for one in made.summary.run] == ["section-2", "section-4", "section-6", "section-8"]
    assert_close([one.at for one in made.summary.run], [pi * REACH, 3 * pi * REACH / 2, 0.0, pi * REACH / 2], within=1e-5 * REACH)
    assert abs(made.result.measures.volume - ring_of(smooth).result.measures.volume) > 1.0
    twice = apply_edits(creased, [set_param("loft-21", "sections", 0, "crease", to=True)])
    assert len(ring_of(twice).result.faces) == 2


@pytest.mark.parametrize("turn", [360.0, 90.0])
def test_a_twist_comes_round(turn: float) -> None:
    """By a whole turn any section meets itself again; by less it is told, and one click lets it end as it begins."""
    twist = {"type": "points", "points": [{"at": 0.0, "value": 0.0}, {"at": 1.0, "value": f"{turn} deg"}]}
    document = rings(*[SQUARE] * 4, twist=twist)
    if turn == 360.0:
        expected = 2 * pi * REACH * 16**2
        assert_close(ring_of(document).result.measures.volume, expected, within=1e-3 * expected)
        return
    told = the("ring-not-closed", document)
    assert told.severity is Severity.ERROR
    assert told.path == ["twist"]
    mended = apply_edits(document, told.fixes[0].edits)
    assert ring_of(mended).state is State.READY
    assert "ring-not-closed" not in [finding.code for finding in findings(mended)]


def test_scale_that_does_not_come_round_is_told_for_each_kind_of_law() -> None:
    for law in ({"type": "linear", "start": 1.0, "end": 2.0}, {"type": "points", "points": [{"at": 0.3, "value": 1.0}, {"at": 0.8, "value": 1.4}]}):
        document = rings(*[circle(20.0)] * 3, width=law)
        told = the("ring-not-closed", document)
        for fix in told.fixes:
            assert "ring-not-closed" not in [finding.code for finding in findings(apply_edits(document, fix.edits))]
            assert ring_of(apply_edits(document, fix.edits)).state is State.READY or "out-of-order" in str(findings(apply_edits(document, fix.edits)))


def codes(document: Document) -> list[str]:
    return [finding.code for finding in findings(document)]


def test_two_sections_want_a_third_or_a_line() -> None:
    document = rings(circle(20.0), circle(20.0))
    told = the("ring-too-few", document)
    assert told.severity is Severity.ERROR
    mended = apply_edits(document, told.fixes[0].edits)
    assert "ring-too-few" not in codes(mended)


def test_a_ring_can_not_go_through_a_point() -> None:
    document = rings(circle(20.0), circle(20.0), {"type": "point"}, circle(20.0), circle(20.0))
    told = the("ring-point", document)
    assert [fix.label for fix in told.fixes] == ["Leave Rib 3 out", "Give the body two ends"]
    assert ring_of(apply_edits(document, told.fixes[0].edits)).state is State.READY
    assert "ring-point" not in codes(apply_edits(document, told.fixes[1].edits))


def test_its_line_has_to_close_and_a_line_that_closes_wants_a_ring() -> None:
    document = rings(*[circle(20.0)] * 3, rail=round_line(closed=False))
    told = the("centre-open", document)
    assert [fix.label for fix in told.fixes] == ["Leave Line out", "Give the body two ends"]
    assert ring_of(apply_edits(document, told.fixes[0].edits)).state is State.READY
    assert "centre-open" not in codes(apply_edits(document, told.fixes[1].edits))
    opened = rings(*[circle(20.0)] * 3, rail=round_line(), closed=False)
    assert "centre-closed" in codes(opened)
    assert ring_of(apply_edits(opened, [set_param("loft-21", "closed", to=True)])).state is State.READY


def railed(points: list[dict[str, Any]], *, closed: bool = True) -> Document:
    """A ring of four circles of 20 and a rail outside it."""
    document = rings(*[circle(20.0)] * 4, rail={"type": "spline", "points": points, "closed": closed})
    return apply_edits(document, [set_param("loft-21", "centre", to=None), set_param("loft-21", "rails", to=[{"step": "rail-20"}])])


def outside(*reaches: float) -> list[dict[str, Any]]:
    """Points evenly round, so far from the axis."""
    turns = [2 * pi * k / len(reaches) for k in range(len(reaches))]
    return [{"at": [r * cos(turn), r * sin(turn), 0.0]} for r, turn in zip(reaches, turns, strict=True)]


def test_a_rail_goes_round_a_ring_and_the_ring_follows_it() -> None:
    plain = ring_of(rings(*[circle(20.0)] * 4)).summary.volume
    document = railed(outside(*[70.0, 74.0] * 4))
    made = ring_of(document)
    assert made.state is State.READY
    assert not made.findings
    assert made.summary.volume > plain + 500
    [off] = made.summary.lanes.rails
    assert_close(off, 0.0, within=1e-4)
    wide = ring_of(apply_edits(document, [set_param("loft-21", "carries", to="sections")]))
    # the circles are as wide as the rail is far out
    assert_close(wide.summary.lanes.area[0], pi * 100, within=1e-2)
    assert_close(max(wide.summary.lanes.area), pi * 14**2, within=0.01 * pi * 14**2)


def test_a_rail_of_a_ring_has_to_come_round() -> None:
    told = the("rail-open", railed(outside(*[70.0] * 8), closed=False))
    assert [fix.label for fix in told.fixes] == ["Close Line", "Leave Line out"]
    for fix in told.fixes:
        mended = apply_edits(railed(outside(*[70.0] * 8), closed=False), fix.edits)
        assert ring_of(mended).state is State.READY, fix.label


@pytest.mark.parametrize("missed", [0, 2, 6])
def test_a_rail_that_misses_a_ring_is_put_on_its_section(missed: int) -> None:
    reaches = [70.0] * 8
    reaches[missed] = 70.4
    document = railed(outside(*reaches))
    told = the("rail-missed", document)
    assert told.title == f"Line misses Rib {missed // 2 + 1} by 0.4 mm"
    mended = apply_edits(document, told.fixes[0].edits)
    assert ring_of(mended).state is State.READY
    assert len(next(step for step in mended.steps if step.id == "rail-20").params["shape"]["points"]) == 8


def test_a_rail_without_a_point_at_a_section_gets_one() -> None:
    """Between the points of a closed rail, its last and its first too."""
    turns = [2 * pi * (k + 0.5) / 6 for k in range(6)]
    document = railed([{"at": [70.5 * cos(turn), 70.5 * sin(turn), 0.0]} for turn in turns])
    for _ in range(4):
        told = next((finding for finding in findings(document) if finding.code == "rail-missed"), None)
        if told is None:
            break
        document = apply_edits(document, told.fixes[0].edits)
    assert ring_of(document).state is State.READY
