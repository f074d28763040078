"""What rails do to a skin, for what lies inside it: holes are taken along by the affine map that comes nearest to how the outline moves.

So a hole stays where it lies in its section, whether rails move, stretch, shear or turn this; what a rail does to the skin beside it alone is no
affair of the hole's.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.surface import Surface
from wander.core.geometry.tolerances import Tolerances
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.carrying import bends_of, carried
from wander.core.shaping.shell import NamedFace

ROUND = (np.arange(24) + 0.5) / 24
"""Places across a side at which it is asked how the outline moves."""


@dataclass(frozen=True)
class Led:
    """The sides of a skin before its rails have drawn it onto them, and after; kinks: parameters along the body at which it bends since."""

    before: tuple[Surface, ...]
    after: tuple[Surface, ...]
    kinks: tuple[float, ...]

    def taken_along(self, faces: Sequence[NamedFace], tolerances: Tolerances) -> list[NamedFace]:
        """Sides of the skin of a hole, which have the same parameters along the body, where the outline takes them."""
        found, _ = carried(faces, self._carry, bends_of(self.after[0].v), tolerances)
        # at both ends nothing moves, to the last bit
        return [
            replace(face, surface=replace(face.surface, points=_ends_of(old.surface.points, face.surface.points)))
            for old, face in zip(faces, found, strict=True)
        ]

    def _carry(self, v: Floats, points: Floats) -> Floats:
        before, after = (np.concatenate([side.grid(ROUND, v) for side in sides]).transpose(1, 0, 2) for sides in (self.before, self.after))
        steps = lengths(np.roll(before, -1, axis=1) - before)
        weights = steps + np.roll(steps, 1, axis=1)
        weights /= weights.sum(axis=1, keepdims=True)
        middle, moved = (np.einsum("mp,mpc->mc", weights, part) for part in (before, after - before))
        offset = before - middle[:, None]
        x, y = _axes(offset)
        flat = np.stack([np.einsum("mpc,mc->mp", offset, axis) for axis in (x, y)], axis=2)
        gram = np.einsum("mp,mpa,mpb->mab", weights, flat, flat)
        linear = np.linalg.solve(gram, np.einsum("mp,mpa,mpc->mac", weights, flat, after - before))
        own = np.stack([np.einsum("mnc,mc->mn", points - middle[:, None], axis) for axis in (x, y)], axis=2)
        return np.asarray(points + moved[:, None] + own @ linear, dtype=np.float64)


def _axes(offset: Floats) -> tuple[Floats, Floats]:
    """Two axes (m, 3) of the planes in which outlines (m, p, 3) lie, about their middles. Which two makes no difference."""
    normal = np.sum(cross(offset, np.roll(offset, -1, axis=1)), axis=1)
    normal /= lengths(normal)[:, None]
    least = np.eye(3)[np.abs(normal).argmin(axis=1)]
    x = cross(normal, least)
    x /= lengths(x)[:, None]
    return x, cross(normal, x)


def _ends_of(old: Floats, new: Floats) -> Floats:
    points = new.copy()
    points[:, 0], points[:, -1] = old[:, 0], old[:, -1]
    return points
