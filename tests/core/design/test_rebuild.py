"""Rebuild: what is computed again and what is not, keys, waiting, and references that lead astray."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, lofted, set_param
from wander.core.design.apply import apply_edits
from wander.core.design.exact import exact_ways
from wander.core.design.memory import Memory
from wander.core.design.rebuild import State, Ways, design_findings, rebuild
from wander.core.design.standing import standing
from wander.core.document.document import Document, Step
from wander.core.document.edits import AddStep, RemoveStep, RenameStep, SetDimension, SetUnit, SkipStep
from wander.core.document.expressions import LengthUnit
from wander.core.document.findings import Severity
from wander.core.results.summaries import StationSummary
from wander.core.steps import REGISTRY
from wander.core.steps.inputs import Built

HULL = lofted((0.0, circle(20.0)), (10.0, circle("belly")), (30.0, circle("belly / 2")), dimensions=(("belly", 30.0),))


def computed(document: Document, cache: Memory) -> list[str]:
    """The steps that have to be computed for this document."""
    touched: list[str] = []
    list(rebuild(document, cache, Ways(starting=lambda step, key: touched.append(step.id))))
    return touched


def test_everything_is_computed_once() -> None:
    cache = Memory()
    assert computed(HULL, cache) == [step.id for step in HULL.steps]
    assert computed(HULL, cache) == []


def test_a_body_is_shaped_before_it_is_done_and_only_when_it_is_computed() -> None:
    cache = Memory()
    told: list[tuple[str, str]] = []
    for step_built in rebuild(HULL, cache, Ways(shaped=lambda step, key, skins: told.append((f"{step.id} with {len(skins[0].faces)} side", key)))):
        told.append((step_built.step, step_built.key))
    assert told[-2:] == [("loft-7 with 1 side", told[-1][1]), ("loft-7", told[-1][1])]
    told.clear()
    list(rebuild(HULL, cache, Ways(shaped=lambda step, key, skins: told.append((step.id, key)))))
    assert told == []


def test_a_late_change_costs_that_step_alone() -> None:
    cache = Memory()
    computed(HULL, cache)
    assert computed(apply_edits(HULL, [set_param("loft-7", "between", to="straight")]), cache) == ["loft-7"]


def test_an_early_change_costs_what_depends_on_it() -> None:
    cache = Memory()
    computed(HULL, cache)
    assert computed(apply_edits(HULL, [set_param("station-3", "offset", to=12.0)]), cache) == ["station-3", "section-4", "loft-7"]


def test_a_dimension_costs_the_steps_that_use_it() -> None:
    cache = Memory()
    computed(HULL, cache)
    changed = apply_edits(HULL, [SetDimension(do="set-dimension", name="belly", value=32.0)])
    assert computed(changed, cache) == ["section-4", "section-6", "loft-7"]


def test_going_back_costs_nothing() -> None:
    cache = Memory()
    before = built(HULL, cache)
    computed(apply_edits(HULL, [set_param("station-3", "offset", to=12.0)]), cache)
    assert computed(HULL, cache) == []
    assert {k: b.key for k, b in built(HULL, cache).items()} == {k: b.key for k, b in before.items()}


def test_the_unit_shown_changes_nothing() -> None:
    cache = Memory()
    computed(HULL, cache)
    assert computed(apply_edits(HULL, [SetUnit(do="set-unit", unit=LengthUnit.IN)]), cache) == []


def test_an_unrelated_step_is_left_alone() -> None:
    cache = Memory()
    computed(HULL, cache)
    spare = Step(id="station-8", kind="station", name="Spare", params={"plane": "top", "offset": 99.0})
    more = HULL.model_copy(update={"steps": (*HULL.steps, spare), "next": 9})
    assert computed(more, cache) == ["station-8"]


@given(offset=st.floats(1, 29), diameter=st.floats(2, 80))
def test_keys_follow_the_numbers_and_nothing_else(offset: float, diameter: float) -> None:
    change = [set_param("station-3", "offset", to=offset), set_param("section-4", "shape", "diameter", to=diameter)]
    one, other = built(apply_edits(HULL, change)), built(apply_edits(HULL, change[::-1]))
    assert {k: b.key for k, b in one.items()} == {k: b.key for k, b in other.items()}
    if offset != 10.0 and diameter != 30.0:
        assert one["loft-7"].key != built(HULL)["loft-7"].key
    assert one["section-2"].key == built(HULL)["section-2"].key


def test_faces_keep_their_names_when_an_early_step_changes() -> None:
    before = built(HULL)["loft-7"].result
    after = built(apply_edits(HULL, [set_param("section-2", "shape", to={"type": "ellipse", "width": 30.0, "depth": 12.0})]))["loft-7"].result
    assert [f.name for f in before.faces] == [f.name for f in after.faces] == ["loft-7/side", "loft-7/end:section-2", "loft-7/end:section-6"]
    assert [e.name for e in before.edges] == [e.name for e in after.edges]


def test_a_new_name_for_a_step_costs_nothing() -> None:
    cache = Memory()
    computed(HULL, cache)
    renamed = [RenameStep(do="rename-step", step=step.id, name=f"{step.name} again") for step in HULL.steps]
    assert computed(apply_edits(HULL, renamed), cache) == []


def test_expressions_are_worked_out_for_the_screen() -> None:
    found = built(HULL)
    assert found["section-4"].values == {"shape.diameter": 30.0}
    assert found["section-6"].values == {"shape.diameter": 15.0}
    assert found["section-2"].values == {}
    turned = built(apply_edits(HULL, [set_param("section-2", "turn", to="30 deg / 2"), set_param("section-2", "at", to=["belly", 0.0])]))
    assert_close(turned["section-2"].values["turn"], 15.0, within=1e-9)
    assert turned["section-2"].values["at.0"] == 30.0


def test_a_failed_step_makes_its_followers_wait_and_nobody_else() -> None:
    broken = apply_edits(HULL, [set_param("section-4", "shape", "diameter", to=-1.0)])
    found = built(broken)
    assert found["section-4"].state is State.FAILED
    assert found["loft-7"].state is State.WAITING
    assert found["section-6"].state is State.READY
    assert [f.code for f in found["loft-7"].findings] == ["waiting"]
    assert "Rib 2" in found["loft-7"].findings[0].title


def test_a_skipped_step_is_not_built_and_its_followers_wait() -> None:
    found = built(apply_edits(HULL, [SkipStep(do="skip-step", step="section-4", skip=True)]))
    assert found["section-4"].state is State.SKIPPED
    assert found["loft-7"].state is State.WAITING
    assert "skipped" in found["loft-7"].findings[0].detail


def test_a_rename_reaches_the_findings_that_quote_the_name() -> None:
    broken = apply_edits(HULL, [set_param("section-4", "shape", "diameter", to=-1.0)])
    cache = Memory()
    built(broken, cache)
    renamed = built(apply_edits(broken, [RenameStep(do="rename-step", step="section-4", name="Midship")]), cache)
    assert renamed["section-4"].findings[0].title.startswith("Midship")


def test_what_is_barred_is_not_tried_and_not_remembered() -> None:
    cache = Memory()
    key = built(HULL)["section-4"].key
    found = {b.step: b for b in rebuild(HULL, cache, Ways(barred={key: "it took too long"}))}
    assert found["section-4"].state is State.FAILED
    assert "it took too long" in found["section-4"].findings[0].detail
    assert built(HULL, cache)["section-4"].state is State.READY


def test_what_nobody_foresaw_is_a_finding_on_its_step(monkeypatch, caplog) -> None:
    def stumble(params, inputs):
        raise ZeroDivisionError("so it goes")

    monkeypatch.setitem(vars(REGISTRY.get("section")), "builder", stumble)
    found = built(HULL)
    assert found["section-4"].state is State.FAILED
    assert found["station-3"].state is State.READY
    told = found["section-4"].findings[0]
    assert told.code == "unforeseen"
    assert told.title.startswith("Rib 2")
    assert any(record.getMessage().split()[-1] in told.detail for record in caplog.records), "the log has it under the same number"


@pytest.mark.parametrize(
    ("edit", "told"),
    [
        (set_param("section-4", "station", "step", to="station-99"), "refers to a step that is gone"),
        (set_param("section-4", "station", "step", to="section-2"), "needs a station"),
        (set_param("section-2", "station", "step", to="station-5"), "refers to a later step"),
    ],
)
def test_a_reference_that_leads_astray_is_a_finding_with_the_nearest_as_repair(edit, told: str) -> None:
    broken = apply_edits(HULL, [edit])
    finding = next(f for b in built(broken).values() for f in b.findings if f.code == "broken-reference")
    assert told in finding.title
    assert finding.severity is Severity.ERROR
    assert finding.path == ["station"]
    assert finding.fixes
    for fix in finding.fixes:
        mended = built(apply_edits(broken, fix.edits))
        assert not any(f.code == "broken-reference" for b in mended.values() for f in b.findings), fix.label


def test_what_is_meant_and_comes_later_is_put_before_with_all_that_it_needs() -> None:
    rail = {"shape": {"type": "spline", "points": [{"at": [0, 0, 0]}, {"on": {"section": {"step": "section-4"}, "at": 0.0}}]}}
    added = AddStep(do="add-step", kind="rail", name="Edge", params=rail, before="station-3")
    document = apply_edits(HULL, [added])
    [finding] = [f for b in built(document).values() for f in b.findings if f.code == "broken-reference"]
    assert [fix.label for fix in finding.fixes] == ["Put Rib 2 before Edge", "Use Rib 1"]
    mended = apply_edits(document, finding.fixes[0].edits)
    assert [step.id for step in mended.steps].index("station-3") < [step.id for step in mended.steps].index("rail-8")
    assert not [f for b in built(mended).values() for f in b.findings if f.code == "broken-reference"]
    # what needs the one that asks can't stand before it
    of_itself = set_param("station-1", "place", to={"type": "station", "station": {"step": "station-3"}})
    circle = apply_edits(HULL, [set_param("station-3", "place", to={"type": "station", "station": {"step": "station-1"}}), of_itself])
    [told] = [f for b in built(circle).values() for f in b.findings if f.code == "broken-reference" and f.step == "station-1"]
    assert not [fix for fix in told.fixes if fix.label.startswith("Put")]


def test_removing_what_others_need_never_jumps_silently() -> None:
    found = built(apply_edits(HULL, [RemoveStep(do="remove-step", step="section-4")]))
    assert [f.code for f in found["loft-7"].findings] == ["broken-reference"]
    assert found["loft-7"].findings[0].path == ["sections", 1, "section"]


def test_the_table_of_dimensions_is_checked_as_a_whole() -> None:
    document = lofted(
        (0.0, circle(1.0)), (1.0, circle(1.0)), dimensions=(("a", "b"), ("b", "a + 1 mm"), ("c", "lost"), ("d", "3 deg"), ("e", "2 mm"))
    )
    found = design_findings(document)
    assert sorted(f.code for f in found) == ["circular-dimension", "unknown-name", "wrong-unit"]
    assert all(f.step == "" for f in found)


def test_the_memory_forgets_what_was_used_least_by_bytes() -> None:
    memory = Memory(most_bytes=20_000)
    for key in "abc":
        memory.put(key, Built(np.zeros(1000), StationSummary(origin=(0, 0, 0), x=(1, 0, 0), y=(0, 1, 0), offset=0)), lasting=False)
        memory.get("a")
    assert memory.get("b") is None
    assert memory.get("a") is not None
    assert 16_000 < memory.bytes <= 20_000


def test_what_a_step_works_on_is_told_whether_it_goes_or_not() -> None:
    late: list[Step] = [
        Step(id="fillet-30", kind="fillet", name="Rim", params={"body": {"step": "loft-7"}, "sets": [{"edges": []}]}),
        Step(id="chamfer-31", kind="chamfer", name="Foot", params={"body": {"step": "fillet-30"}, "sets": [{"edges": []}]}),
    ]
    document = HULL.model_copy(update={"steps": [*HULL.steps, *late], "next": 32})
    found = {step.step: step for step in rebuild(document, Memory(), exact_ways())}
    assert (found["fillet-30"].state, found["chamfer-31"].state) == (State.FAILED, State.WAITING)
    assert (found["fillet-30"].changes, found["chamfer-31"].changes) == (("loft-7",), ("fillet-30",))
    skipped = {
        step.step: step for step in rebuild(apply_edits(document, [SkipStep(do="skip-step", step="fillet-30", skip=True)]), Memory(), exact_ways())
    }
    assert skipped["fillet-30"].changes == ("loft-7",)
    assert [step.step for step in standing(document, found.values())] == ["loft-7"]
