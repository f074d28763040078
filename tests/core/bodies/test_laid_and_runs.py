"""Curves laid on bodies, and runs and loops of edges, against what is known of cylinders and flat ends."""

from __future__ import annotations

from math import pi

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.placed import at, body
from tests.core.shaping.test_rails import FINE, TOP, line
from wander.core.bodies.body import Body, of_shells
from wander.core.bodies.edge_runs import as_curve, flat_loop, smooth_run
from wander.core.bodies.projection import BesideBody, laid_on
from wander.core.drawing.outlines import shapes
from wander.core.geometry.curve import Curve
from wander.core.geometry.frame import Frame
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.quadrature import length
from wander.core.geometry.tolerances import DEFAULT
from wander.core.shaping.loft import Between
from wander.core.shaping.section import PlacedSection


def lofted_body(*sections: PlacedSection, between: Between = Between.SMOOTH) -> Body:
    return of_shells((body(*sections, between=between).shell,))


def test_a_curve_laid_on_a_cylinder_lies_on_it_and_over_itself() -> None:
    cylinder = lofted_body(at(0, shapes.circle(40)), at(100, shapes.circle(40)), between=Between.STRAIGHT)
    # drawn before the cylinder on a plane that stands off by 60 mm and looks at it
    off = Frame(np.array([0.0, -60.0, 0.0]), np.array([1.0, 0, 0]), np.array([0.0, 0, 1]))
    assert off.z @ np.array([0, 1, 0]) < 0
    towards = Frame(off.origin, -off.x, off.y)
    flat = open_through(np.array([[-15, 10], [0, 50], [12, 60], [15, 90]], dtype=float))
    curve, strays = laid_on(Curve(flat.space, towards.lift(flat.points)), towards, cylinder, DEFAULT)
    assert strays <= DEFAULT.fit
    points = curve(FINE)
    assert_close(np.hypot(points[:, 0], points[:, 1]), np.full(len(FINE), 20.0), within=2e-4)
    assert points[:, 1].max() < 0, "the near side was meant"
    assert_close(towards.drop(points), flat(FINE), within=DEFAULT.promised)


def test_a_curve_laid_on_a_flat_end_keeps_its_shape() -> None:
    cylinder = lofted_body(at(0, shapes.circle(40)), at(100, shapes.circle(40)), between=Between.STRAIGHT)
    flat = open_through(np.array([[-10, 0], [0, 8], [10, -3]], dtype=float))
    above = Frame(np.array([0.0, 0, 150]), TOP.y, TOP.x)
    curve, _ = laid_on(Curve(flat.space, above.lift(flat.points)), above, cylinder, DEFAULT)
    assert_close(curve(FINE)[:, 2], np.full(len(FINE), 100.0), within=1e-9)
    assert_close(above.drop(curve(FINE)), flat(FINE), within=1e-6)


def test_a_curve_beside_the_body_says_where() -> None:
    cylinder = lofted_body(at(0, shapes.circle(40)), at(100, shapes.circle(40)))
    with pytest.raises(BesideBody) as caught:
        laid_on(line((0, 0, -5), (30, 0, -5)), TOP, cylinder, DEFAULT)
    assert caught.value.place[0] > 20 - 1e-6


def test_a_closed_loop_of_edges_goes_round_the_flat_face() -> None:
    made = lofted_body(at(0, shapes.circle(40)), at(50, shapes.rectangle(30, 20)))
    edge = next(edge for edge in made.edges if "end:section-2" in edge.name)
    loop = as_curve(flat_loop(made, edge), DEFAULT)
    assert_close(length(loop), 100.0, within=1e-6)
    assert_close(loop(0.0), loop(1.0), within=1e-9)
    assert_close(length(as_curve(smooth_run(made, edge), DEFAULT)), length(edge.curve), within=1e-6)


def test_a_run_of_edges_takes_in_all_that_is_tangent() -> None:
    made = lofted_body(at(0, shapes.circle(40)), at(50, shapes.rectangle(30, 20)))
    edge = next(edge for edge in made.edges if "end:section-1" in edge.name)
    run = smooth_run(made, edge)
    assert len(run) == 4
    assert_close(length(as_curve(run, DEFAULT)), 40 * pi, within=2e-3)
    assert len({edge.name for edge in run}) == 4
