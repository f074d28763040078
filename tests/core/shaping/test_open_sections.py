"""Sheets through open sections: closed forms, and the same sheet whichever end its sections are drawn from."""

from __future__ import annotations

from itertools import pairwise
from math import cos, pi, sin

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.placed import at
from tests.core.shaping.test_guiding import through
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.outline import Stretch
from wander.core.drawing.outlines.runs import OpenRun, there_and_back
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.space import SplineSpace
from wander.core.shaping.display import display_mesh
from wander.core.shaping.ends import EndKind, EndShape
from wander.core.shaping.loft import Between, Lofted, loft
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.section import PlacedSection

LINE = SplineSpace.from_breaks(1, np.array([0.0, 1.0]))


def chain(*points: tuple[float, float]) -> OpenRun:
    """Straight lines from point to point."""
    lines = [Curve(LINE, np.array(pair, dtype=float)) for pair in pairwise(points)]
    return OpenRun(
        tuple(Stretch(line, even=True, label=f"c{2 * i + 2}", corner=f"p{2 * i + 1}") for i, line in enumerate(lines)), f"p{2 * len(lines) + 1}"
    )


def bow(*points: tuple[float, float]) -> OpenRun:
    """One spline through points."""
    return OpenRun((Stretch(open_through(np.array(points)), even=False, label="c2", corner="p1"),), "p3")


def arc(radius: float, sweep: float = pi, count: int = 129) -> OpenRun:
    """Part of a circle about the origin, as a spline through so many points."""
    return bow(*((radius * cos(t), radius * sin(t)) for t in np.linspace(0.0, sweep, count)))


def on(height: float, run: OpenRun, start: float | None = None) -> PlacedSection:
    return PlacedSection(at(height, shapes.circle(1.0)).frame, there_and_back(run), start=start)


def sheet(*sections: PlacedSection, **asked: object) -> Lofted:
    return loft(sections, [f"section-{i}" for i in range(len(sections))], name="loft-9", **asked)  # type: ignore[arg-type]


def edges_met(found: Lofted, sections: list[PlacedSection]) -> float:
    """The largest distance from places of the drawn ends to the nearest rim of the sheet, mm."""
    rims = np.concatenate([c(np.linspace(*c.domain, 2001)) for f in found.shell.faces for side in ("u0", "u1") for c in [f.surface.edge(side)]])
    ends = np.concatenate([s.frame.lift(s.loop.curve(np.array([0.0, 0.5]))) for s in sections if s.loop is not None])
    return float(np.linalg.norm(ends[:, None] - rims[None], axis=2).min(axis=1).max())


def test_two_straight_lines_make_a_flat_trapezium() -> None:
    found = sheet(on(0.0, chain((0, 0), (40, 0))), on(30.0, chain((10, 0), (30, 0))))
    mass = mass_properties(found.shell)
    assert not found.shell.closed
    assert not found.shell.caps
    assert mass.volume == 0.0
    assert_close(mass.area, (40 + 20) / 2 * 30, within=1e-9, relative=True)
    assert_close(mass.center, [20.0, 0.0, 30 * (40 + 2 * 20) / (3 * (40 + 20))], within=1e-9)
    assert [face.name for face in found.shell.faces] == ["loft-9/0.c2+1.c2"]


def test_two_polylines_go_corner_to_corner() -> None:
    """Three flat pieces each, side by side: as many faces, with two seams and no more."""
    found = sheet(on(0.0, chain((0, 0), (10, 10), (30, 10), (40, 0))), on(50.0, chain((0, 0), (10, 5), (30, 5), (40, 0))), between=Between.STRAIGHT)
    assert len(found.shell.faces) == 3
    assert len(found.shell.seams) == 2
    middle = found.shell.faces[1].surface
    assert_close(middle.grid(np.array([0.0, 1.0]), np.array(middle.v.domain)), [[[10, 10, 0], [10, 5, 50]], [[30, 10, 0], [30, 5, 50]]], within=1e-9)


def test_three_arcs_are_part_of_a_surface_of_revolution() -> None:
    found = sheet(on(0.0, arc(20.0)), on(40.0, arc(30.0)), on(90.0, arc(25.0)))
    surface = found.shell.faces[0].surface
    for v in np.linspace(*surface.v.domain, 9):
        ring = surface.grid(np.linspace(0, 1, 101), np.array([v]))[:, 0]
        assert np.ptp(np.hypot(ring[:, 0], ring[:, 1])) < 3e-4, "the arcs themselves are splines"
        assert np.ptp(ring[:, 2]) < 1e-9


def test_a_cylinder_is_met() -> None:
    found = sheet(on(0.0, arc(20.0)), on(40.0, arc(20.0)))
    assert_close(mass_properties(found.shell).area, pi * 20 * 40, within=1e-5, relative=True)


@pytest.mark.parametrize("between", list(Between))
def test_the_end_that_a_section_is_drawn_from_changes_nothing(between: Between) -> None:
    runs = [chain((0, 0), (10, 12), (40, 0)), bow((0, 0), (15, 14), (30, 10), (40, 0)), chain((0, 3), (20, 20), (40, 3))]
    as_drawn = sheet(*(on(30.0 * i, run) for i, run in enumerate(runs)), between=between)
    turned = sheet(*(on(30.0 * i, run.reversed() if i == 1 else run) for i, run in enumerate(runs)), between=between)
    assert_close(mass_properties(turned.shell).area, mass_properties(as_drawn.shell).area, within=1e-7, relative=True)
    assert turned.report.starts[1] == 1.0 - as_drawn.report.starts[1]  # type: ignore[operator]


def test_the_designer_may_begin_at_the_other_end() -> None:
    """The sheet is turned over half-way, which the wring tells."""
    own = sheet(on(0.0, chain((0, 0), (40, 0)), 0.0), on(30.0, chain((0, 0), (40, 0)), 1.0))
    surface = own.shell.faces[0].surface
    assert_close(surface.grid(np.array([0.0]), np.array(surface.v.domain))[0], [[0, 0, 0], [40, 0, 30]], within=1e-9)
    assert own.report.starts == (0.0, 1.0)


def test_a_straight_blend_is_a_hyperbolic_paraboloid() -> None:
    found = sheet(on(0.0, chain((-10, -10), (10, 10))), on(20.0, chain((-10, 10), (10, -10))), between=Between.STRAIGHT)
    x, y, z = found.shell.faces[0].surface.grid(np.linspace(0, 1, 7), np.linspace(0, 1, 7)).reshape(-1, 3).T
    # ruled by lines that turn with height: y = x (1 - z / 10)
    assert_close(y, x * (1 - z / 10), within=1e-9)


def test_rails_lead_both_edges_and_a_place_between() -> None:
    """A canopy: three bows, whose edges and crest follow rails to a thousandth everywhere."""
    sections = [on(0.0, bow((-20, 0), (0, 10), (20, 0))), on(50.0, bow((-20, 0), (0, 10), (20, 0)))]
    edges = [through((side * 20, 0, 0), (side * 26, 2, 25), (side * 20, 0, 50)) for side in (-1, 1)]
    crest = through((0, 10, 0), (0, 16, 25), (0, 10, 50))
    for rails in ([edges[0]], edges, [*edges, crest], [crest]):
        found = sheet(*sections, rails=rails)
        for rail in rails:
            goals = rail(np.linspace(0, 1, 41))
            grid = np.concatenate(
                [f.surface.grid(np.linspace(0, 1, 401), np.linspace(*f.surface.v.domain, 401)).reshape(-1, 3) for f in found.shell.faces]
            )
            assert np.linalg.norm(goals[:, None] - grid[None], axis=2).min(axis=1).max() < 0.15, "further than the grid is coarse"
        if rails == edges:
            surface = found.shell.faces[0].surface
            assert_close(np.sort(surface.grid(np.array([0.0, 1.0]), np.array([sum(surface.v.domain) / 2]))[:, 0, 0]), [-26.0, 26.0], within=1e-3)


def test_one_edge_led_leaves_the_other() -> None:
    sections = [on(0.0, chain((-20, 0), (20, 0))), on(50.0, chain((-20, 0), (20, 0)))]
    found = sheet(*sections, rails=[through((-20, 0, 0), (-30, 0, 25), (-20, 0, 50))])
    rims = [found.shell.faces[0].surface.edge(side)(0.5) for side in ("u0", "u1")]
    assert_close(sorted(float(rim[0]) for rim in rims), [-30.0, 20.0], within=1e-3)


def test_open_and_closed_sections_do_not_go_together() -> None:
    with pytest.raises(BadInput, match="open"):
        sheet(on(0.0, chain((0, 0), (40, 0))), at(30.0, shapes.circle(20.0)))


def test_its_mesh_is_one_piece_with_one_rim() -> None:
    """Every edge of a triangle belongs to two, but those of the rim, which is one closed chain."""
    found = sheet(on(0.0, chain((0, 0), (10, 10), (40, 0))), on(30.0, bow((0, 0), (20, 14), (40, 2))), on(70.0, chain((0, 0), (10, 10), (40, 0))))
    mesh = display_mesh(found.shell, 0.05)
    _, welded = np.unique(mesh.positions, axis=0, return_inverse=True)
    a, b, c = welded[mesh.triangles].T
    pairs = np.sort(np.concatenate([np.column_stack(p) for p in ((a, b), (b, c), (c, a))]), axis=1)
    each, count = np.unique(pairs, axis=0, return_counts=True)
    assert set(count.tolist()) == {1, 2}
    rim = each[count == 1]
    assert np.array_equal(np.bincount(rim.ravel())[np.unique(rim)], np.full(len(np.unique(rim)), 2))
    goes, seen = {int(i): [] for i in np.unique(rim)}, set[int]()
    for i, j in rim.tolist():
        goes[i].append(j)
        goes[j].append(i)
    todo = [int(rim[0, 0])]
    while todo:
        seen.add(here := todo.pop())
        todo += [other for other in goes[here] if other not in seen]
    assert len(seen) == len(goes)


@pytest.mark.parametrize(("kind", "lean"), [(EndKind.SQUARE, 0.0), (EndKind.ANGLE, 0.3)])
@pytest.mark.parametrize("points", [((0, 0), (40, 0)), ((0, 0), (10, 10), (40, 0))])
def test_ends_ask_of_a_sheet_what_they_ask_of_a_body(kind: EndKind, lean: float, points: tuple[tuple[float, float], ...]) -> None:
    end = EndShape(kind, angle=lean)
    found = sheet(on(0.0, chain(*points)), on(40.0, chain(*points)), ends=(end, end))
    # where two sides meet at a corner both go the way the corner goes, which leans more
    within = 0.04 if lean and len(points) > 2 else 1e-9
    for face in found.shell.faces:
        way = face.surface.grid(np.linspace(0.2, 0.8, 5), np.array([face.surface.v.domain[0]]), 0, 1)[:, 0]
        assert_close(np.arccos(np.clip(way[:, 2] / np.linalg.norm(way, axis=1), -1, 1)), np.full(5, lean), within=within)


reach = st.floats(-30.0, 30.0)


def zigzag(ys: list[float]) -> list[tuple[float, float]]:
    return [(40.0 * i / (len(ys) - 1), y) for i, y in enumerate(ys)]


@settings(max_examples=20)
@given(rows=st.lists(st.lists(reach, min_size=2, max_size=5), min_size=2, max_size=5), straight=st.booleans())
def test_any_polylines_are_met(rows: list[list[float]], straight: bool) -> None:
    """Every corner of every section lies on the sheet, and its ends on the rims."""
    sections = [on(25.0 * i, chain(*zigzag(ys))) for i, ys in enumerate(rows)]
    found = sheet(*sections, between=Between.STRAIGHT if straight else Between.SMOOTH)
    assert found.report.deviation.max() < 1e-3
    corners: Floats = np.concatenate([s.frame.lift(np.array(zigzag(ys))) for s, ys in zip(sections, rows, strict=True)])
    lines = [ring.curves for ring in found.shell.rings]
    drawn = np.concatenate([curve(np.linspace(*curve.domain, 1025)) for ring in lines for curve in ring])
    assert np.linalg.norm(corners[:, None] - drawn[None], axis=2).min(axis=1).max() < 0.1
    assert edges_met(found, sections) < 0.1
