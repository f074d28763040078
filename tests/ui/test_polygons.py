"""A mesh by counts in the real browser: what is seen is what the file holds."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import expect

from tests.ui.floor import Floor


def test_a_mesh_by_counts_with_a_loop_besides_is_seen_and_saved(floor: Floor) -> None:
    page = floor.page
    page.get_by_role("button", name="Hand over").click()
    page.get_by_role("radio", name=re.compile("^OBJ")).click()
    told = page.get_by_test_id("polygons")
    expect(told).to_contain_text("within 0.0")
    page.get_by_role("button", name="Counted").click()
    for label, count in (("Round each body", "16"), ("Along it", "10"), ("Another loop at % of its length", "12.5")):
        page.get_by_label(label).fill(count)
        page.keyboard.press("Enter")
    expect(told).to_contain_text("178 polygons: 176 with 4 sides, 2 with 16 sides")
    expect(page.get_by_role("img", name="The polygons that the file will hold")).to_be_visible()
    page.get_by_role("button", name="12.5 %").press("Delete")
    expect(told).to_contain_text("162 polygons: 160 with 4 sides")
    with page.expect_download() as saved:
        page.get_by_role("button", name="Save the file").click()
    lines = Path(saved.value.path()).read_text().splitlines()
    assert sum(line.startswith("f ") for line in lines) == 162
