"""What the hand does on the board and what it is shown: the ghost is the shape, two clicks end a curve, what is dropped on something stays there."""

from __future__ import annotations

import json
from math import atan2, degrees
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.app.server import wait_until
from tests.closeness import assert_close
from tests.ui.board import Board, Place
from tests.ui.floor import Floor

HAND = [(-24, -10), (-8, 14), (12, 6), (26, -12)]


@pytest.fixture
def board(floor: Floor) -> Board:
    return Board(floor, "section-8", blank=True)


def along(board: Board, path: str) -> np.ndarray:
    return board.along(path, 240)


def ghost(board: Board, pointer: Place) -> np.ndarray:
    x, y = board.on_screen(pointer)
    board.page.mouse.move(x - 3, y - 2)
    board.page.mouse.move(x, y)
    return along(board, board.page.get_by_test_id("ghost").get_attribute("d") or "")


def made(board: Board, kind: str) -> np.ndarray:
    """Places along all curves of a kind as the core draws them."""
    wait_until(lambda: any(c["type"] == kind for c in board.shape["curves"]))
    ids = [c["id"] for c in board.shape["curves"] if c["type"] == kind]
    paths = [board.page.locator(f'[data-curve="{i}"] path').last.get_attribute("d") or "" for i in ids]
    return np.concatenate([along(board, path) for path in paths])


def furthest(a: np.ndarray, b: np.ndarray) -> float:
    """How far one row of places is from the other, either way, mm; both are half a mm dense."""
    apart = np.linalg.norm(a[:, None] - b[None], axis=2)
    return float(max(apart.min(axis=0).max(), apart.min(axis=1).max()))


@pytest.mark.parametrize(
    ("tool", "numbers", "places", "kind"),
    [
        ("Line", {"Length": "30", "Angle": "40"}, [(-10, -10), (10, -10)], "line"),
        ("Arc by centre", {}, [(0, 0), (16, 0), (-9, 12)], "arc"),
        ("Arc by centre", {"Radius": "12"}, [(0, 0), (16, 0), (0, -20)], "arc"),
        ("Arc by three", {}, [(-20, 0), (14, 0), (2, 18)], "arc"),
        ("Ellipse", {"Width": "40"}, [(0, 0), (14, 9)], "ellipse"),
        ("Polygon", {"Sides": "5", "Across corners": "36"}, [(0, 0), (10, 6)], "line"),
        ("Spline", {}, HAND, "spline"),
        ("Control spline", {}, [*HAND, (34, 8)], "poles"),
    ],
)
def test_what_is_shown_before_is_what_is_drawn(board: Board, tool: str, numbers: dict[str, str], places: list[Place], kind: str) -> None:
    board.tool(tool)
    board.click(*places[:-1])
    for title, text in numbers.items():
        board.type_number(title, text)
    expect(board.page.get_by_test_id("ghost")).to_have_attribute("data-numbers", str(len(numbers)))
    shown = ghost(board, places[-1])
    board.click(places[-1])
    if kind in ("spline", "poles"):
        board.page.keyboard.press("Enter")
    assert furthest(shown, made(board, kind)) < 0.6


@pytest.mark.parametrize("text", ["1.5", "38.1 mm", "3/2"])
def test_a_number_in_digits_needs_no_answer_and_means_what_all_others_do(board: Board, text: str) -> None:
    board.floor.edit({"do": "set-unit", "unit": "in"})
    asked: list[str] = []
    board.page.on("request", lambda request: asked.append(request.url) if "/worth" in request.url else None)
    board.tool("Line")
    board.click((-10, -10))
    board.type_number("Length", text)
    expect(board.page.get_by_test_id("ghost")).to_have_attribute("data-numbers", "1")
    shown = ghost(board, (10, -10))
    assert_close(np.linalg.norm(shown[-1] - shown[0]), 38.1, within=1e-6)
    assert (not asked) == (text == "1.5")
    board.click((10, -10))
    assert furthest(shown, made(board, "line")) < 0.05


def test_a_closed_spline_is_shown_closed_before_it_is(board: Board) -> None:
    board.tool("Spline")
    board.click(*HAND)
    shown = ghost(board, HAND[0])
    board.click(HAND[0])
    assert furthest(shown, made(board, "spline")) < 0.6
    assert board.shape["curves"][0]["closed"]


def test_a_spline_that_has_come_back_to_where_it_began_is_not_shown_closed_by_that(board: Board) -> None:
    """A further click there would be none."""
    board.tool("Spline")
    board.click(HAND[0], HAND[1], HAND[0])
    shown = ghost(board, HAND[0])
    board.page.keyboard.press("Enter")
    assert furthest(shown, made(board, "spline")) < 0.6
    assert not board.shape["curves"][0].get("closed")


def test_two_clicks_end_a_spline_at_the_place_of_the_first(board: Board) -> None:
    board.tool("Spline")
    board.click(*HAND[:-1])
    board.page.mouse.dblclick(*board.on_screen(HAND[-1]))
    drawn = made(board, "spline")
    points = board.shape["points"]
    assert_close(sorted(points.values()), sorted([float(x), float(y)] for x, y in HAND), within=1e-6)
    assert np.ptp(drawn[:, 0]) > 40


def test_a_point_dropped_on_another_is_one_with_it(board: Board) -> None:
    board.tool("Line")
    board.click((-20, -10), (10, -10))
    board.page.keyboard.press("Enter")
    board.click((24, 8), (0, 20))
    board.tool("Pull and pick")
    board.pull((24, 8), (10, -10))
    wait_until(lambda: len(board.shape["points"]) == 3)
    first, second = board.shape["curves"]
    assert second["start"] == first["end"]
    before = board.floor.revision
    board.page.keyboard.press("Control+z")
    wait_until(lambda: board.floor.revision != before)
    assert len(board.shape["points"]) == 4, "one undo takes the move and the joining back"


def test_a_point_dropped_on_a_line_stays_on_it(board: Board) -> None:
    board.tool("Line")
    board.click((-20, -10), (20, -10))
    board.page.keyboard.press("Enter")
    board.click((-6, 16), (10, 22))
    board.tool("Pull and pick")
    board.pull((-6, 16), (-8, -10))
    wait_until(lambda: [h["type"] for h in board.shape["holds"] if h["type"] != "horizontal"] == ["on-curve"])
    assert_close(board.shape["points"][board.shape["curves"][1]["start"]], (-8, -10), within=0.05)


def test_a_typed_angle_is_held(board: Board) -> None:
    board.tool("Line")
    board.click((2, -4))
    board.type_number("Angle", "35")
    board.click((20, 20))
    wait_until(lambda: [h["type"] for h in board.shape["holds"]] == ["angle"])
    board.page.keyboard.press("Escape")
    board.tool("Pull and pick")
    end = board.shape["points"]["p2"]
    board.pull((end[0], end[1]), (30, -12))
    wait_until(lambda: board.shape["points"]["p2"] != end)
    (ax, ay), (bx, by) = (board.shape["points"][p] for p in ("p1", "p2"))
    assert_close(degrees(atan2(by - ay, bx - ax)) % 180, 35.0, within=1e-4)


def test_a_foil_of_no_size_asks_for_its_chord_and_numbers_in_dialogs_are_like_all_numbers(board: Board, tmp_path: Path) -> None:
    turn = np.linspace(0, 2 * np.pi, 41)
    lines = [f"{(1 + np.cos(t)) / 2:.6f} {0.06 * np.sin(t) * (1 + 0.4 * np.cos(t)):.6f}" for t in turn]
    file = tmp_path / "blade.dat"
    file.write_text("A blade, made up\n" + "\n".join(lines))
    page = board.page
    page.get_by_role("button", name="Bring in").click()
    page.get_by_role("dialog").get_by_test_id("curve-file").set_input_files(file)
    card = page.get_by_role("region", name="Bringing in")
    take = card.get_by_role("button", name="Take it")
    expect(card).to_contain_text("chord of 1")
    expect(take).to_be_disabled()
    card.get_by_label("Chord (mm)").fill("2 in")
    expect(take).to_be_enabled()
    card.get_by_label("x (mm)").fill("3 kg")
    expect(card.get_by_role("alert")).to_contain_text("kg")
    expect(take).to_be_disabled()
    card.get_by_label("x (mm)").fill("1 cm + 2,5 mm")
    expect(take).to_be_enabled()
    take.click()
    wait_until(lambda: len(board.shape["points"]) > 4)
    across = [x for x, _ in board.shape["points"].values()]
    assert_close((min(across), max(across)), (12.5, 12.5 + 50.8), within=0.05)


def test_what_is_wrong_is_marked_on_the_sheet(board: Board) -> None:
    """A chain of lines that ends 0.4 mm beside where it began."""
    places = {"p1": (-20, -10), "p2": (20, -10), "p3": (20, 12), "p4": (-20, 12), "p5": (-20, -9.6)}
    lines = [{"id": f"c{i}", "type": "line", "start": f"p{i}", "end": f"p{i + 1}"} for i in range(1, 5)]
    shape = {"type": "drawing", "points": places, "curves": lines, "next": 6}
    board.floor.edit({"do": "set-param", "step": "section-8", "path": ["shape"], "value": shape})
    gap = board.finding("gap")
    expect(gap).to_be_visible()
    marks = board.page.get_by_test_id("wrong-place")
    wait_until(lambda: marks.count() >= 1)
    boxes = [marks.nth(i).bounding_box() for i in range(marks.count())]
    x, y = board.on_screen((-20, -9.8))
    assert any(box is not None and abs(box["x"] + box["width"] / 2 - x) < 4 and abs(box["y"] + box["height"] / 2 - y) < 4 for box in boxes)
    gap.get_by_role("button").first.click()
    expect(gap).to_have_count(0)
    expect(marks).to_have_count(0)


def test_the_view_goes_near_to_what_is_selected(floor: Floor) -> None:
    def away() -> float:
        told = floor.page.evaluate(f"sessionStorage.getItem('wander/place/{floor.design}')")
        view = json.loads(told or "{}").get("view")
        return float(np.linalg.norm(np.subtract(view["position"], view["target"]))) if view else 0.0

    floor.page.keyboard.press("0")
    wait_until(lambda: away() > 0)
    far = floor.at_rest("0") or away()
    floor.select("section-12")
    floor.page.keyboard.press("9")
    wait_until(lambda: away() < 0.6 * (far or 1e9))
