"""Random drawings pulled at random: what holds them holds, by formulas of the tests' own, and no corner turns over between two moves."""

from __future__ import annotations

from itertools import pairwise
from math import atan2, cos, hypot, pi, sin
from typing import Any

import numpy as np
import pytest
from hypothesis import assume, example, given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.core.drawing.drawings import SCOPE, Raw, act, line, raw, read, solved
from tests.soak import times
from wander.core.drawing.edits.sheet import CannotDraw
from wander.core.drawing.model import Drawing

EXACT = 1e-9
MOVE = 0.02
"""Of the size of a drawing: as far as the hand goes between two answers."""
TURNED_OVER = 0.35
"""Sine of a corner that can't be passed through straight in one such move."""
MOVES = 12


def off(drawing: Drawing, kind: str, of: list[str], value: float | None) -> float:
    """By how much a hold is untrue, mm, at the length that its lines have."""

    def way(curve: str) -> tuple[float, float]:
        (ax, ay), (bx, by) = (drawing.points[p] for p in drawing.curve(curve).points())
        return bx - ax, by - ay

    match kind:
        case "length":
            assert value is not None
            return abs(hypot(*way(of[0])) - value)
        case "horizontal":
            return abs(way(of[0])[1])
        case "vertical":
            return abs(way(of[0])[0])
        case "equal":
            return abs(hypot(*way(of[0])) - hypot(*way(of[1])))
        case "parallel" | "perpendicular":
            (ax, ay), (bx, by) = way(of[0]), way(of[1])
            told = ax * by - ay * bx if kind == "parallel" else ax * bx + ay * by
            return abs(told) / max(hypot(ax, ay), hypot(bx, by))
        case "on-curve":
            return abs(drawing.points[of[0]][1 if of[1] == "x-axis" else 0])
        case _:
            raise AssertionError(kind)


FLAT = raw(
    [(3.0, 0.0), (-1.5, 2.598076211353316), (-1.5625, -2.70632938682637)],
    [line(1, 1, 2), line(2, 2, 3), line(3, 3, 1)],
    ("parallel", "c2 c3"),
)
"""A triangle two sides of which are parallel lies flat; pulled, it came to a place from which it found no way back."""

EIGHT = [(4.0 * cos(pi * i / 4), 4.0 * sin(pi * i / 4)) for i in range(8)]
ON_AXIS = raw(
    EIGHT, [line(i + 1, i + 1, (i + 1) % 8 + 1) for i in range(8)], ("parallel", "c3 c4"), ("on-curve", "p4 y-axis"), ("on-curve", "p5 y-axis")
)
"""A side on an axis, and the next one parallel to it: pulled off the axis it made the other vanish, which is parallel to anything then."""


@st.composite
def drawings(draw: st.DrawFn) -> Raw:
    """A chain of lines about a centre, closed or open, with holds that it does not contradict by much."""
    count = draw(st.integers(3, 9))
    size = draw(st.sampled_from([4.0, 60.0, 900.0]))
    spokes = [draw(st.floats(0.5, 1.0)) for _ in range(count)]
    corners = [(size * r * cos(2 * pi * i / count), size * r * sin(2 * pi * i / count)) for i, r in enumerate(spokes)]
    closed = draw(st.booleans())
    sides = [line(i + 1, i + 1, (i + 1) % count + 1) for i in range(count if closed else count - 1)]
    holds: list[tuple[Any, ...]] = []
    for number in range(1, len(sides) + 1):
        kind = draw(st.sampled_from(["none", "length", "horizontal", "vertical", "equal", "parallel", "perpendicular", "axis"]))
        (ax, ay), (bx, by) = corners[number - 1], corners[number % count]
        other = number % len(sides) + 1
        if kind == "length":
            holds.append((kind, f"c{number}", round(hypot(bx - ax, by - ay) * draw(st.floats(0.9, 1.1)), 3)))
        elif kind == "axis":
            holds.append(("on-curve", f"p{number} {draw(st.sampled_from(['x-axis', 'y-axis']))}"))
        elif kind in ("horizontal", "vertical"):
            # the one that it nearly is
            level = abs(by - ay) < abs(bx - ax)
            holds.append(("horizontal" if level else "vertical", f"c{number}"))
        elif kind == "parallel" and len(sides) == 3:
            continue  # a triangle that lies flat has no way to be held: its places are found to half the digits
        elif kind != "none" and other != number:
            holds.append((kind, f"c{number} c{other}"))
    return raw(corners, sides, *holds)


def turns(drawing: Drawing) -> dict[str, float]:
    """The sine of the turn at each corner."""
    found = {}
    for a, b in pairwise([*drawing.curves, drawing.curves[0]]):
        (p, q), (r, s) = a.points(), b.points()
        if q != r:
            continue
        u, v = np.subtract(drawing.points[q], drawing.points[p]), np.subtract(drawing.points[s], drawing.points[r])
        size = hypot(*u) * hypot(*v)
        found[q] = float(u[0] * v[1] - u[1] * v[0]) / size if size > 1e-12 else 0.0
    return found


@given(written=drawings(), angle=st.floats(0, 2 * pi), number=st.integers(0, 8))
@example(written=FLAT, angle=0.0, number=0)
@example(written=ON_AXIS, angle=0.0, number=2)
@settings(max_examples=times(60, 3000), deadline=None)
def test_pulled_about_everything_holds_and_no_corner_turns_over(written: Raw, angle: float, number: int) -> None:
    first = solved(written)
    assume(first.holds_true)
    size = max(hypot(*p) for p in written["points"].values())
    written = act(written, {"act": "pull", "points": {"p1": list(first.drawing.points["p1"])}})
    point = f"p{number % len(written['points']) + 1}"
    before = read(written)
    # what would be drawn to nothing has no direction to keep
    assume(min(hypot(*np.subtract(*(before.points[p] for p in c.points()))) for c in before.curves) > 0.05 * size)
    for step in range(MOVES):
        x, y = before.points[point]
        to = [x + MOVE * size * cos(angle + 0.2 * step), y + MOVE * size * sin(angle + 0.2 * step)]
        written = act(written, {"act": "pull", "points": {point: to}})
        now = read(written)
        for hold in now.holds:
            assert off(now, hold.type, list(hold.of), getattr(hold, "value", None)) <= EXACT * size
        was, turned = turns(before), turns(now)
        shortest = min(hypot(*np.subtract(*(now.points[p] for p in c.points()))) for c in now.curves)
        if shortest < 0.1 * size:
            return  # short sides turn quickly
        assert all(was[p] * turned[p] > 0 for p in was if abs(was[p]) > TURNED_OVER and abs(turned[p]) > TURNED_OVER)
        before = now


def test_what_is_pulled_where_it_can_not_be_goes_along_what_holds_it_and_nothing_vanishes() -> None:
    before = solved(ON_AXIS).drawing
    written = act(ON_AXIS, {"act": "pull", "points": {"p3": [0.3, before.points["p3"][1] + 0.5]}})
    now = read(written)
    assert now.points["p3"] == pytest.approx((0.0, before.points["p3"][1] + 0.5), abs=0.05)
    for curve in before.curves:
        was, is_ = (hypot(*np.subtract(*(drawing.points[p] for p in curve.points()))) for drawing in (before, now))
        assert is_ > 0.8 * was
    # an end of it may be drawn onto the other
    written = act(ON_AXIS, {"act": "pull", "points": {"p5": list(before.points["p4"])}})
    assert read(written).points["p5"] == pytest.approx(before.points["p4"], abs=1e-6)


@given(written=drawings(), wrong=st.sampled_from(["-3", "0", "nonsense", "1e400", "5 kg"]))
@settings(max_examples=times(30, 1000), deadline=None)
def test_a_number_that_is_refused_changes_nothing(written: Raw, wrong: str) -> None:
    lengths = [hold["id"] for hold in written["holds"] if hold["type"] == "length"]
    assume(lengths)
    kept = repr(written)
    with pytest.raises((CannotDraw, ValidationError, ValueError)):
        act(written, {"act": "measure", "hold": lengths[0], "value": wrong})
    assert repr(written) == kept


def test_the_formulas_of_these_tests_tell_what_is_untrue() -> None:
    askew = Drawing.model_validate(raw([(0, 0), (10, 1), (11, 9)], [line(1, 1, 2), line(2, 2, 3)]), context=SCOPE)
    assert off(askew, "horizontal", ["c1"], None) == 1.0
    assert off(askew, "perpendicular", ["c1", "c2"], None) == pytest.approx(18 / hypot(10, 1))
    assert off(askew, "length", ["c1"], 9.0) == pytest.approx(hypot(10, 1) - 9)
    assert turns(askew)["p2"] == pytest.approx(sin(atan2(8, 1) - atan2(1, 10)))
