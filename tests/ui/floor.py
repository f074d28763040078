"""What a person does on the floor, in the words of a person."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

import httpx
from playwright.sync_api import Locator, Page, expect
from typer.testing import CliRunner

from tests.app.server import Server, wait_until
from wander.cli.main import app


def go(page: Page, path: str) -> None:
    """To another place of the page that is open, as the back button goes there; what was shown before has gone then."""
    page.evaluate(ELSEWHERE, path)


ELSEWHERE = """async (path) => {
    const before = location.pathname === path ? null : document.querySelector('main');
    history.pushState(null, '', path);
    dispatchEvent(new PopStateEvent('popstate'));
    while (before?.isConnected) await new Promise(requestAnimationFrame);
}"""
"""The other page is drawn some frames after its address: till then a click would go to the one before."""


def search(page: Page, words: str) -> None:
    """Do what is found first by these words."""
    page.evaluate("document.activeElement?.blur?.()")
    page.keyboard.press("/")
    page.keyboard.type(words)
    page.keyboard.press("Enter")


def opened(page: Page, server: Server, document: object, *, empty: bool = False) -> Floor:
    """The floor of a design, given as a document or as what its file says. empty: no body is waited for."""
    content = document if isinstance(document, dict) else document.model_dump(mode="json")  # type: ignore[attr-defined]
    made = server.client.post("/api/designs/file", json=content)
    assert made.status_code == 201, made.text
    floor = Floor(page, server, made.json()["id"])
    if empty:
        floor.arrive()
        expect(page.get_by_text("Nothing here yet", exact=False)).to_be_visible()
    else:
        floor.open()
    return floor


def look(page: Page, view: str) -> None:
    """Look from one of the standard sides, or at all there is; what is there is what is seen, once the view has come to rest."""
    page.get_by_role("button", name=view, exact=True).click()
    expect(page.get_by_test_id("scene")).to_have_attribute("data-fine", "true")


def until_asked(page: Page, true: Callable[[], object]) -> None:
    """Wait for what a handler of the page's questions is to find: it is called only while something is asked of the page."""
    wait_until(lambda: bool(page.evaluate("true") and true()))


def pick_edge(page: Page, places: Iterable[tuple[float, float]]) -> None:
    """Click on the first edge that is met from place to place: it is the one that is waited for, and nothing waits any more."""
    click_lit(page, places)
    expect(page.get_by_role("status").filter(has_text="Pick an edge of a body")).to_have_count(0)


def click_lit(page: Page, places: Iterable[tuple[float, float]], met: Callable[[str], object] = bool) -> tuple[float, float]:
    """Go from place to place until what is meant is lit (told by the names of it), and click there, once. Where that is."""
    scene = page.get_by_test_id("scene")
    for place in places:
        page.mouse.move(*place)
        # once for what is under the pointer, once for the page to be told
        page.evaluate("new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))")
        if met(scene.get_attribute("data-lit") or ""):
            page.mouse.click(*place)
            return place
    raise AssertionError("what is meant was not met")


def down_the_middle(page: Page, start: int, end: int) -> list[tuple[float, float]]:
    """Places on the middle line of the scene, from one hundredth of its height to another."""
    scene = page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    return [(scene["x"] + scene["width"] / 2, scene["y"] + scene["height"] * down / 100) for down in range(start, end)]


def across_the_middle(page: Page, start: int, end: int) -> list[tuple[float, float]]:
    """Places half way down the scene, from one hundredth of its width to another."""
    scene = page.get_by_test_id("scene").bounding_box()
    assert scene is not None
    return [(scene["x"] + scene["width"] * across / 100, scene["y"] + scene["height"] / 2) for across in range(start, end)]


RESTING = """async (grip) => {
  const middle = () => {
    const { x, y, width, height } = grip.getBoundingClientRect();
    return [x + width / 2, y + height / 2];
  };
  for (let last = middle(), same = 0; same < 10; ) {
    await new Promise((done) => requestAnimationFrame(done));
    const now = middle();
    [last, same] = now.join() === last.join() ? [last, same + 1] : [now, 0];
  }
  return middle();
}"""
"""Where the middle of something is once it has been there for ten frames."""


def pull_grip(page: Page, grip: Locator, dx: float, dy: float, *, release: bool = True) -> None:
    """Pulls a grip in the scene by pixels, in small moves as a hand does."""
    expect(grip).to_be_visible()
    # where it comes to rest: the view may still be on its way to what came last
    x, y = grip.evaluate(RESTING)
    page.mouse.move(x, y)
    page.mouse.down()
    for i in range(1, 9):
        page.mouse.move(x + dx * i / 8, y + dy * i / 8)
    if release:
        page.mouse.up()


def holds(floor: Floor, expected: float, within: float = 2e-6) -> None:
    floor.until_volume(lambda found: abs(found - expected) < within * expected)


def chosen(floor: Floor, name: str) -> None:
    """Select a step in the Build."""
    floor.page.get_by_label("Build").first.get_by_text(name, exact=True).click()
    expect(floor.page.get_by_label("Sheet").get_by_label("Name of the step")).to_have_value(name)


class Floor:
    def __init__(self, page: Page, server: Server, design: str) -> None:
        self.page = page
        self.server = server
        self.design = design

    def arrive(self) -> None:
        """Where the design is shown: as the back button goes there if a page of this server is open, else by its address."""
        if self.page.url.startswith(f"{self.server.url}/"):
            go(self.page, f"/design/{self.design}")
        else:
            self.page.goto(f"{self.server.url}/design/{self.design}")

    def open(self) -> None:
        self.arrive()
        self.wait_for_body()

    def wait_for_body(self) -> None:
        self.page.wait_for_selector('[data-testid="scene"][data-meshes]:not([data-meshes=""])')
        expect(self.page.get_by_test_id("volume").first).to_be_visible()

    @property
    def volume(self) -> float:
        """The volume that is on screen, mm3, as the page knows it."""
        return float(self.page.get_by_test_id("volume").first.get_attribute("data-mm3") or "nan")

    @property
    def volume_text(self) -> str:
        return self.page.get_by_test_id("volume").first.inner_text()

    @property
    def document(self) -> dict[str, Any]:
        return self.server.read(self.design)["document"]

    @property
    def revision(self) -> int:
        return int(self.server.read(self.design)["revision"])

    def edit(self, *edits: dict[str, Any]) -> httpx.Response:
        """Somebody else changes the design, on what is kept now; once more where the page was first."""
        while (answer := self.server.edit(self.design, self.revision, *edits)).status_code == 409:
            continue
        return answer.raise_for_status()

    def params(self, step: str) -> dict[str, Any]:
        return next(s["params"] for s in self.document["steps"] if s["id"] == step)

    def named(self, step: str) -> str:
        return str(next(s["name"] for s in self.document["steps"] if s["id"] == step))

    def thumb(self, section: str) -> Locator:
        return self.page.locator(f'[data-section="{section}"]')

    def grip(self, section: str) -> tuple[float, float]:
        box = self.thumb(section).locator("rect").bounding_box()
        assert box is not None
        return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    def drag(self, section: str, by: float, *, release: bool = True) -> None:
        """Drag a section along the Run by pixels, in small moves as a hand does."""
        x, y = self.grip(section)
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        for i in range(1, 11):
            self.page.mouse.move(x + by * i / 10, y)
        if release:
            self.page.mouse.up()

    def select(self, section: str) -> None:
        x, y = self.grip(section)
        self.page.mouse.click(x, y)

    def field(self, label: str) -> Locator:
        return self.page.get_by_label("Sheet").get_by_label(label, exact=True)

    def type_into(self, label: str, text: str) -> None:
        field = self.field(label)
        field.fill(text)
        field.press("Enter")

    def draw(self, shape: str) -> None:
        """What the menu makes is on its sheet, or on the board, before anything is typed for it."""
        known = len(self.document["steps"])
        self.page.get_by_role("button", name="Draw", exact=True).click()
        self.page.get_by_role("menuitem", name=shape, exact=True).click()
        wait_until(lambda: len(self.document["steps"]) > known)
        newest = max(self.document["steps"], key=lambda step: int(step["id"].rsplit("-", 1)[1]))["name"]
        named = self.page.get_by_label("Sheet").get_by_label("Name of the step")
        board = self.page.get_by_test_id("paper")
        is_newest = "(fields, name) => fields.some((field) => field.value === name)"
        wait_until(lambda: board.count() > 0 or named.evaluate_all(is_newest, newest))

    def at_rest(self, what: str) -> Any:
        """What a script gives, once it has given the same for thirty frames: a drag or a turn of the view has come to its end."""
        return self.page.evaluate(
            """async (what) => {
              const see = () => JSON.stringify(new Function(`return ${what}`)() ?? null);
              for (let last = see(), same = 0; same < 30; ) {
                await new Promise((done) => requestAnimationFrame(done));
                const now = see();
                [last, same] = now === last ? [last, same + 1] : [now, 0];
              }
              return JSON.parse(see());
            }""",
            what,
        )

    def settled(self) -> float:
        """The volume once everything that was done is kept and on screen, mm3."""
        expect(self.page.get_by_text("Keeping…")).to_have_count(0)
        expect(self.page.get_by_label("Measures")).to_have_attribute("data-shown", str(self.revision))
        return self.volume

    @property
    def measures(self) -> str:
        """Volume and box as they stand below the body."""
        return self.page.get_by_label("Measures").inner_text()

    def until_volume(self, fits: Callable[[float], bool]) -> float:
        wait_until(lambda: fits(self.volume))
        return self.volume

    def measured_by_command_line(self, folder: Path) -> float:
        """What the command line prints for the design as it is saved, mm3."""
        path = folder / "saved.json"
        path.write_bytes(self.server.client.get(f"/api/designs/{self.design}/document").content)
        out = CliRunner().invoke(app, ["measure", str(path), "--json"]).stdout
        found = re.search(r'"volume": ([0-9.eE+-]+)', out)
        assert found is not None, out
        return float(found[1])
