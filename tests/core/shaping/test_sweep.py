"""Sweeps against closed forms: tori, helices, mitred frames, and where each point of the section has to go."""

from __future__ import annotations

from math import cos, pi, radians, sin
from typing import Any

import numpy as np
import numpy.typing as npt
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import TOP
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.area import Area
from wander.core.geometry import least_turning
from wander.core.geometry.conics import smooth_arc
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import chained
from wander.core.geometry.frame import BASE_FRAMES, Frame
from wander.core.geometry.interpolate import closed_through, open_through
from wander.core.geometry.law import linear
from wander.core.geometry.quadrature import length
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.tolerances import DEFAULT
from wander.core.shaping.attitude import Attitude
from wander.core.shaping.bays import DoesNotClose, Swept
from wander.core.shaping.folding import folds_along
from wander.core.shaping.laws import Laws
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.mitring import CornerBent, CornerCrowded
from wander.core.shaping.moving import homogeneous
from wander.core.shaping.path import path_along
from wander.core.shaping.placing import Place, placed_on
from wander.core.shaping.rails import helix
from wander.core.shaping.rounding import rounded
from wander.core.shaping.sweep import swept
from wander.core.shaping.trajectories import Trajectories
from wander.core.solids.assemble import assemble

Row = npt.NDArray[np.float64]
UP = np.array([0.0, 0.0, 1.0])
ORIGIN = np.zeros(2)
FRONT = BASE_FRAMES["front"]


def polyline(*points: Any) -> Curve:
    places = np.array(points, dtype=float)
    return Curve(SplineSpace.from_breaks(1, np.linspace(0, 1, len(places))), places)


def along(
    area: Area,
    curve: Curve,
    *,
    frame: Frame = TOP,
    closed: bool = False,
    place: Place = Place.SQUARED,
    attitude: Attitude = Attitude.LEAST,
    riding: Row = ORIGIN,
    laws: Laws | None = None,
) -> Swept:
    path = path_along(curve, closed=closed)
    near = frame.lift(area.outer.centroid[None])[0]
    placing = placed_on(path, frame, riding, place=place, attitude=attitude, up=UP, near=near)
    return swept([area], path, placing, laws=laws or Laws(), name="sweep-9", section="section-2", tolerances=DEFAULT)


def volume(made: Swept) -> float:
    """By the skins' own integrals; the kernel makes one valid solid of them, and says the same."""
    own = sum(mass_properties(skin).volume for skin in made.skins)
    assert_close(sum(assemble(skin).volume for skin in made.skins), own, within=1e-6, relative=True)
    return own


def ring_path(radius: float) -> Curve:
    flat = smooth_arc((0.0, 0.0), radius, 0.0, 2 * pi)
    return Curve(flat.space, np.column_stack([flat.points, np.zeros(len(flat.points))]))


DISC, BAR = Area(shapes.circle(10.0)), Area(shapes.rectangle(8.0, 6.0))


def test_straight_is_an_extrusion() -> None:
    assert_close(volume(along(BAR, polyline((0, 0, 0), (0, 30, 40)))), 48 * 50, within=1e-9, relative=True)


def test_round_a_circle_is_a_torus() -> None:
    assert_close(volume(along(DISC, ring_path(40), closed=True)), 2 * pi**2 * 40 * 25, within=1e-6, relative=True)


def test_an_arc_is_a_revolution() -> None:
    flat = smooth_arc((0.0, 0.0), 30.0, 0.0, 2.0)
    made = along(BAR, Curve(flat.space, np.column_stack([flat.points, np.zeros(len(flat.points))])))
    assert made.miss == 0.0
    assert_close(volume(made), 48 * 60, within=1e-6, relative=True)


def test_any_area_square_to_a_helix() -> None:
    curve, _ = helix(TOP, ORIGIN, radius=30.0, end_radius=30.0, rise=60.0, turns=2.0, begins=0.0, tolerances=DEFAULT)
    made = along(DISC, curve)
    assert made.miss < DEFAULT.promised
    assert_close(volume(made), 25 * pi * np.hypot(60, 2 * pi * 30 * 2), within=1e-4, relative=True)


def test_a_mitred_frame() -> None:
    frame = polyline((0, 0, 0), (60, 0, 0), (60, 60, 0), (0, 60, 0), (0, 0, 0))
    made = along(BAR, frame, closed=True)
    assert_close(volume(made), 4 * 60 * 48, within=1e-9, relative=True)
    assert len(made.skins[0].faces) == 16


def test_a_path_that_turns_in_space_is_mitred_too() -> None:
    """Every piece is a prism whose ends lean by half the turn: its volume is the area times the length along the middle."""
    made = along(BAR, polyline((0, 0, 0), (50, 0, 0), (50, 40, 0), (50, 40, 70), (20, 60, 90)))
    assert_close(volume(made), 48 * (50 + 40 + 70 + np.sqrt(30**2 + 20**2 + 20**2)), within=1e-9, relative=True)


def test_straight_runs_that_go_on_into_arcs_are_one_face() -> None:
    flat = smooth_arc((50.0, 20.0), 20.0, -pi / 2, pi / 2)
    arc = Curve(flat.space, np.column_stack([flat.points, np.zeros(len(flat.points))]))
    path = chained([polyline((0, 0, 0), (50, 0, 0)), arc, polyline((70, 20, 0), (70, 60, 0))])
    made = along(DISC, path)
    assert len(made.skins[0].faces) == 1
    assert_close(volume(made), 25 * pi * (50 + 10 * pi + 40), within=1e-6, relative=True)


def test_a_hollow_section_is_hollow() -> None:
    tube = Area(shapes.circle(10.0), (shapes.circle(6.0).reversed(),))
    assert_close(volume(along(tube, ring_path(40), closed=True)), 2 * pi**2 * 40 * (25 - 9), within=1e-6, relative=True)
    assert_close(volume(along(tube, polyline((0, 0, 0), (40, 0, 0), (40, 40, 0)))), 80 * 16 * pi, within=1e-9, relative=True)


def test_turned_and_scaled_along() -> None:
    """Turned about its middle it keeps its area in every plane; scaled evenly from one to two it is a frustum."""
    path = polyline((0, 0, 0), (0, 0, 60))
    assert_close(volume(along(BAR, path, laws=Laws(twist=linear(0.0, 2.0)))), 48 * 60, within=1e-4, relative=True)
    grown = linear(1.0, 2.0)
    assert_close(volume(along(BAR, path, laws=Laws(width=grown, height=grown))), 48 * 60 * 7 / 3, within=1e-6, relative=True)


def test_a_twisted_section_meets_itself_at_a_mitre() -> None:
    made = along(BAR, polyline((0, 0, 0), (60, 0, 0), (60, 60, 0)), laws=Laws(twist=linear(0.0, pi / 2)))
    assert_close(volume(made), 48 * 120, within=2e-3, relative=True)


@pytest.mark.parametrize("attitude", [Attitude.LEAST, Attitude.UPRIGHT])
def test_every_point_goes_where_its_frame_takes_it(attitude: Attitude) -> None:
    """At random places along a curve in space, against frames made by hand."""
    rng = np.random.default_rng(3)
    curve = open_through(np.array([(0, 0, 0), (30, 10, 5), (60, -5, 20), (90, 20, 25)], dtype=float))
    made = along(BAR, curve, attitude=attitude)
    path = path_along(curve, closed=False).pieces[0]
    if attitude is Attitude.UPRIGHT:
        for face in made.skins[0].faces:
            for v in rng.uniform(0, 1, 250):
                place, slope = path.derivatives(float(v), 1)
                off = face.surface.grid(np.linspace(0, 1, 7), np.array([v]))[:, 0] - place
                level = np.array([slope[0], slope[1], 0.0]) / np.hypot(slope[0], slope[1])
                assert_close(off @ level, 0.0, within=1e-3)
                # the corners of the bar: half its width to the side, half its height up
                assert np.abs(off[:, 2]).max() == pytest.approx(3.0, abs=1e-3)
    assert made.miss < DEFAULT.promised
    if attitude is Attitude.LEAST:
        assert_close(volume(made), 48 * length(curve), within=1e-4, relative=True)


def test_upright_stays_upright_to_the_last_bit_where_it_is_level() -> None:
    """On a path that climbs and turns, the sides of a bar that were upright at the start are upright everywhere."""
    curve, _ = helix(TOP, ORIGIN, radius=40.0, end_radius=40.0, rise=80.0, turns=1.0, begins=0.3, tolerances=DEFAULT)
    made = along(BAR, curve, attitude=Attitude.UPRIGHT)
    for face in made.skins[0].faces:
        first, last = face.surface.grid(np.array([0.0, 1.0]), np.linspace(0, 1, 200))
        lift = last - first
        upright = np.abs(lift[0, 2]) > 1
        if upright:
            assert_close(np.hypot(lift[:, 0], lift[:, 1]), 0.0, within=1e-9)
            assert_close(np.abs(lift[:, 2]), 6.0, within=1e-9)


def test_parallel_is_carried_without_turning() -> None:
    """A sheared prism: the area seen along the way of the path, times how far that goes."""
    curve = open_through(np.array([(0, 0, 0), (10, 4, 30), (-5, 8, 60), (0, 0, 90)], dtype=float))
    made = along(BAR, curve, place=Place.MOVED, attitude=Attitude.PARALLEL)
    assert_close(volume(made), 48 * 90, within=1e-6, relative=True)


@pytest.mark.parametrize("far", [0.0, 15.0, 40.0])
def test_a_section_drawn_anywhere_along_the_path_is_met_where_it_was_drawn(far: float) -> None:
    frame = Frame(np.array([0.0, 0.0, far]), np.array([cos(0.2), 0.0, sin(0.2)]), np.array([0.0, 1.0, 0.0]))
    curve = open_through(np.array([(0, 0, 0), (3, 0, 20), (0, 5, 40), (2, 0, 60)], dtype=float))
    made = along(BAR, curve, frame=frame, place=Place.DRAWN)
    corners = frame.lift(np.array([(4, 3), (-4, 3), (-4, -3), (4, -3)], dtype=float))
    for corner in corners:
        grids = [face.surface.grid(np.array([0.0]), np.linspace(0, 1, 20001))[0] for face in made.skins[0].faces]
        assert min(float(np.linalg.norm(grid - corner, axis=1).min()) for grid in grids) < 5e-3


def test_a_closed_path_in_space_comes_back_to_itself() -> None:
    turn = 2 * pi * np.arange(12) / 12
    curve = closed_through(np.column_stack([40 * np.cos(turn), 40 * np.sin(turn), 9 * np.sin(2 * turn) + 4 * np.cos(turn)]))
    made = along(BAR, curve, closed=True)
    assert_close(volume(made), 48 * length(curve), within=1e-4, relative=True)
    with pytest.raises(DoesNotClose):
        along(BAR, curve, closed=True, laws=Laws(twist=linear(0.0, 0.5)))


def test_a_frame_that_is_not_plane_closes() -> None:
    made = along(BAR, polyline((0, 0, 0), (70, 0, 0), (70, 70, 30), (0, 70, 0), (0, 0, 0)), closed=True)
    sides = 70 + 2 * np.hypot(70, 30) + 70
    assert_close(volume(made), 48 * sides, within=2e-3, relative=True)


def test_corners_that_can_not_be_mitred_are_told() -> None:
    flat = smooth_arc((0.0, 20.0), 20.0, -pi / 2, pi / 2)
    arc = Curve(flat.space, np.column_stack([flat.points, np.zeros(len(flat.points))]))
    with pytest.raises(CornerBent) as bent:
        along(BAR, chained([arc, polyline((20, 20, 0), (60, 20, 0))]))
    assert_close(bent.value.place, (20, 20, 0), within=1e-9)
    with pytest.raises(CornerCrowded) as crowded:
        along(BAR, polyline((0, 0, 0), (60, 0, 0), (60, 5, 0), (0, 5, 0)))
    assert crowded.value.short > 0


@settings(max_examples=25, deadline=None)
@given(seed=st.integers(0, 10**6), closed=st.booleans(), attitude=st.sampled_from([Attitude.LEAST, Attitude.UPRIGHT]), backwards=st.booleans())
def test_it_looks_outwards_however_section_and_path_were_drawn(seed: int, closed: bool, attitude: Attitude, backwards: bool) -> None:
    """Volume is positive, and the same for the section seen from behind and the path run backwards."""
    rng = np.random.default_rng(seed)
    turn = 2 * pi * (np.arange(8) + rng.uniform(-0.2, 0.2, 8)) / 8
    places = np.column_stack([60 * np.cos(turn), 60 * np.sin(turn), rng.uniform(-12, 12, 8)])
    if not closed:
        places = places[:5]
    places = places[::-1] if backwards else places
    curve = closed_through(places) if closed else open_through(places)
    way = curve.derivatives(0.0, 1)[1]
    level = np.array([-way[1], way[0], 0.0]) / np.hypot(way[0], way[1])
    front = Frame(places[0], level, UP)
    back = Frame(places[0], -level, UP)
    found = [volume(along(BAR, curve, frame=frame, closed=closed, place=Place.MOVED, attitude=attitude)) for frame in (front, back)]
    assert found[0] > 0
    assert_close(found[0], found[1], within=1e-6, relative=True)


def test_least_turning_is_what_it_says() -> None:
    """On a helix the frame turns back against the way round by the torsion times the length: compared at its end."""
    curve, _ = helix(TOP, ORIGIN, radius=30.0, end_radius=30.0, rise=40.0, turns=1.0, begins=0.0, tolerances=DEFAULT)
    path = path_along(curve, closed=False)
    placing = placed_on(path, TOP, ORIGIN, place=Place.SQUARED, attitude=Attitude.LEAST, up=UP, near=np.zeros(3))
    _, turns = placing.held.frames[-1](np.array([1.0]))
    _, begun = placing.held.frames[0](np.array([0.0]))
    slope = 40 / (2 * pi)
    torsion = slope / (30**2 + slope**2)
    expected = -torsion * 2 * pi * np.hypot(30, slope)
    # the frame of the curve itself comes back to the same directions after a turn
    x = turns[0, :, 0]
    turned = np.arctan2(x @ begun[0, :, 1], x @ begun[0, :, 0])
    assert_close((turned - expected + pi) % (2 * pi) - pi, 0.0, within=radians(0.01))


def test_where_a_bend_is_tighter_than_the_section_reaches() -> None:
    """An arc of 10 mm with a bar that reaches 12 to its inside, and 4 to its outside: the reach is what the radius would have to be."""
    flat = smooth_arc((0.0, 0.0), 10.0, 0.0, 2.0)
    path = path_along(Curve(flat.space, np.column_stack([flat.points, np.zeros(len(flat.points))])), closed=False)
    reached = []
    for riding in (-4.0, 4.0):
        # across the start of the arc x looks outwards or inwards: the bar is pushed to one side of the path
        placing = placed_on(path, FRONT, np.array([riding, 0.0]), place=Place.SQUARED, attitude=Attitude.LEAST, up=UP, near=np.zeros(3))
        trajectories = [Trajectories(path, k, frames, Laws()) for k, frames in enumerate(placing.held.frames)]
        outline = placing.local(shapes.rectangle(16.0, 6.0).curve.sampled(8)[1])
        inwards = float(((homogeneous(outline) @ trajectories[0](np.zeros(1))[0] - path.pieces[0](0.0)) @ np.array([-1.0, 0.0, 0.0])).max())
        found = folds_along(trajectories, outline, UP, square=placing.held.square)
        reached.append(round(inwards, 6))
        if inwards < 10:
            assert not found
            continue
        (fold,) = found
        assert_close((fold.radius, fold.reach), (10.0, 12.0), within=1e-4)
        assert_close(fold.middle, (0, 0, 0), within=1e-4)
    assert sorted(reached) == [4.0, 12.0]


@settings(max_examples=40, deadline=None)
@given(
    radius=st.floats(3.0, 30.0),
    attitude=st.sampled_from([Attitude.LEAST, Attitude.UPRIGHT]),
    bulge=st.floats(2.0, 20.0),
    grown=st.sampled_from([1.0, 0.5, 2.5]),
    turned=st.sampled_from([0.0, 1.0]),
)
def test_it_folds_just_where_the_radius_is_smaller_than_the_reach(
    radius: float, attitude: Attitude, bulge: float, grown: float, turned: float
) -> None:
    """However the section is turned on its way, and as wide as it becomes."""
    reach = bulge * max(1.0, grown)
    if abs(radius - reach) < 0.05:
        return
    width = linear(1.0, grown)
    laws = Laws() if grown == 1.0 and turned == 0.0 else Laws(linear(0.0, turned), width, width)
    flat = smooth_arc((0.0, 0.0), radius, 0.0, 2.0)
    path = path_along(Curve(flat.space, np.column_stack([flat.points, np.zeros(len(flat.points))])), closed=False)
    placing = placed_on(path, FRONT, ORIGIN, place=Place.SQUARED, attitude=attitude, up=UP, near=np.zeros(3))
    trajectories = [Trajectories(path, k, frames, laws) for k, frames in enumerate(placing.held.frames)]
    outline = placing.local(shapes.circle(2 * bulge).curve.sampled(64)[1])
    assert bool(folds_along(trajectories, outline, UP, square=placing.held.square)) == (reach > radius)


def test_rounded_corners() -> None:
    """A path of lines with its corners rounded: each saves two tangents and costs an arc."""
    frame = polyline((0, 0, 0), (60, 0, 0), (60, 60, 0), (0, 60, 0), (0, 0, 0))
    path = rounded(path_along(frame, closed=True), 12.0)
    assert path.goes_on
    assert_close(path.length, 240 - 8 * 12 + 2 * pi * 12, within=1e-6)
    bent = rounded(path_along(polyline((0, 0, 0), (50, 0, 0), (80, 30, 40)), closed=False), 9.0)
    assert not bent.corners
    _, ways = bent.places(np.linspace(0, 1, 400))
    assert np.linalg.norm(np.diff(ways, axis=0), axis=1).max() < 1.2 * bent.length / 399 / 9.0
    with pytest.raises(CornerCrowded):
        rounded(path_along(frame, closed=True), 31.0)
    # arcs that touch: a circle is left of a square, and a half one of three sides
    assert_close(rounded(path_along(frame, closed=True), 30.0).length, 60 * pi, within=1e-6)
    three = rounded(path_along(polyline((0, 0, 0), (50, 0, 0), (50, 40, 0), (0, 40, 0)), closed=False), 20.0)
    assert_close(three.length, 30 + 20 * pi + 30, within=1e-6)


def test_a_corner_beside_a_curve_is_rounded_with_the_curvature_of_both() -> None:
    flat = smooth_arc((0.0, 20.0), 20.0, -pi / 2, pi / 2)
    arc = Curve(flat.space, np.column_stack([flat.points, np.zeros(len(flat.points))]))
    path = rounded(path_along(chained([arc, polyline((20, 20, 0), (60, 20, 0))]), closed=False), 5.0)
    curve = path.pieces[0]
    assert len(path.pieces) == 1
    for knot in curve.space.breaks[1:-1]:
        before, after = (curve.derivatives(float(t), 2)[1:] for t in (np.nextafter(knot, 0.0), knot))
        bends = [np.cross(first, second) / np.linalg.norm(first) ** 3 for first, second in (before, after)]
        assert_close(bends[0], bends[1], within=1e-3)


def test_frames_are_carried_with_the_fourth_power_of_the_step(monkeypatch: pytest.MonkeyPatch) -> None:
    """On a helix, whose least turning is known in closed form; at the end of one turn."""
    curve, _ = helix(TOP, ORIGIN, radius=30.0, end_radius=30.0, rise=90.0, turns=1.0, begins=0.0, tolerances=DEFAULT)
    alone = Curve(curve.space, curve.points)
    slope = 90 / (2 * pi)
    expected = -slope / (30**2 + slope**2) * 2 * pi * np.hypot(30, slope)
    monkeypatch.setattr(least_turning, "STEPS", 1)

    def turned(steps: int) -> float:
        monkeypatch.setattr(least_turning, "FEWEST", steps)
        _, turns = least_turning.LeastTurning(alone, np.array([1.0, 0.0, 0.0]))(np.array([0.0, 1.0]))
        return float(np.arctan2(turns[1, :, 0] @ turns[0, :, 1], turns[1, :, 0] @ turns[0, :, 0]))

    fine = turned(4096)
    # the spline leaves the helix by what it was fitted to
    assert_close((fine - expected + pi) % (2 * pi) - pi, 0.0, within=1e-6)
    coarse, finer = abs(turned(32) - fine), abs(turned(64) - fine)
    assert coarse > 14 * finer > 0


@pytest.mark.parametrize(("to", "wide", "high"), [((50, 0, 0), 8.0, 6.0), ((30, -40, 0), 8.0, 6.0), ((-30, 5, 10), 8.0, 6.0)])
def test_a_section_drawn_flat_stands_up_on_a_path_that_runs_level(to: tuple[float, float, float], wide: float, high: float) -> None:
    """Its x lies level and its y goes up, whichever way the path sets out."""
    made = along(BAR, polyline((0, 0, 0), to))
    start = np.concatenate([face.surface.grid(np.array([0.0]), np.array([0.0]))[0] for face in made.skins[0].faces])
    way = np.array(to) / np.linalg.norm(to)
    level = np.cross(UP, way) / np.linalg.norm(np.cross(UP, way))
    assert_close((np.ptp(start @ level), np.ptp(start @ np.cross(way, level))), (wide, high), within=1e-9)


def test_a_section_that_stands_across_its_path_is_left_as_it_was_turned() -> None:
    turned = Frame(np.zeros(3), np.array([0.0, cos(0.3), sin(0.3)]), np.array([0.0, -sin(0.3), cos(0.3)]))
    made = along(BAR, polyline((0, 0, 0), (50, 0, 0)), frame=turned)
    corners = turned.lift(np.array([(4, 3), (-4, 3), (-4, -3), (4, -3)], dtype=float))
    start = np.concatenate([face.surface.grid(np.array([0.0]), np.array([0.0]))[0] for face in made.skins[0].faces])
    for corner in corners:
        assert np.linalg.norm(start - corner, axis=1).min() < 1e-9
