"""Rails in the browser: made in two clicks, pulled about in the scene, typed, drawn, and met again on the board."""

from __future__ import annotations

import re
from math import hypot
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.app.server import wait_until
from tests.closeness import assert_close
from tests.ui.board import Board
from tests.ui.floor import Floor, pick_edge
from wander.core.design.memory import Memory
from wander.core.design.reading import read_document
from wander.core.design.rebuild import rebuild
from wander.core.results.summaries import BodySummary, RailSummary


def built_length(floor: Floor, rail: str) -> float:
    """The length of a rail as the core builds it from the saved document, mm."""
    saved = read_document(floor.server.client.get(f"/api/designs/{floor.design}/document").content)
    summary = next(b.summary for b in rebuild(saved, Memory()) if b.step == rail)
    assert isinstance(summary, RailSummary)
    return summary.length


def shown_length(page: Page) -> float:
    text = page.get_by_label("Sheet").locator("dt", has_text="Length").locator("xpath=following-sibling::dd").inner_text()
    return float(text.split()[0])


def rails(floor: Floor) -> list[str]:
    return [step["id"] for step in floor.document["steps"] if step["kind"] == "rail"]


def new_rail(floor: Floor, title: str) -> str:
    known = len(rails(floor))
    floor.draw(title)
    wait_until(lambda: len(rails(floor)) > known)
    made = rails(floor)[-1]
    name = next(step["name"] for step in floor.document["steps"] if step["id"] == made)
    expect(floor.page.get_by_label("Sheet").get_by_label("Name of the step")).to_have_value(name)
    return made


def points(floor: Floor, rail: str) -> list[dict[str, object]]:
    found: list[dict[str, object]] = floor.params(rail)["shape"]["points"]
    return found


def pull_grip(page: Page, label: str, by: tuple[float, float], *, release: bool = True) -> None:
    box = page.get_by_test_id("scene").get_by_role("button", name=label, exact=True).bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for i in range(1, 9):
        page.mouse.move(x + by[0] * i / 8, y + by[1] * i / 8)
    if release:
        page.mouse.up()


def test_a_rail_through_the_sections_is_pulled_round_one_typed_and_given_a_handle(floor: Floor) -> None:
    page = floor.page
    rail = new_rail(floor, "Rail through the sections")
    assert [p["on"]["section"]["step"] for p in points(floor, rail)] == [f"section-{2 * i}" for i in range(1, 7)]  # type: ignore[index]
    wait_until(lambda: abs(shown_length(page) - built_length(floor, rail)) < 0.01)
    before = shown_length(page)

    pull_grip(page, "Point 3", (-60, 4), release=False)
    wait_until(lambda: abs(shown_length(page) - before) > 0.5)
    page.keyboard.press("Escape")
    page.mouse.up()
    wait_until(lambda: abs(shown_length(page) - before) < 0.01)

    pull_grip(page, "Point 3", (-60, 4))
    wait_until(lambda: 0.5 < points(floor, rail)[2]["on"]["at"] < 1)  # type: ignore[index, operator]
    wait_until(lambda: abs(shown_length(page) - built_length(floor, rail)) < 0.01)
    assert shown_length(page) > before

    third = page.get_by_role("group", name="Point 3", exact=True)
    third.get_by_label("Way round").fill("1/8")
    third.get_by_label("Way round").press("Enter")
    wait_until(lambda: points(floor, rail)[2]["on"]["at"] == "1/8")  # type: ignore[index]
    third.get_by_role("button", name="Handle").click()
    expect(page.get_by_test_id("scene").get_by_role("button", name="Handle of point 3")).to_be_visible()
    kept = points(floor, rail)[2]["handle"]
    pull_grip(page, "Handle of point 3", (40, 0))
    wait_until(lambda: points(floor, rail)[2]["handle"] != kept)
    wait_until(lambda: abs(shown_length(page) - built_length(floor, rail)) < 0.01)

    # the section that it lies on changes, and the rail with it
    long = shown_length(page)
    belly = page.get_by_label("belly", exact=True)
    belly.fill("90")
    belly.press("Enter")
    wait_until(lambda: abs(shown_length(page) - long) > 0.5)
    wait_until(lambda: abs(shown_length(page) - built_length(floor, rail)) < 0.01)


def test_a_body_follows_its_rail_while_it_is_pulled_and_lets_it_go(floor: Floor, tmp_path: Path) -> None:
    page = floor.page
    plain = floor.settled()
    rail = new_rail(floor, "Rail that guides Flask")
    assert floor.params("loft-13")["rails"] == [{"step": rail}]
    order = [step["id"] for step in floor.document["steps"]]
    assert order.index(rail) < order.index("loft-13")
    held = floor.settled()

    page.get_by_role("group", name="Point 3", exact=True).get_by_role("button", name="Handle").click()
    scene = page.get_by_test_id("scene")
    expect(scene.get_by_role("button", name="Handle of point 3")).to_be_visible()
    floor.settled()
    meshes, kept = scene.get_attribute("data-meshes"), points(floor, rail)[2]["handle"]
    pull_grip(page, "Handle of point 3", (30, 10), release=False)
    wait_until(lambda: scene.get_attribute("data-meshes") != meshes)
    page.mouse.up()
    wait_until(lambda: points(floor, rail)[2]["handle"] != kept)
    pulled = floor.settled()
    assert abs(pulled - held) > 100
    assert_close(pulled, floor.measured_by_command_line(tmp_path), within=1e-6 * pulled)

    # a point is let go and pulled off its section: the miss is told, and one click puts it back
    floor.edit({"do": "set-param", "step": rail, "path": ["shape", "points", 3], "value": {"at": [30.0, 0.0, 131.0]}})
    card = page.locator('[data-code="rail-missed"]').first
    expect(card).to_contain_text("Shoulder")
    card.get_by_role("button", name="Let Rail 1 pass through Shoulder").click()
    wait_until(lambda: points(floor, rail)[3].get("on") is not None)
    expect(page.locator('[data-code="rail-missed"]')).to_have_count(0)

    page.get_by_label("Build").get_by_text("Flask", exact=True).click()
    given = page.get_by_role("group", name="Rails")
    given.get_by_test_id("CancelIcon").or_(given.locator(".MuiChip-deleteIcon")).first.click()
    wait_until(lambda: floor.params("loft-13")["rails"] == [])
    given.get_by_role("combobox").click()
    page.get_by_role("option", name="Rail 1").click()
    wait_until(lambda: floor.params("loft-13")["rails"] == [{"step": rail}])

    # a rail that is removed is let go by the body, which is as it was
    page.get_by_label("Build").get_by_text("Rail 1").first.click()
    page.get_by_label("Sheet").get_by_role("button", name="Remove", exact=True).click()
    wait_until(lambda: not rails(floor))
    assert floor.params("loft-13")["rails"] == []
    assert_close(floor.settled(), plain, within=1e-9 * plain)


def test_a_free_point_goes_where_it_is_pulled_and_onto_a_section_it_comes_near(floor: Floor) -> None:
    page = floor.page
    rail = new_rail(floor, "Rail through the sections")
    page.get_by_role("group", name="Point 4", exact=True).get_by_role("button", name="Let go").click()
    wait_until(lambda: points(floor, rail)[3].get("on") is None)
    start = points(floor, rail)[3]["at"]
    pull_grip(page, "Point 4", (45, -30))
    wait_until(lambda: points(floor, rail)[3]["at"] != start)
    pull_grip(page, "Point 4", (-45, 30))
    wait_until(lambda: points(floor, rail)[3].get("on") is not None)
    assert points(floor, rail)[3]["on"]["section"] == {"step": "section-8"}  # type: ignore[index]


def test_edges_of_the_body_make_a_rail_and_another_edge_is_picked_in_the_scene(floor: Floor) -> None:
    page = floor.page
    rail = new_rail(floor, "Rail along edges of the body")
    # which edge, only the designer knows
    expect(page.get_by_role("status").filter(has_text="Pick an edge of a body")).to_be_visible()
    page.keyboard.press("4")
    # the mouth is the highest ring of the body: its number stands level with it
    number = page.get_by_role("button", name=re.compile("^Section 6, ")).bounding_box()
    scene = page.get_by_test_id("scene").bounding_box()
    assert number is not None
    assert scene is not None
    y = number["y"] + number["height"] / 2
    pick_edge(page, [(number["x"] + step, y) for step in range(40, 90, 3)])
    wait_until(lambda: edge_of(floor, rail) is not None)
    assert edge_of(floor, rail) == "loft-13/end:section-12|loft-13/side"
    assert floor.params(rail)["shape"]["edge"]["hint"][2] == pytest.approx(1.0, abs=0.02)
    wait_until(lambda: abs(shown_length(page) - built_length(floor, rail)) < 0.01)
    mouth = shown_length(page)
    # and another one: the foot, by its name in the list of the chip's own words
    page.get_by_label("Sheet").get_by_role("button", name="Pick Edge in the scene").click()
    foot = page.get_by_role("button", name=re.compile("^Section 1, ")).bounding_box()
    assert foot is not None
    y = foot["y"] + foot["height"] / 2
    pick_edge(page, [(foot["x"] + step, y) for step in range(40, 90, 3)])
    wait_until(lambda: "section-2" in edge_of(floor, rail))
    assert edge_of(floor, rail) == "loft-13/end:section-2|loft-13/side"
    wait_until(lambda: abs(shown_length(page) - built_length(floor, rail)) < 0.01)
    assert shown_length(page) > mouth


def edge_of(floor: Floor, rail: str) -> str:
    part: str = floor.params(rail)["shape"]["edge"]["part"]
    return part


def test_two_rails_drawn_from_two_sides_make_the_one_that_looks_like_both(floor: Floor) -> None:
    page = floor.page
    ends = []
    for side, (low, high) in (("front", ((-30.0, 0.0), (20.0, 150.0))), ("side", ((10.0, 0.0), (40.0, 150.0)))):
        floor.draw(f"Rail drawn from the {side}")
        paper = page.get_by_test_id("paper")
        expect(paper).to_be_visible()
        board = Board.opened(floor, rails(floor)[-1])
        page.get_by_role("button", name="Underlay").click()  # clicks land on the grid, not on the body behind it
        board.tool("Line")
        board.click(low, high)
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Back to the floor").click()
        ends.append((low, high))
    rail = new_rail(floor, "Rail from two drawn rails")
    wait_until(lambda: abs(shown_length(page) - built_length(floor, rail)) < 0.01)
    (a, b), (c, d) = ends
    assert_close(shown_length(page), hypot(b[0] - a[0], d[0] - c[0], b[1] - a[1]), within=0.01)


def test_the_board_of_a_section_marks_where_a_rail_passes(floor: Floor) -> None:
    page = floor.page
    rail = new_rail(floor, "Rail through the sections")
    floor.select("section-6")
    page.get_by_role("button", name="Draw on the board").click()
    board = Board.opened(floor, "section-6")
    mark = page.locator(f'[data-rail="{rail}"]').first
    expect(mark).to_be_visible()
    box = mark.bounding_box()
    assert box is not None
    # the rail passes where the section reaches furthest along x
    wanted = board.on_screen((38.0, 0.0))
    assert abs(box["x"] + box["width"] / 2 - wanted[0]) < 2
    expect(page.get_by_test_id("seen-round")).to_be_attached()


@pytest.mark.parametrize("design", ["bailer"])
def test_rails_are_dragged_onto_the_body_and_their_lane_tells_how_far_it_lies_off(floor: Floor, design: str) -> None:
    page = floor.page
    floor.server.edit(floor.design, 1, {"do": "set-param", "step": "loft-9", "path": ["rails"], "value": []})
    row = page.locator('button[data-step="rail-10"]')
    spout = page.locator('button[data-step="loft-9"]')
    expect(spout).not_to_contain_text("rail")
    row.click()
    hint = page.get_by_label("Sheet").get_by_text("It leads no body yet")
    expect(hint).to_be_visible()
    row.drag_to(spout)
    wait_until(lambda: floor.params("loft-9")["rails"] == [{"step": "rail-10"}])
    row.click()
    expect(page.get_by_label("Sheet").get_by_label("Name of the step")).to_have_value("Right rail")
    expect(hint).to_have_count(0)
    page.locator('button[data-step="rail-12"]').drag_to(page.get_by_test_id("scene"))
    wait_until(lambda: floor.params("loft-9")["rails"] == [{"step": "rail-10"}, {"step": "rail-12"}])
    expect(spout).to_contain_text("2 rails")
    # it has that one
    row.drag_to(spout)
    page.get_by_role("group", name="Lanes").get_by_role("button", name="Rails").click()
    lane = page.get_by_role("group", name="Off the rails lane")
    expect(lane.locator("text")).to_have_text(["0", "0"])
    assert floor.revision == 4
    floor.server.edit(
        floor.design, 4, {"do": "set-param", "step": "loft-9", "path": ["width"], "value": {"type": "linear", "start": 1.0, "end": 1.2}}
    )
    saved = read_document(floor.server.client.get(f"/api/designs/{floor.design}/document").content)
    summary = next(b.summary for b in rebuild(saved, Memory()) if b.step == "loft-9")
    assert isinstance(summary, BodySummary)
    most = max(off for rail in summary.lanes.rails for off in rail if off is not None)
    assert most > 1.0
    expect(lane.locator("text").first).to_have_text(f"{most:.2f}".rstrip("0").rstrip(".") + " mm")
