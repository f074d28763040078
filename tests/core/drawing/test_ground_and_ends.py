"""Holds to the axes, along curves, over all of what is round, and where splines go on in their neighbours: by closed forms."""

from __future__ import annotations

from math import cos, hypot, pi, radians, sin, sqrt
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad
from scipy.optimize import brentq, minimize_scalar

from tests.core.drawing.drawings import Raw, act, arc, circle, drawing, line, raw, read, solved
from wander.core.drawing.curves.pieces import curve_of
from wander.core.drawing.edits.sheet import CannotDraw
from wander.core.drawing.holding.equations import Equations
from wander.core.drawing.holding.solver import Solved, solve
from wander.core.drawing.model import Drawing

EXACT = 1e-9


def settled(points: list[tuple[float, float]], curves: list[Raw], *holds: tuple[Any, ...]) -> Drawing:
    found = solve(drawing(points, curves, *holds))
    assert found.holds_true
    return found.drawing


def spline(number: int, *through: int, **more: Any) -> Raw:
    return {"id": f"c{number}", "type": "spline", "through": [f"p{i}" for i in through], **more}


def poles(number: int, *by: int) -> Raw:
    return {"id": f"c{number}", "type": "poles", "poles": [f"p{i}" for i in by]}


# -- the axes and the origin ------------------------------------------------------------------------------------------------------


def test_a_point_on_an_axis_at_a_distance_from_the_other() -> None:
    made = settled([(7, 0.3)], [], ("on-curve", "p1 x-axis"), ("distance", "p1 y-axis", 12.0))
    assert made.points["p1"] == pytest.approx((12.0, 0.0), abs=EXACT)


def test_nothing_is_left_free_by_what_holds_to_the_ground_alone() -> None:
    found = solve(drawing([(7, 0.3), (20, 1)], [line(1, 1, 2)], ("coincident", "p1 origin"), ("collinear", "c1 x-axis"), ("length", "c1", 25.0)))
    assert found.standing.freedoms == 0
    assert found.standing.disputes == ()
    assert found.standing.held == {"p1", "p2", "c1"}
    assert found.drawing.points["p2"] == pytest.approx((25.0, 0.0), abs=EXACT)


@pytest.mark.parametrize(
    ("hold", "end"),
    [
        (("parallel", "c1 y-axis"), (3.0, 14.0)),
        (("perpendicular", "c1 x-axis"), (3.0, 14.0)),
        (("angle", "x-axis c1", 30.0), (3 + 10 * cos(radians(30)), 4 + 10 * sin(radians(30)))),
    ],
)
def test_the_direction_of_a_line_by_an_axis(hold: tuple[Any, ...], end: tuple[float, float]) -> None:
    made = settled([(3, 4), (8, 11)], [line(1, 1, 2)], ("fixed", "p1"), ("length", "c1", 10.0), hold)
    assert made.points["p2"] == pytest.approx(end, abs=EXACT)


def test_a_circle_that_touches_both_axes() -> None:
    made = settled([(6, 9)], [circle(1, 1, 4)], ("radius", "c1", 5.0), ("tangent", "c1 x-axis"), ("tangent", "c1 y-axis"))
    assert made.points["p1"] == pytest.approx((5.0, 5.0), abs=EXACT)


def test_a_mirror_image_about_an_axis_follows() -> None:
    half = raw([(0, 20), (30, 0)], [line(1, 1, 2)], ("fixed", "p1"))
    whole = act(half, {"act": "mirror", "curves": ["c1"], "about": "y-axis"})
    moved = act(whole, {"act": "pull", "points": {"p2": [35.0, 4.0]}})
    assert sorted(moved["points"].values()) == [pytest.approx((-35.0, 4.0)), pytest.approx((0.0, 20.0)), pytest.approx((35.0, 4.0))]
    assert len(moved["curves"]) == 2


def test_lines_drawn_either_way_round_are_held_symmetric_about_an_axis() -> None:
    """A roof of two lines that were drawn one after the other: the ends pair as they lie, not as they were drawn."""
    roof = raw([(-30, 1), (0.4, 20), (29, -1)], [line(1, 1, 2), line(2, 2, 3)])
    made = read(act(roof, {"act": "hold", "type": "symmetric", "of": ["c1", "c2", "y-axis"]})).points
    assert made["p2"][0] == pytest.approx(0.0, abs=EXACT)
    assert made["p3"] == pytest.approx((-made["p1"][0], made["p1"][1]), abs=EXACT)


def test_the_ground_can_neither_be_taken_away_nor_changed() -> None:
    box = raw([(0, 0), (5, 0)], [line(1, 1, 2)])
    for wrong in (
        {"act": "drop", "things": ["x-axis"]},
        {"act": "pull", "points": {"origin": [1.0, 1.0]}},
        {"act": "construction", "curves": ["y-axis"], "on": True},
        {"act": "move", "things": ["x-axis"], "by": [1.0, 0.0]},
    ):
        with pytest.raises(CannotDraw, match="hold things to"):
            act(box, wrong)
    with pytest.raises(ValueError, match="it takes a line and a line"):
        act(box, {"act": "hold", "type": "parallel", "of": ["x-axis", "y-axis"]})


def test_what_is_held_to_an_axis_is_kept_when_other_things_go() -> None:
    kept = act(raw([(2, 0), (5, 5), (6, 6)], [line(1, 2, 3)], ("on-curve", "p1 x-axis")), {"act": "drop", "things": ["c1"]})
    assert [hold["of"] for hold in kept["holds"]] == [["p1", "x-axis"]]


# -- in one line, at the middle, in equal parts -----------------------------------------------------------------------------------


def test_two_lines_in_one_straight_line() -> None:
    lines = [line(1, 1, 2), line(2, 3, 4)]
    made = settled(
        [(0, 0), (10, 5), (20, 3), (30, 17)], lines, ("fixed", "c1"), ("collinear", "c2 c1"), ("distance", "p2 p3", 8.0), ("length", "c2", 3.0)
    )
    way = np.array([10.0, 5.0]) / sqrt(125)
    assert made.points["p3"] == pytest.approx(tuple(np.array([10.0, 5.0]) + 8 * way), abs=EXACT)
    assert made.points["p4"] == pytest.approx(tuple(np.array([10.0, 5.0]) + 11 * way), abs=EXACT)


def test_lines_that_share_a_point_go_on_in_one_line() -> None:
    made = settled([(0, 0), (10, 5), (20, 3)], [line(1, 1, 2), line(2, 2, 3)], ("fixed", "c1"), ("collinear", "c1 c2"), ("length", "c2", sqrt(5)))
    assert made.points["p3"] == pytest.approx((12.0, 6.0), abs=EXACT)


@given(
    begin=st.floats(0, 2 * pi),
    sweep=st.floats(0.1, 2 * pi - 0.1),
    count=st.integers(2, 7),
    radius=st.floats(0.5, 300),
    turn=st.floats(-0.8, 0.8),
    share=st.floats(0.7, 1.4),
)
@settings(max_examples=40)
def test_points_in_equal_parts_of_an_arc(begin: float, sweep: float, count: int, radius: float, turn: float, share: float) -> None:
    """Wherever they were first: the places at equal angles, also the one at the middle."""
    at = [(3 + radius * cos(t), -2 + radius * sin(t)) for t in (begin, begin + sweep)]
    astray = [(3 + share * radius * cos(t + turn), -2 + share * radius * sin(t + turn)) for t in begin + sweep * np.arange(1, count) / count]
    points = [(3.0, -2.0), *at, *astray, (3 + radius, -2.0)]
    named = " ".join(f"p{i + 4}" for i in range(count - 1))
    made = settled(points, [arc(1, 1, 2, 3)], ("fixed", "c1"), ("divided", f"c1 {named}"), ("midpoint", f"p{count + 3} c1"))
    for k in range(1, count):
        t = begin + sweep * k / count
        assert made.points[f"p{k + 3}"] == pytest.approx((3 + radius * cos(t), -2 + radius * sin(t)), abs=1e-8 * radius)
    middle = begin + sweep / 2
    assert made.points[f"p{count + 3}"] == pytest.approx((3 + radius * cos(middle), -2 + radius * sin(middle)), abs=1e-8 * radius)


def test_a_line_in_parts_stays_so_when_it_is_pulled() -> None:
    parted = act(raw([(0, 0), (30, 0)], [line(1, 1, 2)], ("fixed", "p1")), {"act": "divide", "curve": "c1", "parts": 3})
    pulled = read(act(parted, {"act": "pull", "points": {"p2": [60.0, 30.0]}})).points
    assert pulled["p2"] == pytest.approx((60.0, 30.0), abs=1e-3)
    x, y = pulled["p2"]
    assert sorted(pulled.values()) == [pytest.approx((x * k / 3, y * k / 3), abs=EXACT) for k in range(4)]


def test_a_spline_in_parts_of_one_length() -> None:
    """By an integral of its own over each part."""
    wave = raw([(0, 0), (10, 8), (25, -6), (40, 3)], [spline(1, 1, 2, 3, 4)], ("fixed", "c1"))
    parted = act(wave, {"act": "divide", "curve": "c1", "parts": 4})
    moved = read(act({**parted, "holds": parted["holds"][1:]}, {"act": "pull", "points": {"p2": [12.0, 14.0]}}))
    curve = curve_of(moved.curves[0], moved)
    assert curve is not None
    far = lambda t: quad(lambda u: hypot(*curve.derivatives(float(u), 1)[1]), 0, t, limit=200)[0]  # noqa: E731
    for k, point in enumerate(moved.holds[-1].of[1:], 1):
        place = curve(brentq(lambda t, k=k: far(t) - far(1.0) * k / 4, 0, 1, xtol=1e-12))
        assert moved.points[point] == pytest.approx(tuple(place), abs=1e-6)


def test_parts_of_what_is_cut_are_parts_no_longer() -> None:
    parted = act(raw([(0, 0), (30, 0)], [line(1, 1, 2)]), {"act": "divide", "curve": "c1", "parts": 3})
    cut = act(parted, {"act": "split", "curve": "c1", "at": [13.0, 0.0]})
    assert [hold for hold in cut["holds"] if hold["type"] == "divided"] == []
    with pytest.raises(CannotDraw, match="none of them"):
        act(raw([(0, 0)], [circle(1, 1, 5)]), {"act": "divide", "curve": "c1", "parts": 3})


# -- over all, and clear of what is round -----------------------------------------------------------------------------------------


def test_how_long_a_slot_is_over_all() -> None:
    points = [(8.0, 0.2), (-7.0, 0), (8.0, -4.0), (8.0, 4.5), (-7.0, 4.0), (-7.0, -4.0)]
    curves = [arc(1, 1, 3, 4), line(2, 4, 5), arc(3, 2, 5, 6), line(4, 6, 3)]
    holds: list[tuple[Any, ...]] = [("tangent", f"c{a} c{b}") for a, b in ((1, 2), (2, 3), (3, 4), (4, 1))]
    holds += [("horizontal", "c2"), ("equal", "c1 c3"), ("radius", "c1", 5.0), ("across", "c1 c3", 40.0), ("fixed", "p2")]
    made = settled(points, curves, *holds)
    assert made.points["p1"] == pytest.approx((23.0, 0.0), abs=EXACT)


@pytest.mark.parametrize(
    ("sweep", "across", "up"), [(90.0, 10.0, 10.0), (150.0, 10 + 10 * cos(radians(30)), 10.0), (200.0, 20.0, 10 + 10 * sin(radians(20)))]
)
def test_how_far_an_arc_reaches(sweep: float, across: float, up: float) -> None:
    """From 0 degrees on, a radius of 10: as far as it runs."""
    end = (10 * cos(radians(sweep)), 10 * sin(radians(sweep)))
    made = drawing([(0, 0), (10, 0), end], [arc(1, 1, 2, 3)], ("across", "c1", 1.0), ("up", "c1", 1.0))
    told = list(Equations(made).measured(made.holds).values())
    assert told == pytest.approx([across, up], abs=EXACT)


def test_the_size_of_an_arch_over_its_arc_makes_the_arc() -> None:
    """A door: two posts with half a circle over them, 64 wide and 80 high over all."""
    points = [(-30.0, 0), (-30.0, 50), (30.0, 50), (30.0, 0), (0, 50)]
    curves = [line(1, 1, 2), arc(2, 5, 3, 2), line(3, 3, 4), line(4, 4, 1)]
    holds: list[tuple[Any, ...]] = [("fixed", "p1"), ("horizontal", "c4"), ("vertical", "c1"), ("vertical", "c3")]
    holds += [("tangent", "c1 c2"), ("tangent", "c2 c3"), ("length", "c4", 64.0), ("up", "c2 c4", 80.0)]
    made = settled(points, curves, *holds)
    assert made.points["p5"] == pytest.approx((2.0, 48.0), abs=EXACT)


def test_a_circle_clear_of_a_line_and_a_point_clear_of_a_circle() -> None:
    holds = [
        ("fixed", "c1"),
        ("radius", "c2", 4.0),
        ("distance", "c2 c1", 2.5),
        ("vertical", "p1 p3"),
        ("vertical", "p3 p4"),
        ("distance", "p4 c2", 3.0),
    ]
    made = settled([(0, 0), (20, 0), (1, 9), (0, 17)], [line(1, 1, 2), circle(2, 3, 5)], *holds)
    assert made.points["p3"] == pytest.approx((0.0, 6.5), abs=EXACT)
    assert made.points["p4"] == pytest.approx((0.0, 13.5), abs=EXACT)


@pytest.mark.parametrize("sweep", [40.0, 179.0, 180.0, 250.0, 340.0])
def test_how_far_an_arc_sweeps(sweep: float) -> None:
    points = [(1.0, 2.0), (11.0, 2.0), (-7.0, -3.0) if sweep > 180 else (2.0, 11.0)]
    made = settled(points, [arc(1, 1, 2, 3)], ("fixed", "p1"), ("fixed", "p2"), ("angle", "c1", sweep))
    assert made.points["p3"] == pytest.approx((1 + 10 * cos(radians(sweep)), 2 + 10 * sin(radians(sweep))), abs=EXACT)


# -- splines that go on in their neighbours ---------------------------------------------------------------------------------------


def leaving(made: Drawing, curve: str, at_end: bool) -> tuple[np.ndarray, float]:
    """The direction of a curve at an end, and its curvature there, positive to the left."""
    run = curve_of(made.curve(curve), made)
    assert run is not None
    _, d, dd = run.derivatives(run.domain[1] if at_end else run.domain[0], 2)
    size = hypot(*d)
    return d / size, float(d[0] * dd[1] - d[1] * dd[0]) / size**3


def test_a_spline_goes_on_in_another() -> None:
    points = [(0, 0), (10, 6), (20, 0), (32, 9), (41, 2)]
    made = settled(points, [spline(1, 1, 2, 3), spline(2, 3, 4, 5)], ("tangent", "c2 c1"))
    assert leaving(made, "c2", False)[0] == pytest.approx(leaving(made, "c1", True)[0], abs=1e-12)
    assert leaving(made, "c2", False)[1] != pytest.approx(leaving(made, "c1", True)[1], abs=1e-3)


@pytest.mark.parametrize("backwards", [False, True])
@pytest.mark.parametrize("neighbour", ["line", "arc", "spline"])
def test_a_spline_takes_the_curvature_of_its_neighbour(neighbour: str, backwards: bool) -> None:
    """On either end of either, whichever way each was drawn; the points stay where they are."""
    shared, far = (20.0, 0.0), (0.0, -10.0)
    first = {"line": line(1, 2, 1), "arc": arc(1, 3, 2, 1), "spline": spline(1, 2, 3, 1)}[neighbour]
    if backwards and neighbour == "line":
        first = line(1, 1, 2)
    if backwards and neighbour == "spline":
        first = spline(1, 1, 3, 2)
    # about (20, -15) an arc of 15 from the left to the top, clockwise seen: drawn from its end
    center = (20.0, -15.0) if neighbour == "arc" else (9.0, 3.0)
    start = (20 - 15.0, -15.0) if neighbour == "arc" else far
    if neighbour == "arc":
        first = arc(1, 3, 1, 2)
    later = spline(2, 5, 4, 1) if backwards else spline(2, 1, 4, 5)
    made = settled([shared, start, center, (33.0, 6.0), (45.0, -4.0)], [first, later], ("curvature", "c1 c2"))
    away, bend = leaving(made, "c2", backwards)
    ends = made.curve("c1").ends()
    assert ends is not None
    there, known = leaving(made, "c1", ends[1] == "p1")
    sign = 1.0 if (ends[1] == "p1") != backwards else -1.0
    assert away == pytest.approx(sign * there, abs=1e-9)
    assert bend == pytest.approx(sign * known, abs=1e-7)
    run = curve_of(made.curve("c2"), made)
    assert run is not None
    dense = run(np.linspace(0, 1, 20001))
    for point in ("p1", "p4", "p5"):
        assert np.linalg.norm(dense - made.points[point], axis=1).min() < 1e-3


def test_a_line_that_a_spline_by_control_points_goes_on_in() -> None:
    made = settled([(0, 0), (10, 5), (18, 14), (30, 12), (40, 0)], [line(1, 1, 2), poles(2, 2, 3, 4, 5)], ("fixed", "c1"), ("tangent", "c1 c2"))
    assert leaving(made, "c2", False)[0] == pytest.approx(np.array([2.0, 1.0]) / sqrt(5), abs=EXACT)


def test_a_line_from_a_fixed_place_that_touches_a_spline_where_it_ends() -> None:
    """As the kernel of the drawing evaluates it: the end lies on the spline and the line runs along it there."""
    points = [(0.0, 0.0), (10.0, 8.0), (20.0, 9.0), (34.0, 0.0), (-15.0, 2.0), (8.0, 6.0)]
    made = settled(points, [spline(1, 1, 2, 3, 4), line(2, 5, 6)], ("fixed", "c1"), ("fixed", "p5"), ("on-curve", "p6 c1"), ("tangent", "c2 c1"))
    run = curve_of(made.curve("c1"), made)
    assert run is not None
    dense = np.linspace(0, 1, 200001)
    places, ways = run(dense), run.derivatives(dense, 1)[1]
    nearest = int(np.linalg.norm(places - made.points["p6"], axis=1).argmin())
    assert np.linalg.norm(places[nearest] - made.points["p6"]) < 1e-3
    way = np.subtract(made.points["p6"], made.points["p5"])
    off = (way[0] * ways[nearest][1] - way[1] * ways[nearest][0]) / np.linalg.norm(way) / np.linalg.norm(ways[nearest])
    assert abs(off) < 1e-4


def test_a_point_on_a_spline_that_its_neighbour_leads_lies_on_what_is_seen() -> None:
    points = [(0, 0), (10, 10), (25, 10), (40, 0), (18, 8)]
    made = settled(points, [line(1, 1, 2), spline(2, 2, 3, 4)], ("fixed", "c1"), ("tangent", "c1 c2"), ("on-curve", "p5 c2"))
    run = curve_of(made.curve("c2"), made)
    assert run is not None
    off = lambda t: hypot(*(run(float(t)) - made.points["p5"]))  # noqa: E731
    near = min(np.linspace(0, 1, 2001), key=off)
    assert minimize_scalar(off, bounds=(near - 1e-3, near + 1e-3), method="bounded", options={"xatol": 1e-12}).fun < 1e-7


def test_a_direction_that_a_point_had_gives_way_to_the_neighbour() -> None:
    points = [(0, 0), (10, 10), (25, 10), (40, 0)]
    made = settled(
        points, [line(1, 1, 2), spline(2, 2, 3, 4, handles=[{"at": 0, "angle": -30.0, "pull": 2.0}])], ("fixed", "c1"), ("tangent", "c1 c2")
    )
    assert leaving(made, "c2", False)[0] == pytest.approx(np.array([1.0, 1.0]) / sqrt(2), abs=1e-12)


def test_splines_that_do_not_meet_are_told_so() -> None:
    apart = raw([(0, 0), (10, 6), (20, 0), (30, 9)], [spline(1, 1, 2), spline(2, 3, 4)])
    with pytest.raises(CannotDraw, match="share an end"):
        act(apart, {"act": "hold", "type": "tangent", "of": ["c1", "c2"]})


def test_everything_holds_after_a_pull_beside_them() -> None:
    """A spline between a line and an arc, with its curvature on both: pulled by its middle."""
    points = [(-20.0, 0.0), (0.0, 0.0), (12.0, 9.0), (25.0, 0.0), (35.0, 0.0), (45.0, 0.0)]
    shape = raw(points, [line(1, 1, 2), spline(2, 2, 3, 4), arc(3, 5, 4, 6)], ("curvature", "c1 c2"), ("curvature", "c2 c3"), ("fixed", "c1"))
    found: Solved = solved(act(shape, {"act": "pull", "points": {"p3": [10.0, 14.0]}}))
    assert found.holds_true
    made = found.drawing
    assert made.points["p3"] == pytest.approx((10.0, 14.0), abs=1e-6)
    assert leaving(made, "c2", False)[1] == pytest.approx(0.0, abs=1e-9)
    assert leaving(made, "c2", True)[1] == pytest.approx(leaving(made, "c3", False)[1], abs=1e-7)
