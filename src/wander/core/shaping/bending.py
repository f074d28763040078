"""How much a skin through a row of sections is bent, and how its bending changes: forms over what it has at each station.

A state is value, slope and second derivative at a station; between two the skin is the span of `unit_span`.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property

import numpy as np

from wander.core.geometry.basis import Floats, Ints
from wander.core.shaping.unit_span import BENDING, CHANGE

SHORTEST = 0.02
"""A bay counts for the change of bending as no shorter than this share of the longest."""

ROUGH = 1e-9
"""How bending changes may be all there is to a measure, but for this share: what turns evenly counts a little too."""


def units_of(steps: Floats) -> Floats:
    """What takes value, slope and second derivative at both ends of each bay to a unit span, (k - 1, 6)."""
    return np.stack([np.ones_like(steps), steps, steps**2] * 2, axis=1)


def by_bay(states: Floats) -> Floats:
    """What belongs to each bay of rows (3 k, n) by station: (k - 1, 6, n)."""
    return states[3 * np.arange(len(states) // 3 - 1)[:, None] + np.arange(6)]


def scales(steps: Floats, free: Ints) -> Floats:
    """What makes slopes and second derivatives lengths, by the shorter bay beside their station. free: their numbers among all states."""
    shorter = np.minimum(np.append(steps, np.inf), np.append(np.inf, steps))
    return np.asarray(shorter[free // 3] ** -(free % 3), dtype=np.float64)


def change(steps: Floats, chords: Floats) -> Floats:
    """The form over all states of how bending changes along the chords (k - 1,), (3 k, 3 k)."""
    return weighed(CHANGE, steps, np.maximum(chords, SHORTEST * chords.max()) ** 5)


def weighed(of: Floats, steps: Floats, sizes: Floats) -> Floats:
    """A form (6, 6) of a unit span over all states, (3 k, 3 k); it counts for less in a bay of more size (k - 1,)."""
    k, units = len(steps) + 1, units_of(steps)
    share = (np.exp(np.log(sizes).mean()) / sizes)[:, None, None]
    bent = (units[:, :, None] * units[:, None]) * (share * of)
    form, bays = np.zeros((k, 3, k, 3)), np.arange(k - 1)
    parts = bent.reshape(k - 1, 2, 3, 2, 3)
    for a in (0, 1):
        for b in (0, 1):
            form[bays + a, :, bays + b] += parts[:, a, :, b]
    return form.reshape(3 * k, 3 * k)


class Row:
    """A row of sections, and how much a skin through them is bent.

    A state is what a skin has at the stations: value, slope and second derivative of each in turn, (3 k, k + 2), as combinations of the shapes and
    of the slopes that may be given at the two ends. What is free of it, slopes that are not given and second derivatives, is a choice (q, k + 2),
    in a measure in which bending is length.
    """

    def __init__(self, steps: Floats, shapes: Floats, held: Mapping[int, Floats]) -> None:
        k, m = shapes.shape[:2]
        self.steps, self.shapes = steps, shapes
        self.given = {index % k: slope for index, slope in held.items()}
        self.data = np.concatenate([shapes, np.zeros((2, m, 3))])
        self._fixed = np.zeros((3 * k, k + 2))
        self._fixed[3 * np.arange(k), np.arange(k)] = 1.0
        open_ = np.ones((k, 3), dtype=bool)
        open_[:, 0] = False
        for index, slope in self.given.items():
            # by its bay, so that all rows are lengths
            column, step = k + (index != 0), steps[0 if index == 0 else -1]
            self.data[column] = slope * step
            self._fixed[3 * index + 1, column] = 1 / step
            open_[index, 1] = False
        free = np.flatnonzero(open_)
        scale = scales(steps, free)
        self.units = units_of(steps)
        moved = np.diff(shapes, axis=0).reshape(k - 1, -1)
        self._chord = np.sqrt(steps**2 + (moved * moved).sum(axis=1) / m)
        form = weighed(BENDING, steps, self._chord)
        root = np.linalg.inv(np.linalg.cholesky(form[free[:, None], free] * (scale[:, None] * scale)))
        self._free = np.zeros((3 * k, len(free)))
        self._free[free] = scale[:, None] * root.T
        self.loosest = -np.asarray(self._free.T @ (form @ self._fixed), dtype=np.float64)
        self.lifted = by_bay(self._free) * self.units[..., None]

    @cached_property
    def evenest(self) -> Floats:
        """The choice in which bending changes least along the chord."""
        return np.asarray(np.linalg.solve(self._changing, -(self._free.T @ (self._change @ self._fixed))), dtype=np.float64)

    @cached_property
    def _change(self) -> Floats:
        return change(self.steps, self._chord)

    @cached_property
    def _changing(self) -> Floats:
        return np.asarray(self._free.T @ self._change @ self._free, dtype=np.float64)

    def measured(self, share: float) -> Floats:
        """Steps of a choice, (q, q), in a measure in which so much of a length is how bending changes, and the rest bending."""
        form = share * len(self._changing) / np.trace(self._changing) * self._changing
        form.flat[:: len(form) + 1] += max(1.0 - share, ROUGH)
        return np.asarray(np.linalg.inv(np.linalg.cholesky(form)).T, dtype=np.float64)

    def bays(self, choice: Floats) -> Floats:
        """Value, slope and second derivative at the start and the end of each bay, by its own length, (k - 1, 6, k + 2)."""
        return by_bay(self._fixed + self._free @ choice) * self.units[..., None]

    def states(self, choice: Floats) -> Floats:
        """By the slopes as they were given."""
        found = self._fixed + self._free @ choice
        found[:, -2:] *= self.steps[[0, -1]]
        return found
