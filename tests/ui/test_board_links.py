"""Places that are met while drawing, things that are pulled and stretched, and links that are let go."""

from __future__ import annotations

import re
from math import hypot, pi

import pytest
from playwright.sync_api import expect

from tests.app.server import wait_until
from tests.closeness import assert_close
from tests.ui.board import Board
from tests.ui.floor import Floor


@pytest.fixture
def board(floor: Floor) -> Board:
    return Board(floor, "section-8", blank=True)


def holds(board: Board, kind: str) -> list[list[str]]:
    return [hold["of"] for hold in board.shape["holds"] if hold["type"] == kind]


def click_crossing(board: Board, place: tuple[float, float]) -> None:
    """Click where the sheet says that curves cross, as soon as it does: crossings come from the core with the drawing."""
    x, y = board.on_screen(place)
    board.page.keyboard.down("Alt")

    def told() -> bool:
        for off in (1, 0):
            board.page.mouse.move(x - off, y)
        return board.paper.get_by_text("crossing", exact=True).count() == 1

    wait_until(told)
    board.page.mouse.click(x, y)
    board.page.keyboard.up("Alt")


def test_a_point_at_a_crossing_is_held_on_both_lines(board: Board) -> None:
    board.tool("Line")
    board.click((-30, -20), (30, 25))
    board.page.keyboard.press("Escape")
    board.tool("Line")
    board.click((-30, 20), (30, -15))
    board.page.keyboard.press("Escape")
    lines = [curve["id"] for curve in board.shape["curves"]]
    board.tool("Point")
    # the lines cross at about (-1.9, 1.1): between the grid and the pointer it is the crossing that counts
    x = -30 + 40 / (45 / 60 + 35 / 60)
    click_crossing(board, (x + 0.4, -20 + (x + 30) * 0.75 - 0.4))
    wait_until(lambda: sorted(of[1] for of in holds(board, "on-curve")) == sorted(lines))


def test_a_point_at_the_crossing_of_a_spline_and_a_construction_line_is_held_on_both(board: Board) -> None:
    board.tool("Spline")
    board.click((-30, -12), (-10, 14), (12, -6), (30, 16))
    board.page.keyboard.press("Enter")
    board.tool("Pull and pick")
    board.tool("Line")
    board.click((-34, 3), (34, 3))
    board.page.keyboard.press("Escape")
    spline, line = (curve["id"] for curve in board.shape["curves"])
    board.tool("Pull and pick")
    board.pick(line)
    board.act("Construction")
    drawing = board.snapshot()["section-8"]["summary"]["drawing"]
    x, y = drawing["crossings"][0]["at"]
    board.tool("Point")
    click_crossing(board, (x + 0.4, y - 0.4))
    wait_until(lambda: sorted(of[1] for of in holds(board, "on-curve")) == sorted([spline, line]))


def test_a_line_that_ends_where_it_touches_a_circle_stays_tangent(board: Board) -> None:
    board.tool("Circle")
    board.click((0, 0), (12, 0))
    board.tool("Line")
    board.click((-40, 0))
    # seen from (-40, 0) the circle is touched at x = -r2 / 40
    touch = (-(12.0**2) / 40, hypot(12, 0) * (1 - (12 / 40) ** 2) ** 0.5)
    board.click((touch[0] + 0.3, touch[1] + 0.3), free=True)
    board.page.keyboard.press("Escape")
    wait_until(lambda: len(holds(board, "tangent")) == 1)
    end = board.shape["curves"][-1]["end"]
    assert_close(board.shape["points"][end], touch, within=1e-6)


def test_the_offset_of_a_closed_spline_follows_it_until_it_is_released(board: Board) -> None:
    board.tool("Spline")
    board.click((30, 0), (0, 24), (-30, 0), (0, -24), (30, 0))
    board.tool("Offset")
    board.type_number("Distance", "4")
    board.pick(board.shape["curves"][0]["id"])
    wait_until(lambda: len(board.shape["curves"]) == 2)
    board.tool("Pull and pick")
    offset = board.shape["curves"][1]
    assert offset["type"] == "beside"
    board.repair("which-region", "Turn the lines inside into construction")
    area = board.area
    # the number on the sheet is typed over, a point of the original is pulled: the outline follows both
    board.page.get_by_role("button", name=f"Distance of {board.called(offset['id'])},").click()
    board.page.keyboard.type("6")
    board.page.keyboard.press("Enter")
    wait_until(lambda: board.area > area + 200)
    grown = board.area
    board.pull((30, 0), (40, 0))
    wait_until(lambda: board.area > grown + 200)
    board.pick(offset["id"])
    board.page.get_by_role("group", name="Picked").get_by_role("button", name="Release").click()
    wait_until(lambda: {c["type"] for c in board.shape["curves"]} == {"spline"})
    free = board.area
    assert_close(free, grown, within=0.2 * grown)
    before = board.floor.revision
    board.pull((-30, 0), (-36, 0))
    wait_until(lambda: board.floor.revision > before)
    assert_close(board.area, free, within=0.01)


def test_a_typed_expression_steers_what_is_drawn(board: Board) -> None:
    board.tool("Line")
    board.click((-30, 0))
    board.type_number("Length", "neck + 2 * 3 mm")
    board.type_number("Angle", "360 deg / 12")
    board.page.wait_for_function("document.querySelector('[data-testid=ghost]')?.getTotalLength() > 39.9")
    long = board.page.evaluate("document.querySelector('[data-testid=ghost]').getTotalLength()")
    assert_close(long, 40.0, within=1e-3)
    board.click((20, 20))
    board.page.keyboard.press("Escape")
    line = board.shape["curves"][-1]
    (ax, ay), (bx, by) = (board.shape["points"][line[end]] for end in ("start", "end"))
    assert_close(hypot(bx - ax, by - ay), 40.0, within=1e-6)
    assert next(h["value"] for h in board.shape["holds"] if h["type"] == "length") == "neck + 2 * 3 mm"
    # what it comes to stands beside it on the sheet
    expect(board.page.get_by_role("button", name=re.compile("^Length of line"))).to_have_text("neck + 2 * 3 mm = 40")
    expect(board.page.get_by_role("button", name=re.compile("^Angle of line"))).to_have_text("360 deg / 12 = 30°")


def test_a_circle_is_pulled_by_its_line(board: Board) -> None:
    board.tool("Circle")
    board.click((0, 0), (20, 0))
    board.tool("Pull and pick")
    before = board.shape["curves"][0]["radius"]
    reach, further = before / 2**0.5, (before + 6) / 2**0.5
    board.pull((reach, reach), (further, further))
    wait_until(lambda: abs(board.shape["curves"][0]["radius"] - before - 6) < 0.8)
    radius = board.shape["curves"][0]["radius"]
    board.until_area(pi * radius**2, within=1e-2)


def test_a_click_into_an_area_makes_it_the_outline(board: Board) -> None:
    board.tool("Rectangle")
    board.click((-30, -20), (30, 20))
    board.tool("Line")
    board.click((-10, -20), (-10, 20))
    board.page.keyboard.press("Escape")
    board.tool("Pull and pick")
    expect(board.finding("which-region")).to_be_visible()
    board.click((10, 5))
    board.until_area(40 * 40)
    board.page.keyboard.down("Shift")
    board.click((-20, 5))
    board.page.keyboard.up("Shift")
    board.until_area(60 * 40)


def test_what_is_picked_is_stretched_about_a_place(board: Board) -> None:
    board.tool("Rectangle")
    board.click((-10, -20), (10, 20))
    board.until_area(800, within=1e-6)
    board.tool("Pull and pick")
    board.pick(*(curve["id"] for curve in board.shape["curves"]))
    side = board.page.get_by_label("Drawing", exact=True)
    side.get_by_text("Move, turn, scale, stretch").click()
    side.get_by_label("Across by").fill("1.5")
    side.get_by_label("About x").fill("-10")
    board.act("Move them")
    board.until_area(1200, within=1e-6)
    assert_close(sorted({round(x, 6) for x, _ in board.shape["points"].values()}), [-10, 20], within=1e-6)


def test_a_released_trace_follows_no_longer(floor: Floor) -> None:
    page = floor.page
    station = {"do": "add-step", "kind": "station", "name": "Collar", "params": {"plane": "top", "offset": 172.0}, "alias": "$s"}
    shape = {"do": "add-step", "kind": "section", "name": "Collar", "params": {"station": {"step": "$s"}, "shape": {"type": "drawing"}}}
    floor.edit(station, shape)
    edge = {"act": "add", "points": {}, "curves": [{"type": "trace", "of": {"step": "loft-13", "part": "ring:section-12"}, "id": "$t"}], "holds": []}
    section = floor.document["steps"][-1]["id"]
    floor.edit({"do": "draw", "step": section, "acts": [edge]})
    page.get_by_label("Build").get_by_role("button", name="Collar").last.click()
    page.get_by_role("button", name="Draw on the board").click()
    board = Board.opened(floor, section)
    board.until_area(pi * 17**2, within=0.1)
    board.pick(board.shape["curves"][0]["id"])
    board.act("Release")
    assert "trace" not in [curve["type"] for curve in board.shape["curves"]]
    floor.edit({"do": "set-dimension", "name": "neck", "value": 40.0})
    board.until_area(pi * 17**2, within=0.1)


def test_a_linked_copy_follows_its_original_until_it_is_released(floor: Floor) -> None:
    page = floor.page
    floor.settled()
    floor.select("section-12")
    page.get_by_label("Sheet").get_by_role("combobox", name="Linked copy").click()
    page.get_by_role("option", name="on a new station").click()
    sheet = page.get_by_label("Sheet")
    expect(sheet.get_by_role("button", name="Release from Mouth")).to_be_visible()

    def shown_area() -> str:
        return sheet.locator("dt", has_text="Area").locator("xpath=following-sibling::dd").inner_text()

    wait_until(lambda: shown_area() == f"{pi * 17**2 / 100:.2f} cm²")
    neck = page.get_by_label("neck", exact=True)
    neck.fill("30")
    neck.press("Enter")
    wait_until(lambda: shown_area() == f"{pi * 15**2 / 100:.2f} cm²")
    sheet.get_by_role("button", name="Release from Mouth").click()
    expect(sheet.get_by_role("button", name="Release from Mouth")).to_have_count(0)
    copy = floor.document["steps"]
    made = next(s for s in copy if s["name"] == "Mouth copy")
    assert made["params"]["shape"] == {"type": "circle", "diameter": "neck"}
