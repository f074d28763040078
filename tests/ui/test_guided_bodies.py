"""Bodies on rails, built in the browser from nothing or changed early: a spout on four rails, a blade between its edges, a cover over a hull."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Page, expect
from typer.testing import CliRunner

from tests.app.server import Server, wait_until
from tests.closeness import assert_close
from tests.core.design.designs import circle, lofted
from tests.ui.board import Board
from tests.ui.floor import Floor
from tests.ui.test_rails import new_rail, points
from wander.cli.main import app


@pytest.fixture
def empty(page: Page, server: Server) -> Floor:
    floor = Floor(page, server, server.client.post("/api/designs", json={"name": "From nothing"}).json()["id"])
    floor.arrive()
    expect(page.get_by_text("Nothing here yet")).to_be_visible()
    return floor


def sections(floor: Floor) -> list[str]:
    return [step["id"] for step in floor.document["steps"] if step["kind"] == "section"]


def test_a_spout_on_four_rails_one_of_which_misses(empty: Floor, tmp_path: Path) -> None:
    page = empty.page
    for shape in ("Circle", "Slot"):
        known = len(sections(empty))
        empty.draw(shape)
        wait_until(lambda known=known: len(sections(empty)) > known)
    page.get_by_role("button", name="Shape", exact=True).click()
    page.get_by_role("menuitem", name="Smooth loft through 2 free sections").click()
    empty.wait_for_body()
    loft = next(step["id"] for step in empty.document["steps"] if step["kind"] == "loft")
    plain = empty.settled()
    for number, share in enumerate(("0", "1/4", "1/2", "3/4")):
        rail = new_rail(empty, "Rail that guides Body 1")
        for point in (1, 2):
            field = page.get_by_role("group", name=f"Point {point}", exact=True).get_by_label("Way round")
            if share != "0":
                field.fill(share)
                field.press("Enter")
                wait_until(lambda rail=rail, point=point, share=share: points(empty, rail)[point - 1]["on"]["at"] == share)  # type: ignore[index]
        assert len(empty.params(loft)["rails"]) == number + 1
    assert_close(empty.settled(), empty.measured_by_command_line(tmp_path), within=1e-6 * plain)

    # one is let go, 0.4 mm off the slot, and put back by its repair
    last = points(empty, rail)[1]
    place = np.array(rail_end(empty, rail)) - np.array([0.0, 0.4, 0.0])
    off = {"do": "set-param", "step": rail, "path": ["shape", "points", 1], "value": {"at": place.round(6).tolist()}}
    empty.edit(off)
    card = page.locator('[data-code="rail-missed"]').first
    expect(card).to_contain_text("0.4")
    card.get_by_role("button", name="pass through Slot").click()
    wait_until(lambda: points(empty, rail)[1].get("on") is not None)
    expect(page.locator('[data-code="rail-missed"]')).to_have_count(0)
    assert_close(float(points(empty, rail)[1]["on"]["at"]), 0.75, within=1e-3)  # type: ignore[index, arg-type]
    assert last["on"]["section"] == points(empty, rail)[1]["on"]["section"]  # type: ignore[index]


def rail_end(floor: Floor, rail: str) -> tuple[float, float, float]:
    """Where a rail ends."""
    x, y, z = summary_of(floor, rail)["points"][-1]
    return x, y, z


def summary_of(floor: Floor, step: str) -> dict[str, Any]:
    """As the server tells a window that opens."""
    with floor.server.live(floor.design) as live:
        found: dict[str, Any] = live.step(step)["summary"]
        return found


@pytest.mark.parametrize("design", ["merganser"])
def test_a_blade_between_its_two_edges_follows_its_tip(floor: Floor, design: str, tmp_path: Path) -> None:
    page = floor.page
    plain = floor.settled()
    edges = [new_rail(floor, "Rail that guides Blade")]
    # the second one goes along the noses, half-way round
    edges.append(new_rail(floor, "Rail that guides Blade"))
    there = [{"on": {"section": point["on"]["section"], "at": 0.5 if "at" in point["on"] else 0.0}} for point in points(floor, edges[1])]
    answer = floor.edit({"do": "set-param", "step": edges[1], "path": ["shape", "points"], "value": there})
    assert answer.status_code == 200
    expect(page.locator('[data-code="rail-missed"]')).to_have_count(0)
    held = floor.settled()
    assert_close(held, plain, within=0.05 * plain)
    loft = next(step["id"] for step in floor.document["steps"] if step["kind"] == "loft")
    assert floor.params(loft)["rails"] == [{"step": edge} for edge in edges]
    lip = next(step["id"] for step in floor.document["steps"] if step["name"] == "Lip station")
    floor.edit({"do": "set-param", "step": lip, "path": ["offset"], "value": 380.0})
    wait_until(lambda: abs(floor.settled() - held) > 1e-3 * held)
    assert_close(floor.settled(), floor.measured_by_command_line(tmp_path), within=1e-4 * held)
    # both edges are met all along: the rails' ends lie on the outline of the tip
    for edge in edges:
        assert summary_of(floor, edge)["strays"] < 1e-3


def test_the_mirror_image_of_a_rail_guides_the_body_too_and_follows(page: Page, server: Server) -> None:
    document = lofted((0.0, circle(40.0)), (100.0, circle(40.0))).model_dump(mode="json")
    bulge = [{"on": {"section": {"step": "section-2"}, "at": 0.0}}, {"at": [26.0, 0.0, 50.0]}, {"on": {"section": {"step": "section-4"}, "at": 0.0}}]
    document["steps"].insert(-1, {"id": "rail-9", "kind": "rail", "name": "Flank", "params": {"shape": {"type": "spline", "points": bulge}}})
    document["steps"][-1]["params"] |= {"rails": [{"step": "rail-9"}], "skin": "fair"}
    made = server.client.post("/api/designs/file", json=document | {"next": 20}).json()
    floor = Floor(page, server, made["id"])
    floor.open()
    one_sided = floor.settled()
    assert summary_of(floor, "loft-5")["center"][0] > 0.5
    page.get_by_label("Build").get_by_text("Flank").click()
    floor.draw("Mirror image of Flank")
    wait_until(lambda: len(floor.params("loft-5")["rails"]) == 2)
    assert floor.settled() > one_sided * 1.02
    assert_close(summary_of(floor, "loft-5")["center"][0], 0.0, within=1e-6)
    floor.edit({"do": "set-param", "step": "rail-9", "path": ["shape", "points", 1, "at"], "value": [31.0, 0, 50.0]})
    wait_until(lambda: abs(summary_of(floor, "loft-5")["high"][0] - 31.0) < 0.05)
    assert_close(summary_of(floor, "loft-5")["center"][0], 0.0, within=1e-6)


BOWS = ((2208.0, 180.0), (2500.0, 186.0), (2784.0, 176.0))
"""Where the cover's sections stand along the hull, and how high its sheer is there, mm."""


def bow(sheer: float, crest: float, half: float = 236.0) -> dict[str, object]:
    points = [[-half, sheer], [-0.6 * half, crest - 30], [0.0, crest], [0.6 * half, crest - 30], [half, sheer]]
    return {"type": "spline", "closed": False, "points": points}


def area_on_screen(floor: Floor, body: str) -> float:
    """mm2, once everything is kept."""
    floor.settled()
    return float(floor.page.get_by_test_id(f"measures-{body}").get_by_test_id("volume").get_attribute("data-mm2") or "nan")


def area_by_command_line(floor: Floor, folder: Path, name: str) -> float:
    path = folder / "saved.json"
    path.write_bytes(floor.server.client.get(f"/api/designs/{floor.design}/document").content)
    told = json.loads(CliRunner().invoke(app, ["measure", str(path), "--json"]).stdout)
    return next(float(body["area"]) for body in told["bodies"] if body["name"] == name)


@pytest.mark.parametrize("design", ["skua"])
def test_a_cover_over_the_hull_is_a_sheet_that_follows_its_sections(floor: Floor, design: str, tmp_path: Path) -> None:
    page = floor.page
    edits: list[dict[str, Any]] = []
    for number, (place, sheer) in enumerate(BOWS, start=1):
        station = {"kind": "station", "name": f"Cover {number} station", "params": {"plane": "side", "offset": place}, "alias": f"$s{number}"}
        section = {"kind": "section", "name": f"Cover {number}", "params": {"station": {"step": f"$s{number}"}, "shape": bow(sheer, 330.0)}}
        edits += [{"do": "add-step", **step} for step in (station, section)]
    assert floor.edit(*edits).status_code == 200
    floor.settled()
    known = sections(floor)
    page.get_by_role("button", name="Shape", exact=True).click()
    page.get_by_role("menuitem", name="Smooth loft through 3 free sections").click()
    wait_until(lambda: any(step["kind"] == "loft" and step["id"] != "loft-24" for step in floor.document["steps"]))
    cover = next(step for step in floor.document["steps"] if step["kind"] == "loft" and step["id"] != "loft-24")
    expect(page.get_by_test_id(f"measures-{cover['id']}")).to_contain_text("Area of the sheet")
    assert_close(area_on_screen(floor, cover["id"]), area_by_command_line(floor, tmp_path, cover["name"]), within=1.0)
    expect(page.get_by_label("Sheet").locator('[data-code="sheet"]')).to_be_visible()
    expect(page.get_by_label("Sheet")).to_contain_text("yes, one sheet")
    expect(page.get_by_label("Build").get_by_text("loft through 3 sections, a sheet")).to_be_visible()

    # seen from the side it stands above the hull all along, and comes down to its sheer
    hull, over = (summary_of(floor, step) for step in ("loft-24", cover["id"]))
    assert over["high"][2] > hull["high"][2] + 20
    assert_close(over["low"][2], 176.0, within=3.0)
    assert over["low"][0] > hull["low"][0]
    assert over["high"][0] < hull["high"][0]

    # the middle one is lengthened on the board
    before = area_on_screen(floor, cover["id"])
    page.get_by_label("Build").get_by_text(next(s["name"] for s in floor.document["steps"] if s["id"] == known[-2])).click()
    page.get_by_role("button", name="Draw on the board").click()
    board = Board.opened(floor, known[-2])
    board.pull((236.0, 186.0), (300.0, 150.0))
    page.get_by_role("button", name="Back to the floor").click()
    wait_until(lambda: area_on_screen(floor, cover["id"]) > before * 1.02)
    assert_close(area_on_screen(floor, cover["id"]), area_by_command_line(floor, tmp_path, cover["name"]), within=1.0)
    page.get_by_role("button", name="Undo").click()
    wait_until(lambda: abs(area_on_screen(floor, cover["id"]) - before) < 1.0)
