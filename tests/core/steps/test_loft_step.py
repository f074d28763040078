"""What a loft step tells of its body: the Run, its lanes, and where its stations stand along it."""

from __future__ import annotations

from math import pi

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, lofted, set_param
from wander.core.design.apply import apply_edits
from wander.core.design.cutting import cut_edits
from wander.core.design.memory import Memory
from wander.core.design.rebuild import rebuild
from wander.core.results.bodies import READINGS
from wander.core.results.summaries import BodySummary
from wander.core.steps.loft.told import FLOWS


def summary(*stands: tuple[float, float], **more: object) -> BodySummary:
    document = lofted(*((z, circle(d)) for z, d in stands), between="straight")
    document = apply_edits(document, [set_param(document.steps[-1].id, name, to=value) for name, value in more.items()])
    found = built(document)[document.steps[-1].id].summary
    assert isinstance(found, BodySummary)
    return found


def test_the_lanes_of_a_cone_with_laws() -> None:
    told = summary((0.0, 40.0), (60.0, 10.0), twist={"type": "smooth", "start": 0.0, "end": 30.0}, width={"type": "linear", "start": 1.0, "end": 0.5})
    lanes = told.lanes
    share = np.linspace(0, 1, READINGS)
    assert_close(lanes.at, 60 * share, within=1e-6)
    radius = (20 - 15 * share) * (1 - 0.5 * share)
    assert_close(np.array(lanes.area, dtype=float), pi * radius**2, within=5e-2)  # twisted: fitted
    assert_close(lanes.twist, 30 * share**2 * (3 - 2 * share), within=1e-9)
    assert lanes.width == lanes.height
    assert len(lanes.curvature) == FLOWS


@pytest.mark.parametrize("down", [False, True])
def test_stations_stand_along_the_run_whichever_way_it_goes(down: bool) -> None:
    places = [0.0, 25.0, 70.0]
    told = summary(*((-z if down else z, 30.0) for z in places))
    assert_close([station.at for station in told.run], places, within=1e-9)
    assert_close([station.rate for station in told.run], -1.0 if down else 1.0, within=1e-12)
    assert_close(told.axis, [0, 0, -1.0 if down else 1.0], within=1e-12)
    assert_close(np.array(told.lanes.area, dtype=float), pi * 15**2, within=1e-4)


def test_a_tilted_station_goes_along_the_run_by_the_cosine() -> None:
    document = lofted((0.0, circle(30.0)), (40.0, circle(30.0)))
    tilted = {"type": "turned", "station": {"step": "station-1"}, "angle": 20.0}
    document = apply_edits(document, [set_param("station-3", "place", to=tilted)])
    told = built(document)["loft-5"].summary
    assert_close(told.run[1].rate, np.cos(np.radians(20)), within=1e-9)
    assert_close(told.run[1].at, 40 * np.cos(np.radians(20)), within=1e-9)
    assert told.lanes.area[-1] is None, "beyond the low side of the tilted end there is no whole section"


def washer(outer: float, inner: float) -> dict[str, object]:
    """The area between two circles about one centre."""
    circles = [{"id": f"c{i}", "type": "circle", "center": "p1", "radius": d / 2} for i, d in enumerate((outer, inner), start=1)]
    return {"type": "drawing", "points": {"p1": [0.0, 0.0]}, "curves": circles, "use": ["c1"], "next": 3}


def pipe(*stands: tuple[float, dict[str, object]]) -> dict[str, object]:
    document = lofted(*stands, between="straight")
    return {"loft": built(document)[document.steps[-1].id], "sections": [s.id for s in document.steps if s.kind == "section"]}


def test_a_loft_of_rings_is_hollow() -> None:
    found = pipe((0.0, washer(40, 20)), (30.0, washer(40, 20)), (50.0, washer(30, 26)))
    step = found["loft"]
    assert not step.findings
    told = step.summary
    frustum = pi * 20 / 12 * ((40**2 + 40 * 30 + 30**2) - (20**2 + 20 * 26 + 26**2))
    assert_close(told.volume, 30 * pi * 300 + frustum, within=1e-6 * told.volume)
    lanes = told.lanes
    straight = [a for at, a in zip(lanes.at, lanes.area, strict=True) if at < 30]
    assert_close(np.array(straight, dtype=float), pi * 300, within=1e-5 * pi * 300)
    assert_close(lanes.area[-1], pi * (15**2 - 13**2), within=1e-5 * pi * 300)


def test_it_is_hollow_where_every_section_is_a_ring_and_says_when_it_is_not() -> None:
    found = pipe((0.0, washer(40, 20)), (30.0, circle(40)))
    (told,) = found["loft"].findings
    assert told.code == "holes-left-out"
    assert told.where.names == [found["sections"][1]]
    assert "Rib 2 has none" in told.detail
    assert_close(found["loft"].summary.volume, 30 * pi * 400, within=1e-2)


@pytest.mark.parametrize("between", ["smooth", "straight"])
def test_a_section_cut_from_a_hollow_body_changes_nothing(between: str) -> None:
    document = lofted((0.0, washer(40, 20)), (30.0, washer(46, 24)), (60.0, washer(34, 18)), between=between)
    loft = document.steps[-1].id
    before = built(document)[loft]
    cut = apply_edits(document, cut_edits(document, list(rebuild(document, Memory())), loft, 17.0))
    after = built(cut)[loft]
    assert len(after.summary.run) == 4
    assert not after.findings
    assert_close(after.summary.volume, before.summary.volume, within=1e-6 * before.summary.volume)
    assert before.summary.volume < 0.85 * 60 * pi * 20**2


def test_further_areas_of_a_section_are_left_out_and_told() -> None:
    circles = [{"id": f"c{i}", "type": "circle", "center": f"p{i}", "radius": r} for i, r in ((1, 10.0), (2, 4.0))]
    two = {"type": "drawing", "points": {"p1": [0.0, 0.0], "p2": [30.0, 0.0]}, "curves": circles, "use": ["c1", "c2"], "next": 3}
    found = pipe((0.0, two), (30.0, circle(20)))
    assert [f.code for f in found["loft"].findings] == ["areas-left-out"]
    assert_close(found["loft"].summary.volume, 30 * pi * 100, within=1e-2)


SQUARE = {"type": "rectangle", "width": 20.0, "depth": 20.0}


@pytest.mark.parametrize("between", ["smooth", "straight"])
@pytest.mark.parametrize("shape", [SQUARE, {"type": "ellipse", "width": 30.0, "depth": 20.0}, circle(20.0)], ids=["square", "ellipse", "round"])
def test_a_start_that_wrings_the_body_is_told_and_let_go(shape: dict[str, object], between: str) -> None:
    document = lofted((0.0, shape), (30.0, shape), (60.0, shape), between=between)
    loft = document.steps[-1].id
    plain = built(document)[loft]
    assert not plain.findings
    one = apply_edits(document, [set_param(loft, "sections", 0, "start", to=0.0)])
    assert not built(one)[loft].findings, "the others follow a single start"
    own = apply_edits(one, [set_param(loft, "sections", 1, "start", to=0.25)])
    told = built(own)[loft]
    assert [f.code for f in told.findings if f.code == "wrung"] == ["wrung"]
    [finding] = [f for f in told.findings if f.code == "wrung"]
    assert finding.where.names == ["section-4"]
    assert "by 90°" in finding.title
    mended = built(apply_edits(own, finding.fixes[0].edits))[loft]
    assert not mended.findings
    assert_close(mended.summary.volume, plain.summary.volume, within=1e-9 * plain.summary.volume)


def test_a_start_that_changes_nothing_is_not_spoken_of() -> None:
    document = lofted((0.0, SQUARE), (30.0, circle(20.0)))
    loft = document.steps[-1].id
    chosen = built(document)[loft]
    assert not built(apply_edits(document, [set_param(loft, "sections", 0, "start", to=0.0)]))[loft].findings
    assert not chosen.findings


@pytest.mark.parametrize("shape", [SQUARE, {"type": "ellipse", "width": 30.0, "depth": 20.0}])
def test_starts_are_told_where_they_are(shape: dict[str, object]) -> None:
    """On the outline as drawn, at the share that is told, going counter-clockwise as seen along the body."""
    document = lofted((0.0, shape), (30.0, shape), (60.0, {"type": "point"}))
    loft = document.steps[-1].id
    document = apply_edits(document, [set_param(loft, "sections", 0, "start", to=0.25)])
    steps = built(document)
    first, second, tip = steps[loft].summary.run
    assert (tip.start, tip.mark, tip.way) == (None, None, None)
    assert_close(first.start, 0.25, within=1e-9)
    for stand in (first, second):
        curve = steps[stand.section].result.placed.loop.curve
        assert_close(stand.mark[:2], curve(stand.start), within=1e-6)
        assert_close(stand.mark[2], stand.at, within=1e-9)
        x, y, _ = stand.way
        assert stand.mark[0] * y - stand.mark[1] * x > 0


def test_creases_are_set_by_section_and_leave_with_it() -> None:
    document = lofted((0.0, circle(40.0)), (50.0, circle(40.0)), (70.0, circle(20.0)), (90.0, circle(20.0)))
    loft = document.steps[-1]
    creased = apply_edits(document, [set_param(loft.id, "sections", i, "crease", to=True) for i in (1, 2)])
    true = np.pi * (400 * 50 + (400 + 200 + 100) / 3 * 20 + 100 * 20)
    assert_close(built(creased)[loft.id].summary.volume, true, within=1e-6 * true)
    assert f"{loft.id}/side^section-4" in [face.name for face in built(creased)[loft.id].result.faces]
    straight = apply_edits(creased, [set_param(loft.id, "between", to="straight")])
    assert_close(built(straight)[loft.id].summary.volume, true, within=1e-6 * true)


def tied(*places: tuple[str, float]) -> dict[str, object]:
    return {"places": [{"section": {"step": section}, "at": at} for section, at in places]}


def test_connecting_lines_are_told_where_they_pass_and_what_crosses_has_a_repair() -> None:
    document = lofted((0.0, circle(40.0)), (50.0, circle(30.0)), (90.0, circle(40.0)))
    loft = document.steps[-1]
    given = apply_edits(document, [set_param(loft.id, "ties", to=[tied(("section-2", 0.0), ("section-6", 0.1)), tied(("section-4", 0.5))])])
    summary = built(given)[loft.id].summary
    assert_close([float(at or 0.0) for at in summary.ties[0].at], [0.0, 0.05, 0.1], within=1e-9)
    for tie in summary.ties:
        for at, place, (height, radius) in zip(tie.at, tie.places, ((0.0, 20.0), (50.0, 15.0), (90.0, 20.0)), strict=True):
            assert_close(place, np.array([radius * np.cos(2 * pi * at), radius * np.sin(2 * pi * at), height]), within=1e-4)
    crossing = [tied(("section-2", 0.0)), tied(("section-2", 0.3), ("section-6", 0.6)), tied(("section-2", 0.6), ("section-6", 0.3))]
    told = built(apply_edits(document, [set_param(loft.id, "ties", to=crossing)]))[loft.id].findings
    assert [finding.code for finding in told] == ["lines-crossed"]
    mended = apply_edits(apply_edits(document, [set_param(loft.id, "ties", to=crossing)]), told[0].fixes[0].edits)
    assert built(mended)[loft.id].findings == []
    assert len(built(mended)[loft.id].summary.ties) == 2
