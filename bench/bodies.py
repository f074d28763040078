"""Rows about bodies that are worked on: a drag under joins, cuts and copies, many designs at once, and what it leaves behind."""

from __future__ import annotations

import tempfile
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import psutil
from playwright.sync_api import Browser
from tests.app.server import Listener, Server, set_offset
from tests.app.worked import worked
from tests.ui.browser import CONTEXT, chromium
from tests.ui.floor import Floor

from bench.application import TAKES, WATCH, Drawing, trips
from bench.machine import Machine
from bench.table import Row, percentile

AT_ONCE = 10
SECONDS_AT_ONCE = 8.0
EVERY = 0.04
PREVIEWS = 2000


MIDDLE, ITS_STATION = "section-6", "station-5"


def opened(server: Server) -> str:
    return str(server.client.post("/api/designs/file", content=worked()).json()["id"])


def built(live: Listener, revision: int) -> None:
    live.until(lambda e: e["type"] == "done" and e["revision"] == revision and e["exact"])


def shown(live: Listener, number: int) -> None:
    live.until(lambda e: e["type"] == "done" and e["preview"] == number)


def exact(live: Listener) -> None:
    live.until(lambda e: (e["type"] == "done" and e["exact"]) or (e["type"] == "snapshot" and e["complete"]))


def pulled(browser: Browser, server: Server, design: str, section: str) -> list[float]:
    """ms from each move of a section's grip to the finished body on the screen."""
    with server.live(design) as live:
        exact(live)
    context = browser.new_context(**CONTEXT)
    page = context.new_page()
    page.add_init_script(WATCH)
    floor = Floor(page, server, design)
    floor.open()
    page.keyboard.down("Alt")  # finely, so that every move is another place
    found = trips(page, floor.grip(section), Drawing())
    context.close()
    return found


def drag_rows(browser: Browser, server: Server) -> Iterator[Row]:
    found = pulled(browser, server, opened(server), MIDDLE)
    note = f"{len(found)} moves under a join, a cut and three copies"
    yield Row("drag to the finished body by the preview, p50", percentile(found, 0.5), 100, "ms", note)
    yield Row("drag to the finished body by the preview, p95", percentile(found, 0.95), 180, "ms", note)


def exact_row(server: Server) -> Row:
    design, waits = opened(server), []
    begin = 60.5 + next(TAKES) / 16  # taken again, it has to give other shapes: what was made once is kept
    with server.live(design) as live:
        exact(live)
        for i in range(8):
            revision = server.edit(design, i + 1, set_offset(ITS_STATION, begin + i / 2)).json()["revision"]
            begun = time.perf_counter()
            built(live, revision)
            waits.append(time.perf_counter() - begun)
    return Row("let go to the exact body, worst of 8", max(waits), 2, "s", f"p50 {percentile(waits, 0.5):.2f} s")


def fairness_row(server: Server) -> Row:
    """Everybody drags for the same time, at the same pace, whether the pictures keep up or not."""
    designs = [opened(server) for _ in range(AT_ONCE)]
    served = [0] * AT_ONCE
    ready = threading.Barrier(AT_ONCE)

    def drag(mine: int) -> None:
        with server.live(designs[mine]) as live:
            exact(live)
            ready.wait(120)
            ends = time.monotonic() + SECONDS_AT_ONCE
            sender = threading.Thread(target=send, args=(live, ends))
            sender.start()

            def done(event: dict[str, Any]) -> bool:
                served[mine] += event["type"] == "done" and event["preview"] is not None
                return time.monotonic() > ends

            live.until(done)
            sender.join()

    def send(live: Listener, ends: float) -> None:
        number = 0
        while time.monotonic() < ends + 0.5:  # somebody goes on hearing until the end
            number += 1
            edit = set_offset(ITS_STATION, 50.0 + (number % 200) / 10)
            live.send({"type": "preview", "number": number, "base_revision": 1, "edits": [edit]})
            time.sleep(EVERY)

    hands = [threading.Thread(target=drag, args=(mine,)) for mine in range(AT_ONCE)]
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join()
    least, most = min(served), max(served)
    return Row(f"{AT_ONCE} designs dragged at once, most served against least", most / max(least, 1), 1.5, "×", f"{least} to {most} pictures each")


def long_drag_rows(server: Server) -> Iterator[Row]:
    design = opened(server)
    with server.live(design) as live:
        exact(live)
        begun = time.perf_counter()
        for number in range(1, PREVIEWS + 1):
            edit = set_offset(ITS_STATION, 45.0 + 0.013 * number)
            live.send({"type": "preview", "number": number, "base_revision": 1, "edits": [edit]})
            shown(live, number)
        took = time.perf_counter() - begun
    workers = [p for p in psutil.Process(server.pid).children(recursive=True) if not has_kernel(p)]
    held = max(p.memory_info().rss for p in workers) / 2**20
    yield Row(f"memory of a worker of shapes after {PREVIEWS} previews", held, 400, "MB", f"{took / PREVIEWS * 1e3:.0f} ms each")
    for folder in ("meshes", "results"):
        files = [path for path in (server.data / "cache" / folder).rglob("*") if path.is_file()]
        yield Row(f"folder of {folder} after it", sum(path.stat().st_size for path in files) / 2**20, 512, "MB", f"{len(files)} files")


def has_kernel(process: psutil.Process) -> bool:
    return any("OCP" in each.path for each in process.memory_maps())


def rows(machine: Machine) -> Iterator[Row]:
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder)).start()
        try:
            with chromium() as browser:
                yield from machine.at_its_speed(lambda: drag_rows(browser, server))
            yield from machine.at_its_speed(lambda: [exact_row(server)])
            yield fairness_row(server)
            yield from long_drag_rows(server)
        finally:
            server.stop()
