"""What an undo is said to take back."""

from __future__ import annotations

from typing import Any

import pytest
from pydantic import TypeAdapter

from wander.core.document.document import Document
from wander.core.document.edits import Edit
from wander.core.document.words import MOST, in_words

_EDITS: TypeAdapter[list[Edit]] = TypeAdapter(list[Edit])
STATION = {"id": "station-1", "kind": "station", "name": "Foot", "params": {"plane": "top", "offset": 0.0}}
SECTION = {"id": "section-2", "kind": "section", "name": "Belly", "params": {"station": {"step": "station-1"}, "shape": {"type": "point"}}}
BEFORE = Document.model_validate({"format": "wander-design/1", "name": "Cup", "next": 3, "steps": [STATION, SECTION]})


def added(kind: str, name: str, alias: str | None = None) -> dict[str, Any]:
    return {"do": "add-step", "kind": kind, "name": name, "params": {}, "alias": alias}


@pytest.mark.parametrize(
    ("edits", "words"),
    [
        ([added("station", "Station 3", "$s"), added("section", "Section 4")], "add Section 4"),
        ([{"do": "set-param", "step": "station-1", "path": ["offset"], "value": 3.0}], "change offset of Foot"),
        ([{"do": "set-param", "step": "section-2", "path": ["shape", "width"], "value": 3.0}], "change width of Belly"),
        ([{"do": "set-param", "step": "station-1", "path": ["offset"], "value": 3.0}, {"do": "remove-step", "step": "section-2"}], "remove Belly"),
        ([{"do": "remove-step", "step": "section-2"}, {"do": "remove-step", "step": "station-1"}], "remove Belly and 1 more"),
        ([added("section", "Copy", "$c"), {"do": "rename-step", "step": "$c", "name": "Neck"}], "add Copy"),
        ([{"do": "rename-step", "step": "section-2", "name": "Waist"}], "call Belly Waist"),
        ([{"do": "draw", "step": "section-2", "acts": []}], "draw on Belly"),
        ([{"do": "skip-step", "step": "section-2", "skip": True}], "skip Belly"),
        ([{"do": "set-unit", "unit": "in"}], "count in in"),
        ([{"do": "set-dimension", "name": "neck", "value": 20.0}], "set neck to 20"),
        ([{"do": "build-up-to", "step": "section-2"}], "build up to Belly"),
        ([{"do": "build-up-to", "step": None}], "build to the end"),
    ],
)
def test_a_batch_is_told_by_its_gist(edits: list[dict[str, Any]], words: str) -> None:
    assert in_words(_EDITS.validate_python(edits), BEFORE) == words


def test_it_never_gets_longer_than_what_is_kept() -> None:
    assert len(in_words(_EDITS.validate_python([added("section", "n" * 80)]), BEFORE)) == MOST
