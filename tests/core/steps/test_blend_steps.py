"""Fillets and chamfers as steps: what they refuse, with the repairs; the same edge after early changes."""

from __future__ import annotations

from math import pi
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import circle, exactly, lofted, only_refusal, repaired, set_param
from wander.core.bodies.body import Body
from wander.core.design.apply import apply_edits
from wander.core.design.memory import Memory
from wander.core.design.rebuild import State, StepBuilt, rebuild
from wander.core.document.document import Document
from wander.core.document.findings import Finding


def rectangle(width: float, depth: float) -> dict[str, Any]:
    return {"type": "rectangle", "width": width, "depth": depth}


BLOCK = lofted((0.0, rectangle(30.0, 20.0)), (40.0, rectangle(30.0, 20.0)))
UPRIGHT = "loft-5/2.bottom+4.bottom|loft-5/2.right+4.right"


def with_step(document: Document, kind: str, *sets: dict[str, Any], body: str = "loft-5") -> Document:
    raw = document.model_dump(mode="json")
    raw["steps"].append({"id": f"{kind}-30", "kind": kind, "name": "Late", "params": {"body": {"step": body}, "sets": list(sets)}})
    raw["next"] = 40
    return Document.model_validate(raw)


def late(document: Document) -> StepBuilt:
    return exactly(document, document.steps[-1].id)


def refused(document: Document) -> Finding:
    return only_refusal(document, document.steps[-1].id)


def edges(*names: str, **more: Any) -> dict[str, Any]:
    return {"edges": [{"step": "loft-5", "part": name} for name in names], **more}


def volume(built: StepBuilt) -> float:
    assert isinstance(built.result, Body)
    return built.result.measures.volume


def test_too_much_is_told_with_what_goes_and_made_so() -> None:
    document = with_step(BLOCK, "fillet", edges(UPRIGHT, radius=45.0))
    finding = refused(document)
    assert finding.code == "not-blended"
    assert finding.path == ["sets", 0, "radius"]
    assert finding.where.names == [UPRIGHT]
    mended = repaired(document, finding, "Make it")
    assert mended.state is State.READY
    assert volume(mended) < 24000
    # what varies is made smaller as a whole
    varying = with_step(BLOCK, "fillet", edges(UPRIGHT, along=[{"at": 0, "radius": 20.0}, {"at": 1, "radius": 45.0}]))
    assert repaired(varying, refused(varying), "Make it").state is State.READY


@pytest.mark.parametrize(
    ("kind", "given_set", "code"),
    [
        ("fillet", edges(UPRIGHT, radius=0.0), "blend-too-small"),
        ("fillet", edges(UPRIGHT, along=[{"at": 0, "radius": 1.0}, {"at": 1, "radius": -1.0}]), "blend-too-small"),
        ("chamfer", edges(UPRIGHT, distance=-1.0), "blend-too-small"),
        ("chamfer", edges(UPRIGHT, way="distances", other=0.0), "blend-too-small"),
        ("fillet", edges(), "nothing-picked"),
        ("fillet", {"among": "inner"}, "no-such-edges"),
        ("fillet", edges("loft-5/2.gone+4.gone|loft-5/end:section-2"), "broken-reference"),
    ],
)
def test_what_is_refused(kind: str, given_set: dict[str, Any], code: str) -> None:
    assert refused(with_step(BLOCK, kind, given_set)).code == code


def test_what_can_be_gone_on_without_is_skipped_in_one_click() -> None:
    document = with_step(BLOCK, "fillet", {"among": "inner"})
    assert_close(volume(repaired(document, refused(document), "Skip")), 24000, within=1e-6 * 24000)


def test_an_edge_that_fades_is_told_and_skipped() -> None:
    document = with_step(lofted((0.0, rectangle(30.0, 30.0)), (60.0, circle(30.0))), "fillet", {"among": "outer", "radius": 1.0})
    finding = refused(document)
    assert finding.code == "edge-fades"
    assert finding.where.points[0][2] > 50
    assert repaired(document, finding, "Skip").state is State.SKIPPED


def test_a_flat_sheet_has_no_edges_to_round() -> None:
    line = {
        "type": "drawing",
        "points": {"p1": [-10, 0], "p2": [10, 0]},
        "curves": [{"id": "c1", "type": "line", "start": "p1", "end": "p2"}],
        "next": 5,
    }
    document = with_step(lofted((0.0, line), (30.0, line)), "fillet", {"among": "outer"})
    finding = refused(document)
    assert finding.code == "no-such-edges"
    assert repaired(document, finding, "Skip").state is State.SKIPPED


def test_a_body_that_was_blended_is_blended_on_and_cut() -> None:
    """What was done later means the same when what was done before has changed."""
    once = with_step(BLOCK, "fillet", edges(UPRIGHT, radius=3.0))
    raw = once.model_dump(mode="json")
    round_it = {"step": "fillet-30", "part": "fillet-30/along(loft-5/2.bottom+4.bottom&loft-5/2.right+4.right)|loft-5/end:section-4"}
    raw["steps"].append(
        {
            "id": "chamfer-31",
            "kind": "chamfer",
            "name": "Rim",
            "params": {"body": {"step": "fillet-30"}, "sets": [{"edges": [round_it], "distance": 1.0}]},
        }
    )
    twice = Document.model_validate(raw)
    first = late(twice)
    assert first.state is State.READY, first.findings
    # all round the top, since the run goes on smoothly past the rounded corner and ends where the next one is sharp
    lost = volume(late(once)) - volume(first)
    assert 0.4 * (30 + 20 - 6 + 3 * pi / 2) < lost < 0.55 * (30 + 20 - 6 + 3 * pi / 2)
    softer = late(apply_edits(twice, [set_param("fillet-30", "sets", 0, "radius", to=5.0)]))
    assert softer.state is State.READY, softer.findings


@given(st.sampled_from(["wider", "between", "order", "mirrored", "scaled", "moved"]), st.floats(0.6, 1.8), st.sampled_from(["fillet", "chamfer"]))
def test_the_same_edge_is_blended_after_early_changes(change: str, amount: float, kind: str) -> None:
    """Its corner is the one at the right and the bottom, whatever the sections are by now."""
    size = {"radius": 2.0} if kind == "fillet" else {"distance": 2.0}
    document = with_step(BLOCK, kind, edges(UPRIGHT, **size))
    match change:
        case "wider":
            edits = [set_param(f"section-{n}", "shape", "width", to=30.0 * amount) for n in (2, 4)]
        case "between":
            raw = document.model_dump(mode="json")
            raw["steps"][4:4] = [
                {"id": "station-20", "kind": "station", "name": "Between", "params": {"plane": "top", "offset": 20.0}},
                {
                    "id": "section-21",
                    "kind": "section",
                    "name": "Between",
                    "params": {"station": {"step": "station-20"}, "shape": rectangle(30.0, 20.0)},
                },
            ]
            raw["steps"][6]["params"]["sections"].insert(1, {"section": {"step": "section-21"}})
            document, edits = Document.model_validate(raw), []
        case "order":
            edits = [set_param("loft-5", "sections", to=[{"section": {"step": "section-4"}}, {"section": {"step": "section-2"}}])]
        case "mirrored":
            edits = [set_param(f"section-{n}", "turn", to=180.0) for n in (2, 4)]
        case "scaled":
            edits = [set_param(f"section-{n}", "shape", side, to=old * amount) for n in (2, 4) for side, old in (("width", 30.0), ("depth", 20.0))]
        case _:
            edits = [set_param("station-3", "offset", to=40.0 * amount)]
    built = late(apply_edits(document, edits) if edits else document)
    if built.state is State.FAILED:
        assert change not in ("wider", "between", "scaled", "moved"), built.findings
        assert {finding.code for finding in built.findings} <= {"broken-reference"}
        return
    body = built.result
    assert isinstance(body, Body)
    high = body.measures.high[2] - body.measures.low[2]
    before = built_volume(document, edits)
    corner = (1 - pi / 4) * 4 if kind == "fillet" else 2.0
    assert_close(volume(built), before - corner * high, within=2e-6 * before)
    blend = next(face for face in body.faces if "/along(" in face.name)
    assert "bottom" in blend.name
    assert "right" in blend.name


def built_volume(document: Document, edits: list[Any]) -> float:
    """Of the block without its last step."""
    raw = (apply_edits(document, edits) if edits else document).model_dump(mode="json")
    raw["steps"].pop()
    return volume(list(rebuild(Document.model_validate(raw), Memory()))[-1])
