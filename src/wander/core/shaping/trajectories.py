"""Where the points of a section go along its path."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.shaping.attitude import Frames
from wander.core.shaping.laws import Laws
from wander.core.shaping.moving import moved
from wander.core.shaping.path import Path


@dataclass(frozen=True)
class Trajectories:
    """Where the points of a section go along one piece of the path: a motion."""

    path: Path
    number: int
    frames: Frames
    laws: Laws

    @property
    def curve(self) -> Curve:
        return self.path.pieces[self.number]

    def __call__(self, v: Floats) -> Floats:
        """How all of the section moves, (m, 4, 3) at parameters v (m,)."""
        places, turns = self.frames(v)
        return moved(places, self.lawed(v, turns))

    def lawed(self, v: Floats, turns: Floats) -> Floats:
        """Matrices (m, 3, 3), whose columns are the frames at parameters v (m,), turned and scaled by the laws."""
        laws = self.laws
        if laws.idle:
            return turns
        turn, width, height = (law[:, None] for law in laws.at(self.path.shares(self.number, v)))
        c, s = np.cos(turn), np.sin(turn)
        x, y, z = (turns[..., i] for i in range(3))
        return np.stack([width * (c * x + s * y), height * (c * y - s * x), z], axis=-1)
