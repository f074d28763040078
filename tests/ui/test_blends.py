"""Fillets and chamfers in the browser: edges picked in the scene, too much told with what goes, an early change under it."""

from __future__ import annotations

from math import pi

import numpy as np
import pytest
from playwright.sync_api import Locator, Page, expect
from scipy.integrate import quad

from tests.app.server import Server, wait_until
from tests.core.design.designs import lofted
from tests.ui.floor import Floor, across_the_middle, click_lit, holds, pull_grip, search
from wander.core.geometry.law import through


@pytest.fixture
def block(page: Page, server: Server) -> Floor:
    """A block of 30 by 20 by 40."""
    document = lofted(*((z, {"type": "rectangle", "width": 30.0, "depth": 20.0}) for z in (0.0, 40.0)))
    floor = Floor(page, server, server.client.post("/api/designs/file", content=document.model_dump_json()).json()["id"])
    floor.open()
    return floor


def pick_upright(block: Floor) -> None:
    """Click on the first upright edge that is met across the middle of the scene."""
    click_lit(block.page, across_the_middle(block.page, 30, 75), lambda lit: lit and "end:" not in lit)
    wait_until(lambda: block.params("fillet-6")["sets"][0]["edges"])


def test_an_upright_edge_is_picked_rounded_and_follows_its_block(block: Floor) -> None:
    page = block.page
    search(page, "fillet edges")
    expect(page.get_by_text("waits for an edge of Hull")).to_be_visible()
    pick_upright(block)
    page.get_by_role("button", name="Done").click()
    edges = block.params("fillet-6")["sets"][0]["edges"]
    assert len(edges) == 1
    length = 40.0
    corner = 1 - pi / 4
    holds(block, 30 * 20 * length - corner * 4 * length)
    block.type_into("Radius", "5")
    holds(block, 30 * 20 * length - corner * 25 * length)
    # too much: said with what goes, and the last good shape stays
    block.type_into("Radius", "45")
    card = page.locator('[data-code="not-blended"]')
    expect(card).to_contain_text("was found to go")
    card.get_by_role("button", name="Make it").click()
    wait_until(lambda: 5 < block.params("fillet-6")["sets"][0]["radius"] < 30)
    expect(card).to_have_count(0)
    block.type_into("Radius", "5")
    holds(block, 30 * 20 * length - corner * 25 * length)
    # an early section wider: the same edge
    block.select("section-4")
    block.type_into("Width", "36")
    block.select("section-2")
    block.type_into("Width", "36")
    holds(block, 36 * 20 * length - corner * 25 * length)


def test_all_outer_edges_are_cut_off(block: Floor) -> None:
    page = block.page
    search(page, "chamfer edges")
    page.get_by_role("button", name="Done").click()
    page.get_by_role("button", name="Outer").click()

    def cut(d: float) -> float:
        """Twelve prisms; at each corner three of them share three quarters of a cube, and a facet across it takes a twelfth more."""
        return 30 * 20 * 40 - 4 * (30 + 20 + 40) * d * d / 2 + 8 * (3 / 4 - 1 / 12) * d**3

    holds(block, cut(1.0))
    block.type_into("Distance", "3")
    holds(block, cut(3.0))


def test_two_bodies_are_joined_and_softened_where_they_meet(page: Page, server: Server) -> None:
    plate = {"type": "rectangle", "width": 40.0, "depth": 40.0}
    document = lofted((0.0, plate), (5.0, plate)).model_dump(mode="json")
    document["steps"] += [
        {
            "id": "section-6",
            "kind": "section",
            "name": "Boss",
            "params": {"station": {"step": "station-1"}, "shape": {"type": "circle", "diameter": 20.0}},
        },
        {
            "id": "extrude-7",
            "kind": "extrude",
            "name": "Post",
            "params": {"section": {"step": "section-6"}, "distance": 25.0, "result": {"type": "join", "body": {"step": "loft-5"}}},
        },
    ]
    document["next"] = 8
    floor = Floor(page, server, server.client.post("/api/designs/file", json=document).json()["id"])
    floor.open()
    search(page, "fillet edges")
    page.get_by_role("button", name="Done").click()
    page.get_by_role("button", name="Meeting").click()
    r, big = 2.0, 10.0
    added = 2 * pi * (r * r * (big + r / 2) - pi * r * r / 4 * (big + r - 4 * r / (3 * pi)))
    holds(floor, 8000 + pi * 100 * 20 + added)
    page.get_by_role("button", name="Let the radius change along them").click()
    wait_until(lambda: len(floor.params("fillet-8")["sets"][0].get("along", [])) == 2)
    page.get_by_label("Radius 2").fill("3")
    page.keyboard.press("Enter")
    floor.until_volume(lambda found: found > 8000 + pi * 100 * 20 + 1.2 * added)


def test_radii_are_pulled_at_the_edge_and_along_it(block: Floor) -> None:
    """One radius for all, and two places with their own: by their marks in the scene, against closed forms."""
    page = block.page
    search(page, "fillet edges")
    expect(page.get_by_text("waits for an edge of Hull")).to_be_visible()
    pick_upright(block)
    page.get_by_role("button", name="Done").click()
    corner = 1 - pi / 4
    holds(block, 24000 - corner * 4 * 40)
    mark = page.get_by_role("button", name="Radius at the edge")
    before = block.params("fillet-6")["sets"][0]["radius"]
    pull_grip(page, mark, *outwards(mark, page, 40))
    wait_until(lambda: block.params("fillet-6")["sets"][0]["radius"] > before)
    radius = block.params("fillet-6")["sets"][0]["radius"]
    assert 2 < radius < 15
    holds(block, 24000 - corner * radius**2 * 40)
    page.get_by_role("button", name="Let the radius change along them").click()
    pull_grip(page, page.get_by_role("button", name="Radius 2 at the edge"), *outwards(mark, page, -10))
    wait_until(lambda: block.params("fillet-6")["sets"][0]["along"][1]["radius"] != radius)
    foot = page.get_by_role("button", name="Place 2 on the edge")
    up = 1 if within(foot)[1] < within(page.get_by_role("button", name="Place 1 on the edge"))[1] else -1
    pull_grip(page, foot, 0, up * 60)
    wait_until(lambda: block.params("fillet-6")["sets"][0]["along"][1]["at"] < 0.9)
    first, second = block.params("fillet-6")["sets"][0]["along"]
    assert (first["at"], first["radius"]) == (0, radius)
    law = through([(0.0, radius, False), (second["at"], second["radius"], False)])
    lost = corner * 40 * quad(lambda t: float(law(np.array([t]))[0]) ** 2, 0, 1, points=[second["at"]])[0]
    block.until_volume(lambda found: abs(24000 - found - lost) < 0.01 * lost)
    # Esc while it is pulled puts it back
    pull_grip(page, foot, 0, up * 40, release=False)
    page.keyboard.press("Escape")
    page.mouse.up()
    assert block.params("fillet-6")["sets"][0]["along"] == [first, second]


def within(grip: Locator) -> tuple[float, float]:
    box = grip.bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def outwards(mark: Locator, page: Page, pixels: float) -> tuple[float, float]:
    """So far along the line from the edge to a mark."""
    tie = page.locator(".scene-grips svg line[x1]").first
    from_x, from_y, to_x, to_y = (float(tie.get_attribute(name) or 0) for name in ("x1", "y1", "x2", "y2"))
    size = ((to_x - from_x) ** 2 + (to_y - from_y) ** 2) ** 0.5
    return pixels * (to_x - from_x) / size, pixels * (to_y - from_y) / size


def test_what_was_to_be_picked_is_dropped_with_its_step(block: Floor) -> None:
    """Undone: a click in the scene selects again."""
    page = block.page
    search(page, "fillet edges")
    expect(page.get_by_role("status").filter(has_text="Pick an edge of a body")).to_be_visible()
    page.keyboard.press("Escape")
    search(page, "fillet edges")
    expect(page.get_by_role("status").filter(has_text="Pick an edge of a body")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Build").get_by_text("Fillet 2")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Build").get_by_text("Fillet 1")).to_have_count(0)
    scene = page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    page.mouse.click(scene["x"] + 0.5 * scene["width"], scene["y"] + 0.6 * scene["height"])
    expect(page.get_by_label("Sheet").get_by_label("Name of the step")).to_have_value("Hull")
