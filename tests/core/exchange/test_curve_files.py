"""Files with curves: what comes in is what was meant, what goes out comes in again, and what is broken says so."""

from __future__ import annotations

import io
import time
from math import pi
from typing import Any

import ezdxf
import numpy as np
import pytest

from tests.core.drawing.drawings import BOX, Raw, act, graph_of, read, solved
from wander.core.design.bringing import bring
from wander.core.drawing.curves.pieces import pieces
from wander.core.drawing.model import Drawing
from wander.core.drawing.outlines.shapes import foil
from wander.core.exchange.curves import Fitted, Placing, UnreadableCurves
from wander.core.exchange.dxf import write_dxf
from wander.core.exchange.rows import thinned
from wander.core.exchange.svg import write_svg
from wander.core.geometry.closest import closest_parameters

TOLERANCE = 0.01


def brought(data: str | bytes, name: str, placing: Placing = Placing(), tolerance: float = TOLERANCE) -> tuple[Raw, Fitted]:  # noqa: B008
    found = bring(data.encode() if isinstance(data, str) else data, name, placing, tolerance)
    return act({}, found.act), found


def regions(written: Raw) -> Any:
    return graph_of(read(written)).regions


FOIL = foil(100.0, 0.12, 0.03, 0.4)
ROUND = FOIL.curve(np.linspace(0, 1, 81))
"""From the trailing edge over the upper side to the nose, and back below."""


def one_list() -> str:
    return "A blade, made up\n" + "\n".join(f" {x:.6f}  {y:.6f}" for x, y in ROUND)


def two_lists(counted: bool) -> str:
    nose = int(np.argmin(ROUND[:, 0]))
    upper, lower = ROUND[: nose + 1][::-1], ROUND[nose:]
    lines = ["A blade, made up"]
    if counted:
        lines.append(f"  {len(upper)}.   {len(lower)}.")
    return "\n".join([*lines, "", *(f"{x:.6f} {y:.6f}" for x, y in upper), "", *(f"{x:.6f} {y:.6f}" for x, y in lower)])


@pytest.mark.parametrize("text", [one_list(), two_lists(True), two_lists(False), one_list().replace("  ", ", "), one_list().replace("\n", "\r\n")])
def test_a_foil_in_each_layout_is_the_foil(text: str) -> None:
    placing = Placing(0.62, np.radians(-8.0), (5.0, 2.0))
    written, found = brought(text, "blade.dat", placing)
    [region] = regions(written)
    assert abs(region.area - FOIL.area * 0.62**2) < 0.05
    assert found.deviation <= TOLERANCE
    assert len(region.boundary.corners) == 1
    p = placing(FOIL.curve(np.linspace(0, 1, 400)))
    curve = region.boundary.curve
    assert np.linalg.norm(curve(closest_parameters(curve, p)) - p, axis=1).max() < 0.03
    assert found.points < 60


def test_decimal_commas() -> None:
    wanted, _ = brought(one_list(), "blade.dat")
    for text in (one_list().replace(".", ","), one_list().replace(".", ",").replace("  ", ";"), one_list().replace(".", ",").replace("  ", "\t")):
        found, _ = brought(text, "blade.dat")
        assert found["points"] == wanted["points"]


def test_commas_between_whole_numbers_part_them() -> None:
    _, found = brought("0,0\n10,1\n20,5\n30,3\n", "whole.csv")
    assert (found.curves, found.points) == (1, 4)
    written, _ = brought("0, 0\n10, 1\n20, 5\n30, 3\n", "spaced.csv")
    assert sorted(written["points"].values()) == [[0.0, 0.0], [10.0, 1.0], [20.0, 5.0], [30.0, 3.0]]


def unit_foil(gap: float = 0.0) -> str:
    """As foils are published: for a chord of 1, gap apart at the trailing edge."""
    lines = [(x / 100, y / 100 + gap * (1 - 2 * i / 80) / 2) for i, (x, y) in enumerate(ROUND)]
    return "A blade, made up\n" + "\n".join(f" {x:.8f}  {y:.8f}" for x, y in lines)


def test_a_foil_of_no_size_asks_for_its_chord_and_gets_it() -> None:
    with pytest.raises(UnreadableCurves, match="chord of 1"):
        brought(unit_foil(), "blade.dat")
    written, _ = brought(unit_foil(), "blade.dat", Placing(chord=80.0))
    [region] = regions(written)
    assert abs(region.area - FOIL.area * 0.8**2) < 0.1
    # its nose lies between two places of the file, a little before either
    assert abs(np.ptp([x for x, _ in written["points"].values()]) - 80) < 0.02
    scaled, _ = brought(unit_foil(), "blade.dat", Placing(80.0))
    assert scaled["points"] == written["points"]
    with pytest.raises(UnreadableCurves, match="no foil"):
        brought("0 0\n1 1\n2 4\n3 9\n", "curve.txt", Placing(chord=80.0))


def test_a_blunt_trailing_edge_stays_one() -> None:
    written, found = brought(unit_foil(0.004), "blade.dat", Placing(chord=100.0))
    assert sorted(c["type"] for c in written["curves"]) == ["line", "spline"]
    [region] = regions(written)
    assert len(region.boundary.corners) == 2
    edge = next(c for c in written["curves"] if c["type"] == "line")
    ends = np.array([written["points"][edge[end]] for end in ("start", "end")])
    assert abs(np.linalg.norm(np.diff(ends, axis=0)) - 0.4) < 1e-6
    assert found.deviation <= TOLERANCE


@pytest.mark.parametrize("separator", [",", ";", "\t", "   "])
def test_columns_of_numbers_are_an_open_curve(separator: str) -> None:
    t = np.linspace(0, 3, 60)
    text = "\n".join(["x" + separator + "y", *(f"{10 * a:.5f}{separator}{5 * np.sin(a):.5f}{separator}0" for a in t)])
    written, found = brought(text, "rail.csv")
    [piece] = pieces(read(written))
    assert piece.ends is not None
    p = np.column_stack([10 * t, 5 * np.sin(t)])
    assert np.linalg.norm(piece.curve(closest_parameters(piece.curve, p)) - p, axis=1).max() <= TOLERANCE + 1e-5
    assert found.points < 20


def test_a_square_of_points_keeps_its_corners() -> None:
    side = np.linspace(0, 20, 11)[:-1]
    ring = [(s, 0.0) for s in side] + [(20.0, s) for s in side] + [(20 - s, 20.0) for s in side] + [(0.0, 20 - s) for s in side] + [(0.0, 0.0)]
    written, _ = brought("\n".join(f"{x} {y}" for x, y in ring), "square.txt")
    [region] = regions(written)
    assert abs(region.area - 400) < 1e-6
    assert len(region.boundary.corners) == 4


@pytest.mark.parametrize("tolerance", [0.1, 0.01, 0.001])
def test_a_fit_keeps_its_tolerance_with_few_points(tolerance: float) -> None:
    t = np.linspace(0, 2 * pi, 600, endpoint=False)
    points = np.column_stack([30 * np.cos(t), 20 * np.sin(t) + 3 * np.cos(3 * t)])
    chosen, missed = thinned(points, tolerance, closed=True)
    assert missed <= tolerance
    assert 8 <= len(chosen) < 300


def dxf(fill: Any, unit: int = 4) -> bytes:
    document = ezdxf.new("R2010", units=unit)
    fill(document.modelspace())
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode()


def test_a_dxf_with_lines_arcs_splines_and_a_gap() -> None:
    def fill(space: Any) -> None:
        space.add_line((0, 0), (20, 0))
        space.add_arc((20, 5), 5, -90, 90)
        space.add_spline([(20, 10), (12, 13), (0, 10.015)])
        space.add_line((0, 10), (0, 0))
        space.add_circle((10, 5), 2)
        space.add_text("made up")

    written, found = brought(dxf(fill), "duct.dxf")
    assert found.curves == 5
    assert {c["type"] for c in written["curves"]} == {"line", "arc", "spline", "circle"}
    from wander.core.drawing.areas.health import ailments

    drawn = read(written)
    [gap] = ailments(drawn, pieces(drawn), graph_of(drawn))
    assert gap.kind == "gap"
    assert abs(gap.size - 0.015) < 2e-3
    closed = act(written, *gap.mend)
    outer = max(regions(closed), key=lambda r: r.area)
    assert len(outer.inner) == 1
    assert 230 < outer.area < 280


def test_polylines_with_bulges_and_other_units() -> None:
    def slot(space: Any) -> None:
        space.add_lwpolyline([(0, 0, 0), (2, 0, 1), (2, 1, 0), (0, 1, 1)], format="xyb", close=True)

    written, _ = brought(dxf(slot, unit=1), "slot.dxf")
    [region] = regions(written)
    assert abs(region.area - (2 + pi / 4) * 25.4**2) < 1e-4
    assert {c["type"] for c in written["curves"]} == {"line", "arc"}


def test_an_svg_with_curves_and_transforms() -> None:
    picture = """<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">
      <g transform="translate(50,50) rotate(90)"><path d="M-20,-10 L20,-10 C30,-10 30,10 20,10 L-20,10 Z"/></g>
      <rect x="2" y="3" width="10" height="20" transform="scale(2)"/><text x="0" y="9">not read</text></svg>"""
    written, found = brought(picture, "mould.svg")
    assert found.deviation <= TOLERANCE
    areas = sorted(r.area for r in regions(written))
    # a cubic bulge: three fifths of the box of its handles
    assert abs(areas[1] - (800 + 0.6 * 10 * 20)) < 1.0
    assert abs(areas[0] - 800) < 1e-3
    assert max(y for _, y in written["points"].values()) < 0, "y runs upwards, and the page hangs below its origin"


@pytest.mark.parametrize("ending", ["dxf", "svg"])
def test_a_drawing_goes_out_and_comes_in_again(ending: str) -> None:
    drawing = act(BOX, {"act": "fillet", "point": "p2", "radius": 5.0}, {"act": "fillet", "point": "p3", "radius": 3.0})
    solved_drawing: Drawing = solved(drawing).drawing
    data = write_dxf(solved_drawing) if ending == "dxf" else write_svg(solved_drawing)
    again, _ = brought(data, f"again.{ending}", tolerance=1e-3)
    wanted = sum(r.area for r in graph_of(solved_drawing).regions)
    assert abs(sum(r.area for r in regions(again)) - wanted) < (1e-5 if ending == "dxf" else 0.05)


BOMB = '<?xml version="1.0"?><!DOCTYPE s [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg"><text>&b;</text></svg>'
BROKEN = [
    (b"", "empty.dat", "empty"),
    (b"\x00\x01\x02" * 100, "binary.dat", "zero bytes"),
    (b"\x00\x01\x02" * 100, "binary.dxf", "zero bytes"),
    (b"\x89PNG\r\n\x1a\n\x00\x00", "picture.svg", "zero bytes"),
    (b"words and words", "words.txt", "two numbers"),
    (b"1 2\n3 4\n5 nan\n6 7", "nan.csv", "no place"),
    (b"1.0 2.0\n3.0 4.0\n5.0 6.0\n7.0", "cut.dat", "cut off"),
    (b"1 2\n3 4\n5 6x\n", "typo.txt", "line 3"),
    (b"  0\nSECTION\n  2\nENTITIES\n  0\nLINE\n 10\n1.0", "cut.dxf", "DXF|cut off"),
    (b"nothing of the kind", "other.dxf", "DXF|cut off"),
    (b"<html></html>", "page.svg", "no SVG"),
    (b"<svg xmlns='http://www.w3.org/2000/svg'><path d='M0 0 L1", "cut.svg", "SVG"),
    (b"<svg xmlns='http://www.w3.org/2000/svg'></svg>", "blank.svg", "no shapes"),
    (BOMB.encode(), "bomb.svg", "entities"),
    ("\n".join(f"{i} {i * i % 97}" for i in range(1_000_000)).encode(), "million.csv", "20000"),
    (b"1 2", "part.step", "not read"),
]


@pytest.mark.parametrize(("data", "name", "words"), BROKEN, ids=[name for _, name, _ in BROKEN])
def test_what_is_broken_says_so_and_soon(data: bytes, name: str, words: str) -> None:
    # a bound on work, not a measurement: a million points have to be refused before they are looked at one by one
    begun = time.process_time()
    with pytest.raises(UnreadableCurves, match=words):
        bring(data, name, Placing(), TOLERANCE)
    assert time.process_time() - begun < 10
