"""Everybody can use it: the focus is seen on everything, at 200 % all is there, and Esc and arrows do what they do elsewhere."""

from __future__ import annotations

import io
import json
from pathlib import Path

import numpy as np
from PIL import Image
from playwright.sync_api import Locator, Page, expect

from tests.app.server import Server, wait_until
from tests.ui.board import Board
from tests.ui.floor import Floor
from tests.ui.test_places import assert_accessible

TWICE = {"width": 640, "height": 400}
"""The design size seen at 200 %."""


def picture(page: Page, around: Locator) -> np.ndarray:
    box = around.bounding_box()
    assert box is not None
    x, y = max(box["x"] - 5, 0), max(box["y"] - 5, 0)
    clip = {"x": x, "y": y, "width": box["width"] + 10, "height": box["height"] + 10}
    data = page.screenshot(clip=clip, animations="disabled", caret="hide")
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"), dtype=np.int64)


def assert_focus_is_seen(page: Page, *things: Locator) -> None:
    """The ring is looked for where it is: in the pixels."""
    for thing in things:
        thing.scroll_into_view_if_needed()
        page.evaluate("document.activeElement.blur()")
        before = picture(page, thing)
        page.keyboard.press("Shift")
        thing.focus()
        after = picture(page, thing)
        changed = int((np.abs(after - before).max(axis=2) > 40).sum())
        assert changed > 60, f"{thing} looks as before: {changed} pixels differ"


def fits(page: Page) -> bool:
    """Nothing has to be scrolled for sideways."""
    return bool(page.evaluate("document.documentElement.scrollWidth <= window.innerWidth"))


def test_the_focus_is_seen_on_everything(floor: Floor) -> None:
    page = floor.page
    floor.select("section-8")
    button = lambda name: page.get_by_role("button", name=name, exact=True)  # noqa: E731
    assert_focus_is_seen(
        page,
        *(button(name) for name in ("Versions", "Hand over", "Place", "Wire", "Front", "Cut open", "Square on", "Twist", "Fold away", "Skip")),
        page.get_by_label("Search for any action"),
        page.get_by_role("combobox").filter(has_text="mm"),
        page.get_by_label("Build").get_by_text("Belly").locator("xpath=ancestor-or-self::*[@tabindex or self::button][1]"),
        floor.thumb("section-6"),
        page.get_by_role("link", name="To the rack"),
    )
    board = Board(floor, "section-6")
    assert_focus_is_seen(page, button("Line"), button("Grid"), button("Bring in"), button("Back to the floor"))
    assert board.paper.is_visible()


def test_the_focus_is_seen_on_the_rack(page: Page, server: Server, samples: Path) -> None:
    raw = json.loads((samples / "bailer.json").read_bytes())
    server.client.post("/api/designs/file", content=json.dumps({**raw, "name": "Spout in focus"}))
    page.goto(server.url)
    # while its body is being built the card is drawn anew
    card = page.get_by_role("listitem").filter(has=page.get_by_role("heading", name="Spout in focus")).filter(has_text="157.17 cm³")
    expect(card).to_be_visible()
    assert_focus_is_seen(page, page.get_by_role("button", name="New design", exact=True), card.get_by_role("link"), card.get_by_role("button"))


def test_all_of_it_at_200_percent(floor: Floor) -> None:
    page = floor.page
    floor.select("section-8")
    page.set_viewport_size(TWICE)
    volume = page.get_by_test_id("volume")
    expect(volume).to_be_in_viewport()
    assert fits(page)
    assert_accessible(page)
    # the Run is folded away, and there when it is wanted
    expect(page.get_by_label("Twist law")).to_have_count(0)
    page.get_by_role("button", name="Unfold").click()
    expect(floor.thumb("section-6")).to_be_in_viewport()
    assert_accessible(page)
    page.keyboard.press("r")
    page.keyboard.press("f")
    expect(page.get_by_role("button", name="Unfold")).to_be_in_viewport()
    # ways of looking are behind one button
    page.get_by_role("button", name="View", exact=True).click()
    page.get_by_role("button", name="Wire", exact=True).click()
    expect(page.get_by_role("button", name="Wire", exact=True)).to_have_attribute("aria-pressed", "true")
    assert_accessible(page)
    # a number is typed and the body follows
    before = floor.volume
    floor.type_into("Station at", "120")
    floor.until_volume(lambda volume: abs(volume - before) > 100)
    page.get_by_role("button", name="Hand over").click()
    expect(page.get_by_role("button", name="Save the file")).to_be_in_viewport()
    assert_accessible(page)
    page.keyboard.press("Escape")
    page.keyboard.press("d")
    page.keyboard.press("d")
    board = Board.opened(floor, "section-8")
    assert fits(page)
    for name in ("Line", "Back to the floor"):
        expect(page.get_by_role("button", name=name, exact=True)).to_be_in_viewport()
    box = board.paper.bounding_box()
    assert box is not None
    assert box["width"] > 280
    assert box["height"] > 200
    assert_accessible(page)
    page.keyboard.press("g")
    page.keyboard.press("r")
    expect(page.get_by_role("heading", name="Rack")).to_be_visible()
    assert fits(page)
    assert_accessible(page)


def test_a_page_of_1024_shows_the_run_and_cuts_nothing_off(floor: Floor) -> None:
    page = floor.page
    page.set_viewport_size({"width": 1024, "height": 700})
    expect(floor.thumb("section-6")).to_be_in_viewport()
    assert fits(page)
    for name in ("Versions", "Hand over", "Place", "Cut open"):
        expect(page.get_by_role("button", name=name, exact=True)).to_be_in_viewport(ratio=1)


def test_esc_leaves_the_field_then_what_popped_up_then_the_selection(floor: Floor) -> None:
    page = floor.page
    floor.select("section-8")
    field = page.get_by_label("Sheet", exact=True).get_by_label("Width", exact=True)
    field.fill("belly + 77 mm")
    page.keyboard.press("Escape")
    expect(field).not_to_be_focused()
    expect(field).to_have_value("belly - 10 mm")
    assert floor.revision == 1
    page.get_by_role("button", name="Free: the start of the body").click()
    popped = page.get_by_role("dialog", name="Start of the body")
    popped.get_by_role("combobox").click()
    page.get_by_role("option", name="Square").click()
    wait_until(lambda: floor.revision == 2)
    fullness = popped.get_by_label("Fullness")
    fullness.focus()
    page.keyboard.press("Escape")
    expect(fullness).not_to_be_focused()
    expect(fullness).to_be_visible()
    page.keyboard.press("Escape")
    expect(popped).to_have_count(0)
    expect(page.get_by_role("heading", name="Nothing selected")).to_have_count(0)
    page.keyboard.press("Escape")
    expect(page.get_by_role("heading", name="Nothing selected")).to_be_visible()


def test_arrows_go_through_the_formats(floor: Floor) -> None:
    page = floor.page
    page.get_by_role("button", name="Hand over").click()
    formats = page.get_by_role("radio")
    formats.nth(0).focus()
    for i in range(1, 4):
        page.keyboard.press("ArrowDown")
        expect(formats.nth(i)).to_be_focused()
        expect(formats.nth(i)).to_have_attribute("aria-checked", "true")
    page.keyboard.press("ArrowUp")
    expect(formats.nth(2)).to_have_attribute("aria-checked", "true")
    expect(page.locator('[role="radio"][tabindex="0"]')).to_have_count(1)
