"""`make shots`: the pictures of the README, taken of the demo designs at the size the screens are designed for."""

from __future__ import annotations

import json
import re
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from playwright.sync_api import Page, expect
from tests.app.server import Server
from tests.app.worked import worked as worked_design
from tests.as_shaped import SAMPLES, as_shaped
from tests.core.design.designs import circle, lofted
from tests.core.drawing.drawings import flange, graph_of, read
from tests.core.steps.test_blend_steps import rectangle
from tests.core.steps.test_bridge_step import OVAL, two
from tests.ui.board import Board
from tests.ui.browser import CONTEXT, chromium
from tests.ui.floor import Floor, look

from wander.core.drawing.outlines.shapes import foil

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
expect.set_options(timeout=30_000)
FINE = "[...document.querySelectorAll('[data-fine]')].every((scene) => scene.dataset.fine === 'true')"
"""What is drawn in space was drawn from all the pixels that it gets at rest."""
SHEETS = "[...document.querySelectorAll('[aria-label=\"Sheet\"]')].every((sheet) => sheet.innerText.trim())"
"""What is known of what is selected is there: it may still be on its way when everything else is."""
SHOTS: dict[str, Callable[[Page, Server], None]] = {}


def shot(take: Callable[[Page, Server], None]) -> Callable[[Page, Server], None]:
    """The picture is called like the function that sets the scene for it."""
    SHOTS[take.__name__] = take
    return take


@shot
def rack(page: Page, server: Server) -> None:
    page.goto(server.url)
    expect(page.get_by_role("listitem").locator("img")).to_have_count(len(server.designs()))


@shot
def floor(page: Page, server: Server) -> None:
    opened = Floor(page, server, server.designs()["Tarn flask"])
    opened.open()
    opened.select("section-8")


@shot
def wall(page: Page, server: Server) -> None:
    """The flask hollowed, cut open along an axis: its wall is hatched, and colours tell how thick it is."""
    flask = tarn(page, server)
    mouth = {"step": "loft-13", "part": "loft-13/end:section-12"}
    thicker = [{"face": {"step": "loft-13", "part": "loft-13/end:section-2"}, "thickness": 3.6}]
    params = {"body": {"step": "loft-13"}, "thickness": 2.4, "open": [mouth], "own": thicker}
    hollow = {"do": "add-step", "kind": "wall", "name": "Wall", "params": params}
    flask.edit(hollow)
    page.get_by_label("Build").get_by_text("Wall", exact=True).click()
    expect(page.get_by_label("Sheet").get_by_text("Finish", exact=True)).to_be_visible()
    page.get_by_role("button", name="Thickness", exact=True).click()
    page.get_by_role("button", name="Cut open", exact=True).click()
    expect(page.get_by_role("status", name="Area cut")).to_contain_text("cm²")


@shot
def bridge(page: Page, server: Server) -> None:
    """Two ends led over into each other with their curvature, and how far apart they are as a measure with its aim."""
    document = two(circle(40.0), OVAL, foot=circle(30.0)).model_dump(mode="json")
    ends = {
        side: {"edges": [{"step": body, "part": f"{body}/end:{section}|{body}/side"}], "meets": "curvature"}
        for side, body, section in (("first", "loft-5", "section-4"), ("second", "loft-25", "section-22"))
    }
    apart = [{"step": "loft-5", "part": "loft-5/end:section-4"}, {"step": "loft-25", "part": "loft-25/end:section-22"}]
    document["steps"] += [
        {"id": "bridge-40", "kind": "bridge", "name": "Neck", "params": ends},
        {"id": "measure-41", "kind": "measure", "name": "Reach", "params": {"of": {"type": "distance", "parts": apart, "aim": {"target": 40.0}}}},
    ]
    opened = Floor(page, server, server.client.post("/api/designs/file", json={**document, "name": "Bailer neck"}).json()["id"])
    opened.open()
    page.get_by_label("Build").get_by_text("Neck", exact=True).click()
    page.get_by_role("button", name="Stripes", exact=True).click()
    expect(page.get_by_label("Sheet").get_by_text("G2", exact=True)).to_have_count(2)


@shot
def stripes(page: Page, server: Server) -> None:
    """What the skin mirrors, a crease at the shoulder, and how the faces meet there."""
    design = server.client.post("/api/designs/file", content=(as_shaped() / "tarn.json").read_bytes()).json()["id"]
    floor = Floor(page, server, design)
    floor.open()
    floor.select("section-8")
    page.get_by_role("switch", name="Crease at section 4").press("Enter")
    page.get_by_role("button", name="Stripes").click()
    page.get_by_role("button", name="Continuity", exact=True).click()
    page.get_by_role("group", name="Continuity").get_by_role("listitem").filter(has_text="from Shoulder on").first.wait_for()
    page.mouse.move(640, 700)
    floor.settled()


@shot
def hull(page: Page, server: Server) -> None:
    """Half a hull and its mirror image on a keel and a sheer, and how it goes through the middle."""
    floor = Floor(page, server, server.designs()["Skua hull"])
    floor.open()
    floor.settled()
    page.get_by_label("Build").get_by_text("Hull", exact=True).first.click()
    page.get_by_role("button", name="Continuity", exact=True).click()
    page.get_by_role("group", name="Continuity").get_by_role("listitem").filter(has_text="across Middle plane").first.wait_for()
    page.mouse.move(640, 700)


@shot
def combs(page: Page, server: Server) -> None:
    floor = Floor(page, server, server.designs()["Tarn flask"])
    floor.open()
    page.get_by_role("button", name="Combs").click()
    page.wait_for_selector('[data-testid="scene"][data-teeth]:not([data-teeth="0"])')
    page.mouse.move(640, 700)
    floor.settled()


@shot
def run(page: Page, server: Server) -> None:
    opened = Floor(page, server, server.designs()["Merganser blade"])
    opened.open()
    for lane in ("Scale", "Curvature"):
        page.get_by_label("Lanes").get_by_role("button", name=lane).click()
    opened.select("section-6")
    expect(page.get_by_label("Curvature lane")).to_be_visible()


@shot
def compare(page: Page, server: Server) -> None:
    design = server.client.post("/api/designs/file", content=(as_shaped() / "tarn.json").read_bytes()).json()["id"]
    opened = Floor(page, server, design)
    opened.open()
    page.get_by_role("button", name="Versions").click()
    page.get_by_label("Name of the version").fill("Slim shoulder")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Compare with Slim shoulder")).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_label("Dimensions").get_by_label("belly", exact=True).fill("92")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Versions").click()
    page.get_by_label("Compare with Slim shoulder").click()
    expect(page.get_by_label("Comparison").locator("tr").nth(2)).to_be_visible()
    opened.settled()
    server.client.delete(f"/api/designs/{design}")


@shot
def findings(page: Page, server: Server) -> None:
    """A tube that is too thick for the bend that it goes round."""
    raw = json.loads((as_shaped() / "coaming.json").read_bytes())
    raw["steps"] = [step for step in raw["steps"] if step["id"] in ("rail-6", "tube-7")]
    design = server.client.post("/api/designs/file", content=json.dumps(raw)).json()["id"]
    opened = Floor(page, server, design)
    opened.open()
    page.get_by_label("Build").get_by_text("Carrying handle").click()
    page.get_by_label("Sheet").get_by_label("Diameter", exact=True).fill("64")
    page.keyboard.press("Enter")
    expect(page.locator('[data-code="path-too-tight"]')).to_be_visible()
    page.get_by_role("button", name="Fit", exact=True).click()
    server.client.delete(f"/api/designs/{design}")


def tarn(page: Page, server: Server) -> Floor:
    """The flask as a design of its own, to be changed for a picture."""
    data = (as_shaped() / "tarn.json").read_bytes()
    opened = Floor(page, server, server.client.post("/api/designs/file", content=data).json()["id"])
    opened.open()
    return opened


@shot
def board(page: Page, server: Server) -> None:
    """A held drawing of sixty things, and a line under way: its numbers go along with the hand."""
    design = tarn(page, server)
    shape = flange(20)
    held = [("fixed", curve["id"]) for curve in shape["curves"] if curve["type"] != "line"]
    shape["holds"] = [{"id": f"h{i}", "type": kind, "of": [thing]} for i, (kind, thing) in enumerate(held, 1)]
    for circle_ in (curve for curve in shape["curves"] if curve["type"] == "circle"):
        circle_["radius"] = 6.0
    plate = max(graph_of(read(shape)).regions, key=lambda region: region.area)
    drawn = {"type": "drawing", **shape, "use": [plate.name]}
    design.edit({"do": "set-param", "step": "section-8", "path": ["shape"], "value": drawn})
    opened = Board(design, "section-8")
    expect(page.get_by_test_id("freedoms")).to_have_text("Fully held")
    opened.tool("Line")
    opened.click((-20, -10))
    page.mouse.move(*opened.on_screen((14, 10)))
    expect(page.get_by_test_id("ghost")).to_be_visible()


@shot
def board_underlay(page: Page, server: Server) -> None:
    """Half drawn: pencil, the comb of a spline and the rods beside its point, neighbours as ghosts, and what is still wrong."""
    opened = Board(tarn(page, server), "section-8", blank=True)
    opened.tool("Spline")
    opened.click((30, -8), (26, 14), (8, 27), (-16, 24))
    page.keyboard.press("Enter")
    opened.tool("Line")
    opened.click((-16, 24), (-30, 0), (-12, -26))
    page.keyboard.press("Enter")
    opened.tool("Pull and pick")
    page.get_by_role("button", name="Underlay").click()
    opened.pick(next(curve for curve in opened.shape["curves"] if curve["type"] == "spline")["through"][1])
    expect(page.locator("[data-handle]")).to_have_count(3)
    page.mouse.move(*opened.on_screen((6, -28)))


@shot
def rail(page: Page, server: Server) -> None:
    """A rail that guides the body, pulled by a handle."""
    opened = tarn(page, server)
    opened.draw("Rail that guides Flask")
    page.get_by_role("group", name="Point 3", exact=True).get_by_role("button", name="Handle").click()
    expect(page.get_by_test_id("scene").get_by_role("button", name="Handle of point 3")).to_be_visible()
    rail = next(step["id"] for step in opened.document["steps"] if step["kind"] == "rail")
    pulled = {"do": "set-param", "step": rail, "path": ["shape", "points", 2, "handle"], "value": [14.0, 0.0, 26.0]}
    opened.edit(pulled)
    opened.settled()


def worked_body(page: Page, server: Server) -> Floor:
    """A vessel with its collar joined, its bore cut, three in a row."""
    opened = Floor(page, server, server.client.post("/api/designs/file", content=worked_design()).json()["id"])
    opened.open()
    opened.settled()
    return opened


@shot
def worked(page: Page, server: Server) -> None:
    opened = worked_body(page, server)
    page.get_by_label("Build").get_by_text("Extrude 17", exact=True).click()
    expect(opened.field("Distance")).to_be_visible()


@shot
def fillet(page: Page, server: Server) -> None:
    """An upright edge rounded by a radius that changes along it, and all that stands out at the top by another."""
    document = lofted((0.0, rectangle(64.0, 44.0)), (70.0, rectangle(48.0, 34.0))).model_dump(mode="json") | {"name": "Float block"}
    opened = Floor(page, server, server.client.post("/api/designs/file", json=document).json()["id"])
    side = "loft-5/2.bottom+4.bottom|loft-5/2.right+4.right"
    along = [{"at": 0.0, "radius": 3.0}, {"at": 0.5, "radius": 14.0}, {"at": 1.0, "radius": 5.0}]
    params = {"body": {"step": "loft-5"}, "sets": [{"edges": [{"step": "loft-5", "part": side}], "along": along}]}
    server.edit(opened.design, 1, {"do": "add-step", "kind": "fillet", "name": "Soft edge", "params": params})
    opened.open()
    page.get_by_label("Build").get_by_text("Soft edge").click()
    expect(page.get_by_role("group", name="Radii along the edges")).to_be_visible()
    opened.settled()


@shot
def bringing_in(page: Page, server: Server) -> None:
    """A foil from a file lies on the sheet before it is taken: with its chord, turned, where it was pulled to."""
    opened = Board(tarn(page, server), "section-6")
    places = foil(1.0, 0.14, 0.03, 0.4).curve(np.linspace(0, 1, 121))
    data = "vane\n" + "\n".join(f"{x:.7f} {y:.7f}" for x, y in places)
    page.get_by_role("button", name="Bring in").click()
    page.get_by_test_id("curve-file").set_input_files({"name": "vane.dat", "mimeType": "text/plain", "buffer": data.encode()})
    card = page.get_by_label("Bringing in")
    card.get_by_label("Chord (mm)").fill("88")
    card.get_by_label("Turned by (deg)").fill("-14")
    expect(card.get_by_role("button", name="Take it")).to_be_enabled()
    look(page, "Fit")
    opened.pull((20, 0), (24, -8))
    expect(card.get_by_label("x (mm)")).not_to_have_value("")


def rim(page: Page, server: Server, *edits: dict[str, Any]) -> Floor:
    """A coaming of its own, changed."""
    design = server.client.post("/api/designs/file", content=(as_shaped() / "coaming.json").read_bytes()).json()["id"]
    opened = Floor(page, server, design)
    if edits:
        server.edit(design, opened.revision, *edits)
    opened.open()
    return opened


@shot
def sweep(page: Page, server: Server) -> None:
    """A section along a rail in space, twisted on the Run of its path."""
    refs = {"section": {"step": "section-9"}, "path": {"step": "rail-6"}}
    twist = {"type": "points", "points": [{"at": 0.0, "value": 0.0}, {"at": 0.5, "value": 90.0}, {"at": 1.0, "value": 180.0}]}
    made = {"do": "add-step", "kind": "sweep", "name": "Twisted grip", "params": {**refs, "twist": twist}}
    opened = rim(page, server, {"do": "skip-step", "step": "tube-7", "skip": True}, made)
    page.get_by_label("Build").get_by_text("Twisted grip").click()
    expect(page.get_by_role("group", name="Twist lane")).to_be_visible()
    page.keyboard.press("6")
    opened.settled()


@shot
def between(page: Page, server: Server) -> None:
    """A moulding whose feet ride on two closed rails."""
    opened = rim(page, server)
    page.get_by_label("Build").get_by_text("Coaming", exact=True).first.click()
    opened.settled()


@shot
def polygons(page: Page, server: Server) -> None:
    """Four-sided polygons by counts, as the file will hold them."""
    tarn(page, server)
    page.get_by_role("button", name="Hand over").click()
    page.get_by_role("radio", name=re.compile("^OBJ")).click()
    page.get_by_role("button", name="Counted").click()
    expect(page.get_by_test_id("polygons")).to_contain_text("768 with 4 sides")


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, chromium() as browser:
        server = Server(Path(folder), samples=str(SAMPLES)).start("demo")
        try:
            for name, take in SHOTS.items():
                page = browser.new_page(**CONTEXT)
                take(page, server)
                if take is not board_underlay:
                    page.mouse.move(640, 8)
                page.wait_for_load_state("networkidle")
                page.wait_for_function(SHEETS)
                page.wait_for_function(FINE)
                page.screenshot(path=FOLDER / f"{name.replace('_', '-')}.png", animations="disabled")
                page.close()
                print(f"docs/screenshots/{name.replace('_', '-')}.png")
        finally:
            server.stop()


if __name__ == "__main__":
    main()
