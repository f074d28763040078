"""Sections that are the outline of a face: they follow it, keep its holes, and are told where they can't."""

from __future__ import annotations

from math import pi
from typing import Any

import pytest

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, lofted, set_param
from wander.core.design.apply import apply_edits
from wander.core.design.errors import EditRefused
from wander.core.document.document import Document
from wander.core.document.edits import Draw, ReleaseCopy

SQUARE = {"type": "rectangle", "width": 40.0, "depth": 24.0}


def on_face(below: dict[str, Any], face: str = "loft-5/end:section-4", **place: Any) -> Document:
    """A straight body from 0 to 60, a station that touches its end, the outline of that face, and a body from there on to a circle at 100."""
    raw = lofted((0, circle(50)), (60, below), between="straight").model_dump(mode="json")
    part = {"step": "loft-5", "part": face}
    touching = {"plane": "top", "place": place or {"type": "touching", "face": part, "around": 0.5, "along": 0.5}}
    raw["steps"] += [
        {"id": "station-6", "kind": "station", "name": "On the end", "params": touching},
        {"id": "section-7", "kind": "section", "name": "Rim", "params": {"station": {"step": "station-6"}, "shape": {"type": "face", "face": part}}},
        {"id": "station-8", "kind": "station", "name": "Far", "params": {"plane": "top", "offset": 100.0}},
        {"id": "section-9", "kind": "section", "name": "Top", "params": {"station": {"step": "station-8"}, "shape": circle(30)}},
    ]
    sections = [{"section": {"step": "section-7"}}, {"section": {"step": "section-9"}}]
    raw["steps"].append({"id": "loft-10", "kind": "loft", "name": "Neck", "params": {"sections": sections, "between": "straight"}})
    return Document.model_validate({**raw, "next": 20})


def area(document: Document) -> float:
    return float(built(document)["section-7"].summary.area)  # type: ignore[union-attr]


def test_it_is_what_goes_round_the_face_and_follows_it() -> None:
    document = on_face(circle(36))
    assert_close(area(document), pi * 18**2, within=1e-4)
    assert_close(built(document)["loft-10"].result.measures.volume, pi * 40 * (18**2 + 18 * 15 + 15**2) / 3, within=1.0)
    wider = apply_edits(document, [set_param("section-4", "shape", "diameter", to=60.0), set_param("station-3", "offset", to=70.0)])
    assert_close(area(wider), pi * 30**2, within=1e-4)
    assert_close(built(wider)["station-6"].result.origin[2], 70.0, within=1e-6)


def test_corners_of_the_face_are_corners_of_the_section() -> None:
    document = on_face(SQUARE)
    assert_close(area(document), 40 * 24, within=1e-6)
    placed = built(document)["section-7"].result.placed
    assert len(placed.loop.corners) == 4
    names = {face.name for face in built(document)["loft-10"].result.faces}
    again = {face.name for face in built(apply_edits(document, [set_param("section-4", "shape", "width", to=52.0)]))["loft-10"].result.faces}
    assert names == again, "sides are called by the edges, whatever size they have"


def test_a_hollow_end_keeps_its_hole() -> None:
    ring = {
        "type": "drawing",
        "points": {"p1": [0.0, 0.0]},
        "curves": [{"id": "c1", "type": "circle", "center": "p1", "radius": 20.0}, {"id": "c2", "type": "circle", "center": "p1", "radius": 12.0}],
        "use": ["c1~c2"],
        "next": 9,
    }
    drawn = built(lofted((0, ring), (60, ring)))["section-2"].summary
    ring["use"] = [max(drawn.drawing.regions, key=lambda r: r.area).name]  # type: ignore[union-attr]
    raw = on_face(ring).model_dump(mode="json")
    raw["steps"][1]["params"]["shape"] = ring
    document = Document.model_validate(raw)
    assert_close(area(document), pi * (20**2 - 12**2), within=1e-3)


@pytest.mark.parametrize("turned", [False, True])
def test_a_face_that_is_not_flat_or_lies_at_an_angle_is_told_and_mended(turned: bool) -> None:
    place = {"type": "turned", "station": {"step": "station-3"}, "direction": 0.0, "angle": 20.0}
    document = on_face(SQUARE, **place) if turned else on_face(SQUARE)
    if not turned:
        side = next(face.name for face in built(document)["loft-5"].result.faces if face.surface is not None)
        document = apply_edits(document, [set_param("section-7", "shape", "face", to={"step": "loft-5", "part": side})])
    told = next(finding for finding in findings(document) if finding.code == "face-not-flat")
    mended = apply_edits(document, told.fixes[0].edits)
    assert "face-not-flat" not in [finding.code for finding in findings(mended)]
    assert built(mended)["section-7"].summary is not None


def test_a_face_that_is_gone_is_told_with_what_is_near() -> None:
    document = apply_edits(on_face(SQUARE), [set_param("section-7", "shape", "face", to={"step": "loft-5", "part": "loft-5/nothing"})])
    told = next(finding for finding in findings(document) if finding.code == "broken-reference")
    assert told.fixes


def test_it_is_not_drawn_on_and_a_larger_copy_of_it_stays_linked() -> None:
    document = on_face(SQUARE)
    with pytest.raises(EditRefused, match="nothing is drawn on it"):
        apply_edits(document, [Draw.model_validate({"do": "draw", "step": "section-7", "acts": []})])
    copied = {"type": "copied", "section": {"step": "section-7"}, "scale": 0.5}
    smaller = apply_edits(document, [set_param("section-9", "shape", to=copied)])
    assert_close(built(smaller)["section-9"].summary.area, 40 * 24 / 4, within=1e-6)  # type: ignore[union-attr]
    with pytest.raises(EditRefused, match="goes round a face"):
        apply_edits(smaller, [ReleaseCopy(do="release-copy", step="section-9")])
