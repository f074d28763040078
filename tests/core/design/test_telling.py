"""What is told of picked things in a drawing, against closed forms; nothing is held by it."""

from __future__ import annotations

from math import atan2, degrees, hypot, pi
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.special import ellipe

from tests.closeness import assert_close
from tests.core.design.designs import circle, lofted, set_param
from wander.core.design.apply import apply_edits
from wander.core.design.memory import Memory
from wander.core.design.reading import write_document
from wander.core.design.telling import told
from wander.core.document.document import Document
from wander.core.document.edits import SetDimension

SECTION = "section-4"
SHAPE: dict[str, Any] = {
    "type": "drawing",
    "points": {"p1": [0, 0], "p2": [30, 40], "p3": [50, 0], "p4": [10, 70], "p5": [16, 70], "p6": [10, 76], "p7": [-40, -40]},
    "curves": [
        {"id": "c1", "type": "line", "start": "p1", "end": "p2"},
        {"id": "c2", "type": "circle", "center": "p3", "radius": 4.0},
        {"id": "c3", "type": "arc", "center": "p4", "start": "p5", "end": "p6"},
        {"id": "c4", "type": "ellipse", "center": "p7", "width": 20.0, "depth": 8.0, "turn": 30.0},
        {"id": "c5", "type": "line", "start": "p1", "end": "p3"},
    ],
    "next": 40,
}


def drawn(shape: dict[str, Any], *dimensions: tuple[str, float]) -> Document:
    return apply_edits(
        lofted((0.0, circle(10.0)), (10.0, circle(12.0)), (20.0, circle(8.0)), dimensions=dimensions), [set_param(SECTION, "shape", to=shape)]
    )


@pytest.mark.parametrize(
    ("kind", "of", "expected"),
    [
        ("length", ["c1"], 50.0),
        ("angle", ["c1"], degrees(atan2(40, 30))),
        ("across", ["c1"], 30.0),
        ("up", ["c1"], 40.0),
        ("radius", ["c2"], 4.0),
        ("diameter", ["c2"], 8.0),
        ("radius", ["c3"], 6.0),
        ("angle", ["c3"], 90.0),
        ("distance", ["p2", "p3"], hypot(20, 40)),
        # of a place from a line that it does not lie on, and of a circle that is clear of a line
        ("distance", ["p2", "c5"], 40.0),
        ("distance", ["c2", "c1"], 50 * 4 / 5 - 4),
        ("angle", ["c1", "c5"], degrees(atan2(40, 30))),
    ],
)
def test_a_measure_is_told_without_holding_anything(kind: str, of: list[str], expected: float) -> None:
    document = drawn(SHAPE)
    before = write_document(document)
    [found] = told(document, Memory(), SECTION, [(kind, of)], []).measures
    assert found is not None
    assert_close(abs(found), expected, within=1e-9)
    assert write_document(document) == before


def test_curves_are_as_long_as_they_are_together() -> None:
    def long(*curves: str) -> float | None:
        return told(drawn(SHAPE), Memory(), SECTION, [], curves).length

    round_it = 4 * 10 * ellipe(1 - (4 / 10) ** 2)
    for curves, expected in ((("c3",), 3 * pi), (("c2",), 8 * pi), (("c4",), round_it), (("c1", "c3", "c4"), 50 + 3 * pi + round_it)):
        assert_close(long(*curves), expected, within=2e-5 * expected)
    assert long("c1", "gone") is None
    assert long() is None


@given(st.floats(5.0, 90.0))
def test_it_is_told_as_it_is_now_and_not_as_it_was_drawn(reach: float) -> None:
    shape = {**SHAPE, "holds": [{"id": "h1", "type": "length", "of": ["c1"], "value": "reach"}, {"id": "h2", "type": "fixed", "of": ["p1"]}]}
    document = apply_edits(drawn(shape, ("reach", 50.0)), [SetDimension(do="set-dimension", name="reach", value=reach)])
    found = told(document, Memory(), SECTION, [("length", ["c1"]), ("distance", ["p1", "p2"])], ["c1", "c2"])
    assert_close(found.measures, [reach, reach], within=1e-6)
    assert_close(found.length, reach + 8 * pi, within=1e-4)


@pytest.mark.parametrize(("kind", "of"), [("length", ["c2"]), ("distance", ["p1", "gone"]), ("nonsense", ["c1"]), ("radius", ["p1"])])
def test_what_is_no_measure_or_not_there_has_nothing_to_tell(kind: str, of: list[str]) -> None:
    assert told(drawn(SHAPE), Memory(), SECTION, [(kind, of), ("length", ["c1"])], []).measures == [None, 50.0]


def test_what_is_no_drawing_has_nothing_to_tell() -> None:
    document = drawn(SHAPE)
    for step in ("section-2", "loft-7", "gone-1"):
        found = told(document, Memory(), step, [("length", ["c1"])], ["c1"])
        assert found.measures == [None]
        assert found.length is None
