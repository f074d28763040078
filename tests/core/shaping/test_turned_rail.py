"""Rails turned about an axis, against closed forms and quadrature: without sections, along one, and between two."""

from __future__ import annotations

from math import pi
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import dblquad

from tests.closeness import assert_close
from tests.core.placed import TOP
from tests.core.shaping.test_sweep import polyline
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.area import Area
from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import reverse
from wander.core.geometry.interpolate import closed_through, open_through
from wander.core.geometry.tolerances import DEFAULT
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.meridian import Axis, LeavesPlane, RailCrossesAxis
from wander.core.shaping.turned_rail import EndOnAxis, NoWayRound, Round, TurnedRail, turned_rail
from wander.core.solids.assemble import assemble

UP = Axis(np.zeros(3), np.array([0.0, 0.0, 1.0]))
ELLIPSE = shapes.ellipse(40.0, 20.0)


def on(loop: Loop, height: float = 0.0) -> Round:
    return Round(Area(loop), TOP.moved(height), "section-2")


def turned(rail: Curve, first: Round | None = None, second: Round | None = None, *, axis: Axis = UP, closed: bool = False) -> TurnedRail:
    return turned_rail(rail, axis, first, second, name="turn-5", rail_name="rail-3", closed=closed, tolerances=DEFAULT)


def volume(made: TurnedRail) -> float:
    """By the skin's own integral; the kernel makes one valid solid of it and says the same."""
    own = mass_properties(made.skin).volume
    assert_close(assemble(made.skin).volume, own, within=1e-6, relative=True)
    return own


@pytest.mark.parametrize("run", [lambda curve: curve, reverse])
def test_cones_cylinders_and_a_ring(run: Any) -> None:
    cone = turned(run(polyline((10, 0, 0), (0, 0, 30))))
    assert_close(volume(cone), pi * 100 * 10, within=1e-6, relative=True)
    [(place, lean)] = cone.poles
    assert_close(place, (0, 0, 30), within=1e-9)
    assert_close(np.tan(lean), 3.0, within=1e-9)
    assert_close(volume(turned(run(polyline((0, 8, 2), (0, 8, 12))))), pi * 64 * 10, within=1e-6, relative=True)
    barrel = turned(run(polyline((10, 0, 0), (20, 0, 30), (15, 0, 60))))
    assert len(barrel.skin.faces) == 2
    assert_close(volume(barrel), pi * 10 * (100 + 200 + 400) + pi * 10 * (400 + 300 + 225), within=1e-6, relative=True)
    turns = 2 * pi * np.arange(64) / 64
    ring = closed_through(np.column_stack([30 + 5 * np.cos(turns), np.zeros(64), 5 * np.sin(turns)]))
    assert_close(volume(turned(run(ring), closed=True)), 2 * pi**2 * 30 * 25, within=1e-5, relative=True)


def test_along_one_section_it_is_widened_alike_at_every_angle() -> None:
    """Elliptic cone, pyramid and prism; the section may stand at either end, and lean."""
    straight = polyline((20, 0, 0), (0, 0, 30))
    assert_close(volume(turned(straight, on(ELLIPSE))), pi * 20 * 10 * 10, within=1e-6, relative=True)
    assert_close(volume(turned(straight, on(shapes.rectangle(40.0, 40.0)))), 1600 * 10, within=1e-9, relative=True)
    assert_close(volume(turned(reverse(straight), None, on(ELLIPSE))), pi * 20 * 10 * 10, within=1e-6, relative=True)
    prism = turned(polyline((20, 0, 0), (20, 0, 30)), on(shapes.rectangle(40.0, 10.0)))
    assert_close(volume(prism), 400 * 30, within=1e-9, relative=True)
    assert len(prism.skin.faces) == 4


def test_between_two_sections_by_quadrature() -> None:
    """An ellipse to a circle: at each height the radius in a direction goes from one to the other, both as the rail narrows."""
    made = turned(polyline((20, 0, 0), (10, 0, 30)), on(ELLIPSE), on(shapes.circle(20.0), 30.0))
    assert made.misses == ()

    def half_square(share: float, turn: float) -> float:
        away, ellipse = 20 - 10 * share, 1 / np.hypot(np.cos(turn) / 20, np.sin(turn) / 10)
        return float((away * ((1 - share) * ellipse / 20 + share * 10 / 10)) ** 2 / 2)

    expected = 30 * dblquad(half_square, 0, 2 * pi, 0, 1)[0]
    assert_close(volume(made), expected, within=1e-5, relative=True)
    # every half plane through the axis holds the rail: in the direction of the long axis it is the rail itself
    face = made.skin.faces[0].surface
    grid = face.grid(np.linspace(0, 1, 401), np.linspace(0, 1, 33))
    nearest = np.abs(np.linalg.norm(grid - np.array([[[20 - 10 * v, 0, 30 * v] for v in np.linspace(0, 1, 33)]]), axis=2)).min(axis=0)
    assert nearest.max() < 1e-2


def test_where_it_closes_it_is_smooth() -> None:
    bulged = open_through(np.array([(20, 0, 0), (26, 0, 14), (12, 0, 30)], dtype=float))
    made = turned(bulged, on(shapes.rounded_rectangle(40.0, 30.0, 9.0)), on(shapes.circle(24.0), 30.0))
    face = made.skin.faces[0].surface
    assert len(made.skin.faces) == 1
    low, high = face.u.domain
    v = np.linspace(*face.v.domain, 17)
    first, last = (face.grid(np.array([at]), v, 1, 0)[0] for at in (low, float(np.nextafter(high, low))))
    sizes = [np.linalg.norm(slopes, axis=1) for slopes in (first, last)]
    assert_close(first / sizes[0][:, None], last / sizes[1][:, None], within=1e-4)
    assert np.ptp(sizes[0] / sizes[1]) < 0.05


def test_what_can_not_be_turned_is_told() -> None:
    with pytest.raises(LeavesPlane) as askew:
        turned(polyline((10, 0, 0), (10, 6, 20), (10, 0, 40)))
    assert askew.value.off > 1
    with pytest.raises(RailCrossesAxis) as over:
        turned(polyline((10, 0, 0), (-8, 0, 30)))
    assert over.value.place[0] < 0
    with pytest.raises(EndOnAxis) as pole:
        turned(polyline((10, 0, 0), (0, 0, 30)), None, on(ELLIPSE, 30.0))
    assert pole.value.first is False
    aside = shapes.circle(10.0).transformed(np.eye(2), np.array([30.0, 0.0]))
    with pytest.raises(NoWayRound) as beside:
        turned(polyline((20, 0, 0), (10, 0, 30)), on(aside), on(shapes.circle(20.0), 30.0))
    assert beside.value.first is True
    [(first, place, there)] = turned(polyline((22, 0, 0), (0, 0, 30)), on(ELLIPSE)).misses
    assert first
    assert_close(place - there, (2, 0, 0), within=1e-6)


@settings(max_examples=20, deadline=None)
@given(
    heights=st.lists(st.floats(4, 20), min_size=2, max_size=4),
    widths=st.lists(st.floats(8, 40), min_size=5, max_size=5),
    angle=st.floats(0, 6),
    corners=st.integers(3, 7),
)
def test_turned_as_a_whole_it_is_the_same_body(heights: list[float], widths: list[float], angle: float, corners: int) -> None:
    """About the axis, reversed and moved: the volume is the same, and positive."""
    up = np.append(0.0, np.cumsum(heights))
    points = np.column_stack([widths[: len(up)], np.zeros(len(up)), up])
    loop = shapes.polygon(corners, 30.0)
    plain = volume(turned(open_through(points), on(loop)))
    assert plain > 0
    assert_close(volume(turned(reverse(open_through(points)), None, on(loop))), plain, within=1e-9, relative=True)
    moved = Axis(np.array([5.0, -3.0, 7.0]), UP.way)
    shifted = loop.transformed(np.eye(2), np.array([5.0, -3.0]))
    assert_close(volume(turned(open_through(points + moved.point), on(shifted, 7.0), axis=moved)), plain, within=1e-9, relative=True)
    c, s = np.cos(angle), np.sin(angle)
    round_ = np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]])
    spun = loop.transformed(round_[:2, :2], np.zeros(2))
    assert_close(volume(turned(open_through(points @ round_.T), on(spun))), plain, within=1e-9, relative=True)
