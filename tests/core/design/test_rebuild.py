"""Rebuild: what is computed again and what is not, keys, waiting, and references that lead astray."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, lofted, set_param
from wander.core.design.apply import apply_edits
from wander.core.design.rebuild import Cache, State, design_findings, rebuild
from wander.core.document.document import Document, Step
from wander.core.document.edits import RemoveStep, RenameStep, SetDimension, SetUnit, SkipStep
from wander.core.document.expressions import LengthUnit
from wander.core.document.findings import Severity
from wander.core.steps.registry import StepRefused

HULL = lofted((0.0, circle(20.0)), (10.0, circle("belly")), (30.0, circle("belly / 2")), dimensions=(("belly", 30.0),))


def computed(document: Document, cache: Cache) -> list[str]:
    """The steps that have to be computed for this document."""
    touched: list[str] = []
    list(rebuild(document, cache, lambda step, key: touched.append(step.id)))
    return touched


def test_everything_is_computed_once() -> None:
    cache = Cache()
    assert computed(HULL, cache) == [step.id for step in HULL.steps]
    assert computed(HULL, cache) == []


def test_a_body_is_shaped_before_it_is_done_and_only_when_it_is_computed() -> None:
    cache = Cache()
    told: list[tuple[str, str]] = []
    for step_built in rebuild(HULL, cache, shaped=lambda step, key, shell: told.append((f"{step.id} with {len(shell.faces)} side", key))):
        told.append((step_built.step, step_built.key))
    assert told[-2:] == [("loft-7 with 1 side", told[-1][1]), ("loft-7", told[-1][1])]
    told.clear()
    list(rebuild(HULL, cache, shaped=lambda step, key, shell: told.append((step.id, key))))
    assert told == []


def test_a_late_change_costs_that_step_alone() -> None:
    cache = Cache()
    computed(HULL, cache)
    assert computed(apply_edits(HULL, [set_param("loft-7", "between", to="straight")]), cache) == ["loft-7"]


def test_an_early_change_costs_what_depends_on_it() -> None:
    cache = Cache()
    computed(HULL, cache)
    assert computed(apply_edits(HULL, [set_param("station-3", "offset", to=12.0)]), cache) == ["station-3", "section-4", "loft-7"]


def test_a_dimension_costs_the_steps_that_use_it() -> None:
    cache = Cache()
    computed(HULL, cache)
    changed = apply_edits(HULL, [SetDimension(do="set-dimension", name="belly", value=32.0)])
    assert computed(changed, cache) == ["section-4", "section-6", "loft-7"]


def test_going_back_costs_nothing() -> None:
    cache = Cache()
    before = built(HULL, cache)
    computed(apply_edits(HULL, [set_param("station-3", "offset", to=12.0)]), cache)
    assert computed(HULL, cache) == []
    assert {k: b.key for k, b in built(HULL, cache).items()} == {k: b.key for k, b in before.items()}


def test_the_unit_shown_changes_nothing() -> None:
    cache = Cache()
    computed(HULL, cache)
    assert computed(apply_edits(HULL, [SetUnit(do="set-unit", unit=LengthUnit.IN)]), cache) == []


def test_an_unrelated_step_is_left_alone() -> None:
    cache = Cache()
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
    before = built(HULL)["loft-7"].result.shell
    after = built(apply_edits(HULL, [set_param("section-2", "shape", to={"type": "ellipse", "width": 30.0, "depth": 12.0})]))["loft-7"].result.shell
    assert [f.name for f in before.faces] == [f.name for f in after.faces]
    assert [c.name for c in before.caps] == [c.name for c in after.caps]


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
    cache = Cache()
    built(broken, cache)
    renamed = built(apply_edits(broken, [RenameStep(do="rename-step", step="section-4", name="Midship")]), cache)
    assert renamed["section-4"].findings[0].title.startswith("Midship")


def test_a_refusal_at_the_start_is_not_remembered() -> None:
    cache = Cache()

    def refuse(step: Step, key: str) -> None:
        if step.id == "section-4":
            raise StepRefused([])

    states = {b.step: b.state for b in rebuild(HULL, cache, refuse)}
    assert states["section-4"] is State.FAILED
    assert built(HULL, cache)["section-4"].state is State.READY


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
    mended = built(apply_edits(broken, finding.fixes[0].edits))
    assert not any(f.code == "broken-reference" for b in mended.values() for f in b.findings)


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


def test_the_cache_forgets_what_was_used_least() -> None:
    cache = Cache(most=2)
    for key in "abc":
        cache.put(key, StepRefused([]))
        cache.get("a")
    assert cache.get("b") is None
    assert cache.get("a") is not None
