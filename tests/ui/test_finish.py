"""What a body is made of and how it looks: chosen on its sheet, seen in the scene, and weighed."""

from __future__ import annotations

import io

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from tests.app.server import wait_until
from tests.ui.floor import Floor


def middle(floor: Floor) -> np.ndarray:
    """The colour in the middle of the scene, where the body stands."""
    box = floor.page.get_by_test_id("scene").bounding_box()
    assert box is not None
    clip = {"x": box["x"] + box["width"] / 2 - 8, "y": box["y"] + box["height"] / 2 - 8, "width": 16, "height": 16}
    return np.asarray(Image.open(io.BytesIO(floor.page.screenshot(clip=clip))).convert("RGB"), dtype=float).mean(axis=(0, 1))


def test_a_body_is_made_of_something_painted_and_weighed(floor: Floor) -> None:
    page = floor.page
    volume = floor.settled()
    plain = middle(floor)
    expect(page.get_by_test_id("mass")).to_have_count(0)
    page.get_by_label("Build").get_by_text("Flask", exact=True).click()
    finish = page.get_by_label("Finish", exact=True)
    finish.get_by_role("combobox").click()
    page.get_by_role("option", name="polyethylene").click()
    expect(page.get_by_test_id("mass")).to_have_text(f"{volume / 1e3 * 0.95:.1f} g")
    finish.get_by_label("Density, g/cm³").fill("0.93")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("mass")).to_have_text(f"{volume / 1e3 * 0.93:.1f} g")
    finish.get_by_label("Density, g/cm³").fill("-4")
    page.keyboard.press("Enter")
    expect(finish.get_by_label("Density, g/cm³")).to_have_attribute("aria-invalid", "true")
    page.keyboard.press("Escape")
    finish.get_by_role("button", name="rust").click()
    wait_until(lambda: bool(middle(floor)[0] > middle(floor)[2] + 40))
    assert abs(plain[0] - plain[2]) < 30, "before it was as pale as bodies are"
    before = scene(floor)
    finish.get_by_label("Gloss").focus()
    for _ in range(10):
        page.keyboard.press("ArrowRight")
    wait_until(lambda: gloss_of(floor) > 0.9)
    wait_until(lambda: bool(np.abs(scene(floor) - before).max() > 25), seconds=10)
    page.reload()
    floor.wait_for_body()
    expect(page.get_by_test_id("mass")).to_have_text(f"{volume / 1e3 * 0.93:.1f} g")
    wait_until(lambda: bool(middle(floor)[0] > middle(floor)[2] + 40))


def scene(floor: Floor) -> np.ndarray:
    data = floor.page.get_by_test_id("scene").screenshot()
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"), dtype=float)


def gloss_of(floor: Floor) -> float:
    return float(next(step["finish"]["gloss"] for step in floor.document["steps"] if step.get("finish")))
