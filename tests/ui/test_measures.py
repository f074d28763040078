"""Measures in the browser: picked in the scene, kept in sight while a station is pulled, against an aim; a vessel filled to a level."""

from __future__ import annotations

import re
from collections.abc import Callable
from math import atan, degrees, pi
from pathlib import Path

import pytest
import trimesh
from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.core.design.designs import circle, lofted
from tests.core.steps.test_wall_step import CUP, MOUTH, walled
from tests.ui.floor import Floor, across_the_middle, click_lit, look, opened, search
from tests.ui.test_parts import bring_in


def test_a_distance_stays_in_sight_and_says_how_it_stands_to_its_aim(page: Page, server: Server) -> None:
    floor = opened(page, server, lofted((0.0, circle(40.0)), (50.0, circle(40.0))))
    search(page, "measure a distance")
    sheet = page.get_by_label("Sheet")
    expect(sheet.get_by_text("waits for 2 things")).to_be_visible()
    ends = [{"step": "loft-5", "part": f"loft-5/end:section-{n}"} for n in (2, 4)]
    floor.edit({"do": "set-param", "step": "measure-6", "path": ["of", "parts"], "value": ends})
    note = page.locator(".scene-note")
    expect(note).to_have_text("50 mm")
    page.get_by_label("It should be a certain size").click()
    expect(note).to_have_text("50 mm, as it should be")
    # a station pulled away: the number goes along, and says by how much it is off
    floor.drag("section-4", 40, release=False)
    expect(note).to_have_text(re.compile(r"mm over$"))
    page.mouse.up()
    floor.settled()
    height = floor.params("station-3")["offset"]
    expect(note).to_have_text(re.compile(rf"^{height:g}\d* mm, "))
    expect(page.get_by_label("Build").get_by_text(re.compile(r"mm over"))).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(note).to_have_text("50 mm, as it should be")
    # what was measured goes: it waits for something else
    note.click()
    expect(sheet.get_by_label("Name of the step")).to_have_value("Distance 1")


def test_the_gap_to_a_mesh_is_kept_in_sight_while_it_is_moved(page: Page, server: Server, tmp_path: Path) -> None:
    """A box of 10 across beside a cup of 40 across: whole bodies are picked in the Build."""
    floor = opened(page, server, CUP)
    file = tmp_path / "holder.stl"
    file.write_bytes(trimesh.creation.box((10.0, 20.0, 30.0)).export(file_type="stl"))
    bring_in(floor, "bring in a body to look at", file)
    build, sheet, note = page.get_by_label("Build").first, page.get_by_label("Sheet"), page.locator(".scene-note")
    build.get_by_text("holder").click()
    sheet.get_by_label("At x").fill("40")
    sheet.get_by_label("At x").press("Enter")
    search(page, "measure a distance")
    expect(sheet.get_by_text("or a whole body in the Build")).to_be_visible()
    build.get_by_text("holder").click()
    expect(sheet.get_by_text("waits for a face, an edge or a body")).to_be_visible()
    body = next(step["name"] for step in floor.document["steps"] if step["kind"] == "loft")
    build.get_by_text(body).first.click()
    expect(note).to_have_text("15 mm")
    build.get_by_text("holder").click()
    sheet.get_by_label("At x").fill("60")
    sheet.get_by_label("At x").press("Enter")
    expect(note).to_have_text("35 mm")
    # from a face of the cup instead: a third pick takes the place of the second
    note.click()
    sheet.get_by_role("button", name="Pick Between in the scene").click()
    look(page, "Top")
    floor.settled()
    lid = "loft-5/end:section-4"
    click_lit(page, across_the_middle(page, 10, 60), lambda lit: lit == lid)
    measure = next(step["id"] for step in floor.document["steps"] if step["kind"] == "measure")
    wait_until(lambda: [part.get("part") for part in floor.params(measure)["of"]["parts"]] == [None, lid])
    # 35 mm beside it and 35 mm above it
    expect(note).to_have_text(f"{35 * 2**0.5:.4g} mm")


def pointed(floor: Floor, label: str) -> float:
    """What the colours tell in the middle of the scene."""
    scene = floor.page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    for off in (4, 0):
        floor.page.mouse.move(scene["x"] + scene["width"] / 2 + off, scene["y"] + scene["height"] * 0.56)
    return float(floor.page.get_by_role("group", name=label, exact=True).get_attribute("data-told") or "nan")


def until_told(floor: Floor, label: str, true: Callable[[float], bool]) -> None:
    told = [0.0]

    def holds() -> bool:
        told.append(pointed(floor, label))
        return true(told[-1])

    try:
        wait_until(holds)
    except AssertionError:
        pytest.fail(f"{label} is {told[-1]:g} to the end")


def test_colours_tell_how_thick_a_wall_is_and_how_its_sides_lean(page: Page, server: Server) -> None:
    cone = walled(lofted((0.0, circle(44.0)), (40.0, circle(40.0)), between="straight"), thickness=1.6)
    floor = opened(page, server, cone)
    page.get_by_role("button", name="Thickness").click()
    until_told(floor, "Thickness", lambda told: abs(told - 1.6) < 0.02)
    page.get_by_role("button", name="Lean").click()
    until_told(floor, "Lean", lambda told: abs(told - degrees(atan(2 / 40))) < 0.05)
    page.get_by_role("group", name="Pulled along").get_by_role("button", name="x").click()
    until_told(floor, "Lean", lambda told: abs(told) > 10)
    page.get_by_role("button", name="Edges", exact=True).click()
    expect(page.get_by_role("group", name="Lean", exact=True)).to_have_count(0)


def test_faces_are_picked_in_the_scene(page: Page, server: Server) -> None:
    floor = opened(page, server, lofted((0.0, circle(40.0)), (50.0, circle(40.0))))
    search(page, "measure the area")
    look(page, "Top")
    scene = page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    page.mouse.click(scene["x"] + scene["width"] / 2, scene["y"] + scene["height"] / 2)
    expect(page.locator(".scene-note")).to_have_text(f"{400 * pi / 100:.2f} cm²")
    wait_until(lambda: [face["part"] for face in floor.params("measure-6")["of"]["faces"]] == ["loft-5/end:section-4"])


def test_a_cup_is_filled_and_the_level_for_its_aim_taken(page: Page, server: Server) -> None:
    floor = opened(page, server, walled(CUP, open=[MOUTH]))
    search(page, "fill a vessel")
    sheet = page.get_by_label("Sheet")
    expect(sheet.get_by_text(f"{pi * 324 * 10 / 1000:.2f} cm³")).to_be_visible()
    page.get_by_label("It should be a certain size").click()
    floor.type_into("Should be, cm³", "30")
    card = page.locator('[data-code="aim-missed"]')
    card.get_by_role("button", name="Fill it up to").click()
    expect(card).to_have_count(0)
    wait_until(lambda: abs(floor.params("measure-40")["of"].get("level", 10.0) - 30000 / (pi * 324)) < 1e-3)
    floor.type_into("Up to", "60")
    over = page.locator('[data-code="filled-over-rim"]')
    over.get_by_role("button", name="Up to the rim").click()
    expect(over).to_have_count(0)
    wait_until(lambda: abs(floor.params("measure-40")["of"].get("level", 10.0) - 48) < 1e-4)
