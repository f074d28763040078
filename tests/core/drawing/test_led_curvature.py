"""A spline that is led through a point with a curvature: it has it there, on both sides, and keeps it through everything that is done to it."""

from __future__ import annotations

from math import cos, hypot, sin, tau

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.drawing.drawings import Raw, act, arc, line, raw, read
from wander.core.drawing.curves.pieces import curve_of
from wander.core.drawing.model import DrawnSpline
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.curve import Curve

OPEN = raw([(0, 0), (10, 8), (22, 3), (30, 12)], [{"id": "c1", "type": "spline", "through": ["p1", "p2", "p3", "p4"]}])
RING = raw(
    [(20 * cos(i * tau / 5), 14 * sin(i * tau / 5)) for i in range(5)],
    [{"id": "c1", "type": "spline", "through": ["p1", "p2", "p3", "p4", "p5"], "closed": True}],
)
SHAPES = {"open": OPEN, "closed": RING}


def led(shape: Raw, at: int, bend: float, angle: float = 20.0, **more: float) -> Raw:
    return act(shape, {"act": "spline-handle", "curve": "c1", "at": at, "angle": angle, "bend": bend, **more})


def made(written: Raw, number: int = 0) -> Curve:
    drawing = read(written)
    found = curve_of(drawing.curves[number], drawing)
    assert found is not None
    return found


def bends(curve: Curve, place: tuple[float, float]) -> tuple[float, float]:
    """The curvature just before and just after a place, 1/mm, to the left."""
    t = float(closest_parameters(curve, np.array([place]))[0])
    assert np.linalg.norm(curve(t) - place) < 1e-6
    low, high = curve.domain
    closed = np.linalg.norm(curve(low) - curve(high)) < 1e-9
    before = t - 1e-7 if t > low + 1e-6 else high - 1e-7 if closed else t + 1e-7
    after = t + 1e-7 if t < high - 1e-6 else low + 1e-7 if closed else t - 1e-7
    _, d, dd = curve.derivatives(np.array([before, after]), 2)
    found = (d[:, 0] * dd[:, 1] - d[:, 1] * dd[:, 0]) / np.hypot(d[:, 0], d[:, 1]) ** 3
    return float(found[0]), float(found[1])


@given(shape=st.sampled_from(["open", "closed"]), at=st.integers(0, 3), bend=st.floats(-0.3, 0.3), pull=st.floats(0.5, 2.0))
def test_it_has_the_curvature_where_it_is_led_and_runs_on_through_its_points(shape: str, at: int, bend: float, pull: float) -> None:
    written = led(SHAPES[shape], at, bend, pull=pull)
    curve = made(written)
    points = list(written["points"].values())
    for found in bends(curve, points[at]):
        assert abs(found - bend) < 1e-4
    assert np.linalg.norm(curve(closest_parameters(curve, np.array(points))) - points, axis=1).max() < 1e-9
    t = float(closest_parameters(curve, np.array([points[at]]))[0])
    d = curve.derivatives(min(max(t, 1e-9), 1 - 1e-9), 1)[1]
    assert hypot(d[0] - hypot(*d) * cos(np.radians(20)), d[1] - hypot(*d) * sin(np.radians(20))) < 1e-5 * hypot(*d)


def far(curve: Curve, other: Curve) -> float:
    """How far places on one curve are from another, mm."""
    places = curve(np.linspace(*curve.domain, 200))
    return float(np.linalg.norm(other(closest_parameters(other, places)) - places, axis=1).max())


@pytest.mark.parametrize("at", [0, 1, 3])
def test_split_trimmed_joined_and_given_a_further_point_it_stays_where_it_was(at: int) -> None:
    written = led(OPEN, at, 0.11)
    whole = made(written)
    for share in (0.12, 0.47, 0.8):
        x, y = whole(share)
        halves = act(written, {"act": "split", "curve": "c1", "at": [x, y]})
        assert len(halves["curves"]) == 2
        assert max(far(made(halves, k), whole) for k in (0, 1)) < 1e-7
        joined = act(halves, {"act": "join", "curves": [curve["id"] for curve in halves["curves"]]})
        assert far(made(joined), whole) < 1e-7
        assert far(whole, made(joined)) < 1e-7
    further = act(written, {"act": "spline-point", "curve": "c1", "after": 1})
    assert far(made(further), whole) < 1e-7
    across = act(
        written, {"act": "add", "points": {"$a": [16, -20], "$b": [16, 30]}, "curves": [line(9, 1, 2) | {"start": "$a", "end": "$b", "id": "$l"}]}
    )
    x, y = whole(0.9)
    trimmed = act(across, {"act": "trim", "curve": "c1", "at": [x, y]})
    [left] = [k for k, curve in enumerate(trimmed["curves"]) if curve["type"] == "spline"]
    assert far(made(trimmed, left), whole) < 1e-7


def test_mirrored_turned_and_scaled_it_bends_as_much_for_its_size() -> None:
    written = led(OPEN, 1, 0.11)
    whole = made(written)
    axis = {
        **written,
        "points": {**written["points"], "p8": [-5, 0], "p9": [-5, 9]},
        "curves": [*written["curves"], line(8, 8, 9, construction=True)],
    }
    mirrored = act(axis, {"act": "mirror", "curves": ["c1"], "about": "c8"})
    [image] = [curve for curve in read(mirrored).curves if isinstance(curve, DrawnSpline) and curve.id != "c1"]
    other = curve_of(image, read(mirrored))
    assert other is not None
    assert far(Curve(other.space, other.points * (-1, 1) - (10, 0)), whole) < 1e-9
    assert image.handles[0].bend == -0.11
    # what is led anew takes its image along
    again = act(mirrored, {"act": "spline-handle", "curve": "c1", "at": 1, "angle": 5.0, "bend": 0.02})
    assert [h.bend for c in read(again).curves if isinstance(c, DrawnSpline) for h in c.handles] == [0.02, -0.02]
    turned = act(written, {"act": "turn", "things": ["c1"], "about": [3, 4], "angle": 30.0, "scale": 2.0})
    c, s = 2 * cos(np.radians(30)), 2 * sin(np.radians(30))
    moved = Curve(whole.space, (whole.points - (3, 4)) @ np.array([[c, s], [-s, c]]) + (3, 4))
    assert far(made(turned), moved) < 1e-7


def test_let_go_it_bends_as_it_comes() -> None:
    written = led(OPEN, 1, 0.3)
    free = act(written, {"act": "spline-handle", "curve": "c1", "at": 1, "angle": None})
    assert far(made(free), made(OPEN)) < 1e-12
    assert far(made(written), made(OPEN)) > 0.05


@pytest.mark.parametrize("share", [0.5, 0.8])
def test_with_a_curvature_that_its_neighbour_lends_it_stays_where_it_was_when_it_is_split(share: float) -> None:
    curves = [arc(1, 1, 2, 3), {"id": "c2", "type": "spline", "through": ["p3", "p4", "p5", "p6"]}]
    written = raw([(0, 0), (10, 0), (0, 10), (-8, 14), (-20, 10), (-30, 16)], curves, ("curvature", "c1 c2"))
    whole = made(written, 1)
    x, y = whole(share)
    halves = act(written, {"act": "split", "curve": "c2", "at": [x, y]})
    splines = [k for k, curve in enumerate(halves["curves"]) if curve["type"] == "spline"]
    assert max(far(made(halves, k), whole) for k in splines) < 1e-9
    # and without a point more than the one that it was split at
    assert sum(len(halves["curves"][k]["through"]) for k in splines) == 6
