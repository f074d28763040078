"""A duct along a centre line: chosen in the sheet, counted along the line, followed while the line is pulled, and told where it can't go."""

from __future__ import annotations

from math import pi

from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.core.steps.test_loft_centre import elbow
from tests.ui.floor import Floor
from tests.ui.test_rails import pull_grip
from wander.core.design.memory import Memory
from wander.core.design.rebuild import rebuild
from wander.core.document.document import Document
from wander.core.geometry.quadrature import length

AREA = pi * 15**2


def line_of(floor: Floor) -> float:
    """Length of the line, as it is worked out apart from the page."""
    built = {b.step: b for b in rebuild(Document.model_validate(floor.document), Memory())}
    return length(built["rail-20"].result.curve)


def test_a_duct_goes_along_the_line_that_is_chosen_and_follows_it(page: Page, server: Server) -> None:
    document = elbow().model_dump(mode="json")
    document["steps"][-1]["params"]["centre"] = None
    floor = Floor(page, server, server.client.post("/api/designs/file", json=document).json()["id"])
    floor.arrive()
    page.get_by_label("Build").get_by_text("Duct").first.click()
    page.get_by_label("Sheet").get_by_role("combobox", name="Centre line").click()
    page.get_by_role("option", name="Line").click()
    volume = floor.until_volume(lambda found: abs(found - AREA * line_of(floor)) < 1e-5 * found)
    expect(page.get_by_label("Build").get_by_text("along a line")).to_be_visible()

    # the Run is counted along it
    whole = line_of(floor)
    expect(page.get_by_test_id("run-length")).to_contain_text(f"{whole:.2f}".rstrip("0"))

    # its handle is pulled: another way round, and the body follows while it is held
    page.get_by_label("Build").get_by_text("through 2 points").click()
    pull_grip(page, "Handle of point 1", (0, -30), release=False)
    wait_until(lambda: abs(floor.volume - volume) > 50)
    page.keyboard.press("Escape")
    page.mouse.up()
    floor.until_volume(lambda found: abs(found - volume) < 1)
    pull_grip(page, "Handle of point 1", (0, -30))
    wait_until(lambda: floor.params("rail-20")["shape"]["points"][0]["handle"] != [0, 0, 44])
    assert floor.until_volume(lambda found: abs(found - volume) > 50) > 0

    # too short: told with its distance, and one click takes the line away
    floor.edit({"do": "set-param", "step": "rail-20", "path": ["shape", "points", 1, "at"], "value": [60.0, 0.0, 80.0]})
    page.get_by_label("Build").get_by_text("Duct").first.click()
    expect(page.get_by_label("Sheet").get_by_text("Line does not come to Rib 2")).to_be_visible()
    expect(page.get_by_label("Sheet").get_by_text("20 mm before this one")).to_be_visible()
    page.get_by_role("button", name="Leave Line out").click()
    wait_until(lambda: floor.params("loft-21").get("centre") is None)
