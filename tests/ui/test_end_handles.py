"""Handles on the ends of a body: pulled in the scene they say how full an end is, each by itself, and the body follows."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.core.design.designs import circle, lofted
from tests.ui.floor import Floor, look
from tests.ui.test_rails import pull_grip


def test_the_fullness_of_each_end_is_pulled_in_the_scene(page: Page, server: Server) -> None:
    document = lofted((0, circle(60)), (60, circle(30)), (120, circle(60))).model_dump(mode="json")
    document["steps"][-1]["params"] |= {"skin": "fair", "start": {"shape": "square"}, "end": {"shape": "free"}}
    floor = Floor(page, server, server.client.post("/api/designs/file", json=document).json()["id"])
    floor.open()
    look(page, "Front")
    page.get_by_label("Build").get_by_text("loft through").click()
    scene = page.get_by_test_id("scene")
    expect(scene.get_by_role("button", name="Fullness of the start")).to_be_visible()
    expect(scene.get_by_role("button", name="Fullness of the end")).to_have_count(0)  # a free one is asked for nothing
    before = floor.settled()

    # as long as a third of the way to the next section; twice as far out it is twice as full
    grip = scene.get_by_role("button", name="Fullness of the start").bounding_box()
    tag = scene.get_by_role("button", name="Section 1, Rib 1").bounding_box()
    assert grip is not None
    assert tag is not None
    assert grip["y"] < tag["y"]
    pull_grip(page, "Fullness of the start", (0, -40), release=False)
    wait_until(lambda: abs(floor.volume - before) > 100)
    page.keyboard.press("Escape")
    page.mouse.up()
    floor.until_volume(lambda found: abs(found - before) < 1e-6 * before)
    pull_grip(page, "Fullness of the start", (0, -40))
    wait_until(lambda: floor.params("loft-7")["start"].get("fullness", 1) > 1.2)
    assert abs(floor.settled() - before) > 100
    assert floor.params("loft-7")["end"].get("fullness", 1) == 1
