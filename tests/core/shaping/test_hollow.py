"""Lofts of rings: bodies with holes from end to end, against closed forms, the kernel, and the same body made as a difference of two."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from math import cos, pi, radians, sin
from typing import Any

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import TOP
from tests.core.shaping.test_extrusion_and_revolution import assert_body, beside
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.area import Area
from wander.core.drawing.outlines.loop import Loop, Span
from wander.core.geometry.curve import Curve
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.law import linear
from wander.core.shaping.display import display_mesh
from wander.core.shaping.edges import edges
from wander.core.shaping.hollow import holes_along, hollowed
from wander.core.shaping.laws import Laws
from wander.core.shaping.loft import Between, Inside, Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.rails import Through, spline_through
from wander.core.shaping.section import PlacedSection
from wander.core.solids.assemble import assemble


def ring(outer: Loop, *holes: Loop) -> Area:
    """Every curve and corner is called something else, as in a drawing."""
    first, *rest = (drawn(loop, 20 * k) for k, loop in enumerate((outer, *holes)))
    return Area(first, tuple(hole.reversed() for hole in rest))


def drawn(loop: Loop, number: int) -> Loop:
    return replace(loop, spans=tuple(Span(span.at, f"c{number + i}", f"p{number + i}") for i, span in enumerate(loop.spans, start=1)))


def parts(areas: list[tuple[float, Area]], rails: Sequence[Curve] = (), **more: Any) -> tuple[Lofted, list[Lofted]]:
    """The skin round the outside, and those of the holes."""
    names = [f"section-{i + 1}" for i in range(len(areas))]

    def through(loops: list[Loop], rails: Sequence[Curve] = (), inside: Inside | None = None) -> Lofted:
        placed = [PlacedSection(TOP.moved(z), loop) for (z, _), loop in zip(areas, loops, strict=True)]
        return loft(placed, names, name="loft-9", rails=rails, inside=inside, **more)

    outer = through([area.outer for _, area in areas], rails)
    inside = Inside([PlacedSection(TOP.moved(z), area.outer) for z, area in areas], outer.plain.places, outer.plain.lines, outer.plain.led)
    return outer, [through(track, inside=inside) for track in holes_along([area for _, area in areas])]


def tube(*areas: tuple[float, Area], rails: Sequence[Curve] = (), **more: Any) -> Lofted:
    outer, holes = parts(list(areas), rails, **more)
    return hollowed(outer, holes)


def cone(first: float, last: float, height: float) -> float:
    return pi * height * (first**2 + first * last + last**2) / 12


def test_a_pipe_that_grows() -> None:
    made = tube((0, ring(shapes.circle(40), shapes.circle(30))), (60, ring(shapes.circle(30), shapes.circle(10))))
    assert_body([made.shell], cone(40, 30, 60) - cone(30, 10, 60), faces=4)
    assert_close(
        mass_properties(made.shell).area,
        mass_properties(tube((0, ring(shapes.circle(40), shapes.circle(30))), (60, ring(shapes.circle(30), shapes.circle(10)))).shell).area,
        within=1e-9,
    )


def test_a_box_with_two_holes_goes_from_hole_to_hole() -> None:
    """The holes of the second section are written the other way round."""
    left, right = beside(shapes.rectangle(6, 10), -12), beside(shapes.circle(8), 12)
    box = shapes.rectangle(50, 30)
    made = tube((0, ring(box, left, right)), (20, ring(box, right, left)), (50, ring(box, left, right)), between=Between.STRAIGHT)
    assert_body([made.shell], 50 * (50 * 30 - 60 - pi * 16), faces=2 * 4 + 2 * 4 + 2 + 2)
    assert len({*made.shell.names}) == len(made.shell.names)


@pytest.mark.parametrize("between", list(Between))
def test_a_hole_beside_the_centre_turns_with_the_body(between: Between) -> None:
    area = ring(shapes.rectangle(40, 40), beside(shapes.circle(8), 10))
    laws = Laws(twist=linear(0.0, radians(60)))
    outer, holes = parts([(0, area), (80, area)], laws=laws, between=between)
    made = hollowed(outer, holes)
    assert_close(mass_properties(made.shell).volume, 80 * (1600 - pi * 16), within=1e-4 * 80 * 1600)
    for share in (0.0, 0.25, 0.5, 0.9):
        low, high = holes[0].shell.faces[0].surface.v.domain
        across = holes[0].shell.faces[0].surface.grid(np.arange(64) / 64, np.array([low + share * (high - low)]))[:, 0]
        turn = radians(60 * share)
        assert_close(across[:, 2], 80 * share, within=1e-6)
        assert_close(across.mean(axis=0)[:2], (10 * cos(turn), 10 * sin(turn)), within=2e-2)
    assert assemble(made.shell).volume > 0


@given(seed=st.integers(0, 10**6), holes=st.integers(1, 3), count=st.integers(2, 4), between=st.sampled_from(list(Between)))
@settings(max_examples=25, deadline=None)
def test_it_is_the_outside_less_the_holes(seed: int, holes: int, count: int, between: Between) -> None:
    """What the skins enclose together is what the outer one does less what those of the holes do; the mesh is closed; every edge has one name."""
    rng = np.random.default_rng(seed)
    kinds = [shapes.circle, lambda d: shapes.rectangle(d, d), lambda d: shapes.polygon(5, d), lambda d: shapes.rounded_rectangle(d, d, d / 5)]
    areas = []
    for i in range(count):
        order = rng.permutation(holes)
        places = [beside(kinds[rng.integers(4)](float(rng.uniform(5, 8))), 13 * cos(2 * pi * k / 3), 13 * sin(2 * pi * k / 3)) for k in order]
        areas.append((25.0 * i, ring(kinds[rng.integers(4)](float(rng.uniform(55, 60))), *places)))
    outer, inner = parts(areas, between=between)
    made = hollowed(outer, inner)
    wanted = mass_properties(outer.shell).volume - sum(mass_properties(hole.shell).volume for hole in inner)
    assert_close(mass_properties(made.shell).volume, wanted, within=1e-9 * wanted)
    mesh = display_mesh(made.shell, 0.1)
    solid = trimesh.Trimesh(mesh.positions, mesh.triangles)
    assert solid.is_watertight
    assert solid.is_winding_consistent
    assert_close(solid.volume, wanted, within=1e-2 * wanted)
    names = [edge.name for edge in edges(made.shell)]
    assert len(names) == len(set(names))


def test_the_kernel_makes_one_solid_of_it() -> None:
    area = ring(
        shapes.spline(np.array([(30, 0), (10, 22), (-24, 14), (-28, -12), (6, -20)])),
        beside(shapes.slot(14, 6), 4),
        beside(shapes.polygon(3, 9), -14),
    )
    made = tube((0, area), (30, area), (70, area))
    solid = assemble(made.shell)
    assert_close(solid.volume, mass_properties(made.shell).volume, within=1e-6 * solid.volume)
    assert sorted(solid.names) == sorted(made.shell.names)


def test_holes_that_lie_alike_belong_together() -> None:
    one = ring(shapes.circle(60), beside(shapes.circle(6), 15), beside(shapes.circle(6), -15), beside(shapes.circle(12), 0))
    other = ring(shapes.circle(60), beside(shapes.circle(10), 2), beside(shapes.circle(7), 13), beside(shapes.circle(5), -16))
    tracks = holes_along([one, other])
    assert [round(float(track[1].centroid[0])) for track in tracks] == [13, -16, 2]
    assert all(loop.area > 0 for track in tracks for loop in track)


def rail(angle: float, radius: float, bow: Sequence[float], *, kinked: bool = False) -> Curve:
    """From the outline at 0 to that at 60, so far off (mm, x and y) halfway."""
    if kinked:
        ends = [Through(np.array([radius * cos(angle), radius * sin(angle), z])) for z in (0.0, 60.0)]
        return spline_through([ends[0], Through(np.array([radius * cos(angle) + bow[0], radius * sin(angle) + bow[1], 30.0]), sharp=True), ends[1]])
    z = np.linspace(0, 60, 31)
    share = np.sin(pi * z / 60)
    return open_through(np.column_stack([radius * cos(angle) + share * bow[0], radius * sin(angle) + share * bow[1], z]))


def slices(body: Lofted, z: float) -> np.ndarray:
    """Places (n, 2) of a skin at a height of it."""
    found = []
    for face in body.shell.faces:
        grid = face.surface.grid(np.linspace(*face.surface.u.domain, 48), np.linspace(*face.surface.v.domain, 241))
        for column in grid:
            if column[0, 2] <= z <= column[-1, 2]:
                found.append([np.interp(z, column[:, 2], column[:, c]) for c in (0, 1)])
    return np.array(found)


QUARTERS = np.arange(4) * pi / 2


def test_rails_that_all_move_alike_take_the_hole_along() -> None:
    area = ring(shapes.circle(40), shapes.circle(16))
    outer, (hole,) = parts([(0, area), (60, area)], [rail(angle, 20, (5, -3)) for angle in QUARTERS])
    for z, share in ((30.0, 1.0), (12.0, sin(pi / 5))):
        for body, radius in ((outer, 20), (hole, 8)):
            assert_close(np.linalg.norm(slices(body, z) - share * np.array([5, -3]), axis=1), radius, within=6e-3)


def test_sections_that_rails_scale_have_their_hole_scaled() -> None:
    area = ring(shapes.circle(40), beside(shapes.circle(12), 6, 5))
    outer, (hole,) = parts([(0, area), (60, area)], [rail(0, 20, (8, 0)), rail(pi, 20, (-8, 0))], whole=True)
    assert_close(np.linalg.norm(slices(outer, 30), axis=1), 28, within=6e-3)
    assert_close(np.linalg.norm(slices(hole, 30) - 1.4 * np.array([6, 5]), axis=1), 1.4 * 6, within=6e-3)


def test_rails_that_stretch_a_section_stretch_its_hole() -> None:
    """Drawn apart to both sides, and let be above and below: what stretches is an ellipse to the first order, of the hole as of the outline."""
    area = ring(shapes.circle(40), shapes.circle(16))
    bows = {0: (4, 0), 1: (0, 0), 2: (-4, 0), 3: (0, 0)}
    outer, (hole,) = parts([(0, area), (60, area)], [rail(angle, 20, bows[k]) for k, angle in enumerate(QUARTERS)])
    wide, high = np.ptp(slices(outer, 30), axis=0) / 40
    inner_wide, inner_high = np.ptp(slices(hole, 30), axis=0) / 16
    assert_close(wide, 1.2, within=3e-3)
    assert inner_wide == pytest.approx(1.2, abs=0.03)
    assert inner_high == pytest.approx(high, abs=0.03)
    assert wide > inner_high


def test_a_kink_of_a_rail_bends_the_hole_too_and_the_kernel_makes_one_solid_of_it() -> None:
    area = ring(shapes.circle(40), shapes.circle(16))
    rails = [rail(angle, 20, (6, 0), kinked=True) for angle in QUARTERS]
    outer, (hole,) = parts([(0, area), (60, area)], rails)
    below, above = (face.surface for face in hole.shell.faces)
    assert not any(count < 2 for surface in (below, above) for count in surface.v.continuity.values())
    assert_close(below.edge("v1")(np.linspace(0, 1, 41)), above.edge("v0")(np.linspace(0, 1, 41)), within=0.0)
    body = hollowed(outer, [hole])
    # every slice is a ring of the same size, moved: Cavalieri
    assert_close(mass_properties(body.shell).volume, pi * (400 - 64) * 60, within=1e-4, relative=True)
    assert_close(assemble(body.shell).volume, mass_properties(body.shell).volume, within=1e-6, relative=True)


@settings(max_examples=15, deadline=None)
@given(seed=st.integers(0, 10**6), count=st.integers(1, 5), whole=st.booleans())
def test_sections_keep_their_holes_whatever_the_rails_ask(seed: int, count: int, whole: bool) -> None:
    rng = np.random.default_rng(seed)
    middle = tuple(rng.uniform(-6, 6, 2))
    area = ring(shapes.circle(40), beside(shapes.circle(10), *middle))
    turns = 2 * pi * (np.arange(count) + rng.uniform(-0.2, 0.2, count)) / count
    outer, (hole,) = parts([(0, area), (60, area)], [rail(angle, 20, rng.uniform(-4, 4, 2)) for angle in turns], whole=whole)
    for z in (0.0, 60.0):
        assert_close(np.linalg.norm(slices(hole, z) - middle, axis=1), 5, within=1e-7)
        assert_close(np.linalg.norm(slices(outer, z), axis=1), 20, within=1e-5)
    # what lies inside stays inside, and its skin goes on smoothly
    body = hollowed(outer, [hole])
    assert 0 < mass_properties(body.shell).volume < mass_properties(outer.shell).volume
