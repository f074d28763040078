"""Lofts that are given rails: the body follows a rail, a miss is told with its place, and its repair makes them meet."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeVertex
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.gp import gp_Pnt

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, findings, lofted, set_param
from wander.core.bodies.continuity import look_at
from wander.core.design.apply import apply_edits
from wander.core.document.document import Document
from wander.core.document.edits import AddStep
from wander.core.document.findings import Finding, Severity
from wander.core.shaping.strays import distances
from wander.core.solids.convert import to_kernel_surface

SECTIONS = ((0.0, circle(40.0)), (50.0, circle(40.0)), (100.0, circle(40.0)))


def guided(*shapes: dict[str, Any], sections: Any = SECTIONS) -> Document:
    """A loft through circles, which stands after its rails."""
    document = lofted(*sections)
    loft = document.steps[-1]
    rails = [AddStep(do="add-step", kind="rail", name=f"Rail {i}", params={"shape": shape}, before=loft.id) for i, shape in enumerate(shapes)]
    document = apply_edits(document, rails)
    names = [step.id for step in document.steps if step.kind == "rail"]
    return apply_edits(document, [set_param(loft.id, "rails", to=[{"step": name} for name in names]), set_param(loft.id, "skin", to="fair")])


def spline(*points: Any) -> dict[str, Any]:
    return {"type": "spline", "points": [p if isinstance(p, dict) else {"at": list(p)} for p in points]}


def on(section: str, share: float = 0.0) -> dict[str, Any]:
    return {"on": {"section": {"step": section}, "at": share}}


def volume(document: Document) -> float:
    return float(built(document)[document.steps[-1].id].summary.volume)


def the(code: str, document: Document) -> Finding:
    return next(f for f in findings(document) if f.code == code)


def test_a_body_follows_its_rail_and_what_pulls_it() -> None:
    plain = volume(guided())
    rail = spline(on("section-2"), on("section-4"), on("section-6"))
    held = guided(rail)
    assert not [f for f in findings(held) if f.severity is not Severity.NOTE]
    assert_close(volume(held), plain, within=1e-6 * plain)
    pulled = guided(spline({**on("section-2"), "handle": [6.0, 0.0, 8.0]}, on("section-4"), on("section-6")))
    assert volume(pulled) > plain + 100
    wide = guided(spline(on("section-2"), {"at": [30.0, 0.0, 25.0]}, on("section-4"), {"at": [30.0, 0.0, 75.0]}, on("section-6")))
    assert volume(wide) > plain + 3000


def test_rails_carry_the_skin_beside_them_or_whole_sections() -> None:
    """The belly of one rail, all round: its circles are as wide as it is far out."""
    rail = spline(on("section-2"), {"at": [26.0, 0.0, 25.0]}, on("section-4"), {"at": [24.0, 0.0, 75.0]}, on("section-6"))
    near = guided(rail)
    whole = apply_edits(near, [set_param(near.steps[-1].id, "carries", to="sections")])
    assert volume(whole) > volume(near) + 3000
    lanes = built(whole)[whole.steps[-1].id].summary.lanes
    at = dict(zip(lanes.at, lanes.area, strict=True))
    quarter = min(at, key=lambda place: abs(place - 25.0))
    reach = built(whole)["rail-8"].result.curve
    t = np.linspace(0, 1, 20001)
    place = reach(t)
    radius = place[np.abs(place[:, 2] - quarter).argmin(), 0]
    assert_close(at[quarter], np.pi * radius**2, within=0.5)


def test_the_hole_of_a_hollow_body_is_carried_along() -> None:
    """Whole sections grow: the ring that a hole leaves stays the same share of them, wherever it is cut."""
    pipe = {"type": "drawing", "points": {"p1": [0, 0]}, "use": ["c1"], "next": 9}
    pipe["curves"] = [{"id": f"c{i}", "type": "circle", "center": "p1", "radius": r} for i, r in enumerate((20.0, 12.0), start=1)]
    rail = spline(on("section-2"), {"at": [26.0, 0.0, 25.0]}, on("section-4"), {"at": [24.0, 0.0, 75.0]}, on("section-6"))
    share = 1 - 12**2 / 20**2
    found = []
    for sections in (((0.0, pipe), (50.0, pipe), (100.0, pipe)), SECTIONS):
        document = guided(rail, sections=sections)
        found.append(apply_edits(document, [set_param(document.steps[-1].id, "carries", to="sections")]))
    hollow, full = found
    assert_close(volume(hollow), share * volume(full), within=2e-4, relative=True)
    lanes = [built(document)[document.steps[-1].id].summary.lanes for document in found]
    assert_close(np.array(lanes[0].area), share * np.array(lanes[1].area), within=2e-3, relative=True)


@pytest.mark.parametrize(
    ("points", "section"),
    [
        ([on("section-2"), (20.4, 0.0, 50.0), on("section-6")], "section-4"),
        ([on("section-2"), on("section-4"), (20.0, 0.4, 100.0)], "section-6"),
        ([on("section-2"), (23.0, 0.0, 30.0), (23.0, 0.0, 70.0), on("section-6")], "section-4"),
        ([on("section-2"), on("section-4"), (20.0, 0.0, 80.0)], "section-6"),
        ([(20.0, 0.0, 10.0), on("section-4"), on("section-6")], "section-2"),
    ],
)
def test_a_rail_that_misses_a_section_is_told_and_put_on_it(points: list[Any], section: str) -> None:
    document = guided(spline(*points))
    finding = the("rail-missed", document)
    assert finding.severity is Severity.ERROR
    assert finding.where is not None
    assert section in finding.where.names
    assert len(finding.where.points) == 2
    mended = apply_edits(document, finding.fixes[0].edits)
    assert "rail-missed" not in {f.code for f in findings(mended)}
    assert volume(mended) > 0
    without = apply_edits(document, finding.fixes[-1].edits)
    assert_close(volume(without), volume(guided()), within=1e-9 * volume(without))


def test_a_section_that_is_missed_is_moved_onto_the_rail() -> None:
    """The other way to mend it: what is drawn stays as the rail has it."""
    document = guided(spline(on("section-2"), (20.4, 0.3, 50.0), on("section-6")))
    finding = the("rail-missed", document)
    [moving] = [fix for fix in finding.fixes if fix.label.startswith("Move ")]
    mended = apply_edits(document, moving.edits)
    assert "rail-missed" not in {f.code for f in findings(mended)}
    at = next(step for step in mended.steps if step.id == "section-4").params["at"]
    # a circle of 20 comes nearest on the way to its middle
    reach = np.hypot(20.4, 0.3)
    assert_close(at, [20.4 * (1 - 20 / reach), 0.3 * (1 - 20 / reach)], within=2e-6)


def test_the_distance_of_a_miss_is_said() -> None:
    finding = the("rail-missed", guided(spline(on("section-2"), (20.4, 0.0, 50.0), on("section-6"))))
    assert "0.4 mm" in finding.title
    assert_close(finding.where.points[1], (20.0, 0.0, 50.0), within=1e-6)  # type: ignore[union-attr]


def test_rails_of_what_is_straight_change_nothing_and_it_is_said() -> None:
    document = guided(spline(on("section-2"), on("section-4"), on("section-6")))
    loft = document.steps[-1].id
    straight = apply_edits(document, [set_param(loft, "between", to="straight")])
    finding = the("rails-unused", straight)
    assert not [f for f in findings(apply_edits(straight, finding.fixes[0].edits)) if f.code == "rails-unused"]


def test_a_rail_that_runs_back_into_itself_is_no_rail_of_a_body_with_ends() -> None:
    ring = {"type": "helix", "radius": 20.0, "rise": 0.0, "turns": 1.0}
    document = guided(ring)
    rail = next(step for step in document.steps if step.kind == "rail")
    document = apply_edits(document, [set_param(rail.id, "station", to={"step": "station-1"})])
    finding = the("rail-closed", document)
    assert finding.severity is Severity.ERROR
    assert "rail-closed" not in {f.code for f in findings(apply_edits(document, finding.fixes[0].edits))}


def test_a_rail_that_turns_back_is_told_where_and_its_point_taken_out() -> None:
    document = guided(spline(on("section-2"), (24.0, 0.0, 80.0), (28.0, 0.0, 40.0), on("section-4")), sections=(SECTIONS[0], SECTIONS[2]))
    finding = the("rail-turns-back", document)
    assert finding.title == "Rail 0 turns back between Rib 1 and Rib 2"
    assert finding.where is not None
    assert 40.0 < finding.where.points[0][2] < 80.0
    assert [fix.label for fix in finding.fixes] == ["Take point 2 of Rail 0 out", "Leave Rail 0 out"]
    for fix in finding.fixes:
        assert not {f.code for f in findings(apply_edits(document, fix.edits))} & {"rail-turns-back", "no-skin"}, fix.label


def side_profile(sign: float, foot: float, head: float) -> dict[str, Any]:
    """A rail drawn from the side: it leaves the base at 90 degrees and arrives at 70, both typed. sign: -1 for its mirror image."""
    points = {"p1": [sign * foot, 0.0], "p2": [sign * (foot + 2.0), 30.0], "p3": [sign * head, 60.0]}
    angles = (90.0, 70.0) if sign > 0 else (90.0, 110.0)
    handles = [{"at": 0, "angle": angles[0]}, {"at": 2, "angle": angles[1]}]
    return {"type": "drawing", "points": points, "curves": [{"id": "c1", "type": "spline", "through": ["p1", "p2", "p3"], "handles": handles}]}


def test_a_side_profile_leaves_and_arrives_at_the_angles_that_were_typed() -> None:
    """A rectangle to a circle between two mirrored rails: the angles are those of the surface, in the plane of the rails."""
    raw = lofted((0, {"type": "rectangle", "width": 40.0, "depth": 24.0}), (60, circle(52))).model_dump(mode="json")
    loft = raw["steps"].pop()
    raw["steps"].append({"id": "station-9", "kind": "station", "name": "Side", "params": {"plane": "front"}})
    for number, sign in ((10, 1.0), (11, -1.0)):
        params = {"station": {"step": "station-9"}, "shape": side_profile(sign, 20.0, 26.0)}
        raw["steps"].append({"id": f"rail-{number}", "kind": "rail", "name": f"Side {number}", "params": params})
    loft["params"] |= {"rails": [{"step": "rail-10"}, {"step": "rail-11"}], "skin": "fair"}
    raw["steps"].append(loft)
    document = Document.model_validate({**raw, "next": 30})
    body = built(document)["loft-5"].result
    assert body is not None, [f.title for f in findings(document)]
    for sign in (1.0, -1.0):
        for z, across, angle in ((0.0, 20.0, 90.0), (60.0, 26.0, 70.0)):
            assert_close(tangent_at(body, np.array([sign * across, 0.0, z])), angle, within=0.05)


def tangent_at(body: Any, place: np.ndarray) -> float:
    """Degrees at which the surface rises at a place of the plane y = 0, seen from the side where it lies: from its normal there."""
    look = None
    for face in body.faces:
        if face.surface is None:
            continue
        found = look_at(face, place[None])
        if found is not None and np.linalg.norm(found.points[0] - place) < 1e-3:
            look = found
            break
    assert look is not None
    nx, _, nz = look.normals[0]
    out, up = (nz, -nx) if nx < 0 else (-nz, nx)  # along the surface, upwards
    return float(np.degrees(np.arctan2(up, out * np.sign(place[0]))))


def test_the_run_tells_how_far_the_skin_lies_off_each_rail() -> None:
    """A law takes a round body away from its straight rail: a cone's wall, whose distance is known."""
    held = guided(
        spline(on("section-2"), on("section-4"), on("section-6")), spline(on("section-2", 0.25), on("section-4", 0.25), on("section-6", 0.25))
    )
    lanes = built(held)[held.steps[-1].id].summary.lanes
    assert len(lanes.rails) == 2
    assert all(off is not None and off < 1e-3 for rail in lanes.rails for off in rail)
    wider = apply_edits(held, [set_param(held.steps[-1].id, "width", to={"type": "linear", "start": 1.0, "end": 1.5})])
    lanes = built(wider)[wider.steps[-1].id].summary.lanes
    share = np.array(lanes.at) / 100.0
    expected = 10.0 * share / np.hypot(1.0, 0.1)
    for rail in lanes.rails:
        assert_close(np.array(rail, dtype=float), expected, within=1e-3)


def test_places_off_a_skin_are_as_far_as_the_kernel_finds_them() -> None:
    document = guided(spline(on("section-2"), {"at": [27.0, 0.0, 25.0]}, on("section-4"), {"at": [22.0, 0.0, 80.0]}, on("section-6")))
    body = built(document)[document.steps[-1].id].result
    faces = body.skins[0].faces
    rng = np.random.default_rng(7)
    angle, height, out = rng.uniform(0, 2 * np.pi, 40), rng.uniform(-10, 110, 40), rng.uniform(0.8, 1.5, 40) * 20.0
    points = np.stack([out * np.cos(angle), out * np.sin(angle), height], axis=1)
    shapes = [BRepBuilderAPI_MakeFace(to_kernel_surface(face.surface), 1e-9).Face() for face in faces]
    for point, off in zip(points, distances(faces, points), strict=True):
        vertex = BRepBuilderAPI_MakeVertex(gp_Pnt(*point.tolist())).Vertex()
        found = min(BRepExtrema_DistShapeShape(vertex, shape).Value() for shape in shapes)
        assert_close(off, found, within=1e-4)
