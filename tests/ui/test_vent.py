"""A branching vent from an empty page: two tubes joined, hollowed with three open ends, flanged, rounded where they meet, its openings chamfered."""

from __future__ import annotations

from math import pi

import pytest
from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.ui.board import Board
from tests.ui.floor import Floor, chosen, click_lit, holds, look, search


def made(floor: Floor, words: str) -> str:
    """Makes a step that is found by words; its id."""
    known = len(floor.document["steps"])
    search(floor.page, words)
    wait_until(lambda: len(floor.document["steps"]) > known)
    return str(floor.document["steps"][-1]["id"])


def exact(floor: Floor) -> float:
    """The volume of the first body once the exact one is there, mm3."""
    volume = floor.page.get_by_test_id("volume").first
    wait_until(lambda: floor.settled() > 0 and volume.get_attribute("data-from") == "kernel")
    expect(floor.page.get_by_label("Build").get_by_text("working")).to_have_count(0)
    return floor.volume


def clicked(floor: Floor, x: float, y: float, count: int, *path: str) -> None:
    """Clicks in the scene, by shares of its width and height, once what is there can be picked, until so many things are picked."""
    scene = floor.page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    right, down = scene["x"] + x * scene["width"], scene["y"] + y * scene["height"]
    # the pointer trembles, for a light that comes only when it is moved
    click_lit(floor.page, ((right + 0.2 * (beat % 2), down) for beat in range(600)))

    def picked() -> int:
        found = floor.document["steps"][-1]["params"]
        for name in path:
            found = found[0][name] if isinstance(found, list) else found[name]
        return len(found)

    wait_until(lambda: picked() == count)


def across(floor: Floor, start: float, y: float) -> list[tuple[float, float]]:
    """Places from one on to the right, given by shares of the width and height of the scene."""
    scene = floor.page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    return [(scene["x"] + (start + 0.0025 * n) * scene["width"], scene["y"] + y * scene["height"]) for n in range(60)]


@pytest.mark.timeout(300)
def test_a_vent_from_nothing(page: Page, server: Server) -> None:
    floor = Floor(page, server, server.client.post("/api/designs", json={"name": "Vent"}).json()["id"])
    floor.arrive()
    search(page, "station on the top plane")
    floor.draw("Circle")
    floor.type_into("Diameter", "44")
    made(floor, "extrude circle")
    floor.type_into("Distance", "110")
    holds(floor, pi * 22**2 * 110)
    # the arm goes out of its middle, drawn over the outline of the stem
    board = Board.opened(floor, made(floor, "rail drawn from the front"))
    board.tool("Spline")
    board.click((0, 50), (45, 70), (60, 105))
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Back to the floor").click()
    floor.wait_for_body()
    page.get_by_label("Build").get_by_text("Circle 1,").first.click()
    floor.draw("Circle")
    floor.type_into("Diameter", "30")
    made(floor, "sweep circle 2 along rail 1")
    expect(page.get_by_label("Measures").get_by_text("Sweep 1")).to_be_visible()
    made(floor, "join extrude 1 and sweep 1")
    whole = exact(floor)
    wall = made(floor, "hollow join 1")
    look(page, "Top")
    clicked(floor, 0.21, 0.6, 1, "open")
    clicked(floor, 0.79, 0.5, 2, "open")
    # from below
    look(page, "Front")
    page.mouse.move(700, 560)
    page.mouse.down()
    for up in range(20, 220, 20):
        page.mouse.move(700, 560 - up)
    page.mouse.up()
    floor.at_rest("document.querySelector('[data-testid=scene]').dataset.meshes")
    clicked(floor, 0.33, 0.5, 3, "open")
    page.get_by_role("button", name="Done").click()
    hollow = exact(floor)
    assert hollow < 0.2 * whole
    sheet = page.get_by_label("Sheet")
    expect(sheet.get_by_text("Wall, mean")).to_be_visible()
    assert len({face["part"] for face in floor.params(wall)["open"]}) == 3
    # the flange, a ring
    page.get_by_label("Build").get_by_text("Circle 1,").first.click()
    floor.draw("Circle")
    floor.type_into("Diameter", "80")
    made(floor, "extrude circle 3")
    floor.type_into("Distance", "6")
    floor.type_into("Wall", "19")
    ring = page.get_by_test_id("volume").last
    wait_until(lambda: abs(float(ring.get_attribute("data-mm3") or 0) - pi * (40**2 - 21**2) * 6) < 1)
    chosen(floor, "Wall 1")
    made(floor, "join wall 1")
    flanged = exact(floor)
    assert abs(flanged - hollow - pi * (40**2 - 22**2) * 6) < 1e-5 * flanged
    # where stem, arm and flange meet, in one pick
    fillet = made(floor, "fillet edges of join 2")
    page.get_by_role("button", name="Done").click()
    page.get_by_role("button", name="Meeting").click()
    floor.type_into("Radius", "3")
    wait_until(lambda: floor.params(fillet)["sets"][0]["radius"] == 3)
    rounded = exact(floor)
    # round the flange by Pappus; in the crotch some more
    round_flange = 2 * pi * (9 * 23.5 - pi * 9 / 4 * (25 - 4 / pi))
    assert round_flange < rounded - flanged < 3 * round_flange
    look(page, "Top")
    chamfer = made(floor, "chamfer edges of fillet 1")
    clicked(floor, 0.3585, 0.695, 1, "sets", "edges")
    click_lit(page, across(floor, 0.72, 0.6237), lambda lit: "/inside(" in lit and "sweep-8" in lit)
    wait_until(lambda: len(floor.params(chamfer)["sets"][0]["edges"]) == 2)
    page.get_by_role("button", name="Done").click()
    floor.type_into("Distance", "0.8")
    wait_until(lambda: floor.params(chamfer)["sets"][0]["distance"] == 0.8)
    last = exact(floor)
    # a triangle turned about both axes, its middle a third further out than the bores (Pappus)
    taken = 2 * pi * 0.32 * (20 + 13 + 2 * 0.8 / 3)
    assert abs(rounded - last - taken) < 0.01 * taken
    # the arm narrower: all of it follows
    page.get_by_label("Build").get_by_text("Circle 2,").first.click()
    floor.type_into("Diameter", "28")
    floor.until_volume(lambda found: found < last - 500)
    exact(floor)
    expect(page.get_by_label("Build").get_by_text("needs you")).to_have_count(0)
