"""The axes and the origin under the hand, numbers that are moved aside, and a stepped moulding without a pointer."""

from __future__ import annotations

import re
from math import pi

import pytest
from playwright.sync_api import expect

from tests.app.server import wait_until
from tests.closeness import assert_close
from tests.ui.board import Board
from tests.ui.floor import Floor
from tests.ui.test_board_pen import curves, keys, placed, square, taken


@pytest.fixture
def board(floor: Floor) -> Board:
    return Board(floor, "section-8", blank=True)


def picked(board: Board) -> None:
    expect(board.page.get_by_role("status", name="Picked")).to_have_text("y axis")


def holds(board: Board) -> list[tuple[str, list[str]]]:
    return [(hold["type"], hold["of"]) for hold in board.shape["holds"]]


def test_what_is_drawn_on_an_axis_stays_on_it(board: Board) -> None:
    keys(board, "l")
    board.click((0, 0), (24, 0), (24, 16))
    board.click((0, 16))
    board.click((0, 0))
    board.until_area(24 * 16)
    assert sorted(of[1] for kind, of in holds(board) if kind == "on-curve") == ["x-axis", "y-axis"]
    # met where the level from the place before crosses it, it is held to both
    assert {kind for kind, of in holds(board)} == {"fixed", "on-curve", "vertical", "horizontal"}
    keys(board, "<Escape>", "<Escape>")
    board.pull((24, 16), (30, 20))
    wait_until(lambda: max(board.shape["points"].values()) == pytest.approx([30, 20], abs=1e-6))
    board.until_area(30 * 20)


def test_an_axis_and_the_origin_are_picked_and_held_to(board: Board) -> None:
    square(board, low=-10, high=18)
    x, y = board.on_screen((0, -18))
    board.page.mouse.click(x, y)
    picked(board)
    left = min(curves(board, "line"), key=lambda line: sum(board.shape["points"][p][0] for p in ends(board, line)))
    board.page.keyboard.down("Shift")
    board.page.mouse.click(*board.on_screen((-10, 5)))
    board.page.keyboard.up("Shift")
    board.act("Distance")
    ((measure,),) = [[hold] for hold in board.shape["holds"] if hold["type"] == "distance"]
    assert set(measure["of"]) == {left, "y-axis"}
    assert_close(float(measure["value"]), 10.0, within=1e-9)
    # it can be taken away neither by the button nor by the key
    keys(board, "<Escape>")
    board.page.mouse.click(x, y)
    expect(board.button("Take away")).to_have_count(0)
    before = board.floor.revision
    keys(board, "<Delete>")
    board.settle(before)
    assert board.floor.revision == before
    # by keyboard they come after everything drawn
    keys(board, "<Escape>", "<PageUp>")
    expect(board.page.get_by_role("status", name="Picked")).to_have_text("origin")
    keys(board, "<PageUp>")
    picked(board)


def ends(board: Board, line: str) -> tuple[str, str]:
    curve = next(c for c in board.shape["curves"] if c["id"] == line)
    return curve["start"], curve["end"]


def test_a_number_stays_where_it_was_moved_to(board: Board) -> None:
    board.tool("Rectangle")
    board.click((-20, -10))
    keys(board, "40", "<Tab>", "20")
    taken(board)
    board.tool("Pull and pick")
    label = board.page.get_by_role("button", name=re.compile("^Length of line 1"))
    box = label.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    scale = float((board.paper.get_attribute("data-look") or "").split()[2])
    board.page.mouse.move(x, y)
    board.page.mouse.down()
    board.page.mouse.move(x + 30, y + 12, steps=4)
    board.page.mouse.move(x + 60, y + 25, steps=4)
    board.page.mouse.up()
    wait_until(lambda: any(hold.get("aside") for hold in board.shape["holds"]))
    board.page.reload()
    expect(board.paper).to_have_attribute("aria-busy", "false")
    (aside,) = [hold["aside"] for hold in board.shape["holds"] if hold.get("aside")]
    assert_close(aside, (60 * scale, -25 * scale), within=0.3 * scale + 0.02)
    # pressed, not pulled, it is still typed into
    label.click()
    board.page.keyboard.type("44")
    board.page.keyboard.press("Enter")
    board.until_area(44 * 20)
    assert [hold.get("aside") for hold in board.shape["holds"] if hold.get("aside")] == [aside]


def test_a_moulding_by_keyboard_alone(board: Board) -> None:
    """Three steps by lengths and arrows, back to where it began; then two edges are rounded and one is cut off, reached by their names."""
    board.page.mouse.move(5, 5)
    keys(board, "l", "0", "<Tab>", "0")
    placed(board)
    for length, way in ((60, "Right"), (10, "Up"), (15, "Left"), (8, "Up"), (20, "Left"), (6, "Up"), (25, "Left"), (24, "Down")):
        before = board.floor.revision
        keys(board, str(length), f"<Arrow{way}>")
        wait_until(lambda before=before: board.floor.revision > before)
        board.settle(before)
    board.until_area(1110)
    assert len(board.shape["points"]) == 8
    keys(board, "<Escape>", "<Escape>")
    for tool, size, at in (("<Shift+f>", "3", (60, 10)), ("<Shift+f>", "3", (45, 18)), ("<Shift+c>", "2", (0, 24))):
        point = next(p for p, place in board.shape["points"].items() if abs(place[0] - at[0]) + abs(place[1] - at[1]) < 1e-6)
        name = board.called(point)
        for _ in range(40):
            keys(board, "<PageDown>")
            if board.page.get_by_role("status", name="Picked").inner_text() == name:
                break
        keys(board, tool, size)
        taken(board)
        keys(board, "<Escape>", "<Escape>", "<Escape>")
    board.until_area(1110 - 2 * 9 * (1 - pi / 4) - 2)
    expect(board.page.get_by_test_id("freedoms")).to_have_text("Fully held")
