"""Bodies from files as steps: placed, worked on, seen, and told when their file is not there."""

from __future__ import annotations

from math import pi
from typing import Any

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import circle, exactly, lofted
from tests.core.solids.kernel_files import BOX, assembly, box, step_of
from wander.core.bodies.brought import Piece
from wander.core.design.apply import apply_edits
from wander.core.design.attached import Attached
from wander.core.design.bodies import export
from wander.core.design.exact import exact_ways
from wander.core.design.memory import Memory
from wander.core.design.parts import PartFound, Use, part_edits, read_part
from wander.core.design.reading import read_file, write_file
from wander.core.design.rebuild import State, StepBuilt, Ways, rebuild
from wander.core.document.document import Document
from wander.core.document.edits import SetParam
from wander.core.exchange.formats import FileFormat
from wander.core.shaping.density import Density

KEY = "0" * 32
BLOCK = step_of([box(10.0, 20.0, 30.0)])
FILES = {KEY: BLOCK, "1" * 32: trimesh.creation.box((10.0, 20.0, 30.0)).export(file_type="stl")}


def designed(*steps: tuple[str, dict[str, Any]]) -> Document:
    """A station, `station-1`, and steps numbered from 3 on."""
    station = lofted((0.0, circle(40.0))).model_dump(mode="json")["steps"][0]
    made = [{"id": f"{kind}-{n}", "kind": kind, "name": f"{kind.title()} {n}", "params": params} for n, (kind, params) in enumerate(steps, start=3)]
    return Document.model_validate({"format": "wander-design/1", "name": "Brought", "steps": [station, *made], "next": 60})


def built(document: Document, step: str, memory: Memory | None = None, ways: Ways | None = None) -> StepBuilt:
    memory = memory or Memory(files=FILES.get)
    return next(b for b in rebuild(document, memory, ways or exact_ways()) if b.step == step)


@settings(max_examples=12, deadline=None)
@given(at=st.tuples(*[st.floats(-50, 50)] * 3), turn=st.floats(-180, 180), raised=st.floats(-30, 30))
def test_a_part_stands_where_it_was_put(at: tuple[float, float, float], turn: float, raised: float) -> None:
    document = designed(("part", {"file": KEY, "station": {"step": "station-1"}, "at": list(at), "turn": turn}))
    raised_too = apply_edits(document, [SetParam(do="set-param", step="station-1", path=["offset"], value=raised)])
    part = built(raised_too, "part-3")
    assert part.state is State.READY, part.findings
    assert_close(part.result.measures.volume, BOX, within=1e-6, relative=True)
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    middle = np.array([at[0] + 5 * c - 10 * s, at[1] + 5 * s + 10 * c, at[2] + 15 + raised])
    assert np.allclose(part.result.measures.center, middle, atol=1e-6)


def test_a_part_is_worked_on_like_any_body_and_its_edges_hold_when_it_is_moved() -> None:
    alone = built(designed(("part", {"file": KEY})), "part-3")
    edge = min(alone.result.edges, key=lambda e: float(np.abs(e.curve.points - [0.0, 0.0, 15.0]).max()))
    fillet = {"body": {"step": "part-3"}, "sets": [{"edges": [{"step": "part-3", "part": edge.name}], "radius": 2.0}]}
    document = designed(("part", {"file": KEY, "turn": 0.0}), ("fillet", fillet))
    for turn in (0.0, 30.0, 180.0):
        turned = apply_edits(document, [SetParam(do="set-param", step="part-3", path=["turn"], value=turn)])
        rounded = built(turned, "fillet-4")
        assert rounded.state is State.READY, rounded.findings
        length = float(np.linalg.norm(np.diff(edge.curve.points[[0, -1]], axis=0)))
        assert_close(rounded.result.measures.volume, BOX - (1 - pi / 4) * 4 * length, within=1e-6, relative=True)


def test_a_part_is_hollowed_and_handed_over() -> None:
    alone = built(designed(("part", {"file": KEY})), "part-3")
    lid = max(alone.result.faces, key=lambda face: face.frame.origin[2] if face.frame is not None and abs(face.frame.z[2]) > 0.9 else -1.0)
    wall = {"body": {"step": "part-3"}, "thickness": 1.0, "open": [{"step": "part-3", "part": lid.name}]}
    document = designed(("part", {"file": KEY}), ("wall", wall))
    steps = list(rebuild(document, Memory(files=FILES.get), exact_ways()))
    walled = next(step for step in steps if step.step == "wall-4")
    assert walled.state is State.READY, walled.findings
    assert_close(walled.result.measures.volume, BOX - 8 * 18 * 29, within=1e-6, relative=True)
    data = export(document, steps, FileFormat.STEP, Density(0.05))
    assert [piece.name for piece in read_part(data, "again.stp").pieces] == ["Part 3"]


def test_without_the_kernel_it_is_waited_for() -> None:
    assert built(designed(("part", {"file": KEY})), "part-3", ways=Ways()).state is State.WORKING


def test_a_missing_file_is_told_and_no_longer_so_when_it_is_there() -> None:
    held: dict[str, bytes] = {}
    memory = Memory(files=held.get)
    document = designed(("part", {"file": KEY}), ("reference", {"file": "1" * 32, "format": "stl"}))
    for step in ("part-3", "reference-4"):
        (finding,) = built(document, step, memory).findings
        assert finding.code == "file-not-here"
    held |= FILES
    for step in ("part-3", "reference-4"):
        assert built(document, step, memory).state is State.READY


@pytest.mark.parametrize(("unit", "scale"), [("mm", 1.0), ("cm", 10.0), ("m", 1000.0), ("in", 25.4)])
def test_a_reference_counts_in_the_unit_that_is_said(unit: str, scale: float) -> None:
    told = built(designed(("reference", {"file": "1" * 32, "format": "stl", "unit": unit, "at": [1.0, 2.0, 3.0]})), "reference-3").summary
    assert told is not None
    raw = told.model_dump()
    assert raw["volume"] == pytest.approx(6000 * scale**3, rel=1e-6)
    assert raw["triangles"] == 12
    assert raw["low"] == pytest.approx([1 - 5 * scale, 2 - 10 * scale, 3 - 15 * scale])


def test_a_step_file_to_be_looked_at_only_is_no_body() -> None:
    document = designed(("reference", {"file": KEY, "format": "step"}), ("wall", {"body": {"step": "reference-3"}, "thickness": 1.0}))
    assert built(document, "reference-3").summary.model_dump()["volume"] == pytest.approx(BOX, rel=1e-6)  # type: ignore[union-attr]
    (finding,) = built(document, "wall-4").findings
    assert finding.code == "broken-reference"


def test_what_a_file_holds_becomes_steps_with_its_names_and_colours() -> None:
    found = read_part(assembly(), "whole_thing.step")
    edits = part_edits(found, KEY, Use.WORK, "whole_thing.step", ["Block"])
    document = apply_edits(Document(name="New"), edits)
    assert [step.name for step in document.steps] == ["Block 2", "Pin", "Pin 2", "Ball", "Ring"]
    assert [step.params.get("number") for step in document.steps] == [0, 1, 2, 3, 4]
    assert [step.finish.colour if step.finish else None for step in document.steps] == ["#ff0000", None, None, "#0080ff", None]
    many = PartFound("step", [Piece(f"Bolt {k}", None) for k in range(60)])
    (one,) = apply_edits(Document(name="New"), part_edits(many, KEY, Use.WORK, "bolts.step", [])).steps
    assert (one.name, one.params) == ("bolts", {"file": KEY})
    (seen,) = apply_edits(Document(name="New"), part_edits(found, KEY, Use.REFERENCE, "whole.step", [])).steps
    assert (seen.kind, seen.name) == ("reference", "whole")


def test_a_file_of_the_design_brings_its_parts_along() -> None:
    document = designed(("part", {"file": KEY}))
    again, attached = read_file(write_file(document, Attached(parts=FILES)))
    assert again == document
    assert attached.parts == FILES
    assert built(again, "part-3", Memory(files=attached.parts.get)).state is State.READY


def test_what_no_body_can_be_made_of_says_so_on_its_step() -> None:
    document = designed(("part", {"file": KEY, "number": 3}), ("reference", {"file": KEY, "format": "stl"}))
    for step, word in (("part-3", "1 body"), ("reference-4", "no STL")):
        (finding,) = built(document, step).findings
        assert finding.code == "file-not-read"
        assert word in finding.detail
        assert ("AP242" in finding.detail) == (step == "part-3")
    assert exactly(document, "station-1").state is State.READY
