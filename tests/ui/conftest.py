"""A real browser on a real server."""

from __future__ import annotations

import json
from collections.abc import Generator, Iterator
from contextlib import suppress
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Error, Page, expect

from tests.app.conftest import server as server
from tests.app.server import PATIENCE, Server
from tests.ui.browser import CONTEXT, chromium
from tests.ui.floor import Floor, go

expect.set_options(timeout=PATIENCE * 1000)


COARSE = 0.5
"""Pixels of the screen for each of the page: tests look at what the page knows, and a quarter of the pixels is drawn in a quarter of the time."""
UNSMOOTHED = "--webgl-antialiasing-mode=none"
"""Edges of bodies, for the same reason."""
OF_ITSELF = ("Failed to load resource", "WebSocket connection")
"""What the browser logs about answers and connections: the page says those in its own words."""


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium(UNSMOOTHED) as running:
        yield running


class Desk:
    """A page that test after test sits down at, as a designer does at one window all day; after one that failed it is a new one."""

    def __init__(self, browser: Browser) -> None:
        self._browser = browser
        self._page: Page | None = None
        self.faults: list[str] = []

    def page(self) -> Page:
        if self._page is None or self._page.is_closed():
            self._page = self._opened()
        self.faults.clear()
        return self._page

    def _opened(self) -> Page:
        page = self._browser.new_context(**CONTEXT, device_scale_factor=COARSE, accept_downloads=True).new_page()
        page.set_default_timeout(PATIENCE * 1000)
        page.on("pageerror", lambda error: self.faults.append(str(error)))
        page.on("console", lambda entry: self.faults.append(entry.text) if entry.type == "error" and not entry.text.startswith(OF_ITSELF) else None)
        page.on("requestfailed", lambda request: self.faults.append(request.url) if "127.0.0.1" not in request.url else None)
        return page

    def tidy(self) -> None:
        """As it was found: nothing held down, nothing intercepted, nothing remembered."""
        page = self._page
        if page is None or page.is_closed():
            return
        for other in page.context.pages:
            if other is not page:
                other.close()
        page.unroute_all()
        page.mouse.up()
        for key in ("Alt", "Control", "Meta", "Shift"):
            page.keyboard.up(key)
        page.mouse.move(0, 0)
        page.set_viewport_size(CONTEXT["viewport"])
        if "/design/" in page.url:
            # nothing stands there, and past the rack, which would draw a picture of every design
            go(page, "/design/none")
            try:
                page.get_by_role("link", name="To the rack").wait_for(timeout=5000)
            except Error:
                self.leave()  # its server is gone
                return
            page.evaluate("sessionStorage.clear()")

    def leave(self) -> None:
        if self._page is not None:
            self._page.context.close()
        self._page = None


SHOWN = 4000
"""Letters of what a page showed that are told of a test that failed."""


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Item, call: pytest.CallInfo[None]) -> Generator[None, pytest.TestReport, pytest.TestReport]:
    """With a test that failed goes what its page showed: a finding, or a word of the server, often says why."""
    report = yield
    page = getattr(item, "funcargs", {}).get("page")
    if report.when == "call" and report.failed and isinstance(page, Page) and not page.is_closed():
        with suppress(Error):
            report.sections.append(("What the page showed", page.inner_text("body", timeout=2000)[:SHOWN]))
    return report


@pytest.fixture(scope="session")
def desk(browser: Browser) -> Iterator[Desk]:
    kept = Desk(browser)
    yield kept
    kept.leave()


@pytest.fixture
def page(desk: Desk, request: pytest.FixtureRequest) -> Iterator[Page]:
    """A page at the design size; the test fails if the page's own script does, or complains.

    `@pytest.mark.own_page`: nobody had it before, or has it after.
    """
    own = request.node.get_closest_marker("own_page") is not None
    if own:
        desk.leave()
    failed = request.session.testsfailed
    yield desk.page()
    faults = list(desk.faults)
    if own or faults or request.session.testsfailed > failed:
        desk.leave()
    else:
        desk.tidy()
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
