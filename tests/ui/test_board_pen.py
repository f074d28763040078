"""The quick hand on the board: numbers typed where it draws, strokes, lines pulled as lines, boxes and chains, all of it by keyboard too."""

from __future__ import annotations

import re
from math import cos, hypot, pi, radians, sin

import pytest
from playwright.sync_api import expect

from tests.app.server import wait_until
from tests.closeness import assert_close
from tests.ui.board import Board
from tests.ui.floor import Floor


@pytest.fixture
def board(floor: Floor) -> Board:
    return Board(floor, "section-8", blank=True)


def keys(board: Board, *words: str) -> None:
    """Typed one after the other: what stands in angle brackets is one key."""
    for word in words:
        if word.startswith("<"):
            board.page.keyboard.press(word[1:-1])
        else:
            board.page.keyboard.type(word)


def taken(board: Board) -> None:
    """What was typed is typed in; it is taken, and the page has caught up."""
    before = board.floor.revision
    board.page.keyboard.press("Enter")
    wait_until(lambda: board.floor.revision > before)
    board.settle(before)


def placed(board: Board) -> None:
    """A place was typed in for a tool that wants more."""
    board.page.keyboard.press("Enter")
    field = board.page.get_by_label("Tool", exact=True).get_by_label("x", exact=True)
    expect(field).to_have_value("")
    expect(board.paper).to_have_attribute("aria-busy", "false")


def square(board: Board, *, low: float = -20, high: float = 20) -> None:
    board.tool("Rectangle")
    board.click((low, low), (high, high))
    board.tool("Pull and pick")
    board.until_area((high - low) ** 2)


def curves(board: Board, kind: str) -> list[str]:
    return [curve["id"] for curve in board.shape["curves"] if curve["type"] == kind]


def picked(board: Board) -> str:
    return board.page.get_by_role("status", name="Picked").inner_text()


def test_digits_go_to_the_number_that_the_tool_is_ready_for(board: Board) -> None:
    keys(board, "l")
    board.click((-20, -10))
    keys(board, "32", "<Tab>", "30")
    taken(board)
    (line,) = board.shape["curves"]
    start, end = (board.shape["points"][line[side]] for side in ("start", "end"))
    assert_close(start, (-20, -10), within=1e-9)
    assert_close(end, (-20 + 32 * cos(radians(30)), -10 + 32 * sin(radians(30))), within=1e-9)
    assert {hold["type"]: float(hold["value"]) for hold in board.shape["holds"]} == {"length": 32, "angle": 30}
    # the chain goes on, and the next digits go to its length again
    keys(board, "10", "<Tab>", "<Tab>", "<Tab>", "<Tab>")
    assert board.page.evaluate("document.activeElement.dataset.field") == "length"
    # one thing back at a time: the number, the chain, the tool
    for left in ("Line", "Line", "Line"):
        expect(board.page.get_by_label("Tool", exact=True)).to_contain_text(left)
        keys(board, "<Escape>")
    expect(board.page.get_by_label("Tool", exact=True)).to_have_count(0)


def test_a_stroke_draws_from_where_it_begins_to_where_it_ends(board: Board) -> None:
    keys(board, "r")
    board.pull((-14, -6), (16, 10))
    board.until_area(30 * 16)
    keys(board, "c")
    board.pull((0, 0), (4, 0))
    wait_until(lambda: len(curves(board, "circle")) == 1)
    assert_close(next(c["radius"] for c in board.shape["curves"] if c["type"] == "circle"), 4.0, within=1e-6)


def test_a_line_is_pulled_as_a_line_and_escape_puts_it_back(board: Board) -> None:
    square(board)
    before, drawn = board.floor.revision, board.lines
    board.pull((7, -20), (7, -30), release=False)
    wait_until(lambda: board.lines != drawn)
    keys(board, "<Escape>")
    board.page.mouse.up()
    # what is pulled next is where it was
    wait_until(lambda: board.lines == drawn)
    assert board.floor.revision == before
    board.until_area(40 * 40)
    board.pull((7, -20), (7, -30))
    board.until_area(40 * 50)
    points = board.shape["points"].values()
    assert sorted({y for _, y in points}) == pytest.approx([-30, 20])


def test_what_is_drawn_round_is_picked_and_pulled_together(board: Board) -> None:
    square(board, low=-30, high=-10)
    board.tool("Circle")
    board.click((16, 8), (20, 8))
    board.tool("Pull and pick")
    board.pull((-34, -34), (-6, -6))
    expect(board.page.get_by_role("status", name="Picked")).to_have_text("line 1 and line 2 and line 3 and line 4")
    # a box that cuts a line leaves it out
    board.pull((-34, -34), (-20, -6))
    expect(board.page.get_by_role("status", name="Picked")).to_have_text("line 4")
    board.page.keyboard.down("Shift")
    board.pull((10, 2), (24, 14))
    board.page.keyboard.up("Shift")
    expect(board.page.get_by_role("status", name="Picked")).to_have_text("line 4 and circle 1")
    keys(board, "<Control+a>")
    wait_until(lambda: picked(board).count("and") == 4)
    board.pull((-20, -30), (-16, -20))
    wait_until(lambda: sorted({round(x, 6) for x, _ in board.shape["points"].values()}) == [-26, -6, 20])
    assert sorted({round(y, 6) for _, y in board.shape["points"].values()}) == [-20, 0, 18]
    # two clicks pick the chain
    x, y = board.on_screen((-16, -20))
    board.page.mouse.dblclick(x, y)
    expect(board.page.get_by_role("status", name="Picked")).to_have_text("line 1 and line 2 and line 3 and line 4")


def test_arrows_nudge_by_the_grid(board: Board) -> None:
    square(board)
    step = float(board.page.get_by_text(re.compile("^grid ")).inner_text().split()[1])
    keys(board, "<Control+a>")
    for key, moved in (("<ArrowRight>", (step, 0.0)), ("<Shift+ArrowUp>", (step, 5 * step))):
        keys(board, key)
        wait_until(lambda moved=moved: min(board.shape["points"].values()) == pytest.approx([-20 + moved[0], -20 + moved[1]]))


def test_a_slot_by_keyboard_alone(board: Board) -> None:
    """Its centres by place and by distance, its width by number; then its parts are gone through by name, and one is taken away."""
    board.page.mouse.move(5, 5)
    keys(board, "s", "-15", "<Tab>", "0")
    placed(board)
    keys(board, "30")
    placed(board)
    keys(board, "12")
    taken(board)
    board.until_area(36 * pi + 360)
    expect(board.page.get_by_test_id("freedoms")).to_have_text("Fully held")
    keys(board, "<Escape>", "<PageDown>")
    expect(board.page.get_by_role("status", name="Picked")).to_have_text("line 1")
    keys(board, "<PageDown>", "<PageDown>")
    expect(board.page.get_by_role("status", name="Picked")).to_have_text("arc 1")
    keys(board, "<PageUp>", "<Delete>")
    wait_until(lambda: len(curves(board, "line")) == 1)


@pytest.mark.parametrize(
    ("letter", "picks", "numbers", "area"),
    [
        ("m", [(4, 2)], ["40", "<Tab>", "24"], 40 * 24),
        ("u", [(-20, -15), (20, 15)], ["6"], 40 * 30 - (4 - pi) * 36),
        ("e", [(0, 0)], ["40", "<Tab>", "24"], pi * 20 * 12),
        ("p", [], ["6", "<Tab>", "0", "<Tab>", "0", "<Enter>", "30"], 1.5 * 3**0.5 * 225),
    ],
    ids=["centred", "rounded", "ellipse", "polygon"],
)
def test_what_is_typed_is_as_large_and_held(board: Board, letter: str, picks: list[tuple[float, float]], numbers: list[str], area: float) -> None:
    keys(board, letter)
    board.click(*picks)
    keys(board, *numbers)
    taken(board)
    board.until_area(area, within=1e-3 * area)
    # what is held by numbers stays as large, wherever it is pulled
    point = next(iter(board.shape["points"]))
    before = board.floor.revision
    act = {"act": "pull", "points": {point: [7.0, 11.0]}}
    board.floor.server.edit(board.floor.design, before, {"do": "draw", "step": board.section, "acts": [act]})
    wait_until(lambda: board.floor.revision > before)
    if letter != "u":
        board.until_area(area, within=1e-3 * area)
    else:
        assert [float(hold["value"]) for hold in board.shape["holds"] if hold["type"] == "radius"] == [6]


def test_a_hook_of_arcs_that_go_on(board: Board) -> None:
    """From a line of 20 half a turn to the left of 10, and half a turn to the right of 5 beyond it: tangent all along, of these radii."""
    board.tool("Line")
    board.click((-20, 0), (0, 0))
    keys(board, "<Escape>", "k")
    board.click((0, 0), (0, 20))
    wait_until(lambda: len(curves(board, "arc")) == 1)
    board.click((0, 30))
    wait_until(lambda: len(curves(board, "arc")) == 2)
    points = board.shape["points"]
    arcs = [curve for curve in board.shape["curves"] if curve["type"] == "arc"]
    assert_close([points[arc["center"]] for arc in arcs], [(0, 10), (0, 25)], within=1e-6)
    assert (points[arcs[0]["start"]], points[arcs[0]["end"]]) == ([0.0, 0.0], [0.0, 20.0])
    # from the left it comes back to the right: drawn the other way round
    assert (points[arcs[1]["start"]], points[arcs[1]["end"]]) == ([0.0, 30.0], [0.0, 20.0])
    assert sum(hold["type"] == "tangent" for hold in board.shape["holds"]) == 2
    # a typed radius is held, its end where it is seen from the hand
    keys(board, "4")
    x, y = board.on_screen((10, 40))
    board.page.mouse.move(x, y)
    before = board.floor.revision
    board.page.mouse.click(x, y)
    wait_until(lambda: board.floor.revision > before)
    assert [float(hold["value"]) for hold in board.shape["holds"] if hold["type"] == "radius"] == [4]


def test_an_offset_is_pulled_out_of_what_it_follows(board: Board) -> None:
    """Of a closed chain outwards and inwards, of a circle; what is let go where it began makes nothing."""
    square(board)
    board.tool("Offset")
    before = board.floor.revision
    board.pull((7, -20), (7, -26), release=False)
    wait_until(lambda: board.paper.locator("[data-curve]").count() == 8)
    keys(board, "<Escape>")
    board.page.mouse.up()
    board.settle(before)
    assert board.floor.revision == before
    for to, distance in (((7, -26), 6.0), ((7, -14), -6.0)):
        board.pull((7, -20), to)
        wait_until(lambda before=before: board.floor.revision > before)
        board.settle(before)
        lengths = sorted(span(board, line) for line in curves(board, "line"))
        assert_close(lengths, sorted([40.0] * 4 + [40 + 2 * distance] * 4), within=1e-6)
        assert {abs(hold["value"]) for hold in board.shape["holds"] if hold["type"] == "distance"} == {6}
        keys(board, "<Control+z>")
        wait_until(lambda: len(board.shape["curves"]) == 4)
        before = board.floor.revision
        board.settle(before)


def span(board: Board, line: str) -> float:
    curve = next(c for c in board.shape["curves"] if c["id"] == line)
    (ax, ay), (bx, by) = (board.shape["points"][curve[end]] for end in ("start", "end"))
    return hypot(bx - ax, by - ay)


def test_what_is_placed_on_the_origin_stays_there(board: Board) -> None:
    keys(board, "c")
    board.click((0, 0))
    keys(board, "30")
    taken(board)
    board.until_area(225 * pi)
    expect(board.page.get_by_test_id("freedoms")).to_have_text("Fully held")
    # what was drawn elsewhere is dropped there
    keys(board, "<Escape>", "l")
    board.click((-24, 20), (24, 20))
    keys(board, "<Escape>", "<Escape>", "d")
    board.pick(*curves(board, "circle"))
    keys(board, "<Delete>")
    wait_until(lambda: not curves(board, "circle"))
    before = board.floor.revision
    board.pull((-24, 20), (0, 0))
    wait_until(lambda: board.floor.revision > before)
    ((fixed,),) = [hold["of"] for hold in board.shape["holds"] if hold["type"] == "fixed"]
    assert_close(board.shape["points"][fixed], (0, 0), within=1e-9)


def test_a_neighbour_is_met_all_along(floor: Floor) -> None:
    """Between the points that its outline is shown by too; what it is called is said."""
    board = Board(floor, "section-8")
    keys(board, "i")
    at = (17.5 * cos(1.03), 17.5 * sin(1.03))
    board.click((at[0] + 0.25, at[1] + 0.1), free=True)
    expect(board.paper.get_by_text("on Throat")).to_be_visible()
    wait_until(lambda: board.shape.get("type") == "drawing")
    placed_at = next(reversed(board.shape["points"].values()))
    assert_close(hypot(*placed_at), 17.5, within=0.02)


def test_what_is_picked_is_measured_without_being_held(board: Board) -> None:
    board.tool("Line")
    board.click((-30, -10), (10, 20))
    board.page.keyboard.press("Enter")
    board.tool("Circle")
    board.click((30, 20), (36, 20))
    board.tool("Pull and pick")
    line, ring = (curve["id"] for curve in board.shape["curves"])
    holds = board.shape["holds"]

    def number(title: str) -> float:
        found = re.search(r"-?[\d.]+", board.button(title).inner_text().removeprefix(title))
        assert found is not None
        return float(found[0])

    board.pick(line)
    expect(board.button("Length")).to_have_text(re.compile(r"Length\s*50$"))
    assert_close((number("Distance across"), number("Distance up")), (40, 30), within=0.01)
    assert number("Angle") == pytest.approx(36.87, abs=0.01)
    board.pick(ring)
    expect(board.button("Diameter")).to_have_text(re.compile(r"Diameter\s*12$"))
    expect(board.page.get_by_role("group", name="Picked")).to_contain_text("37.7 mm")
    # they go along with what is drawn, and none of them holds it
    board.pull((30, 20), (40, 20))
    board.pick(line)
    end = next(curve["end"] for curve in board.shape["curves"] if curve["id"] == line)
    board.pick(end, next(curve["center"] for curve in board.shape["curves"] if curve["id"] == ring))
    expect(board.button("Distance")).to_have_text(re.compile(r"Distance\s*30$"))
    assert board.shape["holds"] == holds
    board.act("Distance")
    wait_until(lambda: len(board.shape["holds"]) == len(holds) + 1)
    assert board.shape["holds"][-1]["value"] == pytest.approx(30)
