"""Surfaces in the browser: a bridge with the curvature of what it goes on from, sheets trimmed against each other and sewn, an opening closed."""

from __future__ import annotations

import re
from math import acos, cos, pi, radians, sin, sqrt, tan

from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.core.design.designs import circle, lofted
from tests.core.steps.test_bridge_step import OVAL, two
from tests.core.steps.test_extend_step import highest
from tests.core.steps.test_halves import chain
from tests.ui.floor import Floor, chosen, click_lit, down_the_middle, look, opened, pull_grip, search
from wander.core.document.document import Document


def clicked(floor: Floor, wanted: str, *, upwards: bool = False) -> None:
    """Clicks on the middle line of the scene, from the top down or upwards, until what is wanted is said to be picked."""
    scene = floor.page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    sheet = floor.page.get_by_label("Sheet")
    before = sheet.get_by_text(wanted).count()
    # no further apart than an edge reaches to both sides
    down = range(int(scene["y"]) + 90, int(scene["y"] + scene["height"]) - 20, 15)
    for y in reversed(down) if upwards else down:
        revision = floor.revision
        floor.page.mouse.click(scene["x"] + scene["width"] / 2, y)
        floor.page.evaluate("new Promise(done => setTimeout(() => requestAnimationFrame(done), 300))")
        expect(floor.page.get_by_text("Keeping…")).to_have_count(0)
        if floor.revision > revision:
            # what was picked is said before anything else is clicked
            floor.settled()
        if sheet.get_by_text(wanted).count() > before:
            return
    raise AssertionError(f"{wanted} was not met")


def test_a_bridge_with_the_curvature_of_both_its_neighbours(page: Page, server: Server) -> None:
    floor = opened(page, server, two(circle(40.0), OVAL, foot=circle(30.0)))
    search(page, "bridge between")
    sheet = page.get_by_label("Sheet")
    expect(sheet.get_by_text("waits for the edges at which it begins")).to_be_visible()
    floor.edit(
        *(
            {"do": "set-param", "step": "bridge-60", "path": [side, "edges"], "value": [{"step": body, "part": part}]}
            for side, body, part in (
                ("first", "loft-5", "loft-5/end:section-4|loft-5/side"),
                ("second", "loft-25", "loft-25/end:section-22|loft-25/side"),
            )
        ),
    )
    page.get_by_role("button", name="Done").click()
    expect(sheet.get_by_text("Area of the sheet")).to_be_visible()
    for end in ("From", "To"):
        page.get_by_role("group", name=end, exact=True).get_by_role("button", name="Curved").click()
    expect(sheet.get_by_text("G2", exact=True)).to_have_count(2)
    # straight with nothing to hold it at one end
    page.get_by_role("group", name="To", exact=True).get_by_role("button", name="Straight").click()
    expect(sheet.get_by_text(re.compile(r"^G0 · "))).to_have_count(1)
    page.get_by_role("button", name="Undo").click()
    expect(sheet.get_by_text("G2", exact=True)).to_have_count(2)
    # an early section wider: it still goes on as it should
    floor.page.get_by_label("Build").get_by_text("Rib 2", exact=False).first.click()
    floor.type_into("Diameter", "50")
    page.get_by_label("Build").get_by_text("Bridge 1").click()
    expect(sheet.get_by_text("G2", exact=True)).to_have_count(2)


def test_where_a_bridge_ends_its_run_is_pulled_round_and_its_fullness_out(page: Page, server: Server) -> None:
    bridge = {"first": at_edge("loft-5", 4), "second": at_edge("loft-25", 22)}
    raw = two(circle(40.0), OVAL, foot=circle(30.0)).model_dump(mode="json")
    raw["steps"].append({"id": "bridge-60", "kind": "bridge", "name": "Neck", "params": bridge})
    floor = opened(page, server, {**raw, "next": 61})
    chosen(floor, "Neck")
    area = page.get_by_test_id("volume").last
    expect(page.get_by_test_id("volume")).to_have_count(3)

    def now() -> float:
        return float(area.get_attribute("data-mm2") or "nan")

    before = now()
    mark = page.get_by_role("button", name="Where the bridge ends its run")
    pull_grip(page, mark, -60, 8)
    # turned round against the first run it is another skin
    wait_until(lambda: floor.params("bridge-60").get("start", 0) > 0 and abs(now() - before) > 0.005 * before)
    page.get_by_role("button", name="Undo").click()
    wait_until(lambda: "start" not in floor.params("bridge-60") and abs(now() - before) < 1e-6 * before)
    fuller = page.get_by_role("button", name="Fullness where it begins")
    pull_grip(page, fuller, 0, -30)
    wait_until(lambda: floor.params("bridge-60")["first"].get("fullness", 1.0) != 1.0 and abs(now() - before) > 1e-4 * before)
    page.get_by_role("button", name="Undo").click()
    wait_until(lambda: abs(now() - before) < 1e-6 * before)
    # a click on the mark turns the direction, another one turns it back
    mark.click()
    wait_until(lambda: floor.params("bridge-60").get("against") is True)
    mark.click()
    wait_until(lambda: floor.params("bridge-60").get("against") is False and abs(now() - before) < 1e-6 * before)


def test_the_end_of_an_open_run_is_pulled_to_its_other_end(page: Page, server: Server) -> None:
    raw = crossing_sheets()
    raw["steps"][3]["params"]["shape"] = chain((-20, -40), (20, -40))  # type: ignore[index]
    document = Document.model_validate(raw)
    sides = {
        side: {"edges": [{"step": body, "part": highest(document, body)}], "meets": "position"}
        for side, body in (("first", "extrude-5"), ("second", "extrude-7"))
    }
    raw["steps"].append({"id": "bridge-10", "kind": "bridge", "name": "Deck", "params": sides})  # type: ignore[attr-defined]
    floor = opened(page, server, {**raw, "next": 11})
    chosen(floor, "Deck")
    area = page.get_by_test_id("volume").last

    def flat() -> bool:
        return abs(float(area.get_attribute("data-mm2") or "nan") - 1600) < 1e-3

    wait_until(flat)
    look(page, "Top")
    mark = page.get_by_role("button", name="Where the bridge ends its run")
    scene = page.get_by_test_id("scene").bounding_box()
    assert scene is not None

    def right() -> bool:
        box = mark.bounding_box()
        assert box is not None
        return box["x"] > scene["x"] + scene["width"] / 2

    was = right()
    across = -300 if was else 300
    pull_grip(page, mark, across, 0)
    # run against each other the two edges have a skin between them that is turned half round
    wait_until(lambda: floor.params("bridge-10").get("against") is True and not flat() and right() is not was)
    pull_grip(page, mark, -across, 0)
    wait_until(lambda: floor.params("bridge-10").get("against") is False and flat() and right() is was)
    # not as far as the middle: it stays as it is
    pull_grip(page, mark, across / 10, 0)
    floor.settled()
    assert floor.params("bridge-10").get("against") is False


def at_edge(body: str, section: int) -> dict[str, object]:
    return {"edges": [{"step": body, "part": f"{body}/end:section-{section}|{body}/side"}]}


def test_a_pick_on_the_other_body_is_the_other_end(page: Page, server: Server) -> None:
    floor = opened(page, server, two(circle(40.0), circle(30.0)))
    search(page, "bridge between")
    clicked(floor, "between the end of Hull above at Rib 2 above")
    assert len(floor.params("bridge-60")["first"]["edges"]) == 1
    # the same edge again takes it out; on to the lower body
    clicked(floor, "between the end of Hull at Rib 2")
    wait_until(lambda: len(floor.params("bridge-60")["second"]["edges"]) == 1)
    assert floor.params("bridge-60")["second"]["edges"][0]["step"] == "loft-5"


def crossing_sheets() -> dict[str, object]:
    """Two upright sheets, 40 and 20 mm long, that pass through each other."""
    raw = lofted((0.0, chain((-20, 0), (20, 0)))).model_dump(mode="json")
    steps = raw["steps"][:2]
    steps += [
        {"id": "extrude-5", "kind": "extrude", "name": "First", "params": {"section": {"step": "section-2"}, "distance": 30.0}},
        {"id": "section-6", "kind": "section", "name": "Other", "params": {"station": {"step": "station-1"}, "shape": chain((5, -10), (5, 10))}},
        {"id": "extrude-7", "kind": "extrude", "name": "Second", "params": {"section": {"step": "section-6"}, "distance": 30.0}},
    ]
    return {**raw, "steps": steps, "next": 10}


def click_beside(floor: Floor, x: float) -> None:
    """Click on the sheets seen from the front, so far to the right of their middle, mm, and above the middle."""
    page = floor.page
    look(page, "Front")
    look(page, "Fit")
    scene = page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    page.mouse.click(scene["x"] + scene["width"] / 2 + x * scene["height"] / 60, scene["y"] + scene["height"] * 0.45)


def test_two_sheets_are_trimmed_against_each_other_and_sewn(page: Page, server: Server) -> None:
    floor = opened(page, server, crossing_sheets())
    measures = page.get_by_label("Measures")
    expect(measures.get_by_text("6.00 cm²")).to_be_visible()
    chosen(floor, "First")
    search(page, "trim first by second")
    # all parts are shown until the one that stays is clicked; then another one, and a side
    expect(page.get_by_text("All parts of First stay")).to_be_visible()
    expect(measures.get_by_text("12.00 cm²")).to_be_visible()
    click_beside(floor, -15.0)
    expect(measures.get_by_text("7.50 cm²")).to_be_visible()
    page.get_by_role("button", name="Pick another part").click()
    expect(measures.get_by_text("12.00 cm²")).to_be_visible()
    click_beside(floor, 15.0)
    expect(measures.get_by_text("4.50 cm²")).to_be_visible()
    page.get_by_role("button", name="Behind").click()
    expect(measures.get_by_text("7.50 cm²")).to_be_visible()
    chosen(floor, "Second")
    search(page, "trim second by trimmed")
    page.get_by_role("button", name="Leave it").click()
    page.get_by_role("button", name="Keep what is in front").click()
    expect(measures.get_by_text("3.00 cm²")).to_be_visible()
    search(page, "sew trimmed")
    expect(measures.get_by_text("10.50 cm²")).to_be_visible()
    search(page, "sewn thick")
    floor.until_volume(lambda found: found > 1000)
    expect(page.get_by_label("Sheet").get_by_text("Wall, least")).to_be_visible()


def test_a_sheet_goes_on_at_one_edge_and_then_all_round(page: Page, server: Server) -> None:
    floor = opened(page, server, crossing_sheets())
    measures = page.get_by_label("Measures")
    chosen(floor, "First")
    search(page, "extend first")
    look(page, "Front")
    look(page, "Fit")
    expect(page.get_by_text("waits for an edge of First")).to_be_visible()
    click_lit(page, down_the_middle(page, 5, 50))
    wait_until(lambda: floor.params("extend-10")["edges"])
    page.get_by_role("button", name="Done").click()
    expect(measures.get_by_text("16.00 cm²")).to_be_visible()
    floor.type_into("Distance", "4")
    expect(measures.get_by_text(f"{40 * 34 / 100:.2f} cm²")).to_be_visible()
    page.get_by_role("button", name="Straight").click()
    expect(page.get_by_label("Build").first.get_by_text("at an edge by 4, straight", exact=False)).to_be_visible()
    # corners and all
    page.get_by_label("Sheet").get_by_label("All round").click()
    expect(measures.get_by_text(f"{48 * 38 / 100:.2f} cm²")).to_be_visible()


def test_the_seam_of_two_tapered_sheets_is_rounded_more_and_more(page: Page, server: Server) -> None:
    floor = opened(page, server, crossing_sheets())
    sheets = page.get_by_test_id("volume")

    def area(which: int) -> float:
        return float(sheets.nth(which).get_attribute("data-mm2") or "nan")

    for number, (name, lean) in enumerate((("First", 8), ("Second", 5))):
        chosen(floor, name)
        floor.type_into("Taper", str(lean))
        wait_until(lambda number=number, lean=lean: abs(area(number) - 30 * (40, 20)[number] / cos(radians(lean))) < 1e-3)
    chosen(floor, "First")
    search(page, "trim first by second")
    page.get_by_role("button", name="In front", exact=True).click()
    expect(sheets).to_have_count(2)
    wait_until(lambda: area(0) < 600 or area(1) < 600)
    chosen(floor, "Second")
    search(page, "trim second by trimmed")
    page.get_by_role("button", name="In front", exact=True).click()
    wait_until(lambda: floor.document["steps"][-1]["params"]["keep"] == "front")
    floor.settled()
    wait_until(lambda: area(0) < 600 and area(1) < 600)
    parts = area(0) + area(1)
    search(page, "sew trimmed")
    expect(sheets).to_have_count(1)
    wait_until(lambda: abs(area(0) - parts) < 1e-3)
    search(page, "fillet edges")
    page.get_by_role("button", name="Done").click()
    page.get_by_role("button", name="Meeting").click()
    page.get_by_role("button", name="Let the radius change along them").click()
    for place, radius in ((1, "1"), (2, "4")):
        field = page.get_by_label("Sheet").get_by_label(f"Radius {place}", exact=True)
        field.fill(radius)
        field.press("Enter")
    # beside the edge an arc stands for two lengths; how far it turns there follows from how both lean
    turn = acos(sin(radians(8)) * sin(radians(5)))
    long = 30 * sqrt(1 + tan(radians(8)) ** 2 + tan(radians(5)) ** 2)
    lost = long * 2.5 * (2 * tan(turn / 2) - turn)
    wait_until(lambda: abs(parts - area(0) - lost) < 0.02 * lost)
    expect(page.get_by_label("Build").get_by_text("needs you")).to_have_count(0)


def test_both_openings_are_closed_and_all_of_it_sewn_to_a_body(page: Page, server: Server) -> None:
    raw = lofted((0.0, chain((20, 0), (20, 50)))).model_dump(mode="json")
    raw["steps"][0]["params"]["plane"] = "front"
    pipe = {"id": "revolve-5", "kind": "revolve", "name": "Pipe", "params": {"section": {"step": "section-2"}, "point": [0.0, 0.0]}}
    floor = opened(page, server, {**raw, "steps": [*raw["steps"][:2], pipe], "next": 8})
    for upwards, rim in ((False, "on Rib 1, the other side"), (True, "on Rib 1, one side")):
        search(page, "patch an opening")
        clicked(floor, rim, upwards=upwards)
        page.get_by_role("button", name="Done").click()
        expect(page.get_by_label("Measures").get_by_text(f"{400 * pi / 100:.2f} cm²")).to_have_count(1 + upwards)
    search(page, "sew 3 sheets")
    floor.until_volume(lambda found: abs(found - pi * 400 * 50) < 1e-5 * found)
