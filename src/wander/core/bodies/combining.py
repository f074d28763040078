"""Joining, cutting and overlapping bodies on their meshes: what is seen while something is dragged, until the exact body is there.

The booleans of meshes are robust and keep track of the face that each triangle came from (manifold3d).
"""

from __future__ import annotations

from collections.abc import Sequence
from enum import Enum
from typing import Any

import numpy as np

from wander.core.bodies.body import Body, mesh_of
from wander.core.bodies.measures import of_mesh
from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.display import DisplayMesh, line_parts


class How(Enum):
    """What becomes of a body and its tools."""

    JOIN = "join"
    CUT = "cut"
    OVERLAP = "overlap"


class CombineFailed(ValueError):
    """The bodies can't be put together like this; the message says why, in the designer's words."""


CREASE = np.cos(np.radians(20.0))
"""Triangles of different faces that meet at less than this show no line between them."""


def combined_roughly(how: How, body: Body, tools: Sequence[Body], tolerance: float) -> Body:
    """The body joined with the tools, less the tools, or as far as it lies in them, as a mesh within about the tolerance, mm. Raises CombineFailed."""
    meshes = [mesh_of(item, tolerance) for item in (body, *tools)]
    solids = [_manifold(mesh) for mesh in meshes]
    base, others = solids[0], solids[1:]
    tool = others[0]
    for other in others[1:]:
        tool = tool + other
    made = {How.JOIN: lambda: base + tool, How.CUT: lambda: base - tool, How.OVERLAP: lambda: base ^ tool}[how]()
    if made.is_empty():
        raise CombineFailed("nothing is left of it")
    sources = {solid.original_id(): mesh for solid, mesh in zip(solids, meshes, strict=True)}
    mesh = _display(made.to_mesh64(), sources)
    return Body(of_mesh(mesh, len(made.decompose())), rough=mesh, along=body.along)


def _manifold(mesh: DisplayMesh) -> Any:
    import manifold3d

    faces = mesh.face_of[mesh.triangles[:, 0]].astype(np.uint64)
    made = manifold3d.Mesh64(np.concatenate([mesh.positions, mesh.normals], axis=1), mesh.triangles.astype(np.uint64), face_id=faces)
    made.merge()
    solid = manifold3d.Manifold(made)
    if solid.status() != manifold3d.Error.NoError:
        raise CombineFailed("the mesh of one of the bodies does not close")
    return solid.as_original() if solid.original_id() < 0 else solid


def _display(made: Any, sources: dict[int, DisplayMesh]) -> DisplayMesh:
    """The mesh with the names of its faces, normals looking outwards, and lines where faces meet."""
    triangles = np.asarray(made.tri_verts, dtype=np.int64)
    properties = np.asarray(made.vert_properties)
    runs = np.asarray(made.run_index, dtype=np.int64) // 3
    owners = np.repeat(np.asarray(made.run_original_id, dtype=np.int64), np.diff(runs))
    numbers = np.asarray(made.face_id, dtype=np.int64)
    pairs, face_of_triangle = np.unique(np.stack([owners, numbers], axis=1), axis=0, return_inverse=True)
    names = tuple(sources[int(owner)].face_names[int(number)] for owner, number in pairs)
    # each vertex belongs to one face: those of several are doubled
    corners, corner_of = np.unique(np.stack([triangles.ravel(), np.repeat(face_of_triangle, 3)], axis=1), axis=0, return_inverse=True)
    triangles_of_faces = corner_of.reshape(-1, 3)
    positions, normals = properties[corners[:, 0], :3], properties[corners[:, 0], 3:6]
    a, b, c = (positions[triangles_of_faces[:, i]] for i in range(3))
    flat = cross(b - a, c - a)
    around = np.zeros_like(positions)
    for corner in range(3):
        np.add.at(around, triangles_of_faces[:, corner], flat)
    # what was cut away looked the other way
    normals = np.where(np.sum(normals * around, axis=1, keepdims=True) < 0, -normals, normals)
    size = lengths(normals)
    normals = normals / np.where(size > 0, size, 1.0)[:, None]
    return DisplayMesh(
        positions=np.ascontiguousarray(positions),
        normals=normals,
        triangles=triangles_of_faces.astype(np.uint32),
        face_of=corners[:, 1].astype(np.uint32),
        face_names=names,
        **_lines(positions, corners[:, 0], triangles_of_faces, face_of_triangle, flat, made, names),
    )


def _lines(positions: Floats, vertex: Ints, triangles: Ints, face: Ints, flat: Floats, made: Any, names: tuple[str, ...]) -> Any:
    """Where triangles of two faces meet at an angle: straight pieces, gathered by the pair of names."""
    merged = np.arange(int(vertex.max()) + 1)
    merged[np.asarray(made.merge_from_vert, dtype=np.int64)] = np.asarray(made.merge_to_vert, dtype=np.int64)
    place = merged[vertex]
    sides = np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]])
    owner = np.tile(np.arange(len(triangles)), 3)
    ends = np.sort(place[sides], axis=1)
    order = np.lexsort((ends[:, 1], ends[:, 0]))
    same = np.all(ends[order][1:] == ends[order][:-1], axis=1)
    first, second = order[:-1][same], order[1:][same]
    one, other = face[owner[first]], face[owner[second]]
    unit = flat / np.maximum(lengths(flat), 1e-300)[:, None]
    sharp = (one != other) & (np.sum(unit[owner[first]] * unit[owner[second]], axis=1) < CREASE)
    pairs = np.sort(np.stack([one, other], axis=1)[sharp], axis=1)
    segments = positions[sides[first[sharp]]]
    distinct, which = np.unique(pairs, axis=0, return_inverse=True) if len(pairs) else (np.zeros((0, 2), int), np.zeros(0, int))
    labels = tuple("|".join(sorted((names[a], names[b]))) for a, b in distinct)
    return line_parts(which.tolist(), list(segments), labels)
