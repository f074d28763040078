"""How faces meet, read on the floor: the same numbers as the core's, the worst first, and the place lit up."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from playwright.sync_api import expect
from typer.testing import CliRunner

from tests.app.server import wait_until
from tests.ui.floor import Floor
from wander.cli.main import app


def by_command_line(floor: Floor, folder: Path) -> list[dict[str, object]]:
    path = folder / "saved.json"
    path.write_bytes(floor.server.client.get(f"/api/designs/{floor.design}/document").content)
    found: list[dict[str, object]] = json.loads(CliRunner().invoke(app, ["check", "--continuity", "--json", str(path)]).stdout)["continuity"]
    return found


@pytest.mark.parametrize("design", ["tarn"])
def test_a_crease_is_read_and_shown(floor: Floor, design: str, tmp_path: Path) -> None:
    page = floor.page
    page.get_by_role("button", name="Continuity", exact=True).click()
    seams = page.get_by_role("group", name="Continuity").get_by_role("listitem")
    # two ends, its own seam, and four sections inside
    expect(seams).to_have_count(7)
    expect(seams.first).to_contain_text("G0")
    expect(seams.filter(has_text="across Belly")).to_contain_text("G2")

    floor.select("section-8")
    page.get_by_role("switch", name="Crease at section 4").press("Enter")
    expect(seams.filter(has_text="from Shoulder on")).not_to_have_count(0)
    told = by_command_line(floor, tmp_path)
    assert len(told) == seams.count()
    crease = next(seam for seam in told if len(set(seam["faces"])) == 2 and "end" not in str(seam["name"]))  # type: ignore[call-overload]
    row = seams.filter(has_text="from Base on and the side of Flask, from Shoulder on")
    expect(row).to_contain_text(f"{crease['angle']:.3f}°")
    row.get_by_role("button").click()
    expect(row.get_by_role("button")).to_have_attribute("aria-pressed", "true")
    wait_until(lambda: page.get_by_test_id("scene").locator("circle").count() > 0)
    page.get_by_role("button", name="Close continuity").click()
    expect(seams).to_have_count(0)
    page.get_by_role("button", name="Stripes").click()
    expect(page.get_by_role("button", name="Stripes")).to_have_attribute("aria-pressed", "true")


@pytest.mark.parametrize("design", ["skua"])
def test_two_edges_of_a_half_are_told_apart_beside_the_measures(floor: Floor, design: str) -> None:
    page = floor.page
    page.get_by_role("button", name="Continuity", exact=True).click()
    panel = page.get_by_role("group", name="Continuity")
    corners = panel.get_by_role("listitem").filter(has_text="between two sides of Hull on Fore foot")
    expect(corners).to_have_count(2)
    expect(corners.filter(has_text="mirrored")).to_have_count(1)
    list_, measures = panel.bounding_box(), page.get_by_label("Measures").bounding_box()
    assert list_
    assert measures
    assert list_["y"] + list_["height"] <= measures["y"]


@pytest.mark.parametrize("design", ["tarn"])
def test_combs_stand_on_the_body_and_follow_it(floor: Floor, design: str) -> None:
    page = floor.page
    scene = page.get_by_test_id("scene")
    expect(scene).to_have_attribute("data-teeth", "0")
    page.get_by_role("button", name="Combs").click()
    expect(page.get_by_role("button", name="Combs")).to_have_attribute("aria-pressed", "true")
    # six sections and a dozen flow lines of 61 teeth each, and the line over their ends
    expect(scene).to_have_attribute("data-teeth", str((6 + 12) * (61 + 60)))
    told = floor.server.client.get(f"/api/designs/{floor.design}/bodies/loft-13/combs").json()
    throat = told[4]["bends"]
    assert all(abs(sum(x * x for x in row) ** 0.5 - 2 / 35) < 1e-3 for row in throat), "a round section of 35 mm"
    before = scene.get_attribute("data-bends")
    floor.drag("section-8", 60, release=False)
    # while the hand still holds it
    expect(scene).not_to_have_attribute("data-bends", before or "")
    page.mouse.up()
    wait_until(lambda: floor.revision == 2)
    now = floor.server.client.get(f"/api/designs/{floor.design}/bodies/loft-13/combs").json()
    total = sum(sum(x * x for x in row) ** 0.5 for comb in now for row in comb["bends"])
    expect(scene).to_have_attribute("data-bends", f"{total:.4f}")
    page.get_by_role("button", name="Combs").click()
    expect(scene).to_have_attribute("data-teeth", "0")
