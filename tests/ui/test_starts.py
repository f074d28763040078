"""Where the skin of a loft begins on its sections: shown on the selected loft, pulled round the outline, let go by the finding."""

from __future__ import annotations

import pytest
from playwright.sync_api import Locator, expect

from tests.app.server import wait_until
from tests.ui.floor import Floor, pull_grip

LOFT = "loft-13"


def start_of(floor: Floor, name: str) -> Locator:
    return floor.page.get_by_role("button", name=f"Start of {name}", exact=True)


@pytest.fixture
def shown(floor: Floor) -> Floor:
    floor.page.get_by_label("Build").get_by_text("Flask", exact=True).click()
    expect(start_of(floor, "Belly")).to_be_visible()
    return floor


def starts(floor: Floor) -> list[float | None]:
    return [item.get("start") for item in floor.params(LOFT)["sections"]]


def test_a_start_is_pulled_round_its_section_and_the_others_follow(shown: Floor) -> None:
    assert starts(shown) == [None] * 6
    pull_grip(shown.page, start_of(shown, "Belly"), -60, 10)
    wait_until(lambda: starts(shown)[2] is not None)
    kept = starts(shown)
    assert [number for number, start in enumerate(kept) if start is not None] == [2]
    assert 0.02 < (kept[2] or 0) < 0.98
    told = shown.server.client.get(f"/api/designs/{shown.design}").json()
    assert told["revision"] == shown.revision
    shown.page.keyboard.press("Control+z")
    wait_until(lambda: starts(shown) == [None] * 6)


def test_two_starts_apart_wring_the_body_and_the_finding_lets_one_go(shown: Floor) -> None:
    before = shown.revision
    shown.server.edit(
        shown.design,
        before,
        *({"do": "set-param", "step": LOFT, "path": ["sections", number, "start"], "value": share} for number, share in ((1, 0.0), (2, 0.25))),
    )
    card = shown.page.locator('[data-code="wrung"]')
    expect(card).to_be_visible()
    expect(card).to_contain_text("Belly")
    card.get_by_role("button", name="Let it start where the body is wrung least").click()
    wait_until(lambda: starts(shown)[2] is None)
    expect(card).to_have_count(0)


def test_escape_puts_a_start_back(shown: Floor) -> None:
    before = shown.revision
    pull_grip(shown.page, start_of(shown, "Belly"), -60, 10, release=False)
    shown.page.keyboard.press("Escape")
    shown.page.mouse.up()
    assert starts(shown) == [None] * 6
    assert shown.revision == before


def test_only_a_selected_loft_shows_its_starts(shown: Floor) -> None:
    shown.select("section-6")
    expect(start_of(shown, "Belly")).to_have_count(0)
