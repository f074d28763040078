"""A part of a spline is the same curve through fewer points: exactly, wherever it is cut, and put together again."""

from __future__ import annotations

from math import cos, pi, sin
from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.core.drawing.drawings import act, circle, line, raw, read
from wander.core.drawing.curves.pieces import pieces
from wander.core.drawing.model import DrawnSpline
from wander.core.geometry.closest import closest_parameters

Raw = dict[str, Any]
EXACT = 1e-9
heights = st.lists(st.floats(0, 12), min_size=3, max_size=7)


@st.composite
def splines(draw: st.DrawFn) -> Raw:
    """Open and closed, with corners, straight spans and handles."""
    heights_, closed = draw(heights), draw(st.booleans())
    count = len(heights_)
    if closed:
        points = [((9 + h) * cos(2 * pi * i / count), (9 + h) * sin(2 * pi * i / count)) for i, h in enumerate(heights_)]
    else:
        points = [(9.0 * i + h / 3, h) for i, h in enumerate(heights_)]
    inner = st.integers(0 if closed else 1, count - 1 if closed else count - 2)
    curve: Raw = {"id": "c1", "type": "spline", "through": [f"p{i}" for i in range(1, count + 1)], "closed": closed}
    curve["sharp"] = draw(st.lists(inner, max_size=1))
    curve["straight"] = draw(st.lists(st.integers(0, count - 1 if closed else count - 2), max_size=1))
    turns = draw(st.dictionaries(st.integers(0, count - 1), st.tuples(st.floats(-50, 50), st.floats(0.5, 1.5)), max_size=2))
    curve["handles"] = [{"at": i, "angle": turn + (90 + 360 * i / count if closed else 0), "pull": pull} for i, (turn, pull) in turns.items()]
    # a direction of its own at the end of a straight span says two things at once
    beside = {(i + k) % count for i in curve["straight"] for k in (0, 1)}
    assume(not beside & {h["at"] for h in curve["handles"]})
    return raw(points, [curve])


def sampled(written: Raw) -> np.ndarray:
    return np.concatenate([p.curve(np.linspace(*p.curve.domain, 400)) for p in pieces(read(written))])


def off(written: Raw, other: Raw) -> float:
    """How far what is drawn in one lies from what is drawn in the other, mm."""
    p = sampled(written)
    return float(np.min([np.linalg.norm(c.curve(closest_parameters(c.curve, p)) - p, axis=1) for c in pieces(read(other))], axis=0).max())


@given(written=splines(), share=st.floats(0.02, 0.98), parts=st.integers(2, 4))
def test_parts_of_a_spline_are_the_spline(written: Raw, share: float, parts: int) -> None:
    [whole] = pieces(read(written))
    there = whole.curve(share)
    for asked in ({"at": [float(v) for v in there]}, {"parts": parts}):
        cut = act(written, {"act": "split", "curve": "c1", **asked})
        assert off(cut, written) < EXACT
        assert off(written, cut) < EXACT
        curves = [c for c in read(cut).curves if isinstance(c, DrawnSpline)]
        # its own points and one for each cut
        assert sum(len(c.through) - 1 for c in curves) <= read(written).curve("c1").spans + len(curves)


@given(written=splines(), after=st.integers(0, 6))
def test_a_point_put_into_a_spline_leaves_it_where_it_is(written: Raw, after: int) -> None:
    spline = read(written).curve("c1")
    assume(after < spline.spans)
    more = act(written, {"act": "spline-point", "curve": "c1", "after": after})
    assert off(more, written) < EXACT
    grown = read(more).curve("c1")
    assert [p for p in grown.through if p in spline.through] == spline.through
    assert grown.through[after + 1] not in spline.through


@given(written=splines(), share=st.floats(0.05, 0.95))
def test_what_was_split_is_joined_to_what_it_was(written: Raw, share: float) -> None:
    assume(not read(written).curve("c1").closed)
    [whole] = pieces(read(written))
    cut = act(written, {"act": "split", "curve": "c1", "at": [float(v) for v in whole.curve(share)]})
    assume(len(cut["curves"]) == 2)
    joined = act(cut, {"act": "join", "curves": [c["id"] for c in cut["curves"]]})
    assert len(joined["curves"]) == 1
    assert off(joined, written) < EXACT


WAVE = [(0, 0), (10, 8), (22, 3), (30, 10)]


@pytest.mark.parametrize("kind", ["spline", "poles"])
def test_a_trimmed_spline_keeps_its_points(kind: str) -> None:
    """Four points cut by a line are never five and twenty."""
    named = [f"p{i}" for i in range(1, 5)]
    curve = {"id": "c1", "type": "spline", "through": named} if kind == "spline" else {"id": "c1", "type": "poles", "poles": named}
    crossed = raw([*WAVE, (15, -5), (15, 15)], [curve, line(2, 5, 6)])
    trimmed = act(crossed, {"act": "trim", "curve": "c1", "at": (28, 8)})
    [left] = [c for c in read(trimmed).curves if isinstance(c, DrawnSpline)]
    assert len(left.through) <= 3
    assert read(trimmed).points[left.through[-1]][0] == pytest.approx(15, abs=1e-9)
    p = pieces(read(trimmed))[-1]
    original = pieces(read(crossed))[0].curve
    seen = p.curve(np.linspace(0, 1, 200))
    assert np.linalg.norm(original(closest_parameters(original, seen)) - seen, axis=1).max() < EXACT
    # it stays live: pulled by a point of its own it goes there
    pulled = act(trimmed, {"act": "pull", "points": {left.through[0]: (-4, 3)}})
    assert np.linalg.norm(pieces(read(pulled))[-1].curve(0.0) - (-4, 3)) < 1e-6


def test_both_halves_of_a_spline_cut_by_a_circle_keep_what_holds_their_ends() -> None:
    """The tangent line stays tangent to the half that it runs into."""
    tail = {"id": "c1", "type": "spline", "through": ["p1", "p2", "p3", "p4"]}
    written = raw([*WAVE, (40, 10), (16, 6)], [tail, line(2, 4, 5), circle(3, 6, 3.0)], ("tangent", "c1 c2"), ("horizontal", "c2"))
    cut = act(written, {"act": "trim", "curve": "c1", "at": (16, 6)})
    halves = [c for c in read(cut).curves if isinstance(c, DrawnSpline)]
    assert len(halves) == 2
    [tangent] = [h for h in read(cut).holds if h.type == "tangent"]
    assert "p4" in next(c for c in halves if c.id in tangent.of).through
    [whole, *_], parts = pieces(read(written)), [p for p in pieces(read(cut)) if p.type == "spline"]
    for part in parts:
        p = part.curve(np.linspace(0, 1, 200))
        assert np.linalg.norm(whole.curve(closest_parameters(whole.curve, p)) - p, axis=1).max() < EXACT


def test_a_spacing_that_does_not_fit_is_refused() -> None:
    with pytest.raises(ValueError, match="3 spans"):
        read(raw(WAVE, [{"id": "c1", "type": "spline", "through": ["p1", "p2", "p3", "p4"], "spacing": [1.0]}]))


def test_points_that_go_leave_a_spacing_for_the_spans_that_stay() -> None:
    more = act(raw(WAVE, [{"id": "c1", "type": "spline", "through": ["p1", "p2", "p3", "p4"]}]), {"act": "spline-point", "curve": "c1", "after": 1})
    spline = read(more).curve("c1")
    for gone in spline.through:
        left = read(act(more, {"act": "drop", "things": [gone]})).curve("c1")
        assert len(left.spacing) in (0, left.spans)
