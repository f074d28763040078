"""Pointing at what a step stands on: faces, edges and sections, in the scene and in the Build."""

from __future__ import annotations

import json
from collections.abc import Callable
from functools import partial

import pytest
from playwright.sync_api import Page, WebSocketRoute, expect

from tests.app.server import Server, wait_until
from tests.app.worked import worked
from tests.ui.floor import Floor, click_lit, look


@pytest.fixture
def vessel(page: Page, server: Server) -> Floor:
    """A vessel with a collar and a bore, three in a row."""
    made = server.client.post("/api/designs/file", content=worked()).json()
    floor = Floor(page, server, made["id"])
    floor.open()
    floor.settled()
    return floor


def touching(floor: Floor) -> str:
    """A new station that is to touch a face."""
    page, revision = floor.page, floor.revision
    page.get_by_role("button", name="Place", exact=True).click()
    page.get_by_role("menuitem", name="Station on the top plane").click()
    wait_until(lambda: floor.revision > revision)
    page.get_by_label("Sheet").get_by_label("Placed").click()
    page.get_by_role("option", name="Touching a face").click()
    expect(waiting(page)).to_be_visible()
    station = str(floor.document["steps"][-1]["id"])
    wait_until(lambda: "face" in (floor.params(station).get("place") or {}))
    return station


def waiting(page: Page):
    return page.get_by_role("status").filter(has_text="Pick a face of a body")


def middle(page: Page, across: float = 0.5, down: float = 0.5) -> tuple[float, float]:
    scene = page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    return scene["x"] + scene["width"] * across, scene["y"] + scene["height"] * down


def test_a_face_of_the_finished_body_is_picked_in_the_scene(vessel: Floor) -> None:
    page = vessel.page
    station = touching(vessel)
    # it waits, and nothing is said to be gone that never was
    expect(page.locator('[data-code="nothing-picked"]')).to_be_visible()
    expect(page.get_by_text("that is gone")).to_have_count(0)
    # what is picked is lit before: the view may be on its way to all of the body yet
    vessel.at_rest("document.querySelector('[data-testid=scene]').dataset.meshes")
    x, y = middle(page)
    click_lit(page, [(x + number % 2, y) for number in range(400)])
    wait_until(lambda: vessel.params(station)["place"]["face"].get("part") is not None)
    face = vessel.params(station)["place"]["face"]
    assert face["step"] == "repeat-18"
    assert face["part"].endswith("@repeat-18.2"), "the one in the middle"
    assert all(-0.01 <= share <= 1.01 for share in face["hint"])
    expect(waiting(page)).to_have_count(0)
    expect(page.locator('[data-code="nothing-picked"]')).to_have_count(0)
    with vessel.server.live(vessel.design) as live:
        assert live.step(station)["state"] == "ready"


def test_a_click_beside_everything_picks_nothing_and_can_be_left(vessel: Floor) -> None:
    page = vessel.page
    station = touching(vessel)
    revision = vessel.revision
    page.mouse.click(*middle(page, 0.03, 0.6))
    page.get_by_label("Sheet").get_by_role("button", name="Leave it").click()
    expect(waiting(page)).to_have_count(0)
    assert vessel.revision == revision
    assert vessel.params(station)["place"]["face"].get("part") is None
    # and is asked for again by the button beside the chip
    page.get_by_label("Sheet").get_by_role("button", name="Pick Face in the scene").click()
    expect(waiting(page)).to_be_visible()


def test_a_section_is_picked_in_the_build_and_only_earlier_ones_are_answers(vessel: Floor) -> None:
    page = vessel.page
    build = page.get_by_role("navigation", name="Build")
    build.get_by_text("Extrude 14", exact=True).click()
    page.get_by_label("Sheet").get_by_role("button", name="Pick Drawing in the scene").click()
    asking = page.get_by_role("status").filter(has_text="Pick a section")
    expect(asking).to_be_visible()
    revision = vessel.revision
    # the bore's drawing comes later than the collar
    build.get_by_text("Section 16").first.click()
    build.get_by_text("Extrude 14", exact=True).click()
    expect(asking).to_be_visible()
    build.get_by_text("Section 4").first.click()
    wait_until(lambda: vessel.params("extrude-14")["section"]["step"] == "section-4")
    expect(asking).to_have_count(0)
    assert vessel.revision == revision + 1, "the click before it changed nothing"
    assert vessel.params("extrude-17")["section"] == {"step": "section-16"}


PLACES = "[...document.querySelectorAll('.scene-tags button')].map((tag) => tag.getBoundingClientRect().x)"


@pytest.mark.own_page
def test_a_design_that_is_opened_is_seen_whole(page: Page, server: Server) -> None:
    """The first body comes before the others do: in the end there is nothing that fitting all into view would change."""
    made = server.client.post("/api/designs/file", content=worked()).json()
    with server.live(made["id"]) as live:
        live.until(lambda e: (e["type"] == "done" and e["exact"]) or (e["type"] == "snapshot" and e["complete"]))
    held: list[Callable[[], None]] = []

    def slowly(channel: WebSocketRoute) -> None:
        def heard(message: str | bytes) -> None:
            event = json.loads(message) if isinstance(message, str) else {}
            if event.get("type") == "snapshot" and not held:
                held.append(partial(channel.send, message))
                known = [step for step in event["steps"] if int(step["id"].rsplit("-", 1)[1]) <= 11]
                message = json.dumps({**event, "steps": known, "standing": ["loft-11"], "complete": False})
            channel.send(message)

        channel.connect_to_server().on_message(heard)

    page.route_web_socket("**/live", slowly)
    floor = Floor(page, server, made["id"])
    floor.open()
    alone = floor.at_rest(PLACES)
    held[0]()
    floor.settled()
    opened = floor.at_rest(PLACES)
    assert len(opened) == len(alone) >= 5
    look(page, "Fit")
    assert floor.at_rest(PLACES) == pytest.approx(opened, abs=3)
