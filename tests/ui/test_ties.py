"""Connecting lines in the browser: added in the sheet, pulled round a section in the scene, taken out again."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.app.server import wait_until
from tests.closeness import assert_close
from tests.ui.floor import Floor
from tests.ui.test_rails import pull_grip


@pytest.mark.parametrize("design", ["tarn"])
def test_a_connecting_line_is_added_pulled_and_taken_out(floor: Floor, design: str, tmp_path: Path) -> None:
    page, loft = floor.page, "loft-13"
    whole = floor.settled()
    page.get_by_label("Build").get_by_text("Flask", exact=True).click()
    lines = page.get_by_role("group", name="Connecting lines")
    lines.get_by_role("button", name="Add").click()
    wait_until(lambda: len(floor.params(loft).get("ties", [])) == 1)
    marks = page.get_by_test_id("scene").get_by_role("button", name="Connecting line 1 at")
    expect(marks).to_have_count(6)
    assert_close(floor.settled(), whole, within=2e-3 * whole)

    before = floor.settled()
    pull_grip(page, "Connecting line 1 at Mouth", (14, 6), release=False)
    wait_until(lambda: abs(floor.volume - before) > 1e-5 * before)
    page.keyboard.press("Escape")
    page.mouse.up()
    wait_until(lambda: abs(floor.volume - before) < 1e-7 * before)

    pull_grip(page, "Connecting line 1 at Mouth", (14, 6))
    wait_until(lambda: [place["section"]["step"] for place in floor.params(loft)["ties"][0]["places"]][-1:] == ["section-12"])
    assert_close(floor.settled(), floor.measured_by_command_line(tmp_path), within=1e-4 * whole)
    expect(lines).to_contain_text("Mouth")

    lines.get_by_role("button", name="Take connecting line 1 out").click()
    expect(marks).to_have_count(0)
    wait_until(lambda: floor.params(loft)["ties"] == [])
    assert_close(floor.settled(), whole, within=1e-9 * whole)
