"""Bodies on rails, built in the browser from nothing or changed early: a spout on four rails, a blade between its edges, a cover over a hull."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.closeness import assert_close
from tests.ui.floor import Floor
from tests.ui.test_rails import new_rail, points


@pytest.fixture
def empty(page: Page, server: Server) -> Floor:
    floor = Floor(page, server, server.client.post("/api/designs", json={"name": "From nothing"}).json()["id"])
    page.goto(f"{server.url}/design/{floor.design}")
    expect(page.get_by_text("Nothing here yet")).to_be_visible()
    return floor


def sections(floor: Floor) -> list[str]:
    return [step["id"] for step in floor.document["steps"] if step["kind"] == "section"]


def test_a_spout_on_four_rails_one_of_which_misses(empty: Floor, tmp_path: Path) -> None:
    page = empty.page
    for shape in ("Circle", "Slot"):
        known = len(sections(empty))
        empty.draw(shape)
        wait_until(lambda known=known: len(sections(empty)) > known)
    page.get_by_role("button", name="Shape", exact=True).click()
    page.get_by_role("menuitem", name="Smooth loft through 2 free sections").click()
    empty.wait_for_body()
    loft = next(step["id"] for step in empty.document["steps"] if step["kind"] == "loft")
    plain = empty.settled()
    for number, share in enumerate(("0", "1/4", "1/2", "3/4")):
        rail = new_rail(empty, "Rail that guides Body 1")
        for point in (1, 2):
            field = page.get_by_role("group", name=f"Point {point}", exact=True).get_by_label("Way round")
            if share != "0":
                field.fill(share)
                field.press("Enter")
                wait_until(lambda rail=rail, point=point, share=share: points(empty, rail)[point - 1]["on"]["at"] == share)  # type: ignore[index]
        assert len(empty.params(loft)["rails"]) == number + 1
    assert_close(empty.settled(), empty.measured_by_command_line(tmp_path), within=1e-6 * plain)

    # one is let go, 0.4 mm off the slot, and put back by its repair
    last = points(empty, rail)[1]
    place = np.array(rail_end(empty, rail)) - np.array([0.0, 0.4, 0.0])
    off = {"do": "set-param", "step": rail, "path": ["shape", "points", 1], "value": {"at": place.round(6).tolist()}}
    empty.server.edit(empty.design, empty.revision, off)
    card = page.locator('[data-code="rail-missed"]').first
    expect(card).to_contain_text("0.4")
    card.get_by_role("button", name="pass through Slot").click()
    wait_until(lambda: points(empty, rail)[1].get("on") is not None)
    expect(page.locator('[data-code="rail-missed"]')).to_have_count(0)
    assert_close(float(points(empty, rail)[1]["on"]["at"]), 0.75, within=1e-3)  # type: ignore[index, arg-type]
    assert last["on"]["section"] == points(empty, rail)[1]["on"]["section"]  # type: ignore[index]


def rail_end(floor: Floor, rail: str) -> tuple[float, float, float]:
    """Where a rail ends, as the server tells a window that opens."""
    with floor.server.live(floor.design) as live:
        summary = live.step(rail)["summary"]
    x, y, z = summary["points"][-1]
    return x, y, z


@pytest.mark.parametrize("design", ["merganser"])
def test_a_blade_between_its_edges_follows_its_tip(floor: Floor, design: str, tmp_path: Path) -> None:
    page = floor.page
    plain = floor.settled()
    nose = new_rail(floor, "Rail that guides Blade")
    expect(page.locator('[data-code="rail-missed"]')).to_have_count(0)
    held = floor.settled()
    assert_close(held, plain, within=0.05 * plain)
    lip = next(step["id"] for step in floor.document["steps"] if step["name"] == "Lip station")
    floor.server.edit(floor.design, floor.revision, {"do": "set-param", "step": lip, "path": ["offset"], "value": 380.0})
    wait_until(lambda: abs(floor.settled() - held) > 1e-3 * held)
    assert_close(floor.settled(), floor.measured_by_command_line(tmp_path), within=1e-4 * held)
    assert floor.params(next(s["id"] for s in floor.document["steps"] if s["kind"] == "loft"))["rails"] == [{"step": nose}]
