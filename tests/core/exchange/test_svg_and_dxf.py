"""More of what SVG and DXF files hold, each against its closed form."""

from __future__ import annotations

import io
import re
import time
from math import cos, hypot, pi, radians, sin
from typing import Any

import ezdxf
import numpy as np
import pytest
from svgelements import Path

from tests.core.drawing.drawings import Raw, act, arc, circle, drawing, graph_of, line, raw, read, solved
from tests.core.exchange.test_curve_files import dxf
from wander.core.design.bringing import bring
from wander.core.drawing.curves.pieces import pieces
from wander.core.drawing.drafted import Draftings
from wander.core.drawing.model import Drawing, DrawnShape
from wander.core.exchange.curves import Placing, UnreadableCurves
from wander.core.exchange.dxf import write_dxf
from wander.core.exchange.svg import MARGIN, write_svg


def areas(data: str | bytes, name: str, **placing: Any) -> list[float]:
    found = bring(data.encode() if isinstance(data, str) else data, name, Placing(**placing), 1e-3)
    return sorted(region.area for region in graph_of(read(act({}, found.act))).regions)


def svg(inside: str, head: str = 'width="100mm" height="100mm" viewBox="0 0 100 100"') -> str:
    return f'<svg xmlns="http://www.w3.org/2000/svg" {head}>{inside}</svg>'


SHAPES = [
    ('<circle cx="20" cy="30" r="10"/>', 100 * pi),
    ('<ellipse cx="20" cy="30" rx="10" ry="4"/>', 40 * pi),
    ('<polygon points="0,0 30,0 0,40"/>', 600.0),
    ('<path d="m10 10 h20 v10 h-20 z"/>', 200.0),
    ('<path d="M10 10 L30 10 Q30 30 10 10 Z"/>', 2 / 3 * 200),
    ('<path d="M10 10 A10 10 0 0 1 30 10 Z"/>', 50 * pi),
    ('<rect x="1" y="1" width="20" height="10" transform="rotate(33) skewX(20)"/>', 200.0),
    ('<g transform="matrix(2 0 0 3 5 5)"><g transform="translate(4 4)"><rect width="5" height="4"/></g></g>', 120.0),
    ('<rect width="20" height="10" rx="3"/>', 200 - 9 * (4 - pi)),
]


@pytest.mark.parametrize(("inside", "wanted"), SHAPES)
def test_a_shape_of_an_svg_has_its_area(inside: str, wanted: float) -> None:
    [found] = areas(svg(inside), "one.svg")
    assert abs(found - wanted) < 2e-4 * wanted


@pytest.mark.parametrize(
    ("head", "side"),
    [
        ('width="50mm" height="50mm" viewBox="0 0 100 100"', 5.0),
        ('width="2in" height="2in" viewBox="0 0 100 100"', 5.08),
        ('width="100" height="100"', 10 * 25.4 / 96),
        ('width="10cm" height="10cm" viewBox="0 0 100 100"', 10.0),
    ],
)
def test_an_svg_comes_in_real_size(head: str, side: float) -> None:
    [found] = areas(svg('<rect width="10" height="10"/>', head), "size.svg")
    assert abs(found - side**2) < 2e-6 * side**2


def test_entities_of_a_dxf_have_their_areas() -> None:
    def ellipse(space: Any) -> None:
        space.add_ellipse((5, 5), major_axis=(10, 4), ratio=0.5)

    def polyline(space: Any) -> None:
        space.add_polyline2d([(0, 0), (20, 0), (20, 10), (0, 10)], close=True)

    def spline(space: Any) -> None:
        turn = np.linspace(0, 2 * pi, 25)
        space.add_spline(np.column_stack([10 * np.cos(turn), 10 * np.sin(turn), 0 * turn]).tolist())

    for fill, wanted, within in ((ellipse, pi * 116 * 0.5, 1e-2), (polyline, 200.0, 1e-9), (spline, 100 * pi, 0.3)):
        [found] = areas(dxf(fill), "one.dxf")
        assert abs(found - wanted) < within


@pytest.mark.parametrize(
    ("unit", "side"),
    [(0, 1.0), (1, 25.4), (4, 1.0), (5, 10.0), (6, 1000.0), (9, 0.0254), (10, 914.4), (13, 0.001), (14, 100.0), (21, 1200 / 3937 * 1000)],
)
def test_a_dxf_says_its_unit(unit: int, side: float) -> None:
    def square(space: Any) -> None:
        space.add_lwpolyline([(0, 0), (1, 0), (1, 1), (0, 1)], close=True)

    [found] = areas(dxf(square, unit), "unit.dxf")
    assert abs(found - side**2) < 1e-6 * side**2


def test_blocks_are_read_where_they_are_set_blocks_in_blocks_too() -> None:
    document = ezdxf.new("R2010", units=4)
    inner = document.blocks.new("inner")
    inner.add_circle((1, 0), 2)
    outer = document.blocks.new("outer")
    outer.add_blockref("inner", (10, 0), dxfattribs={"xscale": 0.5, "yscale": 0.5})
    outer.add_line((0, 0), (1, 0))
    document.modelspace().add_blockref("outer", (100, 0), dxfattribs={"rotation": 90})
    document.modelspace().add_blockref("inner", (0, 50), dxfattribs={"row_count": 2, "row_spacing": 20, "column_count": 3, "column_spacing": 30})
    stream = io.StringIO()
    document.write(stream)
    found = bring(stream.getvalue().encode(), "blocks.dxf", Placing(), 1e-3).act
    circles = [c for c in found["curves"] if c["type"] == "circle"]
    assert sorted(c["radius"] for c in circles) == [1.0] + [2.0] * 6
    centers = sorted(tuple(np.round(found["points"][c["center"]], 6).tolist()) for c in circles)
    assert centers == sorted([(100.0, 10.5), *((1.0 + 30 * i, 50.0 + 20 * k) for i in range(3) for k in range(2))])
    assert len(found["curves"]) == 8


def test_a_block_that_holds_itself_ends() -> None:
    document = ezdxf.new("R2010", units=4)
    block = document.blocks.new("again")
    block.add_circle((0, 0), 1)
    block.add_blockref("again", (5, 0))
    document.modelspace().add_blockref("again", (0, 0))
    stream = io.StringIO()
    document.write(stream)
    assert 1 <= len(bring(stream.getvalue().encode(), "again.dxf", Placing(), 1e-3).act["curves"]) <= 20


HUGE = [
    lambda space: space.add_line((0, 0), (1e308, 0)),
    lambda space: space.add_circle((0, 0), 1e308),
    lambda space: space.add_spline([(0, 0), (1e200, 1), (3, 1e308)]),
    lambda space: space.add_ellipse((1e308, 5), major_axis=(10, 4), ratio=0.5),
    lambda space: space.add_lwpolyline([(0, 0), (1, 1e307)]),
]


@pytest.mark.parametrize("fill", HUGE)
def test_a_number_that_is_no_place_is_refused(fill: Any) -> None:
    with pytest.raises(UnreadableCurves, match="no place"):
        bring(dxf(fill), "huge.dxf", Placing(), 1e-3)


def kinds(inside: str) -> list[dict[str, Any]]:
    return bring(svg(inside).encode(), "one.svg", Placing(), 1e-3).act["curves"]


def test_a_circle_of_an_svg_is_a_circle_and_an_ellipse_an_ellipse() -> None:
    [circle] = kinds('<g transform="rotate(30) scale(2)"><circle cx="4" cy="1" r="3"/></g>')
    assert (circle["type"], round(circle["radius"], 9)) == ("circle", 6.0)
    [ellipse] = kinds('<ellipse cx="4" cy="1" rx="5" ry="2" transform="rotate(30)"/>')
    assert ellipse["type"] == "ellipse"
    assert np.allclose((ellipse["width"], ellipse["depth"], ellipse["turn"] % 180), (10, 4, 150))
    [squeezed] = kinds('<circle cx="4" cy="1" r="3" transform="scale(2 1)"/>')
    assert np.allclose((squeezed["width"], squeezed["depth"]), (12, 6))
    assert {c["type"] for c in kinds('<path d="M10 10 A10 10 0 0 1 30 10 Z"/>')} == {"arc", "line"}
    [sheared] = kinds('<circle cx="30" cy="30" r="10" transform="skewX(30)"/>')
    assert abs(sheared["width"] * sheared["depth"] - 400) < 1e-9
    assert abs(sheared["width"] / 2 - (((4 + 1 / 3) ** 0.5 + (1 / 3) ** 0.5) / 2) * 10) < 1e-9
    assert {c["type"] for c in kinds('<path d="M10 10 A10 10 0 0 1 30 10 Z" transform="skewX(30)"/>')} == {"spline", "line"}
    [area] = areas(svg('<path d="M10 10 A10 10 0 0 1 30 10 Z" transform="skewX(30)"/>'), "one.svg")
    assert abs(area - 50 * pi) < 0.05


def test_a_cubic_of_an_svg_is_a_cubic() -> None:
    found = bring(svg('<path d="M0 0 C10 30 40 30 50 0 Q25 -30 0 0"/>').encode(), "one.svg", Placing(), 1e-3)
    assert [c["type"] for c in found.act["curves"]] == ["poles", "poles"]
    places = [found.act["points"][p] for p in found.act["curves"][0]["poles"]]
    assert np.allclose(places, [(0, 0), (10, -30), (40, -30), (50, 0)])
    assert found.deviation == 0
    [region] = graph_of(read(act({}, found.act))).regions
    # a quadratic has two thirds of the triangle of its controls
    assert abs(region.area - (_under([(0, 0), (10, 30), (40, 30), (50, 0)]) + 2 / 3 * 25 * 30)) < 1e-9


def _under(controls: list[tuple[float, float]]) -> float:
    """The area between a cubic and its chord, by Green's theorem on its polynomials."""
    (x0, y0), (x1, y1), (x2, y2), (x3, y3) = controls
    x = np.polynomial.Polynomial([x0, 3 * (x1 - x0), 3 * (x0 - 2 * x1 + x2), x3 - 3 * x2 + 3 * x1 - x0])
    y = np.polynomial.Polynomial([y0, 3 * (y1 - y0), 3 * (y0 - 2 * y1 + y2), y3 - 3 * y2 + 3 * y1 - y0])
    whole = (y * x.deriv()).integ()
    return float(whole(1.0) - whole(0.0))


def test_lengths_by_the_height_of_letters() -> None:
    [area] = areas(svg('<rect x="1em" width="2em" height="4ex"/>', 'width="100" height="100"'), "em.svg")
    assert abs(area - (32 * 25.4 / 96) ** 2) < 1e-6


def test_placing_scales_then_turns_then_moves() -> None:
    def mark(space: Any) -> None:
        space.add_circle((10, 0), 1)

    found = bring(dxf(mark), "mark.dxf", Placing(3.0, np.radians(90), (1.0, 2.0)), 0.01)
    [point] = found.act["points"].values()
    assert np.allclose(point, (1.0, 32.0))
    assert found.act["curves"][0]["radius"] == 3.0


MIXED: Raw = raw(
    [(-15, -2), (15, -2), (15, 2), (-15, 2), (15, 0), (-15, 0), (0, 9), (3, 11), (8, 10), (12, 14), (0, 20)],
    [
        line(1, 1, 2),
        arc(2, 5, 2, 3),
        line(3, 3, 4),
        arc(4, 6, 4, 1),
        {"id": "c5", "type": "spline", "through": ["p7", "p8", "p9", "p10"]},
        circle(6, 11, 3.0, construction=True),
        {"id": "c7", "type": "ellipse", "center": "p11", "width": 9.0, "depth": 4.0, "turn": 30.0},
    ],
)


def test_a_dxf_that_goes_out_is_read_by_others_with_every_curve() -> None:
    made = read(MIXED)
    document = ezdxf.read(io.StringIO(write_dxf(made).decode()))
    kinds = sorted(entity.dxftype() for entity in document.modelspace())
    assert kinds == ["ARC", "ARC", "CIRCLE", "LINE", "LINE", "SPLINE", "SPLINE"]
    assert {e.dxf.layer for e in document.modelspace() if e.dxftype() == "CIRCLE"} == {"construction"}
    spline = next(e for e in document.modelspace() if e.dxftype() == "SPLINE" and e.dxf.degree == 3)
    own = next(p for p in pieces(made) if p.id == "c5").curve
    flat = np.array([(v.x, v.y) for v in spline.flattening(1e-4)])
    from wander.core.geometry.closest import closest_parameters

    assert np.linalg.norm(own(closest_parameters(own, flat)) - flat, axis=1).max() < 1e-6


def test_an_svg_that_goes_out_is_in_real_size() -> None:
    made: Drawing = solved(MIXED).drawing
    text = write_svg(made).decode()
    from svgelements import SVG

    picture = SVG.parse(io.StringIO(text), reify=True, ppi=96.0)
    lengths = {e.id: Path(e).length(error=1e-6) * 25.4 / 96 for e in picture.elements() if isinstance(e, Path)}
    assert abs(lengths["c1"] - 30) < 1e-4
    assert abs(lengths["c2"] - 2 * pi) < 1e-4
    assert abs(lengths["c6"] - 6 * pi) < 1e-3


def test_what_goes_out_tells_its_extents() -> None:
    # half a circle bulges past its ends and its controls past it, an ellipse that is turned by closed form
    a, b, turn = 4.5, 2.0, radians(30)
    wide, deep = hypot(a * cos(turn), b * sin(turn)), hypot(a * sin(turn), b * cos(turn))
    written = raw(
        [(0, 0), (0, 10), (0, -10), (40, 0)],
        [line(1, 2, 3), arc(2, 1, 2, 3), {"id": "c3", "type": "ellipse", "center": "p4", "width": 2 * a, "depth": 2 * b, "turn": 30.0}],
    )
    document = ezdxf.read(io.StringIO(write_dxf(read(written)).decode()))
    low, high = (document.header[name] for name in ("$EXTMIN", "$EXTMAX"))
    assert np.allclose([*low, *high], [-10, -10, 0, 40 + wide, 10, 0], atol=1e-6)
    assert deep < 10
    sizes = re.search(r'width="([0-9.]+)mm" height="([0-9.]+)mm"', write_svg(read(written)).decode())
    assert sizes is not None
    assert np.allclose([float(size) - 2 * MARGIN for size in sizes.groups()], [50 + wide, 20], atol=1e-5)
    # nothing at all takes no room
    assert ezdxf.read(io.StringIO(write_dxf(read(raw([], []))).decode())).header["$EXTMAX"] == (0, 0, 0)


def test_closed_forms_of_single_arcs_survive_the_way_out_and_in() -> None:
    for sweep_end in ((0.0, 5.0), (-5.0, 0.0), (0.0, -5.0)):
        bow = drawing([(0, 0), (5, 0), sweep_end], [arc(1, 1, 2, 3)])
        found = bring(write_dxf(bow), "bow.dxf", Placing(), 0.01)
        [curve] = found.act["curves"]
        assert curve["type"] == "arc"
        assert np.allclose(found.act["points"][curve["end"]], sweep_end, atol=1e-9)


CIRCLES = "".join(f'<circle cx="{10 + 14 * (i % 20)}" cy="{10 + 14 * (i // 20)}" r="5"/>' for i in range(400))
LINES = "".join(f'<line x1="{7 * (i % 40)}" y1="{7 * (i // 40)}" x2="{7 * (i % 40) + 8}" y2="{7 * (i // 40) + i % 9}"/>' for i in range(1900))


@pytest.mark.parametrize(("inside", "curves", "regions"), [(CIRCLES, 400, 400), (LINES, 1900, None)], ids=["circles", "lines"])
def test_a_full_sheet_is_worked_out_soon(inside: str, curves: int, regions: int | None) -> None:
    # a bound on work, not a measurement: comparing every curve with every other takes ten times as long
    begun = time.process_time()
    written = act({}, bring(svg(inside).encode(), "full.svg", Placing(), 1e-2).act)
    made = Draftings().of(DrawnShape.model_validate({**written, "type": "drawing"}))
    assert len(made.summary().curves) == curves
    assert regions is None or len(made.graph.regions) == regions
    assert isinstance(made.ailments, list)
    assert time.process_time() - begun < 12
