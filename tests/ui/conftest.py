"""A real browser on a real server."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.app.conftest import server as server
from tests.app.server import PATIENCE, Server
from tests.ui.browser import CONTEXT, chromium
from tests.ui.floor import Floor

# a machine that many share may stand still for seconds
expect.set_options(timeout=PATIENCE * 1000)


OF_ITSELF = ("Failed to load resource", "WebSocket connection")
"""What the browser logs about answers and connections: the page says those in its own words."""


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium() as running:
        yield running


@pytest.fixture
def page(browser: Browser) -> Iterator[Page]:
    """A page at the design size; the test fails if the page's own script does, or complains."""
    context = browser.new_context(**CONTEXT, accept_downloads=True)
    page = context.new_page()
    page.set_default_timeout(PATIENCE * 1000)
    faults: list[str] = []
    page.on("pageerror", lambda error: faults.append(str(error)))
    page.on("console", lambda entry: faults.append(entry.text) if entry.type == "error" and not entry.text.startswith(OF_ITSELF) else None)
    page.on("requestfailed", lambda request: faults.append(request.url) if "127.0.0.1" not in request.url else None)
    yield page
    context.close()
    assert not faults, faults


@pytest.fixture
def floor(page: Page, server: Server, samples: Path, request: pytest.FixtureRequest) -> Floor:
    """The floor, open on a design of the test's own: the demo design named by `@pytest.mark.parametrize("design", ...)`, or the flask."""
    name = request.node.callspec.params.get("design", "tarn") if hasattr(request.node, "callspec") else "tarn"
    raw = json.loads((samples / f"{name}.json").read_bytes())
    made = server.client.post("/api/designs/file", content=json.dumps(raw)).json()
    opened = Floor(page, server, made["id"])
    opened.open()
    return opened
