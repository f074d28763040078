"""A hand that pulls drawings: what it sees at once is what comes of the pull, and nothing it does is other than the same edit by itself."""

from __future__ import annotations

import json
from typing import Any

import pytest

from tests.core.drawing.drawings import BOX, SCOPE, flange, line, raw
from wander.core.design.apply import apply_edits
from wander.core.design.errors import EditRefused
from wander.core.design.memory import Memory
from wander.core.design.reading import read_document, write_document
from wander.core.design.rebuild import rebuild
from wander.core.document.document import Document
from wander.core.document.edits import Draw, SetDimension
from wander.core.drawing.edits.begun import Beginnings, Hand
from wander.core.drawing.summary import DrawnLines

TRACE = {"id": "c90", "type": "trace", "of": {"step": "loft-9", "part": "edge"}, "construction": True}
PASSING = {"id": "h90", "type": "passes", "of": ["p1"], "rail": {"step": "rail-9"}, "at": [0.0, 0.0]}


def document(shape: dict[str, Any]) -> Document:
    steps = [
        {"id": "station-1", "kind": "station", "name": "Plate", "params": {"offset": 0.0}},
        {"id": "section-2", "kind": "section", "name": "Outline", "params": {"station": {"step": "station-1"}, "shape": shape}},
    ]
    written = {"format": "wander-design/1", "name": "Plate", "next": 3, "steps": steps}
    return read_document(json.dumps({**written, "dimensions": [{"name": "wide", "kind": "length", "value": "20 mm"}]}).encode())


def pull(*acts: dict[str, Any], **points: tuple[float, float]) -> Draw:
    pulls = [{"act": "pull", "points": {p: list(at)}} for p, at in points.items()]
    return Draw.model_validate({"do": "draw", "step": "section-2", "acts": [*pulls, *acts]})


class Watching:
    """A hand, and what it was told."""

    def __init__(self) -> None:
        self.told: list[tuple[str, DrawnLines]] = []
        self.hand = Hand(Beginnings(), lambda step, lines: self.told.append((step, lines)))

    def lines(self, kept: Document, edit: Draw) -> DrawnLines | None:
        """What is told of an edit, which is made as it is without a hand."""
        before, self.told = write_document(kept), []
        assert write_document(apply_edits(kept, [edit], self.hand)) == write_document(apply_edits(kept, [edit]))
        assert write_document(kept) == before
        return self.told[0][1] if self.told else None


def built(kept: Document, edit: Draw) -> DrawnLines:
    drawing = next(iter(step.summary.drawing for step in rebuild(apply_edits(kept, [edit]), Memory()) if step.step == "section-2"))  # type: ignore[union-attr]
    return DrawnLines(points=drawing.points, paths={curve.id: curve.path for curve in drawing.curves})


ROUNDED = raw(
    [(0, 0), (20, 0), (20, 10), (15, 5), (0, 10)],
    [line(1, 1, 2), line(2, 2, 3), {"id": "c3", "type": "spline", "through": ["p3", "p4", "p5"]}, line(4, 5, 1)],
    ("horizontal", "c1"),
    ("length", "c1", "wide"),
)
SHAPES = {"box": BOX, "flange of 30": flange(10), "flange of 180": flange(60), "with a spline and an expression": ROUNDED}


@pytest.mark.parametrize("shape", SHAPES.values(), ids=SHAPES)
def test_what_the_hand_sees_at_once_is_what_is_built(shape: dict[str, Any]) -> None:
    kept = document({"type": "drawing", **shape})
    watching = Watching()
    x, y = shape["points"]["p2"]
    for by in (0.0, 1e-10, 0.4, -3.0, 0.4):
        edit = pull(p2=(x + by, y + by / 2))
        assert watching.lines(kept, edit) == built(kept, edit)
    # several at once, and what is kept goes on as another drawing
    near = shape["points"]["p1"]
    edit = pull(p2=(x + 1, y), p1=(near[0] - 0.5, near[1] + 0.2))
    assert watching.lines(kept, edit) == built(kept, edit)
    later = apply_edits(kept, [edit])
    assert watching.lines(later, pull(p2=(x, y + 1))) == built(later, pull(p2=(x, y + 1)))


def test_another_value_of_a_dimension_is_another_beginning() -> None:
    kept = document({"type": "drawing", **ROUNDED})
    wider = apply_edits(kept, [SetDimension(do="set-dimension", name="wide", kind="length", value="30 mm")])
    watching, edit = Watching(), pull(p1=(1.0, 0.0))
    for each in (kept, wider, kept):
        lines = watching.lines(each, edit)
        assert lines is not None
        assert lines == built(each, edit)
    first, second = (watching.lines(each, edit) for each in (kept, wider))
    assert first is not None
    assert second is not None
    assert second.points["p2"][0] - second.points["p1"][0] == pytest.approx(30)
    assert first.points["p2"][0] - first.points["p1"][0] == pytest.approx(20)


@pytest.mark.parametrize(
    "edit",
    [pull({"act": "construction", "curves": ["c1"], "on": True}, p2=(32.0, 1.0)), pull({"act": "drop", "things": ["c1"]})],
    ids=["more than a pull", "no pull"],
)
def test_what_is_more_than_a_pull_is_told_when_it_is_built(edit: Draw) -> None:
    assert Watching().lines(document({"type": "drawing", **BOX}), edit) is None


@pytest.mark.parametrize("follower", [{"curves": [*BOX["curves"], TRACE]}, {"holds": [*BOX["holds"], PASSING]}], ids=["an edge", "a rail"])
def test_what_follows_something_else_is_told_when_that_is_known(follower: dict[str, Any]) -> None:
    assert Watching().lines(document({"type": "drawing", **BOX, **follower}), pull(p2=(32.0, 1.0))) is None


def test_a_shape_that_becomes_a_drawing_by_it_is_told_when_it_is_built() -> None:
    kept = document({"type": "rectangle", "width": 20.0, "depth": 10.0})
    assert Watching().lines(kept, pull(p1=(-11.0, -5.0))) is None


def test_a_pull_that_does_not_fit_is_refused_as_it_is_without_a_hand() -> None:
    kept, watching = document({"type": "drawing", **BOX}), Watching()
    for edit in (pull(p77=(1.0, 1.0)), Draw.model_validate({**pull(p1=(0.0, 0.0)).model_dump(), "step": "section-9"})):
        said = []
        for hand in (watching.hand, None):
            with pytest.raises(EditRefused) as refused:
                apply_edits(kept, [edit], hand)
            said.append(str(refused.value))
        assert said[0] == said[1]
    assert not watching.told


def test_few_beginnings_are_kept_and_each_is_found_again() -> None:
    beginnings, scope = Beginnings(2), SCOPE
    shapes = [dict(BOX) for _ in range(3)]
    first = beginnings.of(shapes[0], scope, ())
    assert beginnings.of(shapes[0], scope, ()) is first
    assert beginnings.of(shapes[0], scope, ("other",)) is not first
    for shape in shapes[1:]:
        beginnings.of(shape, scope, ())
    assert beginnings.of(shapes[0], scope, ()) is not first
