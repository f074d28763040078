"""What is seen of a design: bodies put out of sight, through their skin, and square on to a plane."""

from __future__ import annotations

import io
import json

import numpy as np
from PIL import Image
from playwright.sync_api import Page, Route, expect

from tests.app.server import Server, wait_until
from tests.ui.floor import Floor, until_asked


def opened(page: Page, server: Server) -> Floor:
    floor = Floor(page, server, server.designs()["Merganser blade"])
    floor.open()
    return floor


def eye(floor: Floor) -> np.ndarray:
    """The direction from what is looked at to the eye, as the page keeps it."""
    view = json.loads(floor.page.evaluate(f"sessionStorage.getItem('wander/place/{floor.design}')") or "{}").get("view")
    if view is None:
        return np.zeros(3)
    way = np.subtract(view["position"], view["target"])
    return way / np.linalg.norm(way)


def test_a_body_is_put_out_of_sight_and_comes_back(page: Page, server: Server) -> None:
    floor = opened(page, server)
    scene = page.get_by_test_id("scene")
    shown = scene.get_attribute("data-meshes")
    assert shown
    page.get_by_role("button", name="Hide Blade").focus()
    page.keyboard.press("Enter")
    expect(scene).to_have_attribute("data-meshes", "")
    expect(page.get_by_role("button", name="Show Blade")).to_be_visible()
    page.reload()
    expect(page.get_by_role("button", name="Show Blade")).to_be_visible()  # it stays as it was left
    assert floor.volume > 0  # and is there all the same
    page.keyboard.press("v")
    page.keyboard.press("a")
    expect(scene).to_have_attribute("data-meshes", shown)


def test_square_on_to_the_plane_of_a_section(page: Page, server: Server) -> None:
    floor = opened(page, server)
    floor.select("section-6")
    page.get_by_role("button", name="Square on").click()
    wait_until(lambda: bool(abs(eye(floor)[2]) > 0.999))  # its station lies flat: it is seen from straight above
    page.keyboard.press("1")
    wait_until(lambda: bool(eye(floor)[1] < -0.99))
    page.keyboard.press("5")
    wait_until(lambda: bool(abs(eye(floor)[2]) > 0.999))


def test_the_paper_is_seen_through_the_skin(page: Page, server: Server) -> None:
    opened(page, server)
    scene = page.get_by_test_id("scene")

    def from_paper() -> float:
        """How far the middle of the picture is from the paper behind it."""
        picture = np.asarray(Image.open(io.BytesIO(scene.screenshot())).convert("RGB"), dtype=float)
        high, wide, _ = picture.shape
        middle = picture[high // 2 - 20 : high // 2 + 20, wide // 2 - 10 : wide // 2 + 10].reshape(-1, 3)
        paper = picture[high // 2 - 20 : high // 2 + 20, 60:80].reshape(-1, 3).mean(axis=0)
        return float(np.median(np.linalg.norm(middle - paper, axis=1)))

    solid = from_paper()
    page.get_by_role("button", name="See through").click()
    expect(page.get_by_role("button", name="See through")).to_have_attribute("aria-pressed", "true")
    wait_until(lambda: from_paper() < 0.7 * solid)
    page.get_by_role("button", name="Edges").click()
    wait_until(lambda: from_paper() > 0.9 * solid)


def skin(floor: Floor) -> int:
    """Pixels of the scene that have the colour of the skin: cooler than the paper, and darker."""
    box = floor.page.get_by_test_id("scene").bounding_box()
    assert box is not None
    seen = np.array(Image.open(io.BytesIO(floor.page.screenshot(clip=box))).convert("RGB")).astype(int)
    return int(np.sum((seen[..., 1] >= seen[..., 0] - 2) & (seen[..., 1] < 215) & (seen[..., 1] > 90)))


def test_the_body_is_cut_open_and_the_area_is_that_of_the_section(floor: Floor) -> None:
    page = floor.page
    floor.select("section-6")
    whole = skin(floor)
    page.get_by_role("button", name="Cut open", exact=True).click()
    panel = page.get_by_role("group", name="Cut open")
    area = panel.get_by_role("status", name="Area cut")
    expect(area).to_contain_text("cm²")
    wait_until(lambda: skin(floor) < whole / 2)  # what is cut through is hatched paper
    panel.get_by_role("button", name="Belly", exact=True).click()
    with floor.server.live(floor.design) as live:
        steps = {step["id"]: step for step in live.until(lambda e: e["type"] == "snapshot")["steps"]}
    belly = f"{steps['section-6']['summary']['area'] / 100:.2f} cm²"
    expect(area).to_have_text(belly)
    panel.get_by_role("slider", name="How far").focus()
    for _ in range(5):
        page.keyboard.press("ArrowRight")
    expect(area).not_to_have_text(belly)
    expect(area).to_contain_text("cm²")
    panel.get_by_role("button", name="Close the cut").click()
    expect(panel).to_have_count(0)
    wait_until(lambda: skin(floor) > 0.9 * whole)
    page.keyboard.press("c")
    page.keyboard.press("z")
    expect(panel.get_by_role("button", name="z", exact=True)).to_have_attribute("aria-pressed", "true")


def test_a_shape_that_comes_late_does_not_take_the_place_of_a_newer_one(floor: Floor) -> None:
    page = floor.page
    late: list[Route] = []
    page.route("**/api/meshes/**", lambda route: late.append(route) if not late else route.continue_())
    page.reload()
    until_asked(page, lambda: late)
    floor.edit({"do": "set-param", "step": "station-7", "path": ["offset"], "value": 120.0})
    floor.wait_for_body()
    floor.settled()
    shown = "document.querySelector('[data-testid=scene]').dataset.meshes"
    newest = floor.at_rest(shown)
    with page.expect_response("**/api/meshes/**"):
        late[0].continue_()
    assert floor.at_rest(shown) == newest
