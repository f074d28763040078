"""What a step used up is still there to be picked, taken out again by a second click; what waits or failed stands with the body that it works on."""

from __future__ import annotations

from math import pi
from typing import Any

from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.core.design.designs import circle, lofted
from tests.ui.floor import Floor, click_lit, down_the_middle, holds, look, opened, search

ROD = lofted((0.0, circle(40.0)), (100.0, circle(40.0)))
WHOLE = pi * 400 * 100


def rounded(r: float) -> float:
    """What is left when one end of the rod is rounded, by Pappus."""
    return WHOLE - 2 * pi * (r * r * (20 - r / 2) - pi * r * r / 4 * (20 - r + 4 * r / (3 * pi)))


def asking(page: Page, server: Server, words: str, view: str) -> tuple[Floor, str]:
    """The rod seen from a side, with a step found by words that asks for parts of it; its id."""
    floor = opened(page, server, ROD)
    search(page, words)
    look(page, view)
    return floor, str(floor.document["steps"][-1]["id"])


def test_an_edge_is_taken_out_again_where_it_was_before_it_was_rounded(page: Page, server: Server) -> None:
    floor, made = asking(page, server, "fillet edges of hull", "Front")
    # what it waits for is picked on the body, which is read along its length as before
    expect(page.get_by_label("Build").get_by_text("needs you")).to_be_visible()
    expect(page.get_by_test_id("run-length")).to_have_text("100 mm")

    def edges() -> list[dict[str, Any]]:
        return list(floor.params(made)["sets"][0]["edges"])

    there = click_lit(page, down_the_middle(page, 10, 60))
    wait_until(lambda: len(edges()) == 1)
    floor.type_into("Radius", "9")
    holds(floor, rounded(9.0))
    # the edge is drawn where it was, over the rounding
    scene = page.get_by_test_id("scene")
    expect(scene).to_have_attribute("data-picked", "1")
    page.mouse.click(*there)
    wait_until(lambda: edges() == [])
    holds(floor, WHOLE)
    expect(scene).to_have_attribute("data-picked", "0")
    page.mouse.click(*there)
    wait_until(lambda: len(edges()) == 1)
    holds(floor, rounded(9.0))
    expect(scene).to_have_attribute("data-picked", "1")
    page.get_by_role("button", name="Done").click()
    expect(scene).to_have_attribute("data-picked", "0")


def test_an_open_end_is_closed_again_by_a_click_on_the_opening(page: Page, server: Server) -> None:
    floor, made = asking(page, server, "hollow hull", "Top")
    box = page.get_by_test_id("scene").bounding_box()
    assert box is not None
    middle = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.click(*middle)
    wait_until(lambda: len(floor.params(made)["open"]) == 1)
    floor.type_into("Thickness", "2")
    holds(floor, WHOLE - pi * 18**2 * 98)
    expect(page.get_by_test_id("scene")).to_have_attribute("data-picked", "1")
    page.mouse.click(*middle)
    wait_until(lambda: floor.params(made)["open"] == [])
    holds(floor, WHOLE - pi * 18**2 * 96)


def test_a_step_that_failed_goes_without_those_after_it(page: Page, server: Server) -> None:
    raw = ROD.model_dump(mode="json")
    rims = [{"step": "loft-5", "part": f"loft-5/end:section-{n}|loft-5/side"} for n in (2, 4)]
    raw["steps"] += [
        {
            "id": "fillet-6",
            "kind": "fillet",
            "name": "Too much",
            "params": {"body": {"step": "loft-5"}, "sets": [{"edges": [rims[1]], "radius": 60}]},
        },
        {
            "id": "chamfer-7",
            "kind": "chamfer",
            "name": "Foot",
            "params": {"body": {"step": "fillet-6"}, "sets": [{"edges": [{**rims[0], "step": "fillet-6"}], "distance": 3}]},
        },
    ]
    floor = opened(page, server, {**raw, "next": 8})
    build = page.get_by_label("Build")
    expect(build.get_by_text("needs you").first).to_be_visible()
    # all of it is one body in the list
    expect(page.get_by_label("Build").get_by_role("region", name="Hull")).to_contain_text("Foot")
    build.get_by_text("Too much", exact=False).first.click()
    search(page, "remove too much")
    wait_until(lambda: [step["id"] for step in floor.document["steps"]][-1] == "chamfer-7" and len(floor.document["steps"]) == 6)
    # a triangle turned about the axis
    holds(floor, WHOLE - pi * 9 * (20 - 1))


def test_the_sections_of_a_step_that_failed_stay_in_the_scene(page: Page, server: Server) -> None:
    raw = ROD.model_dump(mode="json")
    cut = {"section": {"step": "section-6"}, "distance": 0.0, "result": {"type": "cut", "body": {"step": "loft-5"}}}
    raw["steps"] += [
        {"id": "section-6", "kind": "section", "name": "Bore", "params": {"station": {"step": "station-1"}, "shape": circle(10.0)}},
        {"id": "extrude-7", "kind": "extrude", "name": "Hole", "params": cut},
    ]
    opened(page, server, {**raw, "next": 8})
    expect(page.get_by_label("Build").get_by_text("needs you")).to_be_visible()
    expect(page.get_by_test_id("scene").get_by_role("button", name="Section 1, Bore")).to_be_visible()
    expect(page.get_by_label("Build").get_by_role("region", name="Hull")).to_contain_text("Bore")
