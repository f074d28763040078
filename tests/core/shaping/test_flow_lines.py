"""Flow lines: where the parameters of a face are whole, on own surfaces and on what the kernel meshed."""

from __future__ import annotations

import numpy as np

from tests.core.exchange.test_files import glb_parts
from tests.core.placed import at
from wander.core.bodies.body import mesh_of, of_shells
from wander.core.drawing.outlines import shapes
from wander.core.exchange.glb import write_glb
from wander.core.shaping.display import FLOW, MOST_FLOW, display_mesh
from wander.core.shaping.loft import Between, loft
from wander.core.solids.combine import How, combine


def cylinder(radius: float, height: float, low: float = 0.0):
    sections = [at(low, shapes.circle(2 * radius)), at(low + height, shapes.circle(2 * radius))]
    return loft(sections, ["a", "b"], name=f"loft-{round(radius)}", between=Between.STRAIGHT).shell


def test_on_a_cylinder_they_stand_at_even_angles_and_heights() -> None:
    mesh = display_mesh(cylinder(20.0, 60.0), 0.05)
    assert mesh.flow is not None
    side = np.abs(mesh.normals[:, 2]) < 0.5
    x, y, z = mesh.positions[side].T
    around, along = mesh.flow[side].T
    size = np.linalg.norm([40.0, 40.0, 60.0])
    lines = np.ceil(2 * np.pi * 20 / (FLOW * size))
    angle = (np.arctan2(y, x) / (2 * np.pi)) % 1.0 * lines
    apart = np.abs(around - angle)
    assert np.minimum(apart, np.abs(apart - lines)).max() < 1e-3
    assert np.abs(along - z / 60 * np.ceil(60 / (FLOW * size))).max() < 1e-9
    assert np.abs(mesh.flow[~side]).max() == 0.0


def test_what_the_kernel_meshed_has_them_too() -> None:
    body = combine(How.CUT, of_shells((cylinder(20.0, 60.0),)), [of_shells((cylinder(6.0, 90.0, -10.0),))])
    mesh = mesh_of(body, 0.05)
    assert mesh.flow is not None
    outside = np.abs(np.hypot(mesh.positions[:, 0], mesh.positions[:, 1]) - 20) < 1e-6
    steep = outside & (np.abs(mesh.normals[:, 2]) < 0.5)
    z, along = mesh.positions[steep, 2], mesh.flow[steep, 1]
    assert steep.any()
    assert np.abs(along - along.max() * z / 60).max() < 1e-6


def test_they_are_in_what_the_screen_gets_and_not_in_files() -> None:
    mesh = display_mesh(cylinder(20.0, 60.0), 0.05)
    header, data = glb_parts(write_glb(mesh, "Tin"))
    attributes = header["meshes"][0]["primitives"][0]["attributes"]
    accessor = header["accessors"][attributes["_FLOW"]]
    assert accessor["normalized"] is True
    view = header["bufferViews"][accessor["bufferView"]]
    read = np.frombuffer(data, np.uint16, accessor["count"] * 2, view["byteOffset"]).reshape(-1, 2) / 65535 * MOST_FLOW
    assert mesh.flow is not None
    assert np.abs(read - mesh.flow).max() < 1e-3
    header, _ = glb_parts(write_glb(mesh, "Tin", lines=False))
    assert "_FLOW" not in header["meshes"][0]["primitives"][0]["attributes"]
