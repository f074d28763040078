"""Every finding: what makes it appear, and that its repair makes it go away."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from tests.core.design.designs import built, circle, findings, lofted, set_param
from tests.core.placed import wobbly
from wander.core.checks.engine import gave_up
from wander.core.design.apply import apply_edits
from wander.core.design.exact import kernel_refused
from wander.core.design.rebuild import State, design_findings
from wander.core.document.document import Document
from wander.core.document.findings import Finding, Severity
from wander.core.solids.errors import KernelError

OPEN = {"type": "spline", "points": [[10.0, 0.0], [0.0, 10.0], [-10.0, 0.0], [0.0, -9.0]], "closed": False}
POINT = {"type": "point"}
BACKWARDS = {"type": "spline", "points": [list(map(float, p)) for p in wobbly(8, 10, 1)[::-1]]}
FORWARDS = {"type": "spline", "points": [list(map(float, p)) for p in wobbly(8, 10, 1)]}


def same_station() -> Document:
    document = lofted((0.0, circle(10.0)), (10.0, circle(12.0)), (20.0, circle(8.0)))
    return apply_edits(document, [set_param("section-4", "station", "step", to="station-1")])


CASES: list[tuple[str, Document, str]] = [
    ("unknown-name", lofted((0.0, circle("nek")), (10.0, circle(5.0)), dimensions=(("neck", 5.0),)), "section-2"),
    ("unknown-name", lofted((0.0, circle("gone")), (10.0, circle(5.0))), "section-2"),
    (
        "shape-out-of-range",
        lofted((0.0, {"type": "rounded-rectangle", "width": 20.0, "depth": 10.0, "radius": 7.0}), (10.0, circle(5.0))),
        "section-2",
    ),
    ("shape-out-of-range", lofted((0.0, {"type": "polygon", "sides": 2, "across": 10.0}), (10.0, circle(5.0))), "section-2"),
    ("open-outline", lofted((0.0, OPEN), (10.0, circle(5.0))), "loft-5"),
    ("point-between", lofted((0.0, circle(5.0)), (10.0, POINT), (20.0, circle(5.0))), "loft-7"),
    ("same-plane", lofted((0.0, circle(10.0)), (10.0, circle(12.0)), (10.0, circle(8.0))), "loft-7"),
    ("same-plane", lofted((0.0, circle(10.0)), (0.0, circle(12.0)), (10.0, circle(8.0))), "loft-7"),
    ("same-plane", lofted((5.0, circle(10.0)), (5.0, circle(12.0))), "loft-5"),
    ("same-plane", same_station(), "loft-7"),
    ("out-of-order", lofted((0.0, circle(10.0)), (30.0, circle(12.0)), (20.0, circle(8.0)), (40.0, circle(8.0))), "loft-9"),
    ("out-of-order", lofted((40.0, circle(10.0)), (30.0, circle(12.0)), (35.0, circle(8.0)), (0.0, circle(8.0))), "loft-9"),
]


def the(code: str, found: list[Finding]) -> Finding:
    matching = [f for f in found if f.code == code]
    assert matching, f"no {code} among {[f.code for f in found]}"
    return matching[0]


@pytest.mark.parametrize(("code", "document", "step"), CASES)
def test_it_appears_where_it_belongs(code: str, document: Document, step: str) -> None:
    finding = the(code, findings(document))
    assert finding.step == step
    assert finding.severity is Severity.ERROR
    assert built(document)[step].state is State.FAILED
    assert finding.title
    assert finding.detail.endswith(".")
    assert finding.fixes


@pytest.mark.parametrize(("code", "document", "step"), CASES)
def test_each_repair_settles_it(code: str, document: Document, step: str) -> None:
    for fix in the(code, findings(document)).fixes:
        mended = apply_edits(document, fix.edits)
        assert code not in [f.code for f in built(mended)[step].findings], fix.label


@pytest.mark.parametrize(
    ("code", "document", "step"), [case for case in CASES if case[0] in {"open-outline", "same-plane", "out-of-order", "point-between"}]
)
def test_the_first_repair_gives_a_body(code: str, document: Document, step: str) -> None:
    mended = apply_edits(document, the(code, findings(document)).fixes[0].edits)
    # leaving a point out of three sections still leaves two
    assert built(mended)[step].state is State.READY


@pytest.mark.parametrize(("code", "document", "step"), [case for case in CASES if case[2].startswith("loft")])
def test_it_points_at_the_place(code: str, document: Document, step: str) -> None:
    finding = the(code, findings(document))
    assert finding.where.points
    assert all(document.step(name) is not None for name in finding.where.names)


def test_the_gap_of_an_open_outline_is_told() -> None:
    finding = the("open-outline", findings(lofted((0.0, OPEN), (10.0, circle(5.0)))))
    assert "13.5 mm" in finding.detail
    assert [p[2] for p in finding.where.points] == [0.0, 0.0]


def test_the_fewest_sections_are_said_to_be_out_of_order() -> None:
    document = lofted((0.0, circle(1.0)), (90.0, circle(1.0)), (20.0, circle(1.0)), (30.0, circle(1.0)), (40.0, circle(1.0)))
    assert the("out-of-order", findings(document)).title.startswith("Rib 2 is out of order")
    two = lofted((0.0, circle(1.0)), (90.0, circle(1.0)), (80.0, circle(1.0)), (30.0, circle(1.0)), (40.0, circle(1.0)), (50.0, circle(1.0)))
    assert the("out-of-order", findings(two)).title.startswith("Rib 2 and Rib 3 are out of order")


def test_a_body_may_run_downwards() -> None:
    assert findings(lofted((30.0, circle(10.0)), (20.0, circle(12.0)), (0.0, circle(8.0)))) == []


def test_a_section_against_the_others_is_a_note_and_the_body_is_there() -> None:
    document = lofted((0.0, FORWARDS), (10.0, BACKWARDS), (20.0, FORWARDS))
    finding = the("opposed-direction", findings(document))
    assert finding.severity is Severity.NOTE
    assert finding.title.startswith("Rib 2")
    assert built(document)["loft-7"].state is State.READY
    mostly = lofted((0.0, BACKWARDS), (10.0, BACKWARDS), (20.0, FORWARDS))
    assert the("opposed-direction", findings(mostly)).title.startswith("Rib 3")
    assert "opposed-direction" not in [f.code for f in findings(lofted((0.0, BACKWARDS), (10.0, BACKWARDS)))]


@pytest.mark.parametrize(
    ("path", "value", "code"),
    [
        (("shape", "diameter"), "5 deg", "wrong-unit"),
        (("shape", "diameter"), "ring", "circular-dimension"),
        (("shape", "diameter"), "1 mm / 0", "bad-expression"),
        (("turn",), "3 mm", "wrong-unit"),
        (("at",), [0.0, "nix"], "unknown-name"),
    ],
)
def test_numbers_that_can_not_be_worked_out(path: tuple, value: Any, code: str) -> None:
    """As they stand in a file, or become when the dimensions that they name change; typed into a field most are refused at once."""
    raw = lofted((0.0, circle(10.0)), (10.0, circle(5.0)), dimensions=(("ring", "ring"),)).model_dump(mode="json")
    here = raw["steps"][1]["params"]
    for part in path[:-1]:
        here = here[part]
    here[path[-1]] = value
    finding = the(code, findings(Document.model_validate(raw)))
    assert finding.step == "section-2"
    assert finding.path[: len(path)] == list(path)


def test_a_count_must_be_whole() -> None:
    document = lofted((0.0, {"type": "polygon", "sides": "size/2", "across": 10.0}), (10.0, circle(5.0)))
    table = [{"name": "size", "value": 7, "kind": "number"}]
    document = Document.model_validate({**document.model_dump(), "dimensions": table})
    assert "whole number" in the("bad-value", findings(document)).detail


def test_a_dimension_with_a_slip_in_a_name_is_mended() -> None:
    document = lofted((0.0, circle(1.0)), (1.0, circle(1.0)), dimensions=(("neck", 3.0), ("throat", "nek + 1 mm")))
    finding = the("unknown-name", design_findings(document))
    assert finding.path == ["throat"]
    assert design_findings(apply_edits(document, finding.fixes[0].edits)) == []


@pytest.mark.parametrize("count", [0, 1])
def test_too_few_sections_are_said_so(count: int) -> None:
    document = lofted(*[(10.0 * i, circle(5.0)) for i in range(count)])
    finding = the("too-few-sections", findings(document))
    assert finding.path == ["sections"]


def test_a_refit_is_a_note() -> None:
    stands = [(10.0 * i, {"type": "spline", "points": [list(map(float, p)) for p in wobbly(60 + i, 400, i)]}) for i in range(6)]
    finding = the("refitted", findings(lofted(*stands)))
    assert finding.severity is Severity.NOTE


def test_a_fold_is_a_warning_with_its_place() -> None:
    document = lofted((0.0, {"type": "ellipse", "width": 40.0, "depth": 6.0}), (5.0, {"type": "ellipse", "width": 40.0, "depth": 6.0}))
    wrung = apply_edits(document, [set_param("loft-5", "sections", 0, "start", to=0.0), set_param("loft-5", "sections", 1, "start", to=0.5)])
    finding = the("folded", findings(wrung))
    assert finding.severity is Severity.WARNING
    assert finding.where.points


def test_a_skin_that_swells_is_a_note_with_its_place_and_a_fair_one_does_not() -> None:
    collar = lofted(*[(z, circle(r)) for z, r in ((0.0, 10.0), (20.0, 10.0), (21.0, 30.0), (24.0, 30.0), (25.0, 10.0), (45.0, 10.0))])
    loft = collar.steps[-1].id
    finding = the("swollen", findings(apply_edits(collar, [set_param(loft, "skin", to="batten")])))
    assert finding.severity is Severity.NOTE
    assert finding.where.points
    assert not [f for f in findings(apply_edits(collar, finding.fixes[0].edits)) if f.code == "swollen"]


def test_a_skin_that_is_bent_least_is_offered_a_more_even_one_where_that_is_seen() -> None:
    barrel = lofted(*[(z, circle(60 - (z - 50) ** 2 / 200)) for z in (0.0, 20.0, 50.0, 64.0, 100.0)])
    loft = barrel.steps[-1].id
    least = apply_edits(barrel, [set_param(loft, "skin", to="fair")])
    finding = the("uneven", findings(least))
    assert finding.severity is Severity.NOTE
    assert finding.path == ["skin"]
    x, y, z = finding.where.points[0]
    assert 0 < z < 100
    assert np.hypot(x, y) == pytest.approx(30 - (z - 50) ** 2 / 400, abs=1.0)
    repaired = apply_edits(least, finding.fixes[0].edits)
    assert not findings(repaired)
    along = np.linspace(0, 100, 200001)
    assert built(repaired)[loft].summary.volume == pytest.approx(np.trapezoid(np.pi * (30 - (along - 50) ** 2 / 400) ** 2, along), rel=1e-6)
    # a cone is even whatever its skin
    cone = lofted(*[(z, circle(20 + z / 5)) for z in (0.0, 20.0, 50.0, 100.0)])
    assert not findings(apply_edits(cone, [set_param(cone.steps[-1].id, "skin", to="fair")]))


def test_an_even_skin_that_bends_back_is_offered_to_be_calm() -> None:
    hump = lofted(*[(z, circle(r)) for z, r in ((0.0, 30.0), (12.0, 54.0), (27.0, 57.0), (42.0, 36.0), (60.0, 33.0))])
    loft = hump.steps[-1].id
    even = apply_edits(hump, [set_param(loft, "skin", to="even")])
    finding = the("waved", findings(even))
    assert finding.severity is Severity.NOTE
    assert finding.path == ["skin"]
    x, y, z = finding.where.points[0]
    assert 12 < z < 27
    assert np.hypot(x, y) == pytest.approx(28.5, abs=0.3)
    repaired = apply_edits(even, finding.fixes[0].edits)
    assert not findings(repaired)
    assert repaired.steps[-1].params["skin"] == "calm"
    # where an end is asked for, its sections do not say all
    squared = apply_edits(even, [set_param(loft, "start", "shape", to="square")])
    assert not [f for f in findings(squared) if f.code == "waved"]


def test_work_that_was_abandoned_can_be_skipped() -> None:
    document = lofted((0.0, circle(5.0)), (9.0, circle(5.0)))
    step = document.step("loft-5")
    assert step is not None
    finding = gave_up(step, "it took longer than 30 s")
    assert "longer than 30 s" in finding.detail
    assert built(apply_edits(document, finding.fixes[1].edits))["loft-5"].state is State.SKIPPED


def test_a_skin_that_is_no_solid_is_told_in_words() -> None:
    step = lofted((0.0, circle(5.0)), (9.0, circle(5.0))).step("loft-5")
    assert step is not None
    assert "Hull is not a solid yet" in kernel_refused(step, KernelError("the faces leave 2 open edges")).title


def test_a_body_that_encloses_less_than_nothing_is_told_and_not_kept() -> None:
    """One section as wide as a house between two of a few mm: the skin runs through itself, and its volume would be negative."""
    document = lofted(
        (0.0, circle(40.0)), (30.0, circle(40.0)), (60.0, {"type": "rectangle", "width": 100000.0, "depth": 40.0}), (90.0, circle(30.0))
    )
    found = findings(document)
    assert the("inside-out", found).severity is Severity.ERROR
    step = built(document)["loft-9"]
    assert step.state is State.FAILED
    assert step.result is None
    settled = apply_edits(document, [set_param("section-6", "shape", "width", to=42.0)])
    assert "inside-out" not in [f.code for f in findings(settled)]
