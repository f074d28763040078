"""Volume, area and moments over trimmed faces: closed forms, and the kernel's own adaptive integration."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from math import pi

import numpy as np
import pytest
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_NurbsConvert, BRepBuilderAPI_Transform
from OCP.BRepGProp import BRepGProp
from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox, BRepPrimAPI_MakeCone, BRepPrimAPI_MakeCylinder, BRepPrimAPI_MakeSphere, BRepPrimAPI_MakeTorus
from OCP.GeomAbs import GeomAbs_BSplineSurface
from OCP.gp import gp_Ax1, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.GProp import GProp_GProps
from OCP.TopoDS import TopoDS, TopoDS_Face, TopoDS_Shape

from tests.closeness import assert_close
from tests.core.placed import at, body
from tests.soak import times
from wander.core.bodies.body import faces_of_skin
from wander.core.bodies.measures import Measures
from wander.core.drawing.outlines import shapes
from wander.core.geometry.basis import Floats
from wander.core.geometry.surface import Surface
from wander.core.shaping.moments import Moments
from wander.core.solids.assemble import assemble, faces_of
from wander.core.solids.convert import to_kernel_surface
from wander.core.solids.faces import face_from
from wander.core.solids.integrals import is_whole, moments_of
from wander.core.solids.origins import Origin
from wander.core.solids.readback import body_from


def splined(shape: TopoDS_Shape) -> TopoDS_Shape:
    """The same with every face a spline."""
    return BRepBuilderAPI_NurbsConvert(shape, True).Shape()


def leaning(shape: TopoDS_Shape) -> TopoDS_Shape:
    turn, shift = gp_Trsf(), gp_Trsf()
    turn.SetRotation(gp_Ax1(gp_Pnt(1, 2, 3), gp_Dir(1, 0.4, -0.3)), 0.7)
    shift.SetTranslation(gp_Vec(5, -7, 11))
    return BRepBuilderAPI_Transform(shape, shift * turn, True).Shape()


def found(shape: TopoDS_Shape, about: Floats) -> Moments:
    shapes = list(faces_of(shape))
    return moments_of(shapes, [face_from(face, str(i)) for i, face in enumerate(shapes)], about)


BALL = BRepPrimAPI_MakeSphere(gp_Pnt(0, 0, 0), 10.0).Shape()
POST = BRepPrimAPI_MakeCylinder(6.0, 30.0).Shape()
BLOCK = BRepPrimAPI_MakeBox(gp_Pnt(-8, -8, 3), gp_Pnt(8, 20, 15)).Shape()
RING = BRepPrimAPI_MakeTorus(12.0, 4.0).Shape()
SPIKE = BRepPrimAPI_MakeCone(9.0, 2.0, 20.0).Shape()
CLOSED_FORMS = {
    "ball": (BALL, 4 / 3 * pi * 1000, 400 * pi),
    "post": (POST, 36 * pi * 30, 72 * pi + 12 * pi * 30),
    "ring": (RING, 2 * pi**2 * 12 * 16, 4 * pi**2 * 12 * 4),
    "spike": (SPIKE, pi * 20 / 3 * (81 + 18 + 4), pi * (81 + 4 + 11 * np.sqrt(49 + 400))),
}
JOINED = {
    "a ball on a block": BRepAlgoAPI_Fuse(BALL, BLOCK).Shape(),
    "what a ring and a block share": BRepAlgoAPI_Common(RING, BLOCK).Shape(),
    "splines, joined": BRepAlgoAPI_Fuse(splined(leaning(SPIKE)), splined(RING)).Shape(),
    "splines, cut": BRepAlgoAPI_Cut(splined(leaning(BALL)), splined(POST)).Shape(),
}


@pytest.mark.parametrize("place", [np.zeros(3), np.array([40.0, -3.0, 25.0])], ids=["at its middle", "far from it"])
@pytest.mark.parametrize(
    "made", [lambda shape: shape, splined, leaning, lambda shape: splined(leaning(shape))], ids=["as is", "splined", "turned", "both"]
)
@pytest.mark.parametrize("name", CLOSED_FORMS)
def test_closed_forms(name: str, made: object, place: Floats) -> None:
    shape, volume, area = CLOSED_FORMS[name]
    assert callable(made)
    told = found(made(shape), place)
    assert_close(told.volume, volume, within=1e-8, relative=True)
    assert_close(told.area, area, within=1e-6, relative=True)


# of the last the kernel needs twenty seconds to count it
@pytest.mark.parametrize("name", list(JOINED)[: times(-1, len(JOINED))])
def test_trimmed_faces_as_the_kernel_counts_them(name: str) -> None:
    shape = JOINED[name]
    inside, skin = GProp_GProps(), GProp_GProps()
    BRepGProp.VolumePropertiesGK_s(shape, inside, 1e-8, False, False, True, True)  # its other rule is off by 2e-5 where splines meet
    BRepGProp.SurfaceProperties_s(shape, skin, 1e-9)
    about = np.array([1.0, -2.0, 3.0])
    told = found(shape, about)
    assert_close(told.volume, inside.Mass(), within=1e-8, relative=True)
    assert_close(told.area, skin.Mass(), within=1e-6, relative=True)
    assert_close(told.center(about), inside.CentreOfMass().Coord(), within=1e-7)
    matrix = inside.MatrixOfInertia()
    inertia = np.array([[matrix.Value(i, j) for j in (1, 2, 3)] for i in (1, 2, 3)])
    assert_close(np.trace(told.spread) * np.eye(3) - told.spread, inertia, within=1e-7 * np.abs(inertia).max())


@pytest.mark.parametrize(
    ("made", "within"),
    [(lambda shape: shape, 1e-8), (splined, 1e-6), (lambda shape: splined(leaning(shape)), 1e-6)],
    ids=["as is", "splined", "leaning"],
)
def test_a_round_hole_half_through_a_ball(made: Callable[[TopoDS_Shape], TopoDS_Shape], within: float) -> None:
    """Half of what is left of a ball round a bore, and half a ball. Where splines meet the kernel's edges are as close as its own tolerance."""
    told = found(BRepAlgoAPI_Cut(made(BALL), made(POST)).Shape(), np.zeros(3))
    assert_close(told.volume, 2 / 3 * pi * (1000 + 8**3), within=within, relative=True)
    # zones of a ball are 2 pi r h; the bore is 8 deep, and ends flat
    assert_close(told.area, 2 * pi * 10 * 18 + 2 * pi * 6 * 8 + 36 * pi, within=within, relative=True)


def read(shape: TopoDS_Shape) -> Measures:
    origins = [Origin(str(i), face_from(face, str(i))) for i, face in enumerate(faces_of(shape))]
    return body_from(shape, origins, {}, None).measures


def test_bodies_that_lie_apart_have_the_moments_of_both_about_the_centre_of_all() -> None:
    """Two balls: each by itself, and as heavy as it is far from the middle."""
    shift = gp_Trsf()
    shift.SetTranslation(gp_Vec(50, 0, 0))
    other = BRepBuilderAPI_Transform(BALL, shift, True).Shape()
    told = read(BRepAlgoAPI_Fuse(BALL, other).Shape())
    m = 4 / 3 * pi * 1000
    own = 2 / 5 * m * 100
    assert_close(told.moments, [2 * own, 2 * own + 2 * m * 625, 2 * own + 2 * m * 625], within=1e-6, relative=True)
    assert_close(told.moved(np.array([[0.0, -1, 0], [1, 0, 0], [0, 0, 1]]), np.zeros(3)).moments, told.moments[[1, 0, 2]], within=1e-6, relative=True)


def side(turned: float = 0.0) -> Surface:
    """A quarter of a tube of radius 10, 20 high, turned about its axis (rad)."""
    low = Surface.checked((2, 1), ([0, 0, 0, 1, 1, 1], [0, 0, 1, 1]), np.zeros((3, 2, 3)))
    x, y = np.array([10.0, 10.0, 0.0]), np.array([0.0, 10.0, 10.0])
    ring = np.stack([x * np.cos(turned) - y * np.sin(turned), x * np.sin(turned) + y * np.cos(turned)], axis=1)
    points = np.stack([np.column_stack([ring, np.full(3, z)]) for z in (0.0, 20.0)], axis=1)
    return replace(low, points=points)


def face_on(surface: Surface, *bounds: float) -> TopoDS_Face:
    """bounds: first and last u, first and last v; nothing: all of it."""
    return BRepBuilderAPI_MakeFace(to_kernel_surface(surface), *bounds, 1e-7).Face()


@pytest.mark.parametrize(
    ("made", "whole"),
    [
        (face_on(side()), True),
        (face_on(side(), 0.0, 1.0, 0.0, 1.0), True),
        (face_on(side(), 0.0, 1.0, 0.0, 0.999), False),
        (face_on(side(), 0.1, 0.9, 0.1, 0.9), False),
        (face_on(side(0.001)), False),
        (face_on(side()).Reversed(), False),
        (BRepPrimAPI_MakeCylinder(10.0, 20.0).Face(), False),
    ],
    ids=["whole", "by its sides", "a little short", "within", "another surface", "turned round", "no spline"],
)
def test_a_face_is_the_whole_of_a_surface_or_is_not(made: TopoDS_Shape, whole: bool) -> None:
    assert is_whole(TopoDS.Face(made), side()) is whole


def test_a_face_that_closes_on_itself_is_whole_and_one_cut_open_is_not() -> None:
    shell = body(at(0, shapes.circle(20)), at(30, shapes.circle(26))).shell
    solid = assemble(shell).shape
    own = next(face for face in faces_of_skin(shell) if face.surface is not None)
    bored = BRepAlgoAPI_Cut(solid, BRepPrimAPI_MakeBox(gp_Pnt(5, -2, 10), 20, 4, 4).Shape()).Shape()
    splines = [[face for face in faces_of(shape) if BRepAdaptor_Surface(face).GetType() == GeomAbs_BSplineSurface] for shape in (solid, bored)]
    assert [is_whole(face, own.surface) for face in splines[0]] == [True]
    assert [is_whole(face, own.surface) for face in splines[1]] == [False]
