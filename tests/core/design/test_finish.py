"""How bodies look and what they are made of: nothing is rebuilt for it, it weighs what it should, and files have it."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from pydantic import ValidationError

import wander
from tests.closeness import assert_close
from tests.core.exchange.test_files import glb_parts
from wander.core.document.document import Finish
from wander.core.document.edits import AddStep, SetFinish
from wander.core.document.materials import MATERIALS


def finished(step: str, **fields: object) -> SetFinish:
    return SetFinish(do="set-finish", step=step, finish=Finish.model_validate(fields))


def loft_of(design: wander.Design) -> str:
    return next(step.id for step in design.document.steps if step.kind == "loft")


def test_nothing_is_rebuilt_and_it_weighs_its_volume_times_its_density(samples: Path) -> None:
    flask = wander.open(samples / "tarn.json")
    before = [(step.step, step.key) for step in flask.steps]
    [bare] = list(flask)
    assert bare.mass is None
    flask.edit(finished(loft_of(flask), material="aluminium", density=2.7))
    assert [(step.step, step.key) for step in flask.steps] == before
    [body] = list(flask)
    assert body.material == "aluminium"
    assert body.mass is not None
    assert_close(body.mass, bare.volume / 1e3 * 2.7, within=1e-9)


def test_a_file_has_a_node_for_each_body_in_its_colour(samples: Path, tmp_path: Path) -> None:
    flask = wander.open(samples / "tarn.json")
    loft = loft_of(flask)
    section = next(step.id for step in flask.document.steps if step.kind == "section")
    flask.edit(
        AddStep(do="add-step", kind="extrude", name="Twin", params={"section": {"step": section}, "distance": 5.0}),
        AddStep(do="add-step", kind="move", name="Moved", params={"body": {"step": loft}, "by": [120.0, 0.0, 0.0]}),
    )
    twin = flask.document.steps[-2].id
    flask.edit(finished(loft, colour="#808080", gloss=1.0), finished(twin, material="brass", density=8.5))
    header, _ = glb_parts(flask.export(tmp_path / "two.glb").read_bytes())
    materials = {node["name"]: header["materials"][node["mesh"]] for node in header["nodes"]}
    names = [body.name for body in flask]
    assert list(materials) == names
    assert set(names) == {"Twin", "Flask"}, "what was moved keeps the name and the colour that it had"
    for name, material in materials.items():
        look = material["pbrMetallicRoughness"]
        if name == "Twin":
            assert look["baseColorFactor"][0] > 1.5 * look["baseColorFactor"][2], "brass is yellow"
        else:
            # 128 of 255 is 0.2159 of the light (IEC 61966-2-1)
            assert look["baseColorFactor"][:3] == pytest.approx([0.21586] * 3, abs=1e-4)
            assert look["roughnessFactor"] == pytest.approx(0.2)


def test_it_is_in_the_open_format_and_taken_from_there(samples: Path, tmp_path: Path) -> None:
    flask = wander.open(samples / "tarn.json")
    flask.edit(finished(loft_of(flask), colour="#b0764a", gloss=0.2, material="ash wood", density=0.68))
    written = json.loads(flask.save(tmp_path / "flask.json").read_text())
    [finish] = [step["finish"] for step in written["steps"] if step.get("finish")]
    assert finish == {"colour": "#b0764a", "gloss": 0.2, "material": "ash wood", "density": 0.68}
    assert wander.open(tmp_path / "flask.json").document == flask.document


@pytest.mark.parametrize("wrong", [{"colour": "red"}, {"colour": "#12345"}, {"gloss": 1.5}, {"density": 0.0}, {"density": -2.0}, {"material": ""}])
def test_what_is_no_finish_is_refused(wrong: dict[str, object]) -> None:
    with pytest.raises(ValidationError):
        Finish.model_validate(wrong)


def test_materials_are_told_once_and_lie_within_reason() -> None:
    assert len({m.name for m in MATERIALS}) == len(MATERIALS)
    assert all(0.05 < m.density < 12 and Finish(colour=m.colour, material=m.name, density=m.density) for m in MATERIALS)
