"""Outlines of bodies as they are traced: seen square on and cut by the plane of the drawing, against closed forms."""

from __future__ import annotations

from itertools import pairwise
from math import cos, hypot, pi, radians
from typing import Any

import pytest

from tests.core.design.designs import built, circle, lofted, set_param
from wander.core.design.apply import apply_edits
from wander.core.document.document import Document

HIGH = 60.0
TRACE = "section-7"
WITHIN = 0.012
"""mm: of the mesh and of the curve through it."""


def traced(part: str, station: dict[str, Any], *, lower: dict[str, Any] | None = None, upper: dict[str, Any] | None = None, **of: Any) -> Document:
    """A body from disc to disc, and a drawing on a station that holds nothing but an outline of it."""
    raw = lofted((0.0, lower or circle("wide")), (HIGH, upper or circle("wide")), dimensions=(("wide", 40.0),), between="straight").model_dump(
        mode="json"
    )
    shape = {"type": "drawing", "curves": [{"id": "c1", "type": "trace", "of": {"step": "loft-5", "part": f"outline:{part}", **of}}], "next": 2}
    raw["steps"] += [
        {"id": "station-6", "kind": "station", "name": "Board", "params": station},
        {"id": TRACE, "kind": "section", "name": "Traced", "params": {"station": {"step": "station-6"}, "shape": shape}},
    ]
    return Document.model_validate({**raw, "next": 8})


def area_of(document: Document) -> float:
    return float(built(document)[TRACE].summary.area)


@pytest.mark.parametrize("offset", [0.0, -90.0])
def test_what_is_seen_of_a_cone_from_the_side_is_a_trapeze(offset: float) -> None:
    document = traced("seen", {"plane": "front", "offset": offset}, upper=circle("wide / 2"))
    assert abs(area_of(document) - HIGH * 30) < WITHIN * 160
    wider = apply_edits(document, [set_param("station-3", "offset", to=100.0)])
    assert abs(area_of(wider) - 100 * 30) < WITHIN * 240
    # four straight sides, not a hundred points
    kept = built(document)[TRACE].summary.drawing
    assert len(kept.curves[0].path) < 400


@pytest.mark.parametrize("offset", [0.0, 20.0, HIGH])
def test_what_a_plane_across_cuts_out_is_the_disc_its_end_included(offset: float) -> None:
    assert abs(area_of(traced("cut", {"plane": "top", "offset": offset})) - pi * 20**2) < WITHIN * 126


@pytest.mark.parametrize("lean", [15.0, 35.0])
def test_what_a_leaning_plane_cuts_out_of_a_cylinder_is_an_ellipse(lean: float) -> None:
    place = {"type": "turned", "station": {"step": "station-1"}, "direction": 0.0, "angle": lean}
    document = traced("cut", {"place": place, "offset": 30 * cos(radians(lean))})
    assert abs(area_of(document) - pi * 20**2 / cos(radians(lean))) < WITHIN * 140
    # seen along its own lean it is longer: the ends are two halves of ellipses
    seen = pi * 20**2 * cos(radians(lean)) + 40 * HIGH * abs(cos(radians(90 - lean)))
    assert abs(area_of(traced("seen", {"place": place, "offset": 0.0})) - seen) < WITHIN * 300


def ring() -> dict[str, Any]:
    rims = [{"id": f"c{i}", "type": "circle", "center": "p1", "radius": r} for i, r in ((1, 20.0), (2, 12.0))]
    return {"type": "drawing", "points": {"p1": [0.0, 0.0]}, "curves": rims, "use": ["c1"], "next": 5}


@pytest.mark.parametrize(("hint", "radius"), [(None, 20.0), ((0.5, 0.0, 0.5), 20.0), ((0.5, 0.21, 0.5), 12.0)])
def test_of_several_outlines_the_one_is_followed_that_was_picked(hint: tuple[float, float, float] | None, radius: float) -> None:
    shape = ring()
    shape["use"] = None
    regions = built(lofted((0.0, shape), (HIGH, circle(4.0))))["section-2"].summary.drawing.regions
    hollow = {**shape, "use": [region.name for region in regions if region.area < 400 * pi - 1 and region.area > 145 * pi]}
    document = traced("cut", {"plane": "top", "offset": 30.0}, lower=hollow, upper=hollow, **({} if hint is None else {"hint": hint}))
    assert abs(area_of(document) - pi * radius**2) < WITHIN * 126


def test_an_outline_that_there_is_none_of_any_more_is_told_and_kept() -> None:
    document = traced("cut", {"plane": "top", "offset": 20.0})
    over = apply_edits(document, [set_param("station-6", "offset", to=HIGH + 5)])
    [told] = [finding for finding in built(over)[TRACE].findings if finding.code == "trace-lost"]
    assert "does not cross" in told.detail
    assert [fix.label for fix in told.fixes] == ["Take the trace away"]
    assert built(apply_edits(over, told.fixes[0].edits))[TRACE].summary.drawing.curves == []


def test_soft_kinks_stay_where_they_are_and_nothing_swings_out_between_them() -> None:
    """Stacked frusta seen from the side: where they meet the outline turns by a few degrees."""
    stands = [(0.0, 62.0), (14.0, 72.0), (78.0, 76.0), (132.0, 66.0), (172.0, 35.0), (200.0, 34.0)]
    raw = lofted(*((at, circle(wide)) for at, wide in stands), between="straight").model_dump(mode="json")
    shape = {"type": "drawing", "curves": [{"id": "c1", "type": "trace", "of": {"step": "loft-13", "part": "outline:seen"}}], "next": 2}
    raw["steps"] += [
        {"id": "station-14", "kind": "station", "name": "Board", "params": {"plane": "front", "offset": 0.0}},
        {"id": "section-15", "kind": "section", "name": "Traced", "params": {"station": {"step": "station-14"}, "shape": shape}},
    ]
    summary = built(Document.model_validate({**raw, "next": 16}))["section-15"].summary
    wanted = sum((high - low) * (wide + narrow) / 2 for (low, wide), (high, narrow) in pairwise(stands))
    assert abs(summary.area - wanted) < WITHIN * 2 * 230
    girth = 62 + 34 + 2 * sum(hypot(high - low, (wide - narrow) / 2) for (low, wide), (high, narrow) in pairwise(stands))
    assert abs(summary.girth - girth) < 0.02
