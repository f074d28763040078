"""Points of drawings held where rails pass: against where straight rails meet planes, by hand."""

from __future__ import annotations

from math import cos, radians, sin
from typing import Any

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import built, set_param
from tests.core.steps.test_sweep_step import line
from wander.core.design.apply import apply_edits
from wander.core.design.errors import EditRefused
from wander.core.design.rebuild import State
from wander.core.document.document import Document
from wander.core.document.edits import Draw, RemoveStep

LEANING, UPRIGHT, SECTION = "rail-1", "rail-2", "section-4"
TRIANGLE: dict[str, Any] = {
    "type": "drawing",
    "points": {"p1": [0.0, 0.0], "p2": [12.0, 1.0], "p3": [1.0, 18.0]},
    "curves": [{"id": f"c{i}", "type": "line", "start": f"p{a}", "end": f"p{b}"} for i, (a, b) in enumerate(((1, 2), (2, 3), (3, 1)), start=1)],
    "holds": [
        {"id": "h1", "type": "fixed", "of": ["p1"]},
        {"id": "h2", "type": "passes", "of": ["p2"], "rail": {"step": LEANING}, "at": [12.0, 1.0]},
        {"id": "h3", "type": "passes", "of": ["p3"], "rail": {"step": UPRIGHT}, "at": [1.0, 18.0]},
    ],
    "next": 9,
}


def held(offset: float = 50.0, *, leaning: dict[str, Any] | None = None, shape: dict[str, Any] = TRIANGLE, **params: Any) -> Document:
    """A rail that leans by 3 in 10 along x, one upright at y = 20, and a triangle between them and the origin."""
    rails = [leaning or line((10, 0, 0), (40, 0, 100)), line((0, 20, -10), (0, 20, 110))]
    steps = [{"id": f"rail-{i}", "kind": "rail", "name": f"Line {i}", "params": {"shape": rail}} for i, rail in enumerate(rails, start=1)]
    steps.append({"id": "station-3", "kind": "station", "name": "Place", "params": {"plane": "top", "offset": offset}})
    steps.append({"id": SECTION, "kind": "section", "name": "Rib", "params": {"station": {"step": "station-3"}, "shape": shape, **params}})
    return Document.model_validate({"format": "wander-design/1", "name": "Trial", "dimensions": [], "steps": steps, "next": 5})


def area(document: Document) -> float:
    return float(built(document)[SECTION].summary.area)


def draw(*acts: dict[str, Any]) -> Draw:
    return Draw.model_validate({"do": "draw", "step": SECTION, "acts": list(acts)})


@given(offset=st.floats(0.0, 100.0), tip=st.floats(20.0, 80.0))
@example(offset=0.0007, tip=20.0)
def test_a_section_goes_with_its_rails_when_station_or_rail_change(offset: float, tip: float) -> None:
    document = held(offset)
    assert_close(area(document), (10 + 0.3 * offset) * 20 / 2, within=1e-6)
    moved = apply_edits(document, [set_param(LEANING, "shape", "points", 1, "at", to=[tip, 0.0, 100.0])])
    assert_close(area(moved), (10 + (tip - 10) * offset / 100) * 20 / 2, within=1e-6)
    drawing = built(moved)[SECTION].summary.drawing
    assert drawing.freedoms == 0
    assert drawing.disputes == []


@given(turn=st.floats(-170.0, 170.0), at=st.tuples(st.floats(-30.0, 30.0), st.floats(-30.0, 30.0)))
def test_a_section_that_was_turned_and_moved_is_held_to_the_rails_all_the_same(turn: float, at: tuple[float, float]) -> None:
    document = held(turn=turn, at=list(at))
    drawing = built(document)[SECTION].summary.drawing
    c, s = cos(radians(turn)), sin(radians(turn))
    for point, there in (("p2", (25.0, 0.0)), ("p3", (0.0, 20.0))):
        x, y = drawing.points[point]
        assert_close((c * x - s * y + at[0], s * x + c * y + at[1]), there, within=1e-6)


@pytest.mark.parametrize(("last", "meets"), [(12.0, 30.0), (-12.0, -30.0)])
def test_of_several_places_the_one_nearest_to_the_last_is_meant(last: float, meets: float) -> None:
    arch = line((-30, 0, -10), (-30, 0, 80), (30, 0, 80), (30, 0, -10), sharp=True)
    shape = {**TRIANGLE, "points": {**TRIANGLE["points"], "p2": [last, 1.0]}}
    shape["holds"] = [hold if hold["id"] != "h2" else {**hold, "at": [last, 1.0]} for hold in TRIANGLE["holds"]]
    assert_close(built(held(leaning=arch, shape=shape))[SECTION].summary.drawing.points["p2"], (meets, 0.0), within=1e-6)


@pytest.mark.parametrize("offset", [0.0, 100.0])
def test_a_rail_that_ends_on_the_plane_passes_it(offset: float) -> None:
    assert [finding.code for finding in built(held(offset))[SECTION].findings] == []
    assert_close(area(held(offset)), (10 + 0.3 * offset) * 10, within=1e-6)


def test_a_rail_that_ends_before_the_plane_is_told_and_the_point_keeps_its_place() -> None:
    step = built(held(104.0))[SECTION]
    [told] = step.findings
    assert (told.code, told.where.names) == ("rail-misses-point", ["h2"])
    assert told.title == "Line 1 does not pass Rib any more"
    assert "Point 2, which is held to it" in told.detail
    assert step.state is State.READY
    assert_close(step.summary.drawing.points["p2"], (12.0, 1.0), within=1e-9)
    free = built(apply_edits(held(104.0), told.fixes[0].edits))[SECTION]
    assert free.findings == []
    assert free.summary.drawing.freedoms == 2


def test_a_rail_that_was_removed_is_let_go_of() -> None:
    document = apply_edits(held(), [RemoveStep(do="remove-step", step=LEANING)])
    [told] = built(document)[SECTION].findings
    assert told.code == "broken-reference"
    mended = apply_edits(document, next(fix.edits for fix in told.fixes if fix.label == "Let go of it"))
    assert [hold["id"] for hold in mended.step(SECTION).params["shape"]["holds"]] == ["h1", "h3"]
    assert built(mended)[SECTION].state is State.READY


def test_what_is_held_to_two_places_at_once_is_one_card() -> None:
    document = apply_edits(held(), [draw({"act": "hold", "type": "passes", "of": ["p2"], "rail": {"step": UPRIGHT}})])
    [told] = built(document)[SECTION].findings
    assert told.code == "holds-contradict"
    assert told.title == "Where Line 2 passes (point 2) contradicts what else is held"
    assert built(apply_edits(document, told.fixes[0].edits))[SECTION].findings == []


def test_a_point_is_held_to_a_rail_once_at_the_place_that_was_meant_last() -> None:
    acts = [{"act": "hold", "type": "passes", "of": ["p2"], "rail": {"step": LEANING}, "at": [x, 0.0]} for x in (20.0, 24.0)]
    holds = apply_edits(held(), [draw(*acts)]).step(SECTION).params["shape"]["holds"]
    assert [hold["at"] for hold in holds if hold.get("rail") == {"step": LEANING}] == [[24.0, 0.0]]


def test_it_is_drawn_on_a_rail_at_once() -> None:
    line_from = {"id": "$l", "type": "line", "start": "$a", "end": "$b"}
    held_there = {"type": "passes", "of": ["$b"], "rail": {"step": LEANING}, "at": [25.0, 0.0]}
    add = {"act": "add", "points": {"$a": [5.0, 40.0], "$b": [25.0, 0.0]}, "curves": [line_from], "holds": [held_there]}
    document = apply_edits(held(), [draw(add), set_param("station-3", "offset", to=80.0)])
    points = built(document)[SECTION].summary.drawing.points
    assert_close(points[max(points, key=lambda point: int(point[1:]))], (34.0, 0.0), within=1e-6)


@pytest.mark.parametrize(
    ("hold", "says"),
    [({"of": ["p2"]}, "it takes a rail too"), ({"of": ["c1"], "rail": {"step": LEANING}}, "only a point")],
)
def test_what_can_not_be_held_to_a_rail_is_refused_in_words(hold: dict[str, Any], says: str) -> None:
    with pytest.raises(EditRefused, match=says):
        apply_edits(held(), [draw({"act": "hold", "type": "passes", **hold})])


def test_a_copy_of_the_drawing_on_another_station_is_held_where_the_rails_pass_there() -> None:
    document = held(20.0)
    raw = document.model_dump(mode="json")
    raw["steps"] += [
        {"id": "station-5", "kind": "station", "name": "Above", "params": {"plane": "top", "offset": 90.0}},
        {"id": "section-6", "kind": "section", "name": "Copy", "params": {"station": {"step": "station-5"}, "shape": TRIANGLE}},
    ]
    there = built(Document.model_validate({**raw, "next": 7}))
    assert_close((there[SECTION].summary.area, there["section-6"].summary.area), (160.0, 370.0), within=1e-5)


def test_a_drawn_rail_is_held_to_another_one() -> None:
    shape = {
        "type": "drawing",
        "points": {"p1": [0.0, 0.0], "p2": [12.0, 3.0]},
        "curves": [{"id": "c1", "type": "line", "start": "p1", "end": "p2"}],
        "holds": [
            {"id": "h1", "type": "fixed", "of": ["p1"]},
            {"id": "h2", "type": "passes", "of": ["p2"], "rail": {"step": LEANING}, "at": [12.0, 3.0]},
        ],
        "next": 9,
    }
    raw = held(50.0).model_dump(mode="json")
    raw["steps"][-1] = {"id": "rail-4", "kind": "rail", "name": "Across", "params": {"station": {"step": "station-3"}, "shape": shape}}
    assert_close(built(Document.model_validate(raw))["rail-4"].summary.length, 25.0, within=1e-6)
