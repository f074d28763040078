"""Half a hull made whole in the browser: one click mirrors it, the report reads across the middle, a half that leans is squared."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.closeness import assert_close
from tests.core.steps.test_halves import hull, spline
from tests.ui.floor import Floor

SECTIONS = ((0.0, hull(60, 40)), (220.0, hull(90, 52)), (500.0, hull(84, 48)), (700.0, hull(46, 36)))


def with_halves(page: Page, server: Server) -> Floor:
    """A design of four halves on stations along x, and nothing made of them."""
    steps = []
    for i, (offset, shape) in enumerate(SECTIONS):
        station, section = f"station-{2 * i + 1}", f"section-{2 * i + 2}"
        steps.append({"id": station, "kind": "station", "name": f"Frame {i + 1}", "params": {"plane": "side", "offset": offset}})
        steps.append({"id": section, "kind": "section", "name": f"Rib {i + 1}", "params": {"station": {"step": station}, "shape": shape}})
    document = {"format": "wander-design/1", "name": "Half a hull", "steps": steps, "next": 20}
    made = server.client.post("/api/designs/file", json=document).json()
    floor = Floor(page, server, made["id"])
    floor.arrive()
    expect(page.get_by_label("Build").get_by_text("Rib 4")).to_be_visible()
    return floor


def test_halves_are_made_whole_in_one_click_and_read_across_the_middle(page: Page, server: Server) -> None:
    floor = with_halves(page, server)
    page.get_by_role("button", name="Shape", exact=True).click()
    page.get_by_role("menuitem", name="Smooth loft through 4 free sections").click()
    repair = page.get_by_label("Sheet").get_by_role("button", name="Make it whole with its mirror image").first
    repair.click()
    floor.wait_for_body()
    whole = floor.settled()
    loft = next(step["id"] for step in floor.document["steps"] if step["kind"] == "loft")
    plane = floor.params(loft)["mirrored"]["step"]
    assert next(step for step in floor.document["steps"] if step["id"] == plane)["params"]["plane"] == "front"
    expect(page.get_by_label("Build").get_by_text("loft through 4 sections, mirrored")).to_be_visible()

    page.get_by_role("button", name="Continuity").click()
    report = page.get_by_role("group", name="Continuity")
    across = report.get_by_role("listitem").filter(has_text="across Mirror plane")
    expect(across.first).to_contain_text("G2")
    page.get_by_role("button", name="Close continuity").click()

    # a section lengthened afterwards: the body follows on both sides
    deeper = hull(90, 70)
    floor.edit({"do": "set-param", "step": "section-4", "path": ["shape"], "value": deeper})
    wait_until(lambda: floor.settled() > whole * 1.02)

    leaning = spline((0.0, -52.0), (72.0, -36.4), (90.0, 0.0), (0.0, 18.2), handles={0: 6.0, 3: 180.0})
    floor.edit({"do": "set-param", "step": "section-4", "path": ["shape"], "value": leaning})
    page.get_by_label("Build").get_by_text("Body 1").click()
    card = page.get_by_label("Sheet").get_by_role("button", name="Leave the plane squarely")
    expect(card).to_be_visible()
    expect(page.get_by_label("Sheet").get_by_text("6° out of square")).to_be_visible()
    card.click()
    expect(card).to_have_count(0)
    assert_close(floor.settled(), whole, within=0.02 * whole)
