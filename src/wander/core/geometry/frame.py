"""Placed planes."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.vectors import cross


@dataclass(frozen=True)
class Frame:
    """A right-handed frame in space: origin in mm (3,), unit axes x, y (3,); z = x cross y looks at the viewer."""

    origin: Floats
    x: Floats
    y: Floats

    @cached_property
    def z(self) -> Floats:
        return cross(self.x, self.y)

    def lift(self, points: Floats) -> Floats:
        """Points in the plane (..., 2) to points in space (..., 3)."""
        return self.origin + points[..., :1] * self.x + points[..., 1:2] * self.y

    def drop(self, points: Floats) -> Floats:
        """Points in space (..., 3) seen square on: plane coordinates (..., 2)."""
        offset = points - self.origin
        return np.stack([offset @ self.x, offset @ self.y], axis=-1)

    def moved(self, distance: float) -> Frame:
        """The parallel frame, `distance` mm along its normal."""
        return Frame(self.origin + distance * self.z, self.x, self.y)


_X, _Y, _Z = np.eye(3)
BASE_FRAMES = {
    "top": Frame(np.zeros(3), _X, _Y),
    "front": Frame(np.zeros(3), _X, _Z),
    "side": Frame(np.zeros(3), _Y, _Z),
}
"""The three planes of the world, named by the view that sees them square on: normals +z, -y, +x."""
