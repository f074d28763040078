"""STL files, text or binary, as meshes to be seen."""

from __future__ import annotations

import io

import numpy as np

from wander.core.bodies.brought import NotInFile, Reference
from wander.core.bodies.measures import Measures, Source, of_mesh
from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.display import DisplayMesh

MOST = 500_000
"""Triangles; a file with more is not shown."""
FAR = 1e6
"""mm from the origin beyond which nothing is taken for a body."""
CREASE = np.cos(np.radians(30.0))
"""Triangles that meet at more than this have a line between them, and light of their own."""


def reference_from(data: bytes, scale: float, name: str) -> Reference:
    """The mesh of a file, its numbers times `scale` as mm, called `name`. Raises NotInFile."""
    places, triangles = _welded(data, scale)
    sides = np.sort(np.stack([triangles, np.roll(triangles, -1, axis=1)], axis=-1).reshape(-1, 2), axis=1)
    found, count = np.unique(sides, axis=0, return_counts=True)
    watertight = bool(np.all(count == 2))
    if watertight and np.einsum("ij,ij->", places[triangles[:, 0]], cross(places[triangles[:, 1]], places[triangles[:, 2]])) < 0:
        triangles = triangles[:, ::-1]  # all of them look inwards
    mesh = _shown(places, triangles, found[count == 1], name, closed=watertight)
    measured = of_mesh(mesh)
    if not watertight:
        measured = Measures(0.0, measured.area, places.mean(axis=0), measured.low, measured.high, Source.MESH, closed=False)
    return Reference(mesh, measured, watertight)


def _welded(data: bytes, scale: float) -> tuple[Floats, Ints]:
    """Places (n, 3), each once, and the triangles between them. Raises NotInFile."""
    import trimesh

    count = int.from_bytes(data[80:84], "little") if len(data) >= 84 else 0
    binary = len(data) == 84 + 50 * count
    if not binary and not data[:512].lstrip().lower().startswith(b"solid"):
        raise NotInFile("it is no STL file, or it is broken off")
    if max(count if binary else 0, 0 if binary else data.count(b"facet normal")) > MOST:
        raise NotInFile(f"it has more than {MOST} triangles, and that many can't be shown; make it coarser")
    try:
        body = trimesh.load(io.BytesIO(data), file_type="stl", process=False)
        found = np.asarray(body.vertices, dtype=float)[np.asarray(body.faces)].reshape(-1, 3) * scale
    except (ValueError, IndexError, TypeError, AttributeError) as error:  # whatever the reader of text files stumbles on
        raise NotInFile("it is no STL file, or it is broken off") from error
    if not len(found):
        raise NotInFile("there is no triangle in it")
    if not np.isfinite(found).all() or np.abs(found).max() > FAR:
        raise NotInFile("its numbers are not those of a body: some are none at all, or farther off than a kilometre")
    places, which = np.unique(found, axis=0, return_inverse=True)
    triangles = which.reshape(-1, 3)
    a, b, c = triangles.T
    triangles = triangles[(a != b) & (b != c) & (c != a)]
    if not len(triangles):
        raise NotInFile("all of its triangles have no area")
    return places, triangles


def _shown(places: Floats, triangles: Ints, free: Ints, name: str, *, closed: bool) -> DisplayMesh:
    """Smooth where triangles meet flat, with a line and an edge in the light where they do not. free: sides (k, 2) that only one triangle has."""
    import trimesh

    body = trimesh.Trimesh(places, triangles, process=False)
    flat = cross(places[triangles[:, 1]] - places[triangles[:, 0]], places[triangles[:, 2]] - places[triangles[:, 0]])
    unit = flat / np.maximum(lengths(flat), 1e-300)[:, None]
    pairs, between = np.asarray(body.face_adjacency), np.asarray(body.face_adjacency_edges)
    level = np.sum(unit[pairs[:, 0]] * unit[pairs[:, 1]], axis=1) > CREASE
    groups = trimesh.graph.connected_component_labels(pairs[level], node_count=len(triangles))
    # a corner is one for each smooth patch that meets there
    corner = triangles.astype(np.int64) * (int(groups.max()) + 1) + groups[:, None]
    corners, drawn = np.unique(corner.ravel(), return_inverse=True)
    positions = places[corners // (int(groups.max()) + 1)]
    normals = np.zeros_like(positions)
    np.add.at(normals, drawn, np.repeat(flat, 3, axis=0))
    size = lengths(normals)
    lines = np.concatenate([between[~level], free])
    return DisplayMesh(
        positions=positions,
        normals=normals / np.where(size > 0, size, 1.0)[:, None],
        triangles=drawn.reshape(-1, 3).astype(np.uint32),
        face_of=np.zeros(len(positions), dtype=np.uint32),
        face_names=(name,),
        line_positions=places[lines].reshape(-1, 3),
        lines=np.arange(2 * len(lines), dtype=np.uint32).reshape(-1, 2),
        line_of=np.zeros(2 * len(lines), dtype=np.uint32),
        line_names=(f"{name}|{name}",) if len(lines) else (),
        closed=closed,
    )
