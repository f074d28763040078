"""Placed planes."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput
from wander.core.geometry.vectors import cross


@dataclass(frozen=True)
class Frame:
    """A right-handed frame in space: origin in mm (3,), unit axes x, y (3,); z = x cross y looks at the viewer."""

    origin: Floats
    x: Floats
    y: Floats

    @cached_property
    def z(self) -> Floats:
        # plain numbers: for one pair of vectors an array costs more than the arithmetic
        (ax, ay, az), (bx, by, bz) = self.x.tolist(), self.y.tolist()
        return np.array([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx])

    @cached_property
    def _axes(self) -> Floats:
        return np.array([self.x, self.y])

    def lift(self, points: Floats) -> Floats:
        """Points in the plane (..., 2) to points in space (..., 3)."""
        return points[..., :2] @ self._axes + self.origin

    def drop(self, points: Floats) -> Floats:
        """Points in space (..., 3) seen square on: plane coordinates (..., 2)."""
        offset = points - self.origin
        return np.stack([offset @ self.x, offset @ self.y], axis=-1)

    def moved(self, distance: float) -> Frame:
        """The parallel frame, `distance` mm along its normal."""
        return Frame(self.origin + distance * self.z, self.x, self.y)


def facing(origin: Floats, normal: Floats, x: Floats) -> Frame:
    """The frame at a point with the given normal and, as near as can be, the given x; neither needs unit length. Raises BadInput."""
    size = float(np.linalg.norm(normal))
    if size < 1e-9:
        raise BadInput("these directions make no plane: the points lie on one line, or on each other")
    flat = x - (x @ normal) / size**2 * normal
    if np.linalg.norm(flat) < 1e-9:
        raise BadInput("these directions make no plane: the points lie on one line, or on each other")
    z, across = normal / size, flat / np.linalg.norm(flat)
    return Frame(np.asarray(origin, dtype=np.float64), across, cross(z, across))


def turned_about(frame: Frame, point: Floats, direction: Floats, angle: float) -> Frame:
    """The frame turned about a line by radians, by the right-hand rule (Rodrigues)."""
    k = direction / np.linalg.norm(direction)

    def turn(v: Floats) -> Floats:
        return v * np.cos(angle) + cross(k, v) * np.sin(angle) + k * float(k @ v) * (1 - np.cos(angle))

    return Frame(point + turn(frame.origin - point), turn(frame.x), turn(frame.y))


_X, _Y, _Z = np.eye(3)
BASE_FRAMES = {
    "top": Frame(np.zeros(3), _X, _Y),
    "front": Frame(np.zeros(3), _X, _Z),
    "side": Frame(np.zeros(3), _Y, _Z),
}
"""The three planes of the world, named by the view that sees them square on: normals +z, -y, +x."""
