"""Rows about the whole path: browser, interface, engine, and back."""

from __future__ import annotations

import gzip
import os
import re
import tempfile
import time
from collections.abc import Iterator
from itertools import count
from math import cos, pi, sin
from pathlib import Path

import psutil
from playwright.sync_api import Browser, Page
from tests.app.server import Server, wait_until
from tests.as_shaped import SAMPLES
from tests.ui.board import Board
from tests.ui.browser import CONTEXT, chromium
from tests.ui.floor import Floor

from bench.machine import Machine
from bench.table import Row, percentile

PAGES = Path(__file__).parents[1] / "web" / "dist"
DRAG_STEPS = 60
TAKES = count()
QUIET = 10.0
"""Percent of the machine: less than this, and nothing else is at work."""
STILL = "new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => done(true))))"
# every preview is stamped when it leaves, and when what it gives is there
STAMPED = """
window.trips = [];
window.next = (count) => new Promise((done, fail) => {
  window.waiting = { count, done };
  setTimeout(() => fail(new Error('a move gave nothing')), 5000);
});
const sent = new Map();
const Plain = window.WebSocket;
window.WebSocket = class extends Plain {
  send(text) {
    const message = JSON.parse(text);
    if (message.type === 'preview') sent.set(message.number, performance.now());
    super.send(text);
  }
};
const arrived = () => {
  const last = [...sent.values()].at(-1);
  if (last !== undefined) { window.trips.push(performance.now() - last); sent.clear(); }
  if (window.waiting && window.trips.length > window.waiting.count) window.waiting.done(true);
};
"""
# its mesh has been parsed and handed to the scene
WATCH = (
    STAMPED
    + """
let mesh = null;
new MutationObserver(() => {
  const scene = document.querySelector('[data-meshes]');
  if (!scene || scene.dataset.meshes === mesh) return;
  mesh = scene.dataset.meshes;
  arrived();
}).observe(document, { subtree: true, attributes: true, attributeFilter: ['data-meshes'], childList: true });
"""
)


class Drawing:
    """The browser's drawing process. Without a graphics card it draws every pixel on the two cores that the path needs as well.

    It gets the lowest priority, and a move is made only when it has drawn what the move before gave: what is measured is the path.
    """

    def __init__(self) -> None:
        own = {child.pid for child in psutil.Process().children(recursive=True)}
        self._processes = [p for p in psutil.process_iter(["cmdline"]) if p.pid in own and "--type=gpu-process" in (p.info["cmdline"] or [])]
        for process in self._processes:
            for thread in process.threads():
                os.setpriority(os.PRIO_PROCESS, thread.id, 19)

    def _spent(self) -> float:
        return sum(times.user + times.system for times in (p.cpu_times() for p in self._processes))

    def rest(self) -> None:
        wait_until(self._idle)

    def _idle(self) -> bool:
        before = self._spent()
        time.sleep(0.05)
        return self._spent() - before < 0.015


def trips(page: Page, start: tuple[float, float], drawing: Drawing, reach: int = 4) -> list[float]:
    """Milliseconds from each move of a drag to its mesh in the scene. reach: pixels of each."""
    x, y = start
    x += next(TAKES) % 4  # taken again, every move has to give another shape: what was made once is kept
    page.mouse.move(x, y)
    page.mouse.down()
    for i in range(DRAG_STEPS):
        page.wait_for_function(STILL)
        drawing.rest()
        count = int(page.evaluate("window.trips.length"))
        page.evaluate("count => { window.come = window.next(count); }", count)
        page.mouse.move(x + reach * (i - DRAG_STEPS / 2) + 1.5, y)
        page.evaluate("window.come")  # told, not asked for: asking again and again would take the cores too
    page.keyboard.press("Escape")
    page.mouse.up()
    found: list[float] = page.evaluate("window.trips")
    return found[3:]


def drag_rows(browser: Browser, server: Server, name: str, section: str, bars: tuple[float, float]) -> Iterator[Row]:
    # the kernel loads once, with the first body of a server's life; a start from cold has a row of its own
    server.client.get(f"/api/designs/{server.designs()[name]}/export?format=stl", timeout=60)
    floor = watched(browser, server, name)
    found = trips(floor.page, floor.grip(section), Drawing())
    floor.page.context.close()
    note = f"{len(found)} moves of a drag"
    yield Row(f"edit to new mesh, {name}, p50", percentile(found, 0.5), bars[0], "ms", note)
    yield Row(f"edit to new mesh, {name}, p95", percentile(found, 0.95), bars[1], "ms", note)


def watched(browser: Browser, server: Server, name: str) -> Floor:
    """A demo design, open and at rest, where every trip of a drag is timed: nor are the other designs of the rack still being built."""
    page = browser.new_context(**CONTEXT).new_page()
    page.add_init_script(WATCH)
    floor = Floor(page, server, server.designs()[name])
    floor.open()
    floor.settled()
    wait_until(lambda: psutil.cpu_percent(0.3) < QUIET)
    return floor


def handle_rows(browser: Browser, server: Server) -> Iterator[Row]:
    """The handle of a rail pulled about, one of four that guide a body."""
    design = server.designs()["Bailer spout"]
    rail = next(step["id"] for step in server.read(design)["document"]["steps"] if step["kind"] == "rail")
    pull = {"do": "set-param", "step": rail, "path": ["shape", "points", 2, "handle"], "value": [4.0, 0.0, 22.0]}
    server.edit(design, server.read(design)["revision"], pull)
    floor = watched(browser, server, "Bailer spout")
    floor.page.get_by_label("Build").get_by_text("Right rail").click()
    box = floor.page.get_by_test_id("scene").get_by_role("button", name="Handle of point 3").bounding_box()
    assert box is not None
    found = trips(floor.page, (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2), Drawing(), reach=1)
    floor.page.context.close()
    note = f"p50 {percentile(found, 0.5):.0f} ms, {len(found)} moves, four rails"
    yield Row("a rail's handle pulled, p50", percentile(found, 0.5), 60, "ms", note)
    yield Row("a rail's handle pulled, p95", percentile(found, 0.95), 100, "ms", note)


def looked_at_rows(browser: Browser, server: Server) -> Iterator[Row]:
    for look in ("Stripes", "Bends"):
        floor = watched(browser, server, "Merganser blade")
        floor.page.get_by_role("button", name=look, exact=True).click()
        found = trips(floor.page, floor.grip("section-6"), Drawing())
        floor.page.context.close()
        note = f"{len(found)} moves of a drag"
        yield Row(f"edit to new mesh with {look.lower()} on, p50", percentile(found, 0.5), 60, "ms", note)
        yield Row(f"edit to new mesh with {look.lower()} on, p95", percentile(found, 0.95), 100, "ms", note)


def peek_rows(browser: Browser, server: Server) -> Iterator[Row]:
    """A point pulled on the board, and the body beside it."""
    context = browser.new_context(**CONTEXT)
    page = context.new_page()
    page.add_init_script(WATCH)
    floor = Floor(page, server, server.designs()["Tarn flask"])
    ring = {"type": "spline", "closed": True, "points": [[round(38 * cos(i * pi / 4), 3), round(38 * sin(i * pi / 4), 3)] for i in range(8)]}
    floor.edit({"do": "set-param", "step": "section-6", "path": ["shape"], "value": ring})
    floor.open()
    floor.settled()
    floor.select("section-6")
    page.get_by_role("button", name="Draw on the board").click()
    board = Board.opened(floor, "section-6")
    page.get_by_role("button", name="Underlay").click()
    page.keyboard.down("Alt")  # nothing to snap to, so that every move is another shape
    found = trips(page, board.on_screen((38.0, 0.0)), Drawing())
    context.close()
    note = f"p50 {percentile(found, 0.5):.0f} ms, {len(found)} moves"
    yield Row("point pulled on the board to the body beside it, p95", percentile(found, 0.95), 100, "ms", note)


TURNS = 7
OPENED = "document.querySelector('[data-testid=paper]')?.getAttribute('aria-busy') === 'false' && document.querySelector('[data-curve]')"
LEFT = "!document.querySelector('[data-testid=paper]') && document.querySelector('[data-testid=scene]')?.dataset.meshes"
# from the Enter that keeps a number to the mesh that follows from it
TYPED = """() => {
  window.typed = new Promise((done) => {
    const scene = document.querySelector('[data-meshes]');
    const before = scene.dataset.meshes;
    let begun = 0;
    window.addEventListener('keydown', () => { begun = performance.now(); }, { capture: true, once: true });
    new MutationObserver(() => { if (scene.dataset.meshes !== before) done(performance.now() - begun); }).observe(scene, { attributes: true });
  });
}"""


def from_click(page: Page, button: str, ready: str) -> float:
    """Milliseconds from a click on a button until something is so, both seen by the page itself."""
    page.get_by_role("button", name=button, exact=True).wait_for()
    return float(
        page.evaluate(f"""async () => {{
          const button = [...document.querySelectorAll('button')].find((one) => one.textContent === '{button}');
          const begun = performance.now();
          button.click();
          while (!({ready})) await new Promise(requestAnimationFrame);
          return performance.now() - begun;
        }}""")
    )


def desk_rows(browser: Browser, server: Server) -> Iterator[Row]:
    """The board opened and left, and a number typed on the floor."""
    page = browser.new_page(**CONTEXT)
    floor = Floor(page, server, server.designs()["Tarn flask"])
    floor.open()
    floor.settled()
    drawing = Drawing()
    opened, left, typed = [], [], []
    apart = next(TAKES) / 1000
    for turn in range(TURNS):
        floor.select("section-8")
        drawing.rest()
        opened.append(from_click(page, "Draw on the board", OPENED))
        drawing.rest()
        left.append(from_click(page, "Back to the floor", LEFT))
        floor.field("Station at").fill(f"{131 + turn / 8 + apart}")
        drawing.rest()
        page.evaluate(TYPED)
        page.keyboard.press("Enter")
        typed.append(float(page.evaluate("window.typed")))
    page.close()
    note = f"the middle one of {TURNS}"
    yield Row("board opened, a section drawn by numbers", percentile(opened, 0.5), 300, "ms", note)
    yield Row("board left, the floor and its body there", percentile(left, 0.5), 300, "ms", note)
    yield Row("typed number to the new shape", percentile(typed, 0.5), 150, "ms", note)


STARTS = 3


def cold_start_rows(browser: Browser) -> Iterator[Row]:
    """The middle one of a few starts, each on a folder of its own."""
    found = sorted((_cold_start(browser) for _ in range(STARTS)), key=sum)[STARTS // 2]
    yield Row("cold start of the server to its first answer", found[0], 1.5, "s", f"the middle one of {STARTS}")
    yield Row("cold start to the first body on screen", found[1], 3, "s", "the browser was running")


def _cold_start(browser: Browser) -> tuple[float, float]:
    page = browser.new_page(**CONTEXT)
    wait_until(lambda: psutil.cpu_percent(0.2) < QUIET)  # a browser that has just begun has much to do
    with tempfile.TemporaryDirectory() as folder:
        begun = time.perf_counter()
        server = Server(Path(folder), samples=str(SAMPLES)).start("demo")
        first = time.perf_counter() - begun
        try:
            page.goto(f"{server.url}/design/{server.designs()['Tarn flask']}", wait_until="commit")
            # told by the page with its next picture, not asked for again and again at growing intervals
            page.wait_for_selector('[data-testid="scene"][data-meshes]:not([data-meshes=""])')
            page.wait_for_selector('[data-testid="volume"]')
            page.evaluate(STILL)
            shown = time.perf_counter() - begun
            page.close()
        finally:
            server.stop()
    return first, shown


def memory_rows(server: Server) -> Iterator[Row]:
    main = psutil.Process(server.pid)
    own = main.memory_info().rss / 2**20
    workers = [p.memory_info().rss / 2**20 for p in main.children(recursive=True)]
    yield Row("memory of the server process", own, 200, "MB")
    yield Row("memory of the largest worker, demo set open", max(workers), 600, "MB", ", ".join(f"{w:.0f}" for w in sorted(workers)))


def front_end_rows() -> Iterator[Row]:
    """Scripts that the first page needs before it shows anything, compressed."""
    index = (PAGES / "index.html").read_text()
    first = set(re.findall(r'(?:src|href)="/(assets/[^"]+\.js)"', index))
    size = sum(len(gzip.compress((PAGES / name).read_bytes())) for name in first) / 1024
    whole = sum(len(gzip.compress(path.read_bytes())) for path in (PAGES / "assets").glob("*.js")) / 1024
    yield Row("front end: scripts of the first load, gzipped", size, 400, "kB", f"all parts together {whole:.0f} kB")


def rows(machine: Machine) -> Iterator[Row]:
    with chromium() as browser:
        yield from machine.at_its_speed(lambda: cold_start_rows(browser))
        with tempfile.TemporaryDirectory() as folder:
            server = Server(Path(folder)).start("demo")
            try:
                yield from machine.at_its_speed(lambda: drag_rows(browser, server, "Tarn flask", "section-8", (33, 60)))
                yield from machine.at_its_speed(lambda: drag_rows(browser, server, "Merganser blade", "section-6", (60, 100)))
                yield from machine.at_its_speed(lambda: looked_at_rows(browser, server))
                yield from machine.at_its_speed(lambda: handle_rows(browser, server))
                yield from machine.at_its_speed(lambda: peek_rows(browser, server))
                yield from machine.at_its_speed(lambda: desk_rows(browser, server))
                for name, design in server.designs().items():
                    page = browser.new_page(**CONTEXT)
                    Floor(page, server, design).open()
                    page.close()
                    server.client.get(f"/api/designs/{design}/export?format=stl", timeout=60)
                    print(f"  measured with {name} open", flush=True)
                yield from memory_rows(server)
            finally:
                server.stop()
    yield from front_end_rows()
