"""Ten drawings, given as pictures with numbers, by mouse and typed numbers: each as it was given and fully held, every action of the hand counted."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from math import cos, hypot, pi, radians, sin, sqrt
from pathlib import Path
from xml.etree import ElementTree

import numpy as np
import pytest
from playwright.sync_api import Locator, expect
from scipy.integrate import quad
from scipy.spatial import cKDTree

from tests.app.server import wait_until
from tests.closeness import assert_close
from tests.core.steps.test_sweep_step import line
from tests.ui.board import Board, Place
from tests.ui.floor import Floor

MOST = 220
GIVEN = Path(__file__).parent / "given"
NEAR = 0.03
"""mm between places that are compared, along a curve."""


class Hand:
    """What a person does at the board, counted: a click, a key, a number typed at one go, a button each count one."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self.actions = 0

    def _done(self) -> None:
        self.actions += 1
        self.board.settle(self.board.floor.revision)

    def click(self, at: Place, key: str | None = None) -> None:
        x, y = self.board.on_screen(at)
        self.board.page.mouse.move(x - 3, y - 2)
        self.board.page.mouse.move(x, y)
        with self._held(key):
            self.board.page.mouse.click(x, y)
        self._done()

    @contextmanager
    def _held(self, key: str | None) -> Iterator[None]:
        if key:
            self.board.page.keyboard.down(key)
        yield
        if key:
            self.board.page.keyboard.up(key)

    def do(self, words: str) -> None:
        """Numbers and keys one after the other, as `20 Tab 30 Enter`: what is longer than a letter and no number is a key by its name."""
        for word in words.split():
            if len(word) == 1 or word[0] in "-.0123456789":
                self.board.page.keyboard.type(word)
            else:
                self.board.page.keyboard.press(word)
            self._done()

    def press(self, button: Locator) -> None:
        button.click()
        self._done()

    def offered(self, name: str) -> None:
        self.press(self.board.button(name))

    def curve(self, kind: str, number: int) -> Place:
        """A place on a curve of a kind, counted as they were drawn, where it is not near its ends."""
        wait_until(lambda: len([c for c in self.board.shape["curves"] if c["type"] == kind]) > number)
        thing = [c for c in self.board.shape["curves"] if c["type"] == kind][number]["id"]
        curves = self.board.snapshot()[self.board.section]["summary"]["drawing"]["curves"]
        path = next(curve["path"] for curve in curves if curve["id"] == thing)
        # it is clicked where it is, not where it was a moment ago
        expect(self.board.page.locator(f'[data-curve="{thing}"] path').last).to_have_attribute("d", path)
        points = np.array(list(self.board.shape["points"].values()))
        x, y = max(self.board.along(path, 60), key=lambda at: np.linalg.norm(points - at, axis=1).min())
        return float(x), float(y)


def slot(hand: Hand) -> None:
    """30 between centres, 12 wide, one centre on the origin."""
    hand.do("s")
    hand.click((0, 0))
    hand.do("30 ArrowRight 12 Enter")
    hand.board.until_area(36 * pi + 360)


def moulding(hand: Hand) -> None:
    """Three steps, 60 x 24, two of their edges rounded by 3, one chamfered by 2."""
    hand.do("l")
    hand.click((0, 0))
    hand.do("60 ArrowRight 10 ArrowUp 15 ArrowLeft 8 ArrowUp 20 ArrowLeft 6 ArrowUp 25 ArrowLeft")
    hand.click((0, 0))
    hand.do("Shift+F 3")
    hand.click((60, 10))
    hand.click((45, 18))
    hand.do("Shift+C 2")
    hand.click((0, 24))
    hand.board.until_area(1110 - 2 * 9 * (1 - pi / 4) - 2)


def arch(hand: Hand) -> None:
    """Pointed, 64 x 48, on posts of 10: one half drawn, the other its mirror image about the axis."""
    hand.do("l")
    hand.click((0, 0))
    hand.do("32 ArrowRight 10 ArrowUp k Tab Tab Tab 0 Tab 48 Enter Escape Escape Control+a")
    hand.click((0, -12), "Shift")
    hand.offered("Mirror about the y axis")
    radius = (32**2 + 38**2) / 64
    half = 320 + quad(lambda x: sqrt(radius**2 - (x - 32 + radius) ** 2), 0, 32)[0]
    hand.board.until_area(2 * half)


def ring(hand: Hand) -> None:
    """Offsets of 3 to either side of a box of 40 x 30."""
    hand.do("m")
    hand.click((0, 0))
    hand.do("40 Tab 30 Enter Shift+O 3")
    hand.click((11, -15))
    hand.do("-3")
    hand.click((11, -15))
    hand.do("d")
    x, y = hand.board.on_screen((11, -15))
    hand.board.page.mouse.dblclick(x, y)
    hand._done()
    hand.offered("Construction")
    hand.click((11, -16.5))
    hand.board.until_area(46 * 36 - 34 * 24)


NOSE, TAIL = (-42.0, 12.0), (31.0, -9.0)
"""Where two rails pass through the sheet."""


def foil(hand: Hand, file: Path) -> None:
    """From a file that is written for a chord of 1: scaled and turned to lie between two rails."""
    page = hand.board.page
    hand.press(page.get_by_role("button", name="Bring in"))
    with page.expect_file_chooser() as chooser:
        hand.press(page.get_by_role("dialog", name="Bring in").get_by_role("button", name="Choose a file"))
    chooser.value.set_files(file)
    card = page.get_by_label("Bringing in")
    expect(card.get_by_role("status")).to_contain_text("points")
    expect(card.get_by_role("button", name="Take it")).to_be_disabled()
    expect(card.get_by_label("Chord (mm)")).to_be_focused()
    hand.press(card.get_by_role("button", name="Nose on Front, tail on Rear"))
    expect(card.get_by_role("button", name="Take it")).to_be_enabled()
    hand.press(card.get_by_role("button", name="Take it"))
    wait_until(lambda: len(hand.board.shape["curves"]) == 1)
    hand.click(hand.curve("spline", 0))
    hand.offered("Fixed")
    share = quad(lambda t: 0.12 * sin(t) ** 2 * sin(t / 2), 0, pi)[0]
    chord = hypot(TAIL[0] - NOSE[0], TAIL[1] - NOSE[1])
    hand.board.until_area(chord**2 * share, within=1.0)
    # its tail is a point of its own; its nose is where it turns back
    places = np.array(list(hand.board.shape["points"].values()))
    assert np.linalg.norm(places - TAIL, axis=1).min() < 1e-4
    outline = hand.board.along(hand.board.page.locator("[data-curve] path").last.get_attribute("d") or "", 2000)
    assert np.linalg.norm(outline - NOSE, axis=1).min() < 0.02


def keyhole(hand: Hand) -> None:
    """A hole of 24 with a slit of 10 that ends 30 below its centre."""
    hand.do("c")
    hand.click((0, 0))
    hand.do("24 Enter s")
    hand.click((0, 0))
    hand.do("30 ArrowDown 10 Enter d")
    hand.click((8, 6))
    hand.click((0, -6), "Shift")
    hand.click((0, -20), "Shift")
    slit = quad(lambda x: 30 - sqrt(144 - x * x), -5, 5)[0] + 12.5 * pi
    hand.board.until_area(144 * pi + slit)


def hook(hand: Hand) -> None:
    """A shank of 20, half a turn of 10 to the left and one of 5 to the right."""
    hand.do("l")
    hand.click((0, 0))
    hand.do("20 ArrowRight k 10 Tab 180 Enter 5 Tab -180 Enter Escape Escape")
    wait_until(lambda: len(hand.board.shape["curves"]) == 3)
    points = hand.board.shape["points"]
    arcs = [curve for curve in hand.board.shape["curves"] if curve["type"] == "arc"]
    assert_close([points[arc["center"]] for arc in arcs], [(20, 10), (20, 25)], within=1e-6)
    assert_close(points[arcs[1]["start"]], (20, 30), within=1e-6)


def cam(hand: Hand) -> None:
    """Three arcs that go on in each other, and a spline that closes them, tangent to the first and the last."""
    hand.do("a")
    hand.click((0, 0))
    hand.do("Tab Tab -20 Tab 0 Enter 200 Enter k")
    end = (20 * cos(radians(20)), 20 * sin(radians(20)))
    hand.click(end)
    hand.do("12 Tab 60 Enter 30 Tab 15 Enter b")
    wait_until(lambda: len(hand.board.shape["curves"]) == 3)
    arcs = [c for c in hand.board.shape["curves"] if c["type"] == "arc"]
    last = hand.board.shape["points"][arcs[2]["end"]]
    hand.click((last[0], last[1]))
    hand.click((-20, 0))
    hand.do("Enter d")
    for arc in (2, 0):
        hand.click(hand.curve("spline", 0))
        hand.click(hand.curve("arc", arc), "Shift")
        hand.offered("Tangent")
    wait_until(lambda: sum(hold["type"] == "tangent" for hold in hand.board.shape["holds"]) == 4)
    hand.board.settle(hand.board.floor.revision)
    thing = next(c["id"] for c in hand.board.shape["curves"] if c["type"] == "spline")

    def runs_on() -> bool:
        path = hand.board.page.locator(f'[data-curve="{thing}"] path').last.get_attribute("d")
        along = hand.board.along(path or "", 6000)
        leaves, comes = along[1] - along[0], along[-1] - along[-2]
        off = np.subtract([leaves / hypot(*leaves), comes / hypot(*comes)], [(cos(radians(185)), sin(radians(185))), (0, -1)])
        return bool(np.abs(off).max() < 2e-3)

    wait_until(runs_on)


def rail(hand: Hand) -> None:
    """Through four places, level where it begins, upright where it ends."""
    places = [(-30, -10), (-10, -4), (10, 2), (26, 20)]
    hand.do("b")
    for place in places:
        hand.click(place)
    hand.do("Enter d")
    for place, angle in ((places[0], "0"), (places[-1], "90")):
        hand.click(place)
        hand.press(hand.board.page.get_by_label("Drawing", exact=True).get_by_label("Direction (deg)"))
        hand.do(f"{angle} Enter")
        wait_until(lambda angle=angle: any(h["angle"] == float(angle) for c in hand.board.shape["curves"] for h in c.get("handles", [])))
    hand.click(hand.curve("spline", 0))
    hand.offered("Fixed")


def gasket(hand: Hand) -> None:
    """60 x 40 with corners of 8, one of them at the origin, and a hole of 16 in its middle."""
    hand.do("u")
    hand.click((0, 0))
    hand.do("60 Tab 40 Enter 8 Enter c 30 Tab 20 Enter 16 Enter d")
    hand.click((6, 20))
    hand.board.until_area(2400 - (4 - pi) * 64 - 64 * pi)


def as_given(board: Board, name: str) -> None:
    """What is on the sheet has all lines of the picture and goes through its places; where the picture is whole, it has no others."""
    picture = ElementTree.parse(GIVEN / f"{name}.svg").getroot()
    kind = {each.get("class"): each for each in picture.iter() if each.get("class") in ("given", "through")}
    assert kind
    construction = {curve["id"] for curve in board.shape["curves"] if curve.get("construction")}
    paths = {line.get_attribute("data-curve"): line.locator("path").last.get_attribute("d") for line in board.paper.locator("[data-curve]").all()}
    drawn = np.vstack([board.close(path or "", NEAR) for thing, path in paths.items() if thing not in construction])
    if "given" in kind:
        given = board.close(kind["given"].get("d") or "", NEAR)
        assert cKDTree(drawn).query(given)[0].max() < NEAR, name
        if picture.get("data-whole"):
            assert cKDTree(given).query(drawn)[0].max() < NEAR, name
    for place in (each for each in picture.iter() if each.get("class") == "through"):
        assert cKDTree(drawn).query([float(place.get("cx", "nan")), float(place.get("cy", "nan"))])[0] < NEAR, name


DRAWINGS: list[Callable[[Hand], None]] = [slot, moulding, arch, ring, keyhole, hook, cam, rail, gasket]


@pytest.fixture
def foil_file(tmp_path: Path) -> Path:
    """An outline of one's own for a chord of 1: from the tail round the nose and back."""
    x = (1 + np.cos(np.linspace(0, 2 * pi, 121))) / 2
    y = 0.12 * np.sin(np.linspace(0, 2 * pi, 121)) * np.sin(np.linspace(0, pi, 121))
    file = tmp_path / "vane.dat"
    file.write_text("vane\n" + "\n".join(f"{a:.9f} {b:.9f}" for a, b in zip(x, y, strict=True)) + "\n")
    return file


def test_ten_drawings_take_few_actions(floor: Floor, foil_file: Path) -> None:
    counted: dict[str, int] = {}
    rails = [(name, line((x, y, 100), (x, y, 160))) for name, (x, y) in (("Front", NOSE), ("Rear", TAIL))]
    adds = [{"do": "add-step", "kind": "rail", "name": name, "params": {"shape": shape}} for name, shape in rails]
    floor.edit(*adds)
    board = Board(floor, "section-8", blank=True)

    def draw(name: str, drawing: Callable[[Hand], None]) -> None:
        hand = Hand(board)
        drawing(hand)
        expect(board.page.get_by_test_id("freedoms")).to_have_text("Fully held")
        as_given(board, name)
        counted[name] = hand.actions
        blank = {"do": "set-param", "step": board.section, "path": ["shape"], "value": {"type": "drawing"}}
        board.page.keyboard.press("Escape")
        board.page.keyboard.press("Escape")
        floor.edit(blank)
        expect(board.paper.locator("[data-held]")).to_have_count(0)

    for drawing in DRAWINGS:
        draw(drawing.__name__, drawing)
    draw("foil", lambda hand: foil(hand, foil_file))
    assert len(counted) == 10
    assert sum(counted.values()) <= MOST, counted
