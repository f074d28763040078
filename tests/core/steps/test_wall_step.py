"""Walls as steps: refusals with their repairs, bodies that were joined, the order of wall and fillet, and early changes under a wall."""

from __future__ import annotations

from math import pi
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.designs import circle, exactly, lofted, only_refusal, repaired, set_param
from tests.core.steps.test_blend_steps import rectangle, volume
from wander.core.bodies.body import Body
from wander.core.design.apply import apply_edits
from wander.core.design.exact import exact_ways
from wander.core.design.rebuild import State, StepBuilt, Ways
from wander.core.document.document import Document
from wander.core.document.findings import Finding

CUP = lofted((0.0, circle(40.0)), (50.0, circle(40.0)))
MOUTH = {"step": "loft-5", "part": "loft-5/end:section-4"}


def walled(document: Document, body: str = "loft-5", *after: dict[str, Any], **params: Any) -> Document:
    raw = document.model_dump(mode="json")
    wall = {"id": "wall-30", "kind": "wall", "name": "Wall", "params": {"body": {"step": body}, "thickness": 2.0, **params}}
    raw["steps"] += [wall, *after]
    raw["next"] = 40
    return Document.model_validate(raw)


def late(document: Document, ways: Ways | None = None, step: str = "wall-30") -> StepBuilt:
    return exactly(document, step, ways)


def refused(document: Document) -> Finding:
    return only_refusal(document, "wall-30")


@pytest.mark.parametrize("ways", [Ways(), exact_ways()], ids=["shape lane", "kernel lane"])
def test_a_cup_is_the_same_in_both_lanes_and_says_how_even_it_is(ways: Ways) -> None:
    built = late(walled(CUP, open=[MOUTH]), ways)
    assert built.state is State.READY
    assert not built.rough
    assert_close(volume(built), pi * (400 * 50 - 18**2 * 48), within=1e-6 * volume(built))
    told = built.summary.wall  # type: ignore[union-attr]
    assert told.places >= 2000
    assert_close([told.least, told.largest, told.mean], 2.0, within=2e-4)


def test_it_follows_an_early_change_and_the_lane_of_its_area_is_read() -> None:
    document = walled(CUP, open=[MOUTH])
    for diameter in (30.0, 60.0):
        changed = apply_edits(document, [set_param(f"section-{n}", "shape", "diameter", to=diameter) for n in (2, 4)])
        r = diameter / 2
        assert_close(volume(late(changed)), pi * (r * r * 50 - (r - 2) ** 2 * 48), within=1e-6 * pi * r * r * 50)
    areas = late(document).summary.lanes.area  # type: ignore[union-attr]
    assert_close([a for a in areas[5:-2] if a is not None], pi * (400 - 18**2), within=0.02 * pi * 76)


def test_too_thick_is_told_and_made_to_fit() -> None:
    neck = lofted((0.0, circle(60.0)), (40.0, circle(10.0)), (80.0, circle(60.0)))
    document = walled(neck, body="loft-7", thickness=6.0)
    finding = refused(document)
    assert finding.code == "wall-no-room"
    assert 30 < finding.where.points[0][2] < 50
    assert repaired(document, finding, "Make it").state is State.READY


def test_walls_that_meet_are_told_and_made_to_fit() -> None:
    document = walled(lofted((0.0, rectangle(30.0, 20.0)), (40.0, rectangle(30.0, 20.0))), thickness=12.0)
    finding = refused(document)
    assert finding.code == "wall-no-room"
    mended = repaired(document, finding, "Make it")
    assert mended.state is State.READY
    assert 0 < volume(mended) < 24000


def test_a_side_is_left_open() -> None:
    """Not an end: the kernel makes it."""
    block = lofted((0.0, rectangle(30.0, 20.0)), (40.0, rectangle(30.0, 20.0)))
    built = late(walled(block, open=[{"step": "loft-5", "part": "loft-5/2.right+4.right"}]))
    assert built.state is State.READY, built.findings
    assert_close(volume(built), 30 * 20 * 40 - 28 * 16 * 36, within=1e-6 * 24000)


@pytest.mark.parametrize(
    ("params", "code"),
    [
        ({"thickness": 0.0}, "no-thickness"),
        ({"own": [{"face": MOUTH, "thickness": -1.0}]}, "no-thickness"),
        ({"open": [{"step": "loft-5"}]}, "nothing-picked"),
        ({"open": [{"step": "loft-5", "part": "loft-5/end:section-99"}]}, "broken-reference"),
    ],
)
def test_what_is_refused(params: dict[str, Any], code: str) -> None:
    assert refused(walled(CUP, **params)).code == code


def test_a_sheet_has_no_faces_to_open_and_a_point_no_room_for_a_wall() -> None:
    line = {
        "type": "drawing",
        "points": {"p1": [-10, 0], "p2": [10, 0]},
        "curves": [{"id": "c1", "type": "line", "start": "p1", "end": "p2"}],
        "next": 5,
    }
    sheet = walled(lofted((0.0, line), (30.0, line)), open=[{"step": "loft-5", "part": "loft-5/2.c1+4.c1"}])
    finding = refused(sheet)
    assert finding.code == "wall-of-sheet"
    assert_close(volume(repaired(sheet, finding, "All of it alike")), 20 * 30 * 2, within=1e-6)
    pointed = walled(lofted((0.0, circle(30.0)), (30.0, {"type": "point"})))
    finding = refused(pointed)
    assert finding.code == "not-walled"
    assert repaired(pointed, finding, "Skip").state is State.SKIPPED


def joined() -> Document:
    """A plate with a post on it, one body."""
    raw = lofted((0.0, rectangle(60.0, 60.0)), (20.0, rectangle(60.0, 60.0))).model_dump(mode="json")
    raw["steps"] += [
        {"id": "section-6", "kind": "section", "name": "Post", "params": {"station": {"step": "station-1"}, "shape": circle(24.0)}},
        {
            "id": "extrude-7",
            "kind": "extrude",
            "name": "Post",
            "params": {"section": {"step": "section-6"}, "distance": 50.0, "result": {"type": "join", "body": {"step": "loft-5"}}},
        },
    ]
    raw["next"] = 8
    return Document.model_validate(raw)


def test_a_joined_body_is_hollowed_by_the_kernel_and_measured() -> None:
    document = walled(joined(), body="extrude-7", open=[{"step": "extrude-7", "part": "extrude-7/far"}])
    built = late(document)
    assert built.state is State.READY, built.findings
    whole = 60 * 60 * 20 + pi * 144 * 30
    # inside: the plate and the post 2 mm further in; the post's room goes down into the plate's
    inside = 56 * 56 * 16 + pi * 100 * 32
    assert_close(volume(built), whole - inside, within=1e-5 * whole)
    told = built.summary.wall  # type: ignore[union-attr]
    assert_close(told.least, 2.0, within=0.01)
    assert isinstance(built.result, Body)
    assert any("wall-30/inside(extrude-7/" in face.name for face in built.result.faces)
    # with nothing open it is hollow all the same
    closed = late(walled(joined(), body="extrude-7"))
    assert_close(volume(closed), whole - 56 * 56 * 16 - pi * 100 * 30, within=1e-5 * whole)
    # without the kernel it waits
    assert late(document, Ways()).state is State.WORKING


def test_where_a_post_meets_its_plate_is_rounded_inside_and_outside_of_the_wall() -> None:
    """The rims of what was left open are not where two bodies meet: they stay sharp."""
    fillet = {
        "id": "fillet-31",
        "kind": "fillet",
        "name": "Foot",
        "params": {"body": {"step": "wall-30"}, "sets": [{"among": "meeting", "radius": 1.0}]},
    }
    document = walled(joined(), "extrude-7", fillet, open=[{"step": "extrude-7", "part": "extrude-7/far"}])
    built = late(document, step="fillet-31")
    assert built.state is State.READY, built.findings

    def corner(inner: float, r: float) -> float:
        return 2 * pi * (r * r * (inner + r / 2) - pi * r * r / 4 * (inner + r - 4 * r / (3 * pi)))

    expected = volume(late(document)) + corner(12.0, 1.0) - corner(10.0, 1.0)
    assert_close(volume(built), expected, within=1e-6 * expected)


def test_a_wall_on_both_sides_of_a_joined_body_is_told_and_laid_inwards() -> None:
    document = walled(joined(), body="extrude-7", way="middle", open=[{"step": "extrude-7", "part": "extrude-7/far"}])
    finding = refused(document)
    assert finding.code == "wall-needs-skin"
    assert repaired(document, finding, "Inwards").state is State.READY


def test_wall_first_then_fillet_and_fillet_first_then_wall() -> None:
    """Either is an even wall, or is told with the order that does."""
    fillet = {
        "id": "fillet-31",
        "kind": "fillet",
        "name": "Base",
        "params": {
            "body": {"step": "wall-30"},
            "sets": [
                {"edges": [{"step": "wall-30", "part": "loft-5/end:section-2|loft-5/side"}], "radius": 5.0},
                {"edges": [{"step": "wall-30", "part": "wall-30/inside(loft-5/end:section-2)|wall-30/inside(loft-5/side)"}], "radius": 3.0},
            ],
        },
    }
    built = late(walled(CUP, "loft-5", fillet, open=[MOUTH]), step="fillet-31")
    assert built.state is State.READY, built.findings

    def corner(big: float, r: float) -> float:
        return 2 * pi * (r * r * (big - r / 2) - pi * r * r / 4 * (big - r + 4 * r / (3 * pi)))

    expected = pi * (400 * 50 - 18**2 * 48) - corner(20.0, 5.0) + corner(18.0, 3.0)
    assert_close(volume(built), expected, within=1e-6 * expected)
    raw = CUP.model_dump(mode="json")
    first = {"edges": [{"step": "loft-5", "part": "loft-5/end:section-2|loft-5/side"}], "radius": 5.0}
    raw["steps"].append({"id": "fillet-20", "kind": "fillet", "name": "Base", "params": {"body": {"step": "loft-5"}, "sets": [first]}})
    raw["next"] = 21
    other = late(walled(Document.model_validate(raw), body="fillet-20", open=[{"step": "fillet-20", "part": "loft-5/end:section-4"}]))
    if other.state is State.READY:
        assert_close(volume(other), expected, within=1e-5 * expected)
    else:
        assert [finding.code for finding in other.findings] == ["not-walled"]
        assert "make the wall first" in other.findings[0].detail


@given(st.sampled_from(["wider", "between", "offset", "order"]), st.floats(0.7, 1.8))
def test_open_ends_mean_the_same_after_early_changes(change: str, amount: float) -> None:
    document = walled(CUP, open=[MOUTH])
    r, high = 20.0, 50.0
    match change:
        case "wider":
            r *= amount
            edits = [set_param(f"section-{n}", "shape", "diameter", to=2 * r) for n in (2, 4)]
        case "offset":
            high *= amount
            edits = [set_param("station-3", "offset", to=high)]
        case "order":
            edits = [set_param("loft-5", "sections", to=[{"section": {"step": "section-4"}}, {"section": {"step": "section-2"}}])]
        case _:
            raw = document.model_dump(mode="json")
            raw["steps"][4:4] = [
                {"id": "station-20", "kind": "station", "name": "Between", "params": {"plane": "top", "offset": 25.0}},
                {"id": "section-21", "kind": "section", "name": "Between", "params": {"station": {"step": "station-20"}, "shape": circle(40.0)}},
            ]
            raw["steps"][6]["params"]["sections"].insert(1, {"section": {"step": "section-21"}})
            document, edits = Document.model_validate(raw), []
    built = late(apply_edits(document, edits) if edits else document)
    assert built.state is State.READY, built.findings
    assert_close(volume(built), pi * (r * r * high - (r - 2) ** 2 * (high - 2)), within=2e-6 * pi * r * r * high)
    body = built.result
    assert isinstance(body, Body)
    rim = next(face for face in body.faces if face.name == "loft-5/end:section-4")
    assert rim.rims is not None
    assert len(rim.rims) == 2, "the mouth is a ring"


def test_a_branching_vent_is_hollowed_with_three_open_ends() -> None:
    """A swept arm joined to a stem: the wall is what it was asked to be, and holds what the meshes of all four tubes come to."""
    arm = {
        "type": "drawing",
        "points": {"p1": [0, 52], "p2": [45, 70], "p3": [62, 104]},
        "curves": [{"id": "c1", "type": "spline", "through": ["p1", "p2", "p3"]}],
        "next": 9,
    }

    def tubes(stem: float, branch: float) -> list[dict[str, Any]]:
        section = {"station": {"step": "station-1"}}
        return [
            {"id": "station-1", "kind": "station", "name": "Foot", "params": {"plane": "top", "offset": 0.0}},
            {"id": "section-2", "kind": "section", "name": "Bore", "params": {**section, "shape": circle(stem)}},
            {"id": "extrude-3", "kind": "extrude", "name": "Stem", "params": {"section": {"step": "section-2"}, "distance": 110.0}},
            {"id": "station-6", "kind": "station", "name": "Side", "params": {"plane": "front", "offset": 0.0}},
            {"id": "rail-7", "kind": "rail", "name": "Arm line", "params": {"station": {"step": "station-6"}, "shape": arm}},
            {"id": "section-8", "kind": "section", "name": "Arm bore", "params": {**section, "shape": circle(branch)}},
            {
                "id": "sweep-9",
                "kind": "sweep",
                "name": "Arm",
                "params": {"section": {"step": "section-8"}, "path": {"step": "rail-7"}, "result": {"type": "join", "body": {"step": "extrude-3"}}},
            },
        ]

    def design(steps: list[dict[str, Any]]) -> Document:
        return Document.model_validate({"format": "wander-design/1", "name": "Vent", "steps": steps, "next": 20})

    open_ = [{"step": "sweep-9", "part": name} for name in ("extrude-3/far", "extrude-3/near", "sweep-9/far")]
    found = late(walled(design(tubes(44.0, 30.0)), "sweep-9", open=open_))
    assert found.state is State.READY, found.findings
    told = found.summary.wall  # type: ignore[union-attr]
    assert_close([told.least, told.largest, told.mean], 2.0, within=0.02)
    outer, inner = (volume(late(design(tubes(stem, branch)), step="sweep-9")) for stem, branch in ((44.0, 30.0), (40.0, 26.0)))
    # inside the crotch the wall is rolled round the edge outside: two tubes would leave a corner there
    assert 0.995 * (outer - inner) <= volume(found) <= outer - inner
    # outside there is none: the wall is what two thicker tubes have more
    around = late(walled(design(tubes(44.0, 30.0)), "sweep-9", way="outwards", open=open_))
    more = volume(late(design(tubes(48.0, 34.0)), step="sweep-9")) - outer
    assert_close(volume(around), more, within=1e-4 * more)
