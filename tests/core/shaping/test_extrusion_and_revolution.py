"""Extrusions and revolutions against closed forms, valid for the kernel and watertight as meshes; their properties under motion."""

from __future__ import annotations

from collections.abc import Sequence
from math import cos, pi, radians, sin, tan

import numpy as np
import pytest
import trimesh
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.area import Area, area_of
from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import BASE_FRAMES
from wander.core.shaping.cut_ends import EndsMeet
from wander.core.shaping.display import display_mesh
from wander.core.shaping.edges import edges
from wander.core.shaping.extrusion import extruded
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.revolution import CrossesAxis, revolved
from wander.core.shaping.shell import Shell
from wander.core.solids.assemble import assemble

TOP = BASE_FRAMES["top"]
AXIS = {"point": np.zeros(2), "direction": pi / 2}
"""The y of the plane."""


def beside(loop: Loop, x: float, y: float = 0.0, turn: float = 0.0) -> Loop:
    c, s = cos(turn), sin(turn)
    return loop.transformed(np.array([[c, -s], [s, c]]), np.array([x, y]))


def pull(*areas: Area, low: float = 0.0, high: float = 30.0, taper: float = 0.0) -> Sequence[Shell]:
    return extruded(areas, TOP, low=low, high=high, taper=taper, name="extrude-3", section="section-2")


def spin(*areas: Area, low: float = 0.0, high: float = 2 * pi) -> Sequence[Shell]:
    return revolved(areas, TOP, AXIS["point"], AXIS["direction"], low=low, high=high, name="revolve-3", section="section-2")


def assert_body(shells: Sequence[Shell], volume: float, *, faces: int | None = None, within: float = 1e-6) -> None:
    """The volume is right by the own surfaces and by the kernel, the mesh is closed, and every seam has two sides."""
    found = sum(mass_properties(shell).volume for shell in shells)
    assert_close(found, volume, within=within * volume)
    assert_close(sum(assemble(shell).volume for shell in shells), volume, within=within * volume)
    for shell in shells:
        mesh = display_mesh(shell, 0.02)
        solid = trimesh.Trimesh(mesh.positions, mesh.triangles)
        assert solid.is_watertight
        assert solid.is_winding_consistent
        assert solid.volume > 0
        names = [edge.name for edge in edges(shell)]
        assert len(names) == len(set(names))
    if faces is not None:
        assert sum(len(shell.names) for shell in shells) == faces


RING = Area(shapes.circle(40), (shapes.circle(20).reversed(),))


@pytest.mark.parametrize(
    ("areas", "low", "high", "volume", "faces"),
    [
        ([area_of(shapes.rectangle(20, 10))], 0, 30, 6000, 6),
        ([area_of(shapes.circle(20))], -12, 30, pi * 100 * 42, 3),
        ([RING], -5, 30, pi * 300 * 35, 4),
        ([area_of(shapes.polygon(5, 20))], 2, 9, 5 / 2 * 100 * sin(2 * pi / 5) * 7, 7),
        ([area_of(beside(shapes.circle(10), -20)), area_of(beside(shapes.circle(6), 20))], 0, 8, pi * (25 + 9) * 8, 6),
    ],
)
def test_upright(areas: list[Area], low: float, high: float, volume: float, faces: int) -> None:
    assert_body(pull(*areas, low=low, high=high), volume, faces=faces)


@pytest.mark.parametrize(
    ("areas", "extra"),
    [
        ([area_of(shapes.rectangle(20, 10))], 0.0),
        # its middle is 15 along x: each mm there is worth both slopes
        ([area_of(beside(shapes.circle(10), 15))], 15 * (tan(0.6) + tan(0.3))),
        ([RING], 0.0),
        ([area_of(beside(shapes.circle(10), -20)), area_of(beside(shapes.circle(10), 20))], 0.0),
    ],
)
def test_ends_cut_at_angles_keep_the_length_at_the_origin(areas: list[Area], extra: float) -> None:
    made = extruded(areas, TOP, low=0, high=50, name="extrude-3", section="section-2", slopes=((-tan(0.3), 0.2), (tan(0.6), -0.1)))
    whole = sum(area.outer.area - sum(abs(hole.area) for hole in area.holes) for area in areas)
    assert_body(made, whole * (50 + extra))
    for shell in made:
        near, far = (cap.frame for cap in shell.caps)
        assert_close(far.z * np.sqrt(1 + tan(0.6) ** 2 + 0.1**2), (-tan(0.6), 0.1, 1), within=1e-12)
        assert_close(near.z * np.sqrt(1 + tan(0.3) ** 2 + 0.2**2), (-tan(0.3), 0.2, -1), within=1e-12)
        for cap in shell.caps:
            assert_close(np.concatenate([curve.points - cap.frame.origin for curve in cap.curves]) @ cap.frame.z, 0.0, within=1e-9)


def test_ends_that_cross_are_told_with_what_is_wanting() -> None:
    with pytest.raises(EndsMeet) as crossed:
        extruded([area_of(shapes.rectangle(20, 10))], TOP, low=0, high=8, name="extrude-3", section="section-2", slopes=((-1, 0), (1, 0)))
    assert_close(crossed.value.short, 12.0, within=1e-5)
    assert_close(crossed.value.place[0], -10.0, within=1e-9)


def frustum(area: float, girth: float, corner: float, height: float, lean: float) -> float:
    """Volume over an outline whose sides lean inwards: its area at height h is area - girth d + corner d2, d the way it moved in there.

    corner: the sum of tan(turn / 2) over the corners, pi for a round outline (Steiner).
    """
    t = tan(lean)
    return area * height - girth * t * height**2 / 2 + corner * t**2 * height**3 / 3


@given(lean=st.floats(-12, 12), width=st.floats(20, 60), depth=st.floats(20, 60), height=st.floats(2, 30))
@settings(max_examples=15, deadline=None)
def test_tapered_boxes(lean: float, width: float, depth: float, height: float) -> None:
    if abs(lean) < 1e-3:
        return
    lean = radians(lean)
    shells = pull(area_of(shapes.rectangle(width, depth)), high=height, taper=lean)
    assert_body(shells, frustum(width * depth, 2 * (width + depth), 4, height, lean), faces=6)


@given(lean=st.floats(0.5, 10), diameter=st.floats(20, 60), height=st.floats(2, 30))
@settings(max_examples=10, deadline=None)
def test_tapered_rounds_both_ways(lean: float, diameter: float, height: float) -> None:
    lean = radians(lean)
    one = frustum(pi * diameter**2 / 4, pi * diameter, pi, height, lean)
    assert_body(pull(area_of(shapes.circle(diameter)), high=height, taper=lean), one)
    assert_body(pull(area_of(shapes.circle(diameter)), low=-height, high=height, taper=lean), 2 * one)
    assume(2 * height * tan(lean) < 9)  # beyond that the hole has eaten the rim
    hole = Area(shapes.circle(diameter + 20), (shapes.circle(diameter).reversed(),))
    outer = frustum(pi * (diameter + 20) ** 2 / 4, pi * (diameter + 20), pi, height, lean)
    inner = frustum(pi * diameter**2 / 4, pi * diameter, pi, height, -lean)
    assert_body(pull(hole, high=height, taper=lean), outer - inner)


@pytest.mark.parametrize("lean", [-8.0, 3.0, 8.0])
def test_tapered_rounded_rectangle(lean: float) -> None:
    angle = radians(lean)
    straight = 2 * (24 + 14)
    area = 40 * 30 - (4 - pi) * 64
    assert_body(pull(area_of(shapes.rounded_rectangle(40, 30, 8)), taper=angle, high=20), frustum(area, straight + 16 * pi, pi, 20, angle))


def test_tapered_with_corners_between_arcs_and_lines() -> None:
    """A half disc: at its corners the sides follow curves. Checked against slices cut by brute force."""
    half = _half_disc(20.0)
    angle, height = radians(6), 15.0
    shells = pull(area_of(half), taper=angle, high=height)
    heights = (np.arange(4000) + 0.5) / 4000 * height
    d = heights * tan(angle)
    radius = 20.0 - d
    chord = np.sqrt(radius**2 - d**2)
    areas = radius**2 * np.arctan2(chord, d) - d * chord
    assert_body(shells, float(areas.sum() * height / 4000), within=2e-6)


def _half_disc(radius: float) -> Loop:
    from wander.core.drawing.areas.regions import graph
    from wander.core.drawing.curves.pieces import pieces
    from wander.core.drawing.model import Drawing

    drawing = Drawing.model_validate(
        {
            "points": {"p1": (0.0, 0.0), "p2": (radius, 0.0), "p3": (-radius, 0.0)},
            "curves": [
                {"id": "c1", "type": "arc", "center": "p1", "start": "p2", "end": "p3"},
                {"id": "c2", "type": "line", "start": "p3", "end": "p2"},
            ],
        }
    )
    found = graph(pieces(drawing))
    return found.loop(found.regions[0].sides)


@pytest.mark.parametrize(("lean", "height", "words"), [(30.0, 40.0, "lean too much"), (45.0, 10.1, "lean too much")])
def test_sides_that_lean_into_each_other_are_refused(lean: float, height: float, words: str) -> None:
    with pytest.raises(BadInput, match=words):
        pull(area_of(shapes.rectangle(20, 20)), high=height, taper=radians(lean))
    with pytest.raises(BadInput, match=words):
        pull(area_of(shapes.circle(20)), high=height, taper=radians(lean))


def test_no_length_is_refused() -> None:
    with pytest.raises(BadInput, match="no length"):
        pull(area_of(shapes.circle(20)), low=5.0, high=5.0)


# Pappus: the area times the way of its centroid -----------------------------------------------------------------------------------------------


@pytest.mark.parametrize("sweep", [2 * pi, 1.7, pi, 0.05])
@pytest.mark.parametrize(
    ("loop", "area", "reach"),
    [
        (beside(shapes.circle(20), 50), pi * 100, 50),
        (beside(shapes.ellipse(20, 8), 80, 10, 0.4), pi * 40, 80),
        (beside(shapes.ellipse(20, 8), -80, 10, 0.4), pi * 40, 80),
        (beside(shapes.rectangle(20, 10), 30), 200, 30),
    ],
    ids=["torus", "turned ellipse", "on the other side", "square ring"],
)
def test_beside_the_axis(loop: Loop, area: float, reach: float, sweep: float) -> None:
    assert_body(spin(area_of(loop), high=sweep), area * reach * sweep)
    assert_body(spin(area_of(loop), low=-sweep / 3, high=sweep * 2 / 3), area * reach * sweep)


@pytest.mark.parametrize(("sweep", "faces"), [(2 * pi, 3), (1.0, 5)])
def test_a_side_on_the_axis_makes_no_face(sweep: float, faces: int) -> None:
    assert_body(spin(area_of(beside(shapes.rectangle(20, 10), 10)), high=sweep), 400 * 10 * sweep / 2, faces=faces)


def test_a_ball_from_a_half_disc() -> None:
    half = _half_disc(15.0).transformed(np.array([[0.0, 1.0], [-1.0, 0.0]]), np.zeros(2))
    assert_body(spin(area_of(half)), 4 / 3 * pi * 15**3, faces=1)
    assert_body(spin(area_of(half), high=1.2), 4 / 3 * pi * 15**3 * 1.2 / (2 * pi), faces=3)


def test_a_pipe_bent_round() -> None:
    pipe = Area(beside(shapes.circle(20), 50), (beside(shapes.circle(8), 50).reversed(),))
    assert_body(spin(pipe, high=1.0), 50 * pi * (100 - 16), faces=4)
    assert_body(spin(pipe), 50 * 2 * pi * pi * (100 - 16), faces=2)


def test_over_the_axis_is_refused_with_the_place() -> None:
    with pytest.raises(CrossesAxis) as caught:
        spin(area_of(beside(shapes.circle(20), 6)))
    assert_close(caught.value.place, [-4, 0, 0], within=0.05)
    with pytest.raises(CrossesAxis, match="touches the axis"):
        spin(area_of(beside(shapes.circle(20), 10)))


@pytest.mark.parametrize("sweep", [0.0, 2 * pi + 0.01])
def test_turns_that_are_none(sweep: float) -> None:
    with pytest.raises(BadInput, match="turn"):
        spin(area_of(beside(shapes.circle(20), 50)), high=sweep)


@pytest.mark.parametrize(
    "made", [pull(RING), pull(area_of(shapes.foil(80, 0.2, 0.02, 0.4))), spin(area_of(beside(shapes.rectangle(20, 10), 10)), high=1.0)]
)
def test_mirrored_and_moved(made: Sequence[Shell]) -> None:
    mirror = np.diag([-1.0, 1.0, 1.0])
    for shell in made:
        image = shell.moved(mirror, np.array([3.0, 4.0, 5.0]))
        before, after = mass_properties(shell), mass_properties(image)
        assert_close(after.volume, before.volume, within=1e-9 * before.volume)
        assert_close(after.center, mirror @ before.center + [3, 4, 5], within=1e-7)
        mesh = display_mesh(image, 0.05)
        solid = trimesh.Trimesh(mesh.positions, mesh.triangles)
        assert solid.is_watertight
        assert solid.volume > 0
        assert_close(assemble(image).volume, before.volume, within=1e-6 * before.volume)
        assert [e.name for e in edges(image)] == [e.name for e in edges(shell)]
