"""Stations of every kind against what is known of their planes, and what is said where there is no plane."""

from __future__ import annotations

from math import cos, radians, sin
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, lofted
from wander.core.design.apply import apply_edits
from wander.core.document.document import Document
from wander.core.document.findings import Finding
from wander.core.geometry.frame import Frame

BASE = {"id": "station-1", "kind": "station", "name": "Base", "params": {"plane": "top", "offset": 10.0}}


def with_station(params: dict[str, Any]) -> Document:
    step = {"id": "station-2", "kind": "station", "name": "Placed", "params": params}
    return Document.model_validate({"format": "wander-design/1", "name": "Trial", "steps": [BASE, step], "next": 3})


def frame(params: dict[str, Any]) -> Frame:
    found = built(with_station(params))["station-2"].result
    assert_close([found.x @ found.x, found.y @ found.y, found.x @ found.y], [1, 1, 0], within=1e-12)
    return found


@given(offset=st.floats(-50, 50))
def test_from_another_station_and_flipped(offset: float) -> None:
    plain = frame({"place": {"type": "station", "station": {"step": "station-1"}}, "offset": offset})
    assert_close(plain.origin, [0, 0, 10 + offset], within=1e-12)
    flipped = frame({"place": {"type": "station", "station": {"step": "station-1"}}, "offset": offset, "flip": True})
    assert_close(flipped.z, [0, 0, -1], within=1e-12)
    assert_close(flipped.origin, plain.origin, within=1e-12)


@given(angle=st.floats(-170, 170), y=st.floats(-30, 30))
def test_turned_about_a_line_along_x(angle: float, y: float) -> None:
    found = frame({"place": {"type": "turned", "station": {"step": "station-1"}, "point": [0.0, y], "direction": 0.0, "angle": angle}})
    assert_close(found.z, [0, -sin(radians(angle)), cos(radians(angle))], within=1e-12)
    # the line itself stays in the plane
    for x in (-5.0, 8.0):
        assert abs((np.array([x, y, 10.0]) - found.origin) @ found.z) < 1e-9


@given(points=st.lists(st.tuples(*[st.floats(-50, 50)] * 3), min_size=3, max_size=3))
def test_through_three_points(points: list[tuple[float, float, float]]) -> None:
    a, b, c = (np.array(p) for p in points)
    if np.linalg.norm(np.cross(b - a, c - a)) < 1e-3:
        return
    found = frame({"place": {"type": "points", "points": [list(p) for p in points]}})
    assert_close([(p - found.origin) @ found.z for p in (a, b, c)], 0.0, within=1e-8)


def test_parallel_through_a_point_and_on_from_there() -> None:
    found = frame({"place": {"type": "through", "station": {"step": "station-1"}, "point": [4.0, 5.0, 33.0]}, "offset": 2.0})
    assert_close(found.origin, [0, 0, 35], within=1e-12)


@pytest.mark.parametrize("share", [0.0, 0.25, 0.8, 1.0])
def test_square_to_a_straight_path(share: float) -> None:
    found = frame({"place": {"type": "path", "points": [[0, 0, 0], [30, 0, 40], [60, 0, 80]], "share": share}})
    assert_close(found.z, [0.6, 0, 0.8], within=1e-9)
    assert_close(found.origin, np.array([60, 0, 80]) * share, within=1e-6)
    assert abs(found.x[2]) < 1e-9


def test_touching_a_round_face() -> None:
    cylinder = lofted((0, circle(40.0)), (50, circle(40.0)))
    place = {"type": "touching", "face": {"step": "loft-5", "part": "loft-5/side.1"}, "around": 0.25, "along": 0.5}
    steps = [s.model_dump() for s in cylinder.steps]
    steps.append({"id": "station-6", "kind": "station", "name": "Pad", "params": {"place": place, "offset": 3.0}})
    document = Document.model_validate({"format": "wander-design/1", "name": "Trial", "steps": steps, "next": 7})
    found = built(document)["station-6"].result
    assert_close(found.z, [0, 1, 0], within=1e-6)
    assert_close(found.origin, [0, 23, 25], within=1e-5)
    steps[-1]["params"]["place"]["face"]["part"] = "loft-5/side.7"
    wrong = Document.model_validate({"format": "wander-design/1", "name": "Trial", "steps": steps, "next": 7})
    assert_settled(wrong, "broken-reference")


def assert_settled(document: Document, code: str) -> Finding:
    """The finding is there, and its first fix removes it."""
    found = next(f for f in findings(document) if f.code == code)
    after = apply_edits(document, found.fixes[0].edits)
    assert code not in [f.code for f in findings(after)]
    return found


def test_three_points_on_a_line_make_no_plane() -> None:
    document = with_station({"place": {"type": "points", "points": [[0, 0, 0], [1, 1, 1], [3, 3, 3]]}})
    assert "on one line" in assert_settled(document, "no-plane").detail


@pytest.mark.parametrize("share", [-0.1, 1.3])
def test_a_share_beyond_the_path(share: float) -> None:
    document = with_station({"place": {"type": "path", "points": [[0, 0, 0], [0, 0, 40]], "share": share}})
    assert_settled(document, "outside-path")
