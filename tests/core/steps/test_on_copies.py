"""What is done at one copy is done at every one: rows, rings, rows of rows, images, under joins, cuts and moves."""

from __future__ import annotations

from math import pi
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import circle, exactly, lofted, set_param
from tests.core.steps.test_blend_steps import BLOCK, UPRIGHT, edges, rectangle, volume
from wander.core.design.apply import apply_edits
from wander.core.design.rebuild import State, StepBuilt
from wander.core.document.document import Document

BLOCKS, TALL = 30.0 * 20.0 * 40.0, 40.0
LOST = (1 - pi / 4) * 2.0**2 * TALL
"""What a fillet of 2 mm takes from one upright edge of a block, mm3."""


def then(document: Document, *steps: tuple[str, dict[str, Any]]) -> Document:
    """The document with steps after it, `<kind>-20` and so on."""
    raw = document.model_dump(mode="json")
    for number, (kind, params) in enumerate(steps, start=20):
        raw["steps"].append({"id": f"{kind}-{number}", "kind": kind, "name": f"{kind} {number}", "params": params})
    return Document.model_validate({**raw, "next": 60})


def last(document: Document) -> StepBuilt:
    return exactly(document, document.steps[-1].id)


def row(body: str, count: int, *by: float) -> tuple[str, dict[str, Any]]:
    return "repeat", {"body": {"step": body}, "count": count, "way": {"type": "line", "by": list(by)}}


def ring(body: str, count: int) -> tuple[str, dict[str, Any]]:
    return "repeat", {"body": {"step": body}, "count": count, "way": {"type": "axis", "axis": "z"}}


def on(body: str, *sets: dict[str, Any]) -> dict[str, Any]:
    return {"body": {"step": body}, "sets": list(sets)}


@pytest.mark.parametrize("suffix", ["", "@repeat-20.2", "@repeat-20.3"])
def test_an_edge_of_a_row_whichever_copy_it_was_picked_on(suffix: str) -> None:
    picked = "|".join(f"{face}{suffix}" for face in UPRIGHT.split("|"))
    document = then(BLOCK, row("loft-5", 3, 50.0, 0.0, 0.0), ("fillet", on("repeat-20", edges(picked, radius=2.0, copies=True))))
    assert_close(volume(last(document)), 3 * (BLOCKS - LOST), within=1e-6 * BLOCKS)
    # there are more of them: they come along
    more = apply_edits(document, [set_param("repeat-20", "count", to=5)])
    assert_close(volume(last(more)), 5 * (BLOCKS - LOST), within=1e-6 * BLOCKS)
    assert last(more).summary.copies == 4
    alone = apply_edits(document, [set_param("fillet-21", "sets", 0, "copies", to=False)])
    assert_close(volume(last(alone)), 3 * BLOCKS - LOST, within=1e-6 * BLOCKS)


def test_copies_that_touch_keep_their_own_edges() -> None:
    """Blocks side by side, each ending where the next one begins: two edges lie at one place, and each block has its own."""
    document = then(BLOCK, row("loft-5", 3, 30.0, 0.0, 0.0), ("fillet", on("repeat-20", edges(UPRIGHT, radius=2.0, copies=True))))
    found = last(document)
    assert found.findings == []
    assert_close(volume(found), 3 * (BLOCKS - LOST), within=1e-6 * BLOCKS)


def test_a_row_of_rows_that_was_moved() -> None:
    moving = ("move", {"body": {"step": "repeat-21"}, "by": [3.0, 4.0, 5.0], "axis": "x", "angle": 30.0})
    document = then(BLOCK, row("loft-5", 2, 50.0, 0.0, 0.0), row("repeat-20", 3, 0.0, 40.0, 0.0), moving)
    picked = "|".join(f"{face}@repeat-20.2@repeat-21.3" for face in UPRIGHT.split("|"))
    document = then(document, ("fillet", on("move-22", edges(picked, radius=2.0, copies=True))))
    renamed = document.model_copy(update={"steps": [*document.steps[:-1], document.steps[-1].model_copy(update={"id": "fillet-30"})]})
    assert_close(volume(last(renamed)), 6 * (BLOCKS - LOST), within=1e-6 * BLOCKS)


def test_faces_and_the_first_side_of_a_chamfer() -> None:
    """Round the upper face of every block; and cut from the same side on every copy: 3 mm on the right face, 1 on the bottom one."""
    copied = then(BLOCK, row("loft-5", 3, 50.0, 0.0, 0.0))
    round_face = {"faces": [{"step": "repeat-20", "part": "loft-5/end:section-4"}], "distance": 1.0, "copies": True}
    frame = 2 * (30 + 20) * 0.5 - 4 * (1 / 3)  # a prism along each side, mitred where two meet
    assert_close(volume(last(then(copied, ("chamfer", on("repeat-20", round_face))))), 3 * (BLOCKS - frame), within=1e-6 * BLOCKS)
    first = UPRIGHT.split("|")[1]
    cut = edges(UPRIGHT, distance=3.0, other=1.0, way="distances", first=[first], copies=True)
    found = last(then(copied, ("chamfer", on("repeat-20", cut))))
    assert_close(volume(found), 3 * (BLOCKS - 1.5 * TALL), within=1e-6 * BLOCKS)
    # on every copy the longer side lies on the same face: turned by the motion between them they are one body
    centre = found.result.measures.center
    alone = last(then(BLOCK, ("chamfer", on("loft-5", {**cut, "copies": False}))))
    assert_close(centre, alone.result.measures.center + np.array([50.0, 0.0, 0.0]), within=1e-6)


def plates(count: int, hub: dict[str, Any]) -> Document:
    """Plates round a hub that stands up through them, all one body: `combine-25`."""
    hubbed = lofted((-10.0, hub), (50.0, hub), between="straight")
    plate = [
        ("station", {"plane": "top", "offset": 0.0}),
        ("section", {"station": {"step": "station-20"}, "shape": rectangle(40.0, 4.0), "at": [30.0, 0.0]}),
        ("extrude", {"section": {"step": "section-21"}, "distance": 40.0}),
        ring("extrude-22", count),
        ("combine", {"how": "join", "body": {"step": "loft-5"}, "tools": [{"step": "repeat-23"}]}),
    ]
    return then(hubbed, *plate)


def late(document: Document, kind: str, params: dict[str, Any]) -> Document:
    raw = document.model_dump(mode="json")
    raw["steps"].append({"id": f"{kind}-40", "kind": kind, "name": "Late", "params": params})
    return Document.model_validate(raw)


def one_of(document: Document, *words: str) -> str:
    """The name of an edge that has all these words in it, and is on the first plate."""
    names = [edge.name.partition("#")[0] for edge in last(document).result.edges]
    return next(name for name in names if all(word in f"{name}|" for word in words) and "@" not in name)


@pytest.mark.parametrize("words", [("loft-5", "extrude-22/21.top|"), ("extrude-22/21.right", "extrude-22/far")], ids=["seam", "tip"])
def test_plates_on_a_hub(words: tuple[str, ...]) -> None:
    """The same at seven plates is seven times what it is at one."""
    document = plates(7, circle(30.0))
    whole = volume(last(document))
    picked = edges(one_of(document, *words), radius=1.0)
    alone = volume(last(late(document, "fillet", on("combine-24", picked))))
    every = last(late(document, "fillet", on("combine-24", {**picked, "copies": True})))
    assert every.findings == []
    assert abs(alone - whole) > 0.5
    assert_close(volume(every) - whole, 7 * (alone - whole), within=1e-4 * abs(alone - whole))


def test_what_is_gone_on_some_copies_is_told() -> None:
    """The third of three blocks has lost that edge to a cut."""
    document = then(
        BLOCK,
        row("loft-5", 3, 50.0, 0.0, 0.0),
        ("station", {"plane": "top", "offset": -5.0}),
        ("section", {"station": {"step": "station-21"}, "shape": rectangle(8.0, 8.0), "at": [115.0, -10.0]}),
        ("extrude", {"section": {"step": "section-22"}, "distance": 60.0, "result": {"type": "cut", "body": {"step": "repeat-20"}}}),
        ("fillet", on("extrude-23", edges(UPRIGHT, radius=2.0, copies=True))),
    )
    found = last(document)
    assert found.state is State.READY
    assert [finding.code for finding in found.findings] == ["not-on-all-copies"]
    assert found.findings[0].title.startswith("One copy has nothing like")
    assert_close(volume(found), 3 * BLOCKS - 16.0 * TALL - 2 * LOST, within=1e-6 * BLOCKS)


@given(x=st.floats(20.0, 60.0), turned=st.booleans())
def test_an_image_joined_to_its_original(x: float, turned: bool) -> None:
    """Blocks that share half a face after the join, or lie apart: both have the edge that was picked on one."""
    document = then(
        BLOCK,
        ("move", {"body": {"step": "loft-5"}, "by": [x, 0.0, 0.0]}),
        ("mirror", {"body": {"step": "move-20"}, "plane": "side", "keep": True}),
        ("combine", {"how": "join", "body": {"step": "move-20"}, "tools": [{"step": "mirror-21"}]}),
    )
    picked = "|".join(f"{face}@mirror-21" for face in UPRIGHT.split("|")) if turned else UPRIGHT
    found = last(late(document, "fillet", on("combine-22", edges(picked, radius=2.0, copies=True))))
    assert found.findings == []
    assert_close(volume(found), 2 * (BLOCKS - LOST), within=1e-6 * BLOCKS)


@pytest.mark.parametrize("cut", [False, True], ids=["own", "kernel"])
def test_walls_are_open_at_the_same_face_of_every_copy(cut: bool) -> None:
    """Each of a row of blocks is hollowed by itself: blocks of our own skin, and blocks with a step cut off that the kernel made."""
    tool = [
        ("station", {"plane": "top", "offset": -5.0}),
        ("section", {"station": {"step": "station-20"}, "shape": rectangle(20.0, 40.0), "at": [-15.0, 0.0]}),
        ("extrude", {"section": {"step": "section-21"}, "distance": 15.0, "result": {"type": "cut", "body": {"step": "loft-5"}}}),
    ]
    body, room = (("extrude-22", 26.0 * 16.0 * 38.0 - 10.0 * 16.0 * 10.0)) if cut else ("loft-5", 26.0 * 16.0 * 38.0)
    whole = BLOCKS - (10.0 * 20.0 * 10.0 if cut else 0.0)
    number = 23 if cut else 20
    document = then(BLOCK, *(tool if cut else []), row(body, 3, 50.0, 0.0, 0.0))
    top = {"step": f"repeat-{number}", "part": "loft-5/end:section-4"}
    wall = {"body": {"step": f"repeat-{number}"}, "thickness": 2.0, "open": [top], "copies": True}
    found = last(late(document, "wall", wall))
    assert found.findings == []
    assert_close(volume(found), 3 * (whole - room), within=1e-6 * BLOCKS)
    assert found.summary.pieces == 3
