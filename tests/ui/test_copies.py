"""A linked copy is placed by hand: pulled to its place, turned and scaled by its rods in the scene, and the body follows."""

from __future__ import annotations

from math import atan2, degrees

from playwright.sync_api import Page, expect

from tests.app.server import Server, wait_until
from tests.core.design.designs import lofted
from tests.core.steps.test_sweep_step import line
from tests.ui.floor import Floor, holds, look, opened, pull_grip

WIDE, DEEP, HIGH = 40.0, 20.0, 60.0
GRIPS = ".scene-grips button"
Spot = tuple[float, float]


def spot(page: Page, label: str) -> Spot:
    """The middle of a grip, pixels."""
    box = page.get_by_test_id("scene").get_by_role("button", name=label, exact=True).bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def resting(floor: Floor, label: str) -> Spot:
    """The middle of a grip once the view has come to rest."""
    floor.at_rest(f"[...document.querySelectorAll('{GRIPS}')].map((grip) => grip.getBoundingClientRect().x)")
    return spot(floor.page, label)


def bring(page: Page, label: str, to: Spot, *, release: bool = True) -> None:
    """Pull a grip to a place on the screen."""
    grip = page.get_by_test_id("scene").get_by_role("button", name=label, exact=True)
    expect(grip).to_be_visible()
    x, y = spot(page, label)
    pull_grip(page, grip, to[0] - x, to[1] - y, release=release)


def with_a_copy(page: Page, server: Server) -> Floor:
    copied = {"type": "copied", "section": {"step": "section-2"}}
    floor = opened(page, server, lofted((0, {"type": "rectangle", "width": WIDE, "depth": DEEP}), (HIGH, copied), between="straight"))
    look(page, "Top")
    floor.select("section-4")
    expect(page.get_by_role("button", name="Place of Rib 2", exact=True)).to_be_visible()
    resting(floor, "Place of Rib 2")
    return floor


def frustum(scale: float) -> float:
    return HIGH / 3 * WIDE * DEEP * (1 + scale + scale**2)


def test_it_is_pulled_to_its_place(page: Page, server: Server) -> None:
    floor = with_a_copy(page, server)
    holds(floor, frustum(1))
    x, y = spot(page, "Place of Rib 2")
    bring(page, "Place of Rib 2", (x + 40, y - 25), release=False)
    page.keyboard.press("Escape")
    page.mouse.up()
    floor.settled()
    assert "at" not in floor.params("section-4")
    bring(page, "Place of Rib 2", (x + 40, y - 25))
    wait_until(lambda: "at" in floor.params("section-4"))
    floor.settled()
    # sheared, it holds as much
    holds(floor, frustum(1))
    across, up = floor.params("section-4")["at"]
    assert across > 1
    assert abs(up / across - 25 / 40) < 0.02
    now = spot(page, "Place of Rib 2")
    assert max(abs(now[0] - x - 40), abs(now[1] - y + 25)) < 3


def test_it_is_scaled_and_turned_by_its_rods(page: Page, server: Server) -> None:
    floor = with_a_copy(page, server)
    middle, end = spot(page, "Place of Rib 2"), spot(page, "Scale of Rib 2")
    # half as long again
    bring(page, "Scale of Rib 2", (end[0] + (end[0] - middle[0]) / 2, end[1] + (end[1] - middle[1]) / 2))
    wait_until(lambda: "scale" in floor.params("section-4")["shape"])
    scale = floor.params("section-4")["shape"]["scale"]
    assert abs(scale - 1.5) < 0.02
    holds(floor, frustum(scale))
    middle = resting(floor, "Place of Rib 2")
    bring(page, "Turn of Rib 2", (middle[0] + 60, middle[1] - 35))
    wait_until(lambda: "turn" in floor.params("section-4"))
    assert abs(floor.params("section-4")["turn"] - degrees(atan2(35, 60))) < 1.5
    # undo takes back one pull
    page.keyboard.press("Control+z")
    holds(floor, frustum(scale))


def test_what_lies_between_rails_has_no_rods(page: Page, server: Server) -> None:
    floor = with_a_copy(page, server)
    adds = [
        {
            "do": "add-step",
            "kind": "rail",
            "name": name,
            "params": {"shape": line((x, 0, 0), (x, 0, HIGH))},
            "alias": f"${name}",
            "before": "section-2",
        }
        for name, x in (("left", -10.0), ("right", 10.0))
    ]
    between = [{"step": "$left"}, {"step": "$right"}]
    floor.edit(*adds, {"do": "set-param", "step": "section-4", "path": ["shape", "rails"], "value": between})
    expect(page.get_by_role("button", name="Place of Rib 2", exact=True)).to_have_count(0)
