"""Looking at a section on the board changes nothing; the first change does, and is taken back in one step."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from tests.ui.board import Board
from tests.ui.floor import Floor


@pytest.mark.parametrize(("design", "section"), [("tarn", "section-6"), ("merganser", "section-4"), ("bailer", "section-2")])
def test_looking_changes_nothing(floor: Floor, design: str, section: str) -> None:
    before, revision, volume = floor.document, floor.revision, floor.volume
    board = Board(floor, section)
    expect(board.paper.locator("[data-curve]").first).to_be_visible()
    floor.page.get_by_role("button", name="Back to the floor").click()
    floor.wait_for_body()
    assert floor.revision == revision
    assert floor.document == before
    assert floor.volume == volume
    expect(floor.page.get_by_role("button", name="Undo")).to_be_disabled()


def test_the_first_change_makes_a_drawing_and_undo_gives_the_shape_back(floor: Floor) -> None:
    page, before = floor.page, floor.document
    board = Board(floor, "section-6")
    revision = floor.revision
    board.tool("Circle")
    board.click((0, 0), (5, 0))
    expect(page.get_by_text("Belly is a drawing from now on")).to_be_visible()
    assert floor.revision == revision + 1, "the change and what it needs are one"
    assert floor.params("section-6")["shape"]["type"] == "drawing"
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    expect(board.paper).to_have_attribute("aria-busy", "false")
    assert floor.document == before
    page.get_by_role("button", name="Redo").click()
    expect(page.get_by_role("button", name="Redo")).to_be_disabled()
    assert floor.revision == revision + 1, "nothing was made anew over what was taken back"
