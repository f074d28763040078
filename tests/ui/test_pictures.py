"""A reference picture in the browser: laid on a station, scaled by two places, pulled, faded and locked."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PIL import Image
from playwright.sync_api import expect

from tests.app.server import wait_until
from tests.closeness import assert_close
from tests.ui.board import Board
from tests.ui.floor import Floor


def picture(floor: Floor) -> dict[str, Any]:
    found = [step["params"] for step in floor.document["steps"] if step["kind"] == "picture"]
    return {"at": [0.0, 0.0], "width": 100.0, "fade": 0.5, "locked": False, **found[-1]} if found else {}


def test_a_picture_is_scaled_pulled_faded_and_locked(floor: Floor, tmp_path: Path) -> None:
    page = floor.page
    sketch = tmp_path / "sketch.png"
    Image.new("RGB", (200, 100), (120, 160, 150)).save(sketch)
    floor.select("section-6")
    page.get_by_role("button", name="Draw on the board").click()
    board = Board.opened(floor, "section-6")
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Picture", exact=True).click()
    chooser.value.set_files(sketch)
    image = page.locator("[data-picture]")
    expect(image).to_be_visible()
    volume = floor.volume

    # ten mm of the picture are meant to be fifteen, counted from the first of the two places
    page.get_by_role("button", name="Underlay").click()
    page.get_by_role("button", name="Scale by two places").click()
    board.click((-20.0, 0.0), (20.0, 0.0))
    board.type_number("Distance", "2 * 30 mm").press("Enter")
    wait_until(lambda: abs(picture(floor)["width"] - 150.0) < 1e-3)
    assert_close(picture(floor)["at"], [10.0, 0.0], within=1e-3)

    page.get_by_role("button", name="Underlay").click()
    box = image.bounding_box()
    assert box is not None
    scale = float((board.paper.get_attribute("data-look") or "").split()[2])
    assert_close([box["width"] * scale, box["height"] * scale], [150.0, 75.0], within=0.5)
    board.pull((45.0, -30.0), (55.0, -10.0))
    wait_until(lambda: abs(picture(floor)["at"][1]) > 1)
    assert_close(picture(floor)["at"], [20.0, 20.0], within=scale + 0.01)

    side = page.get_by_label("Drawing", exact=True)
    side.get_by_role("slider").focus()
    page.keyboard.press("ArrowRight")
    wait_until(lambda: abs(picture(floor)["fade"] - 0.55) < 1e-9)
    side.get_by_role("button", name="Lock", exact=True).click()
    wait_until(lambda: picture(floor)["locked"])
    kept = picture(floor)["at"]
    board.pull((45.0, -10.0), (40.0, 0.0))
    assert picture(floor)["at"] == kept
    assert floor.volume == volume, "a picture is no part of the body"

    page.get_by_role("button", name="Back to the floor").click()
    floor.settled()
    assert picture(floor)["at"] == kept, "nothing came of the pull afterwards either"
    expect(page.get_by_label("Build").first.get_by_text("Picture 1")).to_be_visible()


def test_what_is_no_picture_is_refused_in_words(floor: Floor, tmp_path: Path) -> None:
    page = floor.page
    broken = tmp_path / "broken.png"
    broken.write_bytes(b"\x89PNG\r\n\x1a\n and nothing more")
    page.get_by_role("button", name="Place", exact=True).click()
    with page.expect_file_chooser() as chooser:
        page.get_by_role("menuitem", name="Reference picture on the station").click()
    chooser.value.set_files(broken)
    expect(page.get_by_text("This file can't be used")).to_be_visible()
    assert not picture(floor)
