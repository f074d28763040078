"""A band round a body, pushed out or in between two places along it, with soft shoulders."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput
from wander.core.geometry.surface import Surface
from wander.core.shaping.offset_skin import offset_skin
from wander.core.shaping.shell import Shell

LOOKED = 257
"""Places along a side at which the edges of the band are looked for."""


@dataclass(frozen=True)
class Band:
    """How far out a place is pushed, by how far along the unit axis (3,) it is: nothing up to `first` mm, `height` after the shoulder, nothing from
    `last` on.

    shoulder: mm along the axis, at either side; along it the height rises as x3 (10 - 15 x + 6 x2) does, so that curvature goes on.
    """

    axis: Floats
    first: float
    last: float
    height: float
    shoulder: float

    def at(self, places: Floats) -> tuple[Floats, Floats]:
        """Inwards, as skins are moved."""
        along = places @ self.axis
        rise, up = _step((along - self.first) / self.shoulder)
        fall, down = _step((self.last - along) / self.shoulder)
        slope = (up * fall - rise * down) / self.shoulder
        return -self.height * rise * fall, -self.height * slope[:, None] * self.axis

    def marks(self, surface: Surface) -> Floats:
        """Where a side crosses the four ends of the shoulders: the first, the mean and the last of those all round."""
        u, v = np.linspace(*surface.u.domain, 9), np.linspace(*surface.v.domain, LOOKED)
        along = surface.grid(u, v) @ self.axis
        found = []
        for level in (self.first, self.first + self.shoulder, self.last - self.shoulder, self.last):
            over = along > level
            row, k = np.nonzero(over[:, 1:] != over[:, :-1])
            if len(row):
                share = (level - along[row, k]) / (along[row, k + 1] - along[row, k])
                met = v[k] + share * (v[k + 1] - v[k])
                found += [met.min(), met.mean(), met.max()]
        inner = np.array(found)
        low, high = surface.v.domain
        apart = 1e-4 * (high - low)
        inner = np.sort(inner[(inner > low + apart) & (inner < high - apart)])
        return inner[np.concatenate([[True], np.diff(inner) > apart])] if len(inner) else inner


def _step(share: Floats) -> tuple[Floats, Floats]:
    """From 0 at 0 to 1 at 1 with two derivatives that go on, and its derivative."""
    x = np.clip(share, 0.0, 1.0)
    return x**3 * (10 - 15 * x + 6 * x * x), 30 * x * x * (1 - x) ** 2


def banded(skin: Shell, band: Band) -> Shell:
    """The skin with the band. Raises BadInput where the shoulders don't fit into it; else as offset_skin does."""
    if band.shoulder <= 0:
        raise BadInput("its shoulders have no length")
    if band.last - band.first < 2 * band.shoulder - 1e-9:
        raise BadInput("its shoulders are longer than there is room between its ends")
    return offset_skin(skin, [0.0] * len(skin.faces), (0.0, 0.0), lambda name: name, band)
