"""Solids: valid, closed, of the right volume, every face with its name; and what the kernel says when it can't be."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.placed import at, body, tip
from tests.core.shaping.test_mass import BODIES
from wander.core.bodies.body import faces_of_skin
from wander.core.drawing.outlines import shapes
from wander.core.geometry.conics import circle
from wander.core.geometry.curve_edits import transformed
from wander.core.shaping.loft import Between
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.shell import Shell
from wander.core.solids.assemble import assemble, faces_of
from wander.core.solids.convert import to_kernel_curve, to_kernel_surface
from wander.core.solids.errors import KernelError
from wander.core.solids.integrals import is_whole
from wander.core.solids.measure import kernel_area, kernel_center, kernel_volume

MORE = {
    **BODIES,
    "round to slot": body(at(0, shapes.circle(42)), at(30, shapes.circle(42)), at(60, shapes.slot(60, 18))),
    "square to round": body(at(0, shapes.rectangle(20, 20)), at(30, shapes.circle(20))),
    "two tips": body(tip(0), at(20, shapes.polygon(4, 20)), tip(50)),
    "stack": body(at(0, shapes.circle(20)), at(10, shapes.rounded_rectangle(30, 30, 5)), at(30, shapes.circle(10)), between=Between.STRAIGHT),
}


@pytest.mark.parametrize("name", MORE)
def test_the_kernel_agrees_with_the_surfaces(name: str) -> None:
    shell = MORE[name].shell
    solid, own = assemble(shell), mass_properties(shell)
    assert_close(solid.volume, own.volume, within=1e-6 * own.volume)
    assert_close(kernel_volume(solid.shape), own.volume, within=1e-6 * own.volume)
    assert_close(kernel_area(solid.shape), own.area, within=1e-5 * own.area)
    assert_close(kernel_center(solid.shape), own.center, within=1e-5 * float(np.linalg.norm(own.high - own.low)))


@pytest.mark.parametrize("name", MORE)
def test_sides_are_the_skin_s_own_and_whole(name: str) -> None:
    shell = MORE[name].shell
    solid, own = assemble(shell), {face.name: face.surface for face in faces_of_skin(shell)}
    for face, called in zip(faces_of(solid.shape), solid.names, strict=True):
        assert is_whole(face, own[called]) is (own[called] is not None)


@pytest.mark.parametrize("name", MORE)
def test_every_face_keeps_its_name(name: str) -> None:
    shell = MORE[name].shell
    solid = assemble(shell)
    assert sorted(solid.names) == sorted([f.name for f in shell.faces] + [c.name for c in shell.caps])
    assert len(list(faces_of(solid.shape))) == len(solid.names)


def test_curves_and_surfaces_are_the_same_in_the_kernel() -> None:
    ring = transformed(circle(4.0), np.eye(3)[:, :2], np.zeros(3))
    there = to_kernel_curve(ring)
    for u in (0.0, 0.13, 0.77):
        point = there.Value(u)
        assert_close([point.X(), point.Y(), point.Z()], ring(u), within=1e-12)
    surface = BODIES["flask"].shell.faces[0].surface
    kernel = to_kernel_surface(surface)
    for u, v in ((0.2, 0.3), (0.9, 0.55)):
        point = kernel.Value(u, v)
        assert_close([point.X(), point.Y(), point.Z()], surface.grid(np.array([u]), np.array([v]))[0, 0], within=1e-11)


def test_an_open_skin_is_no_solid() -> None:
    shell = BODIES["prism"].shell
    with pytest.raises(KernelError, match="open edges"):
        assemble(Shell(shell.faces[:-1], shell.caps))


def test_faces_that_do_not_meet_are_no_solid() -> None:
    shell = BODIES["prism"].shell
    away = replace(shell.faces[0], surface=shell.faces[0].surface.transformed(np.eye(3), np.array([0.0, 0, 5])))
    with pytest.raises(KernelError):
        assemble(Shell((away, *shell.faces[1:]), shell.caps))
