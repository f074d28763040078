"""A drawing that is pulled about: its lines come first and stay the newest, and what comes along with the hand is nothing to join to."""

from __future__ import annotations

import json
from functools import partial
from math import dist
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, WebSocketRoute, expect

from tests.app.server import Server, wait_until
from tests.closeness import assert_close
from tests.ui.board import Board, Place
from tests.ui.floor import Floor

SECTION = "section-8"


def drawn(floor: Floor, *acts: dict[str, Any]) -> None:
    floor.edit({"do": "draw", "step": SECTION, "acts": list(acts)})


def line(a: Place, b: Place) -> dict[str, Any]:
    return {"act": "add", "points": {"$a": list(a), "$b": list(b)}, "curves": [{"type": "line", "start": "$a", "end": "$b"}]}


def moves(board: Board, *places: Place) -> None:
    for place in places:
        board.page.mouse.move(*board.on_screen(place))


def middle(of: Locator) -> Place:
    box = of.bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def as_opened_anew(board: Board) -> list[str | None]:
    board.page.reload()
    again = Board.opened(board.floor, SECTION)
    wait_until(lambda: len(again.lines) > 0)
    return again.lines


@pytest.mark.own_page
def test_the_lines_of_a_newer_pull_stay_when_the_areas_of_an_older_one_come(page: Page, server: Server, samples: Path) -> None:
    late: list[tuple[int, Any]] = []
    newest: list[dict[str, Any]] = []
    slow = [True]

    def slowly(channel: WebSocketRoute) -> None:
        def heard(message: str | bytes) -> None:
            event = json.loads(message) if isinstance(message, str) else {}
            if event.get("type") == "penned":
                newest.append(event)
            if slow[0] and event.get("type") in ("step", "done") and event.get("preview"):
                late.append((event["preview"], partial(channel.send, message)))
            else:
                channel.send(message)

        channel.connect_to_server().on_message(heard)

    page.route_web_socket("**/live", slowly)
    floor = Floor(page, server, server.client.post("/api/designs/file", content=(samples / "tarn.json").read_bytes()).json()["id"])
    floor.open()
    board = Board(floor, SECTION, blank=True)
    drawn(floor, line((-20, -10), (20, -10)), line((-20, 6), (20, 6)))
    wait_until(lambda: len(board.lines) == 2)
    kept = board.lines
    moves(board, (-20, -10))
    page.mouse.down()

    def shown_at(x: float, y: float) -> bool:
        """The newest lines that were told have the point there, and are on the sheet. Asking the page lets it hear."""
        lines = board.lines
        return bool(newest) and newest[-1]["lines"]["points"]["p1"] == [x, y] and next(iter(newest[-1]["lines"]["paths"].values())) in lines

    for i in range(1, 5):
        moves(board, (-20 - 2 * i, -10 - 2 * i))
        wait_until(partial(shown_at, -20 - 2 * i, -10 - 2 * i))
    last = newest[-1]["preview"]
    # all that was pulled before is told now, and the lines stay where the hand is
    wait_until(lambda: bool(board.lines) and any(number < last for number, _ in late))
    there = board.lines
    for number, tell in late:
        if number < last:
            tell()
    board.settle(floor.revision)
    assert board.lines == there != kept
    slow[0] = False
    for _, tell in late:
        tell()
    page.mouse.up()
    wait_until(lambda: dist(board.shape["points"]["p1"], (-28, -18)) < 1e-6)
    expect(board.paper).to_have_attribute("aria-busy", "false")
    assert board.lines == there == as_opened_anew(board)


def test_a_pull_that_is_put_back_leaves_everything_as_it_was(floor: Floor) -> None:
    board = Board(floor, SECTION, blank=True)
    drawn(floor, line((-20, -10), (20, -10)), line((-20, 6), (20, 6)))
    wait_until(lambda: len(board.lines) == 2)
    kept, revision, ring = board.lines, floor.revision, board.paper.locator('circle[r="6"]')
    for _ in range(3):
        moves(board, (-20, -10))
        board.page.mouse.down()
        moves(board, (-22, -12), (-26, -15), (-28, -4))
        wait_until(lambda: board.lines != kept)
        # what is said of the place comes to where the hand is
        expect(ring).to_have_count(1)
        wait_until(lambda: dist(middle(ring), board.on_screen((-28, -4))) < 1)
        board.page.keyboard.press("Escape")
        wait_until(lambda: board.lines == kept)
        # what was pulled is back, and the hand is where it is
        expect(board.page.get_by_text("x -28 y -4")).to_be_visible()
        board.page.mouse.up()
    assert floor.revision == revision
    assert as_opened_anew(board) == kept


def test_what_comes_along_with_the_hand_is_nothing_to_join_to(floor: Floor) -> None:
    """The other end of a line of 0.4 mm is never further from the hand than what it would be joined to."""
    board = Board(floor, SECTION, blank=True)
    drawn(floor, line((-16, -8), (-15.6, -8)), line((18, 5), (30, 5)), line((18, -10), (30, -10)))
    drawn(floor, {"act": "hold", "type": "length", "of": ["c3"], "value": 0.4})
    wait_until(lambda: len(board.lines) == 3)
    ends = [curve for curve in board.shape["curves"] if curve["id"] == "c3"]
    assert [(end["start"], end["end"]) for end in ends] == [("p1", "p2")]
    holds = board.shape["holds"]
    moves(board, (-16, -8))
    board.page.keyboard.down("Alt")
    board.page.mouse.down()
    way = [(-16 + 0.7 * i, -8 + 0.25 * i) for i in range(1, 21)]
    for place in way:
        moves(board, place)
        board.settle(floor.revision)
    board.page.mouse.up()
    board.page.keyboard.up("Alt")
    wait_until(lambda: board.shape["points"]["p2"] != [-15.6, -8])
    assert board.shape["holds"] == holds
    p1, p2 = (board.shape["points"][p] for p in ("p1", "p2"))
    # it lies over the other end, and is what is taken
    assert_close(p2, way[-1], within=0.15)
    assert_close(dist(p1, p2), 0.4, within=1e-9)
    # what stays where it is can be joined as before
    moves(board, (18, 5))
    board.page.mouse.down()
    moves(board, (19, 0), (18.5, -8), (18, -10))
    board.page.mouse.up()
    wait_until(lambda: len(board.shape["points"]) == 5)
    assert board.shape["holds"] == holds
