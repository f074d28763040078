"""Lofts with rails: rails and sections are met, a network cut from a known surface gives it back, and what misses is told with its place."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import numpy.typing as npt
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import KDTree

from tests.closeness import assert_close
from tests.core.placed import at, tip
from wander.core.drawing.outlines import shapes
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.law import linear
from wander.core.geometry.space import SplineSpace
from wander.core.shaping.edges import edges
from wander.core.shaping.ends import EndKind, EndShape
from wander.core.shaping.laws import Laws
from wander.core.shaping.loft import Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.meeting import MOST_LEVEL, Missed, crossings, planes_of
from wander.core.shaping.panels import Crossed
from wander.core.shaping.section import PlacedSection
from wander.core.solids.assemble import assemble

Row = npt.NDArray[np.float64]


def made(sections: list[PlacedSection], rails: list[Curve], **more) -> Lofted:
    return loft(sections, [f"section-{i}" for i in range(len(sections))], name="loft-9", rails=rails, **more)


def through(*points: tuple[float, float, float]) -> Curve:
    return open_through(np.array(points, dtype=float))


def profile(radius: Callable[[Row], Row], angle: float, low: float, high: float, count: int = 41) -> Curve:
    z = np.linspace(low, high, count)
    r = radius(z)
    return open_through(np.column_stack([r * np.cos(angle), r * np.sin(angle), z]))


def assert_met(body: Lofted, rails: list[Curve], sections: list[PlacedSection], within: float = 1e-3) -> None:
    """Every rail lies on the skin, and every section too: against the nearest of a fine grid, then slid to the surface by Newton."""
    for rail in rails:
        t = np.linspace(*rail.domain, 60)
        assert_close(distances(body, rail(t)), 0.0, within=within)
    for section in sections:
        if section.is_point:
            continue
        ring = section.in_space().curve(np.linspace(0.003, 0.997, 40))
        assert_close(distances(body, ring), 0.0, within=within)


def distances(body: Lofted, points: Row) -> Row:
    best = np.full(len(points), np.inf)
    for face in body.shell.faces:
        s = face.surface
        u, v = np.linspace(*s.u.domain, 161), np.linspace(*s.v.domain, 161)
        nearest = KDTree(s.grid(u, v).reshape(-1, 3)).query(points)[1]
        a, b = u[nearest // 161], v[nearest % 161]
        for _ in range(12):
            q, du, dv = s.at(a, b, [(0, 0), (1, 0), (0, 1)])
            step = (np.linalg.pinv(np.stack([du, dv], axis=2)) @ (points - q)[..., None])[..., 0]
            # a face that closes has no end round the body
            a = (a + step[:, 0]) % 1.0 if face.closed_u else np.clip(a + step[:, 0], *s.u.domain)
            b = np.clip(b + step[:, 1], *s.v.domain)
        best = np.minimum(best, np.linalg.norm(s.at(a, b, [(0, 0)])[0] - points, axis=1))
    return best


def belly(z: Row) -> Row:
    return 20 + 6 * np.sin(z / 14) + z / 20


@pytest.mark.parametrize("count", [1, 2, 3, 4, 6])
def test_rails_of_any_number_are_met(count: int) -> None:
    sections = [at(z, shapes.circle(2 * float(belly(np.array(z))))) for z in (0.0, 40.0, 100.0)]
    rails = [profile(belly, 2 * np.pi * k / count + 0.3, 0.0, 100.0) for k in range(count)]
    body = made(sections, rails)
    assert_met(body, rails, sections)
    assert assemble(body.shell).volume > 0


def test_a_network_from_a_known_surface_gives_it_back_and_a_finer_one_far_better() -> None:
    """A body of revolution: between the rails its radius is that of its profile."""
    off = []
    for count in (4, 8):
        heights = np.linspace(0, 100, count)
        sections = [at(float(z), shapes.circle(2 * float(belly(z)))) for z in heights]
        rails = [profile(belly, 2 * np.pi * k / count, 0.0, 100.0, 161) for k in range(count)]
        surface = made(sections, rails).shell.faces[0].surface
        points = surface.grid(np.linspace(0, 1, 90), np.linspace(*surface.v.domain, 90)).reshape(-1, 3)
        off.append(float(np.abs(np.linalg.norm(points[:, :2], axis=1) - belly(points[:, 2])).max()) / 100)
    assert off[0] < 1e-3
    assert off[1] < off[0] / 8 or off[1] < 1e-6


def test_a_wavy_tube_about_a_bent_line_comes_back() -> None:
    """Not a body of revolution: the radius goes with height and angle, and the middle wanders."""

    def true(angle: Row, z: Row) -> Row:
        radius = 20 + 4 * np.sin(z / 30) * np.cos(2 * angle)
        return np.stack([radius * np.cos(angle) + 5 * np.sin(z / 60), radius * np.sin(angle), z], axis=-1)

    def off(count: int) -> float:
        ring = np.linspace(0, 2 * np.pi, 48, endpoint=False)
        heights = np.linspace(0, 100, count)
        sections = [at(float(z), shapes.spline(true(ring, np.full(48, z))[:, :2])) for z in heights]
        rails = []
        for k in range(count):
            z = np.linspace(0, 100, 81)
            points = true(np.full(81, 2 * np.pi * k / count), z)
            rails.append(open_through(points))
        surface = made(sections, rails).shell.faces[0].surface
        points = surface.grid(np.linspace(0, 1, 60), np.linspace(*surface.v.domain, 60)).reshape(-1, 3)
        flat = points[:, :2] - np.column_stack([5 * np.sin(points[:, 2] / 60), np.zeros(len(points))])
        angle = np.arctan2(flat[:, 1], flat[:, 0])
        return float(np.abs(np.linalg.norm(flat, axis=1) - (20 + 4 * np.sin(points[:, 2] / 30) * np.cos(2 * angle))).max()) / 100

    coarse, fine = off(4), off(8)
    assert coarse < 5e-3
    assert fine < coarse / 4


def test_circle_to_slot_with_four_rails_along_its_middles() -> None:
    slot = shapes.slot(60.0, 24.0)
    sections = [at(0.0, shapes.circle(40.0)), at(80.0, slot)]
    rails = [
        through((20, 0, 0), (26, 0, 40), (30, 0, 80)),
        through((0, 20, 0), (0, 13, 40), (0, 12, 80)),
        through((-20, 0, 0), (-26, 0, 40), (-30, 0, 80)),
        through((0, -20, 0), (0, -13, 40), (0, -12, 80)),
    ]
    body = made(sections, rails)
    assert_met(body, rails, sections)
    assert not len(body.report.folds)
    plain = made(sections, [])
    assert mass_properties(body.shell).volume != pytest.approx(mass_properties(plain.shell).volume, rel=1e-3)


def test_rails_along_the_corners_of_a_square() -> None:
    sections = [at(0.0, shapes.rectangle(40.0, 40.0)), at(50.0, shapes.rectangle(30.0, 30.0)), at(90.0, shapes.rectangle(20.0, 20.0))]
    rails = [
        through(*[(sx * half, sy * half, z) for half, z in ((20, 0), (18, 25), (15, 50), (11, 70), (10, 90))]) for sx in (1, -1) for sy in (1, -1)
    ]
    body = made(sections, rails)
    assert len(body.shell.faces) == 4
    assert_met(body, rails, sections)


def test_a_point_with_rails_that_arrive_flat() -> None:
    sections = [at(0.0, shapes.circle(40.0)), tip(20.0)]
    rails = []
    for k in range(4):
        angle = np.pi / 2 * k
        t = np.linspace(0, np.pi / 2, 9)
        rails.append(open_through(np.column_stack([20 * np.cos(t) * np.cos(angle), 20 * np.cos(t) * np.sin(angle), 20 * np.sin(t)])))
    body = made(sections, rails)
    assert_met(body, rails, sections)
    assert_close(mass_properties(body.shell).volume, 2 / 3 * np.pi * 8000, within=0.02 * 16755)


def test_the_way_a_rail_is_drawn_does_not_matter() -> None:
    sections = [at(z, shapes.circle(2 * float(belly(np.array(z))))) for z in (0.0, 40.0, 100.0)]
    rails = [profile(belly, angle, 0.0, 100.0) for angle in (0.0, 2.0, 4.0)]
    back = [Curve(rail.space, rail.points[::-1].copy()) if k == 1 else rail for k, rail in enumerate(rails)]
    back[1] = open_through(rails[1](np.linspace(*rails[1].domain, 200))[::-1])
    one, other = (mass_properties(made(sections, some).shell).volume for some in (rails, [back[2], back[0], back[1]]))
    assert_close(one, other, within=1e-5 * one)


def test_a_kink_gives_a_crease() -> None:
    sections = [at(0.0, shapes.circle(40.0)), at(100.0, shapes.circle(40.0))]
    from wander.core.shaping.rails import Through, spline_through

    rails = [
        spline_through(
            [
                Through(np.array(p), sharp=i == 1)
                for i, p in enumerate(((20.0 * c, 20.0 * s, 0.0), (30.0 * c, 30.0 * s, 45.0), (20.0 * c, 20.0 * s, 100.0)))
            ]
        )
        for c, s in ((1, 0), (0, 1), (-1, 0), (0, -1))
    ]
    body = made(sections, rails)
    assert_met(body, rails, sections)
    # it is where two faces meet, each of them smooth, and the kernel takes them for one solid
    below, above = (face.surface for face in body.shell.faces)
    assert not any(count < 2 for surface in (below, above) for count in surface.v.continuity.values())
    ring = below.edge("v1")(np.linspace(0, 1, 41))
    assert_close(ring, above.edge("v0")(np.linspace(0, 1, 41)), within=0.0)
    assert_close(np.hypot(ring[::10, 0], ring[::10, 1]), np.full(5, 30.0), within=1e-3)
    crease = next(edge for edge in edges(body.shell) if {edge.left, edge.right} == {"loft-9/side^0", "loft-9/side^1"})
    assert not crease.smooth
    assert_close(assemble(body.shell).volume, mass_properties(body.shell).volume, within=1e-6, relative=True)


def test_a_kink_of_one_rail_parts_the_whole_girth_once() -> None:
    """At a section, where the skin may have a knot of its own, and where two rails bend at one height."""
    sections = [at(z, shapes.rectangle(40.0, 40.0)) for z in (0.0, 50.0, 100.0)]
    bent = [
        Curve(SplineSpace.from_breaks(1, np.array([0.0, 0.5, 1.0])), np.array([[s * 20, 0, 0], [s * 20, 0, 50], [s * 20, 0, 100.0]])) for s in (1, -1)
    ]
    assert len(made(sections, bent).shell.faces) == 4, "straight on is no kink"
    bent = [
        Curve(
            SplineSpace.from_breaks(1, np.array([0.0, 0.25, 0.5, 1.0])),
            np.array([[s * 20, 0, 0], [s * 26, 0, 25], [s * 20, 0, 50], [s * 20, 0, 100.0]]),
        )
        for s in (1, -1)
    ]
    body = made(sections, bent)
    assert_met(body, bent, sections)
    assert len(body.shell.faces) == 4 * 3
    assert len({face.name for face in body.shell.faces}) == 12
    assert_close(assemble(body.shell).volume, mass_properties(body.shell).volume, within=1e-6, relative=True)


def test_ends_and_laws_go_with_rails() -> None:
    """What is asked of an end holds but where a rail says otherwise; laws act on top, and turn a body of revolution into itself."""
    sections = [at(z, shapes.circle(2 * float(belly(np.array(z))))) for z in (0.0, 40.0, 100.0)]
    rails = [profile(belly, 2 * np.pi * k / 5, 0.0, 100.0) for k in range(5)]
    plain = mass_properties(made(sections, rails).shell).volume
    squared = made(sections, rails, ends=(EndShape(EndKind.SQUARE), EndShape(EndKind.ANGLE, 0.2)))
    assert_met(squared, rails, sections)
    turned = made(sections, rails, laws=Laws(twist=linear(0.0, 0.6)))
    assert_close(mass_properties(turned.shell).volume, plain, within=2e-4 * plain)
    assert_close(assemble(turned.shell).volume, mass_properties(turned.shell).volume, within=1e-6 * plain)


@pytest.mark.parametrize("foil", [0, 1, 2])
def test_a_blade_follows_rails_along_its_edges(foil: int) -> None:
    """The trailing edge is a corner, the leading one lies where the foil is round: each alone, then both."""
    sections = [at(z, shapes.foil(90.0 - 0.4 * z, 0.18, 0.02, 0.4)) for z in (0.0, 40.0, 90.0)]
    rails = []
    for share, out in ((0.0, 3.0), (0.5, -3.0)):
        ends = np.array([section.in_space().curve(np.array([share]))[0] for section in sections])
        rails.append(open_through(np.array([ends[0], (ends[0] + ends[1]) / 2 + [out, 0, 0], ends[1], ends[2]])))
    chosen = rails if foil == 2 else [rails[foil]]
    body = made(sections, chosen)
    assert_met(body, chosen, sections)
    assert_close(assemble(body.shell).volume, mass_properties(body.shell).volume, within=1e-6 * 6e4)


def test_a_rail_takes_its_place_of_every_section_along() -> None:
    """It lies between two corners of the square, and where one of them would meet the circle: the corners make room."""
    sections = [at(0.0, shapes.rectangle(40.0, 40.0)), at(60.0, shapes.circle(40.0))]
    half = 20 / np.sqrt(2)
    rail = through((20, 5, 0), (20, 18, 30), (half, half, 60))
    body = made(sections, [rail])
    assert_met(body, [rail], sections)
    assert len(body.shell.faces) == 4


@pytest.mark.parametrize("miss", [0.4, 2e-3])
def test_a_miss_is_told_with_its_place(miss: float) -> None:
    sections = [at(z, shapes.circle(40.0)) for z in (0.0, 50.0, 100.0)]
    with pytest.raises(Missed) as told:
        made(sections, [through((20, 0, 0), (20 + miss, 0, 50), (20, 0, 100))])
    assert (told.value.rail, told.value.section, told.value.short) == (0, 1, False)
    assert_close(told.value.meeting.miss, miss, within=1e-6)
    assert_close(told.value.meeting.on, np.array([20.0, 0.0, 50.0]), within=1e-6)


def test_a_rail_that_stops_part_way_is_refused() -> None:
    sections = [at(z, shapes.circle(40.0)) for z in (0.0, 50.0, 100.0)]
    with pytest.raises(Missed) as told:
        made(sections, [through((20, 0, 0), (20, 0, 30), (20, 0, 70))])
    assert told.value.section == 2
    assert told.value.short
    with pytest.raises(Crossed):
        made(sections, [profile(lambda z: 20 + 0 * z, 0.5, 0, 100)] * 2)


@pytest.mark.parametrize("spans", [1, 20])
def test_a_rail_that_lies_in_the_plane_of_a_section_for_a_while_meets_it_where_it_leaves(spans: int) -> None:
    sections = [at(z, shapes.circle(40.0)) for z in (0.0, 50.0, 100.0)]
    corners = [*((60 - 40 * k / spans, 0.0, 0.0) for k in range(spans)), (20.0, 0.0, 0.0), (20.0, 0.0, 100.0)]
    rail = Curve(SplineSpace.from_breaks(1, np.linspace(0, 1, len(corners))), np.array(corners, dtype=float))
    _, planes, t, _ = crossings([rail], *planes_of(sections))
    assert np.count_nonzero(planes == 0) <= 2 * MOST_LEVEL + spans
    assert np.abs(t[planes == 0] - spans / (spans + 1)).min() < 1e-12
    assert_close(mass_properties(made(sections, [rail]).shell).volume, np.pi * 400 * 100, within=1e-6, relative=True)


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 10**6))
def test_random_networks_are_met_or_refused(seed: int) -> None:
    chance = np.random.default_rng(seed)
    count, rails_count = int(chance.integers(2, 6)), int(chance.integers(1, 7))
    heights = np.cumsum(chance.uniform(15, 50, count))
    kinds = [
        lambda: shapes.circle(chance.uniform(20, 60)),
        lambda: shapes.ellipse(chance.uniform(20, 60), chance.uniform(20, 60)),
        lambda: shapes.rounded_rectangle(chance.uniform(30, 60), chance.uniform(30, 60), 6.0),
    ]
    outlines = [kinds[int(chance.integers(0, 3))]() for _ in range(count)]
    sections = [at(float(z), outline) for z, outline in zip(heights, outlines, strict=True)]
    rails = []
    for k in range(rails_count):
        angle = 2 * np.pi * (k + chance.uniform(-0.2, 0.2)) / rails_count
        points = []
        for z, outline in zip(heights, outlines, strict=True):
            far = 200 * np.array([np.cos(angle), np.sin(angle)])
            ring = outline.curve(np.linspace(0, 1, 2001))
            turned = np.arctan2(ring[:, 1], ring[:, 0])
            on = outline.curve(
                closest_parameters(outline.curve, ring[[int(np.abs(np.exp(1j * turned) - np.exp(1j * np.arctan2(far[1], far[0]))).argmin())]])
            )[0]
            points.append((on[0], on[1], z))
        if count > 1:
            middle = np.mean(points[:2], axis=0) * [chance.uniform(0.9, 1.15), chance.uniform(0.9, 1.15), 1]
            points.insert(1, tuple(middle))
        rails.append(open_through(np.array(points)))
    try:
        body = made(sections, rails)
    except BadInput:
        return
    for rail in rails:
        assert_close(distances(body, rail(np.linspace(*rail.domain, 15))), 0.0, within=1e-3)
