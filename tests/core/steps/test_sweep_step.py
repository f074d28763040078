"""Sweeps as steps: closed forms from a document, changes that are followed, and every finding with its repair."""

from __future__ import annotations

from itertools import pairwise
from math import pi
from typing import Any

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, set_param
from wander.core.design.apply import apply_edits
from wander.core.document.document import Document
from wander.core.document.findings import Finding, Severity
from wander.core.geometry.curve import Curve

BAR = {"type": "rectangle", "width": 8.0, "depth": 6.0}
CIRCLE_TWICE = {"p1": [0, 0]}


def line(*points: Any, closed: bool = False, sharp: bool = False) -> dict[str, Any]:
    return {"type": "spline", "points": [{"at": list(p), "sharp": sharp} for p in points], "closed": closed}


def pipe(outer: float, inner: float) -> dict[str, Any]:
    found: dict[str, Any] = {"type": "drawing", "points": CIRCLE_TWICE, "use": ["c1"], "next": 9}
    found["curves"] = [{"id": f"c{i}", "type": "circle", "center": "p1", "radius": r} for i, r in enumerate((outer, inner), start=1)]
    return found


def along(shape: dict[str, Any], path: dict[str, Any], plane: str = "top", **params: Any) -> Document:
    steps = [
        {"id": "station-1", "kind": "station", "name": "Place", "params": {"plane": plane}},
        {"id": "section-2", "kind": "section", "name": "Profile", "params": {"station": {"step": "station-1"}, "shape": shape}},
        {"id": "rail-3", "kind": "rail", "name": "Way", "params": {"station": {"step": "station-1"}, "shape": path}},
        {
            "id": "sweep-4",
            "kind": "sweep",
            "name": "Rim",
            "params": {"section": {"step": "section-2"}, "path": {"step": "rail-3"}, **params},
        },
    ]
    return Document.model_validate({"format": "wander-design/1", "name": "Trial", "steps": steps, "next": 5})


def measured(document: Document, step: str = "sweep-4") -> Any:
    found = built(document)[step]
    assert not [f for f in found.findings if f.severity is Severity.ERROR], found.findings
    return found.summary


def the(code: str, document: Document) -> Finding:
    return next(f for f in findings(document) if f.code == code)


def mended(code: str, document: Document, number: int = 0) -> Document:
    after = apply_edits(document, the(code, document).fixes[number].edits)
    assert code not in {f.code for f in findings(after)}
    return after


HELIX = {"type": "helix", "radius": 40.0, "rise": 0.0, "turns": 1.0}
U = line((0, 0, 0), (60, 0, 0), (60, 50, 0), (0, 50, 0), sharp=True)


def test_a_ring_and_a_coil() -> None:
    assert_close(measured(along(circle(10.0), HELIX)).volume, 2 * pi**2 * 40 * 25, within=1e-6, relative=True)
    coil = along(circle(10.0), {**HELIX, "rise": 50.0, "turns": 2.0})
    assert_close(measured(coil).volume, 25 * pi * np.hypot(50, 160 * pi), within=1e-4, relative=True)


def test_a_mitred_frame_follows_its_section_and_its_path() -> None:
    document = along(BAR, U)
    assert_close(measured(document).volume, 48 * 170, within=1e-9, relative=True)
    wider = apply_edits(document, [set_param("section-2", "shape", "width", to=9.0)])
    assert_close(measured(wider).volume, 54 * 170, within=1e-9, relative=True)
    longer = apply_edits(
        document, [set_param("rail-3", "shape", "points", 1, "at", to=[70, 0, 0]), set_param("rail-3", "shape", "points", 2, "at", to=[70, 50, 0])]
    )
    assert_close(measured(longer).volume, 48 * 190, within=1e-9, relative=True)
    names = [face.name for face in built(document)["sweep-4"].result.faces]
    assert len(names) == len(set(names)) == 14


def test_the_run_is_that_of_the_path() -> None:
    coil = along(
        circle(10.0), {**HELIX, "rise": 50.0}, twist={"type": "linear", "start": 0.0, "end": 90.0}, width={"type": "linear", "start": 1.0, "end": 2.0}
    )
    summary = measured(coil)
    assert_close(summary.line[-1].at, np.hypot(50, 80 * pi), within=1e-6, relative=True)
    area = np.array([a for a in summary.lanes.area if a is not None])
    share = np.array([at for at, a in zip(summary.lanes.at, summary.lanes.area, strict=True) if a is not None]) / summary.line[-1].at
    assert len(area) > 40
    assert_close(area, 25 * pi * (1 + share) ** 2, within=1e-2, relative=True)
    assert summary.lanes.twist[-1] == pytest.approx(90.0)


def test_hollow_sections_and_what_is_added_to_them_later() -> None:
    solid = along(circle(10.0), U)
    assert_close(measured(solid).volume, 25 * pi * 170, within=1e-6, relative=True)
    hollow = apply_edits(solid, [set_param("section-2", "shape", to=pipe(5.0, 3.0))])
    assert_close(measured(hollow).volume, 16 * pi * 170, within=1e-6, relative=True)


def test_a_bend_that_is_too_tight_is_told_with_its_numbers_and_each_repair_opens_it() -> None:
    bent = line((0, 0, 0), (40, 0, 0), (46, 6, 0), (46, 50, 0))
    document = along(circle(30.0), bent)
    finding = the("path-too-tight", document)
    assert finding.severity is Severity.ERROR
    assert finding.where is not None
    assert len(finding.fixes) == 2, [fix.label for fix in finding.fixes]
    for number in range(len(finding.fixes)):
        after = mended("path-too-tight", document, number)
        assert measured(after).volume > 0


def test_rounded_corners_that_are_too_tight_are_made_wider() -> None:
    document = along(circle(30.0), line((0, 0, 0), (90, 0, 0), (90, 90, 0), sharp=True), corners="rounded", radius=6.0)
    after = mended("path-too-tight", document)
    radius = after.step("sweep-4").params["radius"]  # type: ignore[union-attr]
    assert 15 < radius < 17
    assert_close(measured(after).volume, 225 * pi * (180 - 2 * radius + pi / 2 * radius), within=1e-6, relative=True)


def test_a_corner_beside_a_bend_is_rounded() -> None:
    bend = {"type": "spline", "points": [{"at": [0, 0, 0]}, {"at": [30, 10, 0]}, {"at": [60, 0, 0], "sharp": True}, {"at": [60, 60, 0]}]}
    after = mended("corner-bent", along(circle(6.0), bend))
    assert measured(after).volume > 0


def test_a_piece_too_short_for_its_mitres() -> None:
    back = line((0, 0, 0), (60, 0, 0), (60, 4, 0), (0, 4, 0), sharp=True)
    finding = the("corner-crowded", along(BAR, back))
    assert "4 mm shorter" in finding.detail  # 4 mm are there, and 4 on either side are needed
    assert finding.where is not None
    jog = line((0, 0, 0), (60, 0, 0), (60, 5, 0), (120, 5, 0), sharp=True)
    assert_close(measured(along(circle(12.0), jog)).volume, 36 * pi * 125, within=1e-6, relative=True)
    wide = along(circle(4.0), jog, corners="rounded", radius=20.0)
    assert_close(the("corner-crowded", wide).where.points[0], (60, 0, 0), within=1e-6)  # type: ignore[union-attr]
    assert measured(mended("corner-crowded", wide)).volume > 0


def test_upright_along_a_path_that_runs_straight_up() -> None:
    up = along(BAR, line((0, 0, 0), (0, 0, 50)), attitude="upright")
    assert_close(measured(mended("runs-upright", up)).volume, 48 * 50, within=1e-9, relative=True)


def test_round_a_closed_path_twist_has_to_come_back() -> None:
    turned = along(BAR, HELIX, twist={"type": "linear", "start": 0.0, "end": 30.0})
    after = mended("sweep-not-closed", turned)
    assert_close(measured(after).volume, 2 * pi * 40 * 48, within=1e-6, relative=True)
    whole = apply_edits(turned, [set_param("sweep-4", "twist", "end", to=360.0)])
    assert_close(measured(whole).volume, 2 * pi * 40 * 48, within=1e-3, relative=True)


def test_a_path_along_edges_of_a_body() -> None:
    """A bead round the top of a block: it follows when the block grows."""
    document = along(circle(4.0), line((0, 0, 0), (1, 0, 0)))
    block = {"section": {"step": "section-6"}, "distance": 20.0}
    edge = {"step": "extrude-7", "part": None}
    steps = [
        *(step.model_dump(exclude_none=True) for step in document.steps[:2]),
        {"id": "section-6", "kind": "section", "name": "Plan", "params": {"station": {"step": "station-1"}, "shape": circle(60.0)}},
        {"id": "extrude-7", "kind": "extrude", "name": "Block", "params": block},
    ]
    bare = Document.model_validate({"format": "wander-design/1", "name": "Trial", "steps": steps, "next": 9})
    top = next(e for e in built(bare)["extrude-7"].result.edges if "far" in e.name)
    edge["part"] = top.name
    steps += [
        {"id": "rail-3", "kind": "rail", "name": "Way", "params": {"shape": {"type": "edges", "edge": edge, "loop": True}}},
        {"id": "sweep-4", "kind": "sweep", "name": "Bead", "params": {"section": {"step": "section-2"}, "path": {"step": "rail-3"}}},
    ]
    whole = Document.model_validate({"format": "wander-design/1", "name": "Trial", "steps": steps, "next": 9})
    assert_close(measured(whole).volume, 2 * pi**2 * 30 * 4, within=1e-6, relative=True)
    grown = apply_edits(whole, [set_param("section-6", "shape", "diameter", to=80.0)])
    assert_close(measured(grown).volume, 2 * pi**2 * 40 * 4, within=1e-6, relative=True)


def test_an_open_outline_makes_a_sheet() -> None:
    """A channel of three sides round a mitred corner, and a bead of an arc round a circle: areas by Pappus."""
    channel: dict[str, Any] = {"type": "drawing", "points": {"p1": [-5, 8], "p2": [-5, 0], "p3": [5, 0], "p4": [5, 8]}, "next": 9}
    channel["curves"] = [{"id": f"c{i}", "type": "line", "start": f"p{i}", "end": f"p{i + 1}"} for i in (1, 2, 3)]
    # riding on the middle of its length
    summary = measured(along(channel, U, rides="point", point=[0, 64 / 26]))
    assert not summary.closed
    assert_close(summary.area, 26 * 170, within=1e-6, relative=True)
    flat = {**channel, "points": {"p1": [-5, 0], "p2": [5, 0]}, "curves": [{"id": "c1", "type": "line", "start": "p1", "end": "p2"}]}
    assert_close(measured(along(flat, HELIX)).area, 2 * pi * 40 * 10, within=1e-6, relative=True)
    names = [face.name for face in built(along(channel, U))["sweep-4"].result.faces]
    assert len(set(names)) == len(names) == 9


def drawn_path(*corners: tuple[float, float], names: str) -> dict[str, Any]:
    """A line chain; names: of its lines, in their order, as digits."""
    found: dict[str, Any] = {"type": "drawing", "points": {f"p{i}": list(at) for i, at in enumerate(corners, start=1)}, "next": 30}
    found["curves"] = [{"id": f"c{n}", "type": "line", "start": f"p{i}", "end": f"p{i + 1}"} for i, n in enumerate(names, start=1)]
    return found


def test_faces_keep_their_names_when_the_path_gets_another_piece_before_them() -> None:
    before = along(BAR, drawn_path((0, 0), (60, 0), (60, 50), names="45"))
    after = along(BAR, drawn_path((-40, 40), (0, 0), (60, 0), (60, 50), names="645"))

    def last(document: Document) -> dict[str, Any]:
        return {face.name: face.surface.points[:, -1].mean(axis=0) for face in built(document)["sweep-4"].result.faces if face.name.endswith("^c5")}

    assert len(last(before)) == 4
    assert last(before).keys() == last(after).keys()
    for name, place in last(before).items():
        assert_close(place, last(after)[name], within=1e-9)


def on_a_cylinder(path: dict[str, Any], face: str = "extrude-6/5.c1", **params: Any) -> Document:
    """Round a post of 80: the bar stands on its flank."""
    document = along(BAR, path, rides="point", point=[0, -3], attitude="surface", surface={"step": "extrude-6", "part": face}, **params)
    post = [
        {"id": "section-5", "kind": "section", "name": "Post", "params": {"station": {"step": "station-1"}, "shape": circle(80.0)}},
        {"id": "extrude-6", "kind": "extrude", "name": "Column", "params": {"section": {"step": "section-5"}, "distance": 60.0}},
    ]
    steps = [step.model_dump() for step in document.steps]
    return Document.model_validate({**document.model_dump(), "steps": [*steps[:3], *post, *steps[3:]], "next": 7})


def flank_of(document: Document) -> str:
    return max(built(document)["extrude-6"].result.faces, key=lambda face: face.surface is not None).name


def test_a_thread_stands_up_from_the_flank_that_it_runs_round() -> None:
    coil = {**HELIX, "rise": 50.0}
    document = on_a_cylinder(coil, flank_of(on_a_cylinder(coil)))
    p = 50 / (2 * pi)
    # each piece of the way of the middle of the bar, along the way of the path (Pappus): its radius is 43, that of the path 40
    assert_close(measured(document).volume, 48 * 2 * pi * (43 * 40 + p * p) / np.hypot(40, p), within=1e-5, relative=True)
    # its top is 46 from the axis all the way
    points = np.concatenate(
        [
            face.surface.grid(np.linspace(0, 1, 9), np.linspace(0, 1, 65)).reshape(-1, 3)
            for face in built(document)["sweep-4"].result.faces
            if face.surface
        ]
    )
    assert_close(np.hypot(points[:, 0], points[:, 1]).max(), np.hypot(46, 4 * p / np.hypot(40, p)), within=2e-2)


def test_a_section_that_stands_up_from_nothing_is_told() -> None:
    coil = {**HELIX, "rise": 50.0}
    nowhere = along(BAR, coil, attitude="surface")
    mended("no-surface", nowhere)
    flank = flank_of(on_a_cylinder(coil))
    inwards = on_a_cylinder(line((80, 0, 20), (60, 0, 20), (20, 0, 20)), flank)
    mended("runs-into-surface", inwards)
    lost = on_a_cylinder(coil, "extrude-6/5.c9")
    assert the("broken-reference", lost).fixes


def test_corners_that_nobody_meant_leave_no_edge() -> None:
    """The second line turns by 0.02 / 50, the third by a real corner, which stays."""
    shape = line((0, 0, 0), (50, 0, 0), (100, 0.02, 0), (100, 60, 0), sharp=True)
    document = along(BAR, shape)
    told = the("corners-merged", document)
    assert told.severity is Severity.NOTE
    assert [tuple(round(x, 6) for x in place) for place in told.where.points] == [(50.0, 0.0, 0.0)]  # type: ignore[union-attr]
    across = [edge.curve(np.array([0.0, 0.5, 1.0]))[:, 0] for edge in built(document)["sweep-4"].result.edges]
    assert not [x for x in across if np.abs(x - 50).max() < 0.01]
    assert_close(measured(document).volume, 48 * (50 + np.hypot(50, 0.02) + 59.98), within=1e-5, relative=True)
    # a bend that is meant is a corner, however small it looks
    meant = apply_edits(document, [set_param("rail-3", "shape", "points", 2, "at", to=[100, 0.2, 0])])
    assert "corners-merged" not in {f.code for f in findings(meant)}
    across = [edge.curve(np.array([0.0, 0.5, 1.0]))[:, 0] for edge in built(meant)["sweep-4"].result.edges]
    assert len([x for x in across if np.abs(x - 50).max() < 0.1]) == 4


@pytest.mark.parametrize("steps", [1, 2, 5])
def test_stepped_corners_are_mitres_round_an_arc(steps: int) -> None:
    """Each straight touches the arc: a quarter turn is 2 n r tan(45 / n degrees) long. One step is the corner itself."""
    document = along(BAR, U, corners="stepped", radius=12.0, steps=steps)
    way = 170 - 2 * 2 * 12 + 2 * 2 * steps * 12 * np.tan(pi / 4 / steps)
    assert_close(measured(document).volume, 48 * way, within=1e-9, relative=True)
    # three straights, and between them at each corner one less than there are steps
    assert len(built(document)["sweep-4"].result.faces) == (3 + 2 * (steps - 1)) * 4 + 2
    round_ = apply_edits(document, [set_param("sweep-4", "corners", to="rounded")])
    assert_close(measured(round_).volume, 48 * (170 - 2 * 2 * 12 + 12 * pi), within=1e-6, relative=True)


def carried_round(curve: Curve) -> float:
    """By how much a vector comes back turned that is carried from chord to chord with the least turn each, degrees: by brute force."""
    points = curve(np.linspace(0, 1, 20001))
    ways = np.diff(points, axis=0)
    ways = np.concatenate([ways, ways[:1]]) / np.linalg.norm(np.concatenate([ways, ways[:1]]), axis=1)[:, None]
    first = np.cross(ways[0], (0, 0, 1))
    vector = first = first / np.linalg.norm(first)
    for before, after in pairwise(ways):
        axis = np.cross(before, after)
        vector = vector + np.cross(axis, vector) + np.cross(axis, np.cross(axis, vector)) / (1 + before @ after)
    return float(np.degrees(np.arctan2(np.cross(first, vector) @ ways[0], first @ vector)))


def test_what_a_section_is_turned_back_by_round_a_closed_path_is_told() -> None:
    bent = line((40, 0, 0), (0, 30, 14), (-40, 0, -6), (0, -30, 20), closed=True)
    document = along(BAR, bent)
    told = the("turned-back", document)
    assert told.severity is Severity.NOTE
    expected = abs(carried_round(built(document)["rail-3"].result.curve))
    assert expected > 0.3
    assert abs(float(told.title.split("by ")[1].rstrip("°")) - expected) < 0.01 * expected
    upright = mended("turned-back", document)
    assert not findings(upright)
    # in a plane nothing comes back turned
    assert not findings(along(BAR, HELIX))


def test_along_several_paths_at_once() -> None:
    """The same bar along three paths, one of them closed: a body of three pieces, that follow one section."""
    document = along(BAR, U)
    more = [
        {"id": f"rail-{number}", "kind": "rail", "name": f"Way {number}", "params": {"station": {"step": "station-1"}, "shape": path}}
        for number, path in ((5, line((0, 0, 90), (70, 0, 90))), (6, {**HELIX, "center": [0, 300]}))
    ]
    steps = [step.model_dump() for step in document.steps]
    steps[-1]["params"]["also"] = [{"step": "rail-5"}, {"step": "rail-6"}]
    document = Document.model_validate({**document.model_dump(), "steps": [*steps[:3], *more, steps[-1]], "next": 7})
    assert_close(measured(document).volume, 48 * (170 + 70 + 80 * pi), within=1e-6, relative=True)
    body = built(document)["sweep-4"].result
    assert len(body.skins) == 3
    names = [face.name for face in body.faces]
    assert len(names) == len(set(names))
    wider = apply_edits(document, [set_param("section-2", "shape", "width", to=9.0)])
    assert_close(measured(wider).volume, 54 * (170 + 70 + 80 * pi), within=1e-6, relative=True)
    tight = apply_edits(document, [set_param("section-2", "shape", "width", to=90.0)])
    assert {f.code for f in findings(tight)} & {"path-too-tight", "corner-crowded"}
