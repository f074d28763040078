"""What is done to bodies after they were shaped, in the browser: blades on a hub, ridges, domes, bores, and the edge round an end."""

from __future__ import annotations

from math import pi
from typing import Any

from playwright.sync_api import Page, expect
from scipy.integrate import quad

from tests.app.server import Server, wait_until
from tests.core.design.designs import circle, lofted
from tests.core.steps.test_band_step import out
from tests.ui.floor import chosen, click_lit, down_the_middle, holds, look, opened, pick_edge, search

ROD = lofted((0.0, circle(40.0)), (100.0, circle(40.0)))


def step(kind: str, number: int, name: str, **params: Any) -> dict[str, Any]:
    return {"id": f"{kind}-{number}", "kind": kind, "name": name, "params": params}


def test_nine_blades_on_a_hub_are_softened_where_they_meet(page: Page, server: Server) -> None:
    long, wide, high, r = 12.0, 4.0, 20.0, 0.8
    slot = {"type": "slot", "length": long, "width": wide}
    steps = [
        step("station", 1, "Ground", plane="top"),
        step("section", 2, "Hub", station={"step": "station-1"}, shape=circle(80.0)),
        step("extrude", 3, "Hub body", section={"step": "section-2"}, distance=8.0),
        # rooted within the hub: where flat faces lie in one plane there is no edge to soften
        step("station", 6, "Root", plane="top", offset=4.0),
        step("section", 4, "Blade", station={"step": "station-6"}, shape=slot, at=[25.0, 0.0]),
        step("extrude", 5, "Blade body", section={"step": "section-4"}, distance=high - 4),
    ]
    floor = opened(page, server, {"format": "wander-design/1", "name": "Rotor", "steps": steps, "next": 7})
    chosen(floor, "Blade body")
    search(page, "repeat blade body round an axis")
    floor.type_into("How many", "9")
    chosen(floor, "Hub body")
    search(page, "join hub body and repeat")
    blade = (long - wide) * wide + pi * wide * wide / 4
    plain = pi * 1600 * 8 + 9 * blade * (high - 8)
    holds(floor, plain)
    search(page, "fillet edges")
    page.get_by_role("button", name="Done").click()
    page.get_by_role("button", name="Meeting").click()
    floor.type_into("Radius", str(r))
    # along the straight sides a prism with a hollow, round the ends what that turns to (Pappus)
    big = wide / 2
    ends = 2 * pi * (r * r * (big + r / 2) - pi * r * r / 4 * (big + r - 4 * r / (3 * pi)))
    sides = 2 * (long - wide) * (1 - pi / 4) * r * r
    holds(floor, plain + 9 * (ends + sides))
    # one blade longer: all nine follow, roundings and all
    chosen(floor, "Blade body")
    floor.type_into("Distance", "22")
    holds(floor, plain + 9 * (ends + sides) + 9 * blade * 6)


def test_a_ridge_runs_round_and_the_ends_are_domed_and_bored(page: Page, server: Server) -> None:
    floor = opened(page, server, ROD)
    search(page, "ridge or groove")
    floor.type_into("Stands out", "2")
    floor.type_into("Shoulders", "6")
    fields = page.get_by_label("Sheet").get_by_label("At", exact=True)
    for field, value in ((fields.first, "30"), (fields.last, "60")):
        field.fill(value)
        field.press("Enter")

    def rod(height: float) -> float:
        return float(quad(lambda z: pi * (20 + out(z, height)) ** 2, 0, 100, points=[30, 36, 54, 60], limit=300)[0])

    holds(floor, rod(2.0))
    floor.type_into("Stands out", "-1.5")
    expect(page.get_by_label("Build").first.get_by_text("groove 1.5 deep round Hull")).to_be_visible()
    holds(floor, rod(-1.5))
    # the end above, picked in the scene
    search(page, "dome a flat end")
    expect(page.get_by_text("needs a flat face")).to_be_visible()
    click_lit(page, down_the_middle(page, 10, 50), lambda lit: lit == "loft-5/end:section-4")
    wait_until(lambda: floor.params("dome-7")["face"].get("part") == "loft-5/end:section-4")
    floor.type_into("Height", "15")
    holds(floor, rod(-1.5) + 2 / 3 * 15 * pi * 400, within=1e-3)
    expect(page.get_by_label("Sheet").get_by_text("All round it")).to_be_visible()


def test_a_bead_runs_round_a_rim_and_follows_it(page: Page, server: Server) -> None:
    """Three quarters of its disc lie outside of the corner: by Pappus, with what the fourth would have taken from their middle."""
    raw = ROD.model_dump(mode="json")
    raw["steps"].append(step("section", 6, "Bead", station={"step": "station-1"}, shape=circle(6.0)))
    floor = opened(page, server, {**raw, "next": 7})
    page.get_by_label("Build").get_by_text("Bead", exact=False).first.click()
    search(page, "run bead round edges")
    expect(page.get_by_role("status").filter(has_text="Pick an edge of a body")).to_be_visible()
    look(page, "Front")
    pick_edge(page, down_the_middle(page, 10, 60))

    def rimmed(big: float) -> float:
        return pi * big**2 * 100 + 2 * pi * (big * 0.75 * pi * 9 + 9)

    holds(floor, rimmed(20.0), within=1e-4)
    floor.select("section-4")
    floor.type_into("Diameter", "44")
    floor.select("section-2")
    floor.type_into("Diameter", "44")
    holds(floor, rimmed(22.0), within=1e-4)


def test_the_edge_round_an_end_is_rounded_at_once_and_follows_a_drag(page: Page, server: Server) -> None:
    rim = {"step": "loft-5", "part": "loft-5/end:section-4|loft-5/side"}
    raw = ROD.model_dump(mode="json")
    raw["steps"].append(step("fillet", 6, "Rim", body={"step": "loft-5"}, sets=[{"edges": [rim], "radius": 5.0}]))
    floor = opened(page, server, {**raw, "next": 7})

    def rounded(long: float, r: float) -> float:
        return pi * 400 * long - 2 * pi * (r * r * (20 - r / 2) - pi * r * r / 4 * (20 - r + 4 * r / (3 * pi)))

    holds(floor, rounded(100.0, 5.0))
    expect(page.get_by_test_id("volume")).to_have_attribute("data-from", "surfaces")
    chosen(floor, "Rim")
    floor.type_into("Radius", "25")
    card = page.locator('[data-code="not-blended"]')
    expect(card).to_contain_text("was found to go")
    card.get_by_role("button", name="Make it").click()
    wait_until(lambda: 15 < floor.params("fillet-6")["sets"][0]["radius"] < 20.01)
    floor.type_into("Radius", "8")
    holds(floor, rounded(100.0, 8.0))
    floor.select("section-4")
    floor.type_into("Station at", "80")
    holds(floor, rounded(80.0, 8.0))


def test_a_bore_goes_through_whatever_the_body_becomes(page: Page, server: Server) -> None:
    raw = ROD.model_dump(mode="json")
    bore = {"section": {"step": "section-6"}, "distance": 5.0, "result": {"type": "cut", "body": {"step": "loft-5"}}}
    raw["steps"] += [
        step("section", 6, "Bore", station={"step": "station-1"}, shape=circle(10.0)),
        step("extrude", 7, "Hole", **bore),
    ]
    floor = opened(page, server, {**raw, "next": 8})
    holds(floor, pi * 400 * 100 - pi * 25 * 5)
    chosen(floor, "Hole")
    page.get_by_label("Sheet").get_by_label("Goes", exact=True).click()
    page.get_by_role("option", name="Past the body").click()
    holds(floor, pi * (400 - 25) * 100)
    expect(page.get_by_label("Build").first.get_by_text("extrude of Bore all through, cut from Hull")).to_be_visible()
    page.keyboard.press("Escape")
    floor.select("section-4")
    floor.type_into("Station at", "130")
    holds(floor, pi * (400 - 25) * 130)
    chosen(floor, "Hole")
    floor.type_into("Wall", "2")
    # only a ring of it is taken away
    holds(floor, pi * (400 - 25 + 9) * 130)


def test_what_is_done_at_one_copy_is_done_at_all(page: Page, server: Server) -> None:
    """A rim is picked on the middle one of three pegs: all three are rounded, five when there are five, one when that is wanted."""
    steps = [
        step("station", 1, "Ground", plane="top"),
        step("section", 2, "Peg outline", station={"step": "station-1"}, shape=circle(40.0), at=[-60.0, 0.0]),
        step("extrude", 3, "Peg", section={"step": "section-2"}, distance=30.0),
    ]
    floor = opened(page, server, {"format": "wander-design/1", "name": "Pegs", "steps": steps, "next": 4})
    chosen(floor, "Peg")
    search(page, "repeat peg along a line")
    floor.type_into("Step x", "60")
    peg, r = pi * 400 * 30, 3.0
    holds(floor, 3 * peg)
    look(page, "Fit")
    search(page, "fillet edges")
    expect(page.get_by_text("waits for an edge of Repeat")).to_be_visible()
    click_lit(page, down_the_middle(page, 40, 60))
    wait_until(lambda: floor.params("fillet-5")["sets"][0]["edges"])
    floor.type_into("Radius", str(r))
    lost = 2 * pi * (r * r * (20 - r / 2) - pi * r * r / 4 * (20 - r + 4 * r / (3 * pi)))
    holds(floor, 3 * (peg - lost))
    page.get_by_role("button", name="Done").click()
    expect(page.get_by_label("Build").first.get_by_text("an edge, on every copy, of", exact=False)).to_be_visible()
    chosen(floor, "Repeat 1")
    floor.type_into("How many", "5")
    holds(floor, 5 * (peg - lost))
    chosen(floor, "Fillet 1")
    page.get_by_label("Sheet").get_by_label("The same on every copy").click()
    holds(floor, 5 * peg - lost)
