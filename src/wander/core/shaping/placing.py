"""Where a section sits on the path that it is swept along."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.frame import Frame
from wander.core.geometry.vectors import cross
from wander.core.shaping.attitude import Attitude, Held, Normals, held, turned_with
from wander.core.shaping.path import Path

ACROSS = np.cos(np.radians(45.0))
"""A plane whose normal is nearer to the way of the path than this stands across it."""
LOOKED = 64
"""Places in each span of a path at which it is asked on which side of a plane it is."""


class Place(Enum):
    """Where the section is when it is swept."""

    DRAWN = "drawn"
    """Where it was drawn: the path passes it, or comes nearest to it."""
    MOVED = "moved"
    """Moved to the start of the path, and parallel to how it was drawn."""
    SQUARED = "squared"
    """Moved to the start of the path, and turned to stand square across it."""


@dataclass(frozen=True)
class Placing:
    """What takes the plane of the section into the frames of the path: (x, y) less the riding point, times matrix (3, 2), plus offset (3,).

    held: these frames. backwards: the section looks against the path.
    """

    held: Held
    riding: Floats
    matrix: Floats
    offset: Floats
    backwards: bool

    @property
    def forwards(self) -> Floats:
        """The normal (3,) of the section in the frames of the path, on the side to which it goes."""
        x, y = self.matrix.T
        return np.asarray(cross(x, y) * (-1.0 if self.backwards else 1.0), dtype=np.float64)

    def local(self, points: Floats) -> Floats:
        """Points (n, 2) of the section in the frames of the path, (n, 3)."""
        return np.asarray((points - self.riding) @ self.matrix.T + self.offset, dtype=np.float64)


def placed_on(
    path: Path, frame: Frame, riding: Floats, *, place: Place, attitude: Attitude, up: Floats, near: Floats, normals: Normals | None = None
) -> Placing:
    """riding: the point (2,) of the section that rides on the path. near: the middle of the section, in space (3,).

    Raises BadInput, RunsUpright, RunsIntoSurface.
    """
    slope = path.pieces[0].derivatives(0.0, 1)[1]
    way = slope / np.linalg.norm(slope)
    facing = 1.0 if float(frame.z @ way) >= 0 else -1.0
    if place is Place.SQUARED:
        across = cross(up, way)
        if abs(float(frame.z @ way)) < ACROSS and np.linalg.norm(across) > ACROSS:
            # drawn on a plane that does not stand across the path: its x is level, its y as upright as can be
            facing, x = 1.0, across
        else:
            x = facing * turned_with(frame.x, facing * frame.z, way)
        return Placing(held(path, attitude, x, up, normals), riding, np.array([[facing, 0.0], [0.0, 1.0], [0.0, 0.0]]), np.zeros(3), facing < 0)
    frames = held(path, attitude, frame.x, up, normals)
    piece, at = (0, 0.0) if place is Place.MOVED else _passed(path, frame, near)
    here, turns = frames.frames[piece](np.array([at]))
    matrix = turns[0].T @ np.stack([frame.x, frame.y], axis=1)
    offset = np.zeros(3) if place is Place.MOVED else turns[0].T @ (frame.lift(riding[None])[0] - here[0])
    slope = path.pieces[piece].derivatives(at, 1)[1]
    return Placing(frames, riding, matrix, offset, float(frame.z @ slope) < 0)


def _passed(path: Path, frame: Frame, near: Floats) -> tuple[int, float]:
    """The piece, and the parameter on it, where the path crosses the plane of the section nearest to it, or else comes nearest to it."""
    found: list[tuple[float, int, float]] = []
    for number, piece in enumerate(path.pieces):
        t, points = piece.sampled(LOOKED)
        side = (points - frame.origin) @ frame.z
        for i in np.flatnonzero(side[:-1] * side[1:] <= 0):
            low, high = t[i], t[i + 1]
            for _ in range(60):
                middle = (low + high) / 2
                if (float((piece(middle) - frame.origin) @ frame.z) > 0) == (side[i] > 0):
                    low = middle
                else:
                    high = middle
            at = float(t[i] if side[i] == 0 else t[i + 1] if side[i + 1] == 0 else (low + high) / 2)
            found.append((float(np.linalg.norm(piece(at) - near)), number, at))
    if not found:
        for number, piece in enumerate(path.pieces):
            at = float(closest_parameters(piece, near[None])[0])
            found.append((float(np.linalg.norm(piece(at) - near)), number, at))
    _, number, at = min(found)
    return number, at
