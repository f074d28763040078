"""The Run: laws dragged and typed, sections cut, ends, what is read along the body, and the way back."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Locator, Page, Route, expect

from tests.app.server import wait_until
from tests.closeness import assert_close
from tests.ui.floor import Floor, until_asked
from wander.core.bodies.body import Body
from wander.core.design.memory import Memory
from wander.core.design.reading import read_kept
from wander.core.design.rebuild import rebuild
from wander.core.geometry.frame import Frame
from wander.core.shaping.lanes import lanes
from wander.core.shaping.shell import NamedFace

BLADE = pytest.mark.parametrize("design", ["merganser"])


def handle(floor: Floor, lane: str, number: int) -> Locator:
    return floor.page.get_by_label(f"{lane} lane").get_by_role("slider").nth(number)


def drag_until(floor: Floor, what: Locator, value: float) -> None:
    """Drag a point of a lane up or down, as an eye on its number would, until it says the value; then let go."""
    box = what.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    floor.page.mouse.move(x, y)
    floor.page.mouse.down()
    for _ in range(200):
        now = float(what.get_attribute("aria-valuenow") or "nan")
        if now == value:
            break
        y += -0.35 if now < value else 0.35
        floor.page.mouse.move(x, y)
    floor.page.mouse.up()


@BLADE
def test_a_twist_is_dragged_to_35_degrees_typed_to_36_and_a_half_and_undone_twice(floor: Floor, design: str, tmp_path: Path) -> None:
    before, shown = floor.settled(), floor.measures
    drag_until(floor, handle(floor, "Twist", 1), 35.0)
    wait_until(lambda: floor.params("loft-11")["twist"] == {"type": "linear", "start": -4.0, "end": 35.0})
    assert_close(floor.settled(), before, within=1e-4 * before)  # turning keeps every area
    assert floor.measures != shown
    field = floor.page.get_by_label("Twist, point 2")
    expect(field).to_have_value("35")
    field.fill("36.5")
    field.press("Enter")
    wait_until(lambda: floor.params("loft-11")["twist"]["end"] == 36.5)
    assert_close(floor.settled(), floor.measured_by_command_line(tmp_path), within=1e-9 * before)
    for value in (35.0, 14.0):
        floor.page.get_by_role("button", name="Undo").click()
        wait_until(lambda value=value: floor.params("loft-11")["twist"]["end"] == value)
    assert_close(floor.settled(), before, within=1e-6)
    assert floor.measures == shown


@BLADE
def test_esc_puts_a_dragged_twist_back(floor: Floor, design: str) -> None:
    floor.settled()
    before = floor.measures
    box = handle(floor, "Twist", 1).bounding_box()
    assert box is not None
    floor.page.mouse.move(box["x"] + 8, box["y"] + 8)
    floor.page.mouse.down()
    floor.page.mouse.move(box["x"] + 8, box["y"] + 26, steps=6)
    wait_until(lambda: floor.measures != before)
    floor.page.keyboard.press("Escape")
    floor.page.mouse.up()
    wait_until(lambda: floor.measures == before)
    assert floor.revision == 1


def test_a_section_is_cut_where_the_run_is_clicked_and_the_body_stays(floor: Floor, tmp_path: Path) -> None:
    before = floor.settled()
    x4, y = floor.grip("section-8")
    x3, _ = floor.grip("section-6")
    floor.page.mouse.move((x3 + x4) / 2, y + 65)
    expect(floor.page.get_by_text("cut a section at 105")).to_be_visible()
    floor.page.mouse.click((x3 + x4) / 2, y + 65)
    wait_until(lambda: floor.revision == 2)
    assert_close(floor.settled(), before, within=2e-6 * before)
    assert len(floor.params("loft-13")["sections"]) == 7
    expect(floor.page.get_by_label("Build").get_by_text("as cut from the body")).to_be_visible()
    floor.select("section-15")
    floor.type_into("Turned by", "20")
    wait_until(lambda: floor.revision == 3)
    after = floor.settled()
    assert abs(after - before) > 100
    assert_close(after, floor.measured_by_command_line(tmp_path), within=1e-9 * after)


@BLADE
def test_pointing_at_the_run_and_at_the_body_reads_the_same_place(floor: Floor, design: str) -> None:
    x, y = floor.grip("section-6")
    floor.page.mouse.move(x + 40, y + 65)
    reading = floor.page.get_by_test_id("reading")
    expect(reading).to_be_visible()
    read_at, area = (float(reading.get_attribute(name) or "nan") for name in ("data-at", "data-area"))
    assert 250 < read_at < 290
    assert 1500 < area < 2600
    scene = floor.page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    floor.page.mouse.move(scene["x"] + scene["width"] / 2, scene["y"] + scene["height"] / 2, steps=3)
    wait_until(lambda: reading.count() == 1 and float(reading.get_attribute("data-at") or "nan") != read_at)
    assert 150 < float(reading.get_attribute("data-at") or "nan") < 320


@BLADE
def test_the_ends_of_the_body(floor: Floor, design: str) -> None:
    domed = floor.settled()
    floor.page.get_by_role("button", name="Domed: the end of the body").click()
    floor.page.get_by_label("Fullness").fill("1.3")
    floor.page.get_by_label("Fullness").press("Enter")
    wait_until(lambda: floor.params("loft-11")["end"]["fullness"] == 1.3)
    assert abs(floor.settled() - domed) > 50
    floor.page.get_by_role("combobox", name="End shape").click()
    floor.page.get_by_role("option", name="Sharp").click()
    wait_until(lambda: floor.params("loft-11")["end"]["shape"] == "free")
    assert abs(floor.settled() - domed) > 50
    floor.page.keyboard.press("Escape")
    floor.page.get_by_role("button", name="Free: the start of the body").click()
    floor.page.get_by_role("combobox", name="Start shape").click()
    floor.page.get_by_role("option", name="At an angle").click()
    floor.page.get_by_label("Leaning out").fill("10")
    floor.page.get_by_label("Leaning out").press("Enter")
    wait_until(lambda: floor.params("loft-11")["start"] == {"shape": "angle", "angle": 10.0, "fullness": 1.0, "onto": None})


def lowest_twist(floor: Floor, loft: str) -> float:
    with floor.server.live(floor.design) as live:
        told = live.until(lambda e: e["type"] == "snapshot")
        summary = next(step["summary"] for step in told["steps"] if step["id"] == loft)
    return float(min(summary["lanes"]["twist"]))


@pytest.mark.parametrize("design", ["merganser"])
def test_a_law_swings_beyond_its_points_when_it_is_let(floor: Floor, design: str) -> None:
    page = floor.page
    points = [{"at": at, "value": value} for at, value in ((0, 0), (0.4, 0), (0.5, 12), (0.6, 0), (1, 0))]
    loft = next(step["id"] for step in floor.document["steps"] if step["kind"] == "loft")
    floor.server.edit(floor.design, 1, {"do": "set-param", "step": loft, "path": ["twist"], "value": {"type": "points", "points": points}})
    floor.settled()

    assert lowest_twist(floor, loft) > -1e-9
    page.get_by_label("Twist law").locator("..").click()
    page.get_by_role("option", name="points, swinging").click()
    wait_until(lambda: floor.params(loft)["twist"].get("swings") is True)
    floor.settled()
    assert lowest_twist(floor, loft) < -0.5
    assert len(floor.params(loft)["twist"]["points"]) == 5


def test_the_body_bends_anew_at_a_station(floor: Floor, tmp_path: Path) -> None:
    """By the switch on the Run, by its key, and in the list of sections: what is said there is what is built."""
    page = floor.page
    whole = floor.settled()
    switch = page.get_by_role("switch", name="Crease at section 3")
    floor.select("section-6")
    switch.click()
    expect(switch).to_be_checked()
    assert floor.params("loft-13")["sections"][2]["crease"] is True
    creased = floor.settled()
    assert abs(creased - whole) > 1e-4 * whole
    assert_close(creased, floor.measured_by_command_line(tmp_path), within=1e-4 * whole)
    switch.press("Enter")
    expect(switch).not_to_be_checked()
    assert_close(floor.settled(), whole, within=1e-6 * whole)
    page.get_by_role("button", name="Undo").click()
    expect(switch).to_be_checked()
    assert page.get_by_role("switch", name="Crease at section 1,").count() == 0, "at an end nothing bends anew"


def test_two_versions_side_by_side(floor: Floor) -> None:
    page = floor.page
    before = floor.settled()
    page.get_by_role("button", name="Versions").click()
    page.get_by_label("Name of the version").fill("Slim")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_label("Compare with Slim")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_label("Dimensions").get_by_label("belly", exact=True).fill("84")
    page.keyboard.press("Enter")
    wait_until(lambda: floor.revision == 2)
    after = floor.settled()
    page.get_by_role("button", name="Versions").click()
    page.get_by_label("Compare with Slim").click()
    row = page.get_by_label("Comparison").locator('[data-fact^="Volume"]')
    assert_close(float(row.get_attribute("data-then") or "nan"), before, within=1e-6)
    assert_close(float(row.get_attribute("data-now") or "nan"), after, within=1e-6)
    page.get_by_role("button", name="Versions").click()
    page.get_by_label("Open Slim").click()
    wait_until(lambda: floor.revision == 3)
    assert_close(floor.settled(), before, within=1e-6)
    page.get_by_role("button", name="Done").click()
    expect(page.get_by_label("Comparison")).to_have_count(0)


def tab_to(page: Page, label: str) -> None:
    for _ in range(120):
        page.keyboard.press("Tab")
        here = page.evaluate("['role', 'aria-label'].map((name) => document.activeElement?.getAttribute(name))")
        if here == ["slider", label]:
            return
    raise AssertionError(f"“{label}” can't be reached with Tab")


@BLADE
def test_all_of_it_by_keyboard_alone(floor: Floor, design: str) -> None:
    keys = floor.page.keyboard
    before = floor.settled()
    keys.press("/")
    keys.type("lane scale")
    keys.press("Enter")
    expect(floor.page.get_by_label("Scale lane")).to_be_visible()
    keys.press("r")
    keys.press("c")
    expect(floor.page.get_by_label("Curvature lane")).to_be_visible()
    tab_to(floor.page, "Section 3, Face")
    keys.press("Shift+ArrowRight")
    wait_until(lambda: floor.params("station-5")["offset"] == 255.0)
    tab_to(floor.page, "Twist at 100 %")
    keys.press("Shift+ArrowUp")
    wait_until(lambda: floor.params("loft-11")["twist"]["end"] == 24.0)
    tab_to(floor.page, "Scale at 25 %")
    keys.press("s")
    wait_until(lambda: floor.params("loft-11")["width"]["points"][1].get("sharp") is True)
    keys.press("Delete")
    wait_until(lambda: len(floor.params("loft-11")["width"]["points"]) == 3)
    assert abs(floor.settled() - before) > 100
    for _ in range(4):
        revision = floor.revision
        keys.press("Control+z")
        wait_until(lambda revision=revision: floor.revision != revision)
    assert_close(floor.settled(), before, within=1e-6)
    keys.press("Escape")
    keys.press("?")
    expect(floor.page.get_by_role("dialog", name="Keys")).to_contain_text("Lane: twist")
    keys.press("Escape")
    keys.press("/")
    keys.type("draw ellipse")
    keys.press("Enter")
    expect(floor.page.get_by_label("Name of the step")).to_have_value("Ellipse 1")


def test_a_dimension_is_renamed_wherever_it_is_used(floor: Floor) -> None:
    before = floor.settled()
    name = floor.page.get_by_label("Name of belly")
    name.fill("girth")
    name.press("Enter")
    wait_until(lambda: "belly" not in json.dumps(floor.document))
    assert floor.params("section-2")["shape"]["width"] == "girth - 14 mm"
    assert_close(floor.settled(), before, within=1e-6)


def test_building_up_to_a_step_and_removing_with_what_hangs_on_it(floor: Floor) -> None:
    floor.select("section-8")
    sheet = floor.page.get_by_label("Sheet")
    sheet.get_by_role("button", name="Build up to here").click()
    expect(floor.page.get_by_label("Build").get_by_text("left for later").first).to_be_visible()
    sheet.get_by_role("button", name="Build to the end").click()
    expect(floor.page.get_by_label("Build").get_by_text("left for later")).to_have_count(0)
    sheet.get_by_role("button", name="Open Shoulder station").click()
    expect(floor.page.get_by_label("Name of the step")).to_have_value("Shoulder station")
    sheet.get_by_role("button", name="Remove").click()
    ask = floor.page.get_by_role("alertdialog")
    expect(ask).to_contain_text("Shoulder builds on it.")
    ask.get_by_role("button", name="Remove them too").click()
    wait_until(lambda: len(floor.params("loft-13")["sections"]) == 5)
    assert not {"station-7", "section-8"} & {s["id"] for s in floor.document["steps"]}
    floor.page.get_by_role("button", name="Undo").click()
    wait_until(lambda: len(floor.params("loft-13")["sections"]) == 6)


def test_a_station_is_tilted_on_its_sheet(floor: Floor) -> None:
    before = floor.settled()
    floor.select("section-10")
    sheet = floor.page.get_by_label("Sheet")
    sheet.get_by_role("button", name="Open Throat station").click()
    sheet.get_by_role("combobox", name="Placed").click()
    floor.page.get_by_role("option", name="Turned about a line").click()
    floor.type_into("Station at", "36")
    floor.type_into("Turned by", "8")
    wait_until(lambda: floor.params("station-9").get("place", {}).get("angle") == 8.0)
    after = floor.until_volume(lambda v: abs(v - before) > 1)
    assert after > 0.8 * before


def test_a_section_is_dragged_in_the_scene(floor: Floor, tmp_path: Path) -> None:
    before = floor.settled()
    tag = floor.page.locator(".scene-tags").get_by_role("button", name="Section 4, Shoulder")
    box = tag.bounding_box()
    assert box is not None
    x, y = box["x"] + 11, box["y"] + 11
    floor.page.mouse.move(x, y)
    floor.page.mouse.down()
    for i in range(1, 9):
        floor.page.mouse.move(x, y + 4 * i)
    floor.until_volume(lambda v: abs(v - before) > 500)
    assert floor.revision == 1
    floor.page.mouse.up()
    wait_until(lambda: floor.revision == 2)
    assert 100 < floor.params("station-7")["offset"] < 131
    assert_close(floor.settled(), floor.measured_by_command_line(tmp_path), within=1e-9 * before)
    expect(floor.page.get_by_label("Name of the step")).to_have_value("Shoulder")


def test_a_change_on_an_older_state_is_a_choice(floor: Floor) -> None:
    """Two windows change at the same moment: one of them is told, and nothing of its change is lost."""
    floor.settled()
    late = {"left": 1}

    def behind(route: Route) -> None:
        body = json.loads(route.request.post_data or "{}")
        if late["left"]:
            late["left"] = 0
            floor.server.edit(floor.design, body["base_revision"], {"do": "rename-design", "name": "Theirs"})
        route.continue_(post_data=json.dumps(body))

    floor.page.route("**/edits", behind)
    floor.select("section-8")
    floor.type_into("Station at", "120")
    expect(floor.page.get_by_text("Somebody else was first")).to_be_visible()
    floor.page.unroute("**/edits")  # whoever waits for the server alone would hold up what passes through here
    floor.page.get_by_role("button", name="Make mine too").click()
    wait_until(lambda: floor.params("station-7")["offset"] == 120.0)
    assert floor.document["name"] == "Theirs"


def test_what_is_held_under_the_hand_stays_when_somebody_else_changes_something(floor: Floor) -> None:
    before = floor.settled()
    floor.drag("section-8", 30, release=False)
    floor.until_volume(lambda v: abs(v - before) > 500)
    pulled = float(floor.at_rest("document.querySelector('[data-testid=volume]').dataset.mm3"))
    floor.edit({"do": "rename-design", "name": "Theirs"})
    expect(floor.page.get_by_label("Measures")).to_have_attribute("data-shown", f"{floor.revision}~")
    assert_close(floor.volume, pulled, within=1e-9 * pulled)
    floor.page.mouse.up()
    assert_close(floor.settled(), pulled, within=1e-9 * pulled)


def test_a_drag_that_begins_before_the_change_before_it_is_kept_is_seen(floor: Floor) -> None:
    before = floor.settled()
    held: list[Route] = []
    floor.page.route("**/edits", lambda route: held.append(route) if not held else route.continue_())
    floor.select("section-8")
    floor.type_into("Station at", "120")
    until_asked(floor.page, lambda: held)
    moved = floor.until_volume(lambda v: abs(v - before) > 500)
    # the other thumbnails make room for the one that moved
    floor.at_rest("[...document.querySelectorAll('[data-section] rect')].map((thumb) => thumb.getBoundingClientRect().x)")
    # far enough to be told apart: where the belly stands makes little difference to what it holds
    floor.drag("section-6", 80, release=False)
    held[0].continue_()
    wait_until(lambda: floor.revision == 2)
    floor.until_volume(lambda v: abs(v - moved) > 500)
    expect(floor.page.get_by_label("Measures")).to_have_attribute("data-shown", "2~")
    floor.page.mouse.up()


def test_a_station_that_nothing_stands_on_is_dragged_in_the_scene(floor: Floor) -> None:
    station = {"do": "add-step", "kind": "station", "name": "Collar", "params": {"plane": "top", "offset": 60.0}}
    floor.edit(station)
    tag = floor.page.get_by_role("button", name="Station Collar", exact=True)
    box = tag.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    before = floor.revision
    floor.page.mouse.move(x, y)
    floor.page.mouse.down()
    for i in range(1, 9):
        floor.page.mouse.move(x, y - 5 * i)
    floor.page.mouse.up()
    wait_until(lambda: floor.revision > before)
    collar = next(step for step in floor.server.read(floor.design)["document"]["steps"] if step["name"] == "Collar")
    assert 62 < collar["params"]["offset"] < 120
    # it went with the pointer: its number is where it was let go
    floor.page.wait_for_function(
        "([label, y]) => { const b = document.querySelector(`[aria-label='${label}']`).getBoundingClientRect();"
        " return Math.abs(b.y + b.height / 2 - y) < 6; }",
        arg=["Station Collar", y - 40],
    )


@BLADE
def test_a_reading_is_what_a_cut_there_would_give(floor: Floor, design: str) -> None:
    """At the ends, at a station and between: against the surfaces of the same design, built here and asked at that very place."""
    document = read_kept(json.dumps(floor.document).encode())
    built = {b.step: b.result for b in rebuild(document, Memory())}
    lofted = next(result for result in built.values() if isinstance(result, Body))
    assert lofted.along is not None
    axis = lofted.along.axis
    faces = [NamedFace(face.name, face.surface) for face in lofted.faces if face.surface is not None]
    largest = float(np.nanmax(lanes(faces, axis, np.linspace(1.0, 454.0, 60), 1).area))
    stations = sorted(float(result.origin @ axis) for result in built.values() if isinstance(result, Frame))
    reading = floor.page.get_by_test_id("reading")
    first, last = (floor.grip(section) for section in ("section-2", "section-10"))
    for share in (0.002, 0.013, 0.11, 0.26, 0.5, 0.77, 0.985):
        floor.page.mouse.move(first[0] + share * (last[0] - first[0]), first[1] + 65)
        expect(reading).to_be_visible()
        at, area = (float(reading.get_attribute(name) or "nan") for name in ("data-at", "data-area"))
        true = lanes(faces, axis, np.clip([at], stations[0] + 1e-7, stations[-1] - 1e-7), 1).area[0]
        assert_close(area, true, within=1e-5 * largest)


@BLADE
def test_a_straight_law_is_drawn_straight(floor: Floor, design: str) -> None:
    """Places are read closer together in short bays: the line is drawn through places, not through their numbers."""
    path = floor.page.get_by_label("Twist lane").get_by_test_id("law-line").get_attribute("d") or ""
    points = np.array([[float(n) for n in pair.split(",")] for pair in path.replace("M", " ").replace("L", " ").split()])
    assert len(points) > 20
    straight = np.interp(points[:, 0], points[[0, -1], 0], points[[0, -1], 1])
    assert_close(points[:, 1], straight, within=0.01)
