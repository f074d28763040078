"""Rows about the sheet: how soon what the hand does in a drawing is seen on it, in a small drawing and in a large one."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, Page
from tests.app.server import Server
from tests.core.drawing.drawings import flange
from tests.ui.board import Board
from tests.ui.browser import CONTEXT, chromium
from tests.ui.floor import Floor

from bench.application import STAMPED, Drawing, from_click
from bench.machine import Machine
from bench.table import Row, percentile

# the paths that it gives are drawn
WATCH = (
    STAMPED
    + """
new MutationObserver((changes) => {
  if (changes.some(({ target }) => target.closest && target.closest('[data-curve]'))) arrived();
}).observe(document, { subtree: true, attributes: true, attributeFilter: ['d'] });
"""
)
# from a key in a field of the tool to the ghost that follows from it
TYPED = """() => {
  const seen = () => document.querySelector('[data-testid=ghost]')?.getAttribute('d');
  const before = seen();
  window.typed = new Promise((done, fail) => {
    let begun = performance.now();
    const late = begun + 3000;
    window.addEventListener('keydown', () => { begun = performance.now(); }, { capture: true, once: true });
    const look = () => {
      if (seen() !== before) done(performance.now() - begun);
      else if (performance.now() > late) fail(new Error(`still ${before}`));
      else requestAnimationFrame(look);
    };
    look();
  });
}"""
NAME = "Flange"
KEYS = "12345678"
MOVES = 20
OPENINGS = 5


def rows(machine: Machine) -> Iterator[Row]:
    with chromium() as browser, tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder)).start("demo")
        try:
            yield from machine.at_its_speed(lambda: _on_the_sheet(browser, server))
        finally:
            server.stop()


def _on_the_sheet(browser: Browser, server: Server) -> Iterator[Row]:
    for sides in (10, 100):
        page = browser.new_page(**CONTEXT)
        page.add_init_script(WATCH)
        shape = flange(sides)
        floor = Floor(page, server, _design_of(server, shape))
        floor.arrive()
        page.get_by_label("Build").first.get_by_text(NAME).click()
        drawing = Drawing()
        drawing.rest()
        opened = [from_click(page, "Draw on the board", _opened(3 * sides))]
        for _ in range(OPENINGS):
            drawing.rest()
            page.get_by_role("button", name="Back to the floor").click()
            drawing.rest()
            opened.append(from_click(page, "Draw on the board", _opened(3 * sides)))
        drawing.rest()
        section = next(step["id"] for step in floor.document["steps"] if step["name"] == NAME)
        board = Board.opened(floor, section)
        page.get_by_role("button", name="Underlay").click()
        typed = list(_typed(page, board, drawing))
        found = list(_pulled(page, board.on_screen(shape["points"]["p1"]), drawing))
        page.close()
        note = f"p50 {percentile(found, 0.5):.0f} ms, {len(found)} moves"
        first = f"the middle one of {OPENINGS}; {opened[0]:.0f} ms the first time, with the board itself still on its way"
        yield Row(f"a drawing of {3 * sides} opened", percentile(opened[1:], 0.5), 300, "ms", first)
        yield Row(f"pull on a drawing of {3 * sides}, on the sheet, p50", percentile(found, 0.5), 33, "ms", note)
        yield Row(f"pull on a drawing of {3 * sides}, on the sheet, p95", percentile(found, 0.95), 60, "ms", note)
        yield Row(f"a key in a number to the sheet, in a drawing of {3 * sides}", percentile(typed, 0.5), 50, "ms", f"the middle one of {len(typed)}")


def _design_of(server: Server, shape: dict[str, Any]) -> str:
    """A design of its own: the drawing and no body, so that what is measured is the sheet."""
    design = str(server.client.post("/api/designs", json={"name": f"{NAME} of {len(shape['curves'])}"}).json()["id"])
    station = {"do": "add-step", "kind": "station", "name": "Plate", "params": {"offset": 0.0}, "alias": "$station"}
    params = {"station": {"step": "$station"}, "shape": {"type": "drawing", **shape}}
    server.edit(design, 1, station, {"do": "add-step", "kind": "section", "name": NAME, "params": params}).raise_for_status()
    return design


def _opened(count: int) -> str:
    settled = "document.querySelector('[data-testid=paper]')?.getAttribute('aria-busy') === 'false'"
    return f"{settled} && document.querySelectorAll('[data-curve]').length >= {count}"


def _pulled(page: Page, start: tuple[float, float], drawing: Drawing) -> Iterator[float]:
    """Milliseconds from each move of a point that is pulled to the drawing on the sheet."""
    x, y = start
    page.keyboard.down("Alt")  # nothing to snap to, so that every move is another drawing
    page.mouse.move(x, y)
    page.mouse.down()
    for i in range(MOVES):
        drawing.rest()
        count = int(page.evaluate("window.trips.length"))
        page.evaluate("count => { window.come = window.next(count); }", count)
        page.mouse.move(x + i + 5, y)
        page.evaluate("window.come")
        # the first give time to what is put together once
        yield from page.evaluate(f"window.trips.slice({count})") if i > 2 else ()
    page.keyboard.press("Escape")
    page.mouse.up()


def _typed(page: Page, board: Board, drawing: Drawing) -> Iterator[float]:
    """Milliseconds from each digit of a length to the line that would be as long."""
    board.tool("Line")
    board.click((3, 2))
    x, y = board.on_screen((30, 11))
    page.mouse.move(x, y)
    page.wait_for_selector("[data-testid=ghost]", state="attached")
    for key in KEYS:
        drawing.rest()
        page.evaluate(TYPED)
        # one digit takes the place of the one before
        if key != KEYS[0]:
            page.keyboard.press("Shift+Home")
        page.keyboard.type(key)
        yield float(page.evaluate("window.typed"))
    for _ in range(3):
        page.keyboard.press("Escape")
