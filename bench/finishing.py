"""Rows about what is done to a body after it was shaped: its wall, its fillets, and a drag under both."""

from __future__ import annotations

import json
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser
from tests.app.server import Server
from tests.as_shaped import as_shaped
from tests.ui.browser import chromium

from bench.bodies import pulled
from bench.machine import Machine
from bench.table import Row, percentile
from wander.core.bodies.body import Body, mesh_of
from wander.core.design.exact import exact_volume, exact_ways
from wander.core.design.memory import Memory
from wander.core.design.rebuild import rebuild
from wander.core.document.document import Document
from wander.core.geometry.tolerances import DEFAULT

SAMPLES = as_shaped()
TAKES = 7


def finished(*more: dict[str, Any]) -> dict[str, Any]:
    """The flask with further steps."""
    raw: dict[str, Any] = json.loads((SAMPLES / "tarn.json").read_bytes())
    raw["steps"] += more
    raw["next"] = 60
    return raw


def wall(thickness: float) -> dict[str, Any]:
    mouth = {"step": "loft-13", "part": "loft-13/end:section-12"}
    params = {"body": {"step": "loft-13"}, "thickness": thickness, "open": [mouth]}
    return {"id": "wall-50", "kind": "wall", "name": "Wall", "params": params}


def fillet(radius: float, body: str = "loft-13") -> dict[str, Any]:
    base = {"step": body, "part": "loft-13/end:section-2|loft-13/side"}
    params = {"body": {"step": body}, "sets": [{"edges": [base], "radius": radius}]}
    return {"id": "fillet-51", "kind": "fillet", "name": "Base", "params": params}


def seconds_of(step: dict[str, Any], memory: Memory) -> float:
    """Of the step alone, with its exact body and its mesh."""
    document = Document.model_validate(finished(step))
    list(rebuild(Document.model_validate(finished()), memory, exact_ways()))
    begun = time.perf_counter()
    body = list(rebuild(document, memory, exact_ways()))[-1].result
    assert isinstance(body, Body)
    mesh_of(body, DEFAULT.display)
    exact_volume(body)
    return time.perf_counter() - begun


def core_rows() -> Iterator[Row]:
    memory = Memory()
    # every take is another thickness or radius: what was made once is kept
    walls = [seconds_of(wall(1.2 + 0.01 * k), memory) for k in range(TAKES + 1)][1:]
    fillets = [seconds_of(fillet(3.0 + 0.1 * k), memory) for k in range(TAKES + 1)][1:]
    yield Row("wall of the flask, exact, with its mesh, p50", percentile(walls, 0.5), 0.5, "s", f"worst of {TAKES} {max(walls):.2f} s")
    yield Row("fillet round the flask's base, with its mesh, p50", percentile(fillets, 0.5), 0.3, "s", f"worst of {TAKES} {max(fillets):.2f} s")


def drag_rows(browser: Browser, server: Server) -> Iterator[Row]:
    for what, steps in (("wall", [wall(1.2)]), ("wall and a fillet", [wall(1.2), fillet(3.0, "wall-50")])):
        design = server.client.post("/api/designs/file", json=finished(*steps)).json()["id"]
        found = pulled(browser, server, design, "section-8")
        note = f"{len(found)} moves"
        yield Row(f"drag under a {what}, p50", percentile(found, 0.5), 100, "ms", note)
        yield Row(f"drag under a {what}, p95", percentile(found, 0.95), 180, "ms", note)


def rows(machine: Machine) -> Iterator[Row]:
    yield from machine.at_its_speed(core_rows)
    with chromium() as browser, tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder)).start()
        try:
            yield from machine.at_its_speed(lambda: drag_rows(browser, server))
        finally:
            server.stop()
