"""Bodies from files in the browser: brought in, moved, rounded and cut into one's own; and one that is only there to be looked at."""

from __future__ import annotations

from math import pi
from pathlib import Path

import trimesh
from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.core.solids.kernel_files import BALL, BOX, PIN, RING, assembly, ball, step_of
from tests.ui.floor import Floor, opened, search

EMPTY = {"format": "wander-design/1", "name": "Fittings", "steps": [], "next": 1}


def bring_in(floor: Floor, action: str, file: Path) -> None:
    with floor.page.expect_file_chooser() as chooser:
        search(floor.page, action)
    chooser.value.set_files(file)


def test_the_bodies_of_a_file_are_put_to_use(page: Page, server: Server, tmp_path: Path) -> None:
    floor = opened(page, server, EMPTY, empty=True)
    file = tmp_path / "fittings.step"
    file.write_bytes(assembly())
    bring_in(floor, "bring in a part", file)
    build = page.get_by_label("Build").first
    for name in ("Block", "Pin", "Pin 2", "Ball", "Ring"):
        expect(build.get_by_text(name, exact=True)).to_be_visible()
    floor.settled()
    colours = {step["name"]: (step.get("finish") or {}).get("colour") for step in floor.document["steps"]}
    assert colours == {"Block": "#ff0000", "Pin": None, "Pin 2": None, "Ball": "#0080ff", "Ring": None}
    for name, volume in (("Block", BOX), ("Pin", PIN), ("Ball", BALL), ("Ring", RING)):
        build.get_by_text(name, exact=True).click()
        expect(page.get_by_label("Sheet").get_by_label("Name of the step")).to_have_value(name)
        # of many bodies the one that is meant is told first
        wait_until(lambda volume=volume: abs(floor.volume - volume) < 1e-6 * volume)

    # another ball is moved onto an edge of the block and cut from it
    file = tmp_path / "marble.step"
    file.write_bytes(step_of([ball()]))
    bring_in(floor, "bring in a part", file)
    build.get_by_text("marble", exact=True).click()
    sheet = page.get_by_label("Sheet")
    expect(sheet.get_by_label("Name of the step")).to_have_value("marble")
    first = sheet.get_by_label("At x")
    first.fill("5")
    first.press("Enter")
    wait_until(lambda: next(s for s in floor.document["steps"] if s["name"] == "marble")["params"].get("at", [0])[0] == 5.0)
    floor.settled()
    build.get_by_text("Block", exact=True).click()
    expect(sheet.get_by_label("Name of the step")).to_have_value("Block")
    search(page, "cut marble from block")
    floor.settled()
    # its middle is that of the edge where y and z are 0
    expect(page.get_by_label("Measures").get_by_text(f"{(BOX - quarter(7.0, 5.0)) / 1000:.2f} cm³")).to_be_visible()
    # a larger marble in its place: it is cut from the block where the smaller one was
    file.write_bytes(step_of([ball(9.0)]))
    build.get_by_text("marble", exact=True).click()
    with page.expect_file_chooser() as chooser:
        sheet.get_by_role("button", name="Another file in its place").click()
    chooser.value.set_files(file)
    expect(page.get_by_label("Measures").get_by_text(f"{(BOX - quarter(9.0, 5.0)) / 1000:.2f} cm³")).to_be_visible()


def quarter(radius: float, room: float) -> float:
    """A quarter of a ball, less what two planes at the same distance to both sides cut off it."""
    over = radius - room
    cap = pi * over**2 * (3 * radius - over) / 3
    return (4 / 3 * pi * radius**3 - 2 * cap) / 4


def test_a_mesh_is_seen_and_stands_in_nobodys_way(page: Page, server: Server, tmp_path: Path) -> None:
    floor = opened(page, server, EMPTY, empty=True)
    file = tmp_path / "scan.stl"
    file.write_bytes(trimesh.creation.box((100.0, 60.0, 40.0)).export(file_type="stl"))
    bring_in(floor, "bring in a body to look at", file)
    build = page.get_by_label("Build").first
    expect(build.get_by_text("to look at")).to_be_visible()
    build.get_by_text("scan").click()
    sheet = page.get_by_label("Sheet")
    expect(sheet.get_by_text("100 × 60 × 40")).to_be_visible()
    expect(sheet.get_by_text("240.00 cm³")).to_be_visible()
    sheet.get_by_label("One unit of the file is").click()
    page.get_by_role("option", name="in", exact=True).click()
    expect(sheet.get_by_text("2540 × 1524 × 1016")).to_be_visible()
    assert page.get_by_test_id("volume").count() == 0
    page.keyboard.press("Control+z")
    expect(sheet.get_by_text("100 × 60 × 40")).to_be_visible()


def test_a_file_that_is_none_is_refused_in_words(page: Page, server: Server, tmp_path: Path) -> None:
    floor = opened(page, server, EMPTY, empty=True)
    file = tmp_path / "notes.step"
    file.write_text("nothing of the kind")
    revision = floor.revision
    bring_in(floor, "bring in a part", file)
    expect(page.get_by_text("it is no STEP file")).to_be_visible()
    assert floor.revision == revision
