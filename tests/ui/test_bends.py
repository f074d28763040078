"""Colours that tell how sharply a body bends: known radii, on own and on trimmed faces, while something is dragged, in the unit of the design."""

from __future__ import annotations

from typing import Any

import numpy as np
from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.core.design.designs import circle, lofted
from tests.ui.floor import Floor, look

BLOCK = {"type": "rectangle", "width": 60.0, "depth": 60.0}


def opened(page: Page, server: Server, document: dict[str, Any]) -> Floor:
    made = server.client.post("/api/designs/file", json=document)
    assert made.status_code in (200, 201), made.text
    floor = Floor(page, server, made.json()["id"])
    floor.open()
    page.keyboard.press("v")
    page.keyboard.press("b")
    expect(page.get_by_role("button", name="Bends")).to_have_attribute("aria-pressed", "true")
    return floor


def bend(page: Page) -> float:
    """What is told of the place that is pointed at, 1/mm."""
    return float(page.get_by_role("group", name="Bends", exact=True).get_attribute("data-told") or "nan")


def full(page: Page) -> float:
    return float(page.get_by_role("group", name="Bends", exact=True).get_attribute("data-full") or "nan")


def point(page: Page, x: float = 0.5, y: float = 0.5) -> None:
    """Point at a place of the scene, by shares of it."""
    box = page.get_by_test_id("scene").bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + x * box["width"], box["y"] + y * box["height"])


def test_a_can_has_its_radius_all_round_and_none_on_its_ends(page: Page, server: Server) -> None:
    floor = opened(page, server, lofted((0, circle(60)), (80, circle(60)), between="straight").model_dump(mode="json"))
    look(page, "Front")
    point(page)
    wait_until(lambda: abs(bend(page) * 30 - 1) < 0.003)
    assert full(page) >= 1 / 30  # the last colour is for what bends as sharply, or sharper
    expect(page.get_by_role("group", name="Bends", exact=True)).to_contain_text("30 mm round")
    for section in ("section-2", "section-4"):
        floor.edit({"do": "set-param", "step": section, "path": ["shape", "diameter"], "value": 40.0})
    wait_until(lambda: abs(bend(page) * 20 - 1) < 0.003)  # under a pointer that rests
    page.keyboard.press("3")
    wait_until(lambda: abs(bend(page)) < 1e-6)  # and so while the view turns
    page.keyboard.press("1")
    wait_until(lambda: abs(bend(page) * 20 - 1) < 0.003)
    look(page, "Top")
    point(page, 0.5, 0.51)
    wait_until(lambda: abs(bend(page)) < 1e-6)
    expect(page.get_by_role("group", name="Bends", exact=True)).to_contain_text("flat")


def test_a_groove_that_was_cut_is_hollow(page: Page, server: Server) -> None:
    document = lofted((0, BLOCK), (40, BLOCK), between="straight").model_dump(mode="json")
    floor = opened(page, server, document)
    station = {"do": "add-step", "kind": "station", "name": "Side", "params": {"plane": "side", "offset": 0.0}, "alias": "$side"}
    drawn = {"station": {"step": "$side"}, "shape": circle(24), "at": [0.0, 40.0]}
    section = {"do": "add-step", "kind": "section", "name": "Round", "params": drawn, "alias": "$round"}
    cut = {"section": {"step": "$round"}, "distance": 40.0, "other": 40.0, "result": {"type": "cut", "body": {"step": "loft-5"}}}
    made = floor.edit(station, section, {"do": "add-step", "kind": "extrude", "name": "Groove", "params": cut})
    assert made.status_code == 200, made.text
    left = 60 * 60 * 40 - np.pi * 12**2 / 2 * 60
    floor.until_volume(lambda found: abs(found - left) < 1e-4 * left)
    look(page, "Top")
    point(page)
    wait_until(lambda: abs(bend(page) * 12 + 1) < 0.02)
    expect(page.get_by_role("group", name="Bends", exact=True)).to_contain_text("hollow")
    point(page, 0.5, 0.72)
    wait_until(lambda: abs(bend(page)) < 1e-6)  # beside the groove it is flat


def test_colours_follow_while_a_section_is_dragged(page: Page, server: Server) -> None:
    stands = [(0.0, circle(60)), (50.0, circle(30)), (100.0, circle(60))]
    floor = opened(page, server, lofted(*stands).model_dump(mode="json"))
    look(page, "Front")
    point(page)
    wait_until(lambda: abs(bend(page)) > 0.01)
    before = full(page)
    floor.drag("section-4", 120.0, release=False)
    wait_until(lambda: full(page) != before)
    page.keyboard.press("Escape")
    wait_until(lambda: full(page) == before)
    page.mouse.up()


def test_the_scale_is_round_in_the_unit_of_the_design(page: Page, server: Server) -> None:
    document = lofted((0, circle(60)), (80, circle(50)), between="straight", unit="in").model_dump(mode="json")
    opened(page, server, document)
    wait_until(lambda: full(page) > 0)
    radius = 1 / full(page) / 25.4
    assert min(abs(radius - told) for told in (0.7, 1.0, 1.5)) < 1e-9
