"""A kernel that finds its own result not valid, or counts a volume that its mesh does not hold: the step says so, the rest lives."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import pytest

from tests.core.design.designs import circle
from tests.core.steps.test_surface_steps import CUP, and_then
from wander.core.design.exact import exact_ways
from wander.core.design.memory import Memory
from wander.core.design.rebuild import State, rebuild
from wander.core.document.document import Document
from wander.core.solids import blending, readback, walling

RIM = {"step": "loft-5", "part": "loft-5/end:section-4|loft-5/side"}
SIDE = {"step": "loft-5", "part": "loft-5/side"}
HULL = {"step": "loft-5"}
SKIN = ("offset", {"body": HULL, "faces": [SIDE], "distance": 0.0})
LATE: dict[str, list[tuple[str, dict[str, Any]]]] = {
    "fillet": [("fillet", {"body": HULL, "sets": [{"among": "outer", "radius": 2.0}]})],
    "chamfer": [("chamfer", {"body": HULL, "sets": [{"edges": [RIM], "distance": 2.0}]})],
    "offset": [("offset", {"body": HULL, "distance": -2.0})],
    "patch": [SKIN, ("patch", {"edges": [{"step": "offset-30", "part": "loft-5/side|rim#end"}]})],
    "wall of a sheet": [SKIN, ("wall", {"body": {"step": "offset-30"}, "thickness": 1.0})],
    "trim": [("trim", {"body": HULL, "by": {"type": "body", "body": {"step": "extrude-21"}}})],
    "extend": [SKIN, ("extend", {"body": {"step": "offset-30"}, "whole": True, "distance": 2.0})],
    "extrude to a curved face": [
        ("station", {"plane": "front", "offset": -40.0}),
        ("section", {"station": {"step": "station-30"}, "shape": circle(8.0), "at": [0.0, 25.0]}),
        ("extrude", {"section": {"step": "section-31"}, "distance": 5.0, "reach": {"type": "face", "face": SIDE}}),
    ],
    "sew": [
        SKIN,
        ("patch", {"edges": [{"step": "offset-30", "part": "loft-5/side|rim#end"}]}),
        ("sew", {"body": {"step": "offset-30"}, "others": [{"step": "patch-31"}]}),
    ],
}
FAULTS: dict[str, Callable[[pytest.MonkeyPatch], None]] = {}


def fault(does: Callable[[pytest.MonkeyPatch], None]) -> Callable[[pytest.MonkeyPatch], None]:
    FAULTS[does.__name__.replace("_", " ")] = does
    return does


@fault
def not_valid(patch: pytest.MonkeyPatch) -> None:
    class Never:
        def __init__(self, shape: object) -> None:
            pass

        def IsValid(self) -> bool:
            return False

    for module in (readback, blending, walling):
        patch.setattr(module, "BRepCheck_Analyzer", Never)


@fault
def meshes_that_hold_twice_as_much(patch: pytest.MonkeyPatch) -> None:
    true = readback.of_mesh
    patch.setattr(readback, "of_mesh", lambda mesh, pieces=1: replace(true(mesh, pieces), volume=2 * true(mesh, pieces).volume))


def design(late: str) -> Document:
    """A cup, a core beside it that something else may part it with, and what is done to it late."""
    raw = CUP.model_dump(mode="json")
    raw["steps"] += [
        {"id": "section-20", "kind": "section", "name": "Core", "params": {"station": {"step": "station-1"}, "shape": circle(20.0)}},
        {"id": "extrude-21", "kind": "extrude", "name": "Core", "params": {"section": {"step": "section-20"}, "distance": 60.0, "other": 10.0}},
    ]
    return and_then(Document.model_validate({**raw, "next": 30}), *LATE[late])


SHEETS = ("patch", "extend", "sew")
"""What comes out as a sheet holds nothing that could be counted wrongly."""


@pytest.mark.parametrize(("late", "wrong"), [(late, wrong) for late in LATE for wrong in FAULTS if wrong == "not valid" or late not in SHEETS])
def test_the_step_says_so_and_the_rest_lives(late: str, wrong: str, monkeypatch: pytest.MonkeyPatch) -> None:
    document = design(late)
    whole = {built.step: built for built in rebuild(document, Memory(), exact_ways())}
    step = document.steps[-1].id
    assert whole[step].state is State.READY, whole[step].findings
    memory = Memory()
    FAULTS[wrong](monkeypatch)
    built = {item.step: item for item in rebuild(document, memory, exact_ways())}
    ours = [item for item in built.values() if item.step in {s.id for s in document.steps[-len(LATE[late]) :]}]
    failed = [item for item in ours if item.state is State.FAILED]
    assert failed
    assert all(finding.code != "unforeseen" and finding.detail for item in failed for finding in item.findings)
    assert all(built[s].state is State.READY for s in ("loft-5", "extrude-21"))
