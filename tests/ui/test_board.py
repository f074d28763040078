"""Jobs on the board, by mouse and keyboard, checked on areas, places and volumes that the core computes."""

from __future__ import annotations

from itertools import combinations, pairwise
from math import hypot, pi
from pathlib import Path
from typing import Any

import numpy as np
from playwright.sync_api import expect

from tests.app.server import wait_until
from tests.ui.board import Board
from tests.ui.floor import Floor
from tests.ui.test_places import assert_accessible
from wander.core.drawing.outlines.shapes import foil


def test_a_slot_is_drawn_to_numbers(floor: Floor) -> None:
    board = Board(floor, "section-8", blank=True)
    # an empty sheet teaches how to begin, and finds no fault
    begin = board.page.get_by_role("region", name="Begin")
    expect(begin).to_contain_text("Digits go to its numbers")
    expect(board.finding("not-closed")).to_have_count(0)
    board.tool("Slot")
    board.click((-20, 0))
    board.type_number("Between centres", "40")
    board.type_number("Width", "belly / 4")
    board.click((20, 0), (0, 15))
    width = 76 / 4
    board.until_area(40 * width + pi * width**2 / 4)
    assert {h["value"] for h in board.shape["holds"] if "value" in h} == {40.0, "belly / 4"}
    expect(board.finding("not-closed")).to_have_count(0)
    # the number on the sheet is typed over, and the body follows
    before = floor.volume
    label = board.page.get_by_role("button", name="Distance of", exact=False).filter(has_text="40")
    label.click()
    board.page.keyboard.type("5 cm")
    board.page.keyboard.press("Enter")
    board.until_area(50 * width + pi * width**2 / 4)
    wait_until(lambda: abs(floor.volume - before) > 100)


def test_half_an_arch_is_mirrored_and_held_symmetric(floor: Floor) -> None:
    board = Board(floor, "section-8", blank=True)
    board.tool("Line")
    board.click((0, -30), (0, 30))
    board.tool("Pull and pick")
    board.pick(board.shape["curves"][0]["id"])
    board.act("Construction")
    board.act("Fixed")
    board.tool("Line")
    board.click((0, -10), (26, -10), (26, 6))
    board.page.keyboard.press("Escape")
    board.tool("Arc by three")
    board.click((26, 6), (0, 26), (18, 20))
    axis, *half = [c["id"] for c in board.shape["curves"]]  # the axis was drawn first: it is line 1
    board.tool("Pull and pick")
    board.pick(*half, axis)
    board.act("Mirror about line 1")
    wait_until(lambda: board.area > 100)
    before = board.area
    corner = next(p for p, at in board.shape["points"].items() if hypot(at[0] - 26, at[1] + 10) < 1e-6)
    board.pull((26, -10), (30, -14))
    wait_until(lambda: abs(board.area - before) > 1)
    points = board.shape["points"]
    partner = next(p for h in board.shape["holds"] if h["type"] == "symmetric" and corner in h["of"] for p in h["of"] if p not in (corner, axis))
    assert np.allclose(points[partner], (-points[corner][0], points[corner][1]), atol=1e-9)


def test_a_foil_is_brought_in_scaled_and_turned(floor: Floor, tmp_path: Path) -> None:
    board = Board(floor, "section-8", blank=True)
    shape = foil(100.0, 0.14, 0.02, 0.4)
    file = tmp_path / "made-up.dat"
    file.write_text("Made up\n" + "\n".join(f"{x:.5f} {y:.5f}" for x, y in shape.curve(np.linspace(0, 1, 121))))
    board.page.get_by_role("button", name="Bring in").click()
    dialog = board.page.get_by_role("dialog", name="Bring in")
    dialog.get_by_test_id("curve-file").set_input_files(file)
    card = board.page.get_by_label("Bringing in")
    expect(card.get_by_role("status")).to_contain_text("points")
    assert_accessible(board.page)
    card.get_by_label("Scaled by").fill("0.62")
    # it lies on the sheet before it is taken, and goes where it is pulled
    expect(card.get_by_role("status")).to_contain_text("62 ×")
    card.get_by_label("Turned by (deg)").fill("-8")
    expect(card.get_by_role("status")).to_contain_text("61.4 ×")
    assert board.shape["curves"] == []
    board.pull((10, 0), (30, -10))
    expect(card.get_by_label("x (mm)")).to_have_value("20")
    expect(card.get_by_label("y (mm)")).to_have_value("-10")
    card.get_by_label("x (mm)").fill("")
    card.get_by_label("y (mm)").fill("")
    card.get_by_role("button", name="Take it").click()
    expect(board.page.get_by_text("within", exact=False).first).to_be_visible()
    board.until_area(shape.area * 0.62**2, within=0.1)
    points = np.array(list(board.shape["points"].values()))
    tail = points[points[:, 0].argmax()]
    assert abs(np.degrees(np.arctan2(tail[1], tail[0])) + 8) < 0.05


def overlap(a: Any, b: Any) -> bool:
    """Whether two boxes on screen cover each other."""
    return all(a[low] < b[low] + b[size] and b[low] < a[low] + a[size] for low, size in (("x", "width"), ("y", "height")))


def test_a_hold_too_many_is_named_and_one_click_takes_it_back(floor: Floor) -> None:
    board = Board(floor, "section-4")
    expect(board.page.get_by_test_id("freedoms")).to_have_text("Fully held")
    before = board.area
    sides = [c["id"] for c in board.shape["curves"] if c["type"] == "line" and not c.get("construction")]
    board.pick(sides[0])
    board.act("Length")
    board.page.get_by_role("button", name=f"Length of {board.called(sides[0])},").click()
    board.page.keyboard.type("50")
    board.page.keyboard.press("Enter")
    finding = board.finding("holds-contradict")
    expect(finding).to_be_visible()
    expect(finding).to_contain_text("length 50")
    expect(finding).to_contain_text("radius 20")
    numbers = [label.bounding_box() for label in board.page.locator("[data-hold]").all()]
    assert len(numbers) == 4
    assert not any(overlap(a, b) for a, b in combinations(numbers, 2)), "no number covers another"
    assert board.snapshot()["loft-13"]["state"] == "waiting"
    board.repair("holds-contradict", "Only read length 50")
    expect(finding).to_have_count(0)
    board.until_area(before)
    assert next(h for h in board.shape["holds"] if h["type"] == "length")["reading"]


def test_a_gap_of_two_hundredths_is_found_and_closed(floor: Floor) -> None:
    chain = {
        "type": "drawing",
        "points": {"p1": [-20, -20], "p2": [20, -20], "p3": [20, 20], "p4": [-20, 20], "p5": [-20, -19.98]},
        "curves": [{"id": f"c{i}", "type": "line", "start": f"p{i}", "end": f"p{i + 1}"} for i in range(1, 5)],
        "next": 6,
    }
    floor.edit({"do": "set-param", "step": "section-8", "path": ["shape"], "value": chain})
    board = Board(floor, "section-8")
    expect(board.finding("gap").first).to_contain_text("0.02 mm")
    board.repair("gap", "Close the gap")
    board.until_area(1600, within=1)
    expect(board.finding("gap")).to_have_count(0)
    board.page.get_by_role("button", name="Undo").click()
    expect(board.finding("gap").first).to_be_visible()


def test_a_traced_edge_follows_its_body(floor: Floor) -> None:
    station = {"do": "add-step", "kind": "station", "name": "Collar", "params": {"plane": "top", "offset": 172.0}, "alias": "$s"}
    shape = {"do": "add-step", "kind": "section", "name": "Collar", "params": {"station": {"step": "$s"}, "shape": {"type": "drawing"}}}
    floor.edit(station, shape)
    section = floor.document["steps"][-1]["id"]
    floor.page.get_by_label("Build").get_by_role("button", name="Collar").last.click()
    floor.page.get_by_role("button", name="Draw on the board").click()
    board = Board.__new__(Board)
    board.floor, board.page, board.section = floor, floor.page, section
    board.paper = floor.page.get_by_test_id("paper")
    board.tool("Trace")
    ring = board.page.locator('[data-trace="loft-13|ring:section-6"]')
    expect(ring).to_have_count(1)
    place = ring.evaluate(
        """(g) => { const path = g.querySelector('path'); const p = path.getPointAtLength(path.getTotalLength() * 0.1)
                    .matrixTransform(path.getScreenCTM()); return [p.x, p.y]; }"""
    )
    board.page.mouse.click(*place)
    corners = (4 - pi) * 24**2
    board.until_area(76**2 - corners, within=0.5)
    floor.edit({"do": "set-dimension", "name": "belly", "value": 70.0})
    board.until_area(70**2 - corners, within=0.5)


def seen_from_the_front(belly: float) -> float:
    """The area that a flask with straight sides covers: its sections as wide as they are, one above the other."""
    stands = [(0, belly - 14), (14, belly - 4), (78, belly), (132, belly - 10), (172, 35), (200, 34)]
    return sum((high - low) * (wide + narrow) / 2 for (low, wide), (high, narrow) in pairwise(stands))


def test_the_outline_of_a_body_is_traced_and_follows_it(floor: Floor) -> None:
    straight = {"do": "set-param", "step": "loft-13", "path": ["between"], "value": "straight"}
    station = {"do": "add-step", "kind": "station", "name": "Side", "params": {"plane": "front", "offset": -60.0}, "alias": "$s"}
    shape = {"do": "add-step", "kind": "section", "name": "Side", "params": {"station": {"step": "$s"}, "shape": {"type": "drawing"}}}
    floor.edit(straight, station, shape)
    section = floor.document["steps"][-1]["id"]
    floor.page.get_by_label("Build").get_by_role("button", name="Side").last.click()
    floor.page.get_by_role("button", name="Draw on the board").click()
    board = Board.opened(floor, section)
    board.tool("Trace")
    expect(board.page.locator('[data-trace="loft-13|outline:seen"]')).to_have_count(1)
    # half-way from belly to shoulder, where the flask has no edge
    x, y = board.on_screen(((38 + 33) / 2, (78 + 132) / 2))
    board.page.mouse.move(x - 3, y)
    board.page.mouse.move(x, y)
    expect(board.paper.get_by_text("outline seen square on")).to_be_visible()
    board.page.mouse.click(x, y)
    board.until_area(seen_from_the_front(76.0), within=4)
    floor.edit({"do": "set-dimension", "name": "belly", "value": 70.0})
    board.until_area(seen_from_the_front(70.0), within=4)


def test_the_body_follows_a_point_and_esc_puts_it_back(floor: Floor) -> None:
    board = Board(floor, "section-6")
    radius = next(h["id"] for h in board.shape["holds"] if h["type"] == "radius")
    board.page.get_by_role("button", name="Drop Radius", exact=False).click()
    wait_until(lambda: all(h["id"] != radius for h in board.shape["holds"]))
    expect(board.page.get_by_test_id("freedoms")).to_have_text("1 freedom left")
    revision, before = floor.revision, floor.volume
    ends = [at for at in board.shape["points"].values() if abs(at[0] - 38) < 1e-6 and at[1] > 0]
    board.pull(tuple(ends[0]), (38, 5), release=False)
    wait_until(lambda: abs(floor.volume - before) > 1000)
    assert floor.revision == revision, "nothing is kept before letting go"
    board.page.keyboard.press("Escape")
    wait_until(lambda: abs(floor.volume - before) < 1)
    board.page.mouse.up()
    assert floor.revision == revision


def test_corners_are_rounded_and_parts_trimmed_by_mouse(floor: Floor) -> None:
    board = Board(floor, "section-8", blank=True)
    board.tool("Rectangle")
    board.click((-25, -15))
    board.type_number("Width", "50")
    board.type_number("Depth", "30")
    board.click((20, 20))
    board.until_area(1500)
    board.tool("Fillet")
    board.type_number("Radius", "6")
    board.click((25, 15))
    board.until_area(1500 - 36 * (1 - pi / 4))
    board.tool("Line")
    board.click((5, -25), (5, 25))
    board.page.keyboard.press("Escape")
    expect(board.finding("which-region")).to_be_visible()
    board.repair("which-region", "Turn the lines inside into construction")
    board.until_area(1500 - 36 * (1 - pi / 4))


def test_an_own_profile_is_kept_and_begun_with_elsewhere(floor: Floor) -> None:
    board = Board(floor, "section-10")
    area = board.area
    board.page.get_by_role("button", name="Bring in").click()
    dialog = board.page.get_by_role("dialog", name="Bring in")
    dialog.get_by_label("Name in the library").fill("Neck ring")
    dialog.get_by_role("button", name="Keep this drawing in the library").click()
    expect(dialog.get_by_role("button", name="Neck ring", exact=True)).to_be_visible()
    dialog.get_by_role("button", name="Close").click()
    board.page.get_by_role("button", name="Back to the floor").click()
    other = Board(floor, "section-8")
    other.page.get_by_role("button", name="Bring in").click()
    dialog.get_by_role("button", name="Neck ring", exact=True).click()
    dialog.get_by_role("button", name="Begin with Neck ring").click()
    other.until_area(area)
    other.page.get_by_role("button", name="Bring in").click()
    dialog.get_by_role("button", name="Moulding in steps").click()
    dialog.get_by_label("Steps").fill("2")
    dialog.get_by_role("button", name="Begin with Moulding in steps").click()
    # two steps of 12: the lower one 40 wide, the upper one two thirds of it
    other.until_area(12 * 40 * (1 + 2 / 3))


def test_everybody_can_use_the_board_and_reload_comes_back_to_it(floor: Floor) -> None:
    board = Board(floor, "section-8")
    assert_accessible(board.page)
    board.page.reload()
    expect(board.paper).to_be_visible()
    expect(board.page.get_by_role("heading", name="Shoulder")).to_be_visible()
    # by keyboard alone: a tool, its numbers, and out again
    board.page.get_by_role("button", name="Circle", exact=True).press("Enter")
    expect(board.page.get_by_label("Tool", exact=True)).to_contain_text("its centre")
    board.page.keyboard.press("Escape")
    board.page.get_by_role("button", name="Bring in").press("Enter")
    expect(board.page.get_by_role("dialog", name="Bring in").get_by_role("button", name="Slot")).to_be_visible()
    assert_accessible(board.page)


def test_a_spline_is_bent_by_its_points(floor: Floor) -> None:
    board = Board(floor, "section-8", blank=True)
    board.tool("Spline")
    board.click((20, 0), (0, 20), (-20, 0), (0, -20), (20, 0))
    wait_until(lambda: board.area > 1000)
    before, curve = board.area, board.shape["curves"][0]
    board.tool("Pull and pick")
    board.pick(curve["through"][1])
    board.act("Make it sharp")
    board.act("Straighten the span after")
    wait_until(lambda: board.area < before - 10)
    board.act("Point after it")
    assert len(board.shape["curves"][0]["through"]) == 5
    point = board.page.get_by_role("group", name="Point 2 of", exact=False)
    point.get_by_label("Direction (deg)").fill("200")
    board.act("Set")
    assert board.shape["curves"][0]["handles"][0]["angle"] == 200
    board.page.keyboard.press("Escape")
    board.pick(curve["id"])
    board.page.get_by_text("Move, turn, scale").click()
    size = board.area
    board.page.get_by_role("group", name="Picked").get_by_label("Scale").fill("0.5")
    board.act("Move them")
    board.until_area(size / 4, within=1e-6 * size)
