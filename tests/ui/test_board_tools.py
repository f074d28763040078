"""The tools of the board one by one, by mouse and keyboard; what they make is measured by the core."""

from __future__ import annotations

from math import pi
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.app.server import wait_until
from tests.ui.board import Board
from tests.ui.floor import Floor


@pytest.fixture
def board(floor: Floor) -> Board:
    return Board(floor, "section-8", blank=True)


def rectangle(board: Board) -> None:
    """60 x 40 about the middle of the sheet."""
    board.tool("Rectangle")
    board.click((-30, -20))
    board.type_number("Width", "60")
    board.type_number("Depth", "40")
    board.click((30, 20))
    board.until_area(2400)


@pytest.mark.parametrize(
    ("tool", "numbers", "places", "area"),
    [
        ("Circle", {"Diameter": "36"}, [(4, 6), (20, 6)], pi * 18**2),
        ("Ellipse", {"Width": "50", "Depth": "20"}, [(0, 0), (20, 10)], pi * 250),
        ("Polygon", {"Sides": "8", "Across corners": "40"}, [(0, 0), (20, 0)], 2 * 2**0.5 * 400),
    ],
)
def test_closed_shapes_are_drawn_to_numbers(board: Board, tool: str, numbers: dict[str, str], places: list, area: float) -> None:
    board.tool(tool)
    board.click(places[0])
    for title, text in numbers.items():
        board.type_number(title, text)
    board.click(places[1])
    board.until_area(area, within=1e-3)


def test_arcs_and_lines_make_a_half_disc(board: Board) -> None:
    board.tool("Line")
    board.click((-20, 0), (20, 0))
    board.tool("Arc by centre")
    board.click((0, 0), (20, 0), (-20, 0))
    board.until_area(pi * 200, within=1e-3)
    middle = board.shape["holds"]
    assert any(h["type"] == "midpoint" for h in middle), "the centre was met at the middle of the line, and stays there"
    board.tool("Pull and pick")
    board.pull((20, 0), (26, 0))
    wait_until(lambda: board.area > pi * 200 + 50)


def test_a_spline_by_its_controls_and_a_free_point(board: Board) -> None:
    board.tool("Control spline")
    board.click((-20, 0), (-10, 20), (10, 20), (20, 0))
    board.page.keyboard.press("Enter")
    wait_until(lambda: [c["type"] for c in board.shape["curves"]] == ["poles"])
    board.tool("Line")
    board.click((20, 0), (-20, 0))
    # a cubic over its control polygon: three fifths of 20 x 20, and what the slanted sides add
    wait_until(lambda: board.area > 300)
    board.tool("Point")
    board.click((0, -14))
    assert len(board.shape["points"]) == 5


def test_corners_are_cut_off_lines_trimmed_extended_and_split(board: Board) -> None:
    rectangle(board)
    board.tool("Chamfer")
    board.type_number("Length", "8")
    board.click((30, 20))
    board.until_area(2400 - 32)
    board.tool("Line")
    board.click((-10, -30), (-10, 30))
    board.tool("Trim")
    board.click((-20, -20), (-20, 20), (-30, 0), free=True)
    board.until_area(40 * 40 - 32, within=1e-6)
    assert len(board.shape["curves"]) == 5
    board.tool("Split")
    board.type_number("Equal pieces", "4")
    board.click((30, -5), free=True)
    wait_until(lambda: len(board.shape["curves"]) == 8)
    expect(board.finding("needless-split")).to_have_count(0)
    board.until_area(40 * 40 - 32)


def test_an_extended_line_meets_what_is_in_its_way(board: Board) -> None:
    board.tool("Line")
    board.click((-20, -10), (-6, -4))
    board.tool("Pull and pick")
    board.tool("Line")
    board.click((20, -30), (20, 30))
    board.tool("Extend")
    board.click((-8, -4), free=True)
    wait_until(lambda: any(h["type"] == "on-curve" for h in board.shape["holds"]))
    assert any(abs(x - 20) < 1e-9 and abs(y - 50 / 7) < 1e-6 for x, y in board.shape["points"].values())


def test_a_chain_is_offset_and_stays_linked(board: Board) -> None:
    rectangle(board)
    sides = [c["id"] for c in board.shape["curves"]]
    board.tool("Offset")
    board.type_number("Distance", "5")
    before = board.floor.revision
    board.pick(sides[0])
    wait_until(lambda: board.floor.revision > before)
    expect(board.finding("which-region")).to_be_visible()
    board.repair("which-region", "Turn the lines inside into construction")
    board.until_area(70 * 50)
    label = board.page.get_by_role("button", name=f"Length of {board.called(sides[0])},")
    label.click()
    board.page.keyboard.type("2 in")
    board.page.keyboard.press("Enter")
    board.until_area((50.8 + 10) * 50)


def test_what_is_taken_away_comes_back_with_undo(board: Board) -> None:
    rectangle(board)
    board.tool("Pull and pick")
    board.pick(board.shape["curves"][1]["id"])
    before = board.floor.revision
    board.page.keyboard.press("Delete")
    wait_until(lambda: board.floor.revision > before)
    expect(board.finding("open-outline")).to_be_visible()
    board.page.keyboard.press("Control+z")
    board.until_area(2400)


def test_the_sheet_is_moved_scaled_and_looked_at_from_behind(board: Board) -> None:
    rectangle(board)
    board.tool("Pull and pick")
    revision = board.floor.revision
    start = (board.paper.get_attribute("data-look") or "").split()
    x, y = board.on_screen((0, 0))
    board.page.mouse.move(x, y)
    board.page.mouse.wheel(0, -400)
    wait_until(lambda: float((board.paper.get_attribute("data-look") or "").split()[2]) < float(start[2]) * 0.7)
    moved = (board.paper.get_attribute("data-look") or "").split()
    board.page.mouse.down(button="right")
    board.page.mouse.move(x + 60, y + 30, steps=4)
    board.page.mouse.up(button="right")
    wait_until(lambda: (board.paper.get_attribute("data-look") or "").split()[0] != moved[0])
    corner = board.page.locator("[data-point] circle").first
    before = corner.bounding_box()
    board.page.get_by_role("button", name="From the other side").click()
    after = corner.bounding_box()
    assert before is not None
    assert after is not None
    middle = board.paper.bounding_box()
    assert middle is not None
    center = middle["x"] + middle["width"] / 2
    assert abs((before["x"] + before["width"] / 2 - center) + (after["x"] + after["width"] / 2 - center)) < 1.5
    assert board.floor.revision == revision, "looking changes nothing"


@pytest.mark.parametrize(("ending", "words"), [("DXF", b"LINE"), ("SVG", b"<path")])
def test_the_drawing_is_saved_to_a_file(board: Board, ending: str, words: bytes) -> None:
    rectangle(board)
    with board.page.expect_download() as download:
        board.page.get_by_role("button", name=f"Save as {ending}").click()
    assert download.value.suggested_filename == f"Shoulder.{ending.lower()}"
    assert words in Path(download.value.path()).read_bytes()


def test_what_can_not_be_done_is_said_and_nothing_is_lost(board: Board) -> None:
    rectangle(board)
    revision = board.floor.revision
    board.tool("Fillet")
    board.type_number("Radius", "50")
    board.click((30, 20))
    expect(board.page.get_by_text("does not fit")).to_be_visible()
    assert board.floor.revision == revision
    board.type_number("Radius", "5")
    board.click((-30, 20))
    board.until_area(2400 - 25 * (1 - pi / 4))
