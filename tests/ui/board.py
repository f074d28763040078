"""What a person does on the board: places are given in mm on the sheet."""

from __future__ import annotations

from typing import Any

import numpy as np
from playwright.sync_api import Locator, expect

from tests.app.server import wait_until
from tests.ui.floor import Floor
from wander.core.drawing.model import Drawing, named

Place = tuple[float, float]


ALONG = """([d, steps]) => {
  const path = document.createElementNS("http://www.w3.org/2000/svg", "path");
  path.setAttribute("d", d);
  const length = path.getTotalLength();
  return Array.from({ length: steps + 1 }, (_, i) => path.getPointAtLength((length * i) / steps)).map((p) => [p.x, p.y]);
}"""


class Board:
    def __init__(self, floor: Floor, section: str, *, blank: bool = False, open_it: bool = True) -> None:
        self.floor = floor
        self.page = floor.page
        self.section = section
        if blank:
            edit = {"do": "set-param", "step": section, "path": ["shape"], "value": {"type": "drawing"}}
            floor.edit(edit)
            with floor.server.live(floor.design) as live:
                live.done()
        if open_it:
            x, y = floor.grip(section)
            self.page.mouse.dblclick(x, y)
        self.paper = self.page.get_by_test_id("paper")
        expect(self.paper).to_be_visible()
        expect(self.paper).to_have_attribute("aria-busy", "false")
        if blank:
            # clicks land on the grid, not on a neighbour that happens to be near
            self.page.get_by_role("button", name="Underlay").click()

    @classmethod
    def opened(cls, floor: Floor, step: str) -> Board:
        """The board that is open already."""
        return cls(floor, step, open_it=False)

    @property
    def shape(self) -> dict[str, Any]:
        """The drawing as it is kept, or the one that a shape of a few numbers stands for; a blank one has nothing of anything."""
        kept = self.floor.params(self.section)["shape"]
        if kept["type"] != "drawing":
            kept = self.floor.server.client.get(f"/api/designs/{self.floor.design}/drawings/{self.section}/as-drawn").json()["shape"]
        return {"points": {}, "curves": [], "holds": [], **kept}

    @property
    def lines(self) -> list[str | None]:
        """The paths that are on the sheet."""
        return [curve.locator("path").last.get_attribute("d") for curve in self.paper.locator("[data-curve]").all()]

    def called(self, thing: str) -> str:
        """What a curve or a point is called before people."""
        return named(Drawing.model_validate({k: v for k, v in self.shape.items() if k != "type"}), thing)

    def on_screen(self, at: Place) -> tuple[float, float]:
        box = self.paper.bounding_box()
        assert box is not None
        x, y, scale = (float(n) for n in (self.paper.get_attribute("data-look") or "").split())
        return box["x"] + box["width"] / 2 + (at[0] - x) / scale, box["y"] + box["height"] / 2 - (at[1] - y) / scale

    def tool(self, title: str) -> None:
        self.page.get_by_label("Drawing tools").get_by_role("button", name=title, exact=True).click()

    def click(self, *places: Place, free: bool = False) -> None:
        """Click places one after the other; what is drawn is kept before the next. free: with Alt, off the grid."""
        for place in places:
            before = self.floor.revision
            x, y = self.on_screen(place)
            if free:
                self.page.keyboard.down("Alt")
            self.page.mouse.move(x - 3, y - 2)
            self.page.mouse.move(x, y)
            self.page.mouse.click(x, y)
            if free:
                self.page.keyboard.up("Alt")
            self.settle(before)

    def settle(self, before: int) -> None:
        """Wait until the page has caught up with whatever the last act gave."""
        self.page.wait_for_function("new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => done(true))))")
        expect(self.paper).to_have_attribute("aria-busy", "false")
        if self.floor.revision > before:
            expect(self.page.get_by_role("button", name="Undo")).to_be_enabled()

    def type_number(self, title: str, text: str) -> Locator:
        field = self.page.get_by_label("Tool", exact=True).get_by_label(title, exact=True)
        field.fill(text)
        return field

    def along(self, path: str, steps: int) -> np.ndarray:
        """Places along a path as it is drawn, at even steps: (steps + 1, 2), mm."""
        return np.array(self.page.evaluate(ALONG, [path, steps]))

    def close(self, path: str, apart: float) -> np.ndarray:
        """Places along a path, so many mm from one to the next: (n, 2), mm."""
        corners = self.along(path, 64)
        return self.along(path, int(1.2 * np.linalg.norm(np.diff(corners, axis=0), axis=1).sum() / apart) + 2)

    def pull(self, start: Place, to: Place, *, release: bool = True) -> None:
        """Press at one place and go to another; what comes of letting go is on the sheet before the next."""
        before = self.floor.revision
        (x, y), (u, v) = self.on_screen(start), self.on_screen(to)
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        for i in range(1, 9):
            self.page.mouse.move(x + (u - x) * i / 8, y + (v - y) * i / 8)
        if release:
            self.page.mouse.up()
            self.settle(before)

    def pick(self, *things: str) -> None:
        for i, thing in enumerate(things):
            self._pick_at(thing, "Shift" if i else None)

    def _pick_at(self, thing: str, key: str | None) -> None:
        self.page.wait_for_selector(f'[data-curve="{thing}"], [data-point="{thing}"]', state="attached")
        place: Place = self.page.evaluate(
            """(id) => {
              const path = document.querySelector(`[data-curve="${id}"] path`);
              const shape = path ?? document.querySelector(`[data-point="${id}"] circle`);
              if (!path) { const b = shape.getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]; }
              const p = path.getPointAtLength(path.getTotalLength() * 0.17).matrixTransform(path.getScreenCTM());
              return [p.x, p.y];
            }""",
            thing,
        )
        if key:
            self.page.keyboard.down(key)
        self.page.mouse.click(*place)
        if key:
            self.page.keyboard.up(key)

    def button(self, name: str) -> Locator:
        return self.page.get_by_label("Drawing", exact=True).get_by_role("button", name=name, exact=True)

    def act(self, name: str) -> None:
        """Press a button beside the sheet that changes the drawing."""
        before = self.floor.revision
        self.button(name).click()
        wait_until(lambda: self.floor.revision > before)

    def finding(self, code: str) -> Locator:
        return self.page.locator(f'[data-code="{code}"]')

    def repair(self, code: str, label: str) -> None:
        before = self.floor.revision
        self.finding(code).get_by_role("button", name=label).first.click()
        wait_until(lambda: self.floor.revision > before)

    @property
    def area(self) -> float:
        """Area of the outline as the core computes it, mm2; nan while there is none."""
        steps = self.snapshot()
        summary = steps[self.section]["summary"]
        return float(summary["area"]) if summary and summary["closed"] else float("nan")

    def snapshot(self) -> dict[str, Any]:
        """How the steps stand, with everything built that is kept."""
        with self.floor.server.live(self.floor.design) as live:
            live.done()
        with self.floor.server.live(self.floor.design) as live:
            told = live.until(lambda e: e["type"] == "snapshot")
            return {step["id"]: step for step in told["steps"]}

    def until_area(self, wanted: float, within: float = 1e-3) -> None:
        def fits() -> bool:
            return abs(self.area - wanted) <= within

        wait_until(fits)
