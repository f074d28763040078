"""Findings about drawings, through the document: each appears, lights up its place, and goes away with any of its repairs."""

from __future__ import annotations

import re
from math import cos, hypot, pi, sin
from typing import Any

import pytest

from tests.core.design.designs import built, circle, lofted, set_param
from tests.core.drawing.drawings import flange
from wander.core.design.apply import apply_edits
from wander.core.design.errors import EditRefused
from wander.core.design.rebuild import State
from wander.core.document.document import Document
from wander.core.document.edits import Draw, SetDimension
from wander.core.document.findings import Finding, Severity

SECTION, LOFT = "section-4", "loft-7"


def chain(*points: tuple[float, float], closed: bool = True) -> dict[str, Any]:
    count = len(points)
    ends = [(i + 1, (i + 1) % count + 1) for i in range(count if closed else count - 1)]
    return {
        "type": "drawing",
        "points": {f"p{i}": p for i, p in enumerate(points, start=1)},
        "curves": [{"id": f"c{k}", "type": "line", "start": f"p{a}", "end": f"p{b}"} for k, (a, b) in enumerate(ends, start=1)],
        "next": 50,
    }


BOX = chain((-10, -10), (10, -10), (10, 10), (-10, 10))
BLUNT = chain((-10, -9.998), (-9.997, -10), (10, -10), (10.003, -9.998), (10.003, 10), (10, 10.002), (-9.997, 10.002), (-10, 10))
"""At all four corners, by a few thousandths."""
STEPPED = chain((-10, -10), (0, -10), (10, -10), (10, 0), (10, 10), (0, 10), (-5, 10), (-10, 10), (-10, 0))
"""All four sides in two lines and more."""
HALVED = {
    **BOX,
    "points": {**BOX["points"], "p7": (0, -10), "p8": (0, 10)},
    "curves": [*BOX["curves"], {"id": "c9", "type": "line", "start": "p7", "end": "p8"}],
}
RING = {**BOX, "points": {**BOX["points"], "p9": (0, 0)}, "curves": [*BOX["curves"], {"id": "c9", "type": "circle", "center": "p9", "radius": 4.0}]}


def holding(*holds: dict[str, Any]) -> dict[str, Any]:
    return {**BOX, "holds": [{"id": f"h{i}", **h} for i, h in enumerate(holds, start=1)]}


SIZES = [{"type": t, "of": [c]} for t, c in (("horizontal", "c1"), ("vertical", "c2"), ("horizontal", "c3"), ("vertical", "c4"))]
CASES: list[tuple[str, dict[str, Any], Severity]] = [
    ("not-closed", chain((-10, -10), (10, -10), (10, 10), (-10, 10), (-10, -9.9), closed=False), Severity.ERROR),
    ("gap", chain((-10, -10), (10, -10), (10, 10), (-10, 10), (-10, -9.9), closed=False), Severity.WARNING),
    ("doubled", {**BOX, "curves": [*BOX["curves"], {"id": "c9", "type": "line", "start": "p2", "end": "p1"}]}, Severity.WARNING),
    ("sliver", chain((-10, -10), (10, -10), (10.003, -9.998), (10, 10), (-10, 10)), Severity.WARNING),
    ("sliver", BLUNT, Severity.WARNING),
    ("needless-split", STEPPED, Severity.NOTE),
    ("needless-split", chain((-10, -10), (0, -10), (10, -10), (10, 10), (-10, 10)), Severity.NOTE),
    ("which-region", HALVED, Severity.ERROR),
    ("which-region", RING, Severity.ERROR),
    ("region-gone", {**HALVED, "use": ["c1+c2+c3+c4"]}, Severity.ERROR),
    ("holds-contradict", holding({"type": "length", "of": ["c1"], "value": 20.0}, {"type": "length", "of": ["c1"], "value": 22.0}), Severity.ERROR),
    ("hold-too-many", holding(*SIZES, {"type": "parallel", "of": ["c1", "c3"]}), Severity.WARNING),
]


def design(shape: dict[str, Any]) -> Document:
    return apply_edits(lofted((0.0, circle(10.0)), (10.0, circle(12.0)), (20.0, circle(8.0))), [set_param(SECTION, "shape", to=shape)])


def the(code: str, document: Document) -> Finding:
    found = built(document)[SECTION].findings
    return next(f for f in found if f.code == code)


@pytest.mark.parametrize(("code", "shape", "severity"), CASES)
def test_it_appears_on_the_section(code: str, shape: dict[str, Any], severity: Severity) -> None:
    document = design(shape)
    finding = the(code, document)
    assert finding.severity is severity
    assert finding.detail.endswith(".")
    assert finding.fixes
    step = built(document)[SECTION]
    failed = any(f.severity is Severity.ERROR for f in step.findings)
    assert step.state is (State.FAILED if failed else State.READY)
    assert step.summary.drawing.curves, "what is drawn is shown all the same"
    assert built(document)[LOFT].state is (State.WAITING if failed else State.READY)


@pytest.mark.parametrize(("code", "shape", "severity"), CASES)
def test_it_is_told_without_an_id_of_the_document(code: str, shape: dict[str, Any], severity: Severity) -> None:
    for finding in built(design(shape))[SECTION].findings:
        told = [finding.title, finding.detail, *(fix.label for fix in finding.fixes)]
        assert not [text for text in told if re.search(r"\b[cph]\d+\b", text)], told


@pytest.mark.parametrize(("code", "shape", "severity"), CASES)
def test_each_repair_settles_it_and_gives_a_body(code: str, shape: dict[str, Any], severity: Severity) -> None:
    document = design(shape)
    for fix in the(code, document).fixes:
        mended = built(apply_edits(document, fix.edits))
        assert code not in [f.code for f in mended[SECTION].findings], fix.label
        assert mended[LOFT].state is State.READY, fix.label


def test_an_outline_that_crosses_itself_keeps_its_largest_part() -> None:
    document = design(chain((-10, -10), (10, 10), (10, -12), (-10, 10)))
    assert the("which-region", document).fixes
    mended = built(apply_edits(document, the("crosses-itself", document).fixes[0].edits))
    assert mended[LOFT].state is State.READY
    assert mended[SECTION].summary.area == pytest.approx(max(r.area for r in mended[SECTION].summary.drawing.regions), rel=1e-12)


def test_a_hole_that_does_not_go_through_is_told_by_the_loft() -> None:
    document = design({**RING, "use": ["c1+c2+c3+c4"]})
    told = built(document)
    assert [(f.code, f.severity) for f in told[LOFT].findings] == [("holes-left-out", Severity.WARNING)]
    assert told[LOFT].state is State.READY
    assert abs(told[SECTION].summary.area - (400 - 16 * pi)) < 1e-6
    assert len(told[SECTION].summary.beside) == 1


@pytest.mark.parametrize("points", [[(-10, -10), (10, 10), (10, -10), (-10, 10)], [(-20, 0), (15, 12), (20, -3), (-14, 9), (0, -15)]])
def test_a_spline_that_crosses_itself_is_no_outline_and_keeps_its_largest_part(points: list[tuple[float, float]]) -> None:
    document = design({"type": "spline", "points": points, "closed": True})
    told = the("crosses-itself", document)
    assert told.severity is Severity.ERROR
    assert built(document)[LOFT].state is State.WAITING
    mended = built(apply_edits(document, told.fixes[0].edits))
    assert mended[LOFT].state is State.READY
    regions = mended[SECTION].summary.drawing.regions
    assert len(regions) > 1
    assert mended[SECTION].summary.area == pytest.approx(max(r.area for r in regions), rel=1e-12)


def test_of_many_areas_that_read_alike_none_is_held_out_by_its_words() -> None:
    finding = the("which-region", design({"type": "drawing", **flange(12)}))
    assert [fix.label for fix in finding.fixes] == ["Turn the lines inside into construction", "Use the area of 299.15 cm²"]
    assert "click into it" in finding.detail
    plate = apply_edits(design({"type": "drawing", **flange(12)}), finding.fixes[1].edits)
    assert len(built(plate)[SECTION].result.areas[0].holes) == 12


def test_an_edit_that_splits_the_area_asks_again_and_the_answer_is_kept() -> None:
    document = design({**BOX, "use": ["c1+c2+c3+c4"]})
    assert built(document)[LOFT].state is State.READY
    line = {"act": "add", "points": {"$a": (0, -10), "$b": (0, 10)}, "curves": [{"type": "line", "start": "$a", "end": "$b"}]}
    split = apply_edits(document, [Draw.model_validate({"do": "draw", "step": SECTION, "acts": [line]})])
    asked = the("region-gone", split)
    chosen = apply_edits(split, next(f for f in asked.fixes if f.label.startswith("Use the area")).edits)
    assert abs(built(chosen)[SECTION].summary.area - 200) < 1e-6


def test_a_trace_follows_its_body_and_says_when_its_edge_is_gone() -> None:
    document = lofted((0.0, circle(10.0)), (10.0, circle(12.0)), (20.0, circle("wide")), dimensions=(("wide", 8.0),))
    trace = {"type": "drawing", "curves": [{"id": "c1", "type": "trace", "of": {"step": LOFT, "part": "ring:section-6"}}], "next": 2}
    add = [
        {"do": "add-step", "kind": "station", "name": "Top", "params": {"plane": "top", "offset": 40.0}, "alias": "$s"},
        {"do": "add-step", "kind": "section", "name": "Top", "params": {"station": {"step": "$s"}, "shape": trace}},
    ]
    from pydantic import TypeAdapter

    from wander.core.document.edits import Edit

    traced = apply_edits(document, TypeAdapter(list[Edit]).validate_python(add))
    top = traced.steps[-1].id
    assert abs(built(traced)[top].summary.area - 16 * 3.14159265) < 1e-4
    wider = apply_edits(traced, [SetDimension(do="set-dimension", name="wide", value=20.0)])
    assert abs(built(wider)[top].summary.area - 100 * 3.14159265) < 1e-3
    fewer = apply_edits(traced, [set_param(LOFT, "sections", to=[{"section": {"step": s}} for s in ("section-2", "section-4")])])
    lost = next(f for f in built(fewer)[top].findings if f.code == "trace-lost")
    followed = built(apply_edits(fewer, lost.fixes[0].edits))[top]
    assert "trace-lost" not in [f.code for f in followed.findings]


def test_numbers_typed_in_a_drawing_keep_their_unit_and_names() -> None:
    document = apply_edits(design(BOX), [SetDimension(do="set-dimension", name="wide", value=24.0)])
    acts = [{"act": "hold", "type": "length", "of": ["c1"], "value": "1 in"}, {"act": "hold", "type": "length", "of": ["c2"], "value": "wide / 2"}]
    acts += [
        {"act": "hold", "type": kind, "of": [c]} for kind, c in (("horizontal", "c1"), ("vertical", "c2"), ("horizontal", "c3"), ("vertical", "c4"))
    ]
    drawn = apply_edits(document, [Draw.model_validate({"do": "draw", "step": SECTION, "acts": acts})])
    assert abs(built(drawn)[SECTION].summary.area - 25.4 * 12) < 1e-6
    wider = apply_edits(drawn, [SetDimension(do="set-dimension", name="wide", value=30.0)])
    assert abs(built(wider)[SECTION].summary.area - 25.4 * 15) < 1e-6
    with pytest.raises(EditRefused, match="nix"):
        apply_edits(drawn, [Draw.model_validate({"do": "draw", "step": SECTION, "acts": [{"act": "fillet", "point": "p1", "radius": "nix"}]})])


def test_many_of_a_kind_are_one_finding() -> None:
    blunt, stepped = the("sliver", design(BLUNT)), the("needless-split", design(STEPPED))
    assert [f.code for f in built(design(BLUNT))[SECTION].findings].count("sliver") == 1
    assert blunt.title == "4 curves are too short to be meant"
    assert (len(blunt.where.points), len(blunt.where.names)) == (4, 4)
    assert stepped.title == "9 curves could be 4"
    # the places that are marked lie on the sides
    assert len(stepped.where.points) == 5
    mended = built(apply_edits(design(BLUNT), blunt.fixes[0].edits))[SECTION].summary
    assert len(mended.drawing.curves) == 4
    assert mended.area == pytest.approx(400, abs=0.2)


def test_what_was_drawn_twice_is_taken_away_at_once() -> None:
    corners = [(-10, -10), (10, -10), (10, 10), (-10, 10)]
    points = {f"p{i}": at for i, at in enumerate([*corners, *corners], start=1)}
    sides = [(first + i, first + (i + 1) % 4) for first in (1, 5) for i in range(4)]
    curves = [{"id": f"c{n}", "type": "line", "start": f"p{a}", "end": f"p{b}"} for n, (a, b) in enumerate(sides, start=1)]
    document = design({"type": "drawing", "points": points, "curves": curves})
    assert [f.code for f in built(document)[SECTION].findings].count("doubled") == 1
    told = the("doubled", document)
    assert told.title == "4 curves lie on others"
    mended = built(apply_edits(document, told.fixes[0].edits))
    assert mended[LOFT].state is State.READY
    assert mended[SECTION].summary.area == pytest.approx(400, rel=1e-12)
    assert len(mended[SECTION].summary.drawing.curves) == 4


def test_many_crossings_are_one_finding() -> None:
    """A star drawn in one go crosses itself five times; its middle is a pentagon."""
    tips = [(20 * sin(0.8 * pi * i), 20 * cos(0.8 * pi * i)) for i in range(5)]
    document = design(chain(*tips))
    assert [f.code for f in built(document)[SECTION].findings].count("crosses-itself") == 1
    told = the("crosses-itself", document)
    assert told.title == "The outline crosses itself in 5 places"
    inner = 20 * cos(0.4 * pi) / cos(0.2 * pi)
    reach = sorted(hypot(x, y) for x, y, _ in told.where.points)
    assert reach == pytest.approx([inner] * 5, rel=1e-9)
    mended = built(apply_edits(document, told.fixes[0].edits))
    assert mended[SECTION].summary.area == pytest.approx(2.5 * inner**2 * sin(0.4 * pi), rel=1e-9)
    assert mended[LOFT].state is State.READY
