"""Area and curvature along a body against closed forms and the kernel's own sections; cutting sections that change nothing."""

from __future__ import annotations

from collections.abc import Sequence
from math import pi

import numpy as np
import pytest
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.BRepGProp import BRepGProp
from OCP.gp import gp_Dir, gp_Pln, gp_Pnt
from OCP.GProp import GProp_GProps
from OCP.TopoDS import TopoDS_Shape

from tests.closeness import assert_close
from tests.core.placed import TOP, at, tip, wobbly
from wander.core.drawing.outlines import shapes
from wander.core.geometry.frame import Frame
from wander.core.geometry.law import linear, through
from wander.core.shaping.cut import Cut, NotFlat, cut_along
from wander.core.shaping.ends import EndKind, EndShape
from wander.core.shaping.lanes import height_on, lanes, strips_of
from wander.core.shaping.laws import Laws
from wander.core.shaping.loft import Between, Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.skin import Skin
from wander.core.solids.assemble import assemble

UP = np.array([0.0, 0, 1])


def leaning(z: float, outline, degrees: float) -> PlacedSection:
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    return PlacedSection(Frame(np.array([0.0, 0, z]), np.array([c, 0, s]), np.array([0.0, 1, 0])), outline)


def made(sections: list[PlacedSection], **more) -> Lofted:
    return loft(sections, [f"section-{i}" for i in range(len(sections))], name="loft-9", **more)


WOBBLY = shapes.spline(wobbly(11, 16.0, 6))
RECIPES: dict[str, tuple[list[PlacedSection], dict]] = {
    "square to round": ([at(0, shapes.rounded_rectangle(40.0, 40.0, 8.0)), at(30, shapes.circle(44.0)), at(80, shapes.circle(18.0))], {}),
    "cornered": ([at(0, shapes.rectangle(30.0, 20.0)), at(40, shapes.circle(24.0)), at(70, shapes.polygon(5, 20.0))], {}),
    "twisted": (
        [at(0, WOBBLY), at(30, shapes.circle(30.0)), at(60, WOBBLY)],
        {"laws": Laws(twist=linear(0.0, 1.1), width=through([(0.2, 1.0, False), (1.0, 0.5, False)]))},
    ),
    "leaning": ([leaning(0, WOBBLY, 0), leaning(40, shapes.circle(30.0), 12), leaning(90, WOBBLY, -9)], {}),
    "straight to a tip": ([at(0, shapes.rectangle(20.0, 20.0)), at(20, shapes.circle(20.0)), tip(50.0)], {"between": Between.STRAIGHT}),
}
BODIES = {name: made(sections, **more) for name, (sections, more) in RECIPES.items()}


def kernel_section_area(solid: TopoDS_Shape, z: float) -> float:
    plane = BRepBuilderAPI_MakeFace(gp_Pln(gp_Pnt(0, 0, z), gp_Dir(0, 0, 1)), -200, 200, -200, 200).Face()
    properties = GProp_GProps()
    BRepGProp.SurfaceProperties_s(BRepAlgoAPI_Common(solid, plane).Shape(), properties, 1e-9)
    return properties.Mass()


@pytest.mark.parametrize("name", list(BODIES))
def test_the_area_lane_agrees_with_the_kernels_own_cut(name: str) -> None:
    body = BODIES[name]
    high = float(mass_properties(body.shell).high[2])
    margin = 12.0 if name == "leaning" else 0.4
    places = np.linspace(margin, high - margin - (9 if name == "leaning" else 0), 20)
    found = lanes(body.shell.faces, UP, places, 4).area
    solid = assemble(body.shell).shape
    expected = np.array([kernel_section_area(solid, float(z)) for z in places])
    assert_close(found / expected, 1.0, within=1e-5)


def test_area_along_a_cone_and_nothing_beyond_the_ends() -> None:
    cone = made([at(0, shapes.circle(40.0)), at(60, shapes.circle(10.0))], between=Between.STRAIGHT)
    read = lanes(cone.shell.faces, UP, np.array([-1.0, 0.0, 20.0, 60.0, 61.0]), 3)
    assert_close(read.area[1:4], pi * np.array([20.0, 15.0, 5.0]) ** 2, within=1e-5)
    assert np.isnan(read.area[[0, 4]]).all()
    assert_close(np.nan_to_num(read.curvature), 0.0, within=1e-9)


def test_curvature_along_the_flow_lines_of_a_barrel() -> None:
    """A body of revolution: the flow line is its profile, whose curvature follows from the profile's own derivatives."""
    from scipy.interpolate import CubicSpline

    heights, radii = [0.0, 20.0, 45.0, 70.0], [10.0, 16.0, 15.0, 8.0]
    barrel = made([at(z, shapes.circle(2 * r)) for z, r in zip(heights, radii, strict=True)], skin=Skin.BATTEN)
    v = barrel.plain.places
    r, z = (CubicSpline(v, values, bc_type="natural") for values in (radii, heights))
    t = np.linspace(0.05, 0.95, 17)
    rise, out, rise2, out2 = z(t, 1), r(t, 1), z(t, 2), r(t, 2)
    expected = -(rise * out2 - out * rise2) / np.hypot(rise, out) ** 3
    read = lanes(barrel.shell.faces, UP, z(t), 5)
    for line in read.curvature:
        assert_close(line, expected, within=1e-6)


def with_cut(sections: Sequence[PlacedSection], taken: Cut) -> list[PlacedSection]:
    """The sections with the one that was cut among them."""
    loop = shapes.traced(taken.curve.degree, taken.curve.space.knots, taken.curve.points, taken.corners)
    assert not taken.aside
    return sorted([*sections, PlacedSection(taken.frame, loop, share=taken.share)], key=lambda section: float(section.frame.origin[2]))


@pytest.mark.parametrize("name", ["square to round", "cornered", "twisted", "straight to a tip"])
@pytest.mark.parametrize("share", [0.13, 0.55, 0.81])
def test_adding_a_cut_section_changes_nothing(name: str, share: float) -> None:
    body = BODIES[name]
    sections, more = RECIPES[name]
    high = float(mass_properties(body.shell).high[2])
    z = share * high
    taken = cut_along(body.plain, TOP.moved(z), z)
    more_sections = with_cut(sections, taken)
    again = made(more_sections, **more)
    assert len(again.shell.faces) >= len(body.shell.faces)
    assert max(distances(body, again)) < 1e-3
    before = mass_properties(body.shell).volume
    assert_close(mass_properties(again.shell).volume, before, within=2e-6 * before)


def test_a_second_cut_between_the_first_and_a_section() -> None:
    sections, _ = RECIPES["square to round"]
    body = BODIES["square to round"]
    for z in (12.0, 20.0, 55.0, 16.0):
        taken = cut_along(body.plain, TOP.moved(z), z)
        sections = with_cut(sections, taken)
        body = made(sections)
    assert [s.frame.origin[2] for s in sections] == sorted(s.frame.origin[2] for s in sections)
    assert max(distances(BODIES["square to round"], body)) < 1e-3


def test_a_cut_between_leaning_stations_is_refused_with_the_reason() -> None:
    with pytest.raises(NotFlat, match="out of flat"):
        cut_along(BODIES["leaning"].plain, TOP.moved(20.0), 20.0)


def test_a_wide_end_shape_does_not_disturb_the_cut() -> None:
    sections = [at(0, shapes.circle(30.0)), at(50, shapes.circle(26.0)), tip(70.0)]
    ends = (EndShape(EndKind.SQUARE), EndShape(EndKind.DOMED))
    body = made(sections, ends=ends)
    taken = cut_along(body.plain, TOP.moved(61.0), 61.0)
    again = made(with_cut(sections, taken), ends=ends)
    assert max(distances(body, again)) < 1e-3


def distances(a: Lofted, b: Lofted) -> list[float]:
    """How far the second skin is from the first, at 41 heights on 48 flow lines; both run over the same parameters."""
    found = []
    heights = np.linspace(0.5, float(mass_properties(a.shell).high[2]) - 0.5, 41)
    for one, other in zip(strips_of(a.shell.faces), strips_of(b.shell.faces), strict=True):
        u = np.linspace(0, 1, 48)
        rings = []
        for strip in (one, other):
            ring = np.full((len(heights), len(u), 3), np.nan)
            for surface in strip:
                v, reached = height_on(surface, UP, u, heights)
                v = np.broadcast_to(v, (len(heights), len(u)))
                points = surface.at(np.tile(u, len(heights)), v.ravel(), [(0, 0)])[0].reshape(len(heights), len(u), 3)
                ring[reached] = points[reached]
            rings.append(ring)
        found.append(float(np.linalg.norm(rings[0] - rings[1], axis=-1).max()))
    return found
