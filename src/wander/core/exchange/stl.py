"""STL: the plain triangles of a closed body, in millimetres."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from wander.core.shaping.display import DisplayMesh

if TYPE_CHECKING:
    import trimesh

WELD = 6
"""Corners that agree to this many decimals (mm) are one corner: single precision must not tear seams open."""


def welded(mesh: DisplayMesh) -> trimesh.Trimesh:
    """The mesh with one vertex for each place."""
    import trimesh  # only who writes a file waits for it

    body = trimesh.Trimesh(np.asarray(mesh.positions, dtype=np.float32), mesh.triangles, process=False)
    body.merge_vertices(merge_norm=True, merge_tex=True, digits_vertex=WELD)
    # a triangle may be as thin as it likes: where three corners lie in line it closes a seam, and only one with a corner twice is none
    a, b, c = body.faces.T
    body.update_faces((a != b) & (b != c) & (c != a))
    return body


def write_stl(mesh: DisplayMesh) -> bytes:
    """Binary STL."""
    body = welded(mesh)
    body.vertices = np.asarray(body.vertices, dtype=np.float32)
    data = body.export(file_type="stl")
    assert isinstance(data, bytes)
    return data
