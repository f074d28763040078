"""Fillets and chamfers against closed forms, and what is said of those that don't go."""

from __future__ import annotations

from math import pi, tan

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.GeomLProp import GeomLProp_CLProps

from tests.closeness import assert_close
from tests.core.placed import at
from tests.soak import times
from wander.core.bodies.blend_runs import blend_run
from wander.core.bodies.blending import Blend, Fades, NotBlended, NothingMeant
from wander.core.bodies.body import Body, mesh_of, moved, of_shells
from wander.core.bodies.combining import How
from wander.core.bodies.measures import of_mesh
from wander.core.drawing.outlines import shapes
from wander.core.geometry.basis import Floats
from wander.core.geometry.law import Law, constant, linear, through
from wander.core.geometry.motions import turn_about
from wander.core.geometry.tolerances import DEFAULT
from wander.core.shaping.loft import Between, loft
from wander.core.solids.assemble import faces_of
from wander.core.solids.blending import chamfered, filleted
from wander.core.solids.combine import combine
from wander.core.solids.errors import KernelError
from wander.core.solids.named import shape_of


def made(*sections, name: str = "loft-9", **more) -> Body:
    return of_shells((loft(list(sections), [f"section-{i}" for i in range(len(sections))], name=name, **more).shell,))


def box(side: float = 20.0) -> Body:
    return made(at(0.0, shapes.rectangle(side, side)), at(side, shapes.rectangle(side, side)))


def rod(diameter: float, high: float, low: float = 0.0, name: str = "loft-9") -> Body:
    return made(at(low, shapes.circle(diameter)), at(high, shapes.circle(diameter)), name=name)


def upright(body: Body) -> str:
    """An edge between two sides."""
    return next(edge.name for edge in body.edges if "end:" not in edge.name)


def rim(body: Body, end: str = "section-1") -> str:
    return next(edge.name for edge in body.edges if f"end:{end}" in edge.name)


def all_of(among: str, size: float) -> Blend:
    return Blend((), constant(size), among)  # type: ignore[arg-type]


@pytest.mark.parametrize("radius", [0.05, 2.0, 19.0])
def test_one_edge_of_a_cube(radius: float) -> None:
    body = box()
    found = filleted(body, [Blend((upright(body),), constant(radius))], "fillet-3")
    assert_close(found.measures.volume, 8000 - (1 - pi / 4) * radius**2 * 20, within=1e-6 * 8000)
    assert "fillet-3/along(" in "".join(face.name for face in found.faces)


def test_all_edges_of_a_cube_and_a_corner_at_each_end() -> None:
    r, inner = 3.0, 14.0
    found = filleted(box(), [all_of("outer", r)], "fillet-3")
    expected = inner**3 + 6 * inner**2 * r + 12 * inner * pi * r * r / 4 + 4 / 3 * pi * r**3
    assert_close(found.measures.volume, expected, within=1e-6 * expected)
    assert_close(found.measures.area, 6 * inner**2 + 12 * inner * pi * r / 2 + 4 * pi * r * r, within=1e-5 * 2400)
    names = [face.name for face in found.faces]
    assert len(set(names)) == 26
    assert not any("of" in name.partition("~")[2] for name in names), "every corner is told by the edges that it ends"


def test_the_rim_of_a_cylinder_and_where_one_stands_on_a_plate() -> None:
    """By the theorem of Pappus: the square in the corner less the quarter disc."""
    big, r = 10.0, 2.0
    outside = 2 * pi * (r * r * (big - r / 2) - pi * r * r / 4 * (big - r + 4 * r / (3 * pi)))
    body = rod(2 * big, 20.0)
    assert_close(
        filleted(body, [Blend((rim(body),), constant(r))], "fillet-3").measures.volume, pi * big**2 * 20 - outside, within=1e-6 * pi * big**2 * 20
    )
    plate = made(at(-5.0, shapes.rectangle(40.0, 40.0)), at(0.0, shapes.rectangle(40.0, 40.0)), name="extrude-2")
    standing = combine(How.JOIN, plate, [rod(2 * big, 20.0, low=-1.0)])
    inside = 2 * pi * (r * r * (big + r / 2) - pi * r * r / 4 * (big + r - 4 * r / (3 * pi)))
    for among in ("inner", "meeting"):
        found = filleted(standing, [all_of(among, r)], "fillet-3")
        assert_close(found.measures.volume, standing.measures.volume + inside, within=1e-6 * standing.measures.volume)


LYING = np.array([[0.0, 0.0, 1.0], [0.0, 1.0, 0.0], [-1.0, 0.0, 0.0]])


@pytest.mark.parametrize("turn", [0.0, 0.8])
def test_where_two_cylinders_meet_at_right_angles(turn: float) -> None:
    """Against the volume that a ball leaves in the corner, by quadrature; wherever the seams of the cylinders lie."""
    about = np.array([[np.cos(turn), -np.sin(turn), 0.0], [np.sin(turn), np.cos(turn), 0.0], [0.0, 0.0, 1.0]])
    across = moved(rod(12.0, 30.0, low=-30.0, name="loft-8"), about, np.zeros(3))
    joined = combine(How.JOIN, across, [moved(moved(rod(8.0, 30.0), about, np.zeros(3)), LYING, np.zeros(3))])
    found = filleted(joined, [all_of("meeting", 1.0)], "fillet-3")
    assert_close(found.measures.volume, joined.measures.volume + left_by_a_ball(6.0, 4.0, 1.0), within=1e-6 * joined.measures.volume)


def left_by_a_ball(large: float, small: float, radius: float, places: int = 400) -> float:
    """What a ball leaves that rolls in the corner where a lying cylinder (small, along x) comes out of an upright one (large, along z).

    Its middle goes along the curve that is as far from both. Square to that curve lies the corner, between the two places that the ball touches:
    along rays from its middle, from its own skin to the first of the cylinders.
    """
    t = 2 * pi * np.arange(places) / places

    def middle(at: np.ndarray) -> np.ndarray:
        y, z = (small + radius) * np.cos(at), (small + radius) * np.sin(at)
        return np.column_stack([np.sqrt((large + radius) ** 2 - y * y), y, z])

    h = 1e-4
    m, before, after = middle(t), middle(t - h), middle(t + h)
    speed, change = (after - before) / (2 * h), (after - 2 * m + before) / h**2
    pace = np.linalg.norm(speed, axis=1)
    way = speed / pace[:, None]
    bend = (change - np.sum(change * way, axis=1)[:, None] * way) / pace[:, None] ** 2
    to_small = -np.column_stack([0 * t, m[:, 1], m[:, 2]]) / (small + radius)
    to_large = -np.column_stack([m[:, 0], m[:, 1], 0 * t]) / (large + radius)
    whole = np.arccos(np.sum(to_small * to_large, axis=1))
    beside = (to_large - np.cos(whole)[:, None] * to_small) / np.sin(whole)[:, None]

    def ray(turned: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Directions, and how far it is to both cylinders."""
        d = np.cos(turned)[:, None] * to_small + np.sin(turned)[:, None] * beside
        return d, hit(m[:, 1:], d[:, 1:], small), hit(m[:, :2], d[:, :2], large)

    low, high = 0 * whole, whole.copy()
    for _ in range(60):
        half = (low + high) / 2
        _, one, other = ray(half)
        low, high = np.where(one < other, half, low), np.where(one < other, high, half)
    nodes, weights = np.polynomial.legendre.leggauss(24)
    total = np.zeros(places)
    for start, end in ((0 * low, low), (low, whole)):
        for node, weight in zip(nodes, weights, strict=True):
            d, one, other = ray(start + (end - start) * (node + 1) / 2)
            to = np.minimum(one, other)
            inward = np.sum(bend * d, axis=1)
            total += weight * (end - start) / 2 * ((to**2 - radius**2) / 2 - inward * (to**3 - radius**3) / 3)
    return float((total * pace).sum() * 2 * pi / places)


def hit(at: np.ndarray, way: np.ndarray, radius: float) -> np.ndarray:
    """How far it is from places (m, 2) along ways (m, 2) to the circle about the middle; far where it is missed."""
    a, b, c = (way**2).sum(axis=1), (at * way).sum(axis=1), (at**2).sum(axis=1) - radius**2
    under = b * b - a * c
    return np.where(under > 0, (-b - np.sqrt(np.maximum(under, 0.0))) / a, 1e9)


def test_a_radius_that_varies_is_the_one_that_was_asked_for() -> None:
    """By the kernel's own curvature of the face, at places along a straight edge and round a rim: at the end that the run of the edge says."""
    body, round_ = box(), rod(40.0, 20.0)
    for law in (linear(1.0, 4.0), through([(0.0, 1.0, False), (0.4, 3.0, False), (1.0, 1.5, False)])):
        # one along, one across, one up; in the long version all of them
        ways = {int(np.ptp(edge.curve.points, axis=0).argmax()): edge for edge in body.edges}
        for edge in times(list(ways.values()), list(body.edges)):
            holds_along(body, edge.name, law)
    for law in (
        through([(0.0, 2.0, False), (0.5, 5.0, False), (1.0, 2.0, False)]),
        through([(0.0, 2.0, False), (0.3, 5.0, False), (1.0, 2.0, False)]),
    ):
        holds_along(round_, rim(round_), law)


@given(angle=st.floats(-pi, pi), x=st.floats(-50, 50), mirrored=st.booleans())
def test_which_end_is_the_first_goes_with_the_body(angle: float, x: float, mirrored: bool) -> None:
    """A body that was moved, or mirrored, has its small end where the motion takes it, but that a mirror image is gone along the other way."""
    motion = turn_about(np.array([x, 3.0, -2.0]), np.array([1.0, 2.0, 3.0]), angle)
    matrix = motion.matrix @ np.diag([-1.0 if mirrored else 1.0, 1.0, 1.0])
    for body, name in ((box(), box().edges[0].name), (rod(40.0, 20.0), rim(rod(40.0, 20.0)))):
        there = moved(body, matrix, motion.origin)
        before, after = (blend_run(each, next(edge for edge in each.edges if edge.name == name), DEFAULT) for each in (body, there))
        image = before.places @ matrix.T + motion.origin
        assert_close(after.places, image[::-1] if mirrored else image, within=1e-6)
        into = before.inwards @ matrix.T
        if not mirrored:
            assert_close(after.inwards, into, within=1e-6)
        assert_close(after.reach, 1.0, within=1e-6)


def holds_along(body: Body, name: str, law: Law) -> None:
    """Where a place of the new face belongs on the run is read off the edge that was there, by a search of our own."""
    found = filleted(body, [Blend((name,), law)], "fillet-3")
    curve = next(edge.curve for edge in body.edges if edge.name == name)
    run = blend_run(body, next(edge for edge in body.edges if edge.name == name), DEFAULT)
    _, dense = curve.sampled(2000)
    forwards = np.linalg.norm(dense[1] - run.places[1]) < np.linalg.norm(dense[1] - run.places[-2])
    dense = dense if forwards else dense[::-1]
    steps = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(dense, axis=0), axis=1))])
    for place, radius in measured(found):
        share = steps[np.linalg.norm(dense - place, axis=1).argmin()] / steps[-1]
        assert abs(radius / law(np.array([share]))[0] - 1) < 0.01


def measured(body: Body) -> list[tuple[Floats, float]]:
    """The radius of the face along an edge in planes square to that edge, by the curvature of its lines there; and where it is."""
    shape = shape_of(body)
    face = next(f for f, name in zip(faces_of(shape.shape), shape.names, strict=True) if "/along(" in name)
    surface = BRepAdaptor_Surface(face)
    found = []
    for v in np.linspace(surface.FirstVParameter(), surface.LastVParameter(), 25)[1:-1]:
        across = GeomLProp_CLProps(BRep_Tool.Surface_s(face).VIso(float(v)), 2, 1e-9)
        for u in np.linspace(surface.FirstUParameter(), surface.LastUParameter(), 7):
            across.SetParameter(float(u))
            found.append((np.array(across.Value().Coord()), 1 / across.Curvature()))
    return found


def test_chamfers() -> None:
    body = box()
    edge = body.edges[0]
    first = edge.left
    cases = [
        (Blend((edge.name,), constant(2.0)), 2.0 * 2.0 / 2),
        (Blend((edge.name,), constant(2.0), other=5.0, faces=(first,)), 2.0 * 5.0 / 2),
        (Blend((edge.name,), constant(2.0), angle=pi / 6, faces=(first,)), 2.0 * 2.0 * tan(pi / 6) / 2),
    ]
    for blend, area in cases:
        found = chamfered(body, [blend], "chamfer-3")
        assert_close(found.measures.volume, 8000 - area * 20, within=1e-6 * 8000)
    # the first face is the one that loses the first distance
    two = chamfered(body, [cases[1][0]], "chamfer-3")
    lost = {name: area_of(body, name) - area_of(two, name) for name in (edge.left, edge.right)}
    assert_close(lost[first], 2.0 * 20, within=1e-3)
    assert_close(lost[edge.right], 5.0 * 20, within=1e-3)
    big = rod(20.0, 20.0)
    cone = chamfered(big, [Blend((rim(big),), constant(3.0))], "chamfer-3")
    assert_close(cone.measures.volume, pi * 100 * 17 + pi * 3 * (100 + 70 + 49) / 3, within=1e-6 * pi * 2000)


def area_of(body: Body, name: str) -> float:
    mesh = mesh_of(body, 0.01)
    which = mesh.face_names.index(name)
    a, b, c = (mesh.positions[mesh.triangles[mesh.face_of[mesh.triangles[:, 0]] == which][:, k]] for k in range(3))
    return float(np.linalg.norm(np.cross(b - a, c - a), axis=1).sum() / 2)


def test_several_sets_and_what_goes_on_smoothly() -> None:
    slot = made(at(0.0, shapes.slot(40.0, 20.0)), at(15.0, shapes.slot(40.0, 20.0)))
    found = filleted(slot, [Blend((rim(slot),), constant(2.0)), Blend((rim(slot, "section-0"),), constant(1.0))], "fillet-3")

    def taken(r: float) -> float:
        return (1 - pi / 4) * r * r * 40 + 2 * pi * (r * r * (10 - r / 2) - pi * r * r / 4 * (10 - r + 4 * r / (3 * pi)))

    expected = slot.measures.volume - taken(2.0) - taken(1.0)
    assert_close(found.measures.volume, expected, within=1e-6 * expected)


def test_what_does_not_go_is_told_with_its_edge_and_with_what_would() -> None:
    body = box()
    edge = upright(body)
    with pytest.raises(NotBlended) as told:
        filleted(body, [Blend((edge,), constant(21.0))], "fillet-3")
    assert told.value.edge == edge
    assert told.value.fits is not None
    assert 15 < told.value.fits < 20.01
    with pytest.raises(NotBlended) as together:
        filleted(body, [all_of("outer", 12.0)], "fillet-3")
    assert together.value.fits is not None
    assert 5 < together.value.fits < 10.01
    with pytest.raises(NothingMeant):
        filleted(body, [all_of("inner", 1.0)], "fillet-3")


def test_an_edge_that_fades_out_is_told_before_the_kernel_is_asked() -> None:
    """From a square to a circle, its corners run out into nothing at the top."""
    body = made(at(0.0, shapes.rectangle(30.0, 30.0)), at(60.0, shapes.circle(30.0)))
    with pytest.raises(Fades) as told:
        filleted(body, [Blend((upright(body),), constant(2.0))], "fillet-3")
    assert told.value.at[2] > 50
    assert_close(np.hypot(*told.value.at[:2]), 15.0, within=1.0)


@settings(max_examples=times(8, 200), deadline=None)
@given(
    st.sampled_from(["rectangle", "slot", "hexagon", "rounded"]),
    st.floats(0.3, 1.6),
    st.floats(10.0, 60.0),
    st.tuples(st.floats(0.2, 12.0), st.floats(0.2, 6.0)),
    st.sampled_from(["outer", "end", "upright", "some", "cut off", "changing"]),
    st.sets(st.integers(0, 17), min_size=1, max_size=6),
)
def test_random_bodies_are_blended_or_the_reason_is_told(
    kind: str, taper: float, high: float, sizes: tuple[float, float], which: str, picked: set[int]
) -> None:
    """A body that holds less than before and as much as its mesh, or a word with the edge; never anything else."""
    outline = {
        "rectangle": shapes.rectangle(30.0, 20.0),
        "slot": shapes.slot(40.0, 18.0),
        "hexagon": shapes.polygon(6, 30.0),
        "rounded": shapes.rounded_rectangle(30.0, 24.0, 5.0),
    }[kind]
    body = made(at(0.0, outline), at(high, outline.transformed(np.eye(2) * taper, np.zeros(2))), between=Between.STRAIGHT)
    all_sharp = [edge.name for edge in body.edges if not edge.smooth]
    upright_ones = [name for name in all_sharp if "end:" not in name]
    some = [name for k, name in enumerate(all_sharp) if k in {p % len(all_sharp) for p in picked}]
    size, second = sizes
    match which:
        case "outer":
            blends = [all_of("outer", size)]
        case "upright" if upright_ones:
            blends = [Blend(tuple(upright_ones[:1]), constant(size))]
        case "some" | "cut off":
            # two sets with sizes of their own
            half = (len(some) + 1) // 2
            blends = [Blend(tuple(part), constant(r)) for part, r in ((some[:half], size), (some[half:], second)) if part]
        case "changing":
            blends = [Blend(tuple(some[:1]), linear(size, second))]
        case _:
            blends = [Blend((rim(body),), constant(size))]
    told: NotBlended | KernelError | None = None
    found = body
    try:
        found = chamfered(body, blends, "chamfer-3") if which == "cut off" else filleted(body, blends, "fillet-3")
    except (NotBlended, KernelError) as error:
        told = error
    if told is not None:
        assert str(told)
        if isinstance(told, NotBlended):
            assert told.edge in {edge.name for edge in body.edges}
            assert told.fits is None or 0 < told.fits < max(sizes)
        return
    assert found.measures.volume < body.measures.volume
    meshed = of_mesh(mesh_of(found, 0.05))
    assert_close(meshed.volume, found.measures.volume, within=0.05 * found.measures.area)
    assert found.measures.pieces == 1
