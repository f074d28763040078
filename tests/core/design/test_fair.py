"""Fairing as edits: a rail, a spline of a drawing, a row of sections; nothing moves further than it may, what is held stays."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, lofted
from wander.core.design.apply import apply_edits
from wander.core.design.fair import NothingToFair, Proposal, fair_proposal
from wander.core.document.document import Document
from wander.core.results.rails import Rail


def proposed(document: Document, step: str, within: float, *things: str) -> Proposal:
    return fair_proposal(document, list(built(document).values()), step, within, things)


def rail(*points: dict[str, Any], closed: bool = False) -> Document:
    steps = [{"id": "rail-1", "kind": "rail", "name": "Edge", "params": {"shape": {"type": "spline", "points": list(points), "closed": closed}}}]
    return Document.model_validate({"format": "wander-design/1", "name": "Rail", "steps": steps, "next": 5})


WAVY = [(0.0, 0.0), (20.0, 4.1), (40.0, 9.2), (60.0, 9.9), (80.0, 13.4), (100.0, 12.6), (120.0, 16.0)]


def test_a_rail_is_smoothed_within_its_tolerance_and_its_ends_stay() -> None:
    document = rail(*({"at": [x, y, 0.1 * y]} for x, y in WAVY))
    found = proposed(document, "rail-1", 0.5)
    assert 0 < found.moved <= 0.5
    assert found.share < 0.6
    after = apply_edits(document, found.edits)
    old, new = (np.array([p["at"] for p in d.steps[0].params["shape"]["points"]]) for d in (document, after))
    assert_close(new[[0, -1]], old[[0, -1]], within=0)
    assert_close(np.linalg.norm(new - old, axis=1).max(), found.moved, within=1e-5)
    curve: Rail = built(after)["rail-1"].result
    assert np.linalg.norm(curve.curve(np.linspace(0, 1, 400)) - found.where, axis=1).min() < 0.2


def test_what_lies_on_a_section_or_is_an_expression_stays() -> None:
    raw = lofted((0, circle(40)), (100, circle(40)), dimensions=(("lift", 6.0),)).model_dump(mode="json")
    points = [{"on": {"section": {"step": "section-2"}, "at": 0.0}}, {"at": [24.0, 3.0, 20.0]}, {"at": [19.0, -2.0, 45.0]}]
    points += [{"at": [25.0, "lift", 60.0]}, {"at": [20.0, 1.0, 80.0]}, {"on": {"section": {"step": "section-4"}, "at": 0.0}}]
    raw["steps"].append({"id": "rail-9", "kind": "rail", "name": "Edge", "params": {"shape": {"type": "spline", "points": points}}})
    document = Document.model_validate({**raw, "next": 20})
    found = proposed(document, "rail-9", 1.0)
    touched = {edit.path[2] for edit in found.edits}  # type: ignore[union-attr]
    assert touched <= {1, 2, 4}
    assert found.places == 3
    assert not [f for f in findings(apply_edits(document, found.edits)) if f.severity.value == "error"]


def sizes(*diameters: Any) -> Document:
    return lofted(*((40.0 * i, circle(d)) for i, d in enumerate(diameters)), dimensions=(("waist", 30.0),))


def test_a_row_of_sections_is_smoothed_in_its_sizes() -> None:
    document = sizes(40, 43, 52, 50, 58, 55)
    found = proposed(document, "loft-13", 1.0)
    after = apply_edits(document, found.edits)
    old, new = (np.array([s.params["shape"]["diameter"] for s in d.steps if s.kind == "section"], dtype=float) for d in (document, after))
    assert np.abs(new - old).max() <= 2.0
    assert_close(np.abs(new - old).max() / 2, found.moved, within=1e-5)
    assert new[0] == 40
    assert new[-1] == 55
    assert found.share < 0.5
    assert found.limited > 0


def test_a_size_that_is_an_expression_is_not_overwritten() -> None:
    document = sizes(40, 43, "waist", 50, 58, 55)
    after = apply_edits(document, proposed(document, "loft-13", 1.0).edits)
    assert after.step("section-6").params["shape"]["diameter"] == "waist"  # type: ignore[union-attr]


def half(width: float, depth: float) -> dict[str, Any]:
    points = {"p1": [0.0, -depth], "p2": [width, 0.0], "p3": [0.0, depth], "p4": [-width, 0.0]}
    return {"type": "drawing", "points": points, "curves": [{"id": "c1", "type": "spline", "through": list(points), "closed": True}], "next": 9}


def test_drawn_sections_are_smoothed_point_by_point() -> None:
    document = lofted(*((50.0 * i, half(w, d)) for i, (w, d) in enumerate([(20, 12), (26, 14), (25, 19), (33, 18), (30, 15)])))
    found = proposed(document, "loft-11", 0.8)
    after = apply_edits(document, found.edits)
    for before, now in zip(document.steps, after.steps, strict=True):
        if before.kind == "section":
            old, new = (np.array(list(s.params["shape"]["points"].values())) for s in (before, now))
            assert np.linalg.norm(new - old, axis=1).max() <= 0.8 + 1e-6
    assert found.share < 0.7


def test_a_spline_of_a_drawing_is_smoothed_and_what_others_end_on_stays() -> None:
    names = {f"p{i + 1}": [x, y] for i, (x, y) in enumerate(WAVY)}
    low = {"p20": [0.0, -30.0], "p21": [120.0, -30.0]}
    curves = [{"id": "c1", "type": "spline", "through": list(names)}]
    curves += [
        {"id": f"c{n}", "type": "line", "start": a, "end": b} for n, (a, b) in enumerate([("p7", "p21"), ("p21", "p20"), ("p20", "p1")], start=2)
    ]
    shape = {"type": "drawing", "points": {**names, **low}, "curves": curves, "holds": [{"id": "h1", "type": "fixed", "of": ["p4"]}], "next": 40}
    document = lofted((0, shape), (60, shape))
    found = proposed(document, "section-2", 0.4, "c1")
    after = apply_edits(document, found.edits)
    points = after.step("section-2").params["shape"]["points"]  # type: ignore[union-attr]
    for p in ("p1", "p7", "p4", "p20"):
        assert_close(points[p], shape["points"][p], within=1e-6)  # type: ignore[index]
    assert 0 < found.moved <= 0.4
    assert max(np.hypot(*np.subtract(points[p], names[p])) for p in names) <= 0.4 + 1e-6


def test_a_closed_spline_of_numbers_is_smoothed_all_round() -> None:
    ring = [[30.0, 0.0], [22.0, 20.0], [0.0, 31.0], [-20.0, 21.0], [-31.0, 0.0], [-21.0, -22.0], [0.0, -29.0], [22.0, -20.0]]
    document = lofted((0, {"type": "spline", "points": ring}), (60, circle(40)))
    found = proposed(document, "section-2", 0.5)
    assert found.places == 8
    assert found.share < 0.8
    assert not findings(apply_edits(document, found.edits))


@pytest.mark.parametrize(
    ("document", "step", "why"),
    [
        (sizes(40, 44, 40), "loft-7", "3 sections"),
        (sizes(40, "waist", "waist", 40), "section-2", "can be made fair"),
        (rail({"at": [0, 0, 0]}, {"at": [1, 0, 0]}, {"at": [2, 0, 0]}), "rail-1", "3 places"),
        (rail({"at": [0, 0, 0]}, {"at": [1, 0, 0]}), "rail-9", "no such step"),
    ],
)
def test_where_there_is_nothing_to_smooth_it_says_why(document: Document, step: str, why: str) -> None:
    with pytest.raises(NothingToFair, match=why):
        proposed(document, step, 0.5)


def test_more_room_makes_it_fairer() -> None:
    document = sizes(40, 43, 52, 50, 58, 55)
    shares = [proposed(document, "loft-13", within).share for within in (0.1, 0.4, 1.6)]
    assert shares == sorted(shares, reverse=True)
