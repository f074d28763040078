"""Sweeps and tubes in the browser: along edges that are picked, upright on a climbing rail, out of a bend that is too tight."""

from __future__ import annotations

import re
from math import cos, hypot, pi, sin, sqrt
from typing import Any

import numpy as np
from playwright.sync_api import Page, Route, expect
from scipy.integrate import quad

from tests.app.server import Server, wait_until
from tests.core.design.designs import circle
from tests.core.steps.test_sweep_step import BAR, line
from tests.ui.board import Board
from tests.ui.floor import Floor, click_lit, down_the_middle, look, pick_edge, search, until_asked

GROOVED = {
    "type": "drawing",
    "points": {"p1": [0, 0], "p2": [8, 0], "p3": [8, 3], "p4": [5, 3], "p5": [5, 2], "p6": [3, 2], "p7": [3, 3], "p8": [0, 3]},
    "curves": [{"id": f"c{i}", "type": "line", "start": f"p{i}", "end": f"p{i % 8 + 1}"} for i in range(1, 9)],
    "next": 20,
}
"""A bar of 8 by 3 with a groove of 2 by 1 in its top."""
CORNERS = {"p1": [-10, -10], "p2": [10, -10], "p3": [10, 10], "p4": [-10, 10]}
SQUARE = {
    "type": "drawing",
    "points": CORNERS,
    "curves": [{"id": f"c{i}", "type": "line", "start": f"p{i}", "end": f"p{i % 4 + 1}"} for i in range(1, 5)],
    "next": 20,
}


def opened(page: Page, server: Server, *steps: tuple[str, str, dict[str, Any]]) -> Floor:
    """A design of steps of one kind, name and parameters each; a station in the top plane comes first. It may have no body yet."""
    all_steps = [("station", "Ground", {"plane": "top"}), *steps]
    raw = [{"id": f"{kind}-{i}", "kind": kind, "name": name, "params": params} for i, (kind, name, params) in enumerate(all_steps, start=1)]
    made = server.client.post("/api/designs/file", json={"format": "wander-design/1", "name": "Swept", "steps": raw, "next": len(raw) + 1})
    assert made.status_code == 201, made.text
    floor = Floor(page, server, made.json()["id"])
    floor.arrive()
    expect(page.get_by_label("Build").get_by_text("Profile", exact=False).first).to_be_visible()
    return floor


def profile(shape: dict[str, Any]) -> tuple[str, str, dict[str, Any]]:
    return "section", "Profile", {"station": {"step": "station-1"}, "shape": shape}


def rail(shape: dict[str, Any], name: str = "Way") -> tuple[str, str, dict[str, Any]]:
    return "rail", name, {"shape": shape}


def shape(floor: Floor, title: str) -> str:
    """What the menu makes; its id."""
    known = len(floor.document["steps"])
    floor.page.get_by_role("button", name="Shape", exact=True).click()
    floor.page.get_by_role("menuitem", name=title, exact=True).click()
    wait_until(lambda: len(floor.document["steps"]) > known)
    return str(floor.document["steps"][-1]["id"])


def near(floor: Floor, expected: float, share: float = 1e-4) -> None:
    volume = floor.page.get_by_test_id("volume").last  # of the body that was made last
    wait_until(lambda: abs(float(volume.get_attribute("data-mm3") or "nan") - expected) < share * expected)


def test_a_grooved_section_round_a_loop_of_edges_that_follows_its_body(page: Page, server: Server) -> None:
    disc = ("section", "Disc", {"station": {"step": "station-1"}, "shape": circle(80.0)})
    floor = opened(page, server, profile(GROOVED), disc, ("extrude", "Block", {"section": {"step": "section-3"}, "distance": 30.0}))
    floor.wait_for_body()
    floor.draw("Rail along edges of the body")
    expect(page.get_by_role("status").filter(has_text="Pick an edge of a body")).to_be_visible()
    look(page, "Front")
    pick_edge(page, down_the_middle(page, 20, 80))
    page.get_by_label("Build").get_by_text("Profile").click()
    made = shape(floor, "Sweep Profile along Rail 1")
    # its middle rides on the edge
    near(floor, 2 * pi * 40 * 22)
    page.get_by_label("Build").get_by_role("button", name="1 Disc").click()
    floor.type_into("Diameter", "100")
    page.get_by_label("Build").get_by_text("sweep of Profile").click()
    near(floor, 2 * pi * 50 * 22)
    assert floor.params(made)["path"]["step"] == "rail-5"


def test_a_bead_round_every_block_of_a_row_and_along_further_edges(page: Page, server: Server) -> None:
    block = ("extrude", "Block", {"section": {"step": "section-2"}, "distance": 30.0})
    copies = ("repeat", "Row", {"body": {"step": "extrude-3"}, "count": 3, "way": {"type": "line", "by": [50.0, 0.0, 0.0]}})
    floor = opened(page, server, profile(SQUARE), block, copies)
    floor.wait_for_body()
    search(page, "rail along edges of the body")
    pick_edge(page, down_the_middle(page, 20, 90))
    expect(page.get_by_label("Build").get_by_text("round every copy")).to_be_visible()
    sheet = page.get_by_label("Sheet")
    expect(sheet.get_by_text("80 mm")).to_be_visible()
    shape(floor, "Tube along Rail 1")
    floor.type_into("Diameter", "3")
    floor.type_into("Rounded by", "5")
    bead = pi * 1.5**2 * (4 * 10 + 2 * pi * 5)
    beads = page.get_by_test_id("volume").last

    def grown(to: float) -> None:
        wait_until(lambda: abs(float(beads.get_attribute("data-mm3") or 0) - to) < 1e-3 * to)

    grown(3 * bead)
    # the lower rim too, picked on whichever block is met
    page.get_by_label("Build").get_by_text("Rail 1,").click()
    sheet.get_by_role("button", name="Pick").nth(1).click()
    click_lit(page, [(x, y) for x, y in down_the_middle(page, 40, 95)], lambda lit: "near" in lit and "far" not in lit)
    expect(sheet.get_by_text("160 mm")).to_be_visible()
    page.keyboard.press("Escape")
    grown(6 * bead)
    # on one block alone
    sheet.get_by_role("switch", name="The same on every copy").click()
    grown(2 * bead)
    page.get_by_role("button", name="Undo").click()
    grown(6 * bead)


def test_a_grab_rail_stays_upright_and_is_twisted_on_its_run(page: Page, server: Server) -> None:
    climbing = line((0, 0, 0), (60, 20, 20), (120, 0, 50))
    floor = opened(page, server, profile(BAR), rail(climbing))
    made = shape(floor, "Sweep Profile along Way")
    floor.wait_for_body()
    square = floor.settled()
    page.get_by_role("button", name="Upright").click()
    wait_until(lambda: floor.params(made).get("attitude") == "upright")
    # what stays upright goes level: its volume is that of the way seen from above
    flat = floor.until_volume(lambda volume: volume < 0.97 * square)
    above = opened(page, server, profile(BAR), rail(line((0, 0, 0), (60, 20, 0), (120, 0, 0))))
    shape(above, "Sweep Profile along Way")
    above.wait_for_body()
    assert abs(above.settled() / flat - 1) < 5e-3
    # the Run is as long as the path, and its lane of twist turns the body without changing how much it holds
    floor.open()
    page.get_by_label("Build").get_by_text("sweep of Profile").click()
    expect(page.get_by_role("group", name="Twist lane")).to_be_visible()
    run = float(page.get_by_test_id("run-length").inner_text().split()[0])
    assert run > hypot(120, 50)


def test_what_rides_on_the_path_is_pressed_in_a_picture_of_the_section(page: Page, server: Server) -> None:
    """Along a quarter of a ring the volume goes with how far out the middle of the section runs (Pappus)."""
    bend = line(*[(80 - 80 * cos(t), 0, 80 * sin(t)) for t in np.linspace(0, pi / 2, 13)])
    floor = opened(page, server, profile({"type": "rectangle", "width": 20.0, "depth": 10.0}), rail(bend))
    made = shape(floor, "Sweep Profile along Way")
    floor.wait_for_body()
    near(floor, 200 * pi / 2 * 80, share=1e-3)
    picture = page.get_by_role("radiogroup", name="On the path rides")
    expect(picture.get_by_role("radio", name="Its middle")).to_be_checked()
    # the edge that lies outside rides, the one inside, a corner by the keyboard, a place that is pressed, and the middle again
    for name, out in (("Middle of the left edge", 70), ("Middle of the right edge", 90)):
        picture.get_by_role("radio", name=name).click()
        near(floor, 200 * pi / 2 * out, share=1e-2)  # the rail is let go at its ends, where it bends less than a ring
        expect(picture.get_by_role("radio", name=name)).to_be_checked()
        wait_until(lambda: floor.params(made)["rides"] == "point")
    picture.get_by_role("radio", name="Corner 1").press("Enter")
    wait_until(lambda: [abs(at) for at in floor.params(made)["point"]] == [10.0, 5.0])
    box = picture.bounding_box()
    assert box is not None
    # half-way from its middle to the left edge: pictures are drawn to one scale in both directions
    wide = picture.get_by_role("radio", name="Middle of the left edge").bounding_box()
    assert wide is not None
    x = (wide["x"] + wide["width"] / 2 + box["x"] + box["width"] / 2) / 2
    page.mouse.click(x, box["y"] + box["height"] / 2)
    wait_until(lambda: abs(floor.params(made)["point"][0] + 5) < 0.3 and abs(floor.params(made)["point"][1]) < 0.3)
    near(floor, 200 * pi / 2 * (80 + floor.params(made)["point"][0]), share=1e-2)
    picture.get_by_role("radio", name="Its middle").click()
    near(floor, 200 * pi / 2 * 80, share=1e-3)
    wait_until(lambda: floor.params(made)["rides"] == "centre")


def test_a_tube_too_tight_for_its_bend_is_mended_in_one_click(page: Page, server: Server) -> None:
    bent = line((0, 0, 0), (60, 0, 0), (60, 60, 0), sharp=True)
    floor = opened(page, server, profile(circle(5.0)), rail(bent))
    page.get_by_label("Build").get_by_text("Way").click()
    made = shape(floor, "Tube along Way")
    floor.wait_for_body()
    near(floor, 25 * pi * (120 - 2 * 10 + 5 * pi))
    floor.type_into("Diameter", "30")
    card = page.get_by_label("Sheet").get_by_text("bends tighter than the section reaches")
    expect(card).to_be_visible()
    page.get_by_role("button", name="Round the corners by 15.8 mm").click()
    expect(card).to_have_count(0)
    near(floor, 225 * pi * (120 - 2 * 15.8 + pi / 2 * 15.8))
    wait_until(lambda: floor.params(made).get("radius") == 15.8)  # what is shown may be ahead of what is kept
    floor.type_into("Wall", "2")
    near(floor, (225 - 169) * pi * (120 - 2 * 15.8 + pi / 2 * 15.8))


def test_a_moulding_mitred_round_a_corner_follows_its_length(page: Page, server: Server) -> None:
    corner = line((0, 0, 0), (100, 0, 0), (100, 70, 0), sharp=True)
    floor = opened(page, server, profile(GROOVED), rail(corner))
    shape(floor, "Sweep Profile along Way")
    floor.wait_for_body()
    near(floor, 22 * 170, 1e-6)
    points = floor.params("rail-3")["shape"]["points"]
    points[2]["at"] = [100, 90, 0]
    floor.edit({"do": "set-param", "step": "rail-3", "path": ["shape", "points"], "value": points})
    near(floor, 22 * 190, 1e-6)
    page.get_by_role("button", name="Rounded").click()
    near(floor, 22 * (190 - 20 + 5 * pi), 1e-5)
    page.get_by_role("button", name="Undo").click()
    near(floor, 22 * 190, 1e-6)


def test_a_hole_that_is_drawn_into_a_section_asks_for_the_area_again(page: Page, server: Server) -> None:
    floor = opened(page, server, profile(SQUARE), rail(line((0, 0, 0), (60, 0, 0))))
    made = shape(floor, "Sweep Profile along Way")
    floor.wait_for_body()
    near(floor, 400 * 60)
    page.get_by_label("Build").get_by_role("button", name="1 Profile").click()
    page.get_by_role("button", name="Draw on the board").click()
    board = Board.opened(floor, "section-2")
    board.tool("Circle")
    board.click((0.0, 0.0), (5.0, 0.0))
    expect(board.finding("which-region")).to_be_visible()
    page.get_by_role("button", name="Back to the floor").click()
    # the old body stays to be seen, and is said to be the old one; nothing is swept of an area that nobody chose
    expect(page.get_by_label("Build").get_by_text("Waiting", exact=False).first).to_be_visible()
    page.get_by_label("Build").get_by_role("button", name="1 Profile").click()
    page.get_by_role("button", name=re.compile(r"Use the area of 321\.5 mm²")).click()
    near(floor, (400 - 25 * pi) * 60, 1e-6)
    wait_until(lambda: floor.params(made)["section"] == {"step": "section-2"})


def test_a_strip_along_an_offset_outline_has_holes_through_it(page: Page, server: Server) -> None:
    """Bent round a circle of 40, 8 outside of it; drilled along x by an extrude, along y by a sweep."""
    drawn = {"type": "drawing", "points": {"p1": [0, 0]}, "curves": [{"id": "c1", "type": "circle", "center": "p1", "radius": 40.0}], "next": 10}
    outline = ("rail", "Outline", {"station": {"step": "station-1"}, "shape": drawn})
    strip = {"type": "rectangle", "width": 2.0, "depth": 6.0}
    floor = opened(page, server, profile(strip), outline)
    page.get_by_label("Build").get_by_text("Outline").first.click()
    page.get_by_role("button", name="Draw on the board").click()
    board = Board.opened(floor, "rail-3")
    before = floor.revision
    board.tool("Offset")
    board.type_number("Distance", "8")
    board.pick("c1")
    wait_until(lambda: floor.revision > before)
    board.tool("Pull and pick")
    page.keyboard.press("Escape")
    board.pick("c1")
    board.act("Construction")
    page.get_by_role("button", name="Back to the floor").click()
    page.get_by_label("Build").get_by_text("Profile").first.click()
    made = shape(floor, "Sweep Profile along Outline")
    floor.wait_for_body()
    whole = 2 * pi * 48 * 12
    near(floor, whole, 1e-6)

    drill = {"type": "circle", "diameter": 3.0}
    ahead = [
        {"do": "add-step", "kind": "station", "name": "Bench", "params": {"plane": "side"}},
        {"do": "add-step", "kind": "section", "name": "Drill", "params": {"station": {"step": "station-5"}, "shape": drill}},
        {"do": "add-step", "kind": "rail", "name": "Bore", "params": {"shape": line((0, 0, 0), (0, 60, 0))}},
    ]
    floor.edit(*ahead)
    page.get_by_label("Build").get_by_text("Drill").first.click()
    search(page, f"makes cut from {floor.named(made)}")
    bored = shape(floor, "Extrude Drill")
    floor.type_into("Distance", "60")
    hole = 2 * quad(lambda y: 2 * sqrt(2.25 - y * y) / 2 * (sqrt(49**2 - y * y) - sqrt(47**2 - y * y)), -1.5, 1.5)[0]
    near(floor, whole - hole, 1e-5)
    page.get_by_label("Build").get_by_text("Drill").first.click()
    search(page, f"makes cut from {floor.named(bored)}")
    shape(floor, "Sweep Drill along Bore")
    near(floor, whole - 2 * hole, 1e-5)


def test_a_rail_turned_along_an_oval_rim_is_made_smooth_at_its_top(page: Page, server: Server) -> None:
    oval = {"type": "ellipse", "width": 40.0, "depth": 20.0}
    floor = opened(page, server, profile(oval), rail(line((20, 0, 0), (16, 0, 20), (0, 0, 30)), "Side"))
    page.get_by_label("Build").get_by_text("Side").first.click()
    made = shape(floor, "Turn Side round an axis")
    floor.wait_for_body()
    round_ = floor.settled()
    sheet = page.get_by_label("Sheet")
    sheet.get_by_role("combobox", name="Begins on").click()
    page.get_by_role("option", name="Profile").click()
    # half as deep as it is wide at every height
    near(floor, round_ / 2, 1e-5)
    expect(sheet.get_by_text("is pinched at the axis")).to_be_visible()
    page.get_by_role("button", name="Let it arrive square to the axis").click()
    expect(sheet.get_by_text("is pinched at the axis")).to_have_count(0)
    assert floor.until_volume(lambda volume: volume > 1.02 * round_ / 2) > 0
    assert floor.params(made)["first"] == {"step": "section-2"}


def test_tubes_along_several_rails_are_parted_and_changed_one_by_one(page: Page, server: Server) -> None:
    left, right = (rail(line((0, y, 0), (100, y, 0)), name) for y, name in ((0, "Left"), (40, "Right")))
    floor = opened(page, server, profile(circle(5.0)), left, right)
    made = shape(floor, "Tube along 2 rails")
    floor.wait_for_body()
    near(floor, 2 * 25 * pi * 100, 1e-6)
    floor.type_into("Diameter", "20")
    near(floor, 2 * 100 * pi * 100, 1e-6)
    search(page, "part tube 1 into one")
    wait_until(lambda: len(floor.document["steps"]) == 6)
    assert floor.named("tube-6") == "Tube 1 along Right"
    near(floor, 100 * pi * 100, 1e-6)
    page.get_by_label("Build").get_by_text("Tube 1 along Right").click()
    floor.type_into("Diameter", "8")
    near(floor, 16 * pi * 100, 1e-6)
    # it is seen before it is kept
    wait_until(lambda: floor.params("tube-6")["diameter"] == 8)
    assert floor.params(made)["paths"] == [{"step": "rail-3"}]


def test_angular_tubes_are_turned_and_their_edges_told_by_their_rail(page: Page, server: Server) -> None:
    floor = opened(page, server, profile(SQUARE), rail(line((0, 0, 0), (0, 0, 60)), "Left"), rail(line((60, 0, 0), (60, 0, 60)), "Right"))
    made = shape(floor, "Tube along 2 rails")
    page.get_by_label("Outline").click()
    page.get_by_role("option", name="hexagon").click()
    floor.type_into("Diameter", "20")
    floor.type_into("Turned by", "30")
    floor.type_into("Twist in all", "60")
    near(floor, 2 * 6 / sqrt(3) * 100 * 60, 1e-3)
    assert floor.params(made)["outline"] == "hexagon"
    search(page, "fillet edges of tube 1")
    click_lit(page, [(x - 200 + 10 * n, y) for x, y in down_the_middle(page, 45, 46) for n in range(40)])
    expect(page.get_by_label("Sheet").get_by_text(re.compile("the side of Tube 1 along (Left|Right), side"))).to_be_visible()
    # a number says nothing of a round one
    page.get_by_label("Build").get_by_text("Tube 1").first.click()
    page.get_by_label("Outline").click()
    page.get_by_role("option", name="round").click()
    for told in ("Turned by", "Twist in all"):
        expect(page.get_by_label(told)).to_have_count(0)


def test_an_action_is_made_of_what_the_change_before_it_leaves(page: Page, server: Server) -> None:
    """The body shows a typed number before the answer comes that it is kept; what is asked for in between goes by the number too."""
    left, right = (rail(line((0, y, 0), (100, y, 0)), name) for y, name in ((0, "Left"), (40, "Right")))
    floor = opened(page, server, profile(circle(5.0)), left, right)
    shape(floor, "Tube along 2 rails")
    floor.wait_for_body()
    held: list[Route] = []
    page.route("**/edits", lambda route: route.continue_() if held else held.append(route))
    floor.type_into("Diameter", "20")
    near(floor, 2 * 100 * pi * 100, 1e-6)
    search(page, "part tube 1 into one")
    until_asked(page, lambda: held)
    assert len(held) == 1
    held[0].continue_()
    expect(page.get_by_label("Build").get_by_text("Tube 1 along Right")).to_be_visible()
    assert floor.params("tube-6")["diameter"] == 20
    near(floor, 100 * pi * 100, 1e-6)
