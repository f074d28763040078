"""Areas of drawings against closed forms, and what is found wrong with drawings, each with its repair."""

from __future__ import annotations

from math import acos, cos, pi, sin, sqrt

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.drawing.drawings import Raw, act, arc, area, circle, graph_of, line, polygon, raw, read
from wander.core.drawing.areas.health import MOST_ALONE, ailments
from wander.core.drawing.areas.regions import crossings_with_construction
from wander.core.drawing.curves.crossings import crossings, self_crossings
from wander.core.drawing.curves.pieces import pieces
from wander.core.drawing.outlines.outline import even
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.curve import Curve
from wander.core.geometry.interpolate import closed_through
from wander.core.geometry.space import SplineSpace


@settings(max_examples=40)
@given(r=st.floats(2, 10), s=st.floats(2, 10), share=st.floats(0.05, 0.95), turned=st.floats(0, 6.28))
def test_two_circles_make_a_lens(r: float, s: float, share: float, turned: float) -> None:
    d = abs(r - s) + share * (2 * min(r, s))
    pair = raw([(0, 0), (d * np.cos(turned), d * np.sin(turned))], [circle(1, 1, r), circle(2, 2, s)])
    lens = r * r * acos((d * d + r * r - s * s) / (2 * d * r)) + s * s * acos((d * d + s * s - r * r) / (2 * d * s))
    lens -= sqrt((-d + r + s) * (d + r - s) * (d - r + s) * (d + r + s)) / 2
    found = sorted(region.area for region in graph_of(read(pair)).regions)
    assert len(found) == 3
    assert np.allclose(found, sorted([lens, pi * r * r - lens, pi * s * s - lens]), rtol=1e-6, atol=1e-6)


def test_a_ring_has_a_hole_and_the_disc_in_it_is_another_area() -> None:
    ring, disc = graph_of(read(raw([(2, 3)], [circle(1, 1, 10.0), circle(2, 1, 4.0)]))).regions
    assert (ring.name, len(ring.inner)) == ("c1", 1)
    assert abs(ring.area - 84 * pi) < 1e-6
    assert abs(disc.area - 16 * pi) < 1e-6


def test_nested_outlines_alternate() -> None:
    nest = raw([(0, 0)], [circle(i, 1, 10.0 * i) for i in range(1, 5)])
    found = {r.name: round(r.area / pi) for r in graph_of(read(nest)).regions}
    assert found == {"c1": 100, "c2": 300, "c3": 500, "c4": 700}


def test_areas_that_share_an_edge_are_taken_together() -> None:
    grid = raw(
        [(0, 0), (10, 0), (20, 0), (20, 10), (10, 10), (0, 10)],
        [line(1, 1, 2), line(2, 2, 3), line(3, 3, 4), line(4, 4, 5), line(5, 5, 6), line(6, 6, 1), line(7, 2, 5)],
    )
    graph = graph_of(read(grid))
    assert sorted(r.area for r in graph.regions) == pytest.approx([100, 100])
    [walk] = graph.union(r.name for r in graph.regions)
    assert abs(graph.loop(walk).area - 200) < 1e-9
    assert len(graph.loop(walk).corners) == 4


def test_lines_that_lead_nowhere_bound_nothing() -> None:
    box = polygon([(0, 0), (10, 0), (10, 10), (0, 10)])
    stray = act(box, {"act": "add", "points": {"$a": (4, 4), "$b": (6, 6), "$c": (14, 5)}, "curves": [{"type": "line", "start": "$a", "end": "$b"}]})
    assert abs(area(stray) - 100) < 1e-9
    halved = act(box, {"act": "add", "points": {"$a": (5, -1), "$b": (5, 11)}, "curves": [{"type": "line", "start": "$a", "end": "$b"}]})
    assert sorted(round(r.area, 9) for r in graph_of(read(halved)).regions) == [50, 50]
    construction = act(halved, {"act": "construction", "curves": [halved["curves"][-1]["id"]]})
    assert [round(r.area, 9) for r in graph_of(read(construction)).regions] == [100]


def test_curves_that_touch_meet_once_and_those_that_miss_never() -> None:
    round_one = pieces(read(raw([(0, 0)], [circle(1, 1, 5.0)])))[0].curve
    for height, count in ((5.0, 1), (4.999, 2), (5.001, 0), (0.0, 2)):
        flat = Curve(SplineSpace.from_breaks(1, [0.0, 1.0]), np.array([(-20.0, height), (20.0, height)]))
        assert len(crossings(round_one, flat)) == count, height


@settings(max_examples=30)
@given(points=st.lists(st.tuples(st.floats(-20, 20), st.floats(-20, 20)), min_size=4, max_size=7, unique=True))
def test_crossings_lie_on_both_curves_and_none_is_missed(points: list[tuple[float, float]]) -> None:
    """Against a brute search over finely cut polygons."""
    if min(np.hypot(*np.subtract(p, q)) for i, p in enumerate(points) for q in points[:i]) < 2:
        return
    drawn = raw(points, [{"id": "c1", "type": "spline", "through": [f"p{i + 1}" for i in range(len(points))]}])
    curve = pieces(read(drawn))[0].curve
    flat = Curve(SplineSpace.from_breaks(1, [0.0, 1.0]), np.array([(-40.0, 1.234), (40.0, 2.345)]))
    found = crossings(curve, flat)
    assert all(np.linalg.norm(curve(float(s)) - flat(float(t))) < 1e-7 for s, t in found)
    p = curve(np.linspace(0, 1, 20001))
    side = np.sign((p[:, 1] - 1.234) * 80 - (p[:, 0] + 40) * (2.345 - 1.234))
    assert len(found) >= np.count_nonzero(np.diff(side))
    assert len(self_crossings(curve)) == len({round(float(s), 6) for s, _ in self_crossings(curve)})


@pytest.mark.parametrize("points", [40, 160, 900])
def test_a_curve_of_loops_crosses_itself_where_its_formula_says(points: int) -> None:
    """(sin 2t, sin 3t) meets itself seven times."""
    t = 0.4 + 2 * np.pi * np.arange(points) / points
    curve = closed_through(np.column_stack([50 * np.sin(2 * t), 50 * np.sin(3 * t)]))
    known = 50 * np.array([(0, 0), *((x * sqrt(0.75), 0) for x in (-1, 1)), *((x * 0.5, y * sqrt(0.5)) for x in (-1, 1) for y in (-1, 1))])
    found = self_crossings(curve)
    assert len(found) == 7
    assert_close(curve(found[:, 0]), curve(found[:, 1]), within=1e-7)
    apart = np.linalg.norm(curve(found[:, 0])[:, None] - known, axis=-1)
    assert sorted(apart.argmin(axis=1).tolist()) == list(range(7))
    assert apart.min(axis=1).max() < 0.05 * (40 / points) ** 4 + 1e-7


def test_a_smooth_chain_with_a_spline_keeps_its_place_and_runs_evenly() -> None:
    """An egg of a half circle and a spline tangent to it: one smooth outline, no corner."""
    egg = raw(
        [(0, 0), (10, 0), (-10, 0), (0, -18)], [arc(1, 1, 2, 3), {"id": "c2", "type": "spline", "through": ["p3", "p4", "p2"]}], ("tangent", "c1 c2")
    )
    drawn = read(egg)
    [region] = graph_of(drawn).regions
    assert region.boundary.corners == ()
    u = np.linspace(0, 1, 400)
    speed = np.linalg.norm(region.boundary.curve.derivatives(u, 1)[1], axis=1)
    assert np.ptp(speed) < 1e-2 * speed.mean()
    own = pieces(drawn)[1].curve
    evened = even(own)
    p = own(np.linspace(0, 1, 200))
    assert np.linalg.norm(evened(closest_parameters(evened, p)) - p, axis=1).max() < 1e-6


# -- health -------------------------------------------------------------------------------------------------------------------


def test_crossings_with_construction_are_known_too() -> None:
    written = raw(
        [(0, 0), (-20, 3), (20, 3), (0, -20), (0, 20), (30, 30), (40, 30)],
        [circle(1, 1, 10.0), line(2, 2, 3, construction=True), line(3, 4, 5, construction=True), line(4, 6, 7)],
    )
    found = crossings_with_construction(pieces(read(written)))
    places = sorted((round(float(x), 6), round(float(y), 6), *sorted(of)) for (x, y), of in found)
    far = round(sqrt(91), 6)
    assert places == [
        (-far, 3.0, "c1", "c2"),
        (0.0, -10.0, "c1", "c3"),
        (0.0, 3.0, "c2", "c3"),
        (0.0, 10.0, "c1", "c3"),
        (far, 3.0, "c1", "c2"),
    ]
    assert len(graph_of(read(written)).regions) == 1


def ill(written: Raw) -> list[str]:
    return [a.kind for a in _ailments(written)]


def _ailments(written: Raw):
    drawn = read(written)
    made = pieces(drawn)
    return ailments(drawn, made, graph_of(drawn))


def chain_with_gap(gap: float) -> Raw:
    return raw([(0, 0), (10, 0), (10, 10), (0, 10), (0, gap)], [line(1, 1, 2), line(2, 2, 3), line(3, 3, 4), line(4, 4, 5)])


ILL = {
    "gap": chain_with_gap(0.02),
    "doubled": {**polygon([(0, 0), (10, 0), (10, 10), (0, 10)])},
    "sliver": raw([(0, 0), (10, 0), (10.004, 0.005), (10, 10), (0, 10)], [line(1, 1, 2), line(2, 2, 3), line(3, 3, 4), line(4, 4, 5), line(5, 5, 1)]),
    "needless-split": polygon([(0, 0), (4, 0), (10, 0), (10, 10), (0, 10)]),
    "crosses-itself": raw([(0, 0), (10, 10), (10, 0), (0, 12)], [line(1, 1, 2), line(2, 2, 3), line(3, 3, 4), line(4, 4, 1)]),
}
ILL["doubled"]["curves"] = [*ILL["doubled"]["curves"], line(9, 2, 1)]


@pytest.mark.parametrize("kind", list(ILL))
def test_an_ailment_is_found_and_its_repair_heals_it(kind: str) -> None:
    written = ILL[kind]
    [ailment] = _ailments(written)
    assert ailment.kind == kind
    mended = act(written, *ailment.mend)
    if kind == "crosses-itself":
        assert mended["use"] == [max(graph_of(read(written)).regions, key=lambda r: r.area).name]
        return
    assert _ailments(mended) == []
    wanted = {"gap": 99.99, "doubled": 100, "sliver": 100, "needless-split": 100}[kind]
    assert abs(area(mended) - wanted) < 0.15


def test_arcs_on_one_circle_are_one_arc() -> None:
    split = act(raw([(0, 0), (10, 0), (-10, 0)], [arc(1, 1, 2, 3), line(2, 3, 2)]), {"act": "split", "curve": "c1", "parts": 3})
    kinds = [a.kind for a in _ailments(split)]
    assert "needless-split" in kinds
    while _ailments(split):
        split = act(split, *_ailments(split)[0].mend)
    assert len(split["curves"]) == 2
    assert abs(area(split) - 50 * pi) < 1e-6


@pytest.mark.parametrize("parts", [2, 3, 5])
@pytest.mark.parametrize("turned", [False, True])
def test_lines_in_a_row_are_one_ailment_and_one_line(parts: int, turned: bool) -> None:
    """Whichever way each of them was drawn, and in whatever order."""
    split = polygon([*((10 * i / parts, 0) for i in range(parts)), (10, 0), (10, 10), (0, 10)])
    if turned:
        split["curves"] = [{**c, "start": c["end"], "end": c["start"]} if i % 2 else c for i, c in enumerate(reversed(split["curves"]))]
    [ailment] = _ailments(split)
    assert (ailment.kind, ailment.count) == ("needless-split", 1)
    assert (len(ailment.curves), len(ailment.places)) == (parts, parts - 1)
    mended = act(split, *ailment.mend)
    assert _ailments(mended) == []
    assert len(mended["curves"]) == 4
    assert_close(area(mended), 100.0, within=1e-9)


@pytest.mark.parametrize("parts", [2, 3, 4])
def test_a_circle_in_arcs_is_one_ailment(parts: int) -> None:
    turns = [2 * pi * i / parts for i in range(parts)]
    points = [(0.0, 0.0), *((5 * cos(t), 5 * sin(t)) for t in turns)]
    written = raw(points, [arc(i + 1, 1, i + 2, (i + 1) % parts + 2) for i in range(parts)])
    [ailment] = _ailments(written)
    assert len(ailment.curves) == parts
    mended = act(written, *ailment.mend)
    assert len(mended["curves"]) == 1
    assert_close(area(mended), 25 * pi, within=1e-6)


def serrated(teeth: int, *, apart: float, cut: int = 1) -> Raw:
    """A square whose upper side comes back in teeth, each of them blunt: so many short lines, one after the other, where it should be sharp."""
    points: list[tuple[float, float]] = [(0, 0), (100, 0)]
    for i in range(teeth):
        x = 100 - 100 * i / teeth
        points += [(x, 100.0), *((x - 50 / teeth - apart * j / cut, 90.0) for j in range(cut + 1))]
    points.append((0.0, 100.0))
    return raw(points, [line(i + 1, i + 1, (i + 1) % len(points) + 1) for i in range(len(points))])


@pytest.mark.parametrize("cut", [1, 2, 3])
@pytest.mark.parametrize("teeth", [3, 4, 9])
def test_many_slivers_are_one_ailment_and_mended_at_once(teeth: int, cut: int) -> None:
    """Where some follow each other, what is left at both ends comes together."""
    written = serrated(teeth, apart=0.02 * cut, cut=cut)
    # short lines in one line are needless as well
    found = [a for a in _ailments(written) if a.kind == "sliver"]
    if teeth * cut <= MOST_ALONE:
        assert [a.count for a in found] == [1] * teeth
        return
    [ailment] = found
    assert ailment.count == len(ailment.places) == len(ailment.curves) == teeth * cut
    mended = act(written, *ailment.mend)
    assert _ailments(mended) == []
    assert len(mended["curves"]) == 3 + 2 * teeth
    assert abs(area(mended) - (100 * 100 - 100 * 10 / 2)) < 5


@pytest.mark.parametrize("corners", [3, 4, 12])
def test_many_gaps_are_one_ailment_and_closed_at_once(corners: int) -> None:
    at = [(10 * cos(2 * pi * i / corners), 10 * sin(2 * pi * i / corners)) for i in range(corners)]
    points = [p for i, (x, y) in enumerate(at) for p in ((x, y), (at[(i + 1) % corners][0], at[(i + 1) % corners][1] + 0.01))]
    written = raw(points, [line(i + 1, 2 * i + 1, 2 * i + 2) for i in range(corners)])
    found = _ailments(written)
    assert [a.kind for a in found] == ["gap"] * (corners if corners <= MOST_ALONE else 1)
    assert sum(a.count for a in found) == corners
    mended = act(written, *[act for ailment in found for act in ailment.mend])
    assert _ailments(mended) == []
    assert abs(area(mended) - corners / 2 * 100 * sin(2 * pi / corners)) < 0.5


@pytest.mark.parametrize("gap", [0.0, 0.5, 3.0])
def test_only_what_looks_closed_is_called_a_gap(gap: float) -> None:
    assert ill(chain_with_gap(gap)) == ([] if gap > 0.2 else ["gap"])


def test_a_sound_drawing_has_no_ailments() -> None:
    assert ill(polygon([(0, 0), (10, 0), (12, 9), (0, 10)])) == []
    assert ill(raw([(0, 0), (6, 0)], [circle(1, 1, 5.0), circle(2, 2, 5.0)])) == []
