"""Bodies that cut and join stay as they are while something else moves: they are made once, and anew when they change."""

from __future__ import annotations

import json
from typing import Any

import pytest

from tests.app.worked import worked
from tests.closeness import assert_close
from wander.core.bodies.body import Body
from wander.core.design.memory import Memory
from wander.core.design.rebuild import Ways, rebuild
from wander.core.document.document import Document
from wander.core.steps import made

STATION, SECTION_OF_COLLAR = 4, 12


@pytest.fixture
def counted(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """Names of the bodies that were made from their surfaces."""
    names: list[str] = []
    plain = made.of_shells

    def counting(skins: Any, along: Any) -> Body:
        names.append(skins[0].faces[0].name.split("/")[0])
        return plain(skins, along)

    monkeypatch.setattr(made, "of_shells", counting)
    return names


def volumes(raw: dict[str, Any], memory: Memory) -> dict[str, float]:
    built = rebuild(Document.model_validate(raw), memory, Ways(lasting=False))
    return {b.step: b.result.measures.volume for b in built if isinstance(b.result, Body)}


def test_tools_are_made_once_while_the_body_under_them_moves(counted: list[str]) -> None:
    raw, memory = json.loads(worked()), Memory()
    volumes(raw, memory)
    counted.clear()
    for offset in (51.0, 52.5, 54.0):
        raw["steps"][STATION]["params"]["offset"] = offset
        found = volumes(raw, memory)
        assert_close(found["repeat-18"], volumes(raw, Memory())["repeat-18"], within=1e-6 * found["repeat-18"])
    assert counted.count("loft-11") == 6
    assert counted.count("extrude-14") == counted.count("extrude-17") == 3, "only by the rebuilds that began with nothing"


def test_a_tool_that_changes_is_made_anew(counted: list[str]) -> None:
    raw, memory = json.loads(worked()), Memory()
    before = volumes(raw, memory)
    collar = next(step for step in raw["steps"] if step["id"] == "extrude-14")
    collar["params"]["distance"] += 3.0
    after = volumes(raw, memory)
    assert abs(after["extrude-14"] - before["extrude-14"]) > 1.0
    assert_close(after["repeat-18"], volumes(raw, Memory())["repeat-18"], within=1e-6 * after["repeat-18"])
