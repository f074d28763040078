"""Turned rails as steps: closed forms from a document, changes that are followed, and every finding with its repair."""

from __future__ import annotations

from math import cos, pi, sin
from typing import Any

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, set_param
from tests.core.steps.test_sweep_step import line, mended, the
from wander.core.design.apply import apply_edits
from wander.core.document.document import Document
from wander.core.document.findings import Severity

ELLIPSE = {"type": "ellipse", "width": 40.0, "depth": 20.0}


def turning(path: dict[str, Any], shape: dict[str, Any] = ELLIPSE, **params: Any) -> Document:
    steps = [
        {"id": "station-1", "kind": "station", "name": "Mouth", "params": {"plane": "top"}},
        {"id": "section-2", "kind": "section", "name": "Rim", "params": {"station": {"step": "station-1"}, "shape": shape}},
        {"id": "rail-3", "kind": "rail", "name": "Side", "params": {"shape": path}},
        {"id": "turn-4", "kind": "turn", "name": "Lip", "params": {"rail": {"step": "rail-3"}, **params}},
    ]
    return Document.model_validate({"format": "wander-design/1", "name": "Trial", "steps": steps, "next": 5})


def volume(document: Document) -> float:
    summary: Any = built(document)["turn-4"].summary
    return float(summary.volume)


CONE = line((20, 0, 0), (0, 0, 30))
ON = {"first": {"step": "section-2"}}


def test_a_rail_along_a_section_follows_both() -> None:
    document = turning(CONE, **ON)
    assert_close(volume(document), pi * 20 * 10 * 10, within=1e-6, relative=True)
    wider = apply_edits(document, [set_param("section-2", "shape", "depth", to=30.0)])
    assert_close(volume(wider), pi * 20 * 15 * 10, within=1e-6, relative=True)
    higher = apply_edits(document, [set_param("rail-3", "shape", "points", 1, "at", to=[0, 0, 60])])
    assert_close(volume(higher), pi * 20 * 10 * 20, within=1e-6, relative=True)
    plain = apply_edits(document, [set_param("turn-4", "first", to=None)])
    assert_close(volume(plain), pi * 400 * 10, within=1e-6, relative=True)
    names = {face.name for face in built(document)["turn-4"].result.faces}
    assert names == {"turn-4/2.outline", "turn-4/near"}


def test_pinched_at_the_axis_it_is_said_and_can_be_made_smooth() -> None:
    document = turning(line((20, 0, 0), (16, 0, 20), (0, 0, 30)), **ON)
    told = the("pole-pinched", document)
    assert told.severity is Severity.NOTE
    assert_close(told.where.points[0], (0, 0, 30), within=1e-6)  # type: ignore[union-attr]
    smooth = mended("pole-pinched", document)
    assert volume(smooth) > volume(document)
    assert not findings(smooth)


def test_an_end_beside_its_section_is_told_and_moved_onto_it() -> None:
    document = turning(line((22.5, 0, 0), (0, 0, 30)), **ON)
    told = the("rail-off-section", document)
    assert "2.5 mm" in told.title
    after = mended("rail-off-section", document)
    assert_close(volume(after), pi * 20 * 10 * 10, within=1e-6, relative=True)
    mended("rail-off-section", document, 1)


def test_what_can_not_be_turned_is_told() -> None:
    assert the("rail-leaves-plane", turning(line((10, 0, 0), (10, 6, 20), (10, 0, 40)))).where is not None
    assert the("rail-crosses-axis", turning(line((10, 0, 0), (-8, 0, 30)))).where is not None
    pole = turning(CONE, second={"step": "section-2"})
    assert_close(volume(mended("end-on-axis", pole)), pi * 400 * 10, within=1e-6, relative=True)
    aside = turning(line((20, 0, 0), (10, 0, 30)), {**circle(10.0)}, **ON, second={"step": "section-2"})
    away = apply_edits(aside, [set_param("section-2", "at", to=[30.0, 0.0])])
    mended("no-way-round", away)


HALF: dict[str, Any] = {"type": "drawing", "points": {"p1": [0, 0], "p2": [20, 0], "p3": [-20, 0]}, "next": 9}
HALF["curves"] = [{"id": "c1", "type": "arc", "center": "p1", "start": "p2", "end": "p3"}]


def half(**more: Any) -> Document:
    """A rail along half a circle of 20 in the plane of y = 0, mirrored there."""
    raw = turning(CONE, HALF, **ON).model_dump(mode="json")
    raw["steps"].insert(0, {"id": "station-8", "kind": "station", "name": "Middle", "params": {"plane": "front"}})
    raw["steps"][-1]["params"] |= {"mirrored": {"step": "station-8"}, **more}
    return Document.model_validate({**raw, "next": 20})


def test_half_a_section_is_closed_by_its_mirror_image() -> None:
    document = half()
    assert not [finding for finding in findings(document) if finding.severity is Severity.ERROR]
    assert_close(volume(document), pi * 400 * 10, within=1e-6, relative=True)
    # a section that is half an ellipse, drawn as a spline that leaves the plane squarely
    turn = [pi * k / 8 for k in range(9)]
    spline = {"type": "spline", "points": [[20 * cos(t), 12 * sin(t)] for t in turn], "closed": False}
    oval = apply_edits(document, [set_param("section-2", "shape", to=spline)])
    assert_close(volume(oval), pi * 20 * 12 * 10, within=4e-3, relative=True)
    assert {finding.code for finding in findings(oval)} <= {"half-leans", "pole-pinched"}


def test_a_half_that_is_none_and_a_plane_beside_the_axis_are_told() -> None:
    closed = apply_edits(half(), [set_param("section-2", "shape", to=circle(40.0))])
    mended("half-closed", closed)
    mended("half-beside-axis", half(about=[0.0, 3.0, 0.0]))
    off = apply_edits(half(), [set_param("section-2", "at", to=[0.0, 1.0])])
    assert "1 mm off the plane" in the("half-off-plane", off).title
