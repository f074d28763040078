"""The server goes away while somebody works, and comes back."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, Request, Route, expect

from tests.app.server import Server, wait_until
from tests.ui.floor import Floor, until_asked

WAITING = "Not kept yet: sent again as soon as the server answers"


@pytest.fixture
def floor(page: Page, tmp_path: Path, samples: Path) -> Iterator[Floor]:
    """On a server of its own, which may be ended."""
    server = Server(tmp_path).start()
    made = server.client.post("/api/designs/file", content=(samples / "tarn.json").read_bytes()).json()
    opened = Floor(page, server, made["id"])
    opened.open()
    yield opened
    server.stop()


def test_what_is_changed_while_the_server_is_away_is_kept_when_it_is_back(floor: Floor) -> None:
    page, server = floor.page, floor.server
    before = floor.revision
    # what the page may need later comes by itself; an entry is there once it has come
    for part in ("/Board-", "/api/kinds", "/api/holds"):
        page.wait_for_function("(part) => performance.getEntriesByType('resource').some(({ name }) => name.includes(part))", arg=part)
    server.kill()
    floor.select("section-4")
    floor.type_into("Width", "80")
    expect(page.get_by_text(WAITING)).to_be_visible()
    floor.type_into("Depth", "70")
    expect(floor.field("Width")).to_have_value("80")
    expect(page.get_by_test_id("volume").first).to_be_visible()
    server.start_again()
    expect(page.get_by_text("All changes kept")).to_be_visible()
    shape = floor.params("section-4")["shape"]
    assert (shape["width"], shape["depth"]) == (80, 70)
    assert floor.revision == before + 2, "each is kept once"
    expect(floor.field("Width")).to_have_value("80")


@pytest.mark.own_page
def test_a_form_that_was_asked_for_while_the_server_was_away_comes_when_it_is_back(page: Page, tmp_path: Path, samples: Path) -> None:
    server = Server(tmp_path).start()
    made = server.client.post("/api/designs/file", content=(samples / "tarn.json").read_bytes()).json()
    floor = Floor(page, server, made["id"])
    asked: list[str] = []

    def refuse(route: Route) -> None:
        asked.append(route.request.url)
        route.abort()

    page.route("**/api/kinds", refuse)
    floor.open()
    floor.select("section-4")
    expect(floor.field("Width")).to_be_hidden()
    while len(asked) < 3:  # and then it gives up
        page.wait_for_event("requestfailed", lambda request: "/api/kinds" in request.url)
    server.kill()
    page.unroute("**/api/kinds")
    server.start_again()
    expect(floor.field("Width")).to_be_visible()
    server.stop()


def test_an_answer_that_is_lost_makes_no_second_step(floor: Floor) -> None:
    """The edit is kept, its answer never comes: it is sent again and known again."""
    page = floor.page
    lost: list[int] = []

    def lose_the_first(route: Route, request: Request) -> None:
        if lost:
            route.continue_()
            return
        lost.append(route.fetch().status)
        route.abort()

    page.route("**/edits", lose_the_first)
    steps = len(floor.document["steps"])
    page.get_by_role("button", name="Place", exact=True).click()
    page.get_by_role("menuitem", name="Station on the top plane").click()
    expect(page.get_by_label("Sheet").get_by_text("Top plane")).to_be_visible()
    expect(page.get_by_text("All changes kept")).to_be_visible()
    assert lost == [200]
    assert len(floor.document["steps"]) == steps + 1


def test_a_change_is_taken_back_before_its_answer_has_come(floor: Floor) -> None:
    """The hand on the keys is quicker than the server: undo and redo wait for their turn."""
    page = floor.page
    before = floor.params("section-4")["shape"]["width"]
    held: list[Route] = []

    def hold_the_first(route: Route) -> None:
        route.continue_() if held else held.append(route)

    page.route("**/edits", hold_the_first)
    floor.select("section-4")
    shown = floor.field("Width").input_value()
    floor.type_into("Width", "80")
    expect(page.get_by_text("Keeping…")).to_be_visible()
    expect(page.get_by_role("button", name="Undo")).to_be_enabled()
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    until_asked(page, lambda: held)
    held[0].continue_()
    wait_until(lambda: floor.server.read(floor.design)["redo"] is not None)
    assert floor.params("section-4")["shape"]["width"] == before
    expect(floor.field("Width")).to_have_value(shown)
    page.keyboard.press("Control+Shift+z")
    wait_until(lambda: floor.params("section-4")["shape"]["width"] == 80)


def test_an_answer_that_comes_after_a_later_change_takes_nothing_back(floor: Floor) -> None:
    """My edit is kept, somebody else makes one on it, and only then my answer comes: what is shown is theirs, and the next change is made on it."""
    page = floor.page
    late = {"left": 1}

    def answer_late(route: Route) -> None:
        if not late["left"]:
            route.continue_()
            return
        late["left"] = 0
        answer = route.fetch()
        floor.server.edit(floor.design, answer.json()["revision"], {"do": "rename-design", "name": "Theirs"})
        expect(page.get_by_label("Name of the design")).to_have_value("Theirs")
        route.fulfill(response=answer)

    page.route("**/edits", answer_late)
    floor.select("section-4")
    floor.type_into("Width", "80")
    expect(page.get_by_text("All changes kept")).to_be_visible()
    expect(page.get_by_label("Name of the design")).to_have_value("Theirs")
    page.unroute("**/edits")
    floor.type_into("Width", "82")
    wait_until(lambda: floor.params("section-4")["shape"]["width"] == 82)
    assert floor.document["name"] == "Theirs"
    expect(page.get_by_text("Somebody else was first")).to_have_count(0)
