"""A ring made of free sections in one click, read and changed along its Run, and what keeps it from closing."""

from __future__ import annotations

from math import pi

from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.core.design.designs import circle
from tests.core.steps.test_loft_ring import REACH, rings
from tests.ui.floor import Floor

TORUS = 2 * pi**2 * REACH * 10**2


def test_four_free_sections_become_a_ring(page: Page, server: Server) -> None:
    document = rings(*[circle(20.0)] * 4).model_dump(mode="json")
    document["steps"].pop()
    floor = Floor(page, server, server.client.post("/api/designs/file", json=document).json()["id"])
    floor.arrive()
    page.get_by_role("button", name="Shape", exact=True).click()
    page.get_by_role("menuitem", name="Ring through 4 free sections").click()
    floor.until_volume(lambda found: abs(found - TORUS) < 1e-5 * TORUS)
    expect(page.get_by_label("Build").get_by_text("in a ring")).to_be_visible()

    # the Run is the ring unrolled: as long as the circle, and at its end the first section again
    expect(page.get_by_test_id("run-length")).to_contain_text(f"{2 * pi * REACH:.2f}")
    expect(page.get_by_test_id("back-again")).to_contain_text("1")
    expect(page.get_by_role("button", name="the start of the body")).to_have_count(0)

    # a section is changed, and the body follows on both of its sides
    floor.select("section-2")
    floor.type_into("Diameter", "30")
    assert floor.until_volume(lambda found: found > 1.1 * TORUS) < 1.6 * TORUS
    page.get_by_role("button", name="Undo", exact=True).click()
    floor.until_volume(lambda found: abs(found - TORUS) < 1e-5 * TORUS)

    # two sections are taken out: told, and the body has two ends by one click
    ring = next(step["id"] for step in floor.document["steps"] if step["kind"] == "loft")
    page.get_by_label("Build").get_by_text("in a ring").click()
    for name in ("Rib 3", "Rib 4"):
        left = len(floor.params(ring)["sections"])
        page.get_by_role("button", name=f"Take {name} out").click()
        wait_until(lambda left=left: len(floor.params(ring)["sections"]) < left)
    expect(page.get_by_label("Sheet").get_by_text("needs a third section to be a ring")).to_be_visible()
    page.get_by_role("button", name="Give the body two ends").click()
    wait_until(lambda: floor.params(ring)["closed"] is False)
