"""Rails as steps: they follow what they are made from, and say what is wrong in words with a way out."""

from __future__ import annotations

from math import pi
from typing import Any

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, lofted, set_param
from wander.core.design.apply import apply_edits
from wander.core.design.rebuild import State
from wander.core.document.document import Document
from wander.core.document.edits import Draw
from wander.core.geometry.frame import BASE_FRAMES
from wander.core.results.rails import Rail
from wander.core.results.summaries import RailSummary, SectionSummary


def with_rails(*shapes: dict[str, Any], station: str | None = None) -> Document:
    """A straight cylinder of 40 mm from 0 to 100, and rails after it: rail-10 onwards."""
    document = lofted((0, circle(40)), (100, circle(40)), between="straight")
    raw = document.model_dump(mode="json")
    for i, shape in enumerate(shapes):
        params = {"shape": shape, **({"station": {"step": station}} if station else {})}
        raw["steps"].append({"id": f"rail-{10 + i}", "kind": "rail", "name": f"Rail {i + 1}", "params": params})
    return Document.model_validate({**raw, "next": 30})


def rail(document: Document, step: str = "rail-10") -> Rail:
    found: Rail = built(document)[step].result
    return found


def drawn(*points: tuple[float, float]) -> dict[str, Any]:
    names = {f"p{i}": list(p) for i, p in enumerate(points)}
    return {"type": "drawing", "points": names, "curves": [{"id": "c1", "type": "spline", "through": list(names)}]}


def on(section: str, at: float, **more: Any) -> dict[str, Any]:
    return {"on": {"section": {"step": section}, "at": at}, **more}


ALONG = {"type": "spline", "points": [on("section-2", 0.0), {"at": [35.0, 0.0, 50.0], "handle": [0.0, 0.0, 30.0]}, on("section-4", 0.0)]}


def test_a_rail_through_points_of_sections_follows_them() -> None:
    document = with_rails(ALONG)
    first = rail(document)
    assert_close(first.curve(np.array([0.0, 1.0])), [[20, 0, 0], [20, 0, 100]], within=1e-9)
    changed = apply_edits(document, [set_param("section-2", "shape", "diameter", to=60.0), set_param("station-3", "offset", to=130.0)])
    assert_close(rail(changed).curve(np.array([0.0, 1.0])), [[30, 0, 0], [20, 0, 130]], within=1e-9)
    summary = built(changed)["rail-10"].summary
    assert isinstance(summary, RailSummary)
    assert_close(summary.through, [[30, 0, 0], [35, 0, 50], [20, 0, 130]], within=1e-9)
    assert summary.length > 130


def test_edges_of_a_body_make_a_rail_that_follows() -> None:
    shape = {"type": "edges", "edge": {"step": "loft-5", "part": "loft-5/end|loft-5/side.1"}}
    document = with_rails(shape)
    assert rail(document).closed
    assert_close(built(document)["rail-10"].summary.length, 40 * pi, within=2e-3)  # type: ignore[union-attr]
    changed = apply_edits(document, [set_param("section-4", "shape", "diameter", to=50.0)])
    assert_close(built(changed)["rail-10"].summary.length, 50 * pi, within=2e-3)  # type: ignore[union-attr]
    gone = apply_edits(document, [set_param("rail-10", "shape", "edge", "part", to="loft-5/end|loft-5/side.7")])
    lost = next(f for f in findings(gone) if f.code == "broken-reference")
    assert len(lost.fixes) == 3
    assert built(apply_edits(gone, lost.fixes[0].edits))["rail-10"].state.value == "ready"


def test_a_drawn_rail_lies_on_its_station_and_a_helix_rises_from_it() -> None:
    flat = with_rails(drawn((0, 0), (10, 5), (30, 0)), station="station-3")
    ends = rail(flat).curve(np.array([0.0, 1.0]))
    assert_close(ends, [[0, 0, 100], [30, 0, 100]], within=1e-9)
    helix = with_rails({"type": "helix", "radius": 12.0, "rise": "30 mm", "turns": 2, "center": [5.0, 0.0]}, station="station-1")
    assert_close(rail(helix).curve(1.0), [17, 0, 30], within=1e-6)


def test_what_is_drawn_on_a_rail_is_changed_on_the_board() -> None:
    document = with_rails(drawn((0, 0), (10, 5), (30, 0)), station="station-3")
    pulled = apply_edits(document, [Draw.model_validate({"do": "draw", "step": "rail-10", "acts": [{"act": "pull", "points": {"p2": [40.0, 0.0]}}]})])
    assert_close(rail(pulled).curve(1.0), [40, 0, 100], within=1e-6)


@pytest.mark.parametrize(
    ("shape", "station", "code"),
    [
        ({"type": "helix", "radius": 12.0, "rise": 30.0, "turns": 2}, None, "no-station"),
        ({"type": "helix", "radius": 0.0, "rise": 30.0, "turns": 2}, "station-1", "no-rail"),
        ({"type": "drawing"}, "station-1", "rail-in-pieces"),
        (
            {
                "type": "drawing",
                "points": {"p1": [0, 0], "p2": [9, 0], "p3": [50, 20], "p4": [60, 20]},
                "curves": [{"id": "c1", "type": "line", "start": "p1", "end": "p2"}, {"id": "c2", "type": "line", "start": "p3", "end": "p4"}],
            },
            "station-1",
            "rail-in-pieces",
        ),
        ({"type": "spline", "points": [{"at": [0.0, 0.0, 0.0]}, {"at": [0.0, 0.0, 0.0]}]}, None, "no-rail"),
    ],
)
def test_what_makes_no_rail_says_why(shape: dict[str, Any], station: str | None, code: str) -> None:
    document = with_rails(shape, station=station)
    assert built(document)["rail-10"].state is State.FAILED
    assert code in [f.code for f in findings(document)]


def test_a_drawn_rail_is_laid_on_a_body_and_from_behind_where_there_is_none_before_it() -> None:
    raw = with_rails(drawn((-10, 0), (0, 8), (10, 0)), station="station-3").model_dump(mode="json")
    raw["steps"].insert(-1, {"id": "station-8", "kind": "station", "name": "Over", "params": {"plane": "top", "offset": 140.0}})
    raw["steps"][-1]["params"]["station"] = {"step": "station-8"}
    laid = {"type": "laid", "rail": {"step": "rail-10"}, "body": {"step": "loft-5"}}
    raw["steps"].append({"id": "rail-11", "kind": "rail", "name": "Laid", "params": {"shape": laid}})
    document = Document.model_validate(raw)
    refused = next(f for f in findings(document) if f.code == "no-rail")
    assert refused.where.points
    mended = apply_edits(document, refused.fixes[0].edits)
    assert not findings(mended)
    assert_close(rail(mended, "rail-11").curve(np.linspace(0, 1, 9))[:, 2], np.full(9, 100.0), within=1e-9)


def test_a_rail_from_two_views_follows_its_drawings_and_refuses_one_that_is_not_flat() -> None:
    raw = with_rails(drawn((0, 0), (50, 10), (100, 0)), ALONG).model_dump(mode="json")
    raw["steps"][-2]["params"]["station"] = {"step": "station-1"}
    raw["steps"].append({"id": "station-20", "kind": "station", "name": "Front", "params": {"plane": "front", "offset": 0.0}})
    raw["steps"].append(
        {"id": "rail-21", "kind": "rail", "name": "Side", "params": {"shape": drawn((0, 30), (100, 60)), "station": {"step": "station-20"}}}
    )
    views = {"type": "views", "first": {"step": "rail-10"}, "second": {"step": "rail-21"}}
    raw["steps"].append({"id": "rail-22", "kind": "rail", "name": "Both", "params": {"shape": views}})
    document = Document.model_validate(raw)
    assert_close(rail(document, "rail-22").curve(np.array([0.0, 1.0])), [[0, 0, 30], [100, 0, 60]], within=1e-6)
    wrong = apply_edits(document, [set_param("rail-22", "shape", "second", "step", to="rail-11")])
    assert [f.code for f in findings(wrong)] == ["rail-not-drawn"]


def test_a_point_on_an_open_section_goes_along_it_from_end_to_end() -> None:
    opened = {"type": "spline", "points": [[0, 0], [9, 3], [20, 3]], "closed": False}
    document = apply_edits(with_rails(ALONG), [set_param("section-2", "shape", to=opened)])
    assert_close(rail(document).curve(np.array([0.0]))[0], [0, 0, 0], within=1e-9)
    end = apply_edits(document, [set_param("rail-10", "shape", "points", 0, "on", "at", to=1.0)])
    assert_close(rail(end).curve(np.array([0.0]))[0], [20, 3, 0], within=1e-9)
    half = apply_edits(document, [set_param("rail-10", "shape", "points", 0, "on", "at", to=0.5)])
    summary = built(half)["section-2"].summary
    assert isinstance(summary, SectionSummary)
    place, there = rail(half).curve(np.array([0.0]))[0], np.array(summary.outline)
    run = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(there, axis=0), axis=1))])
    assert_close(run[np.linalg.norm(there - place[:2], axis=1).argmin()], summary.girth / 2, within=summary.girth / 90)


def test_the_image_of_a_rail_follows_it_and_its_plane() -> None:
    document = with_rails({"type": "spline", "points": [{"at": [10.0, 0.0, 0.0]}, {"at": [14.0, 6.0, 50.0]}, {"at": [10.0, 0.0, 100.0]}]})
    raw = document.model_dump(mode="json")
    raw["steps"].append({"id": "rail-11", "kind": "rail", "name": "Image", "params": {"shape": {"type": "image", "rail": {"step": "rail-10"}}}})
    document = Document.model_validate(raw)
    at = np.linspace(0, 1, 17)

    def both(found: Document) -> tuple[np.ndarray, np.ndarray]:
        return rail(found, "rail-10").curve(at), rail(found, "rail-11").curve(at)

    own, image = both(document)
    assert_close(image, own * [-1, 1, 1], within=1e-12)
    pulled = apply_edits(document, [set_param("rail-10", "shape", "points", 1, "at", to=[30.0, -9.0, 60.0])])
    own, image = both(pulled)
    assert_close(image, own * [-1, 1, 1], within=1e-12)
    assert own[:, 0].max() > 25
    aside = apply_edits(pulled, [set_param("rail-11", "shape", "offset", to=4.0), set_param("rail-11", "shape", "plane", to="front")])
    own, image = both(aside)
    assert_close(image, own * [1, -1, 1] + 2 * 4.0 * BASE_FRAMES["front"].z, within=1e-12)
    leaning = apply_edits(pulled, [set_param("rail-11", "shape", "station", to={"step": "station-3"})])
    own, image = both(leaning)
    # a station across the body: what is above it comes to lie below
    assert_close(image[:, :2], own[:, :2], within=1e-12)
    assert_close(image[:, 2] + own[:, 2], np.full(17, image[0, 2] + own[0, 2]), within=1e-9)


def test_the_image_of_a_drawn_rail_is_as_flat() -> None:
    raw = with_rails(drawn((0, 0), (50, 10), (100, 0)), station="station-1").model_dump(mode="json")
    raw["steps"].append({"id": "rail-11", "kind": "rail", "name": "Image", "params": {"shape": {"type": "image", "rail": {"step": "rail-10"}}}})
    own, image = (rail(Document.model_validate(raw), step) for step in ("rail-10", "rail-11"))
    assert own.frame is not None
    assert image.frame is not None
    assert_close(image.frame.drop(image.curve.points), own.frame.drop(own.curve.points), within=1e-9)
