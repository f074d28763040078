"""Where the processor draws, a picture costs more than all the rest of a move: each move of a drag is drawn once. Nothing is drawn empty first."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.app.server import wait_until
from tests.ui.floor import Floor, go

COUNT = """
() => {
  window.pictures = 0;
  const clear = WebGL2RenderingContext.prototype.clear;
  WebGL2RenderingContext.prototype.clear = function (...mask) {
    window.pictures++;
    return clear.apply(this, mask);
  };
}
"""
"""Every picture begins with this."""
FRAMES = "async () => { for (let i = 0; i < 12; i++) await new Promise((done) => requestAnimationFrame(done)); return window.pictures; }"
"""The pictures so far, once there was time for others that wait for something."""


def test_a_move_of_a_drag_is_drawn_once(floor: Floor) -> None:
    page = floor.page
    floor.settled()
    page.evaluate(COUNT)
    scene = page.get_by_test_id("scene")
    x, y = floor.grip("section-8")
    page.mouse.move(x, y)
    page.mouse.down()
    drawn = []
    for move in range(1, 7):
        before = scene.get_attribute("data-meshes")
        volume = floor.volume
        page.mouse.move(x + 9 * move, y)
        wait_until(lambda before=before, volume=volume: scene.get_attribute("data-meshes") != before and floor.volume != volume)  # type: ignore[misc]
        drawn.append(page.evaluate(FRAMES))
    page.keyboard.press("Escape")
    page.mouse.up()
    # the first ones also show what is pointed at and taken hold of
    assert drawn[-1] - drawn[1] <= 5, drawn


HELD = """
() => {
  window.held = {};
  for (const what of ["Buffer", "Texture", "VertexArray"]) {
    for (const [how, by] of [["create", 1], ["delete", -1]]) {
      const card = WebGL2RenderingContext.prototype;
      const before = card[how + what];
      card[how + what] = function (...one) {
        window.held[what] = (window.held[what] ?? 0) + by;
        return before.apply(this, one);
      };
    }
  }
}
"""
"""What the card, or what stands in for it, has to keep, by kind; shaders are kept for the next design."""


def test_what_a_design_was_drawn_with_is_let_go_with_it(floor: Floor) -> None:
    """All day long in one window: what draws is handed on, and holds nothing of a design that was left but its bodies, which are kept for a while."""
    page = floor.page
    page.evaluate(HELD)
    held, contexts = [], page.evaluate_handle("() => document.querySelector('[data-testid=scene] canvas').getContext('webgl2')")
    for _ in range(4):
        go(page, "/design/none")
        page.get_by_role("link", name="To the rack").wait_for()
        held.append(page.evaluate("() => ({ ...window.held })"))
        go(page, f"/design/{floor.design}")
        floor.wait_for_body()
        assert page.evaluate("(known) => document.querySelector('[data-testid=scene] canvas').getContext('webgl2') === known", contexts)
        floor.at_rest("window.held")
    assert held[1] == held[2] == held[3]


BLANKS = """
() => {
  window.blanks = 0;
  const sheet = document.querySelector('[aria-label="Sheet"]');
  new MutationObserver(() => (window.blanks += sheet.querySelector("p, h2") ? 0 : 1)).observe(sheet, { childList: true, subtree: true });
}
"""


def test_the_first_sheet_of_a_kind_is_there_at_once(floor: Floor) -> None:
    page = floor.page
    floor.settled()
    # what may be wanted is fetched once the body is there
    page.wait_for_function("performance.getEntriesByType('resource').some(({ name }) => name.includes('/Board-'))")
    page.wait_for_load_state("networkidle")
    page.evaluate(BLANKS)
    sheet = page.get_by_label("Sheet")
    for step, says in (("Belly", "Draw on the board"), ("Flask", "Volume")):
        page.get_by_label("Build").get_by_text(step, exact=False).first.click()
        expect(sheet.get_by_text(says).first).to_be_visible()
    assert page.evaluate("window.blanks") == 0
