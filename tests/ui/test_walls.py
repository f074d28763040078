"""Walls in the browser: the mouth picked in the scene, how even it is, seen cut open, followed while a station is pulled."""

from __future__ import annotations

import re
from math import pi
from pathlib import Path

from playwright.sync_api import expect

from tests.app.server import wait_until
from tests.ui.floor import Floor, look, search


def through(floor: Floor, height: float) -> float:
    """How thick the body is where the middle of the scene is pointed at, so far down, mm."""
    scene = floor.page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    for off in (4, 0):
        floor.page.mouse.move(scene["x"] + scene["width"] / 2 + off, scene["y"] + scene["height"] * height)
    return float(floor.page.get_by_role("group", name="Thickness", exact=True).get_attribute("data-told") or "nan")


def test_the_flask_gets_a_wall_with_its_mouth_open(floor: Floor, tmp_path: Path) -> None:
    page = floor.page
    whole = floor.volume
    search(page, "hollow flask")
    sheet = page.get_by_label("Sheet")
    expect(sheet.get_by_text("Pick a face of a body")).to_be_visible()
    look(page, "Top")
    scene = page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    # from above the mouth lies in the middle
    wait_until(lambda: floor.volume < 0.5 * whole)
    page.mouse.click(scene["x"] + scene["width"] / 2, scene["y"] + scene["height"] / 2)
    expect(sheet.get_by_text("the end of Flask at Mouth")).to_be_visible()
    page.get_by_role("button", name="Done").click()
    floor.type_into("Thickness", "1.2")
    wall = str(floor.document["steps"][-1]["id"])
    wait_until(lambda: floor.params(wall)["thickness"] == 1.2)
    shown = floor.until_volume(lambda found: abs(found - floor.measured_by_command_line(tmp_path)) < 1e-6 * found)
    assert shown < 0.1 * whole
    for word in ("least", "largest"):
        expect(sheet.get_by_text(f"Wall, {word}")).to_be_visible()
    expect(sheet.get_by_text(re.compile(r"^1\.20? mm at 2\d\d\d places$"))).to_be_visible()
    # straight through it, at three heights
    look(page, "Front")
    page.get_by_role("button", name="Thickness", exact=True).click()
    for height in (0.35, 0.55, 0.75):
        wait_until(lambda height=height: abs(through(floor, height) - 1.2) < 0.02)
    page.get_by_role("button", name="Edges", exact=True).click()
    # the belly wider: the same mouth, the same wall
    floor.drag("section-8", 40)
    floor.until_volume(lambda found: abs(found - shown) > 100)
    assert floor.params(wall)["open"][0]["part"] == "loft-13/end:section-12"
    # cut open half-way up it is a ring of that thickness
    floor.select("section-6")
    page.evaluate("document.activeElement?.blur?.()")
    page.keyboard.press("c")
    page.keyboard.press("s")
    girth = 262.8  # of the belly, as its sheet says: a band inside of it is shorter at its inner side
    expect(page.get_by_text(f"{girth} mm")).to_be_visible()
    expect(page.get_by_label("Area cut")).to_have_text(f"{(girth * 1.2 - pi * 1.2**2) / 100:.2f} cm²")
    # too much for the neck: told, with what goes
    page.get_by_label("Build").get_by_text("Wall 1").click()
    floor.type_into("Thickness", "20")
    card = page.locator('[data-code="wall-no-room"]')
    expect(card).to_be_visible()
    card.get_by_role("button", name="Make it").click()
    expect(card).to_have_count(0)
