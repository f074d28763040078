"""A shape of a few numbers and the drawing that says the same make the same body: the first change on the board moves nothing else."""

from __future__ import annotations

import pytest

from tests.as_shaped import as_shaped
from tests.closeness import assert_close
from tests.core.design.designs import built, circle, lofted, set_param
from wander.core.design.apply import apply_edits
from wander.core.design.reading import read_document
from wander.core.document.document import Document
from wander.core.document.edits import Draw

SAMPLES = as_shaped()


def volumes(document: Document) -> list[float]:
    return [found.result.measures.volume for step, found in built(document).items() if step.startswith("loft-")]


def drawn(document: Document, section: str) -> Document:
    """The section turned into a drawing by the first act on it, which moves nothing: a point that belongs to nothing is put down beside."""
    beside = {"act": "add", "points": {"$a": [500.0, 500.0]}}
    return apply_edits(document, [Draw.model_validate({"do": "draw", "step": section, "acts": [beside]})])


@pytest.mark.parametrize("name", ["tarn", "bailer", "merganser"])
def test_every_section_of_the_demo_can_be_drawn_without_the_body_moving(name: str) -> None:
    """Rails of the spout stand on its sections, and stay where they are."""
    document = read_document((SAMPLES / f"{name}.json").read_bytes())
    before = volumes(document)
    for step in document.steps:
        if step.kind != "section" or step.params["shape"]["type"] == "point":
            continue
        after = drawn(document, step.id)
        assert after.step(step.id).params["shape"]["type"] == "drawing"  # type: ignore[union-attr]
        assert_close(volumes(after), before, within=1e-7, relative=True)


def test_connecting_lines_and_starts_stay_where_they_are() -> None:
    slot = {"type": "slot", "length": 40.0, "width": 16.0}
    document = lofted((0, slot), (60, circle(30)))
    tie = {"places": [{"section": {"step": "section-2"}, "at": 0.1}, {"section": {"step": "section-4"}, "at": 0.12}]}
    document = apply_edits(document, [set_param("loft-5", "ties", to=[tie]), set_param("loft-5", "sections", 0, "start", to=0.6)])
    after = drawn(document, "section-2")
    moved = after.step("loft-5").params  # type: ignore[union-attr]
    assert moved["ties"][0]["places"][0]["at"] != 0.1
    assert moved["ties"][0]["places"][1]["at"] == 0.12
    assert_close(volumes(after), volumes(document), within=1e-7, relative=True)
