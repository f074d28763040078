"""Looking at a section on the board changes nothing; the first change does, and is taken back in one step."""

from __future__ import annotations

import re
from itertools import product
from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.app.server import wait_until
from tests.closeness import assert_close
from tests.core.drawing.drawings import flange
from tests.core.steps.test_sweep_step import line
from tests.ui.board import Board
from tests.ui.floor import Floor
from wander.core.drawing.holds import HOLD_TAKES, MEASURES, fits
from wander.core.drawing.outlines.shapes import foil


@pytest.mark.parametrize(("design", "section"), [("tarn", "section-6"), ("merganser", "section-4"), ("bailer", "section-2")])
def test_looking_changes_nothing(floor: Floor, design: str, section: str) -> None:
    before, revision, volume = floor.document, floor.revision, floor.volume
    board = Board(floor, section)
    expect(board.paper.locator("[data-curve]").first).to_be_visible()
    floor.page.get_by_role("button", name="Back to the floor").click()
    floor.wait_for_body()
    assert floor.revision == revision
    assert floor.document == before
    assert floor.volume == volume
    expect(floor.page.get_by_role("button", name="Undo")).to_be_disabled()


def test_the_first_change_makes_a_drawing_and_undo_gives_the_shape_back(floor: Floor) -> None:
    page, before = floor.page, floor.document
    board = Board(floor, "section-6")
    revision = floor.revision
    board.tool("Circle")
    board.click((0, 0), (5, 0))
    expect(page.get_by_text("Belly is a drawing from now on")).to_be_visible()
    assert floor.revision == revision + 1, "the change and what it needs are one"
    assert floor.params("section-6")["shape"]["type"] == "drawing"
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Undo")).to_be_disabled()
    expect(board.paper).to_have_attribute("aria-busy", "false")
    assert floor.document == before
    page.get_by_role("button", name="Redo").click()
    expect(page.get_by_role("button", name="Redo")).to_be_disabled()
    assert floor.revision == revision + 1, "nothing was made anew over what was taken back"


@pytest.mark.parametrize("design", ["merganser"])
def test_a_foil_stays_a_foil_and_its_numbers_are_typed_on_the_sheet(floor: Floor, design: str) -> None:
    page = floor.page
    board = Board(floor, "section-4")
    area = board.area
    page.get_by_role("button", name="Thickness of foil 1,").click()
    page.keyboard.type("0.2")
    page.keyboard.press("Enter")
    wait_until(lambda: "curves" in floor.params("section-4")["shape"])
    shape = floor.params("section-4")["shape"]
    assert [c["type"] for c in shape["curves"]] == ["foil"]
    assert next(h["value"] for h in shape["holds"] if h["type"] == "length") == "chord", "what was named stays named"
    expect(page.get_by_test_id("freedoms")).to_have_text("Fully held")
    wanted = foil(100.0, 0.2, 0.03, 0.45).area / foil(100.0, 0.13, 0.03, 0.45).area * area
    board.until_area(wanted, within=1e-6 * wanted)
    # what makes no foil is refused in words, and nothing is lost by it
    page.get_by_role("button", name="Thickness of foil 1,").click()
    page.keyboard.type("0.9")
    page.keyboard.press("Enter")
    expect(page.get_by_text("the thickness of a foil lies between 0.0001 and 0.6 of its chord")).to_be_visible()
    board.until_area(wanted, within=1e-6 * wanted)
    # and as a spline it has the few points that were asked for
    board.pick(shape["curves"][0]["id"])
    page.get_by_label("Points", exact=True).fill("10")
    board.act("Make it a spline")
    [spline] = board.shape["curves"]
    assert len(spline["through"]) == 10
    board.until_area(wanted, within=0.01 * wanted)


@pytest.mark.parametrize("design", ["skua"])
def test_the_other_half_lies_under_the_drawing_of_one(floor: Floor, design: str) -> None:
    """As it will be: the mirror image of what is drawn, whatever the body looked like when it was last cut."""
    section = next(step["id"] for step in floor.document["steps"] if step["name"] == "Fore bulkhead")
    Board(floor, section)
    path = floor.page.locator(f'[data-ghost="{section}"]').get_attribute("d") or ""
    image = [tuple(map(float, pair.split())) for pair in re.findall(r"[ML]([^ML]+)", path)]
    with floor.server.live(floor.design) as live:
        drawn = live.step(section)["summary"]["outline"]
    assert max(x for x, _ in drawn) > 100
    assert_close(image, [(-x, y) for x, y in drawn], within=1e-3)


def test_rules_count_in_steps_of_the_grid_that_snaps(floor: Floor) -> None:
    board = Board(floor, "section-8", blank=True)
    step = float(board.page.get_by_text(re.compile("^grid ")).inner_text().split()[1])
    scale = float((board.paper.get_attribute("data-look") or "").split()[2])
    rules = board.page.get_by_test_id("rules")
    ticks = [float(x) for x in re.findall(r"M([\d.e-]+) 0v4", rules.locator("path").get_attribute("d") or "")]
    assert_close(np.diff(ticks), np.full(len(ticks) - 1, step / scale), within=1e-6)
    box = board.paper.bounding_box()
    assert box is not None
    for number in rules.locator("text").all():
        x, y = float(number.get_attribute("x") or 0), float(number.get_attribute("y") or 0)
        across = y == 13
        told = float(number.text_content() or "nan")
        there = board.on_screen((told, 0) if across else (0, told))
        assert abs((there[0] - box["x"] - x + 4) if across else (there[1] - box["y"] - y - 4)) < 0.01
    # without the grid there is nothing to count in
    board.page.get_by_role("button", name="Grid", exact=True).click()
    expect(rules).to_have_count(0)


def test_the_sheet_makes_room_for_what_is_drawn_by_numbers(floor: Floor) -> None:
    board = Board(floor, "section-8", blank=True)
    page = board.page
    look = board.paper.get_attribute("data-look")
    page.keyboard.press("l")
    board.click((0, 0))
    for keys in ("20", "ArrowRight"), ("400", "ArrowUp"):
        assert board.paper.get_attribute("data-look") == look, "the sheet moved though everything was in sight"
        count = len(board.lines)
        for key in keys:
            page.keyboard.type(key) if key.isdigit() else page.keyboard.press(key)
        wait_until(lambda before=count: len(board.lines) > before)  # type: ignore[misc]
        board.settle(floor.revision)
    box = board.paper.bounding_box()
    assert box is not None
    for place in (0.0, 0.0), (20.0, 0.0), (20.0, 400.0):
        x, y = board.on_screen(place)
        assert box["x"] < x < box["x"] + box["width"]
        assert box["y"] < y < box["y"] + box["height"]


@pytest.mark.parametrize("doing", ["nothing", "a line", "a closer look"])
def test_an_empty_sheet_follows_what_lies_under_it_until_something_is_begun(floor: Floor, doing: str) -> None:
    board = Board(floor, "section-8", blank=True)
    page = board.page
    if doing == "a line":
        page.keyboard.press("l")
        board.click((10, 10))
    elif doing == "a closer look":
        page.mouse.move(*board.on_screen((10, 10)))
        page.mouse.wheel(0, -200)
        floor.at_rest("document.querySelector('[data-testid=paper]').dataset.look")
    look = board.paper.get_attribute("data-look") or ""
    page.get_by_role("button", name="Underlay").click()
    far = {"do": "add-step", "kind": "rail", "name": "Far", "params": {"shape": line((300, 0, 100), (300, 0, 160))}}
    floor.edit(far)
    expect(page.locator("[data-rail]")).to_be_attached()
    if doing == "nothing":
        expect(board.paper).not_to_have_attribute("data-look", look)
        box = board.paper.bounding_box()
        assert box is not None
        assert box["x"] < board.on_screen((300, 0))[0] < box["x"] + box["width"]
    else:
        expect(board.paper).to_have_attribute("data-look", look)


@pytest.mark.parametrize(("sides", "folded"), [(24, False), (25, True)])
def test_many_measures_of_one_kind_are_one_line_of_the_list_until_it_is_opened(floor: Floor, sides: int, folded: bool) -> None:
    shape = {"type": "drawing", **flange(sides)}
    floor.edit({"do": "set-param", "step": "section-8", "path": ["shape"], "value": shape})
    board = Board(floor, "section-8")
    rows = board.page.get_by_label("Drawing", exact=True).locator("[data-hold-row]").filter(has_text="Diameter")
    expect(rows).to_have_count(0 if folded else sides)
    if folded:
        board.page.get_by_text(f"Diameter × {sides}").click()
        expect(rows).to_have_count(sides)
    # every number stands on the sheet all the same
    expect(board.page.get_by_role("button", name=re.compile("^Diameter of .*, ⌀"))).to_have_count(sides)


def test_the_number_of_a_small_circle_stands_beside_it_and_of_a_large_one_inside(floor: Floor) -> None:
    shape = flange(12)
    shape["curves"].append({"id": "c99", "type": "circle", "center": shape["curves"][0]["center"], "radius": 25.0})
    shape["holds"].append({"id": "h99", "type": "diameter", "of": ["c99"], "value": 50.0})
    floor.edit({"do": "set-param", "step": "section-8", "path": ["shape"], "value": {"type": "drawing", **shape}})
    board = Board(floor, "section-8")
    expect(board.page.locator("[data-hold]")).to_have_count(13)
    boxes = {}
    for label in board.page.locator("[data-hold]").all():
        box = label.bounding_box()
        assert box is not None
        boxes[label.get_attribute("data-hold")] = (box["x"], box["y"], box["x"] + box["width"], box["y"] + box["height"])
    drawn = board.shape
    for hold in (hold for hold in drawn["holds"] if hold["type"] == "diameter"):
        curve = next(curve for curve in drawn["curves"] if curve["id"] == hold["of"][0])
        center = drawn["points"][curve["center"]]
        (x, y), (edge, _) = board.on_screen(center), board.on_screen((center[0] + curve["radius"], center[1]))
        left, top, right, bottom = boxes[hold["id"]]
        nearest = np.hypot(max(left - x, 0, x - right), max(top - y, 0, y - bottom))
        assert (nearest > edge - x) == (curve["radius"] < 5), f"the number of {curve['id']}"
    for one in boxes:
        for other in boxes:
            (l1, t1, r1, b1), (l2, t2, r2, b2) = boxes[one], boxes[other]
            assert one == other or r1 <= l2 or r2 <= l1 or b1 <= t2 or b2 <= t1, "no number covers another"


def test_numbers_stand_clear_of_what_is_pulled_and_let_clicks_through_in_the_midst_of_drawing(floor: Floor) -> None:
    floor.edit({"do": "set-dimension", "name": "half", "value": 90.0, "kind": "angle"})
    board, page = Board(floor, "section-8", blank=True), floor.page
    points = {"p1": [20.0, 0.0], "p2": [0.0, 0.0], "p3": [0.0, 8.0], "p4": [0.0, -8.0]}
    curves = [{"id": "c1", "type": "line", "start": "p1", "end": "p2"}, {"id": "c2", "type": "circle", "center": "p3", "radius": 3.0}]
    holds = [
        {"id": "h1", "type": "angle", "of": ["c1"], "value": "half * 2"},
        {"id": "h2", "type": "diameter", "of": ["c2"], "value": 6.0},
    ]
    floor.edit(
        {"do": "set-param", "step": "section-8", "path": ["shape"], "value": {"type": "drawing", "points": points, "curves": curves, "holds": holds}}
    )
    number = page.locator('[data-hold="h1"]')
    expect(number).to_have_text(re.compile("half \\* 2 = 180"))
    box = number.bounding_box()
    assert box is not None
    x, y = board.on_screen((20, 0))
    assert not (box["x"] <= x <= box["x"] + box["width"] and box["y"] <= y <= box["y"] + box["height"]), "its begin can be reached for"
    row = page.locator('[data-hold-row="h1"]')
    expect(row.get_by_text("half * 2", exact=True)).to_be_visible()
    expect(row.get_by_text("180°", exact=True)).to_be_visible()
    # what is picked is said to be one length, or several in all
    board.pick("c2")
    picked = page.get_by_role("group", name="Picked", exact=True)
    expect(picked.get_by_text("Length", exact=True)).to_be_visible()
    board.pick("c1", "c2")
    expect(picked.get_by_text("Length in all", exact=True)).to_be_visible()
    page.keyboard.press("Escape")
    # a line that ends where a number lies ends there
    middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    board.tool("Line")
    board.click((-20, -5))
    page.mouse.move(*middle)
    page.mouse.click(*middle)
    wait_until(lambda: len(board.shape["curves"]) == 3)
    expect(page.locator("input[data-hold], input:focus")).to_have_count(0)


ONE_OF_EACH: dict[str, Any] = {
    "points": {
        "p1": [0.0, 0.0], "p2": [40.0, 0.0], "p3": [20.0, 31.0], "p4": [60.0, 10.0], "p5": [75.0, 10.0], "p6": [60.0, 25.0],
        "p7": [-30.0, 20.0], "p8": [-30.0, 55.0], "p9": [-60.0, -20.0], "p10": [-15.0, -22.0], "p11": [70.0, -25.0],
    },
    "curves": [
        {"id": "c1", "type": "line", "start": "p1", "end": "p2"},
        {"id": "c2", "type": "line", "start": "p2", "end": "p3"},
        {"id": "c3", "type": "arc", "center": "p4", "start": "p5", "end": "p6"},
        {"id": "c4", "type": "circle", "center": "p7", "radius": 9.0},
        {"id": "c5", "type": "ellipse", "center": "p8", "width": 30.0, "depth": 14.0},
        {"id": "c6", "type": "foil", "start": "p9", "end": "p10", "thickness": 0.14, "camber": 0.03, "crest": 0.4},
        {"id": "c7", "type": "beside", "of": "c5", "distance": 4.0},
    ],
}  # fmt: skip
BY_LETTER = {"p": ["p11", "p3", "origin"], "l": ["c1", "c2"], "a": ["x-axis"], "r": ["c3", "c4"], "c": ["c3"], "e": ["c5"], "f": ["c6"], "b": ["c7"]}


def test_every_measure_has_its_number_on_the_sheet(floor: Floor) -> None:
    """Of whatever it can be taken."""
    curves = {curve["id"]: SimpleNamespace(**curve) for curve in ONE_OF_EACH["curves"]}
    wanted = ((kind, of) for kind in MEASURES for take in HOLD_TAKES[kind] for of in product(*(BY_LETTER[letter] for letter in take)))
    taken = {(kind, of) for kind, of in wanted if fits(kind, of, curves)}
    holds = [{"id": f"h{i}", "type": kind, "of": list(of), "value": 0.1, "reading": True} for i, (kind, of) in enumerate(sorted(taken), start=1)]
    floor.edit({"do": "set-param", "step": "section-8", "path": ["shape"], "value": {"type": "drawing", **ONE_OF_EACH, "holds": holds}})
    board = Board(floor, "section-8")
    expect(board.page.locator("[data-hold]")).to_have_count(len(holds))
    # until it has been worked out a measure that only tells has nothing to tell
    expect(board.page.locator("[data-hold]", has_text=re.compile(r"^\(\D*\)$"))).to_have_count(0)
