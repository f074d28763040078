"""Bodies put together by a person: a cup from nothing by mouse and by keyboard, its early station moved afterwards, faces and bodies picked."""

from __future__ import annotations

from collections.abc import Iterator
from math import pi

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.app.server import Server, wait_until
from tests.closeness import assert_close
from tests.ui.floor import Floor

BOTTOM, TOP_, COLLAR, INNER = 60.0, 80.0, 90.0, (54.0, 74.0)
MOST_CLICKS = 25
VOLUME = "document.querySelector('[data-testid=\"volume\"]').dataset.mm3"


@pytest.fixture
def empty(page: Page, server: Server) -> Iterator[Floor]:
    made = server.client.post("/api/designs", json={"name": "Cup"}).json()
    floor = Floor(page, server, made["id"])
    floor.arrive()
    expect(page.get_by_role("toolbar", name="Verbs")).to_be_visible()
    return floor


def frustum(low: float, high: float, height: float) -> float:
    return pi * height * (low**2 + low * high + high**2) / 12


class Mouse:
    """Clicks, counted."""

    def __init__(self, floor: Floor) -> None:
        self.floor, self.page = floor, floor.page
        self.clicks = 0

    def click(self, what: Locator) -> None:
        self.clicks += 1
        what.click()

    def menu(self, verb: str, *choices: str, item: str) -> None:
        revision = self.floor.revision
        self.click(self.page.get_by_role("button", name=verb, exact=True))
        for choice in choices:
            self.click(self.page.get_by_role("menu").get_by_role("button", name=choice, exact=True))
        self.click(self.page.get_by_role("menuitem", name=item))
        wait_until(lambda: self.floor.revision > revision)

    def number(self, text: str) -> None:
        """Type into the field that waits for it: no click is needed after something was made."""
        revision = self.floor.revision
        newest = max((step["id"] for step in self.floor.document["steps"]), key=lambda name: int(name.rsplit("-", 1)[1]))
        self.page.wait_for_function("newest => document.activeElement?.dataset?.ownNumber === newest", arg=newest)
        self.page.keyboard.type(text)
        self.page.keyboard.press("Enter")
        wait_until(lambda: self.floor.revision > revision)


def exact_volume(floor: Floor) -> float:
    """The volume of the one body once it is exact, mm3."""
    floor.settled()
    volume = floor.page.get_by_test_id("volume")
    expect(volume).to_have_count(1)
    expect(volume).to_have_attribute("data-from", "kernel")
    return floor.volume


def test_a_cup_by_mouse_from_nothing(empty: Floor) -> None:
    mouse = Mouse(empty)
    mouse.menu("Draw", item="Circle")
    mouse.number("60")
    mouse.menu("Draw", item="Circle")
    mouse.number("80")
    mouse.menu("Shape", item="Smooth loft through 2")
    assert_close(empty.settled(), frustum(BOTTOM, TOP_, 30), within=1.0)
    mouse.click(empty.page.get_by_role("button", name="Section 2, Circle 2"))
    mouse.menu("Draw", "a new body", item="Circle")
    mouse.number("90")
    mouse.menu("Shape", "joined to Body 1", item="Extrude Circle 3")
    mouse.number("5")
    assert_close(exact_volume(empty), frustum(BOTTOM, TOP_, 30) + pi * COLLAR**2 / 4 * 5, within=1.0)
    mouse.click(empty.page.get_by_role("button", name="Section 1, Circle 1"))
    mouse.menu("Draw", "a new body", item="Circle")
    mouse.number("54")
    mouse.click(empty.page.get_by_role("button", name="Section 2, Circle 2"))
    mouse.menu("Draw", item="Circle")
    mouse.number("74")
    mouse.menu("Shape", "cut from Extrude 1", item="Smooth loft through 2")
    whole = frustum(BOTTOM, TOP_, 30) + pi * COLLAR**2 / 4 * 5 - frustum(*INNER, 30)
    assert_close(exact_volume(empty), whole, within=1.0)
    # one early station dragged along the Run, the body following while it is
    mouse.click(empty.page.get_by_role("navigation", name="Build").get_by_text("Body 1", exact=True))
    empty.drag("section-2", -200, release=False)
    expect(empty.page.get_by_test_id("volume")).to_have_attribute("data-from", "mesh")
    empty.at_rest(VOLUME)
    during = empty.volume
    assert abs(during - whole) > 100
    revision = empty.revision
    empty.page.mouse.up()
    mouse.clicks += 1
    wait_until(lambda: empty.revision > revision)
    after = exact_volume(empty)
    assert_close(after, during, within=0.02 * after)
    assert mouse.clicks <= MOST_CLICKS, mouse.clicks
    build = empty.page.get_by_role("navigation", name="Build")
    expect(build).to_contain_text("extrude of Circle 3 by 5, joined to Body 1")
    expect(build).to_contain_text("loft through 2 sections, cut from Extrude 1")
    # undone step by step, and back: what is on screen is what a fresh load shows
    for key in ["Control+z"] * 4 + ["Control+Shift+z"] * 4:
        revision = empty.revision
        empty.page.keyboard.press(key)
        wait_until(lambda revision=revision: empty.revision != revision)
    assert_close(exact_volume(empty), after, within=1e-6)
    shown = empty.measures
    empty.page.reload()
    assert_close(exact_volume(empty), after, within=1e-6)
    assert empty.measures == shown


def test_a_cup_by_keyboard_alone(empty: Floor) -> None:
    mouse = Mouse(empty)
    page = empty.page

    def keys(text: str, number: str | None = None) -> None:
        revision = empty.revision
        page.keyboard.press("Escape") if page.evaluate("document.activeElement?.tagName") == "INPUT" else None
        page.evaluate("document.activeElement?.blur?.()")
        for key in text:
            page.keyboard.press(key)
        wait_until(lambda: empty.revision > revision)
        if number:
            mouse.number(number)

    def search(words: str) -> None:
        page.evaluate("document.activeElement?.blur?.()")
        page.keyboard.press("/")
        page.keyboard.type(words)
        page.keyboard.press("Enter")

    keys("dc", "60")
    keys("dc", "80")
    keys("sl")
    empty.settled()
    page.evaluate("document.activeElement?.blur?.()")
    search("draw into a new")
    keys("dc", "90")
    search("makes joined to Body 1")
    keys("se", "5")
    whole = exact_volume(empty)
    assert whole > frustum(BOTTOM, TOP_, 30)
    search("draw into a new")
    keys("dc", "54")
    keys("dc", "41")  # not the size that a circle has of itself: that would be no change
    search("makes cut from Extrude 1")
    keys("sl")
    # the second loft goes up inside the first
    assert_close(exact_volume(empty), whole - frustum(54, 41, 30), within=1.0)
