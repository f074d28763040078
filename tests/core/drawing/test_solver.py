"""The solver against drawings whose answers are known, and against disputes whose names are known."""

from __future__ import annotations

from collections.abc import Callable
from math import atan2, cos, degrees, hypot, pi, radians, sin, sqrt, tan
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.drawing.drawings import BOX, Raw, arc, circle, drawing, line, raw, read, solved
from wander.core.drawing.holding.solver import solve
from wander.core.drawing.model import Drawing, DrawnCircle

EXACT = 1e-9
Where = Callable[[Drawing], float]
Case = tuple[str, Drawing, Where, float]


def x(point: str) -> Where:
    return lambda d: d.points[point][0]


def y(point: str) -> Where:
    return lambda d: d.points[point][1]


def apart(a: str, b: str) -> Where:
    return lambda d: hypot(d.points[a][0] - d.points[b][0], d.points[a][1] - d.points[b][1])


def radius(curve: str) -> Where:
    def found(d: Drawing) -> float:
        made = d.curve(curve)
        assert isinstance(made, DrawnCircle)
        return made.radius

    return found


def turn(a: str, b: str, c: str, e: str) -> Where:
    """Angle from the way a-b to the way c-e, degrees."""

    def found(d: Drawing) -> float:
        (ax, ay), (bx, by), (cx, cy), (ex, ey) = (d.points[p] for p in (a, b, c, e))
        u, v = (bx - ax, by - ay), (ex - cx, ey - cy)
        return degrees(atan2(u[0] * v[1] - u[1] * v[0], u[0] * v[0] + u[1] * v[1]))

    return found


def boxes() -> list[Case]:
    box = read(BOX)
    return [("box, width", box, x("p3"), 31.0), ("box, depth", box, y("p3"), 20.0), ("box, corner", box, y("p4"), 20.0)]


def triangles() -> list[Case]:
    """Three sides given: the height by Heron."""
    found = []
    for a, b, c in ((3.0, 4.0, 5.0), (7.0, 8.0, 9.0), (20.0, 13.0, 11.0), (1.0, 1.0, 1.0), (100.0, 60.0, 60.0), (2.5, 6.0, 6.5)):
        sides = [line(1, 1, 2), line(2, 2, 3), line(3, 3, 1)]
        holds = [("length", "c1", a), ("length", "c2", b), ("length", "c3", c), ("fixed", "p1"), ("horizontal", "c1")]
        half = (a + b + c) / 2
        height = 2 * sqrt(half * (half - a) * (half - b) * (half - c)) / a
        found.append((f"triangle {a:g} {b:g} {c:g}", drawing([(0, 0), (a * 0.8, 0.4), (a * 0.3, b * 0.7)], sides, *holds), y("p3"), height))
    return found


def tangents() -> list[Case]:
    """A circle that touches two lines at an angle; two circles and a line; a circle round another."""
    found = []
    for angle in (30.0, 60.0, 90.0, 120.0, 150.0):
        way = (20 * cos(radians(angle)), 20 * sin(radians(angle)))
        lines = [line(1, 1, 2), line(2, 1, 3), circle(3, 4, 2.0)]
        half = radians(angle / 2)
        guess = (6 * cos(half), 6 * sin(half))
        holds = [("fixed", "c1"), ("fixed", "c2"), ("tangent", "c1 c3"), ("tangent", "c3 c2"), ("radius", "c3", 3.0)]
        found.append((f"in the corner of {angle:g}", drawing([(0, 0), (20, 0), way, guess], lines, *holds), apart("p1", "p4"), 3.0 / sin(half)))
    for r, s in ((5.0, 3.0), (10.0, 1.0), (4.0, 4.0)):
        pair = [circle(1, 1, r * 0.9), circle(2, 2, s * 1.2), line(3, 3, 4)]
        holds = [("fixed", "c3"), ("tangent", "c1 c3"), ("tangent", "c2 c3"), ("tangent", "c1 c2"), ("radius", "c1", r), ("diameter", "c2", 2 * s)]
        flat = drawing([(0, r), (r + s, s), (-50, 0), (50, 0)], pair, *holds)
        found.append((f"on a line, {r:g} beside {s:g}", flat, lambda d: abs(d.points["p2"][0] - d.points["p1"][0]), 2 * sqrt(r * s)))
        inner = [circle(1, 1, r + s), circle(2, 2, s)]
        wide = drawing([(0, 0), (r * 0.8, 0.3)], inner, ("fixed", "c1"), ("tangent", "c2 c1"), ("radius", "c2", s))
        found.append((f"inside {r + s:g}, {s:g}", wide, apart("p1", "p2"), r))
    for r, away in ((10.0, 30.0), (3.0, 3.5)):
        # a line from a fixed place that ends where it touches: both holds name the same place, which has to be found to nine digits
        touch = [circle(1, 1, r), line(2, 2, 3)]
        holds = [("fixed", "p1"), ("radius", "c1", r), ("fixed", "p2"), ("on-curve", "p3 c1"), ("tangent", "c2 c1")]
        made = drawing([(0, 0), (-away, 0), (-0.4 * r, 0.8 * r)], touch, *holds)
        found.append((f"touching {r:g} from {away:g}", made, x("p3"), -r * r / away))
    return found


def directions() -> list[Case]:
    """A line held in a direction, in whichever turn that is told."""
    found = []
    for angle in (0.0, 30.0, 90.0, 135.0, 180.0, 225.0, 350.0, -10.0, -180.0, 400.0):
        made = drawing([(0, 0), (7.0, 1.5)], [line(1, 1, 2)], ("fixed", "p1"), ("length", "c1", 8.0), ("angle", "c1", angle))
        found += [
            (f"towards {angle:g}, across", made, x("p2"), 8 * cos(radians(angle))),
            (f"towards {angle:g}, up", made, y("p2"), 8 * sin(radians(angle))),
        ]
    return found


def slots() -> list[Case]:
    found = []
    for long, wide in ((30.0, 10.0), (50.0, 8.0), (12.0, 11.0)):
        points = [(8.0, 0.2), (-7.0, 0), (8.0, -4.0), (8.0, 4.5), (-7.0, 4.0), (-7.0, -4.0)]
        curves = [arc(1, 1, 3, 4), line(2, 4, 5), arc(3, 2, 5, 6), line(4, 6, 3)]
        holds: list[tuple[object, ...]] = [("tangent", f"c{a} c{b}") for a, b in ((1, 2), (2, 3), (3, 4), (4, 1))]
        holds += [("horizontal", "c2"), ("horizontal", "c4"), ("radius", "c1", wide / 2), ("across", "p2 p1", long - wide), ("fixed", "p2")]
        made = drawing(points, curves, *holds)
        found += [(f"slot {long:g} x {wide:g}, end", made, x("p1"), -7.0 + long - wide), (f"slot {long:g} x {wide:g}, side", made, y("p5"), wide / 2)]
    return found


def arches() -> list[Case]:
    """A symmetric arch over a span with a rise: its radius is (s2/4 + h2) / 2h."""
    found = []
    for span, rise in ((40.0, 10.0), (40.0, 19.0), (100.0, 5.0), (12.0, 6.0)):
        points = [(-span / 2, 0.5), (span / 2 + 1, 0), (1.0, -span), (0.3, rise), (0, 0), (0, 50)]
        curves = [arc(1, 3, 2, 1), line(2, 5, 6, construction=True)]
        holds = [("symmetric", "p1 p2 c2"), ("across", "p1 p2", span), ("on-curve", "p4 c1"), ("on-curve", "p4 c2"), ("fixed", "c2")]
        holds += [("horizontal", "p5 p2"), ("up", "p1 p4", rise)]
        found.append((f"arch {span:g} / {rise:g}", drawing(points, curves, *holds), apart("p3", "p1"), (span**2 / 4 + rise**2) / (2 * rise)))
    return found


def chains() -> list[Case]:
    """Links of given lengths and bends: the end is the sum of the links."""
    found = []
    for count in (3, 5, 8):
        for bend in (10.0, 25.0, -15.0):
            points = [(10.0 * i, 0.1 * bend * i) for i in range(count + 1)]
            links = [line(i + 1, i + 1, i + 2) for i in range(count)]
            # neighbours share an end: the angle between them is that of the corner
            holds: list[tuple[object, ...]] = [("fixed", "p1"), ("horizontal", "c1"), *(("length", f"c{i + 1}", 8.0 + i) for i in range(count))]
            holds += [("angle", f"c{i} c{i + 1}", 180.0 - abs(bend)) for i in range(1, count)]
            points = [(0.0, 0.0)]
            for i in range(count):
                points.append((points[-1][0] + 9 * cos(radians(bend * 0.8 * i)), points[-1][1] + 9 * sin(radians(bend * 0.8 * i))))
            height = sum((8.0 + i) * sin(radians(bend * i)) for i in range(count))
            found.append((f"{count} links bent by {bend:g}", drawing(points, links, *holds), y(f"p{count + 1}"), height))
    return found


def relations() -> list[Case]:
    cross = [line(1, 1, 2), line(2, 3, 4)]
    at = [(0.0, 0.0), (10.0, 1.0), (2.0, 8.0), (9.0, 11.0)]
    found = [
        ("parallel", drawing(at, cross, ("fixed", "c1"), ("parallel", "c1 c2")), turn("p1", "p2", "p3", "p4"), 0.0),
        ("square", drawing(at, cross, ("fixed", "c1"), ("perpendicular", "c1 c2")), lambda d: abs(turn("p1", "p2", "p3", "p4")(d)), 90.0),
        ("equal", drawing(at, cross, ("fixed", "c1"), ("equal", "c1 c2")), apart("p3", "p4"), hypot(10, 1)),
        ("angle", drawing(at, cross, ("fixed", "c1"), ("angle", "c1 c2", 40.0)), turn("p1", "p2", "p3", "p4"), 40.0),
        ("distance of lines", drawing(at, cross, ("fixed", "c1"), ("parallel", "c1 c2"), ("distance", "c2 c1", 7.0)), _off_first, 7.0),
        ("midpoint", drawing(at, cross, ("fixed", "c1"), ("midpoint", "p3 c1")), x("p3"), 5.0),
        ("coincident", drawing(at, cross, ("fixed", "c1"), ("coincident", "p3 p2")), apart("p3", "p2"), 0.0),
        ("vertical points", drawing(at, cross, ("fixed", "p1"), ("vertical", "p1 p3")), x("p3"), 0.0),
        ("point from a line", drawing(at, cross, ("fixed", "c1"), ("distance", "p4 c1", 3.0)), lambda d: _away(d, "p4"), 3.0),
        ("up", drawing(at, cross, ("fixed", "p1"), ("up", "p1 p3", 12.5)), y("p3"), 12.5),
    ]
    rings = [circle(1, 1, 5.0), circle(2, 2, 3.0)]
    spots = [(0.0, 0.0), (9.0, 2.0), (4.0, 6.0)]
    found += [
        ("equal radii", drawing(spots, rings, ("fixed", "c1"), ("equal", "c1 c2")), radius("c2"), 5.0),
        ("concentric", drawing(spots, rings, ("fixed", "c1"), ("concentric", "c1 c2")), apart("p1", "p2"), 0.0),
        ("point on a circle", drawing(spots, rings, ("fixed", "c1"), ("on-curve", "p3 c1")), apart("p1", "p3"), 5.0),
        ("expression", drawing(spots, rings, ("radius", "c1", "wide / 2 + 1 cm")), radius("c1"), 25.5),
    ]
    oval = {"id": "c1", "type": "ellipse", "center": "p1", "width": 20.0, "depth": 10.0, "turn": 30.0}
    found.append(("point on an ellipse", drawing([(1.0, 2.0), (9.0, 8.0)], [oval], ("fixed", "c1"), ("on-curve", "p2 c1")), _on_oval, 1.0))
    return found


def _away(d: Drawing, point: str) -> float:
    (ax, ay), (bx, by), (px, py) = (d.points[p] for p in ("p1", "p2", point))
    return abs((bx - ax) * (py - ay) - (by - ay) * (px - ax)) / hypot(bx - ax, by - ay)


def _off_first(d: Drawing) -> float:
    return _away(d, "p3")


def _on_oval(d: Drawing) -> float:
    px, py = np.subtract(d.points["p2"], d.points["p1"])
    c, s = cos(pi / 6), sin(pi / 6)
    return float(((c * px + s * py) / 10) ** 2 + ((-s * px + c * py) / 5) ** 2)


def ladders() -> list[Case]:
    """Squares on squares, each turned by the slope of a right triangle: sides shrink by the cosine."""
    found = []
    for count in (2, 4, 6):
        curves, holds, points = [], [("fixed", "p1"), ("horizontal", "c1"), ("length", "c1", 16.0)], [(0.0, 0.0), (15.0, 0.5)]
        for i in range(count):
            a = len(points) - 1
            points += [(points[-1][0] + 1.0, points[-1][1] + 9.0 - i)]
            curves += [line(len(curves) + 1, a, a + 1)]
            if i:
                holds += [("perpendicular", f"c{i} c{i + 1}"), ("length", f"c{i + 1}", 16.0 * 0.75**i)]
        way, here = 0.0, np.zeros(2)
        for i in range(count):
            here += 16.0 * 0.75**i * np.array([cos(way), sin(way)])
            way += pi / 2
        points = [(0.0, 0.0)]
        for i in range(count):
            points.append((points[-1][0] + 14 * 0.8**i * cos(1.4 * i), points[-1][1] + 14 * 0.8**i * sin(1.4 * i)))
        found.append((f"spiral of {count}", drawing(points, curves, *holds), y(f"p{count + 1}"), float(here[1])))
    return found


def polygons() -> list[Case]:
    found = []
    for count in (3, 5, 6, 8, 12):
        points = [(10 * cos(2 * pi * i / count + 0.02 * i), 10 * sin(2 * pi * i / count)) for i in range(count)] + [(0.2, 0.1)]
        sides = [line(i + 1, i + 1, (i + 1) % count + 1) for i in range(count)] + [circle(50, count + 1, 9.0, construction=True)]
        holds = [("on-curve", f"p{i + 1} c50") for i in range(count)] + [("equal", f"c1 c{i + 1}") for i in range(1, count)]
        holds += [("fixed", f"p{count + 1}"), ("length", "c1", 7.0)]
        found.append((f"{count} sides of 7", drawing(points, sides, *holds), radius("c50"), 3.5 / sin(pi / count)))
    return found


def fillets() -> list[Case]:
    """A round corner between two lines takes r / tan(half the angle) from each."""
    found = []
    for angle in (45.0, 90.0, 135.0):
        far = (30 * cos(radians(angle)), 30 * sin(radians(angle)))
        half = radians(angle / 2)
        reach = 4 / tan(half)
        near = (reach * cos(radians(angle)), reach * sin(radians(angle)))
        middle = (4 / sin(half) * cos(half) + 0.3, 4.0)
        curves = [line(1, 1, 2), line(2, 3, 4), arc(3, 5, 3, 1)]
        holds = [("fixed", "p2"), ("fixed", "p4"), ("horizontal", "c1"), ("tangent", "c1 c3"), ("tangent", "c2 c3"), ("radius", "c3", 5.0)]
        holds += [("angle", "c1 c2", angle), ("fixed", "p6"), ("on-curve", "p6 c2")]
        made = drawing([(reach, 0.1), (30, 0), near, far, middle, (0, 0)], curves, *holds)
        found.append((f"fillet at {angle:g}", made, x("p1"), 5.0 / tan(half)))
    return found


CASES = [*boxes(), *triangles(), *tangents(), *directions(), *slots(), *arches(), *chains(), *relations(), *ladders(), *polygons(), *fillets()]


def test_there_are_sixty_of_them() -> None:
    assert len(CASES) >= 60
    assert len({name for name, *_ in CASES}) == len(CASES)


@pytest.mark.parametrize(("made", "where", "wanted"), [case[1:] for case in CASES], ids=[case[0] for case in CASES])
def test_a_known_answer(made: Drawing, where: Where, wanted: float) -> None:
    found = solve(made)
    assert found.holds_true
    assert found.error < EXACT
    assert abs(where(found.drawing) - wanted) < EXACT * max(1.0, abs(wanted))


def _more(**hold: Any) -> Raw:
    """The box with one hold more."""
    return {**BOX, "holds": [*BOX["holds"], {"id": "h8", **hold}]}


DISPUTES = [
    ("two lengths of one line", raw([(0, 0), (9, 1)], [line(1, 1, 2)], ("length", "c1", 10.0), ("length", "c1", 12.0)), {"h1", "h2"}, True),
    ("said twice", raw([(0, 0), (9, 1)], [line(1, 1, 2)], ("horizontal", "c1"), ("horizontal", "p1 p2")), {"h1", "h2"}, False),
    (
        "a triangle that can't close",
        raw(
            [(0, 0), (9, 1), (4, 5)],
            [line(1, 1, 2), line(2, 2, 3), line(3, 3, 1)],
            ("length", "c1", 3.0),
            ("length", "c2", 4.0),
            ("length", "c3", 10.0),
        ),
        {"h1", "h2", "h3"},
        True,
    ),
    (
        "opposite sides of a box",
        {**BOX, "holds": [*BOX["holds"], {"id": "h8", "type": "length", "of": ["c3"], "value": 33.0}]},
        {"h2", "h3", "h4", "h5", "h8"},
        True,
    ),
    ("a side of a box again", {**BOX, "holds": [*BOX["holds"], {"id": "h8", "type": "parallel", "of": ["c1", "c3"]}]}, {"h1", "h3", "h8"}, False),
    (
        "horizontal and at an angle",
        raw([(0, 0), (9, 0), (5, 5)], [line(1, 1, 2), line(2, 1, 3)], ("horizontal", "c1"), ("vertical", "c2"), ("angle", "c1 c2", 80.0)),
        {"h1", "h2", "h3"},
        True,
    ),
    (
        "radii equal and different",
        raw([(0, 0), (9, 0)], [circle(1, 1, 3.0), circle(2, 2, 4.0)], ("equal", "c1 c2"), ("radius", "c1", 3.0), ("diameter", "c2", 9.0)),
        {"h1", "h2", "h3"},
        True,
    ),
    (
        "square to each other all round",
        raw(
            [(0, 0), (9, 0), (9, 5), (0, 5)],
            [line(1, 1, 2), line(2, 2, 3), line(3, 3, 4), line(4, 4, 1)],
            ("perpendicular", "c1 c2"),
            ("perpendicular", "c2 c3"),
            ("perpendicular", "c3 c4"),
            ("perpendicular", "c4 c1"),
        ),
        {"h1", "h2", "h3", "h4"},
        False,
    ),
    (
        "two fixed ends and a length",
        raw([(0, 0), (9, 0)], [line(1, 1, 2)], ("fixed", "p1"), ("fixed", "p2"), ("length", "c1", 9.5)),
        {"h1", "h2", "h3"},
        True,
    ),
]


@pytest.mark.parametrize(("written", "holds", "conflict"), [d[1:] for d in DISPUTES], ids=[d[0] for d in DISPUTES])
def test_a_hold_too_many_is_named_with_those_it_disputes(written: dict, holds: set[str], conflict: bool) -> None:
    [dispute] = solved(written).standing.disputes
    assert set(dispute.holds) == holds
    assert dispute.conflict is conflict
    assert dispute.last == max(holds)


def test_dropping_any_one_of_a_conflict_settles_it() -> None:
    for _, written, holds, _ in DISPUTES:
        for hold in holds:
            left = {**written, "holds": [h for h in written["holds"] if h["id"] != hold]}
            found = solved(left)
            assert found.holds_true
            assert found.standing.disputes == ()


def test_what_is_held_and_what_is_free() -> None:
    held = solved(BOX).standing
    assert held.freedoms == 0
    assert {"p1", "p2", "p3", "p4", "c1", "c2", "c3", "c4"} == held.held
    loose = solved({**BOX, "holds": [h for h in BOX["holds"] if h["type"] != "length"]}).standing
    assert loose.freedoms == 2
    assert loose.held == {"p1"}
    half = solved({**BOX, "holds": [h for h in BOX["holds"] if h["id"] != "h6"]}).standing
    assert half.freedoms == 1
    assert half.held == {"p1", "p2", "c1"}


def test_a_number_that_only_tells_holds_nothing() -> None:
    telling = {**BOX, "holds": [{**h, "reading": True} if h["id"] == "h6" else h for h in BOX["holds"]]}
    assert solved(telling).standing.freedoms == 1


@settings(max_examples=40)
@given(to=st.tuples(st.floats(-60, 60), st.floats(-60, 60)))
def test_what_is_dragged_follows_and_everything_stays_held(to: tuple[float, float]) -> None:
    free = read({**BOX, "holds": [h for h in BOX["holds"] if h["type"] != "fixed"]})
    found = solve(free, {"p3": to})
    assert found.error < 1e-8
    # nothing holds the place, so the point goes all the way
    assert np.hypot(*np.subtract(found.drawing.points["p3"], to)) < 1e-4
    assert abs(apart("p1", "p2")(found.drawing) - 31.0) < 1e-8


@settings(max_examples=40)
@given(turned=st.floats(-pi, pi), move=st.tuples(st.floats(-1e3, 1e3), st.floats(-1e3, 1e3)), scale=st.floats(0.01, 100))
def test_the_answer_does_not_depend_on_where_and_how_large(turned: float, move: tuple[float, float], scale: float) -> None:
    """A triangle of three lengths, from a start that is moved, turned and scaled: always the same triangle."""
    start = [(0.0, 0.0), (6.0, 0.5), (2.0, 5.0)]
    c, s = cos(turned), sin(turned)
    points = [(move[0] + scale * (c * px - s * py), move[1] + scale * (s * px + c * py)) for px, py in start]
    sides = [line(1, 1, 2), line(2, 2, 3), line(3, 3, 1)]
    found = solve(drawing(points, sides, *((("length", f"c{i}", n * scale) for i, n in enumerate((7.0, 8.0, 9.0), start=1)))))
    assert found.error < 1e-9 * max(scale * 9, 1.0)
    assert found.standing.freedoms == 3
    for (a, b), wanted in zip((("p1", "p2"), ("p2", "p3"), ("p3", "p1")), (7.0, 8.0, 9.0), strict=True):
        assert abs(apart(a, b)(found.drawing) - wanted * scale) < 1e-8 * max(scale, 1.0)


def test_slopes_agree_with_differences() -> None:
    """Every kind of equation at a place where it holds: the sparse slopes against central differences."""
    from wander.core.drawing.holding.equations import Equations

    for name, made, _, _ in CASES:
        equations = Equations(solve(made).drawing)
        rows = equations.linearised()
        dense = np.zeros((len(rows.residual), len(equations.values)))
        np.add.at(dense, (rows.row, rows.column), rows.slopes)
        start, step = equations.values.copy(), 1e-6
        for k in range(len(start)):
            ends = []
            for sign in (1, -1):
                equations.values = start.copy()
                equations.values[k] += sign * step
                ends.append(equations.linearised().residual)
            assert np.abs((ends[0] - ends[1]) / (2 * step) - dense[:, k]).max(initial=0.0) < 1e-5, name


def test_pairs_of_neighbours_are_told_apart() -> None:
    """The corner of a chain keeps the side it is on: the start decides between the two answers."""
    ends = []
    for side in (1.0, -1.0):
        made = drawing(
            [(0, 0), (10, 0), (15, 3 * side)], [line(1, 1, 2), line(2, 2, 3)], ("fixed", "c1"), ("angle", "c1 c2", 150.0), ("length", "c2", 6.0)
        )
        ends.append(y("p3")(solve(made).drawing))
    assert abs(ends[0] - 6 * sin(radians(30))) < EXACT
    assert abs(ends[1] + 6 * sin(radians(30))) < EXACT
