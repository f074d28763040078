"""Splines in a designer's hand: the comb says how they bend, rods beside a point lead them through it."""

from __future__ import annotations

from math import atan2, degrees

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.app.server import wait_until
from tests.closeness import assert_close
from tests.ui.board import Board
from tests.ui.floor import Floor
from wander.core.drawing.curves.pieces import curve_of
from wander.core.drawing.model import Drawing
from wander.core.geometry.curve import Curve

HAND = [(-24, -10), (-8, 14), (12, 6), (26, -12)]


@pytest.fixture
def board(floor: Floor) -> Board:
    made = Board(floor, "section-8", blank=True)
    made.tool("Spline")
    made.click(*HAND)
    made.page.keyboard.press("Enter")
    wait_until(lambda: len(made.shape["curves"]) == 1)
    made.tool("Pull and pick")
    return made


def spline(board: Board) -> Curve:
    """The curve as the core makes it of what is kept."""
    drawing = Drawing.model_validate({k: v for k, v in board.shape.items() if k != "type"})
    made = curve_of(drawing.curves[0], drawing)
    assert made is not None
    return made


def tightest(curve: Curve) -> float:
    t = np.linspace(0, 1, 20001)
    _, d, dd = curve.derivatives(t, 2)
    bend = np.abs(d[:, 0] * dd[:, 1] - d[:, 1] * dd[:, 0]) / np.linalg.norm(d, axis=1) ** 3
    return float(1 / bend.max())


def told(board: Board) -> float:
    return float((board.page.locator("[data-comb] text").text_content() or "").removeprefix("R "))


def test_the_comb_tells_the_tightest_place_while_a_point_is_pulled(board: Board) -> None:
    expect(board.page.locator("[data-comb]")).to_have_count(0)
    board.pick(board.shape["curves"][0]["id"])
    wait_until(lambda: abs(told(board) / tightest(spline(board)) - 1) < 0.02)
    before = told(board)
    # a point of it that is pulled keeps the comb; what it tells changes with the hand, before anything is kept
    board.pick(board.shape["curves"][0]["through"][1])
    kept = board.floor.revision
    board.pull(HAND[1], (-8, 24), release=False)
    wait_until(lambda: told(board) < 0.9 * before)
    assert board.floor.revision == kept
    board.page.mouse.up()
    wait_until(lambda: board.floor.revision > kept)
    wait_until(lambda: abs(told(board) / tightest(spline(board)) - 1) < 0.02)


def test_a_rod_that_is_pulled_leads_the_curve_through_its_point(board: Board) -> None:
    rods = board.page.locator("[data-handle]")
    expect(rods).to_have_count(0)
    curve = board.shape["curves"][0]
    board.pick(curve["through"][1])
    expect(rods).to_have_count(3)
    before = board.floor.revision
    box = board.page.locator(f'[data-handle="{curve["id"]} 1 1"] rect').bounding_box()
    assert box is not None
    x, y, scale = (float(n) for n in (board.paper.get_attribute("data-look") or "").split())
    paper = board.paper.bounding_box()
    assert paper is not None
    start = (
        (box["x"] + box["width"] / 2 - paper["x"] - paper["width"] / 2) * scale + x,
        (paper["y"] + paper["height"] / 2 - box["y"] - box["height"] / 2) * scale + y,
    )
    to = (HAND[1][0] + 9.0, HAND[1][1] + 6.0)
    drawn = board.lines
    board.pull(start, to, release=False)
    wait_until(lambda: board.lines != drawn)
    board.page.keyboard.press("Escape")
    board.page.mouse.up()
    # what is pulled next is where it was
    wait_until(lambda: board.lines == drawn)
    assert board.floor.revision == before
    assert not board.shape["curves"][0].get("handles")
    board.pull(start, to)
    wait_until(lambda: bool(board.shape["curves"][0].get("handles")))
    made = spline(board)
    at = float(made.sampled(2000)[0][np.linalg.norm(made.sampled(2000)[1] - HAND[1], axis=1).argmin()])
    dx, dy = made.derivatives(np.array([at]), 1)[1][0]
    assert_close(degrees(atan2(dy, dx)), degrees(atan2(6, 9)), within=0.6)
    # the rod ends where the hand let it go, as nearly as a spline that had no direction there can say before
    box = board.page.locator(f'[data-handle="{curve["id"]} 1 1"] rect').bounding_box()
    assert box is not None
    u, v = board.on_screen(to)
    assert_close((box["x"] + box["width"] / 2 - u, box["y"] + box["height"] / 2 - v), (0, 0), within=25)


def bend_at(curve: Curve, place: tuple[float, float]) -> float:
    u, points = curve.sampled(2000)
    t = u[np.linalg.norm(points - place, axis=1).argmin()]
    _, d, dd = curve.derivatives(np.array([t]), 2)
    return float((d[0, 0] * dd[0, 1] - d[0, 1] * dd[0, 0]) / np.linalg.norm(d[0]) ** 3)


def middle_of(board: Board, selector: str) -> tuple[float, float]:
    """Where something on the sheet stands, mm."""
    box, paper = board.page.locator(selector).bounding_box(), board.paper.bounding_box()
    assert box is not None
    assert paper is not None
    x, y, scale = (float(n) for n in (board.paper.get_attribute("data-look") or "").split())
    across, up = box["x"] + box["width"] / 2 - paper["x"] - paper["width"] / 2, paper["y"] + paper["height"] / 2 - box["y"] - box["height"] / 2
    return across * scale + x, up * scale + y


def test_a_tooth_of_the_comb_that_is_pulled_bends_the_curve_there(board: Board) -> None:
    curve = board.shape["curves"][0]
    board.pick(curve["through"][1])
    before, by_itself = board.floor.revision, bend_at(spline(board), HAND[1])
    grip = f'[data-handle="{curve["id"]} 1 0"] circle:last-child'
    start = np.array(middle_of(board, grip))
    away = start - HAND[1]
    to = start + 8 * away / np.linalg.norm(away)
    board.pull(tuple(start), tuple(to))
    wait_until(lambda: bool(board.shape["curves"][0].get("handles")))
    assert board.floor.revision == before + 1
    held = board.shape["curves"][0]["handles"][0]["bend"]
    assert abs(held) > abs(by_itself)
    assert held * by_itself > 0
    assert_close(bend_at(spline(board), HAND[1]), held, within=2e-3 * abs(held) + 1e-5)
    # it stands where the hand let it go
    assert_close(middle_of(board, grip), to, within=1.0)
    # by a number: as round as that
    board.page.get_by_label("Point 2 of spline 1").get_by_label("Radius (mm)").fill("12")
    board.act("Set")
    assert_close(abs(bend_at(spline(board), HAND[1])), 1 / 12, within=5e-4)
