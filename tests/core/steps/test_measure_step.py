"""Measures: closed forms, the kernel's own distances, vessels filled to a level, aims, and refusals."""

from __future__ import annotations

from math import atan, degrees, pi, sqrt
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRepExtrema import BRepExtrema_DistShapeShape

from tests.closeness import assert_close
from tests.core.design.designs import circle, exactly, lofted, only_refusal, repaired, set_param
from tests.core.steps.test_blend_steps import rectangle
from tests.core.steps.test_bridge_step import OVAL, two
from tests.core.steps.test_wall_step import CUP, MOUTH, walled
from wander.core.design.apply import apply_edits
from wander.core.design.exact import exact_ways
from wander.core.design.memory import Memory
from wander.core.design.rebuild import State, Ways, rebuild
from wander.core.document.document import Document, Finish
from wander.core.document.edits import AddStep, SetFinish
from wander.core.results.summaries import MeasureSummary
from wander.core.solids.named import shape_of


def asked(document: Document, **of: Any) -> Document:
    raw = document.model_dump(mode="json")
    raw["steps"].append({"id": "measure-50", "kind": "measure", "name": "Gauge", "params": {"of": of}})
    return Document.model_validate({**raw, "next": 60})


def told(document: Document, ways: Ways | None = None, **of: Any) -> MeasureSummary:
    built = exactly(asked(document, **of), "measure-50", ways or Ways())
    assert built.state is State.READY, built.findings
    summary = built.summary
    assert isinstance(summary, MeasureSummary)
    return summary


def part(name: str, step: str = "loft-5") -> dict[str, str]:
    return {"step": step, "part": name}


BOX = lofted((0.0, rectangle(30.0, 20.0)), (40.0, rectangle(30.0, 20.0)))
LEFT, RIGHT, TOP = "loft-5/2.left+4.left", "loft-5/2.right+4.right", "loft-5/2.top+4.top"


def test_a_box() -> None:
    across = told(BOX, type="distance", parts=[part(LEFT), part(RIGHT)])
    assert_close(across.value, 30.0, within=1e-9)
    assert_close(across.along, [30.0, 0.0, 0.0], within=1e-9)
    assert_close(told(BOX, type="angle", parts=[part(LEFT), part(TOP)]).value, 90.0, within=1e-9)
    assert_close(told(BOX, type="angle", parts=[part(LEFT), part(RIGHT)]).value, 0.0, within=1e-9)
    edge = f"{LEFT}|loft-5/end:section-4"
    along = f"{TOP}|loft-5/end:section-4"
    assert_close(told(BOX, type="length", edges=[part("|".join(sorted(name.split("|")))) for name in (edge, along)]).value, 50.0, within=1e-9)
    assert_close(told(BOX, type="area", faces=[part(LEFT), part("loft-5/end:section-4")]).value, 20 * 40 + 30 * 20, within=1e-6)
    assert_close(told(BOX, type="volume", body={"step": "loft-5"}).value, 24000.0, within=1e-6)


def test_a_cylinder_and_a_cone() -> None:
    side = "loft-5/side"
    assert_close(told(CUP, type="radius", parts=[part(side)]).value, 20.0, within=1e-4)
    assert_close(told(CUP, type="radius", parts=[part(f"loft-5/end:section-4|{side}")]).value, 20.0, within=1e-4)
    assert_close(told(CUP, type="length", edges=[part(f"loft-5/end:section-4|{side}")]).value, 40 * pi, within=1e-5)
    assert_close(told(CUP, type="area", faces=[part(side)]).value, 2000 * pi, within=1e-8, relative=True)
    cone = lofted((0.0, circle(40.0)), (30.0, circle(20.0)), between="straight")
    leaning = next(face.name for face in exactly(cone, "loft-5", Ways()).result.faces if face.frame is None)
    found = told(cone, type="angle", parts=[part(leaning), part("loft-5/end:section-2")])
    assert_close(found.value, 90 - degrees(atan(10 / 30)), within=1e-6)


@pytest.mark.parametrize(("low", "high"), [(circle(40.0), OVAL), (OVAL, rectangle(24.0, 18.0)), (rectangle(30.0, 20.0), circle(24.0))], ids=str)
def test_distances_agree_with_the_kernels(low: dict[str, Any], high: dict[str, Any]) -> None:
    document = two(low, high, foot=circle(30.0), gap=13.0)
    shapes = [shape_of(exactly(document, step, Ways()).result).shape for step in ("loft-5", "loft-25")]
    expected = BRepExtrema_DistShapeShape(*shapes).Value()
    assert_close(told(document, type="distance", parts=[{"step": "loft-5"}, {"step": "loft-25"}]).value, expected, within=1e-6)


@settings(max_examples=5)
@given(x=st.floats(25, 80), z=st.floats(-60, 60))
def test_a_ball_beside_a_cylinder(x: float, z: float) -> None:
    """Distance of a point from the axis, less both radii."""
    raw = CUP.model_dump(mode="json")
    raw["steps"] += [
        {"id": "station-6", "kind": "station", "name": "Beside", "params": {"plane": "front"}},
        {
            "id": "section-7",
            "kind": "section",
            "name": "Half",
            "params": {
                "station": {"step": "station-6"},
                "shape": {
                    "type": "drawing",
                    "points": {"p1": [x, z], "p2": [x, z - 4], "p3": [x, z + 4]},
                    "curves": [{"id": "c1", "type": "arc", "center": "p1", "start": "p2", "end": "p3"}],
                    "next": 9,
                },
            },
        },
        {"id": "revolve-8", "kind": "revolve", "name": "Ball", "params": {"section": {"step": "section-7"}, "point": [x, 0.0], "direction": 90.0}},
    ]
    document = Document.model_validate({**raw, "next": 30})
    beyond = max(-z, z - 50, 0.0)
    expected = (x - 20 if beyond == 0 else sqrt((x - 20) ** 2 + beyond**2)) - 4
    found = told(document, type="distance", parts=[{"step": "loft-5"}, {"step": "revolve-8"}])
    assert_close(found.value, expected, within=1e-6)


def test_what_is_measured_is_what_stands_in_the_end() -> None:
    """A volume held in sight before the body was hollowed is that of the wall; skipped, it is the whole again."""
    raw = asked(CUP, type="volume", body={"step": "loft-5"}).model_dump(mode="json")
    wall = {"id": "wall-51", "kind": "wall", "name": "Wall", "params": {"body": {"step": "loft-5"}, "thickness": 2.0, "open": [MOUTH]}}
    hollow = Document.model_validate({**raw, "steps": [*raw["steps"], wall]})
    cup = pi * (400 * 50 - 18**2 * 48)
    for ways in (Ways(), exact_ways()):
        assert_close(exactly(hollow, "measure-50", ways).summary.value, cup, within=1e-5 * cup)  # type: ignore[union-attr]
    skipped = Document.model_validate({**raw, "steps": [*raw["steps"], {**wall, "skip": True}]})
    assert_close(exactly(skipped, "measure-50").summary.value, pi * 400 * 50, within=1e-5 * pi * 400 * 50)  # type: ignore[union-attr]
    up_to = Document.model_validate({**raw, "steps": [*raw["steps"], wall], "until": "measure-50"})
    assert_close(exactly(up_to, "measure-50").summary.value, pi * 400 * 50, within=1e-5 * pi * 400 * 50)  # type: ignore[union-attr]


def test_what_a_body_weighs_follows_its_shape_and_what_it_is_made_of() -> None:
    """Said nowhere, it is held out; chosen before the body was hollowed, the wall keeps it, until it is given another."""
    unknown = asked(CUP, type="mass", body={"step": "loft-5"}, aim={"target": 57.0, "within": 0.5})
    told = repaired(unknown, only_refusal(unknown, "measure-50"), "Of polypropylene")
    assert_close(told.summary.value, pi * 400 * 50 * 0.905e-3, within=1e-6, relative=True)  # type: ignore[union-attr]
    assert told.summary.verdict == "hit"  # type: ignore[union-attr]
    brass = SetFinish(do="set-finish", step="loft-5", finish=Finish(material="brass", density=8.5))
    hollow = apply_edits(
        unknown, [brass, AddStep(do="add-step", kind="wall", name="Wall", params={"body": {"step": "loft-5"}, "thickness": 2.0, "open": [MOUTH]})]
    )
    cup = pi * (400 * 50 - 18**2 * 48) * 1e-3
    memory = Memory()
    for document, density in ((hollow, 8.5), (apply_edits(hollow, [of_wall(2.7)]), 2.7), (apply_edits(hollow, [of_wall(None)]), 8.5)):
        for ways in (Ways(), exact_ways()):
            found = {step.step: step for step in rebuild(document, memory, ways)}["measure-50"]
            assert_close(found.summary.value, cup * density, within=1e-5, relative=True)  # type: ignore[union-attr]


def test_the_material_is_given_to_the_body_as_it_stands() -> None:
    """A wall that has a colour of its own, and no material, takes what is held out, and keeps its colour."""
    wall = AddStep(do="add-step", kind="wall", name="Wall", params={"body": {"step": "loft-5"}, "thickness": 2.0, "open": [MOUTH]})
    red = SetFinish(do="set-finish", step="wall-60", finish=Finish(colour="#aa3322"))
    coloured = apply_edits(asked(CUP, type="mass", body={"step": "loft-5"}), [wall, red])
    finding = only_refusal(coloured, "measure-50")
    told = repaired(coloured, finding, "Of polypropylene")
    assert_close(told.summary.value, pi * (400 * 50 - 18**2 * 48) * 0.905e-3, within=1e-5, relative=True)  # type: ignore[union-attr]
    (edit,) = finding.fixes[0].edits
    assert isinstance(edit, SetFinish)
    assert edit.finish is not None
    assert edit.finish.colour == "#aa3322"


def of_wall(density: float | None) -> SetFinish:
    return SetFinish(do="set-finish", step="wall-60", finish=None if density is None else Finish(material="aluminium", density=density))


def test_a_wall_is_as_thick_as_it_was_asked_for() -> None:
    cup = walled(CUP, open=[MOUTH])
    sides = [part("loft-5/side", "wall-30"), part("wall-30/inside(loft-5/side)", "wall-30")]
    assert_close(told(cup, type="distance", parts=sides).value, 2.0, within=1e-4)


def test_a_cup_is_filled_to_a_level_and_the_level_for_a_volume_is_found() -> None:
    cup = walled(CUP, open=[MOUTH])
    for level in (0.0, 10.0, 48.0):
        found = told(cup, type="fill", body={"step": "wall-30"}, level=level)
        assert_close(found.value, pi * 18**2 * level, within=2e-6 * pi * 18**2 * 48)
    aim = {"target": 30.0, "within": 0.5}
    found = told(cup, type="fill", body={"step": "wall-30"}, level=10.0, aim=aim)
    assert_close(found.level_for_target, 30000 / (pi * 18**2), within=1e-3)
    assert (found.verdict, found.target) == ("under", 30000.0)
    over = only_refusal(asked(cup, type="fill", body={"step": "wall-30"}, level=60.0), "measure-50")
    assert over.code == "filled-over-rim"
    assert_close(
        repaired(asked(cup, type="fill", body={"step": "wall-30"}, level=60.0), over, "Up to the rim").summary.value, pi * 18**2 * 48, within=2.0
    )  # type: ignore[union-attr]
    whole = told(CUP, type="fill", body={"step": "loft-5"}, level=20.0)
    assert_close(whole.value, 400 * pi * 20, within=2e-6 * 400 * pi * 50)


def test_a_vessel_on_its_side_holds_nothing() -> None:
    cup = walled(CUP, open=[MOUTH])
    finding = only_refusal(asked(cup, type="fill", body={"step": "wall-30"}, level=10.0, up="x"), "measure-50")
    assert finding.code == "filled-over-rim"
    assert not finding.fixes  # on its side its rim begins at the bottom


def test_an_aim_is_kept_or_missed_by_so_much() -> None:
    aimed = asked(BOX, type="distance", parts=[part(LEFT), part(RIGHT)], aim={"target": 30.05, "within": 0.1})
    built = exactly(aimed, "measure-50", Ways())
    assert built.summary.verdict == "hit"  # type: ignore[union-attr]
    assert not built.findings
    wider = exactly(apply_edits(aimed, [set_param(f"section-{n}", "shape", "width", to=31.0) for n in (2, 4)]), "measure-50", Ways())
    assert built.state is State.READY
    assert wider.summary.verdict == "over"  # type: ignore[union-attr]
    assert_close(wider.summary.off, 0.95, within=1e-9)  # type: ignore[union-attr]
    assert [finding.code for finding in wider.findings] == ["aim-missed"]
    square = told(BOX, type="angle", parts=[part(LEFT), part(TOP)], aim={"target": 90.0, "within": 0.5})
    assert (square.verdict, square.target) == ("hit", pytest.approx(90.0))
    assert told(BOX, type="volume", body={"step": "loft-5"}, aim={"target": 24.0, "within": 0.0}).verdict == "hit"


@pytest.mark.parametrize(
    ("of", "code"),
    [
        ({"type": "distance", "parts": [part(LEFT)]}, "measure-of-nothing"),
        ({"type": "length"}, "measure-of-nothing"),
        ({"type": "radius", "parts": [part(LEFT)]}, "measure-no-radius"),
        ({"type": "mass", "body": {"step": "loft-5"}}, "mass-of-unknown"),
        ({"type": "area", "faces": [part("loft-5/end:section-99")]}, "broken-reference"),
        ({"type": "distance", "parts": [part(LEFT), part(RIGHT)], "aim": {"target": 30.0, "within": -1.0}}, "aim-within-nothing"),
    ],
)
def test_what_is_refused(of: dict[str, Any], code: str) -> None:
    assert only_refusal(asked(BOX, **of), "measure-50").code == code


def test_a_face_that_the_kernel_made_is_measured_by_it() -> None:
    raw = walled(CUP, open=[MOUTH]).model_dump(mode="json")
    cut = {"body": {"step": "wall-30"}, "sets": [{"edges": [], "among": "outer", "distance": 0.5}]}
    raw["steps"].append({"id": "chamfer-31", "kind": "chamfer", "name": "Chamfer", "params": cut})
    document = Document.model_validate(raw)
    side = exactly(asked(document, type="area", faces=[part("loft-5/side", "chamfer-31")]), "measure-50")
    assert side.state is State.READY, side.findings
    assert_close(side.summary.value, 2 * pi * 20 * 49, within=1e-4 * 2 * pi * 20 * 49)  # type: ignore[union-attr]
    assert np.isfinite(side.summary.value)  # type: ignore[union-attr]
