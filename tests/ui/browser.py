"""The browser that tests, pictures and measurements share."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Browser, sync_playwright

CHROMIUM = "/usr/bin/chromium"
SWITCHES = [
    "--no-sandbox",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
]


@contextmanager
def chromium() -> Iterator[Browser]:
    """Debian's chromium without a screen, drawing in software."""
    with sync_playwright() as playwright:
        running = playwright.chromium.launch(executable_path=CHROMIUM, args=SWITCHES)
        yield running
        running.close()
