"""Cutting a section out of a body, as a designer does it: through the document."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial import cKDTree

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, lofted, set_param
from wander.core.design.apply import apply_edits
from wander.core.design.cutting import CannotCut, cut_edits
from wander.core.design.reading import read_document, write_document
from wander.core.document.document import Document

BODY = lofted((0, {"type": "rounded-rectangle", "width": 40.0, "depth": 30.0, "radius": 7.0}), (30, circle(44.0)), (80, circle(20.0)))
LAWED = apply_edits(BODY, [set_param("loft-7", "twist", to={"type": "linear", "start": 0.0, "end": 50.0})])


def cut_at(document: Document, at: float) -> Document:
    return apply_edits(document, cut_edits(document, list(built(document).values()), "loft-7", at))


def volume(document: Document) -> float:
    return float(built(document)["loft-7"].summary.volume)


@pytest.mark.parametrize("skin", ["batten", "fair"])
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
    assert [f.code for f in built(moved)["loft-7"].findings] == [f.code for f in built(after)["loft-7"].findings]


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


def test_a_cut_next_to_a_tilted_station_says_what_would_help() -> None:
    tilted = {"type": "turned", "station": {"step": "station-1"}, "direction": 0.0, "angle": 12.0}
    document = apply_edits(BODY, [set_param("station-3", "place", to=tilted), set_param("station-3", "offset", to=30.0)])
    with pytest.raises(CannotCut, match="parallel"):
        cut_at(document, 15.0)
