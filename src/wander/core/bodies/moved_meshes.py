"""Meshes of bodies that were moved and copied: the same points elsewhere, under other names."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.shaping.display import DisplayMesh


def keeps_axes(matrix: Floats) -> bool:
    return bool(np.all(np.abs(np.abs(matrix).max(axis=0) - 1.0) < 1e-12))


def moved_mesh(mesh: DisplayMesh, matrix: Floats, origin: Floats) -> DisplayMesh:
    triangles = mesh.triangles[:, ::-1] if np.linalg.det(matrix) < 0 else mesh.triangles
    return replace(
        mesh,
        positions=mesh.positions @ matrix.T + origin,
        normals=mesh.normals @ matrix.T,
        triangles=np.ascontiguousarray(triangles),
        line_positions=mesh.line_positions @ matrix.T + origin,
    )


def copied_mesh(mesh: DisplayMesh, name: str) -> DisplayMesh:
    lines = tuple(n if n.startswith("ring:") else copied_pair(n, name) for n in mesh.line_names)
    return replace(mesh, face_names=tuple(f"{n}@{name}" for n in mesh.face_names), line_names=lines)


def copied_pair(edge: str, name: str) -> str:
    pair, mark, further = edge.partition("#")
    return "|".join(f"{face}@{name}" for face in pair.split("|")) + mark + further
