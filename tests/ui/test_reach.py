"""One list for each page: whatever can be done there is reached by its button, by name and by keys, and says what it would do or what is missing."""

from __future__ import annotations

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.app.server import Server, wait_until
from tests.ui.board import Board
from tests.ui.floor import Floor


def search(page: Page, words: str) -> Locator:
    """What the search field offers, after the slash key."""
    page.keyboard.press("/")
    field = page.get_by_label("Search for any action")
    expect(field).to_be_focused()
    field.fill(words)
    return page.get_by_role("option")


def test_by_the_words_of_people_on_the_floor(floor: Floor) -> None:
    page = floor.page
    for words, name in [("export", "Hand over a file"), ("delete", "Remove what is selected"), ("hollow", "Finish: Cut"), ("zoom", "Fit everything")]:
        expect(search(page, words).filter(has_text=name).first).to_be_visible()
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
    # what can't be done says what is missing, in the list and when it is asked for all the same
    found = search(page, "delete")
    expect(found.first).to_contain_text("select a step first")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Remove what is selected: select a step first")).to_be_visible()
    assert floor.revision == 1


def test_undo_says_what_it_takes_back(floor: Floor) -> None:
    page = floor.page
    floor.select("section-8")
    before = len(floor.document["steps"])
    search(page, "remove: ")
    page.keyboard.press("Enter")
    wait_until(lambda: len(floor.document["steps"]) < before)
    undo = page.get_by_role("button", name="Undo")
    expect(undo).to_be_enabled()
    undo.hover()
    expect(page.get_by_role("tooltip")).to_contain_text("remove")
    expect(page.get_by_role("tooltip")).to_contain_text("Ctrl z")
    page.keyboard.press("Control+z")
    wait_until(lambda: len(floor.document["steps"]) == before)
    # kept over a reload: what is said of the way forward comes from the store
    page.reload()
    floor.wait_for_body()
    page.get_by_role("button", name="Redo").hover()
    expect(page.get_by_role("tooltip")).to_contain_text("remove")


def test_keys_that_were_begun_don_t_run_on_into_others(floor: Floor) -> None:
    """Shade, then cut open along x: the s of one and the c of the other are no word together."""
    page = floor.page
    for key in ("v", "s", "c", "x"):
        page.keyboard.press(key)
    expect(page.get_by_role("button", name="Shade")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_role("group", name="Cut open")).to_be_visible()
    page.get_by_role("toolbar", name="Verbs").get_by_role("button", name="Shape").click()
    expect(page.get_by_role("button", name="a new body", exact=True)).to_have_attribute("aria-pressed", "true")
    # in a menu keys choose from the menu
    page.keyboard.press("0")
    page.keyboard.press("Escape")


def test_the_board_by_keys_and_names(floor: Floor) -> None:
    page = floor.page
    board = Board(floor, "section-6", blank=True)
    page.keyboard.press("c")
    expect(page.get_by_role("button", name="Circle", exact=True)).to_have_attribute("aria-pressed", "true")
    board.click((0, 0), (20, 0))
    wait_until(lambda: len(board.shape["curves"]) == 1)
    expect(search(page, "round corner").first).to_contain_text("Fillet")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Fillet", exact=True)).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("Escape")
    board.pick(board.shape["curves"][0]["id"])
    page.keyboard.press("Delete")
    wait_until(lambda: board.shape["curves"] == [])
    page.keyboard.press("Control+z")
    wait_until(lambda: len(board.shape["curves"]) == 1)
    # the sheet is fitted again after it was moved away
    page.keyboard.press("0")
    page.mouse.move(600, 400)
    look = floor.at_rest("document.querySelector('[data-testid=paper]').dataset.look")
    page.mouse.wheel(0, 600)
    expect(board.paper).not_to_have_attribute("data-look", look or "")
    page.keyboard.press("0")
    expect(board.paper).to_have_attribute("data-look", look or "")
    page.keyboard.press("g")
    page.keyboard.press("f")
    expect(page.get_by_role("button", name="Hand over")).to_be_visible()


@pytest.mark.parametrize("how", ["keys", "name"])
def test_the_rack(page: Page, server: Server, how: str) -> None:
    page.goto(server.url)
    expect(page.get_by_role("heading", name="Rack")).to_be_visible()
    expect(page.get_by_role("listitem").first).to_be_visible()
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_contain_text("New design")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog", name="Keys")).to_have_count(0)
    before = len(server.client.get("/api/designs").json())
    if how == "keys":
        page.keyboard.press("n")
        page.keyboard.press("d")
        expect(page.get_by_label("Name of the design")).to_have_value("New design")
        assert len(server.client.get("/api/designs").json()) == before + 1
    else:
        search(page, "open: tarn")
        page.keyboard.press("Enter")
        expect(page.get_by_label("Name of the design")).to_have_value("Tarn flask")
