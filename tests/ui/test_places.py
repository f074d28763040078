"""The rack, the views, and that everybody can use them."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.app.server import Server, wait_until
from tests.conftest import ROOT
from tests.ui.floor import Floor

AXE = (ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text()
LOOKS = 3


def assert_accessible(page: Page) -> None:
    page.add_script_tag(content=AXE)
    # what fades in while it is looked at has less contrast than it will have
    for look in range(LOOKS):
        page.wait_for_function("document.getAnimations().every((a) => a.playState !== 'running')")
        found = page.evaluate("axe.run({ resultTypes: ['violations'] })")["violations"]
        bad = [f"{v['id']}: {v['nodes'][0]['html'][:160]}" for v in found if v["impact"] in ("serious", "critical")]
        assert not bad or look < LOOKS - 1, "\n".join(bad)
        if not bad:
            return


def test_the_rack_shows_every_design_with_its_picture_and_numbers(page: Page, server: Server) -> None:
    page.goto(server.url)
    card = page.get_by_role("listitem").filter(has=page.get_by_role("heading", name="Bailer spout")).filter(has_text="157.17 cm³").first
    expect(card).to_be_visible()
    expect(card).to_contain_text("92 × 42.7 × 110 mm")
    card.scroll_into_view_if_needed()
    image = card.locator("img")
    expect(image).to_be_visible()
    drawn = image.evaluate(
        """async (element) => {
            await element.decode();
            const canvas = document.createElement('canvas');
            canvas.width = element.naturalWidth;
            canvas.height = element.naturalHeight;
            const context = canvas.getContext('2d');
            context.drawImage(element, 0, 0);
            const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
            let solid = 0;
            for (let i = 3; i < data.length; i += 4) if (data[i] > 250) solid++;
            return solid / (data.length / 4);
        }"""
    )
    assert 0.08 < drawn < 0.6, "the body fills a fair part of its picture"


def test_the_rack_shows_a_body_without_sections_along_it(page: Page, server: Server) -> None:
    square = {"type": "rectangle", "width": 40.0, "depth": 40.0}
    steps = [
        {"id": "station-1", "kind": "station", "name": "Station 1", "params": {"plane": "top", "offset": 0.0}},
        {"id": "section-2", "kind": "section", "name": "Square", "params": {"station": {"step": "station-1"}, "shape": square}},
        {"id": "extrude-3", "kind": "extrude", "name": "Block", "params": {"section": {"step": "section-2"}, "distance": 20.0}},
    ]
    raw = {"format": "wander-design/1", "name": "Lone block", "steps": steps, "next": 4}
    assert server.client.post("/api/designs/file", content=json.dumps(raw)).status_code == 201
    page.goto(server.url)
    card = page.get_by_role("listitem").filter(has=page.get_by_role("heading", name="Lone block"))
    card.scroll_into_view_if_needed()
    expect(card).to_contain_text("32.00 cm³")
    expect(card.locator("img")).to_be_visible()


def test_a_design_leaves_the_rack_and_can_be_put_back(page: Page, server: Server) -> None:
    server.client.post("/api/designs", json={"name": "Short-lived"})
    page.goto(server.url)
    page.get_by_label("Remove Short-lived from the rack").click()
    expect(page.get_by_role("heading", name="Short-lived")).to_have_count(0)
    page.get_by_role("button", name="Put it back").click()
    expect(page.get_by_role("heading", name="Short-lived")).to_have_count(1)
    page.get_by_label("Remove Short-lived from the rack").click()
    wait_until(lambda: "Short-lived" not in server.designs())


def test_a_file_is_opened_and_a_broken_one_refused_in_words(page: Page, server: Server, samples: Path, tmp_path: Path) -> None:
    page.goto(server.url)
    broken = tmp_path / "broken.json"
    broken.write_text("{ not json")
    page.get_by_label("Design file").set_input_files(broken)
    expect(page.get_by_text("This is not a design Wander can read")).to_be_visible()
    mine = tmp_path / "mine.json"
    mine.write_text(json.dumps({**json.loads((samples / "bailer.json").read_bytes()), "name": "Mine"}))
    page.get_by_label("Design file").set_input_files(mine)
    page.wait_for_url("**/design/*")
    expect(page.get_by_label("Name of the design")).to_have_value("Mine")


def test_a_refusal_can_be_read_and_leaves_undo_within_reach(floor: Floor) -> None:
    dimensions = floor.page.get_by_label("Dimensions")
    dimensions.get_by_label("neck", exact=True).fill("40")
    dimensions.get_by_label("neck", exact=True).press("Enter")
    wait_until(lambda: floor.revision == 2)
    dimensions.get_by_label("Name of neck").fill("40")
    dimensions.get_by_label("Name of neck").press("Enter")
    expect(floor.page.get_by_text("can't be the name of a dimension: start with a letter")).to_be_visible()
    assert_accessible(floor.page)
    undo = floor.page.get_by_role("button", name="Undo")
    covered = """(b) => {
      const r = b.getBoundingClientRect();
      return !b.contains(document.elementFromPoint(r.x + r.width / 2, r.y + r.height / 2));
    }"""
    assert not undo.evaluate(covered), "what is said lies below the line at the top"
    undo.click()
    wait_until(lambda: floor.document["dimensions"][1]["value"] == 34.0)


def test_a_design_that_is_not_there_leads_back_to_the_rack(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/design/nothing")
    expect(page.get_by_text("No such design")).to_be_visible()
    page.get_by_role("link", name="To the rack").click()
    expect(page.get_by_role("heading", name="Rack")).to_be_visible()


def view(floor: Floor) -> list[float]:
    raw = floor.page.evaluate(f"sessionStorage.getItem('wander/place/{floor.design}')")
    return json.loads(raw)["view"]["position"] if raw and json.loads(raw)["view"] else []


@pytest.mark.parametrize(("key", "axis", "sign"), [("1", 1, -1), ("2", 0, 1), ("3", 2, 1)])
def test_views_by_number_keys(floor: Floor, key: str, axis: int, sign: int) -> None:
    floor.page.keyboard.press(key)

    def square_on() -> bool:
        here = view(floor)
        aside = [abs(value) for i, value in enumerate(here) if i != axis]
        return len(here) == 3 and sign * here[axis] > 300 and min(aside) < 1.0

    wait_until(square_on)


def test_the_view_and_the_way_of_drawing_survive_a_reload(floor: Floor) -> None:
    floor.page.keyboard.press("2")
    wait_until(lambda: len(view(floor)) == 3 and view(floor)[0] > 300 and abs(view(floor)[1]) < 1.0)
    floor.page.get_by_role("button", name="Wire").click()
    before = view(floor)
    floor.page.reload()
    floor.wait_for_body()
    expect(floor.page.get_by_role("button", name="Wire")).to_have_attribute("aria-pressed", "true")
    assert view(floor) == pytest.approx(before, abs=1e-6)


def test_a_section_is_picked_in_the_scene(floor: Floor) -> None:
    floor.page.locator(".scene-tags").get_by_role("button", name="Section 3, Belly").click()
    expect(floor.page.get_by_label("Name of the step")).to_have_value("Belly")
    expect(floor.page.get_by_label("Build").locator('[data-step="section-6"]')).to_have_attribute("aria-current", "true")


def test_the_body_is_picked_by_clicking_on_it(floor: Floor) -> None:
    box = floor.page.get_by_test_id("scene").bounding_box()
    assert box is not None
    floor.page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(floor.page.get_by_label("Name of the step")).to_have_value("Flask")
    floor.page.keyboard.press("Escape")
    expect(floor.page.get_by_text("Nothing selected")).to_be_visible()


def test_the_kernels_word_is_on_the_sheet(floor: Floor) -> None:
    floor.page.get_by_label("Build").get_by_text("Flask").click()
    expect(floor.page.get_by_label("Sheet")).to_contain_text(re.compile("Watertight.*yes, one solid"))


def test_nothing_serious_stands_in_anybodys_way(floor: Floor, page: Page, server: Server) -> None:
    floor.select("section-8")
    assert_accessible(page)
    floor.drag("section-8", 330)
    expect(page.get_by_label("Build").get_by_text("needs you")).to_be_visible()
    page.get_by_label("Build").get_by_text("Flask").click()
    assert_accessible(page)
    page.get_by_role("button", name="Hand over").click()
    assert_accessible(page)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Undo").click()
    for lane in ("Scale", "Curvature"):
        page.get_by_label("Lanes").get_by_role("button", name=lane).click()
    page.get_by_label("Twist law").locator("..").click()
    page.get_by_role("option", name="straight").click()
    expect(page.get_by_role("slider", name="Twist at 0 %")).to_be_visible()
    assert_accessible(page)
    page.get_by_role("button", name="Free: the end of the body").click()
    assert_accessible(page)
    page.keyboard.press("Escape")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    assert_accessible(page)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Versions").click()
    page.get_by_label("Name of the version").fill("One")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Compare with One")).to_be_visible()
    assert_accessible(page)
    page.get_by_label("Compare with One").click()
    expect(page.get_by_label("Comparison").locator("tr").nth(2)).to_be_visible()
    assert_accessible(page)
    page.goto(server.url)
    expect(page.get_by_role("heading", name="Rack")).to_be_visible()
    assert_accessible(page)


def test_nothing_is_cut_off_at_the_design_size(floor: Floor) -> None:
    floor.select("section-8")
    wide, high = floor.page.evaluate("[document.documentElement.scrollWidth, document.documentElement.scrollHeight]")
    assert (wide, high) == (1280, 800)


@pytest.mark.own_page
def test_a_lost_server_is_told_and_found_again(page: Page, tmp_path: Path) -> None:
    first = Server(tmp_path).start("demo")
    floor = Floor(page, first, first.designs()["Tarn flask"])
    floor.open()
    expect(page.get_by_text("All changes kept")).to_be_visible()
    first.kill()
    expect(page.get_by_text("Looking for the server")).to_be_visible()
    again = Server(tmp_path)
    again.port, again.url = first.port, first.url
    again.client.base_url = first.url
    again.start()
    try:
        expect(page.get_by_text("All changes kept")).to_be_visible()
        floor.server = again
        before = floor.volume
        floor.drag("section-8", 60)
        floor.until_volume(lambda v: abs(v - before) > 500)
    finally:
        again.stop()


def in_the_scene(floor: Floor) -> bool:
    """Whether every numbered section is seen inside the scene."""
    scene = floor.page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    boxes = [tag.bounding_box() for tag in floor.page.get_by_test_id("scene").get_by_role("button", name=re.compile("^Section ")).all()]
    return all(
        box is not None
        and scene["x"] <= box["x"] <= scene["x"] + scene["width"] - box["width"]
        and scene["y"] <= box["y"] <= scene["y"] + scene["height"] - box["height"]
        for box in boxes
    )


def test_the_view_takes_in_what_outgrows_it_unless_somebody_looks_at_a_part(floor: Floor) -> None:
    page = floor.page
    wait_until(lambda: in_the_scene(floor))
    floor.select("section-12")
    before = floor.volume
    floor.type_into("Station at", "420")
    wait_until(lambda: floor.volume != before)
    wait_until(lambda: in_the_scene(floor))
    # from near by: the part that was looked at stays where it is
    scene = page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    page.mouse.move(scene["x"] + scene["width"] / 2, scene["y"] + scene["height"] / 2)
    for _ in range(12):
        page.mouse.wheel(0, -240)
    wait_until(lambda: not in_the_scene(floor))
    before = floor.volume
    floor.type_into("Station at", "500")
    wait_until(lambda: floor.volume != before)
    floor.wait_for_body()
    assert not in_the_scene(floor)


def test_the_pages_keep_to_what_they_may_do(browser: Browser, server: Server) -> None:
    """Without leave to do more: no page, sheet or board asks for anything that the server does not allow."""
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    said: list[str] = []
    page.on("console", lambda message: said.append(message.text) if "Content Security Policy" in message.text else None)
    page.goto(server.url)
    expect(page.get_by_role("listitem").first).to_be_visible()
    floor = Floor(page, server, server.designs()["Tarn flask"])
    floor.open()
    floor.select("section-6")
    page.get_by_role("button", name="Draw on the board").click()
    expect(page.get_by_test_id("paper")).to_have_attribute("aria-busy", "false")
    context.close()
    assert said == []
