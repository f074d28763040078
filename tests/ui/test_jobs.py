"""The jobs people do, by mouse and keyboard, checked on the numbers that the application computes."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
import trimesh
from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.closeness import assert_close
from tests.ui.floor import Floor


def test_drag_a_station_undo_and_come_back(floor: Floor, tmp_path: Path) -> None:
    before = floor.volume
    floor.drag("section-8", 80)
    wait_until(lambda: floor.revision == 2)
    after = floor.settled()
    assert abs(after - before) > 1000
    offset = floor.params("station-7")["offset"]
    assert offset > 132.0
    assert offset * 2 == round(offset * 2), "a drag lands on round numbers"
    assert_close(after, floor.measured_by_command_line(tmp_path), within=1e-9 * after)
    expect(floor.page.get_by_label("Measures")).to_contain_text(f"{after / 1000:.2f} cm³")

    floor.page.get_by_role("button", name="Undo").click()
    assert_close(floor.until_volume(lambda v: abs(v - before) < 1e-6), before, within=1e-6)
    assert floor.params("station-7")["offset"] == 132.0
    floor.page.keyboard.press("Control+Shift+z")
    assert_close(floor.until_volume(lambda v: abs(v - after) < 1e-6), after, within=1e-6)

    floor.page.reload()
    floor.wait_for_body()
    assert_close(floor.volume, after, within=1e-6)
    expect(floor.page.get_by_label("Name of the step")).to_have_value("Shoulder")


def test_the_body_follows_while_a_station_is_dragged_and_esc_puts_it_back(floor: Floor) -> None:
    before = floor.volume
    floor.drag("section-8", -120, release=False)
    floor.until_volume(lambda v: abs(v - before) > 1000)
    assert floor.revision == 1, "nothing is kept before letting go"
    floor.page.keyboard.press("Escape")
    assert_close(floor.until_volume(lambda v: abs(v - before) < 1e-6), before, within=1e-6)
    floor.page.mouse.up()
    assert floor.revision == 1
    expect(floor.thumb("section-8")).to_have_attribute("aria-valuetext", "132 mm")


def test_another_neck_diameter_typed_where_it_stands(floor: Floor, tmp_path: Path) -> None:
    before = floor.volume
    floor.page.get_by_label("Dimensions").get_by_label("neck", exact=True).fill("40")
    floor.page.keyboard.press("Enter")
    wider = floor.until_volume(lambda v: v > before + 1000)
    floor.select("section-12")
    expect(floor.field("Diameter")).to_have_value("neck")
    floor.type_into("Diameter", "neck - 1 cm")
    narrower = floor.until_volume(lambda v: v < wider - 500)
    wait_until(lambda: floor.params("section-12")["shape"]["diameter"] == "neck - 1 cm")  # it is seen before it is kept
    expect(floor.page.get_by_label("Sheet")).to_contain_text("= 30")
    assert_close(narrower, floor.measured_by_command_line(tmp_path), within=1e-9 * narrower)


def test_arrow_keys_and_units_in_a_number_field(floor: Floor) -> None:
    floor.select("section-8")
    field = floor.field("Station at")
    expect(field).to_have_value("132")
    field.focus()
    field.press("ArrowUp")
    expect(field).to_have_value("133")
    field.press("Shift+ArrowDown")
    expect(field).to_have_value("123")
    floor.type_into("Station at", "5 in")
    wait_until(lambda: floor.params("station-7")["offset"] == "5 in")
    field.fill("7")
    field.press("Escape")
    expect(field).to_have_value("5 in")


def test_the_unit_shown_changes_the_numbers_and_not_the_shape(floor: Floor) -> None:
    before = floor.volume
    floor.select("section-8")
    floor.page.get_by_label("Unit").locator("..").click()
    floor.page.get_by_role("option", name="in", exact=True).click()
    expect(floor.field("Station at")).to_have_value("5.1969")
    expect(floor.page.get_by_label("Measures")).to_contain_text("in³")
    assert_close(floor.volume, before, within=1e-9)
    floor.type_into("Station at", "5")
    wait_until(lambda: floor.params("station-7")["offset"] == pytest.approx(127.0))


def test_stations_move_by_keyboard_too(floor: Floor) -> None:
    floor.thumb("section-8").focus()
    floor.page.keyboard.press("ArrowRight")
    wait_until(lambda: floor.params("station-7")["offset"] == 132.5)
    floor.page.keyboard.press("Shift+ArrowLeft")
    wait_until(lambda: floor.params("station-7")["offset"] == 127.5)
    floor.page.keyboard.press("Enter")
    expect(floor.page.get_by_label("Name of the step")).to_have_value("Shoulder")


def test_a_finding_points_at_the_place_and_one_click_settles_it(floor: Floor) -> None:
    good = floor.volume_text
    floor.drag("section-8", 330)
    needs = floor.page.get_by_label("Build").get_by_text("needs you")
    expect(needs).to_be_visible()
    expect(floor.page.get_by_text("This is the last good shape")).to_be_visible()
    floor.page.get_by_label("Build").get_by_text("Flask").click()
    card = floor.page.locator('[data-code="out-of-order"]')
    card.hover()
    expect(floor.page.locator(".scene-tags circle.lit")).to_have_count(1)
    expect(floor.page.locator(".scene-tags circle.marked")).to_have_count(1)
    card.get_by_role("button", name="Put the sections in order").click()
    expect(card).to_have_count(0)
    expect(needs).to_have_count(0)
    # what is seen of a repair comes before it is kept
    wait_until(lambda: [s["section"]["step"] for s in floor.params("loft-13")["sections"]][-2:] != ["section-10", "section-12"])
    floor.page.get_by_role("button", name="Undo").click()
    floor.page.get_by_role("button", name="Undo").click()
    expect(floor.page.get_by_test_id("volume")).to_have_text(good)


def test_a_wrong_number_is_refused_in_words_and_what_was_typed_stays(floor: Floor) -> None:
    floor.select("section-12")
    floor.type_into("Diameter", "__import__('os')")
    expect(floor.page.get_by_text("This change does not fit the design")).to_be_visible()
    expect(floor.field("Diameter")).to_have_value("__import__('os')")
    floor.type_into("Diameter", "nekc")
    card = floor.page.locator('[data-code="unknown-name"]')
    expect(card).to_contain_text("there is no dimension called “nekc”")
    card.get_by_role("button", name="Use neck").click()
    expect(floor.field("Diameter")).to_have_value("neck")


def test_the_first_section_has_room_to_be_dragged(page: Page, server: Server) -> None:
    design = server.client.post("/api/designs", json={"name": "One"}).json()["id"]
    floor = Floor(page, server, design)
    floor.arrive()
    floor.draw("Rounded rectangle")
    expect(floor.field("Station at")).to_have_value("0")
    sheet = page.get_by_label("Sheet")
    assert sheet.evaluate("(e) => e.scrollWidth <= e.clientWidth"), "nothing stands out of the sheet, however long a name is"
    station, section = (step["id"] for step in floor.document["steps"])
    floor.drag(section, 200)
    wait_until(lambda: floor.params(station)["offset"] > 0)
    # 40 mm are drawn, the strip shows four times as much
    assert_close(floor.params(station)["offset"], 31.0, within=1.0)
    expect(floor.field("Station at")).to_have_value("31")
    server.client.delete(f"/api/designs/{design}")


def test_a_body_from_nothing(page: Page, server: Server, tmp_path: Path) -> None:
    page.goto(server.url)
    page.get_by_role("button", name="New design", exact=True).click()
    page.wait_for_url("**/design/*")
    floor = Floor(page, server, page.url.rsplit("/", 1)[1])
    expect(page.get_by_text("Nothing here yet.")).to_be_visible()
    floor.draw("Circle")
    expect(page.get_by_label("Name of the step")).to_have_value("Circle 1")
    floor.type_into("Diameter", "20")
    floor.draw("Circle")
    expect(page.get_by_label("Name of the step")).to_have_value("Circle 2")
    floor.type_into("Diameter", "4 cm")
    floor.type_into("Station at", "50")
    page.get_by_role("button", name="Shape").click()
    page.get_by_role("menuitem", name="Straight loft through 2 free sections").click()
    floor.wait_for_body()
    cone = 3.141592653589793 * 50 * (10**2 + 10 * 20 + 20**2) / 3
    assert_close(floor.volume, cone, within=1e-8 * cone)
    floor.draw("Rounded rectangle")
    wait_until(lambda: floor.volume > cone * 1.2)
    assert len(floor.params("loft-5")["sections"]) == 3
    assert_close(floor.volume, floor.measured_by_command_line(tmp_path), within=1e-9 * floor.volume)
    server.client.delete(f"/api/designs/{floor.design}")


@pytest.mark.parametrize("design", ["bailer"])
def test_another_shape_keeps_the_size(floor: Floor, design: str) -> None:
    floor.select("section-8")
    floor.page.get_by_label("Sheet").get_by_role("combobox", name="Shape").click()
    floor.page.get_by_role("option", name="Ellipse", exact=True).click()
    expect(floor.field("Width")).to_have_value("92")
    expect(floor.field("Depth")).to_have_value("16")
    floor.page.get_by_label("Sheet").get_by_role("combobox", name="Shape").click()
    floor.page.get_by_role("option", name="Spline through points").click()
    expect(floor.page.get_by_label("Point 1 x")).to_have_value("46")
    floor.page.get_by_label("Point 1 x").fill("50")
    floor.page.get_by_label("Point 1 x").press("Enter")
    wait_until(lambda: floor.params("section-8")["shape"]["points"][0] == [50.0, 0.0])
    floor.page.get_by_role("button", name="Add a point").click()
    expect(floor.page.get_by_label("Point 9 x")).to_be_visible()


@pytest.mark.parametrize("design", ["bailer"])
def test_sections_leave_and_join_a_body(floor: Floor, design: str) -> None:
    before = floor.volume
    floor.page.get_by_label("Build").get_by_text("Spout").click()
    sheet = floor.page.get_by_label("Sheet")
    sheet.get_by_label("Take Flare out").click()
    floor.until_volume(lambda v: abs(v - before) > 100)
    expect(floor.page.get_by_text("Not in a body yet")).to_be_visible()
    sheet.get_by_role("button", name="Add Flare").click()
    finding = floor.page.locator('[data-code="out-of-order"]')
    finding.get_by_role("button", name="Put the sections in order").click()
    assert_close(floor.until_volume(lambda v: abs(v - before) < 1e-6), before, within=1e-6)


@pytest.mark.parametrize(("title", "ending"), [("STEP", "step"), ("STL", "stl"), ("GLB", "glb"), ("Wander design", "wander.json")])
def test_hand_over(floor: Floor, tmp_path: Path, title: str, ending: str) -> None:
    floor.page.get_by_role("button", name="Hand over").click()
    floor.page.get_by_role("radio", name=re.compile(f"^{title}")).click()
    with floor.page.expect_download() as waiting:
        floor.page.get_by_role("button", name="Save the file").click()
    assert waiting.value.suggested_filename == f"Tarn-flask.{ending}"
    path = tmp_path / waiting.value.suggested_filename
    waiting.value.save_as(path)
    if ending == "stl":
        solid = trimesh.load(path)
        assert solid.is_watertight
        assert_close(solid.volume, floor.volume, within=2e-3 * floor.volume)
    elif ending == "wander.json":
        assert json.loads(path.read_bytes()) == floor.document
    else:
        assert path.read_bytes()[:4] in (b"ISO-", b"glTF")


def test_two_windows_on_one_design(floor: Floor, page: Page) -> None:
    other = Floor(page.context.new_page(), floor.server, floor.design)
    other.open()
    before = floor.volume
    floor.drag("section-8", 60)
    wait_until(lambda: floor.revision == 2)
    after = floor.settled()
    assert abs(after - before) > 500
    assert_close(other.settled(), after, within=1e-6)
    expect(other.thumb("section-8")).to_have_attribute("aria-valuetext", floor.thumb("section-8").get_attribute("aria-valuetext") or "")
