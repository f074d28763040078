"""STL files as meshes to be seen: both forms, both ways round, open ones, and files that are none."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
import trimesh

from tests.closeness import assert_close
from wander.core.bodies.brought import NotInFile
from wander.core.exchange.stl_in import reference_from


def stl(body: trimesh.Trimesh, form: str = "stl") -> bytes:
    data: Any = body.export(file_type=form)
    return data if isinstance(data, bytes) else data.encode()


CUBE = trimesh.creation.box((10.0, 20.0, 30.0))


@pytest.mark.parametrize("form", ["stl", "stl_ascii"])
def test_a_box_in_both_forms(form: str) -> None:
    found = reference_from(stl(CUBE, form), 25.4, "r/mesh")
    assert found.watertight
    assert_close(found.measures.volume, 6000 * 25.4**3, within=1e-6, relative=True)
    assert_close(found.measures.area, 2200 * 25.4**2, within=1e-6, relative=True)
    assert len(found.mesh.triangles) == 12
    # eight corners with three normals each, and its twelve edges
    assert len(found.mesh.positions) == 24
    assert len(found.mesh.lines) == 12
    outwards = np.sum(found.mesh.normals * np.sign(found.mesh.positions), axis=1)
    assert np.allclose(outwards, 1.0)


def test_one_that_is_inside_out_is_turned_round() -> None:
    turned = CUBE.copy()
    turned.invert()
    found = reference_from(stl(turned), 1.0, "r/mesh")
    assert_close(found.measures.volume, 6000.0, within=1e-6, relative=True)


def test_one_that_is_open_has_no_volume_and_shows_its_rim() -> None:
    lidless = trimesh.Trimesh(CUBE.vertices, CUBE.faces[CUBE.face_normals[:, 2] < 0.5], process=False)
    found = reference_from(stl(lidless), 1.0, "r/mesh")
    assert not found.watertight
    assert found.measures.volume == 0.0
    assert not found.mesh.closed
    assert len(found.mesh.lines) == 12


def test_a_ball_is_smooth() -> None:
    found = reference_from(stl(trimesh.creation.icosphere(4, 10.0)), 1.0, "r/mesh")
    assert len(found.mesh.lines) == 0
    assert len(found.mesh.positions) == len(trimesh.creation.icosphere(4, 10.0).vertices)


@pytest.mark.parametrize(
    "data",
    [b"", b"hello", stl(CUBE)[:300], b"solid x\nfacet normal 0 0 0\nouter loop\nvertex a b c", b"solid empty\nendsolid empty\n"],
    ids=["empty", "another", "broken off", "no numbers", "nothing in it"],
)
def test_what_is_no_stl_file_is_refused(data: bytes) -> None:
    with pytest.raises(NotInFile):
        reference_from(data, 1.0, "r/mesh")


def test_numbers_beyond_any_body_are_refused() -> None:
    far = trimesh.Trimesh(np.asarray(CUBE.vertices) * 1e7, CUBE.faces, process=False)
    with pytest.raises(NotInFile, match="kilometre"):
        reference_from(stl(far), 1.0, "r/mesh")
