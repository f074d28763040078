"""A shape of a few numbers and the drawing that says the same make the same body: the first change on the board moves nothing else."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.closeness import assert_close
from tests.core.design.designs import built
from wander.core.design.reading import read_document
from wander.core.document.document import Document
from wander.core.steps.section.starters import drawing_of

SAMPLES = Path(__file__).parents[3] / "samples"


def volumes(document: Document) -> list[float]:
    return [found.result.measures.volume for step, found in built(document).items() if step.startswith("loft-")]


@pytest.mark.parametrize("name", ["tarn", "bailer", "merganser"])
def test_every_section_of_the_demo_can_be_drawn_without_the_body_moving(name: str) -> None:
    document = read_document((SAMPLES / f"{name}.json").read_bytes())
    before = volumes(document)
    for step in document.steps:
        if step.kind != "section" or step.params["shape"]["type"] == "point":
            continue
        raw = document.model_dump(mode="json")
        next(s for s in raw["steps"] if s["id"] == step.id)["params"]["shape"] = drawing_of(step.params["shape"], document.scope())
        assert_close(volumes(Document.model_validate(raw)), before, within=1e-7, relative=True)
