"""Between two rails in the browser: three ways to grow, square to a spine, and corners that are out of step."""

from __future__ import annotations

from math import cos, dist, pi, sqrt

from playwright.sync_api import Page, expect
from scipy.integrate import quad

from tests.app.server import Server, wait_until
from tests.core.design.designs import built
from tests.core.steps.test_sweep_step import BAR, HELIX, line
from tests.ui.floor import Floor, look, pull_grip
from tests.ui.test_sweeps import near, opened, profile, rail, shape
from wander.core.document.document import Document


def choose(floor: Floor, group: str, way: str) -> None:
    floor.page.get_by_role("group", name=group).get_by_role("button", name=way).click()


def test_in_proportion_then_width_only_then_by_a_curve_then_square_to_a_spine(page: Page, server: Server) -> None:
    left, right = rail(line((0, -4, 0), (100, -12, 0)), "Left"), rail(line((0, 4, 0), (100, 12, 0)), "Right")
    spine = rail(line((20, 0, 0), (80, 0, 0)), "Spine")
    floor = opened(page, server, profile(BAR), spine, left, right)
    made = shape(floor, "Profile between Left and Right")
    floor.wait_for_body()
    near(floor, 48 * 100 * (64 + 192 + 576) / 192)
    choose(floor, "With the width grows", "Nothing")
    near(floor, 48 * 100 * 2)
    # by a curve: the height has a lane of its own on the Run
    page.get_by_role("button", name="Scale", exact=True).click()
    page.get_by_label("Height law").locator("..").click()
    page.get_by_role("option", name="straight").click()
    wait_until(lambda: (floor.params(made).get("height") or {}).get("type") == "linear")
    floor.edit({"do": "set-param", "step": made, "path": ["height", "end"], "value": 0.5})
    near(floor, 48 * 100 * (1 + 3 / 4 - 1 / 3))
    choose(floor, "With the width grows", "The height")
    choose(floor, "Rails are paired by", "Spine")
    expect(page.get_by_label("Sheet").get_by_text("has no spine")).to_be_visible()
    page.get_by_label("Sheet").get_by_role("combobox", name="Spine").click()
    page.get_by_role("option", name="Spine").click()
    near(floor, 48 * 60 * (11.2**2 + 11.2 * 20.8 + 20.8**2) / 192)
    # what it does not reach is told, and where
    expect(page.get_by_label("Sheet").get_by_text("does not reach the ends of its rails")).to_be_visible()


def test_corners_out_of_step_are_paired(page: Page, server: Server) -> None:
    """The corners of two chains lie at other shares of their lengths: by length each has its crease, by corners they have one together."""
    inner = rail(line((0, 0, 0), (60, 0, 0), (60, 60, 0), sharp=True), "Inner")
    outer = rail(line((0, -8, 0), (68, -8, 0), (68, 40, 0), sharp=True), "Outer")
    floor = opened(page, server, profile(BAR), inner, outer)
    made = shape(floor, "Profile between Inner and Outer")
    floor.wait_for_body()
    # what the chord from rail to rail goes over, as high as it is wide: 8 to the corner's 8 by 8, and on to 8 by 20
    paired = 6 * (512 * quad(lambda v: sqrt(1 + v * v), 0, 1)[0] + 432 * quad(lambda v: sqrt(1 + (1 + 1.5 * v) ** 2), 0, 1)[0])
    assert abs(floor.settled() / paired - 1) > 1e-3
    choose(floor, "Rails are paired by", "Corners")
    near(floor, paired, 1e-5)
    # a corner more in one of them: told, and by length it goes on
    floor.settled()
    points = floor.params("rail-4")["shape"]["points"]
    points.insert(1, {"at": [30, -12, 0], "sharp": True})
    floor.edit({"do": "set-param", "step": "rail-4", "path": ["shape", "points"], "value": points})
    expect(page.get_by_label("Sheet").get_by_text("The rails have different numbers of corners")).to_be_visible()
    page.get_by_role("button", name="Pair them by length").click()
    wait_until(lambda: floor.params(made).get("pairing") == "length")
    expect(page.get_by_label("Sheet").get_by_text("The rails have different numbers of corners")).to_have_count(0)


def test_where_closed_rails_begin_is_pulled_and_turned_round_by_a_click(page: Page, server: Server) -> None:
    """The mark on the right rail is pulled a sixth of a turn on: its rungs lean, and the body with them."""
    inner, outer = (rail({**HELIX, "radius": radius}, name) for radius, name in ((36.0, "Inner"), (44.0, "Outer")))
    for _, _, params in (inner, outer):
        params["station"] = {"step": "station-1"}
    floor = opened(page, server, profile(BAR), inner, outer)
    made = shape(floor, "Profile between Inner and Outer")
    whole = 2 * pi * 40 * 48
    near(floor, whole, 1e-5)
    look(page, "Top")
    page.get_by_label("Build").get_by_text("between Inner and Outer").first.click()
    mark = page.get_by_role("button", name="Where Outer begins")
    expect(mark).to_be_visible()
    expect(page.get_by_role("button", name="Where Inner begins")).to_be_visible()
    pull_grip(page, mark, 0, -40)
    wait_until(lambda: 0.001 < floor.params(made).get("start", 0.0) < 0.999)
    share = floor.params(made)["start"]
    lean = sqrt(36**2 + 44**2 - 2 * 36 * 44 * cos(2 * pi * share))
    # as high as it is wide: what is grown by the chord
    assert floor.settled() > whole
    told = built(Document.model_validate(floor.document))[made].summary.paired.rungs
    assert all(abs(dist(*rung) - lean) < 1e-4 for rung in told)
    page.get_by_role("button", name="Undo", exact=True).click()
    near(floor, whole, 1e-5)
    # simplified: with how far that is off
    page.get_by_label("Sheet").get_by_role("combobox", name="Shape is").click()
    page.get_by_role("option", name="simplified").click()
    expect(page.get_by_label("Sheet").get_by_text("rows, off by")).to_be_visible()
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.get_by_label("Sheet").get_by_text("rows, off by")).to_have_count(0)
    # a click on the mark runs the rail the other way: told why that makes no body here, and taken back the same way
    mark.click()
    wait_until(lambda: floor.params(made).get("against") is True)
    page.get_by_role("button", name="Undo", exact=True).click()
    near(floor, whole, 1e-5)
