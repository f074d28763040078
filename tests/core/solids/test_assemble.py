"""Solids: valid, closed, of the right volume, every face with its name; and what the kernel says when it can't be."""

from __future__ import annotations

import json
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.placed import at, body, tip
from tests.core.shaping.test_mass import BODIES
from wander.core.bodies.body import of_shells
from wander.core.drawing.outlines import shapes
from wander.core.geometry.conics import circle
from wander.core.geometry.curve_edits import transformed
from wander.core.shaping.loft import Between
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.shell import Shell
from wander.core.solids.assemble import assemble, faces_of
from wander.core.solids.convert import to_kernel_curve, to_kernel_surface
from wander.core.solids.errors import KernelError
from wander.core.solids.measure import kernel_area, kernel_center, kernel_volume
from wander.core.solids.named import shape_of
from wander.core.solids.step_file import read_step, write_step

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


READER = """
import json, sys
from pathlib import Path
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps
from OCP.STEPControl import STEPControl_Reader
from OCP.TopAbs import TopAbs_SOLID
from OCP.TopExp import TopExp_Explorer
reader = STEPControl_Reader()
reader.ReadFile(sys.argv[1])
reader.TransferRoots()
shape = reader.OneShape()
explorer, solids = TopExp_Explorer(shape, TopAbs_SOLID), 0
while explorer.More():
    solids += 1
    explorer.Next()
g = GProp_GProps()
BRepGProp.VolumePropertiesGK_s(shape, g, 1e-8, True, True)
print("FOUND", json.dumps({"solids": solids, "valid": BRepCheck_Analyzer(shape).IsValid(), "volume": g.Mass()}))
"""


@pytest.mark.parametrize("name", ["flask", "prism", "round to slot", "two tips"])
def test_a_step_file_is_one_valid_solid_for_a_fresh_kernel(name: str, tmp_path: Path) -> None:
    shell = MORE[name].shell
    path = tmp_path / "body.step"
    path.write_bytes(write_step([("Körper", shape_of(of_shells((shell,))))]))
    out = subprocess.run([sys.executable, "-c", READER, str(path)], capture_output=True, text=True, check=True).stdout
    found = json.loads(out.split("FOUND")[1])
    assert found["solids"] == 1
    assert found["valid"] is True
    expected = mass_properties(shell).volume
    assert_close(found["volume"], expected, within=1e-6 * expected)


def test_our_own_reader_gives_the_solids_back(tmp_path: Path) -> None:
    path = tmp_path / "two.step"
    path.write_bytes(write_step([(name, shape_of(of_shells((MORE[name].shell,)))) for name in ("cone", "prism")]))
    assert len(read_step(path)) == 2
    path.write_bytes(b"no STEP file at all")
    with pytest.raises(KernelError, match="not a readable STEP file"):
        read_step(path)
