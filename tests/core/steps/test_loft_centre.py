"""Lofts along a centre line: the body follows the line, and what keeps it from doing so is told with its repair."""

from __future__ import annotations

from math import cos, pi, sin
from typing import Any

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, set_param
from wander.core.design.apply import apply_edits
from wander.core.design.rebuild import State
from wander.core.document.document import Document
from wander.core.document.findings import Finding, Severity
from wander.core.geometry.quadrature import length

BEND = [{"at": [0, 0, 0], "handle": [0, 0, 44]}, {"at": [80, 0, 80], "handle": [44, 0, 0]}]


def stand(number: int, shape: dict[str, Any], **place: Any) -> list[dict[str, Any]]:
    """A station and a section on it."""
    at = place.pop("at", [0.0, 0.0])
    station, section = f"station-{2 * number - 1}", f"section-{2 * number}"
    return [
        {"id": station, "kind": "station", "name": f"Place {number}", "params": place},
        {"id": section, "kind": "section", "name": f"Rib {number}", "params": {"station": {"step": station}, "shape": shape, "at": at}},
    ]


def lined(stands: list[list[dict[str, Any]]], points: list[dict[str, Any]], *, rail: dict[str, Any] | None = None, **params: Any) -> Document:
    """A loft through the sections in their order, along a line through points."""
    steps = [step for pair in stands for step in pair]
    shape = rail or {"type": "spline", "points": points}
    steps.append({"id": "rail-20", "kind": "rail", "name": "Line", "params": {"shape": shape}})
    sections = [{"section": {"step": pair[1]["id"]}} for pair in stands]
    loft = {"sections": sections, "centre": {"step": "rail-20"}, "skin": "fair", **params}
    steps.append({"id": "loft-21", "kind": "loft", "name": "Duct", "params": loft})
    return Document.model_validate({"format": "wander-design/1", "name": "Trial", "steps": steps, "next": 40})


FIRST = stand(1, circle(30.0), plane="top")
SECOND = stand(2, circle(30.0), plane="side", offset=80.0, at=[0.0, 80.0])


def elbow(**params: Any) -> Document:
    return lined([FIRST, SECOND], BEND, **params)


def u_turn() -> Document:
    """Down the way it came: the last section lies on the plane of the first."""
    points = [{"at": [60 - 60 * cos(turn), 0, 60 * sin(turn)]} for turn in (0.0, pi / 4, pi / 2, 3 * pi / 4, pi)]
    middle = stand(2, circle(20.0), plane="side", offset=60.0, at=[0.0, 60.0])
    return lined([FIRST, middle, stand(3, circle(30.0), plane="top", at=[120.0, 0.0])], points)


def loft_of(document: Document) -> Any:
    return built(document)["loft-21"]


def the(code: str, document: Document) -> Finding:
    return next(f for f in findings(document) if f.code == code)


def test_a_duct_goes_along_its_line_and_follows_what_is_pulled_at_it() -> None:
    document = elbow()
    for handle in (44.0, 36.0):
        document = apply_edits(document, [set_param("rail-20", "shape", "points", 0, "handle", to=[0.0, 0.0, handle])])
        steps = built(document)
        made = steps["loft-21"]
        assert made.state is State.READY
        assert not made.findings
        expected = pi * 15**2 * length(steps["rail-20"].result.curve)
        assert_close(made.result.measures.volume, expected, within=2e-6 * expected)
        assert [one.section for one in made.summary.run] == ["section-2", "section-4"]
        assert_close(made.summary.run[-1].at, length(steps["rail-20"].result.curve), within=1e-6)
        assert_close([one.rate for one in made.summary.run], [1.0, 1.0], within=1e-6)
        # everywhere the section is the circle
        assert_close([a for a in made.summary.lanes.area if a is not None], pi * 15**2 * np.ones(len(made.summary.lanes.area)), within=2e-3)


def test_a_body_may_turn_back_along_its_line() -> None:
    made = loft_of(u_turn())
    assert made.state is State.READY
    assert [finding.code for finding in made.findings] == ["opposed-direction"]  # the plane of the last one looks the other way
    line = built(u_turn())["rail-20"].result.curve
    assert_close([one.at for one in made.summary.run], [0.0, length(line) / 2, length(line)], within=1e-6)
    assert made.summary.run[-1].rate < -0.99  # the plane of the last one looks the other way
    found = dict(zip(made.summary.lanes.at, made.summary.lanes.area, strict=True))
    middle = min(found, key=lambda place: abs(place - length(line) / 2))
    assert_close(found[middle], pi * 10**2, within=0.05)
    # symmetric as it is drawn
    assert_close(made.result.measures.center[0], 60.0, within=0.05)
    without = apply_edits(u_turn(), [set_param("loft-21", "centre", to=None)])
    assert "out-of-order" in [f.code for f in findings(without)]


def test_it_is_the_same_whichever_way_the_line_runs() -> None:
    turned = lined([FIRST, SECOND], [{**p, "handle": [-h for h in p["handle"]]} for p in BEND[::-1]])
    there, back = loft_of(elbow()), loft_of(turned)
    assert_close(back.result.measures.volume, there.result.measures.volume, within=1e-7 * there.result.measures.volume)


def test_a_twist_acts_along_the_line() -> None:
    square = {"type": "rectangle", "width": 24.0, "depth": 24.0}
    stands = [stand(1, square, plane="top"), stand(2, square, plane="side", offset=80.0, at=[0.0, 80.0])]
    twist = {"type": "points", "points": [{"at": 0.0, "value": 0.0}, {"at": 1.0, "value": "90 deg"}]}
    plain, twisted = lined(stands, BEND), lined(stands, BEND, twist=twist)
    volumes = [loft_of(document).result.measures.volume for document in (plain, twisted)]
    # turned about its centroid a section keeps its area, and the body its volume
    assert_close(volumes[1], volumes[0], within=1e-4 * volumes[0])
    far = [np.array(face.surface.points[:, -1]) for d in (plain, twisted) for face in loft_of(d).result.faces if face.surface is not None]
    assert_close(np.sort([np.linalg.norm(p - (80, 0, 80), axis=1).max() for p in far]), np.full(8, 12 * np.sqrt(2)), within=1e-3)


def test_a_pipe_is_hollow_along_its_line() -> None:
    ring = {"type": "drawing", "points": {"p1": [0, 0]}, "use": ["c1"], "next": 9}
    ring["curves"] = [{"id": f"c{i}", "type": "circle", "center": "p1", "radius": r} for i, r in enumerate((15.0, 12.0), start=1)]
    document = lined([stand(1, ring, plane="top"), stand(2, ring, plane="side", offset=80.0, at=[0.0, 80.0])], BEND)
    steps = built(document)
    expected = pi * (15**2 - 12**2) * length(steps["rail-20"].result.curve)
    assert_close(steps["loft-21"].result.measures.volume, expected, within=5e-6 * expected)


def placed_above(number: int, offset: float) -> list[dict[str, Any]]:
    return stand(number, circle(20.0), plane="top", offset=offset)


BEYOND = stand(3, circle(20.0), plane="side", offset=140.0, at=[0.0, 80.0])
UPRIGHT = [{"at": [0, 0, 0]}, {"at": [0, 0, 60]}]
CORNERED = [{"at": [0, 0, 0]}, {"at": [0, 0, 80], "sharp": True}, {"at": [80, 0, 80]}]
CLOSED = {"type": "spline", "closed": True, "points": [{"at": place} for place in ([0, 0, 0], [0, 0, 80], [80, 0, 80])]}
CASES = [
    ("centre-short", lined([FIRST, SECOND, BEYOND], BEND)),
    ("centre-order", lined([FIRST, placed_above(2, 60.0), placed_above(3, 30.0)], UPRIGHT)),
    ("centre-corner", lined([FIRST, SECOND], CORNERED)),
    ("centre-closed", lined([FIRST, SECOND], [], rail=CLOSED)),
]


@pytest.mark.parametrize(("code", "document"), CASES)
def test_what_keeps_sections_from_following_the_line_is_told_and_mended(code: str, document: Document) -> None:
    finding = the(code, document)
    assert finding.severity is Severity.ERROR
    assert finding.path == ["centre"]
    assert finding.detail.endswith(".")
    assert finding.where.names
    assert finding.fixes
    for fix in finding.fixes:
        assert code not in [f.code for f in findings(apply_edits(document, fix.edits))], fix.label


def test_sections_are_put_in_the_order_of_the_line() -> None:
    document = CASES[1][1]
    mended = apply_edits(document, next(fix for fix in the("centre-order", document).fixes if "order" in fix.label).edits)
    assert loft_of(mended).state is State.READY


def with_side(points: list[dict[str, Any]], **params: Any) -> Document:
    """The elbow with a rail through points, which stands before it."""
    side = {"id": "rail-30", "kind": "rail", "name": "Side", "params": {"shape": {"type": "spline", "points": points}}}
    raw = elbow(rails=[{"step": "rail-30"}], **params).model_dump(mode="json")
    raw["steps"].insert(4, side)
    return Document.model_validate(raw)


OUTSIDE = [{"on": {"section": {"step": "section-2"}, "at": 0.5}}, {"at": [16, 0, 70]}, {"on": {"section": {"step": "section-4"}, "at": 0.25}}]


def test_a_rail_beside_a_line_shapes_the_body_and_its_distance_is_told() -> None:
    document = with_side(OUTSIDE)
    made = loft_of(document)
    assert made.state is State.READY
    assert not [finding for finding in made.findings if finding.severity is not Severity.NOTE]
    assert abs(made.summary.volume - loft_of(elbow()).summary.volume) > 500
    [off] = made.summary.lanes.rails
    assert None not in off
    assert_close(off, 0.0, within=1e-4)


def test_a_rail_that_misses_a_section_of_a_line_is_put_on_it() -> None:
    document = with_side([OUTSIDE[0], {"at": [40, 0, 60]}, {"at": [80.0, 0.0, 95.3]}])
    told = the("rail-missed", document)
    assert told.title == "Side misses Rib 2 by 0.3 mm"
    for fix in told.fixes:
        assert "rail-missed" not in [f.code for f in findings(apply_edits(document, fix.edits))], fix.label


def test_ends_that_go_on_have_no_say_beside_a_line_which_is_told_and_taken_away() -> None:
    document = elbow(end={"shape": "tangent"})
    finding = the("centre-alone", document)
    assert finding.severity is Severity.WARNING
    for fix in finding.fixes:
        assert "centre-alone" not in [f.code for f in findings(apply_edits(document, fix.edits))], fix.label
