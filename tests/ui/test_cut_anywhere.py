"""A section is cut by a click on the Run of any loft: a duct along a line with a rail beside it, a ring, a sheet, and where stations lean."""

from __future__ import annotations

from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.core.design.designs import built, circle, lofted
from tests.core.design.test_cutting import TILTED
from tests.core.steps.test_loft_centre import OUTSIDE, elbow, with_side
from tests.core.steps.test_loft_ring import rings
from tests.core.steps.test_sheets import BOW, TENT
from tests.ui.floor import Floor, opened
from wander.core.document.document import Document


def cut_half_way(floor: Floor, between: tuple[str, str]) -> str:
    """A click on the axis of the Run, between two sections: the section that is there then."""
    boxes = [floor.thumb(section).bounding_box() for section in between]
    assert all(boxes)
    middles = [box["x"] + box["width"] / 2 for box in boxes if box is not None]
    before = {step["id"] for step in floor.document["steps"]}
    axis = floor.page.get_by_test_id("cut").locator("rect").bounding_box()
    assert axis is not None
    x, y = sum(middles) / 2, axis["y"] + axis["height"] / 2
    floor.page.mouse.move(x, y)
    expect(floor.page.get_by_text("cut a section at")).to_be_visible()
    floor.page.mouse.click(x, y)
    wait_until(lambda: len(floor.document["steps"]) == len(before) + 2)
    return next(step["id"] for step in floor.document["steps"] if step["kind"] == "section" and step["id"] not in before)


CASES: list[tuple[str, Document, str, tuple[str, str]]] = [
    ("a duct with a rail", with_side(OUTSIDE), "Duct", ("section-2", "section-4")),
    ("a ring", rings(circle(20.0), circle(26.0), circle(18.0), circle(22.0)), "Lifebelt", ("section-4", "section-6")),
    ("beside a tilted station", TILTED, "Body", ("section-2", "section-4")),
]


@pytest.mark.parametrize(("document", "name", "between"), [case[1:] for case in CASES], ids=[case[0] for case in CASES])
def test_a_section_is_cut_where_it_is_clicked_and_changes_nothing_until_it_is_moved(
    page: Page, server: Server, document: Document, name: str, between: tuple[str, str]
) -> None:
    floor = opened(page, server, document)
    volume = floor.settled()
    cut = cut_half_way(floor, between)
    floor.settled()
    assert abs(floor.volume - volume) < 1e-5 * volume
    expect(floor.thumb(cut)).to_be_visible()
    expect(page.get_by_label("Build").get_by_text("Cut at").first).to_be_visible()
    # it is a section like any other: made wider, the body follows
    floor.edit({"do": "set-param", "step": cut, "path": ["shape"], "value": {"type": "circle", "diameter": 34.0}})
    if document.step("rail-30") is not None:
        # its rail is told to miss it, and led through it by one click
        floor.page.get_by_role("button", name="Let Side pass through").click()
    floor.until_volume(lambda found: abs(found - volume) > 50)
    for _ in range(2 if document.step("rail-30") else 1):
        page.get_by_role("button", name="Undo", exact=True).click()
    floor.until_volume(lambda found: abs(found - volume) < 1e-5 * volume)


def test_what_is_cut_from_a_sheet_is_open_and_drawn_on(page: Page, server: Server) -> None:
    floor = opened(page, server, lofted((0.0, BOW), (30.0, TENT), (80.0, BOW)))
    cut = cut_half_way(floor, ("section-2", "section-4"))
    page.get_by_label("Build").get_by_text("Cut at").last.click()
    expect(page.get_by_label("Sheet").get_by_text("Length, open")).to_be_visible()
    page.get_by_role("button", name="Draw on the board").click()
    expect(page.get_by_test_id("paper")).to_be_visible()
    curves = page.locator("[data-curve]")
    expect(curves.first).to_be_attached()
    assert floor.params(cut)["shape"]["type"] == "traced"


def test_a_rail_is_given_to_a_duct_and_a_pull_on_it_shapes_the_duct(page: Page, server: Server) -> None:
    raw: dict[str, Any] = with_side(OUTSIDE).model_dump(mode="json")
    raw["steps"][-1]["params"]["rails"] = []
    floor = opened(page, server, raw)
    plain = floor.settled()
    assert abs(plain - _volume(elbow())) < 1e-5 * plain
    page.get_by_label("Build").get_by_text("Duct").first.click()
    page.get_by_label("Sheet").get_by_role("combobox", name="Rails").click()
    page.get_by_role("option", name="Side").click()
    page.keyboard.press("Escape")
    floor.until_volume(lambda found: abs(found - plain) > 500)
    expect(page.get_by_label("Sheet").get_by_text("have no say")).to_have_count(0)
    page.get_by_role("button", name="Rails", exact=True).click()
    expect(page.get_by_text("Off the rails")).to_be_visible()


def _volume(document: Document) -> float:
    return float(built(document)["loft-21"].summary.volume)
