"""What a file would bring in, seen before it is taken: as large and where it then is, by its layers and in the unit that it is said to have."""

from __future__ import annotations

import io
from math import pi

import ezdxf
import numpy as np
import pytest

from tests.core.drawing.drawings import act, graph_of, read
from wander.core.design.bringing import SHOWN_CHORD, bring, look
from wander.core.drawing.curves.pieces import curve_of
from wander.core.drawing.outlines.shapes import foil
from wander.core.exchange.curves import Placing, UnreadableCurves


def plan(units: int) -> bytes:
    """A square of 10 on one layer, a circle of 4 in its middle on another."""
    document = ezdxf.new("R2010", units=units)
    space = document.modelspace()
    corners = [(0, 0), (10, 0), (10, 10), (0, 10)]
    for a, b in zip(corners, corners[1:] + corners[:1], strict=True):
        space.add_line(a, b, dxfattribs={"layer": "outline"})
    space.add_circle((5, 5), 2, dxfattribs={"layer": "holes"})
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode()


@pytest.mark.parametrize(("unit", "size"), [(None, 10.0), (10.0, 100.0), (25.4, 254.0)])
def test_a_file_without_a_unit_is_as_large_as_it_is_said_to_be(unit: float | None, size: float) -> None:
    placing = Placing(at=(3.0, -1.0), unit=unit)
    seen = look(plan(0), "plan.dxf", placing, 0.01)
    assert not seen.says_unit
    assert np.allclose(seen.box, [(3, -1), (3 + size, size - 1)])
    assert (seen.curves, seen.layers) == (5, ["outline", "holes"])
    taken = read(act({}, bring(plan(0), "plan.dxf", placing, 0.01).act))
    assert sum(region.area for region in graph_of(taken).regions) == pytest.approx(size * size)
    assert len(seen.paths) == len(taken.curves)


def test_a_file_that_says_its_unit_has_it() -> None:
    assert look(plan(5), "plan.dxf", Placing(), 0.01).says_unit
    assert np.allclose(look(plan(5), "plan.dxf", Placing(), 0.01).box, [(0, 0), (100, 100)])
    with pytest.raises(UnreadableCurves, match="says itself in which unit"):
        look(plan(5), "plan.dxf", Placing(unit=25.4), 0.01)


def test_only_the_layers_that_are_chosen_come_in() -> None:
    seen = look(plan(4), "plan.dxf", Placing(layers=(1,)), 0.01)
    assert (seen.curves, seen.layers) == (1, ["outline", "holes"])
    assert np.allclose(seen.box, [(3, 3), (7, 7)], atol=1e-3)
    taken = read(act({}, bring(plan(4), "plan.dxf", Placing(layers=(1,)), 0.01).act))
    assert sum(region.area for region in graph_of(taken).regions) == pytest.approx(4 * pi, rel=1e-9)
    with pytest.raises(UnreadableCurves, match="choose another one"):
        look(plan(4), "plan.dxf", Placing(layers=(7,)), 0.01)


def unit_foil() -> bytes:
    places = foil(1.0, 0.12, 0.03, 0.4).curve(np.linspace(0, 1, 81)) + np.array([0.25, 0.0])
    return ("A blade, made up\n" + "\n".join(f" {x:.7f}  {y:.7f}" for x, y in places)).encode()


def test_a_foil_of_no_size_is_shown_and_asks_for_its_chord() -> None:
    seen = look(unit_foil(), "blade.dat", Placing(), 0.01)
    assert seen.asks_chord
    assert seen.chord == pytest.approx(1.0, abs=1e-3)
    assert seen.box[1][0] - seen.box[0][0] == pytest.approx(SHOWN_CHORD, abs=0.5)
    given = look(unit_foil(), "blade.dat", Placing(chord=60.0), 0.01)
    assert not given.asks_chord
    assert given.box[1][0] - given.box[0][0] == pytest.approx(60.0, abs=0.3)
    assert given.deviation <= 0.01
    # in metres it has a size after all
    assert not look(unit_foil(), "blade.dat", Placing(unit=1000.0), 0.01).asks_chord


def test_what_is_no_drawing_is_told_as_it_is_when_it_is_taken() -> None:
    for data, name in ((b"", "empty.dxf"), (b"abc", "words.txt"), (b"1 2\n3 4\n", "sheet.pdf")):
        with pytest.raises(UnreadableCurves) as taken:
            bring(data, name, Placing(), 0.01)
        with pytest.raises(UnreadableCurves) as seen:
            look(data, name, Placing(), 0.01)
        assert str(seen.value) == str(taken.value)


def test_many_points_become_a_spline_of_few() -> None:
    """Half a wave of 400 points, by the file and by the function that made it; the spline is the least-squares curve that was judged."""
    x = np.linspace(0.0, 120.0, 400)
    text = "\n".join(f"{a:.9f} {20 * np.sin(a / 30):.9f}" for a in x)
    for tolerance, most in ((0.1, 9), (0.01, 14), (0.001, 30)):
        fitted = bring(text.encode(), "wave.csv", Placing(), tolerance)
        made = read(act({}, fitted.act))
        assert (len(made.curves), fitted.deviation <= tolerance) == (1, True)
        assert len(made.points) <= most
        curve = curve_of(made.curves[0], made)
        assert curve is not None
        dense = curve(np.linspace(0, 1, 20001))
        off = np.min(np.hypot(*(dense[:, None, :] - np.stack([x, 20 * np.sin(x / 30)], axis=1)[None, ::7]).transpose(2, 0, 1)), axis=0)
        assert off.max() <= tolerance + 5e-3
        assert np.abs(dense[:, 1] - 20 * np.sin(dense[:, 0] / 30)).max() < 2 * tolerance
