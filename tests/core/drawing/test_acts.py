"""What is done in a drawing: exact on lines and arcs, within tolerance on splines, and undone by its opposite."""

from __future__ import annotations

from math import atan2, cos, degrees, hypot, pi, radians, sin, tan

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.drawing.drawings import BOX, Raw, act, arc, area, circle, graph_of, line, polygon, raw, read, solved
from wander.core.drawing.areas.health import ailments
from wander.core.drawing.curves.pieces import curve_of, pieces
from wander.core.drawing.edits.sheet import CannotDraw
from wander.core.drawing.model import DrawnArc, DrawnCircle, DrawnSpline
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.quadrature import length

SPLINE = raw([(0, 0), (10, 8), (22, 3), (30, 12)], [{"id": "c1", "type": "spline", "through": ["p1", "p2", "p3", "p4"]}])


def lengths(written: Raw) -> list[float]:
    return sorted(length(piece.curve) for piece in pieces(read(written)))


def off(written: Raw, other: Raw) -> float:
    """Largest distance of the curves of one drawing from those of another, mm."""
    there = [piece.curve for piece in pieces(read(other))]
    worst = 0.0
    for piece in pieces(read(written)):
        p = piece.curve(np.linspace(0, 1, 60))
        worst = max(worst, float(np.min([np.linalg.norm(c(closest_parameters(c, p)) - p, axis=1) for c in there], axis=0).max()))
    return worst


# -- pulling ------------------------------------------------------------------------------------------------------------------


@given(x=st.floats(-50, 50), y=st.floats(-50, 50))
def test_what_is_fixed_as_it_is_pulled_stays_where_it_is_pulled_to(x: float, y: float) -> None:
    held = act(polygon([(0, 0), (10, 0), (4, 8)]), {"act": "pull", "points": {"p1": [x, y]}}, {"act": "hold", "type": "fixed", "of": ["p1"]})
    assert_close(held["points"]["p1"], (x, y), within=1e-9)
    again = act(held, {"act": "pull", "points": {"p1": [3.0, 4.0]}})
    assert_close(again["points"]["p1"], (x, y), within=1e-9)


# -- corners ------------------------------------------------------------------------------------------------------------------


@settings(max_examples=30)
@given(angle=st.floats(25, 155), radius=st.floats(0.5, 4), turned=st.floats(0, 360))
def test_a_fillet_takes_what_a_round_corner_takes(angle: float, radius: float, turned: float) -> None:
    far = [(40 * cos(radians(turned + a)), 40 * sin(radians(turned + a))) for a in (0, angle)]
    corner = polygon([(0.0, 0.0), *far])
    half = radians(angle / 2)
    rounded = act(corner, {"act": "fillet", "point": "p1", "radius": radius})
    # two tangents less the sector between them
    lost = radius**2 / tan(half) - radius**2 * (pi / 2 - half)
    assert abs(area(corner) - area(rounded) - lost) < 1e-6
    assert len([c for c in read(rounded).curves if isinstance(c, DrawnArc)]) == 1


def test_a_fillet_keeps_sizes_that_went_to_the_corner() -> None:
    rounded = act(BOX, {"act": "fillet", "point": "p2", "radius": "wide / 10"})
    assert solved(rounded).standing.freedoms == 0
    assert abs(area(rounded) - (31 * 20 - 3.1**2 * (1 - pi / 4))) < 1e-6
    typed = next(h["id"] for h in rounded["holds"] if h.get("value") == "wide / 10")
    assert abs(area(act(rounded, {"act": "measure", "hold": typed, "value": 4.0})) - (31 * 20 - 16 * (1 - pi / 4))) < 1e-6


def test_a_fillet_between_an_arc_and_a_line() -> None:
    """A half disc of radius 10: a corner round with 2 touches the straight at sqrt(8^2 - 2^2) from the middle."""
    half = raw(
        [(10, 0), (-10, 0), (0, 0)],
        [line(1, 2, 1), arc(2, 3, 1, 2)],
        ("fixed", "p3"),
        ("horizontal", "c1"),
        ("radius", "c2", 10.0),
        ("on-curve", "p3 c1"),
    )
    rounded = read(act(half, {"act": "fillet", "point": "p1", "radius": 2.0}))
    touching = max(p[0] for i, p in rounded.points.items() if i in rounded.curve("c1").points())
    assert abs(touching - hypot(8, 0) * cos(np.arcsin(2 / 8))) < 1e-8


@pytest.mark.parametrize(
    ("point", "radius", "words"), [("p1", 40.0, "does not fit"), ("p9", 1.0, "no p9"), ("p1", -1.0, "above zero"), ("c1", 1.0, "no point")]
)
def test_a_fillet_that_can_not_be_says_why(point: str, radius: float, words: str) -> None:
    with pytest.raises(CannotDraw, match=words):
        act(BOX, {"act": "fillet", "point": point, "radius": radius})


def test_a_chamfer_cuts_a_triangle_off() -> None:
    assert abs(area(act(BOX, {"act": "chamfer", "point": "p3", "length": 4.0})) - (620 - 8)) < 1e-9


# -- cutting and joining ------------------------------------------------------------------------------------------------------


def test_trimming_takes_the_part_that_is_pointed_at() -> None:
    crossed = act(BOX, {"act": "add", "points": {"$a": (12, -5), "$b": (12, 30)}, "curves": [{"type": "line", "start": "$a", "end": "$b"}]})
    assert len(graph_of(read(crossed)).regions) == 2
    left = act(crossed, {"act": "trim", "curve": "c1", "at": (25, 0)}, {"act": "trim", "curve": "c3", "at": (25, 20)})
    assert abs(area(left) - 12 * 20) < 1e-9


def test_a_trimmed_circle_is_an_arc_of_the_same_circle() -> None:
    cut = raw([(0, 0), (-20, 3), (20, 3)], [circle(1, 1, 10.0), line(2, 2, 3)])
    cap = read(act(cut, {"act": "trim", "curve": "c1", "at": (0, -10)}))
    [bow] = [c for c in cap.curves if isinstance(c, DrawnArc)]
    assert abs(length(curve_of(bow, cap)) - 10 * (pi - 2 * np.arcsin(0.3))) < 1e-7


def test_extending_reaches_the_next_curve() -> None:
    short = raw([(0, 0), (5, 1), (20, -10), (20, 10)], [line(1, 1, 2), line(2, 3, 4)])
    longer = read(act(short, {"act": "extend", "curve": "c1", "at": (5, 1)}))
    assert np.allclose(longer.points["p2"], (20, 4), atol=1e-9)
    bow = raw([(0, 0), (10, 0), (0, 10), (-20, -20), (-20, 20), (-6, -20), (-6, 20)], [arc(1, 1, 2, 3), line(2, 4, 5), line(3, 6, 7)])
    assert np.allclose(read(act(bow, {"act": "extend", "curve": "c1", "at": (0, 10)})).points["p3"], (-6, 8), atol=1e-7)
    with pytest.raises(CannotDraw, match="in the way"):
        act(raw([(0, 0), (5, 1)], [line(1, 1, 2)]), {"act": "extend", "curve": "c1", "at": (5, 1)})


@pytest.mark.parametrize("written", [raw([(0, 0), (9, 1)], [line(1, 1, 2)]), raw([(0, 0), (10, 0), (0, 10)], [arc(1, 1, 2, 3)]), SPLINE])
@pytest.mark.parametrize("parts", [2, 5])
def test_equal_parts_add_up_and_join_to_the_whole(written: Raw, parts: int) -> None:
    cut = act(written, {"act": "split", "curve": "c1", "parts": parts})
    found = lengths(cut)
    assert len(found) == parts
    assert np.ptp(found) < 2e-3
    assert abs(sum(found) - lengths(written)[0]) < 2e-3
    whole = cut
    while len(whole["curves"]) > 1:
        whole = act(whole, {"act": "join", "curves": [whole["curves"][0]["id"], whole["curves"][1]["id"]]})
    exact = written["curves"][0]["type"] != "spline"
    assert off(whole, written) < (1e-9 if exact else 1e-3)
    assert abs(lengths(whole)[0] - lengths(written)[0]) < (1e-9 if exact else 1e-3)


def test_splitting_a_spline_where_it_is_pointed_at() -> None:
    cut = act(SPLINE, {"act": "split", "curve": "c1", "at": (16, 6)})
    assert len(cut["curves"]) == 2
    assert off(cut, SPLINE) < 1e-3


def test_ends_that_lie_near_each_other_become_one_point() -> None:
    open_box = polygon([(0, 0), (10, 0), (10, 10)])
    gap = {**open_box, "points": {**open_box["points"], "p9": (0.0, 0.02)}, "curves": [*open_box["curves"][:2], line(3, 3, 9)]}
    assert graph_of(read(gap)).regions == ()
    assert abs(area(act(gap, {"act": "join", "curves": ["c1", "c3"]})) - 50) < 1e-9


# -- beside, mirrored, moved --------------------------------------------------------------------------------------------------

NEARLY_STRAIGHT = [(20 * r * cos(2 * pi * i / 9), 20 * r * sin(2 * pi * i / 9)) for i, r in enumerate([1, 1, 0.71875, 0.65625, 1.0625, 1, 1, 1, 1])]
"""Pulled five times as wide, one of its corners turns by half a thousandth only."""
corners = st.lists(st.floats(0.6, 1.6), min_size=4, max_size=9).map(
    lambda r: [(20 * f * cos(2 * pi * i / len(r)), 20 * f * sin(2 * pi * i / len(r))) for i, f in enumerate(r)]
)


@settings(max_examples=30)
@given(points=corners, distance=st.floats(0.2, 1.5))
def test_an_offset_out_and_in_returns_the_outline(points: list[tuple[float, float]], distance: float) -> None:
    chain = polygon(points)
    names = [c["id"] for c in chain["curves"]]
    wide = act(chain, {"act": "offset", "curves": names, "distance": distance})
    outer = [c["id"] for c in wide["curves"] if c["id"] not in names]
    alone = act(wide, {"act": "drop", "things": names})
    back = act(alone, {"act": "offset", "curves": outer, "distance": -distance})
    again = {**back, "curves": [c for c in back["curves"] if c["id"] not in outer], "holds": []}
    assert off(again, chain) < 1e-7
    assert abs(area(again) - area(chain)) < 1e-6


def test_the_offset_of_lines_and_arcs_is_exact_and_stays_linked() -> None:
    rounded = act(BOX, {"act": "fillet", "point": "p2", "radius": 5.0})
    names = [c["id"] for c in rounded["curves"]]
    wide = act(rounded, {"act": "offset", "curves": names, "distance": 2.0})
    outer = 35 * 24 - 49 * (1 - pi / 4)
    assert abs(max(r.boundary.area for r in graph_of(read(wide)).regions) - outer) < 1e-6
    grown = {**wide, "holds": [{**h, "value": 41.0} if h.get("value") == "wide" else h for h in wide["holds"]]}
    followed = max(r.boundary.area for r in graph_of(solved(grown).drawing).regions)
    assert abs(followed - (outer + 10 * 24)) < 1e-5


def test_the_offset_of_a_spline_keeps_its_distance() -> None:
    beside = act(SPLINE, {"act": "offset", "curves": ["c1"], "distance": 1.5})
    curves = {p.id: p.curve for p in pieces(read(beside))}
    made = next(c for i, c in curves.items() if i != "c1")
    p = made(np.linspace(0.02, 0.98, 200))
    apart = np.linalg.norm(curves["c1"](closest_parameters(curves["c1"], p)) - p, axis=1)
    assert np.abs(apart - 1.5).max() < 1e-3
    with pytest.raises(CannotDraw, match="bends more tightly"):
        act(SPLINE, {"act": "offset", "curves": ["c1"], "distance": 60.0})


def grown_from(written: dict, distance: float | str = 1.5) -> tuple[dict, str]:
    """A drawing with the offset of its first curve, and the id of that."""
    wide = act(written, {"act": "offset", "curves": ["c1"], "distance": distance})
    return wide, next(c["id"] for c in wide["curves"] if c["id"] not in {c["id"] for c in written["curves"]})


def apart(written: dict, one: str, other: str) -> np.ndarray:
    """Distances of places along one curve from another."""
    curves = {p.id: p.curve for p in pieces(read(written))}
    p = curves[one](np.linspace(0.02, 0.98, 200))
    return np.linalg.norm(curves[other](closest_parameters(curves[other], p)) - p, axis=1)


RING = raw([(20, 0), (0, 12), (-20, 1), (0, -14)], [{"id": "c1", "type": "spline", "through": ["p1", "p2", "p3", "p4"], "closed": True}])
EGG = raw([(3, 4)], [{"id": "c1", "type": "ellipse", "center": "p1", "width": 40.0, "depth": 24.0, "turn": 20.0}])
DISC = raw([(3, 4)], [circle(1, 1, 10.0)])


@pytest.mark.parametrize("written", [SPLINE, RING, EGG, DISC], ids=["open", "closed", "ellipse", "circle"])
def test_an_offset_follows_its_curve_and_its_number(written: dict) -> None:
    wide, made = grown_from(written)
    hold = next(h["id"] for h in wide["holds"] if made in h["of"])
    further = act(wide, {"act": "measure", "hold": hold, "value": "1.5 mm + 1 mm"})
    assert np.abs(apart(further, made, "c1") - 2.5).max() < 1e-3
    first = next(iter(written["points"]))
    x, y = written["points"][first]
    pulled = act(further, {"act": "pull", "points": {first: (x + 2.0, y - 1.5)}})
    assert off(pulled, further) > 0.5
    assert np.abs(apart(pulled, made, "c1") - 2.5).max() < 1e-3
    assert solved(pulled).standing.disputes == ()


def test_the_ends_of_an_offset_are_points_that_lines_can_start_from() -> None:
    wide, made = grown_from(SPLINE)
    ends = {c["id"]: c for c in wide["curves"]}[made]
    last = SPLINE["curves"][0]["through"][-1]
    x, y = SPLINE["points"][last]
    closed = act(wide, {"act": "add", "points": {}, "curves": [{"id": "$l", "type": "line", "start": last, "end": ends["end"]}]})
    pulled = act(closed, {"act": "pull", "points": {last: (x + 3.0, y + 2.0)}})
    line_end, there = np.array(pulled["points"][ends["end"]]), np.array(pulled["points"][last])
    curve = next(p.curve for p in pieces(read(pulled)) if p.id == "c1")
    assert abs(np.linalg.norm(line_end - there) - 1.5) < 1e-9
    assert abs((line_end - there) @ curve.derivatives(1.0, 1)[1]) < 1e-8


@pytest.mark.parametrize("written", [RING, EGG], ids=["closed", "ellipse"])
@pytest.mark.parametrize("what", ["drop", "split"])
def test_an_offset_whose_curve_goes_stays_where_it_is(written: dict, what: str) -> None:
    wide, made = grown_from(written)
    before = next(p.curve for p in pieces(read(wide)) if p.id == made)
    gone = {"act": "drop", "things": ["c1"]} if what == "drop" else {"act": "split", "curve": "c1", "at": (20.0, 0.0), "parts": 2}
    after = act(wide, gone)
    assert not [c for c in after["curves"] if c["type"] == "beside"]
    free = [p.curve for p in pieces(read(after)) if p.type == "spline" and p.id in {c["id"] for c in after["curves"] if c.get("closed")}]
    p = before(np.linspace(0, 1, 300))
    assert min(np.linalg.norm(c(closest_parameters(c, p)) - p, axis=1).max() for c in free) < 2e-3


def test_an_offset_is_mirrored_and_copied_with_its_curve_only() -> None:
    axis = [(60, -30), (60, 30)]
    ring = raw([*RING["points"].values(), *axis], [*RING["curves"], line(9, 5, 6, construction=True)])
    wide, made = grown_from(ring)
    with pytest.raises(CannotDraw, match="take both"):
        act(wide, {"act": "mirror", "curves": [made], "about": "c9"})
    both = act(wide, {"act": "mirror", "curves": [made, "c1"], "about": "c9"})
    image = next(c for c in both["curves"] if c["type"] == "beside" and c["id"] != made)
    assert np.abs(apart(both, image["id"], image["of"]) - 1.5).max() < 1e-3
    assert abs(sum(r.area for r in graph_of(read(both)).regions) - 2 * sum(r.area for r in graph_of(read(wide)).regions)) < 1e-6
    copied = act(wide, {"act": "move", "things": ["c1", made], "by": (0, 80), "copy": True})
    assert len({c["of"] for c in copied["curves"] if c["type"] == "beside"}) == 2


def test_an_expression_that_comes_out_negative_leads_inwards() -> None:
    wide, made = grown_from(DISC, "1 mm - 3 mm")
    assert next(c["radius"] for c in wide["curves"] if c["id"] == made) == pytest.approx(8.0, abs=1e-9)


def test_an_offset_that_has_become_impossible_is_mended_by_the_largest_that_works() -> None:
    wide, made = grown_from(RING, -3.0)
    tight = act(wide, {"act": "pull", "points": {"p2": (17.5, 1.5)}})
    assert made not in [p.id for p in pieces(read(tight))]
    ailment = next(a for a in ailments(read(tight), pieces(read(tight)), graph_of(read(tight))) if a.kind == "no-offset")
    assert ailment.curves == (made, "c1")
    mended = act(tight, *ailment.mend)
    assert np.abs(apart(mended, made, "c1") - ailment.size).max() < 0.01
    assert not [a for a in ailments(read(mended), pieces(read(mended)), graph_of(read(mended))) if a.kind == "no-offset"]


def test_a_spline_and_the_lines_it_runs_into_are_offset_as_one() -> None:
    drawn = raw(
        [(-30, 0), (0, 0), (14, 6), (20, 20), (20, 40)],
        [line(1, 1, 2), {"id": "c2", "type": "spline", "through": ["p2", "p3", "p4"]}, line(3, 4, 5)],
    )
    drawn["holds"] = [{"id": "h1", "type": "tangent", "of": ["c1", "c2"]}, {"id": "h2", "type": "tangent", "of": ["c2", "c3"]}]
    wide = act(drawn, {"act": "offset", "curves": ["c1", "c2", "c3"], "distance": 2.0})
    assert solved(wide).standing.disputes == ()
    made = [c["id"] for c in wide["curves"] if c["id"] not in ("c1", "c2", "c3")]
    bent = act(wide, {"act": "pull", "points": {"p4": (26.0, 18.0)}})
    number = next(h["id"] for h in bent["holds"] if h["of"] == [made[1]])
    further = act(bent, {"act": "measure", "hold": number, "value": 3.5})
    for one, other in zip(made, ("c1", "c2", "c3"), strict=True):
        assert np.abs(apart(further, one, other) - 3.5).max() < 1e-3


def test_a_negative_distance_leads_to_the_other_side_and_stays_there() -> None:
    wide, made = grown_from(RING, 2.0)
    hold = next(h["id"] for h in wide["holds"] if h["of"] == [made])
    inner = act(wide, {"act": "measure", "hold": hold, "value": "-3 mm"})
    for again in (inner, act(inner), act(act(inner))):
        sizes = {p.id: length(p.curve) for p in pieces(read(again))}
        assert sizes[made] < sizes["c1"]
        assert np.abs(apart(again, made, "c1") - 3.0).max() < 1e-3


def test_a_distance_across_that_comes_out_negative_does_not_go_to_and_fro() -> None:
    drawn = raw([(0, 0), (20, 3)], [line(1, 1, 2)])
    drawn["holds"] = [{"id": "h1", "type": "fixed", "of": ["p1"]}, {"id": "h2", "type": "across", "of": ["p1", "p2"], "value": "-25 mm"}]
    once = act(drawn)
    assert [act(once)["points"]["p2"][0], once["points"]["p2"][0]] == pytest.approx([25.0, 25.0])


def test_there_is_no_offset_of_a_corner() -> None:
    sharp = {**RING, "curves": [{**RING["curves"][0], "sharp": [2]}]}
    with pytest.raises(CannotDraw, match="corner near"):
        grown_from(sharp)


@pytest.mark.parametrize("distance", [-10.0, -12.0])
def test_a_circle_does_not_shrink_beyond_its_middle(distance: float) -> None:
    ring = raw([(3, 4)], [circle(1, 1, 10.0)])
    grown = [c.radius for c in read(act(ring, {"act": "offset", "curves": ["c1"], "distance": 2.5})).curves if isinstance(c, DrawnCircle)]
    assert grown == [10.0, 12.5]
    with pytest.raises(CannotDraw, match="inwards"):
        act(ring, {"act": "offset", "curves": ["c1"], "distance": distance})


def test_half_an_arch_is_mirrored_and_stays_symmetric() -> None:
    half = raw(
        [(-4, -3), (-4, 20), (0, 0), (12, 0), (0, 15)],
        [line(9, 1, 2, construction=True), line(1, 3, 4), {"id": "c2", "type": "spline", "through": ["p4", "p5"]}],
    )
    half["points"] |= {"p1": (0, -3), "p2": (0, 20)}
    half["holds"] = [{"id": "h1", "type": "fixed", "of": ["c9"]}]
    whole = act(half, {"act": "mirror", "curves": ["c1", "c2"], "about": "c9"})
    assert len(graph_of(read(whole)).regions) == 1
    pulled = act(whole, {"act": "pull", "points": {"p4": (17, 2)}})
    partner = next(h["of"] for h in pulled["holds"] if h["type"] == "symmetric" and "p4" in h["of"])
    other = next(p for p in partner if p not in ("p4", "c9"))
    assert np.allclose(pulled["points"]["p4"], (17, 2), atol=1e-3)
    assert np.allclose(pulled["points"][other], np.multiply(pulled["points"]["p4"], (-1, 1)), atol=1e-9)


LEANING = [(-30, -10), (-20, 40)]


def reflected(written: dict, curve: str, axis: str) -> np.ndarray:
    """Places along a curve, mirrored about a line of the drawing by the textbook formula."""
    line = next(c for c in written["curves"] if c["id"] == axis)
    a, b = (np.array(written["points"][line[end]]) for end in ("start", "end"))
    n = np.array([a[1] - b[1], b[0] - a[0]]) / np.linalg.norm(b - a)
    p = next(q.curve for q in pieces(read(written)) if q.id == curve)(np.linspace(0, 1, 120))
    return p - 2 * ((p - a) @ n)[:, None] * n


@pytest.mark.parametrize(
    "changes",
    [
        [{"act": "spline-handle", "curve": "c1", "at": 1, "angle": 70.0, "pull": 1.4}],
        [{"act": "spline-sharp", "curve": "c1", "at": 2, "on": True}],
        [{"act": "spline-straight", "curve": "c1", "span": 1, "on": True}],
        [{"act": "spline-point", "curve": "c1", "after": 1}, {"act": "pull", "points": {"p2": (11.0, 9.0)}}],
        [{"act": "drop", "things": ["p3"]}],
        [{"act": "spline-handle", "curve": "c1", "at": 0, "angle": 30.0}, {"act": "spline-handle", "curve": "c1", "at": 0, "angle": None}],
    ],
)
def test_both_halves_of_a_mirrored_spline_are_changed_as_one(changes: list[dict]) -> None:
    drawn = raw([*SPLINE["points"].values(), *LEANING], [*SPLINE["curves"], line(9, 5, 6, construction=True)])
    drawn["holds"] = [{"id": "h1", "type": "fixed", "of": ["c9"]}]
    whole = act(drawn, {"act": "mirror", "curves": ["c1"], "about": "c9"})
    image = next(c["id"] for c in whole["curves"] if c["id"] not in ("c1", "c9"))
    changed = act(whole, *changes)
    there = next(q.curve for q in pieces(read(changed)) if q.id == image)
    wanted = reflected(changed, "c1", "c9")
    assert np.linalg.norm(there(closest_parameters(there, wanted)) - wanted, axis=1).max() < 1e-6
    # changing the image changes the original: whichever half is at hand will do
    back = act(changed, {"act": "spline-sharp", "curve": image, "at": 1, "on": True})
    assert [1 in c.get("sharp", []) for c in back["curves"] if c["type"] == "spline"] == [True, True]


def test_a_mirrored_ellipse_keeps_its_size_and_leans_the_other_way() -> None:
    drawn = raw([*EGG["points"].values(), *LEANING], [*EGG["curves"], line(9, 2, 3, construction=True)])
    drawn["holds"] = [{"id": "h1", "type": "fixed", "of": ["c9"]}]
    whole = act(drawn, {"act": "mirror", "curves": ["c1"], "about": "c9"})
    image = next(c["id"] for c in whole["curves"] if c["id"] not in ("c1", "c9"))
    assert solved(whole).standing.disputes == ()
    turned = act(whole, {"act": "turn", "things": ["c1"], "about": (3.0, 4.0), "angle": 17.0, "stretch": 1.5})
    one, other = (next(c for c in turned["curves"] if c["id"] == name) for name in ("c1", image))
    assert one["width"] == pytest.approx(other["width"], abs=1e-8)
    assert one["width"] > 41
    there = next(q.curve for q in pieces(read(turned)) if q.id == image)
    wanted = reflected(turned, "c1", "c9")
    assert np.linalg.norm(there(closest_parameters(there, wanted)) - wanted, axis=1).max() < 1e-6


@settings(max_examples=25)
@example(points=NEARLY_STRAIGHT, turned=0.0, by=(0.0, 0.0), scale=5.0)
@given(points=corners, turned=st.floats(-360, 360), by=st.tuples(st.floats(-300, 300), st.floats(-300, 300)), scale=st.floats(0.1, 10))
def test_areas_stay_when_things_are_moved_and_turned(points, turned: float, by: tuple[float, float], scale: float) -> None:
    chain = polygon(points)
    names = [c["id"] for c in chain["curves"]]
    moved = act(chain, {"act": "move", "things": names, "by": by}, {"act": "turn", "things": names, "about": (3, 4), "angle": turned})
    assert abs(area(moved) - area(chain)) < 1e-9 * area(chain)
    scaled = act(chain, {"act": "turn", "things": names, "scale": scale})
    assert abs(area(scaled) - scale**2 * area(chain)) < 1e-9 * scale**2 * area(chain)
    wide = act(chain, {"act": "turn", "things": names, "stretch": scale})
    assert abs(area(wide) - scale * area(chain)) < 1e-9 * scale * area(chain)


def test_a_copy_is_free_of_its_original() -> None:
    two = act(act(BOX), {"act": "move", "things": ["c1", "c2", "c3", "c4"], "by": (50, 0), "copy": True})
    assert abs(area(two) - 2 * area(act(BOX))) < 1e-9
    assert len(two["holds"]) == len(BOX["holds"])


# -- splines ------------------------------------------------------------------------------------------------------------------


def spline(written: Raw) -> DrawnSpline:
    found = read(written).curve("c1")
    assert isinstance(found, DrawnSpline)
    return found


def test_a_spline_stays_live() -> None:
    more = act(SPLINE, {"act": "spline-point", "curve": "c1", "after": 1})
    assert len(spline(more).through) == 5
    fewer = act(more, {"act": "drop", "things": [spline(more).through[2]]})
    assert off(fewer, SPLINE) < 1e-9
    held = act(SPLINE, {"act": "spline-handle", "curve": "c1", "at": 1, "angle": 36.5, "pull": 1.4})
    made = curve_of(spline(held), read(held))
    t = float(closest_parameters(made, np.array([[10.0, 8.0]]))[0])
    _, d, _ = made.derivatives(t, 2)
    assert abs(np.degrees(np.arctan2(d[1], d[0])) - 36.5) < 1e-6
    assert np.linalg.norm(made(t) - (10, 8)) < 1e-9


def test_a_span_is_straight_and_a_point_sharp_when_asked() -> None:
    straight = act(SPLINE, {"act": "spline-straight", "curve": "c1", "span": 1, "on": True})
    made = curve_of(spline(straight), read(straight))
    ends = closest_parameters(made, np.array([(10.0, 8.0), (22.0, 3.0)]))
    p = made(np.linspace(ends[0], ends[1], 20))
    assert np.abs((p[:, 0] - 10) * (3 - 8) - (p[:, 1] - 8) * 12).max() < 1e-9
    # smooth into the straight on both sides
    into, out = made.derivatives(ends[0] + np.array([-1e-7, 1e-7]), 1)[1]
    assert abs(into[0] * out[1] - into[1] * out[0]) < 1e-4 * np.linalg.norm(into) * np.linalg.norm(out)
    drop = raw([(0, 0), (10, 2), (12, 9), (2, 8)], [{"id": "c1", "type": "spline", "through": ["p1", "p2", "p3", "p4"], "closed": True}])
    sharp = act(drop, {"act": "spline-sharp", "curve": "c1", "at": 1, "on": True}, {"act": "spline-handle", "curve": "c1", "at": 3, "angle": 220})
    [region] = graph_of(read(sharp)).regions
    assert len(region.boundary.corners) == 1
    assert np.allclose(region.boundary.curve(region.boundary.corners[0]), (10, 2))
    assert act(sharp, {"act": "spline-sharp", "curve": "c1", "at": 1, "on": False})["curves"][0].get("sharp", []) == []


# -- acts that don't fit ------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "wrong",
    [
        {"act": "trim", "curve": "c77", "at": (0, 0)},
        {"act": "reading", "hold": "h1"},
        {"act": "mirror", "curves": ["c1"], "about": "p1"},
        {"act": "offset", "curves": ["c1", "c3"], "distance": 1.0},
        {"act": "offset", "curves": ["c1"], "distance": 0.0},
        {"act": "join", "curves": ["c1", "c2"]},
        {"act": "resize", "curve": "c1", "radius": 3.0},
        {"act": "spline-sharp", "curve": "c1", "at": 0, "on": True},
        {"act": "chamfer", "point": "p1", "length": 90.0},
    ],
)
def test_an_act_that_does_not_fit_is_refused_and_changes_nothing(wrong: Raw) -> None:
    with pytest.raises(CannotDraw):
        act(BOX, wrong)


def test_dropping_takes_what_can_not_be_without() -> None:
    left = read(act(BOX, {"act": "drop", "things": ["p2"]}))
    assert {c.id for c in left.curves} == {"c3", "c4"}
    assert "p2" not in left.points
    assert all(set(h.of) <= {*left.points, "c3", "c4"} for h in left.holds)
    assert act(BOX, {"act": "drop", "things": ["h5"]})["holds"] == [h for h in BOX["holds"] if h["id"] != "h5"]


@pytest.mark.parametrize(("typed", "further"), [(30.0, 47.0), ("30 deg", "(30 deg) + 17 deg"), ("0.5 rad", "(0.5 rad) + 17 deg")])
def test_what_is_held_in_a_direction_is_held_in_the_turned_one(typed: float | str, further: float | str) -> None:
    held = act(raw([(0, 0), (9, 1)], [line(1, 1, 2)]), {"act": "hold", "type": "angle", "of": ["c1"], "value": typed})
    turned = act(held, {"act": "turn", "things": ["c1"], "about": (0, 0), "angle": 17.0})
    assert turned["holds"][0]["value"] == further
    (ax, ay), (bx, by) = (turned["points"][p] for p in ("p1", "p2"))
    assert_close(degrees(atan2(by - ay, bx - ax)), 17.0 + (degrees(0.5) if typed == "0.5 rad" else 30.0), within=1e-7)


def test_a_direction_that_is_asked_for_without_a_number_is_the_one_it_has() -> None:
    for angle in (-120.0, -30.0, 0.0, 45.0, 170.0):
        way = (10 * cos(radians(angle)), 10 * sin(radians(angle)))
        held = act(raw([(0, 0), way], [line(1, 1, 2)]), {"act": "hold", "type": "angle", "of": ["c1"]})
        assert_close(held["holds"][0]["value"], angle, within=1e-6)
