"""Bodies that are only meshes: what is seen while something is dragged, until the exact body is there.

The booleans of meshes are robust and keep track of the face that each triangle came from (manifold3d). What was put together stays in their own form
until it has to be shown: of a row of joins and cuts only the last is drawn.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np

from wander.core.bodies.measures import Measures, of_triangles, together
from wander.core.bodies.moved_meshes import copied_mesh, keeps_axes, moved_mesh
from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.display import DisplayMesh, LineParts, merged


class NotClosed(ValueError):
    """A mesh that encloses nothing."""


CREASE = np.cos(np.radians(20.0))
"""Triangles of different faces that meet at less than this show no line between them."""


@dataclass(frozen=True)
class Drawn:
    """What the library made. solid: in its form, with normals beside its points. names: of the faces of each original, by its number there."""

    solid: Any
    names: Mapping[int, tuple[str, ...]]

    @cached_property
    def mesh(self) -> DisplayMesh:
        # the library turns the normals with what it turned, and round where it cut
        return _display(self.solid.to_mesh64(normal_idx=0), self.names)

    @cached_property
    def measures(self) -> Measures:
        x0, y0, z0, x1, y1, z1 = self.solid.bounding_box()
        made = self.solid.to_mesh64()
        corners = np.asarray(made.vert_properties)[np.asarray(made.tri_verts, dtype=np.int64), :3]
        return of_triangles(corners, np.array([x0, y0, z0]), np.array([x1, y1, z1]))


@dataclass(frozen=True)
class Image:
    """Something drawn, where it is and as it is called: a copy costs no more than its matrix. called: what follows each of its names."""

    of: Drawn
    matrix: Floats = field(default_factory=lambda: np.eye(3))
    origin: Floats = field(default_factory=lambda: np.zeros(3))
    called: tuple[str, ...] = ()

    @property
    def solid(self) -> Any:
        return self.of.solid.transform(np.column_stack([self.matrix, self.origin]))

    @property
    def names(self) -> dict[int, tuple[str, ...]]:
        follows = "".join(f"@{name}" for name in self.called)
        return {number: tuple(n + follows for n in names) for number, names in self.of.names.items()}

    @cached_property
    def mesh(self) -> DisplayMesh:
        mesh = moved_mesh(self.of.mesh, self.matrix, self.origin)
        for name in self.called:
            mesh = copied_mesh(mesh, name)
        return mesh

    @property
    def measures(self) -> Measures:
        moved = self.of.measures.moved(self.matrix, self.origin)
        if keeps_axes(self.matrix):
            return moved
        points = self.mesh.positions
        return replace(moved, low=points.min(axis=0), high=points.max(axis=0))


@dataclass(frozen=True)
class Rough:
    """Images that lie beside each other, taken as one."""

    images: tuple[Image, ...]

    @cached_property
    def mesh(self) -> DisplayMesh:
        return merged([image.mesh for image in self.images])

    @cached_property
    def measures(self) -> Measures:
        return together([image.measures for image in self.images])

    @cached_property
    def drawn(self) -> Drawn:
        """All of it as one, to be put together with others. Copies of one original get numbers of their own: their faces are called differently."""
        import manifold3d

        solids, names = [], dict[int, tuple[str, ...]]()
        for image in self.images:
            solid, own = image.solid, image.names
            if names.keys() & own.keys():
                again = drawn_of(image.mesh)
                solid, own = again.solid, dict(again.names)
            solids.append(solid)
            names |= own
        return Drawn(solids[0] if len(solids) == 1 else manifold3d.Manifold.compose(solids), names)

    def moved(self, matrix: Floats, origin: Floats) -> Rough:
        """The image under an isometry."""
        return Rough(tuple(replace(i, matrix=matrix @ i.matrix, origin=matrix @ i.origin + origin) for i in self.images))

    def copied(self, name: str) -> Rough:
        """The same with every face called `@name`."""
        return Rough(tuple(replace(image, called=(*image.called, name)) for image in self.images))


def gathered_roughly(parts: Sequence[Rough]) -> Rough:
    """Several of them taken as one, each where it is."""
    return Rough(tuple(image for part in parts for image in part.images))


def rough_of(mesh: DisplayMesh) -> Rough:
    """A mesh as something that can be joined and cut. Raises NotClosed."""
    return Rough((Image(drawn_of(mesh)),))


def drawn_of(mesh: DisplayMesh) -> Drawn:
    """A mesh in the form of the library. Raises NotClosed."""
    import manifold3d

    number = int(manifold3d.Manifold.reserve_ids(1))
    made = manifold3d.Mesh64(
        np.concatenate([mesh.positions, mesh.normals], axis=1),
        mesh.triangles.astype(np.uint64),
        run_index=np.array([0, 3 * len(mesh.triangles)], dtype=np.uint64),
        run_original_id=np.array([number], dtype=np.uint32),
        face_id=mesh.face_of[mesh.triangles[:, 0]].astype(np.uint64),
    )
    made.merge()
    solid = manifold3d.Manifold(made)
    if solid.status() != manifold3d.Error.NoError:
        raise NotClosed
    return Drawn(solid, {number: mesh.face_names})


def _display(made: Any, names: Mapping[int, tuple[str, ...]]) -> DisplayMesh:
    """The mesh with the names of its faces, normals looking outwards, and lines where faces meet."""
    triangles = np.asarray(made.tri_verts, dtype=np.int64)
    properties = np.asarray(made.vert_properties)
    runs = np.asarray(made.run_index, dtype=np.int64) // 3
    owners = np.repeat(np.asarray(made.run_original_id, dtype=np.int64), np.diff(runs))
    key = owners << 24 | np.asarray(made.face_id, dtype=np.int64)
    keys, face_of_triangle = np.unique(key, return_inverse=True)
    called = tuple(names[int(k) >> 24][int(k) & 0xFFFFFF] for k in keys)
    # each vertex belongs to one face: those of several are doubled
    corner = triangles.ravel() * len(keys) + np.repeat(face_of_triangle, 3)
    corners, corner_of = np.unique(corner, return_inverse=True)
    vertex, face = np.divmod(corners, len(keys))
    drawn = corner_of.reshape(-1, 3)
    positions, normals = properties[vertex, :3], properties[vertex, 3:6]
    flat = cross(positions[drawn[:, 1]] - positions[drawn[:, 0]], positions[drawn[:, 2]] - positions[drawn[:, 0]])
    size = lengths(normals)
    return DisplayMesh(
        positions=np.ascontiguousarray(positions),
        normals=normals / np.where(size > 0, size, 1.0)[:, None],
        triangles=drawn.astype(np.uint32),
        face_of=face.astype(np.uint32),
        face_names=called,
        **_lines(properties[:, :3], triangles, face_of_triangle, flat, made, called),
    )


def _lines(points: Floats, triangles: Ints, face: Ints, flat: Floats, made: Any, names: tuple[str, ...]) -> LineParts:
    """Where triangles of two faces meet at an angle: straight pieces, by the pair of names."""
    place = np.arange(len(points))
    place[np.asarray(made.merge_from_vert, dtype=np.int64)] = np.asarray(made.merge_to_vert, dtype=np.int64)
    corners = place[triangles]
    starts, ends = corners.ravel(), np.roll(corners, -1, axis=1).ravel()
    owner = np.repeat(np.arange(len(triangles)), 3)
    # only where the faces of neighbouring triangles differ can there be a line
    count = len(points)
    forward, backward = starts * count + ends, ends * count + starts
    order = np.argsort(forward)
    partner = order[np.minimum(np.searchsorted(forward[order], backward), len(order) - 1)]
    met = (forward[partner] == backward) & (starts < ends) & (face[owner] != face[owner[partner]])
    first, second = owner[met], owner[partner[met]]
    unit = flat / np.maximum(lengths(flat), 1e-300)[:, None]
    sharp = np.sum(unit[first] * unit[second], axis=1) < CREASE
    a, b = starts[met][sharp], ends[met][sharp]
    pairs = np.sort(np.stack([face[first[sharp]], face[second[sharp]]], axis=1), axis=1)
    keys, which = np.unique(pairs[:, 0] * len(names) + pairs[:, 1], return_inverse=True)
    return {
        "line_positions": np.stack([points[a], points[b]], axis=1).reshape(-1, 3),
        "lines": np.arange(2 * len(a), dtype=np.uint32).reshape(-1, 2),
        "line_of": np.repeat(which, 2).astype(np.uint32),
        "line_names": tuple("|".join(sorted((names[k // len(names)], names[k % len(names)]))) for k in keys),
    }
