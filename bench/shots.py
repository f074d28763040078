"""`make shots`: the pictures of the README, taken of the demo designs at the size the screens are designed for."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect
from tests.app.server import Server
from tests.ui.browser import chromium
from tests.ui.floor import Floor

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
SHOTS: dict[str, Callable[[Page, Server], None]] = {}


def shot(take: Callable[[Page, Server], None]) -> Callable[[Page, Server], None]:
    """The picture is called like the function that sets the scene for it."""
    SHOTS[take.__name__] = take
    return take


@shot
def rack(page: Page, server: Server) -> None:
    page.goto(server.url)
    expect(page.get_by_role("listitem").locator("img")).to_have_count(len(server.designs()))


@shot
def floor(page: Page, server: Server) -> None:
    opened = Floor(page, server, server.designs()["Tarn flask"])
    opened.open()
    opened.select("section-8")


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, chromium() as browser:
        server = Server(Path(folder)).start("demo")
        try:
            for name, take in SHOTS.items():
                page = browser.new_page(viewport={"width": 1280, "height": 800})
                take(page, server)
                page.mouse.move(640, 8)
                page.wait_for_load_state("networkidle")
                page.screenshot(path=FOLDER / f"{name}.png", animations="disabled")
                page.close()
                print(f"docs/screenshots/{name}.png")
        finally:
            server.stop()


if __name__ == "__main__":
    main()
