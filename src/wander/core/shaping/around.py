"""Places round a body: which line of the skin goes through what belongs together in all sections."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import towards_foot
from wander.core.geometry.curve import Curve, Together
from wander.core.geometry.errors import BadInput
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.vectors import lengths

LOOKED = np.linspace(0.0, 1.0, 65)
"""Where the lines across a side are looked at for the place of a point, before it is found exactly."""
ROUNDS = 20
CLOSE = 1e-9
"""The last step of Newton's method: what it leaves is its square."""
SAME_LINE = 2e-3
"""Share of the girth within which places lie on one line of the skin."""
NEAR = 1e-9


@dataclass(frozen=True)
class Across:
    """A side of the skin at its sections. space: over [0, 1] across it; rows: control points (k, n, 3). extent: its part of the girth."""

    space: SplineSpace
    rows: Floats
    closed: bool
    extent: float


def bounds_round(sides: Sequence[Across]) -> Floats:
    """Where round the girth, from 0 to 1, each side begins, and the last one ends, (s + 1,)."""
    bounds = np.concatenate([[0.0], np.cumsum([side.extent for side in sides])])
    return np.asarray(bounds / bounds[-1], dtype=np.float64)


def places_round(sides: Sequence[Across], points: Floats, *, open_: bool = False) -> Floats:
    """Where round the girth, from 0 to 1, the lines of the skin run on which points of the sections (k, j, 3) lie: (j,).

    open_: 1 is another end than 0. Raises BadInput where the points of one lie on no common line.
    """
    bounds = bounds_round(sides)
    nearest = [_nearest(side, points) for side in sides]
    # the first of those that are as near: at a corner both sides are
    best = np.argmax([miss <= np.min([m for _, m in nearest], axis=0) + NEAR for _, miss in nearest], axis=0)
    share = np.take_along_axis(np.stack([share for share, _ in nearest]), best[None], axis=0)[0]
    at = bounds[best] + share * (bounds[best + 1] - bounds[best])
    middle = at.mean(axis=0) if open_ else np.angle(np.exp(2j * np.pi * at).mean(axis=0)) / (2 * np.pi) % 1.0
    if np.abs((at - middle + 0.5) % 1.0 - 0.5).max() > SAME_LINE:
        raise BadInput("a rail or connecting line runs across a corner of the sections: let it follow the corner, or keep to one side of it")
    return np.asarray(middle, dtype=np.float64)


def side_at(bounds: Floats, where: float) -> tuple[int, float]:
    """The number of the side that has this place round the girth, and the parameter across it."""
    number = min(int(np.searchsorted(bounds, where + NEAR, side="right")) - 1, len(bounds) - 2)
    return number, float(np.clip((where - bounds[number]) / (bounds[number + 1] - bounds[number]), 0.0, 1.0))


def _nearest(side: Across, points: Floats) -> tuple[Floats, Floats]:
    """Where across a side its lines are nearest to points (k, j, 3), and how far off they are: (k, j) each."""
    seen = side.space.evaluate(side.rows.transpose(1, 0, 2), LOOKED).transpose(1, 0, 2)
    t = LOOKED[((seen[:, :, None] - points[:, None]) ** 2).sum(axis=3).argmin(axis=1)].ravel()
    lines = Together([Curve(side.space, row) for row in side.rows])
    which = np.repeat(np.arange(len(side.rows)), points.shape[1])
    goals = points.reshape(-1, 3)
    for _ in range(ROUNDS):
        place, slope, bend = (lines.at(which, t, derivative) for derivative in range(3))
        moved = t - np.clip(towards_foot(place - goals, slope, bend), -LOOKED[1], LOOKED[1])
        if not side.closed:
            moved = np.clip(moved, 0.0, 1.0)
        # a place at the seam may come round, from 1 to 0 and back: that is no way
        done = np.abs(moved - t).max() < CLOSE
        t = moved % 1.0 if side.closed else moved
        if done:
            break
    return t.reshape(points.shape[:2]), lengths(lines.at(which, t) - goals).reshape(points.shape[:2])
