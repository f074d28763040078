"""Where the points of a section go along its path."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.shaping.attitude import Frames
from wander.core.shaping.laws import Laws
from wander.core.shaping.path import Path


@dataclass(frozen=True)
class Trajectories:
    """Where the points of a section go along one piece of the path."""

    path: Path
    number: int
    frames: Frames
    laws: Laws

    @property
    def curve(self) -> Curve:
        return self.path.pieces[self.number]

    def __call__(self, v: Floats, local: Floats) -> Floats:
        """Points (m, n, 3) at parameters v (m,), of points of the section in its frames, (m, n, 3) or (n, 3)."""
        places, turns = self.frames(v)
        lawed = self._lawed(v, np.broadcast_to(local, (len(v), *local.shape[-2:])))
        return np.asarray(places[:, None] + lawed @ turns.transpose(0, 2, 1), dtype=np.float64)

    def _lawed(self, v: Floats, local: Floats) -> Floats:
        laws = self.laws
        if laws.idle:
            return local
        turn, width, height = laws.at(self.path.shares(self.number, v))
        c, s = np.cos(turn)[:, None], np.sin(turn)[:, None]
        x, y = width[:, None] * local[..., 0], height[:, None] * local[..., 1]
        return np.stack([c * x - s * y, s * x + c * y, local[..., 2]], axis=-1)
