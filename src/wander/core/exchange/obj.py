"""OBJ: bodies as polygons, four-sided wherever their faces are grids, in millimetres."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wander.core.shaping.display import DisplayMesh
from wander.core.shaping.quads import QuadMesh, welded


@dataclass(frozen=True)
class Thing:
    """A body under its name, piece by piece."""

    name: str
    pieces: Sequence[QuadMesh]


def write_obj(things: Sequence[Thing]) -> bytes:
    """Each body as an object, each of its faces as a group; corners are counted from 1."""
    off = max((piece.off for thing in things for piece in thing.pieces), default=0.0)
    sides: dict[int, int] = {}
    for piece in (piece for thing in things for piece in thing.pieces):
        for count, number in piece.sides.items():
            sides[count] = sides.get(count, 0) + number
    told = ", ".join(f"{number} with {count} sides" for count, number in sorted(sides.items()))
    lines = [f"# mm; {sum(sides.values())} polygons: {told}", f"# within {off:.4g} mm of the shape"]
    first = 1
    for thing in things:
        lines.append(f"o {_word(thing.name)}")
        for piece in thing.pieces:
            lines += [f"v {x:.6f} {y:.6f} {z:.6f}" for x, y, z in piece.points.tolist()]
            last = None
            for polygon, owner in zip(piece.polygons, piece.owners, strict=True):
                if owner != last:
                    lines.append(f"g {_word(piece.names[owner])}")
                    last = owner
                lines.append("f " + " ".join(str(n + first) for n in polygon))
            first += len(piece.points)
    return ("\n".join(lines) + "\n").encode()


def _word(name: str) -> str:
    """In this format a name ends at a space."""
    return "_".join(name.split()) or "body"


def of_triangles(mesh: DisplayMesh, off: float) -> QuadMesh:
    """A mesh of triangles, each place once. off: what it was made within, mm."""
    points, owner = welded(mesh.positions)
    corners = owner[mesh.triangles.astype(np.intp)]
    whole = (corners != np.roll(corners, 1, axis=1)).all(axis=1)
    faces = mesh.face_of[mesh.triangles[whole, 0]]
    return QuadMesh(points, [(a, b, c) for a, b, c in corners[whole].tolist()], faces.tolist(), mesh.face_names, off)
