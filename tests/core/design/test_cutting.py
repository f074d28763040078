"""Cutting a section out of a body, as a designer does it: through the document."""

from __future__ import annotations

from math import cos, pi, sin
from typing import Any

import numpy as np
import pytest
from scipy.spatial import cKDTree

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, lofted, set_param
from tests.core.steps.test_loft_centre import BEND, FIRST, OUTSIDE, SECOND, lined, loft_of, stand, with_side
from tests.core.steps.test_loft_ring import REACH, ring_of, rings, round_line
from tests.core.steps.test_loft_step import washer
from tests.core.steps.test_sheets import BOW, TENT
from wander.core.design.apply import apply_edits
from wander.core.design.cutting import CannotCut, cut_edits
from wander.core.design.reading import read_document, write_document
from wander.core.design.rebuild import State
from wander.core.document.document import Document
from wander.core.document.edits import AddStep, Draw
from wander.core.shaping.strays import distances

BODY = lofted((0, {"type": "rounded-rectangle", "width": 40.0, "depth": 30.0, "radius": 7.0}), (30, circle(44.0)), (80, circle(20.0)))
LAWED = apply_edits(BODY, [set_param("loft-7", "twist", to={"type": "linear", "start": 0.0, "end": 50.0})])


def cut_at(document: Document, at: float) -> Document:
    return apply_edits(document, cut_edits(document, list(built(document).values()), "loft-7", at))


def volume(document: Document) -> float:
    return float(built(document)["loft-7"].summary.volume)


@pytest.mark.parametrize("skin", ["batten", "fair", "even", "calm"])
@pytest.mark.parametrize("document", [BODY, LAWED])
def test_the_body_stays_as_it_is_until_the_cut_is_edited(document: Document, skin: str) -> None:
    document = apply_edits(document, [set_param("loft-7", "skin", to=skin)])
    before = volume(document)
    after = cut_at(cut_at(cut_at(document, 12.0), 55.5), 70.0)
    assert_close(volume(after), before, within=2e-6 * before)
    sections = [s["section"]["step"] for s in after.step("loft-7").params["sections"]]
    assert sections == ["section-2", "section-9", "section-4", "section-11", "section-13", "section-6"]
    assert read_document(write_document(after)) == after
    moved = apply_edits(after, [set_param("station-10", "offset", to=52.0)])
    assert abs(volume(moved) - before) > 50
    # how it goes between its sections, and so what a newer skin would do better, is another matter now
    told, before_told = ([f.code for f in built(body)["loft-7"].findings if f.code not in ("uneven", "waved")] for body in (moved, after))
    assert told == before_told


def test_a_cut_that_is_drawn_anew_leads_like_any_other_section() -> None:
    after = cut_at(BODY, 55.0)
    redrawn = apply_edits(after, [set_param("section-9", "shape", to=circle(40.0))])
    drawn = apply_edits(after, [set_param("section-9", "shape", to=circle(40.0)), set_param("loft-7", "sections", 2, "share", to=None)])
    assert_close(volume(redrawn), volume(drawn), within=1e-6)
    assert abs(volume(redrawn) - volume(after)) > 100


def test_a_cut_follows_when_the_sections_round_it_get_other_corners() -> None:
    after = cut_at(BODY, 55.0)
    cornered = apply_edits(after, [set_param("section-6", "shape", to={"type": "rectangle", "width": 20.0, "depth": 20.0})])
    found = built(cornered)
    cut = next(s for s in found["loft-7"].summary.run if s.section == "section-9")
    assert cut.at == 55.0
    assert cut.deviation < 1e-3
    ring = next(r for r in found["loft-7"].result.skins[0].rings if r.name == "section-9")
    drawn = found["section-9"].result.placed.in_space().curve(np.linspace(0, 1, 400))
    on_ring = np.concatenate([curve(np.linspace(*curve.domain, 4000)) for curve in ring.curves])
    assert cKDTree(on_ring).query(drawn)[0].max() < 0.02, "the body goes through the cut, now a section among others"
    assert volume(cornered) > volume(after) + 300


@pytest.mark.parametrize(("at", "words"), [(-3.0, "between"), (80.5, "between"), (30.0, "already"), (30.004, "already")])
def test_where_nothing_can_be_cut(at: float, words: str) -> None:
    with pytest.raises(CannotCut, match=words):
        cut_at(BODY, at)


def test_nothing_is_cut_from_a_body_that_is_not_built() -> None:
    broken = apply_edits(BODY, [set_param("section-4", "shape", "diameter", to=-1.0)])
    with pytest.raises(CannotCut, match="no body"):
        cut_at(broken, 20.0)


TILTED = apply_edits(
    BODY,
    [
        set_param("station-3", "place", to={"type": "turned", "station": {"step": "station-1"}, "direction": 0.0, "angle": 12.0}),
        set_param("station-3", "offset", to=30.0),
    ],
)


@pytest.mark.parametrize("skin", ["batten", "fair", "calm"])
@pytest.mark.parametrize("at", [4.0, 26.0])
def test_beside_a_tilted_station_the_cut_lies_in_the_skin_and_changes_nothing(skin: str, at: float) -> None:
    """No line of the skin is flat there: it is cut by the plane that comes nearest."""
    document = apply_edits(TILTED, [set_param("loft-7", "skin", to=skin)])
    before = built(document)["loft-7"]
    after = cut_at(document, at)
    found = built(after)
    drawn = found["section-9"].result.placed.in_space().curve(np.linspace(0.0, 1.0, 300))
    assert distances(before.result.skins[0].faces, drawn).max() < 1e-5
    assert_close(found["loft-7"].summary.volume, before.summary.volume, within=1e-9 * before.summary.volume)
    assert [one.section for one in found["loft-7"].summary.run].count("section-9") == 1
    assert found["loft-7"].findings == before.findings
    # moved, it leads, and so it does when what is round it changes
    moved = built(apply_edits(after, [set_param("section-9", "at", to=[2.0, 0.0])]))["loft-7"]
    assert abs(moved.summary.volume - before.summary.volume) > 5
    other = built(apply_edits(after, [set_param("section-6", "shape", to=circle(24.0))]))
    outline = other["section-9"].result.placed.in_space().curve(np.linspace(0.0, 1.0, 300))
    assert distances(other["loft-7"].result.skins[0].faces, outline).max() < 1e-3


@pytest.mark.parametrize("twist", [0.0, 35.0])
def test_what_is_passed_over_is_a_ring_on_the_finished_body(twist: float) -> None:
    """Turned with it, where the body is twisted."""
    document = apply_edits(TILTED, [set_param("loft-7", "twist", to={"type": "linear", "start": 0.0, "end": twist})])
    after = built(cut_at(document, 15.0))
    skin = after["loft-7"].result.skins[0]
    ring = next(ring for ring in skin.rings if ring.name == "section-9")
    places = np.concatenate([curve(np.linspace(0.0, 1.0, 200)) for curve in ring.curves])
    assert distances(skin.faces, places).max() < 0.02
    outline = after["section-9"].result.placed.in_space().curve(np.linspace(0.0, 1.0, 4000))
    turned = cKDTree(outline).query(places)[0].max()
    assert (turned < 0.03) == (twist == 0)
    stand = next(one for one in after["loft-7"].summary.run if one.section == "section-9")
    assert stand.mark is None


def test_cut_three_times_beside_a_tilted_station() -> None:
    after = cut_at(cut_at(cut_at(TILTED, 21.0), 12.0), 16.0)
    run = built(after)["loft-7"].summary.run
    assert [one.section for one in run] == ["section-2", "section-11", "section-13", "section-9", "section-4", "section-6"]
    assert [one.at for one in run] == sorted(one.at for one in run)
    assert_close(volume(after), volume(TILTED), within=1e-9 * volume(TILTED))
    with pytest.raises(CannotCut, match="already"):
        cut_at(after, 12.004)
    # without the sections that it would lie between it is a section like any other
    ends = apply_edits(after, [set_param("loft-7", "sections", to=after.step("loft-7").params["sections"][1:4])])
    assert built(ends)["loft-7"].state is State.READY


def duct(*extra: Any, **params: Any) -> Document:
    middle = stand(3, {"type": "rounded-rectangle", "width": 26.0, "depth": 22.0, "radius": 6.0}, place=ACROSS_THE_BEND)
    return lined([FIRST, middle, SECOND], QUARTER_BEND, **params)


BIG = 80.0
QUARTER_BEND = [{"at": [BIG - BIG * cos(t), 0, BIG * sin(t)]} for t in np.linspace(0.0, pi / 2, 7)]
ACROSS_THE_BEND = {"type": "path", "points": [point["at"] for point in QUARTER_BEND], "share": 0.5}
LINED = [
    {},
    {"twist": {"type": "linear", "start": 0.0, "end": 40.0}},
    {"between": "straight"},
]


@pytest.mark.parametrize("params", LINED)
@pytest.mark.parametrize("at", [20.0, 100.0])
def test_a_section_is_cut_square_to_a_centre_line_and_changes_nothing(params: dict[str, Any], at: float) -> None:
    document = duct(**params)
    before = loft_of(document)
    after = apply_edits(document, cut_edits(document, list(built(document).values()), "loft-21", at))
    found = built(after)
    made = found["loft-21"]
    new = next(one for one in made.summary.run if one.section not in {"section-2", "section-4", "section-6"})
    assert_close(new.at, at, within=1e-6)
    assert_close(made.summary.volume, before.summary.volume, within=2e-6 * before.summary.volume)
    # it stands on the line, square to it
    frame = found[new.station].result
    told = min(made.summary.line, key=lambda one: abs(one.at - at))
    assert abs(float(frame.z @ np.array(told.way))) > 0.998
    moved = apply_edits(after, [set_param(new.section, "at", to=[3.0, 0.0])])
    assert abs(built(moved)["loft-21"].summary.area - before.summary.area) > 1


def test_a_section_is_cut_from_a_duct_with_a_rail_and_from_a_hollow_one() -> None:
    document = with_side(OUTSIDE)
    after = apply_edits(document, cut_edits(document, list(built(document).values()), "loft-21", 60.0))
    assert_close(loft_of(after).summary.volume, loft_of(document).summary.volume, within=1e-9 * loft_of(document).summary.volume)
    assert loft_of(after).state is State.READY
    assert len(loft_of(after).summary.run) == 3
    hollow = lined([stand(1, washer(30.0, 16.0), plane="top"), stand(2, washer(30.0, 16.0), plane="side", offset=80.0, at=[0.0, 80.0])], BEND)
    cut = apply_edits(hollow, cut_edits(hollow, list(built(hollow).values()), "loft-21", 60.0))
    # its sections stand square to the line, so there the skin has flat lines, and goes through this one as through the others
    assert not cut.step("loft-21").params["sections"][1].get("aside")
    assert_close(loft_of(cut).summary.volume, loft_of(hollow).summary.volume, within=2e-6 * loft_of(hollow).summary.volume)


@pytest.mark.parametrize("skin", ["batten", "even", "calm"])
def test_a_section_that_was_cut_from_a_hollow_body_is_drawn_anew_and_the_hole_stays(skin: str) -> None:
    def body(*outlines: dict[str, Any]) -> Document:
        document = lofted(*zip((0.0, 40.0, 100.0), outlines, strict=True))
        return apply_edits(document, [set_param("loft-7", "skin", to=skin)])

    hollow = body(washer(40.0, 20.0), washer(44.0, 26.0), washer(30.0, 16.0))
    outside, inside = body(circle(40.0), circle(44.0), circle(30.0)), body(circle(20.0), circle(26.0), circle(16.0))
    assert_close(volume(hollow), volume(outside) - volume(inside), within=1e-3 * volume(hollow))
    cut = cut_at(hollow, 70.0)
    assert_close(volume(cut), volume(hollow), within=2e-6 * volume(hollow))
    drawn = apply_edits(cut, [set_param("section-9", "shape", to=circle(48.0))])
    assert "holes-left-out" not in [finding.code for finding in built(drawn)["loft-7"].findings]
    alone = apply_edits(cut_at(outside, 70.0), [set_param("section-9", "shape", to=circle(48.0))])
    assert_close(volume(drawn), volume(alone) - volume(inside), within=1e-3 * volume(drawn))
    # with a hole of its own the hole goes through it as well
    narrow = apply_edits(cut, [set_param("section-9", "shape", to=washer(48.0, 8.0))])
    assert "holes-left-out" not in [finding.code for finding in built(narrow)["loft-7"].findings]
    assert volume(narrow) > volume(drawn) + 3000


@pytest.mark.parametrize("at", [20.0, 130.0, 360.0])
@pytest.mark.parametrize("crease", [None, 2])
def test_a_section_is_cut_from_a_ring(at: float, crease: int | None) -> None:
    document = rings(circle(20.0), circle(26.0), circle(18.0), circle(22.0))
    if crease is not None:
        document = apply_edits(document, [set_param("loft-21", "sections", crease, "crease", to=True)])
    before = ring_of(document)
    after = apply_edits(document, cut_edits(document, list(built(document).values()), "loft-21", at))
    found = ring_of(after)
    assert_close(found.summary.volume, before.summary.volume, within=2e-6 * before.summary.volume)
    new = next(one for one in found.summary.run if one.section not in {one.section for one in before.summary.run})
    assert_close(new.at, at, within=1e-6)
    assert [one.section for one in sorted(found.summary.run, key=lambda one: one.at)].count(new.section) == 1


def leaning_ring() -> Document:
    """A ring of which one section leans against the line that is chosen, so that the skin beside it has no flat lines."""
    square = {"type": "rounded-rectangle", "width": 22.0, "depth": 18.0, "radius": 5.0}
    document = rings(circle(20.0), circle(26.0), circle(18.0), square, rail=round_line())
    place = {"type": "turned", "station": {"step": "station-7"}, "direction": 90.0, "angle": 14.0, "point": [REACH, 0.0]}
    leaning = AddStep(do="add-step", kind="station", name="Leaning", params={"place": place}, before="section-8")
    document = apply_edits(document, [leaning])
    made = next(step.id for step in document.steps if step.name == "Leaning")
    return apply_edits(document, [set_param("section-8", "station", to={"step": made})])


@pytest.mark.parametrize("at", [250.0, 330.0])
def test_beside_a_leaning_section_of_a_ring_cuts_are_passed_over_too(at: float) -> None:
    document = leaning_ring()
    before = ring_of(document)
    assert before.state is State.READY
    after = apply_edits(document, cut_edits(document, list(built(document).values()), "loft-21", at))
    items = after.step("loft-21").params["sections"]
    assert [bool(item.get("aside")) for item in items].count(True) == 1
    assert_close(ring_of(after).summary.volume, before.summary.volume, within=1e-9 * before.summary.volume)
    # where the ring begins with it, it is a section like any other
    first = next(i for i, item in enumerate(items) if item.get("aside"))
    assert ring_of(apply_edits(after, [set_param("loft-21", "sections", to=[*items[first:], *items[:first]])])).state is State.READY


@pytest.mark.parametrize("outlines", [(BOW, TENT, BOW), (TENT, TENT, TENT)])
@pytest.mark.parametrize("skin", ["batten", "fair", "calm"])
def test_a_section_is_cut_from_a_sheet_and_is_as_open(outlines: tuple[dict[str, Any], ...], skin: str) -> None:
    document = lofted(*zip((0.0, 30.0, 80.0), outlines, strict=True))
    document = apply_edits(document, [set_param("loft-7", "skin", to=skin)])
    before = built(document)["loft-7"]
    after = cut_at(cut_at(document, 12.0), 55.0)
    found = built(after)
    assert not found["loft-7"].summary.closed
    assert_close(found["loft-7"].summary.area, before.summary.area, within=2e-6 * before.summary.area)
    assert found["section-9"].result.placed is None
    assert found["section-9"].result.run is not None
    assert not found["section-9"].summary.closed
    bent = apply_edits(after, [set_param("section-9", "at", to=[0.0, 4.0])])
    assert abs(built(bent)["loft-7"].summary.area - before.summary.area) > 5
    assert read_document(write_document(after)) == after


def test_what_is_cut_from_a_sheet_can_be_mirrored_and_reversed() -> None:
    document = lofted((0.0, BOW), (30.0, TENT), (80.0, BOW))
    after = cut_at(document, 55.0)
    order = after.step("loft-7").params["sections"]
    backwards = apply_edits(after, [set_param("loft-7", "sections", to=order[::-1])])
    assert_close(built(backwards)["loft-7"].summary.area, built(after)["loft-7"].summary.area, within=1e-6 * 5000)


@pytest.mark.parametrize("outline", [BOW, TENT])
def test_what_is_cut_from_a_sheet_becomes_an_open_drawing(outline: dict[str, Any]) -> None:
    document = cut_at(lofted((0.0, BOW), (30.0, outline), (80.0, BOW)), 15.0)
    drawn = apply_edits(document, [Draw(do="draw", step="section-9", acts=[])])
    shape = drawn.step("section-9").params["shape"]
    assert shape["type"] == "drawing"
    found = built(drawn)
    assert found["section-9"].result.run is not None
    assert found["loft-7"].state is State.READY
    run, old = found["section-9"].result.run, built(document)["section-9"].result.run
    assert_close(run.length, old.length, within=1e-3)
