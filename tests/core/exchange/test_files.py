"""Files out: STL that closes, GLB that a validator takes, both with the right size."""

from __future__ import annotations

import io
import json
import struct
import subprocess
from pathlib import Path

import numpy as np
import pytest
import trimesh

from tests.closeness import assert_close
from tests.conftest import ROOT
from tests.core.design.designs import circle, lofted
from tests.core.placed import at, body
from tests.core.shaping.test_mass import BODIES
from tests.core.solids.kernel_count import counted_by_kernel
from wander.core.design.bodies import NothingToExport, export, merged
from wander.core.design.memory import Memory
from wander.core.design.reading import read_document
from wander.core.design.rebuild import rebuild
from wander.core.drawing.outlines import shapes
from wander.core.exchange.formats import FileFormat
from wander.core.exchange.glb import write_glb
from wander.core.exchange.stl import write_stl
from wander.core.shaping.density import Density
from wander.core.shaping.display import display_mesh
from wander.core.shaping.mass import mass_properties

VALIDATE = """
import { validateBytes } from 'gltf-validator';
import { readFileSync } from 'node:fs';
const report = await validateBytes(new Uint8Array(readFileSync(process.argv[1])));
console.log(JSON.stringify(report.issues));
"""


def glb_parts(data: bytes) -> tuple[dict, bytes]:
    magic, version, total = struct.unpack_from("<4sII", data)
    assert (magic, version, total) == (b"glTF", 2, len(data))
    size = struct.unpack_from("<I", data, 12)[0]
    header = json.loads(data[20 : 20 + size])
    return header, data[28 + size :]


def validated(data: bytes, folder: Path) -> dict:
    path = folder / "body.glb"
    path.write_bytes(data)
    out = subprocess.run(["node", "--input-type=module", "-e", VALIDATE, str(path)], cwd=ROOT / "web", capture_output=True, text=True, check=True)
    return json.loads(out.stdout)


@pytest.mark.parametrize("name", BODIES)
def test_stl_is_watertight_for_another_program(name: str) -> None:
    shell = BODIES[name].shell
    solid = trimesh.load(io.BytesIO(write_stl(display_mesh(shell, 0.02))), file_type="stl")
    assert solid.is_watertight
    assert solid.is_volume
    expected = mass_properties(shell).volume
    assert_close(solid.volume, expected, within=2e-3 * expected)


STAR = np.array([(r * np.cos(t), r * np.sin(t)) for t, r in zip(np.arange(10) * np.pi / 5, [20, 8] * 5, strict=True)])
LINED = {
    "square on square": (shapes.rectangle(20.0, 20.0), shapes.rectangle(12.0, 12.0)),
    "slot on slot": (shapes.slot(40.0, 10.0), shapes.slot(24.0, 12.0)),
    "triangle on circle": (shapes.polygon(3, 30.0), shapes.circle(20.0)),
    "foil on foil": (shapes.foil(60.0, 0.14, 0.02, 0.4), shapes.foil(40.0, 0.1, 0.0, 0.4)),
    "hexagon on rounded": (shapes.polygon(6, 33.3), shapes.rounded_rectangle(20.0, 14.0, 3.0)),
    "star on ellipse": (
        shapes.polyline(np.array([(r * np.cos(t), r * np.sin(t)) for t, r in zip(np.arange(10) * np.pi / 5, [20, 8] * 5, strict=True)])),
        shapes.ellipse(30.0, 22.0),
    ),
}


@pytest.mark.parametrize("tolerance", [0.5, 0.05, 0.013])
@pytest.mark.parametrize("name", LINED)
def test_ends_with_points_in_line_leave_no_gap(name: str, tolerance: float) -> None:
    low, high = LINED[name]
    solid = trimesh.load(io.BytesIO(write_stl(display_mesh(body(at(0, low), at(31.7, high)).shell, tolerance))), file_type="stl")
    assert solid.is_watertight
    assert solid.is_winding_consistent


@pytest.mark.parametrize("name", BODIES)
@pytest.mark.parametrize("lines", [True, False])
def test_glb_is_taken_by_the_validator(name: str, lines: bool, tmp_path: Path) -> None:
    issues = validated(write_glb(display_mesh(BODIES[name].shell, 0.05), "Körper", lines=lines), tmp_path)
    assert issues["numErrors"] == 0, issues["messages"]
    assert issues["numWarnings"] == 0, issues["messages"]


def test_glb_holds_a_number_for_each_vertex_and_the_names() -> None:
    mesh = display_mesh(BODIES["prism"].shell, 0.05)
    header, data = glb_parts(write_glb(mesh, "Prism"))
    triangles, lines = header["meshes"][0]["primitives"]
    assert triangles["mode"] == 4
    assert lines["mode"] == 1
    assert triangles["extras"]["faces"] == list(mesh.face_names)
    assert lines["extras"]["lines"] == list(mesh.line_names)
    accessor = header["accessors"][triangles["attributes"]["_FACE"]]
    view = header["bufferViews"][accessor["bufferView"]]
    numbers = np.frombuffer(data, np.float32, accessor["count"], view["byteOffset"])
    assert_close(numbers, mesh.face_of, within=0)


def test_glb_is_in_metres_with_y_up() -> None:
    header, _ = glb_parts(write_glb(display_mesh(BODIES["flask"].shell, 0.05), "Flask"))
    matrix = np.array(header["nodes"][0]["matrix"]).reshape(4, 4).T
    assert_close(matrix @ [0, 0, 190, 1], [0, 0.19, 0, 1], within=1e-12)
    assert np.linalg.det(matrix[:3, :3]) > 0


def test_several_bodies_become_one_mesh_without_mixing_names() -> None:
    meshes = [display_mesh(BODIES[name].shell, 0.1) for name in ("cone", "prism")]
    one = merged(meshes)
    assert one.face_names == meshes[0].face_names + meshes[1].face_names
    assert len(one.triangles) == sum(len(m.triangles) for m in meshes)
    last = one.triangles[-1]
    assert one.face_names[int(one.face_of[last[0]])] == meshes[1].face_names[int(meshes[1].face_of[meshes[1].triangles[-1][0]])]
    assert_close(one.line_positions[one.lines[-1]], meshes[1].line_positions[meshes[1].lines[-1]], within=0)


@pytest.mark.parametrize("name", ["tarn", "bailer", "merganser"])
@pytest.mark.parametrize("file_format", list(FileFormat))
def test_every_demo_design_goes_out_in_every_format(samples: Path, name: str, file_format: FileFormat) -> None:
    document = read_document((samples / f"{name}.json").read_bytes())
    data = export(document, list(rebuild(document, Memory())), file_format, Density(0.1))
    head = {FileFormat.STEP: b"ISO-10303-21;", FileFormat.GLB: b"glTF", FileFormat.STL: b"", FileFormat.OBJ: b"# mm"}[file_format]
    assert data.startswith(head)
    assert len(data) > 10_000


@pytest.mark.parametrize("name", ["tarn", "bailer", "merganser"])
def test_the_kernel_agrees_with_every_demo_body(samples: Path, name: str) -> None:
    from wander.core.design.bodies import bodies

    document = read_document((samples / f"{name}.json").read_bytes())
    for item in bodies(document, list(rebuild(document, Memory()))):
        assert_close(counted_by_kernel(item.body), item.body.measures.volume, within=1e-6 * item.body.measures.volume)


def test_a_design_without_a_body_has_nothing_to_hand_over() -> None:
    document = lofted((0.0, circle(5.0)))
    with pytest.raises(NothingToExport, match="no body to hand over"):
        export(document, list(rebuild(document, Memory())), FileFormat.STL, Density(0.1))
