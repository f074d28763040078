"""Edits: what each does, and that a batch is kept as a whole or not at all."""

from __future__ import annotations

import re
from typing import Any

import pytest
from pydantic import TypeAdapter

from tests.core.design.designs import circle, lofted, set_param
from wander.core.design.apply import apply_edits
from wander.core.design.errors import EditRefused
from wander.core.document import edits as e
from wander.core.document.document import Document
from wander.core.document.expressions import Kind, LengthUnit

HULL = lofted((0.0, circle(20.0)), (10.0, circle("belly")), (30.0, circle(5.0)), dimensions=(("belly", 30.0),))
ANY_EDIT: TypeAdapter[e.Edit] = TypeAdapter(e.Edit)


def ids(document: Document) -> list[str]:
    return [step.id for step in document.steps]


def params(document: Document, step: str) -> dict[str, Any]:
    found = document.step(step)
    assert found is not None
    return found.params


def test_names_and_units() -> None:
    changed = apply_edits(
        HULL,
        [
            e.RenameDesign(do="rename-design", name="Other"),
            e.SetUnit(do="set-unit", unit=LengthUnit.CM),
            e.RenameStep(do="rename-step", step="loft-7", name="Skin"),
            e.SkipStep(do="skip-step", step="loft-7", skip=True),
        ],
    )
    assert (changed.name, changed.unit) == ("Other", LengthUnit.CM)
    loft = changed.step("loft-7")
    assert loft is not None
    assert (loft.name, loft.skip) == ("Skin", True)
    assert HULL.name == "Trial", "the document that was changed stays as it was"


def test_dimensions_are_added_changed_and_removed() -> None:
    added = apply_edits(HULL, [e.SetDimension(do="set-dimension", name="wall", value="1.2 mm")])
    assert [d.name for d in added.dimensions] == ["belly", "wall"]
    changed = apply_edits(added, [e.SetDimension(do="set-dimension", name="belly", value="wall * 30")])
    assert changed.dimensions[0].value == "wall * 30"
    gone = apply_edits(changed, [e.RemoveDimension(do="remove-dimension", name="wall")])
    assert [d.name for d in gone.dimensions] == ["belly"]


def test_numbers_typed_without_a_unit_take_that_of_the_design() -> None:
    inches = apply_edits(HULL, [e.SetUnit(do="set-unit", unit=LengthUnit.IN)])
    changed = apply_edits(
        inches,
        [
            set_param("section-2", "shape", "diameter", to="2"),
            set_param("section-4", "shape", "diameter", to="belly + 1"),
            set_param("section-6", "turn", to="45"),
            set_param("section-6", "at", to=["1", 0.0]),
            e.SetDimension(do="set-dimension", name="belly", value="3"),
            e.SetDimension(do="set-dimension", name="lean", value="12", kind=Kind.ANGLE),
        ],
    )
    assert params(changed, "section-2")["shape"]["diameter"] == pytest.approx(50.8)
    assert params(changed, "section-4")["shape"]["diameter"] == "belly + 1 in"
    assert params(changed, "section-6")["turn"] == 45.0
    assert params(changed, "section-6")["at"] == [pytest.approx(25.4), 0.0]
    assert [d.value for d in changed.dimensions] == [pytest.approx(76.2), 12.0]


def test_a_value_that_was_not_written_yet_can_be_set_inside() -> None:
    assert "at" not in params(HULL, "section-2")
    assert params(apply_edits(HULL, [set_param("section-2", "at", 1, to=4.0)]), "section-2")["at"] == [0.0, 4.0]


def test_steps_are_added_in_place_and_named_by_alias() -> None:
    rib = {"station": {"step": "$there"}, "shape": circle("3")}
    batch = [
        e.AddStep(do="add-step", kind="station", name="New", params={"plane": "top", "offset": 50.0}, alias="$there", before="loft-7"),
        e.AddStep(do="add-step", kind="section", name="Rib", params=rib, alias="$rib", before="loft-7"),
        set_param("loft-7", "sections", 3, to={"section": {"step": "$rib"}}),
    ]
    changed = apply_edits(HULL, batch)
    assert ids(changed)[-3:] == ["station-8", "section-9", "loft-7"]
    assert changed.next == 10
    assert params(changed, "section-9")["station"] == {"step": "station-8"}
    assert params(changed, "section-9")["shape"]["diameter"] == 3.0
    assert params(changed, "loft-7")["sections"][3] == {"section": {"step": "section-9"}}


def test_ids_are_never_used_twice() -> None:
    without = apply_edits(HULL, [e.RemoveStep(do="remove-step", step="loft-7")])
    again = apply_edits(without, [e.AddStep(do="add-step", kind="loft", name="Again", params={"sections": []})])
    assert ids(again)[-1] == "loft-8"


def test_steps_move() -> None:
    moved = apply_edits(HULL, [e.MoveStep(do="move-step", step="station-5", before="section-4")])
    assert ids(moved)[:4] == ["station-1", "section-2", "station-3", "station-5"]
    assert ids(apply_edits(moved, [e.MoveStep(do="move-step", step="station-1")]))[-1] == "station-1"


@pytest.mark.parametrize(
    ("raw", "told"),
    [
        ({"do": "set-param", "step": "loft-99", "path": ["between"], "value": "smooth"}, "no step “loft-99”"),
        ({"do": "set-param", "step": "loft-7", "path": ["between"], "value": "wavy"}, "Between"),
        ({"do": "set-param", "step": "loft-7", "path": ["nothing"], "value": 1}, "nothing"),
        ({"do": "set-param", "step": "loft-7", "path": ["sections", 9, "start"], "value": 1}, "nothing at sections.9.start"),
        ({"do": "set-param", "step": "loft-7", "path": ["sections", "x"], "value": 1}, "nothing at sections.x"),
        ({"do": "set-param", "step": "section-2", "path": ["shape", "diameter"], "value": "__import__('os')"}, "more than a number"),
        ({"do": "set-param", "step": "section-2", "path": ["shape", "diameter"], "value": [1]}, "expected a number"),
        ({"do": "set-param", "step": "section-2", "path": ["shape", "diameter"], "value": True}, "expected a number"),
        ({"do": "set-param", "step": "section-2", "path": ["shape", "diameter"], "value": 1e300}, "sensible range"),
        ({"do": "set-param", "step": "section-2", "path": ["shape"], "value": {"type": "blob"}}, "blob"),
        ({"do": "set-param", "step": "section-2", "path": ["shape"], "value": {"type": "circle"}}, "Diameter"),
        ({"do": "add-step", "kind": "teleport", "name": "x", "params": {}}, "no kind of step called “teleport”"),
        ({"do": "add-step", "kind": "station", "name": "x", "params": {"offset": 1.0}, "before": "loft-99"}, "no step “loft-99”"),
        ({"do": "set-dimension", "name": "2x", "value": 1.0}, "can't be the name"),
        ({"do": "set-dimension", "name": "mm", "value": 1.0}, "can't be the name"),
        ({"do": "set-dimension", "name": "x", "value": "()"}, "can't be read|more than a number"),
        ({"do": "remove-step", "step": "gone-1"}, "no step “gone-1”"),
    ],
)
def test_what_does_not_fit_is_refused_with_its_number(raw: dict[str, Any], told: str) -> None:
    good = set_param("station-1", "offset", to=1.0)
    with pytest.raises(EditRefused, match=told) as caught:
        apply_edits(HULL, [good, ANY_EDIT.validate_python(raw)])
    assert caught.value.index == 1
    assert params(HULL, "station-1")["offset"] == 0.0


@pytest.mark.parametrize(
    ("path", "value", "said"),
    [
        (["shape", "diameter"], "3 kg", "kg is no unit"),
        (["shape", "diameter"], "30 deg", "is an angle, and a length is needed here"),
        (["shape", "diameter"], None, "Diameter: expected a number"),
        (["at"], [1.0, 10**400], "Centre: “10000000000000000000” is out of any sensible range"),
        (["turn"], "2 mm", "is a length, and an angle is needed here"),
    ],
)
def test_a_number_of_the_wrong_kind_is_refused_in_words(path: list[str], value: Any, said: str) -> None:
    with pytest.raises(EditRefused, match=re.escape(said)) as refused:
        apply_edits(HULL, [set_param("section-2", *path, to=value)])
    assert "section-2" not in str(refused.value)


def test_a_dimension_measures_what_is_typed() -> None:
    lean = apply_edits(HULL, [e.SetDimension(do="set-dimension", name="lean", value="30 deg")]).dimensions[-1]
    assert (lean.value, lean.kind) == ("30 deg", Kind.ANGLE)


def test_what_was_wrong_before_does_not_stand_in_the_way() -> None:
    """A dimension that changes its kind leaves an expression behind that has no value; other numbers of the step can be changed all the same."""
    leaning = apply_edits(HULL, [e.SetDimension(do="set-dimension", name="belly", value="30 deg")])
    turned = apply_edits(leaning, [set_param("section-4", "turn", to="belly / 2")])
    assert params(turned, "section-4")["turn"] == "belly / 2"


@pytest.mark.parametrize(
    ("taken", "wanted", "given"),
    [
        (["Rib"], "Rib", "Rib 2"),
        (["Rib", "Rib 2"], "Rib", "Rib 3"),
        (["Rib 7"], "Rib 7", "Rib 8"),
        (["Rib 7", "Rib 8"], "Rib 7", "Rib 9"),
        (["Rib"], "Collar", "Collar"),
        (["N" * 80], "N" * 80, "N" * 78 + " 2"),
        (["7"], "7", "7 2"),
    ],
)
def test_no_two_steps_are_added_with_one_name(taken: list[str], wanted: str, given: str) -> None:
    document = Document.model_validate({"format": "wander-design/1", "name": "Trial"})
    for name in [*taken, wanted]:
        document = apply_edits(document, [e.AddStep(do="add-step", kind="station", name=name, params={"plane": "top"})])
    assert [step.name for step in document.steps] == [*taken, given]
