"""Bodies modelled by half: the half and its mirror image, smooth across the plane, or told where and why not."""

from __future__ import annotations

import itertools
from math import degrees, pi
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, lofted, set_param
from tests.soak import times
from wander.core.bodies.continuity import seams
from wander.core.design.apply import apply_edits
from wander.core.design.cutting import cut_edits
from wander.core.document.document import Document
from wander.core.document.findings import Severity

Point = tuple[float, float]


def spline(*points: Point, handles: dict[int, float] | None = None) -> dict[str, Any]:
    """An open spline that was drawn, with the directions (degrees) in which it runs through some of its points."""
    names = [f"p{i}" for i in range(1, len(points) + 1)]
    curve = {"id": "c1", "type": "spline", "through": names, "handles": [{"at": at, "angle": angle} for at, angle in (handles or {}).items()]}
    return {"type": "drawing", "points": dict(zip(names, map(list, points), strict=True)), "curves": [curve], "next": 20}


def chain(*points: Point) -> dict[str, Any]:
    names = [f"p{i}" for i in range(1, len(points) + 1)]
    curves = [{"id": f"c{i}", "type": "line", "start": a, "end": b} for i, (a, b) in enumerate(itertools.pairwise(names), start=1)]
    return {"type": "drawing", "points": dict(zip(names, map(list, points), strict=True)), "curves": curves, "next": 20}


def half_circle(radius: float) -> dict[str, Any]:
    points = {"p1": [0.0, 0.0], "p2": [0.0, -radius], "p3": [0.0, radius]}
    return {"type": "drawing", "points": points, "curves": [{"id": "c1", "type": "arc", "center": "p1", "start": "p2", "end": "p3"}], "next": 20}


def mirrored(*stands: tuple[float, dict[str, Any]], between: str = "smooth", **more: Any) -> Document:
    """A loft through halves on the side where x is positive, mirrored in the plane x = 0."""
    document = lofted(*stands, between=between)
    raw = document.model_dump(mode="json")
    raw["steps"].insert(0, {"id": "station-50", "kind": "station", "name": "Middle", "params": {"plane": "side"}})
    raw["steps"][-1]["params"] |= {"mirrored": {"step": "station-50"}, "skin": "fair", **more}
    return Document.model_validate({**raw, "next": 60})


def loft_of(document: Document) -> Any:
    return next(found for step, found in built(document).items() if step.startswith("loft-"))


def volume(document: Document) -> float:
    found = loft_of(document)
    assert found.state.value == "ready", [f.title for f in found.findings]
    return float(found.result.measures.volume)


def codes(document: Document) -> set[str]:
    return {finding.code for finding in findings(document)}


def hull(width: float, depth: float) -> dict[str, Any]:
    """A half that leaves the plane squarely at its keel and at its deck."""
    return spline((0.0, -depth), (0.8 * width, -0.7 * depth), (width, 0.0), (0.0, 0.35 * depth), handles={0: 0.0, 3: 180.0})


def test_half_circles_and_their_images_are_a_cylinder() -> None:
    document = mirrored((0, half_circle(20)), (100, half_circle(20)), between="straight")
    assert_close(volume(document), pi * 400 * 100, within=1e-6 * pi * 400 * 100)
    names = [face.name for face in loft_of(document).result.faces]
    assert len(names) == 3  # one wall without a seam at the plane, and two ends


def test_half_a_box_is_a_box_whose_sides_are_told_apart() -> None:
    document = mirrored((0, chain((0, -10), (30, -10), (30, 10), (0, 10))), (50, chain((0, -10), (30, -10), (30, 10), (0, 10))), between="straight")
    assert_close(volume(document), 60 * 20 * 50, within=1e-6)
    names = {face.name for face in loft_of(document).result.faces}
    # bottom and top go straight through the plane
    assert len(names) == 6


def test_a_smooth_half_goes_through_the_plane_with_its_curvature() -> None:
    document = mirrored((0, hull(30, 20)), (60, hull(42, 26)), (140, hull(38, 24)), (200, hull(20, 16)))
    body = loft_of(document).result
    met = [seam for seam in seams(body) if not seam.section and seam.faces[0] == seam.faces[1]]
    assert len(met) == 1, "the wall closes in the plane"
    assert met[0].grade == 2
    assert met[0].angle <= 0.05
    assert met[0].jump is not None
    assert met[0].jump <= 0.02


def test_across_the_plane_of_the_mirror_it_is_read() -> None:
    """Squarely it bends alike on both sides, as the kernel of the report says; where a half leans it is an edge, or a crease inside the face."""
    square = mirrored((0, hull(30, 20)), (60, hull(42, 26)), (140, hull(38, 24)))
    told = [seam for seam in seams(loft_of(square).result) if seam.name == "station-50"]
    assert told
    assert all(seam.grade == 2 for seam in told)
    assert all(abs(seam.worst[0]) < 1e-6 for seam in told)


def test_a_pointed_hull_is_one_piece_along_its_sheer() -> None:
    """Feet beside a narrow tip are found on the side where the edge runs, not across the keel."""
    sheer = chain((0, -20), (24, -14), (30, 6), (0, 9))
    document = mirrored((0, {"type": "point"}), (300, sheer), (2400, sheer), (2700, {"type": "point"}))
    edges = [seam for seam in seams(loft_of(document).result) if not seam.section]
    assert len(edges) >= 4
    assert all(seam.grade is not None for seam in edges)
    assert max(seam.gap for seam in edges) < 1e-6


@given(st.lists(st.tuples(st.floats(12, 40), st.floats(10, 30)), min_size=2, max_size=4))
@settings(max_examples=times(6, 80), deadline=None)
def test_the_body_is_its_own_mirror_image(sizes: list[tuple[float, float]]) -> None:
    document = mirrored(*((50.0 * i, hull(w, d)) for i, (w, d) in enumerate(sizes)))
    body = loft_of(document).result
    assert_close(body.measures.center[0], 0.0, within=1e-6)
    assert_close(body.measures.low[0], -body.measures.high[0], within=1e-6)
    points = np.concatenate(
        [f.surface.grid(np.linspace(*f.surface.u.domain, 41), np.linspace(*f.surface.v.domain, 9)).reshape(-1, 3) for f in body.skins[0].faces]
    )
    fine = np.concatenate(
        [f.surface.grid(np.linspace(*f.surface.u.domain, 1201), np.linspace(*f.surface.v.domain, 9)).reshape(-1, 3) for f in body.skins[0].faces]
    )
    for p in points[::37]:
        assert np.linalg.norm(fine - p * [-1, 1, 1], axis=1).min() < 0.15


def test_a_half_that_leans_is_told_and_squared() -> None:
    leaning = spline((0.0, -20.0), (24.0, -14.0), (30.0, 0.0), (0.0, 7.0), handles={0: 4.0, 3: 180.0})
    document = mirrored((0, leaning), (80, hull(30, 20)))
    told = [finding for finding in findings(document) if finding.code == "half-leans"]
    assert [finding.severity for finding in told] == [Severity.WARNING]
    assert "4°" in told[0].title
    assert told[0].where is not None
    assert_close(told[0].where.points, [[0.0, -20.0, 0.0]], within=1e-9)
    squared = apply_edits(document, told[0].fixes[0].edits)
    assert "half-leans" not in codes(squared)
    assert volume(squared) > 0


@pytest.mark.parametrize("turned", [0.0, 180.0])
def test_a_half_drawn_turned_on_its_station_is_squared_as_it_lies(turned: float) -> None:
    leaning = spline((0.0, -20.0), (24.0, -14.0), (30.0, 0.0), (0.0, 7.0), handles={0: 5.0, 3: 176.0})
    turns = [set_param(section, "turn", to=turned) for section in ("section-2", "section-4")]
    document = apply_edits(mirrored((0, leaning), (80, leaning)), turns)
    told = [finding for finding in findings(document) if finding.code == "half-leans"]
    assert len(told) == 2
    squared = apply_edits(document, [edit for finding in told for edit in finding.fixes[0].edits])
    assert "half-leans" not in codes(squared)


def test_a_v_bottom_is_a_ridge_that_is_meant() -> None:
    document = mirrored((0, chain((0, -12), (30, 0), (30, 10), (0, 10))), (80, chain((0, -16), (40, 0), (40, 10), (0, 10))), between="straight")
    told = [finding for finding in findings(document) if finding.code == "half-leans"]
    assert told
    assert all(finding.severity is Severity.NOTE for finding in told)
    assert_close(float(told[0].title.split("plane ")[1].split("°")[0]), degrees(np.arctan2(12, 30)), within=0.06)
    level = told[0].fixes[0]
    assert volume(document) > volume(apply_edits(document, level.edits)) > 0


def test_a_gap_at_the_plane_is_told_and_closed() -> None:
    document = mirrored((0, chain((0.4, -10), (30, -10), (30, 10), (0, 10))), (50, chain((0, -10), (30, -10), (30, 10), (0, 10))), between="straight")
    told = [finding for finding in findings(document) if finding.code == "half-off-plane"]
    assert len(told) == 1
    assert "0.4 mm" in told[0].title
    assert_close(told[0].where.points, [[0.4, -10.0, 0.0]], within=1e-9)  # type: ignore[union-attr]
    mended = apply_edits(document, told[0].fixes[0].edits)
    assert_close(volume(mended), 60 * 20 * 50, within=1e-6)


def test_what_closes_by_itself_is_opened_at_the_plane() -> None:
    closed = chain((0, -10), (30, -10), (30, 10), (0, 10))
    closed["curves"].append({"id": "c4", "type": "line", "start": "p4", "end": "p1"})
    document = mirrored((0, closed), (50, closed), between="straight")
    for finding in [f for f in findings(document) if f.code == "half-closed"]:
        document = apply_edits(document, finding.fixes[0].edits)
    assert "half-closed" not in codes(document)
    assert_close(volume(document), 60 * 20 * 50, within=1e-6)


def test_a_circle_is_no_half_and_that_is_told() -> None:
    document = mirrored((0, circle(20.0)), (50, circle(20.0)))
    told = [finding for finding in findings(document) if finding.code == "half-closed"]
    assert len(told) == 2
    assert [fix.label for fix in told[0].fixes] == ["Don't mirror it"]
    assert loft_of(apply_edits(document, told[0].fixes[0].edits)).result.closed


def test_what_goes_beyond_the_plane_is_refused_with_its_place() -> None:
    document = mirrored((0, chain((0, -10), (-4, 0), (30, 10), (0, 12))), (50, chain((0, -10), (30, -10), (30, 10), (0, 10))), between="straight")
    told = [finding for finding in findings(document) if finding.code == "half-beyond"]
    assert len(told) == 1
    assert_close(told[0].where.points[0][0], -4.0, within=1e-9)  # type: ignore[union-attr]
    alone = apply_edits(document, told[0].fixes[0].edits)
    assert "half-beyond" not in codes(alone)
    assert not loft_of(alone).result.closed  # halves by themselves are a sheet


def test_a_station_that_leans_against_the_plane_is_told() -> None:
    document = mirrored((0, hull(30, 20)), (80, hull(30, 20)))
    place = {"type": "turned", "station": {"step": "station-1"}, "direction": 90.0, "angle": 12.0}
    leaning = apply_edits(document, [set_param("station-3", "place", to=place), set_param("station-3", "offset", to=80.0)])
    across = apply_edits(leaning, [set_param("station-3", "place", "direction", to=0.0)])
    assert "half-askew" in codes(leaning) | codes(across)
    assert not {"half-askew"} <= codes(leaning) & codes(across)
    wrong = leaning if "half-askew" in codes(leaning) else across
    told = next(finding for finding in findings(wrong) if finding.code == "half-askew")
    assert "half-askew" not in codes(apply_edits(wrong, told.fixes[0].edits))


def test_pointed_ends_lie_in_the_plane() -> None:
    tip = {"type": "point"}
    document = mirrored((0, tip), (60, hull(30, 20)), (140, hull(30, 20)), (200, tip))
    assert volume(document) > 0
    aside = apply_edits(document, [set_param("section-2", "at", to=[5.0, 0.0])])
    assert "half-off-plane" in codes(aside)


def test_a_rail_of_one_half_guides_both() -> None:
    sheer = {"type": "spline", "points": [{"at": [30.0, 10.0, 0.0]}, {"at": [44.0, 10.0, 50.0]}, {"at": [30.0, 10.0, 100.0]}]}
    keel = {"type": "spline", "points": [{"at": [0.0, -10.0, 0.0]}, {"at": [0.0, -18.0, 50.0]}, {"at": [0.0, -10.0, 100.0]}]}
    box = chain((0, -10), (30, -10), (30, 10), (0, 10))
    raw = mirrored((0, box), (100, box)).model_dump(mode="json")
    for number, shape in ((51, sheer), (52, keel)):
        raw["steps"].insert(0, {"id": f"rail-{number}", "kind": "rail", "name": f"Rail {number}", "params": {"shape": shape}})
    raw["steps"][-1]["params"]["rails"] = [{"step": "rail-51"}, {"step": "rail-52"}]
    body = loft_of(Document.model_validate(raw)).result
    assert_close(body.measures.low[0], -body.measures.high[0], within=1e-6)
    edges = np.concatenate([face.surface.grid(np.linspace(*face.surface.u.domain, 201), np.array([0.5]))[:, 0] for face in body.skins[0].faces])
    for corner in ((44.0, 10.0), (-44.0, 10.0), (0.0, -18.0)):
        assert np.linalg.norm(edges - [*corner, 50.0], axis=1).min() < 0.1
        way = np.linalg.norm(edges[:, :2] - corner, axis=1).argmin()
        assert_close(edges[way][2], 50.0, within=1e-3)
    raw["steps"][1]["params"]["shape"]["points"][0]["at"] = [30.4, 10.0, 0.0]
    told = [finding for finding in findings(Document.model_validate(raw)) if finding.code == "rail-missed"]
    assert len(told) == 1
    assert "Rail 51" in told[0].title


def test_a_twist_is_told_and_taken_away() -> None:
    document = mirrored((0, hull(30, 20)), (80, hull(30, 20)), twist={"type": "linear", "start": 0.0, "end": 20.0})
    told = next(finding for finding in findings(document) if finding.code == "half-twisted")
    assert "half-twisted" not in codes(apply_edits(document, told.fixes[0].edits))


def test_half_of_an_outline_alone_is_told_and_needs_no_mending() -> None:
    document = mirrored((0, hull(30, 20)), (80, hull(30, 20)))
    assert not codes(document)
    alone = apply_edits(document, [set_param("loft-5", "mirrored", to=None)])
    [told] = [finding for finding in findings(alone) if finding.code == "sheet"]
    again, closed = (apply_edits(alone, fix.edits) for fix in told.fixes)
    assert_close(volume(again), volume(document), within=1e-9 * volume(document))
    assert "sheet" not in codes(closed)
    assert volume(closed) > 0


def test_a_section_that_was_cut_from_the_whole_skin_changes_nothing() -> None:
    document = mirrored((0, hull(30, 20)), (60, hull(42, 26)), (140, hull(38, 24)))
    edits = cut_edits(document, list(built(document).values()), "loft-7", 100.0)
    cut = apply_edits(document, edits)
    assert len(cut.step("loft-7").params["sections"]) == 4  # type: ignore[union-attr]
    assert_close(volume(cut), volume(document), within=1e-6 * volume(document))


def test_a_half_is_copied_linked_and_scaled() -> None:
    box = chain((0, -10), (30, -10), (30, 10), (0, 10))
    document = mirrored((0, box), (50, {"type": "copied", "section": {"step": "section-2"}, "scale": 0.5}), between="straight")
    full, half = 60 * 20, 30 * 10
    assert_close(volume(document), 50 * (full + half + (full * half) ** 0.5) / 3, within=1e-6)
