"""Fair in the browser: shown over how it was, put back, kept; the numbers are those of the document."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.closeness import assert_close
from tests.core.design.designs import circle, lofted
from tests.ui.floor import Floor

SIZES = (40.0, 43.0, 52.0, 50.0, 58.0, 55.0)


@pytest.fixture
def lumpy(page: Page, server: Server) -> Floor:
    """A body through six circles whose sizes waver."""
    document = lofted(*((40.0 * i, circle(d)) for i, d in enumerate(SIZES))).model_dump(mode="json")
    floor = Floor(page, server, server.client.post("/api/designs/file", json=document).json()["id"])
    floor.open()
    return floor


def diameters(floor: Floor) -> np.ndarray:
    return np.array([s["params"]["shape"]["diameter"] for s in floor.document["steps"] if s["kind"] == "section"], dtype=float)


def test_a_row_of_sections_is_shown_fair_put_back_and_kept(lumpy: Floor, tmp_path: Path) -> None:
    page = lumpy.page
    before = lumpy.settled()
    page.get_by_label("Build").get_by_text("Hull").first.click()
    card = page.get_by_role("region", name="Fair")
    card.get_by_role("button", name="Show it fair").click()
    told = card.get_by_test_id("fair")
    expect(told).to_be_visible()
    wait_until(lambda: abs(lumpy.volume - before) > 1e-4 * before)
    assert_close(diameters(lumpy), SIZES, within=0)

    card.get_by_role("button", name="Put back").click()
    wait_until(lambda: abs(lumpy.volume - before) < 1e-9 * before)
    assert lumpy.revision == 1

    field = card.get_by_label("Nothing moves more than")
    field.fill("1 mm")
    page.keyboard.press("Enter")
    expect(told).to_have_attribute("data-moved", "1.000000")
    share = float(told.get_attribute("data-share") or "nan")
    assert share < 0.5
    wait_until(lambda: abs(lumpy.volume - before) > 1e-4 * before)
    card.get_by_role("button", name="Keep it fair").click()
    wait_until(lambda: lumpy.revision == 2)
    moved = np.abs(diameters(lumpy) - SIZES) / 2
    assert moved.max() <= 1.0
    assert_close(lumpy.settled(), lumpy.measured_by_command_line(tmp_path), within=1e-4 * before)
    page.keyboard.press("Control+z")
    wait_until(lambda: abs(lumpy.settled() - before) < 1e-9 * before)


def test_where_there_is_nothing_to_smooth_it_says_so(page: Page, server: Server) -> None:
    document = lofted(*((40.0 * i, circle(d)) for i, d in enumerate((40, 43, 50, 60)))).model_dump(mode="json")
    document["dimensions"] = [{"name": "all", "value": 50.0, "kind": "length"}]
    for step in document["steps"]:
        if step["kind"] == "section":
            step["params"] |= {"shape": circle("all"), "at": ["all * 0", "all * 0"]}
    floor = Floor(page, server, server.client.post("/api/designs/file", json=document).json()["id"])
    floor.open()
    page.get_by_label("Build").get_by_text("Hull").first.click()
    page.get_by_role("region", name="Fair").get_by_role("button", name="Show it fair").click()
    expect(page.get_by_text("no size or point in common")).to_be_visible()
    assert floor.revision == 1
