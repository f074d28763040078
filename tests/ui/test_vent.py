"""A branching vent from an empty page: two tubes joined, their crotch rounded, hollowed with three open ends, flanged, its openings chamfered."""

from __future__ import annotations

from math import pi
from pathlib import Path

from playwright.sync_api import Page

from tests.app.server import Server
from tests.ui.board import Board
from tests.ui.floor import Floor, search
from tests.ui.test_finishing import holds


def test_a_vent_from_nothing(page: Page, server: Server, tmp_path: Path) -> None:
    made = server.client.post("/api/designs", json={"name": "Vent"}).json()
    floor = Floor(page, server, made["id"])
    floor.arrive()
    search(page, "station on the top plane")
    floor.draw("Circle")
    floor.type_into("Diameter", "44")
    search(page, "extrude circle")
    page.screenshot(path="/tmp/v0.png")
    floor.type_into("Distance", "110")
    holds(floor, pi * 22**2 * 110)
    search(page, "rail drawn from the front")
    rail = str(floor.document["steps"][-1]["id"])
    board = Board.opened(floor, rail)
    board.tool("Spline")
    board.click((0, 52), (45, 70), (60, 104))
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Back to the floor").click()
    floor.wait_for_body()
    chosen_at = page.get_by_label("Build").get_by_text("Circle 1", exact=False).first
    chosen_at.click()
    floor.draw("Circle")
    floor.type_into("Diameter", "30")
    page.screenshot(path="/tmp/v1.png")
    search(page, "sweep circle 2 along rail 1")
    floor.until_volume(lambda found: True)
    page.wait_for_timeout(1500)
    search(page, "join extrude 1 and sweep 1")
    page.wait_for_timeout(2500)
    page.screenshot(path="/tmp/v3.png")
    search(page, "hollow join 1")
    page.wait_for_timeout(1500)
    page.screenshot(path="/tmp/v4.png")
    page.get_by_role("button", name="Top", exact=True).click()
    page.wait_for_timeout(1500)
    page.screenshot(path="/tmp/v5.png")
    print([(s["id"], s["params"]) for s in floor.document["steps"]][-1])
