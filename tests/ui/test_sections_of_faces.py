"""A body that goes on from the face of another: its section is what goes round the face, and follows it."""

from __future__ import annotations

from math import pi
from typing import Any

from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.core.design.designs import circle, lofted
from tests.ui.floor import Floor, look, pick_edge
from wander.core.design.memory import Memory
from wander.core.design.rebuild import rebuild
from wander.core.document.document import Document


def test_a_neck_goes_on_from_the_end_of_a_body(page: Page, server: Server) -> None:
    document = lofted((0, circle(50)), (60, circle(36)), between="straight").model_dump(mode="json")
    floor = Floor(page, server, server.client.post("/api/designs/file", json=document).json()["id"])
    floor.open()
    face = {"step": "loft-5", "part": "loft-5/end:section-4"}
    place = {"plane": "top", "place": {"type": "touching", "face": face}}
    floor.edit({"do": "add-step", "kind": "station", "name": "On the end", "params": place})
    page.get_by_label("Build").get_by_text("On the end").click()
    page.get_by_role("button", name="Draw", exact=True).click()
    page.get_by_role("menuitem", name="Round the face that the station touches").click()
    wait_until(lambda: floor.document["steps"][-1]["kind"] == "section")
    rim = floor.document["steps"][-1]
    assert rim["params"]["shape"]["face"]["part"] == face["part"]
    expect(page.get_by_label("Build").get_by_text("round a face")).to_be_visible()

    # what follows from it: a body from the face to a circle further up
    further = {"do": "add-step", "kind": "station", "name": "Far", "params": {"plane": "top", "offset": 100.0}, "alias": "$far"}
    top = {"do": "add-step", "kind": "section", "name": "Top", "params": {"station": {"step": "$far"}, "shape": circle(20)}}
    floor.edit(further, top)
    page.get_by_role("button", name="Shape", exact=True).click()
    page.get_by_role("menuitem", name="Straight loft through 2 free sections").click()
    frustum = pi * 40 * (18**2 + 18 * 10 + 10**2) / 3
    below = pi * 60 * (25**2 + 25 * 18 + 18**2) / 3
    expect(page.get_by_label("Build").get_by_text("straight loft through 2 sections")).to_have_count(2)
    wait_until(lambda: near(volumes(page), [below, frustum]))
    floor.edit({"do": "set-param", "step": "section-4", "path": ["shape", "diameter"], "value": 44.0})
    wider = [pi * 60 * (25**2 + 25 * 22 + 22**2) / 3, pi * 40 * (22**2 + 22 * 10 + 10**2) / 3]
    wait_until(lambda: near(volumes(page), wider))


def test_a_body_goes_on_from_a_loop_of_edges(page: Page, server: Server) -> None:
    """From the edge between two round faces, where no flat face is."""
    document = lofted((0, circle(50)), (60, circle(36)), (100, circle(20)), between="straight").model_dump(mode="json")
    floor = Floor(page, server, server.client.post("/api/designs/file", json=document).json()["id"])
    floor.open()
    floor.settled()
    page.get_by_role("button", name="Place", exact=True).click()
    page.get_by_role("menuitem", name="Station on the top plane").click()
    wait_until(lambda: floor.document["steps"][-1]["kind"] == "station")
    page.get_by_label("Sheet").get_by_label("Placed").click()
    page.get_by_role("option", name="In a loop of edges").click()
    expect(page.get_by_role("status").filter(has_text="Pick an edge of a body")).to_be_visible()
    station = floor.document["steps"][-1]["id"]
    look(page, "Front")
    floor.settled()
    scene = page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    # down along the middle of the body, from below its upper end
    pick_edge(page, [(scene["x"] + scene["width"] / 2, scene["y"] + scene["height"] * down / 100) for down in range(25, 75)])
    wait_until(lambda: (floor.params(station)["place"].get("edge") or {}).get("part") is not None)
    assert floor.params(station)["place"]["edge"]["part"] == middle_edge(document)
    page.get_by_label("Build").get_by_text("Station 1", exact=True).click()
    page.get_by_role("button", name="Draw", exact=True).click()
    page.get_by_role("menuitem", name="Along the edges that the station lies in").click()
    expect(page.get_by_label("Build").get_by_text("along edges")).to_be_visible()
    with server.live(floor.design) as live:
        rim = live.step(floor.document["steps"][-1]["id"])
    assert abs(rim["summary"]["area"] - pi * 18**2) < 1e-3


def middle_edge(document: dict[str, Any]) -> str:
    """The edge at 60 mm, by what the core says of the body."""
    body = next(b.result for b in rebuild(Document.model_validate(document), Memory()) if b.step == "loft-7")
    return next(edge.name for edge in body.edges if abs(edge.curve.points[:, 2] - 60).max() < 1e-6)


def volumes(page: Page) -> list[float]:
    """Of all bodies, as they are told below the scene, mm3."""
    return [float(told.get_attribute("data-mm3") or "nan") for told in page.get_by_test_id("volume").all()]


def near(found: list[float], expected: list[float]) -> bool:
    return len(found) == len(expected) and all(abs(a - b) < 1e-3 * b for a, b in zip(sorted(found), sorted(expected), strict=True))
