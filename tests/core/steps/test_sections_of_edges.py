"""Sections that are a closed loop of edges in a plane, whatever faces meet there, on stations that lie in it."""

from __future__ import annotations

from math import pi
from typing import Any

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, lofted, set_param
from wander.core.bodies.body import of_shells
from wander.core.bodies.edge_runs import plane_loop
from wander.core.design.apply import apply_edits
from wander.core.document.document import Document
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.frame import BASE_FRAMES, turned_about
from wander.core.shaping.loft import Between, loft
from wander.core.shaping.section import PlacedSection

SQUARE = {"type": "rectangle", "width": 40.0, "depth": 24.0}


def on_loop(*below: tuple[float, dict[str, Any]], at: float, place: dict[str, Any] | None = None) -> Document:
    """A straight body, a station in the loop of edges that lies at a height, the section that goes round there, and a body on from it."""
    plain = lofted(*below, between="straight")
    loft = plain.steps[-1].id
    edges = built(plain)[loft].result.edges
    part = next(edge.name for edge in edges if abs(edge.curve.points[:, 2] - at).max() < 1e-6)
    edge = {"step": loft, "part": part}
    raw = plain.model_dump(mode="json")
    raw["steps"] += [
        {"id": "station-90", "kind": "station", "name": "Loop", "params": place or {"place": {"type": "loop", "edge": edge}}},
        {
            "id": "section-91",
            "kind": "section",
            "name": "Rim",
            "params": {"station": {"step": "station-90"}, "shape": {"type": "edges", "edge": edge}},
        },
        {"id": "station-92", "kind": "station", "name": "Far", "params": {"plane": "top", "offset": 200.0}},
        {"id": "section-93", "kind": "section", "name": "Top", "params": {"station": {"step": "station-92"}, "shape": circle(30)}},
    ]
    sections = [{"section": {"step": "section-91"}}, {"section": {"step": "section-93"}}]
    raw["steps"].append({"id": "loft-94", "kind": "loft", "name": "Neck", "params": {"sections": sections, "between": "straight"}})
    return Document.model_validate({**raw, "next": 99})


def test_an_edge_between_two_round_faces_is_a_section_and_followed() -> None:
    document = on_loop((0, circle(50)), (60, circle(36)), (100, circle(20)), at=60)
    assert_close(built(document)["section-91"].summary.area, pi * 18**2, within=1e-4)  # type: ignore[union-attr]
    assert_close(built(document)["station-90"].result.origin, [0.0, 0.0, 60.0], within=1e-6)
    assert_close(built(document)["loft-94"].result.measures.volume, pi * 140 * (18**2 + 18 * 15 + 15**2) / 3, within=1.0)
    moved = apply_edits(document, [set_param("section-4", "shape", "diameter", to=44.0), set_param("station-3", "offset", to=70.0)])
    assert_close(built(moved)["section-91"].summary.area, pi * 22**2, within=1e-4)  # type: ignore[union-attr]
    assert_close(built(moved)["station-90"].result.origin[2], 70.0, within=1e-6)


@pytest.mark.parametrize("at", [0.0, 30.0])
def test_of_straight_edges_those_that_go_round_more_than_one_face_are_meant(at: float) -> None:
    """At 30 only one loop of four goes round the body; at the end every loop goes round one face, and the shortest is that of a short side."""
    wide = {"type": "rectangle", "width": 50.0, "depth": 30.0}
    document = on_loop((0, SQUARE), (30, wide), (60, SQUARE), at=at)
    summary = built(document)["section-91"].summary
    if at:
        assert_close(summary.area, 50 * 30, within=1e-6)  # type: ignore[union-attr]
        assert len(built(document)["section-91"].result.placed.loop.corners) == 4
    else:
        assert_close(summary.area, (24 + 30) / 2 * np.hypot(30, 5), within=1e-6)  # type: ignore[union-attr]


def test_an_edge_that_closes_to_no_loop_is_told_at_its_place_and_mended() -> None:
    """A slanting edge of a body whose sides are twisted."""
    turned = {"type": "polygon", "sides": 3, "across": 30.0}
    plain = lofted((0, turned), (50, circle(40)), between="straight")
    body = built(plain)["loft-5"].result
    slanting = next(edge.name for edge in body.edges if abs(edge.curve.points[0, 2] - edge.curve.points[-1, 2]) > 1)
    raw = plain.model_dump(mode="json")
    place = {"type": "loop", "edge": {"step": "loft-5", "part": slanting}}
    raw["steps"].append({"id": "station-90", "kind": "station", "name": "Loop", "params": {"place": place}})
    document = Document.model_validate({**raw, "next": 99})
    told = next(finding for finding in findings(document) if finding.code == "no-loop")
    assert told.where is not None
    mended = apply_edits(document, told.fixes[0].edits)
    assert "no-loop" not in [finding.code for finding in findings(mended)]


def test_a_loop_at_an_angle_to_its_station_is_told_and_the_station_put_into_it() -> None:
    askew = {"place": {"type": "turned", "station": {"step": "station-3"}, "direction": 0.0, "angle": 20.0}}
    document = on_loop((0, circle(50)), (60, circle(36)), (100, circle(20)), at=60, place=askew)
    told = next(finding for finding in findings(document) if finding.code == "edges-askew")
    mended = apply_edits(document, told.fixes[0].edits)
    assert "edges-askew" not in [finding.code for finding in findings(mended)]
    assert_close(built(mended)["section-91"].summary.area, pi * 18**2, within=1e-4)  # type: ignore[union-attr]
    own = apply_edits(document, told.fixes[1].edits)
    assert built(own)["section-91"].summary.shape == "circle"  # type: ignore[union-attr]


@pytest.mark.parametrize("shape", [shapes.circle(36.0), shapes.rectangle(40.0, 24.0)])
def test_the_plane_of_a_loop_turns_with_its_body_and_never_over(shape: Loop) -> None:
    """All the way round about x, in steps of ten degrees: what was drawn in the plane would jump with it."""
    before = None
    for angle in np.radians(np.arange(0, 361, 10)):
        base = turned_about(BASE_FRAMES["top"], np.zeros(3), np.array([1.0, 0.3, 0.0]), float(angle))
        sections = [PlacedSection(base.moved(z), shape.transformed(np.eye(2) * scale, np.zeros(2))) for z, scale in ((0, 1.2), (30, 1.5), (60, 1.0))]
        body = of_shells((loft(sections, ["a", "b", "c"], name="loft-1", between=Between.STRAIGHT).shell,))
        edge = next(one for one in body.edges if abs((one.curve.points - base.origin) @ base.z - 30).max() < 1e-6)
        run, frame = plane_loop(body, edge)
        assert len(run) == max(1, len(shape.corners))
        assert_close(frame.origin, base.origin + 30 * base.z, within=1e-6)
        own = np.stack([frame.x, frame.z]) @ np.stack([base.x, base.y, base.z], axis=1)
        if before is not None:
            assert_close(own, before, within=1e-9)
        before = own
