"""The browser that tests, pictures and measurements share."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from playwright.sync_api import Browser, sync_playwright

CHROMIUM = "/usr/bin/chromium"
SWITCHES = [
    "--no-sandbox",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    # what a machine without a graphics card does: the page is drawn in software, and only what is drawn in space asks for a stand-in
    "--disable-gpu-compositing",
    "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
    # the first four as the driver has them, which this list replaces; the others load pages of the browser's own beside every page of ours
    "--disable-features=PaintHolding,HttpsUpgrades,MediaRouter,OptimizationHints,WebUIOmniboxPopup,WebUIOmniboxAimPopup",
]


CONTEXT: dict[str, Any] = {
    "viewport": {"width": 1280, "height": 800},
    # scripts of tests and measurements are none of the page's own
    "bypass_csp": True,
}


@contextmanager
def chromium(*more: str) -> Iterator[Browser]:
    """Debian's chromium without a screen, drawing in software. more: further switches."""
    with sync_playwright() as playwright:
        running = playwright.chromium.launch(executable_path=CHROMIUM, args=[*SWITCHES, *more])
        yield running
        running.close()
