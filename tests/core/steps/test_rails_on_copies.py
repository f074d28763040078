"""What is swept along edges of one copy goes along those of every one: round rows and rings, joined and apart, and rounded off afterwards."""

from __future__ import annotations

from math import pi
from typing import Any

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.design.designs import exactly, set_param
from tests.core.steps.test_blend_steps import BLOCK, volume
from tests.core.steps.test_on_copies import BLOCKS, last, ring, row, then
from wander.core.design.apply import apply_edits
from wander.core.document.document import Document

TOP = "loft-5/end:section-4"
AREA, ROUND = pi * 1.5**2, 2 * (30 + 20)
"""Of a bead of 3 mm, and the way round the upper face of a block: mitred, each corner takes nothing and gives nothing."""


def beaded(*copies: tuple[str, dict[str, Any]], edge: str, made: str = "new", **more: Any) -> Document:
    """Blocks, with a bead round the upper face of one of them, or of every copy."""
    base = then(BLOCK, *copies)
    body = base.steps[-1].id
    rail = {"shape": {"type": "edges", "edge": {"step": body, "part": edge}, "loop": True, "copies": True}}
    result = {"type": made} if made == "new" else {"type": made, "body": {"step": body}}
    raw = base.model_dump(mode="json")
    raw["steps"] += [
        {"id": "rail-40", "kind": "rail", "name": "Rim", "params": rail},
        {
            "id": "tube-41",
            "kind": "tube",
            "name": "Bead",
            "params": {"paths": [{"step": "rail-40"}], "diameter": 3.0, "corners": "mitred", "result": result, **more},
        },
    ]
    return Document.model_validate(raw)


def rim(suffix: str = "") -> str:
    return "|".join(f"{face}{suffix}" for face in ("loft-5/2.top+4.top", TOP))


@pytest.mark.parametrize("suffix", ["", "@repeat-20.2", "@repeat-20.3"])
def test_a_bead_round_every_block_of_a_row_whichever_was_picked(suffix: str) -> None:
    document = beaded(row("loft-5", 3, 50.0, 0.0, 0.0), edge=rim(suffix))
    found = last(document)
    assert found.findings == []
    assert_close(volume(found), 3 * AREA * ROUND, within=1e-4, relative=True)
    assert_close(found.result.measures.center, (50.0, 0.0, 40.0), within=1e-3)
    # it stands on each of them: what is on the others is known as copies of what is on the first
    assert found.summary.copies == 2
    assert len({face.name for face in found.result.faces}) == len(found.result.faces) == 3 * 4
    more = apply_edits(document, [set_param("repeat-20", "count", to=5)])
    assert_close(volume(last(more)), 5 * AREA * ROUND, within=1e-4, relative=True)
    alone = apply_edits(document, [set_param("rail-40", "shape", "copies", to=False)])
    assert_close(volume(last(alone)), AREA * ROUND, within=1e-4, relative=True)


def test_joined_to_a_ring_of_blocks_each_gets_its_bead() -> None:
    away = ("move", {"body": {"step": "loft-5"}, "by": [60.0, 0.0, 0.0]})
    one = last(beaded(away, edge=rim(), made="join"))
    all_ = last(beaded(away, ring("move-20", 5), edge=rim("@repeat-21.3"), made="join"))
    assert volume(one) > BLOCKS + AREA * ROUND / 2
    assert_close(volume(all_), 5 * volume(one), within=1e-6, relative=True)
    assert_close(all_.result.measures.center[:2], (0.0, 0.0), within=1e-6)


def test_a_cut_takes_from_each_copy_and_a_late_fillet_finds_them_all() -> None:
    """A groove round every block, its edges rounded on all of them by one that was picked."""
    grooved = beaded(row("loft-5", 3, 50.0, 0.0, 0.0), edge=rim(), made="cut")
    found = last(grooved)
    taken = 3 * BLOCKS - volume(found)
    assert 0 < taken < 3 * AREA * ROUND
    assert found.summary.copies == 2
    alone = last(apply_edits(grooved, [set_param("rail-40", "shape", "copies", to=False)]))
    assert_close(taken, 3 * (3 * BLOCKS - volume(alone)), within=1e-6, relative=True)


def test_a_copy_that_has_no_such_edge_is_told() -> None:
    """Half of the last block was cut off: its rim is another one."""
    copies = row("loft-5", 3, 50.0, 0.0, 0.0)
    document = beaded(copies, edge=rim())
    raw = document.model_dump(mode="json")
    station = {"id": "station-30", "kind": "station", "name": "Saw", "params": {"plane": "side", "offset": 100.0}}
    circle = {
        "id": "section-31",
        "kind": "section",
        "name": "Hole",
        "params": {"station": {"step": "station-30"}, "shape": {"type": "circle", "diameter": 200.0}},
    }
    saw = {"section": {"step": "section-31"}, "distance": 100.0, "other": 0.0, "result": {"type": "cut", "body": {"step": "repeat-20"}}}
    cut = {"id": "extrude-32", "kind": "extrude", "name": "Cut", "params": saw}
    at = next(i for i, step in enumerate(raw["steps"]) if step["id"] == "rail-40")
    raw["steps"][at]["params"]["shape"]["edge"]["step"] = "extrude-32"
    raw["steps"][at:at] = [station, circle, cut]
    document = Document.model_validate(raw)
    assert_close(volume(last(document)), 2 * AREA * ROUND, within=1e-4, relative=True)
    (told,) = exactly(document, "rail-40").findings
    assert told.code == "not-on-all-copies"
    assert "One copy" in told.title


def test_the_image_of_such_a_rail_goes_round_the_images() -> None:
    document = beaded(row("loft-5", 3, 50.0, 0.0, 0.0), edge=rim())
    raw = document.model_dump(mode="json")
    image = {"shape": {"type": "image", "rail": {"step": "rail-40"}, "plane": "side", "offset": -100.0}}
    raw["steps"].insert(-1, {"id": "rail-45", "kind": "rail", "name": "Image", "params": image})
    raw["steps"][-1]["params"]["paths"] = [{"step": "rail-45"}]
    found = last(Document.model_validate(raw))
    assert_close(volume(found), 3 * AREA * ROUND, within=1e-4, relative=True)
    assert_close(found.result.measures.center, (-250.0, 0.0, 40.0), within=1e-3)


def test_what_is_shown_of_the_rail_lies_on_every_copy() -> None:
    document = beaded(row("loft-5", 3, 0.0, 40.0, 0.0), edge=rim("@repeat-20.2"))
    summary = exactly(document, "rail-40").summary
    own = np.array(summary.points)
    assert [np.round(np.array(line) - own, 6)[0].tolist() for line in summary.elsewhere] == [[0.0, -40.0, 0.0], [0.0, 40.0, 0.0]]


def test_further_edges_are_gone_along_too_each_once() -> None:
    """Upper and lower rim of every block: what is picked again, on the same loop or on a copy of it, is there already."""
    document = beaded(row("loft-5", 3, 50.0, 0.0, 0.0), edge=rim())
    lower = "loft-5/2.left+4.left|loft-5/end:section-2"
    again = [rim("@repeat-20.3"), "loft-5/2.left+4.left|loft-5/end:section-4", f"{lower.replace('|', '@repeat-20.2|')}@repeat-20.2"]
    more = [{"step": "repeat-20", "part": part} for part in (lower, *again)]
    both = apply_edits(document, [set_param("rail-40", "shape", "more", to=more)])
    found = last(both)
    assert found.findings == []
    assert_close(volume(found), 6 * AREA * ROUND, within=1e-4, relative=True)
    assert_close(found.result.measures.center, (50.0, 0.0, 20.0), within=1e-3)
    rail = exactly(both, "rail-40").summary
    assert_close(rail.length, 2 * ROUND, within=1e-6)
    assert len(rail.elsewhere) == 5
    # the first keeps its names when others come along
    names = {face.name for face in found.result.faces}
    assert {face.name for face in last(document).result.faces} < names
    assert len(names) == len(found.result.faces)
    # whatever else is picked before it, the further one keeps its own
    turned = last(apply_edits(both, [set_param("rail-40", "shape", "more", to=[*more[1:3], more[0]])]))
    assert {face.name for face in turned.result.faces} == names


def test_a_section_swept_along_several_edges() -> None:
    """Posts at all four upright edges of a block by one sweep: each is as tall as the block."""
    edges = [f"loft-5/2.{a}+4.{a}|loft-5/2.{b}+4.{b}" for a, b in (("bottom", "right"), ("right", "top"), ("left", "top"), ("bottom", "left"))]
    shape = {"type": "edges", "edge": {"step": "loft-5", "part": edges[0]}, "more": [{"step": "loft-5", "part": e} for e in edges[1:]]}
    raw = BLOCK.model_dump(mode="json")
    round_ = {"station": {"step": "station-1"}, "shape": {"type": "circle", "diameter": 4.0}}
    raw["steps"] += [
        {"id": "rail-40", "kind": "rail", "name": "Uprights", "params": {"shape": shape}},
        {"id": "section-41", "kind": "section", "name": "Post", "params": round_},
        {"id": "sweep-42", "kind": "sweep", "name": "Posts", "params": {"section": {"step": "section-41"}, "path": {"step": "rail-40"}}},
    ]
    found = last(Document.model_validate({**raw, "next": 60}))
    assert_close(volume(found), 4 * pi * 4 * 40, within=1e-6, relative=True)
    assert found.result.measures.pieces == 4
    assert_close(found.result.measures.center, (0.0, 0.0, 20.0), within=1e-6)
    missing = {**raw["steps"][-3]["params"]["shape"], "more": [{"step": "loft-5", "part": "loft-5/2.nowhere|loft-5/2.top+4.top"}]}
    raw["steps"][-3]["params"]["shape"] = missing
    told = exactly(Document.model_validate({**raw, "next": 60}), "rail-40").findings
    assert [finding.path for finding in told] == [["shape", "more", 0]]
