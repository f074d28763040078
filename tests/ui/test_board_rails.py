"""Sections drawn between rails: points are held where rails pass, and go with them."""

from __future__ import annotations

from typing import Any

import pytest
from playwright.sync_api import expect

from tests.app.server import wait_until
from tests.closeness import assert_close
from tests.core.steps.test_sweep_step import line
from tests.ui.board import Board
from tests.ui.floor import Floor
from tests.ui.test_board_pen import keys


def rail_at(floor: Floor, x: float, name: str = "Edge") -> str:
    """An upright rail that passes the shoulder at x; made last, as one that is thought of later is."""
    floor.edit({"do": "add-step", "kind": "rail", "name": name, "params": {"shape": line((x, 0, 100), (x, 0, 160))}})
    return str(next(step["id"] for step in floor.document["steps"] if step["name"] == name))


def lean(floor: Floor, rail: str, x: float) -> None:
    floor.edit({"do": "set-param", "step": rail, "path": ["shape"], "value": line((x, 0, 100), (x, 0, 160))})


def led(board: Board) -> list[dict[str, Any]]:
    return [hold for hold in board.shape["holds"] if hold["type"] == "passes"]


@pytest.fixture
def board(floor: Floor) -> Board:
    rail_at(floor, 30.0)
    found = Board(floor, "section-8", blank=True)
    found.page.get_by_role("button", name="Underlay").click()
    expect(found.page.locator("[data-rail]")).to_be_attached()
    return found


def test_what_is_drawn_on_a_rail_goes_with_it(board: Board) -> None:
    floor, page = board.floor, board.page
    rail = floor.document["steps"][-1]["id"]
    keys(board, "l")
    board.click((0, 0), (30.4, 0.3), (0, 20), (0, 0))
    keys(board, "<Escape>", "<Escape>")
    [hold] = led(board)
    assert hold["rail"] == {"step": rail}
    board.until_area(30 * 20 / 2)
    # a rail leads only what is made after it
    order = [step["id"] for step in floor.document["steps"]]
    assert order.index(rail) < order.index("section-8")
    row = page.locator(f'[data-hold-row="{hold["id"]}"]')
    expect(row).to_contain_text("Where Edge passes")
    lean(floor, rail, 36.0)
    board.until_area(36 * 20 / 2)
    expect(page.locator(f'[data-point="{hold["of"][0]}"]')).to_be_attached()
    x = board.on_screen((36, 0))[0]
    wait_until(lambda: abs(centre(board, hold["of"][0])[0] - x) < 1)
    # what is let go of stays where it was led to, not where it was drawn
    row.get_by_role("button", name="Drop Where Edge passes").click()
    expect(row).to_have_count(0)
    wait_until(lambda: led(board) == [])
    board.until_area(36 * 20 / 2)
    assert_close(board.shape["points"][hold["of"][0]], (36.0, 0.0), within=1e-5)
    page.get_by_role("button", name="Undo").click()
    wait_until(lambda: len(led(board)) == 1)


def centre(board: Board, point: str) -> tuple[float, float]:
    box = board.page.locator(f'[data-point="{point}"] circle').first.bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def test_a_point_is_pulled_onto_a_rail_or_held_to_it_by_a_press(board: Board) -> None:
    floor, page = board.floor, board.page
    keys(board, "l")
    board.click((0, 0), (20, 10), (4, 20), (0, 0))
    keys(board, "<Escape>", "<Escape>")
    tip = next(p for p, (x, _) in board.shape["points"].items() if x > 1)
    board.pull((20, 10), (30.3, -0.2))
    wait_until(lambda: [hold["of"] for hold in led(board)] == [[tip]])
    board.until_area(30 * 20 / 2)
    other = rail_at(floor, -12.0, "Back")
    expect(page.locator(f'[data-rail="{other}"]')).to_be_attached()
    top = next(p for p, (x, y) in board.shape["points"].items() if y > 15)
    board.pick(top)
    # a point is offered every rail that passes and does not hold it yet
    expect(page.get_by_role("button", name="Where Edge passes", exact=True)).to_be_visible()
    board.act("Where Back passes")
    wait_until(lambda: sorted(hold["of"][0] for hold in led(board)) == sorted([tip, top]))
    # all three lie on one level now, so there is no area; up again by the other rail
    lean(floor, other, -18.0)
    wait_until(lambda: abs(board.snapshot()["section-8"]["summary"]["drawing"]["points"][top][0] + 18.0) < 1e-5)


def test_a_rail_is_removed_and_the_section_stays_as_it_was(board: Board) -> None:
    floor, page = board.floor, board.page
    keys(board, "l")
    board.click((0, 0), (30.4, 0.3), (0, 20), (0, 0))
    keys(board, "<Escape>", "<Escape>")
    [hold] = led(board)
    lean(floor, hold["rail"]["step"], 36.0)
    board.until_area(36 * 20 / 2)
    page.get_by_role("button", name="Back to the floor").click()
    page.locator(f'button[data-step="{hold["rail"]["step"]}"]').click()
    page.get_by_role("button", name="Remove", exact=True).click()
    wait_until(lambda: all(step["name"] != "Edge" for step in floor.document["steps"]))
    assert led(board) == []
    board.until_area(36 * 20 / 2)
    page.keyboard.press("Control+z")
    wait_until(lambda: [{**one, "at": None} for one in led(board)] == [{**hold, "at": None}])
    board.until_area(36 * 20 / 2)
