"""How sections are run together: monotone maps from a common parameter to each section's own places, through the joints that belong together."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.shaping.matching import NOTHING

if TYPE_CHECKING:
    from scipy.interpolate import PchipInterpolator


Walk = Callable[[Floats], Floats]


def walks_between(count: int, shares: Sequence[tuple[float, dict[int, float]]], *, closed: bool, stepwise: bool) -> list[Walk | None]:
    """For each section the map that takes the common parameter of each joint to its own place of it, rising; None where both are the same.

    shares: for each joint its common parameter and the place of each section that has it. stepwise: the pace may change at a joint.
    """
    found: list[Walk | None] = [None] * count
    alike: dict[tuple[float, ...], list[int]] = {}
    for section in range(count):
        pairs = [(u, own[section]) for u, own in shares if section in own]
        if any(abs(u - share) >= 1e-9 for u, share in pairs):
            alike.setdefault(tuple(u for u, _ in pairs), []).append(section)
    for common, sections in alike.items():
        u = np.array(common)
        own = np.array([[places[section] for section in sections] for _, places in shares if sections[0] in places])
        if closed:
            # round the whole girth only the joints belong together: where the parameter begins says nothing
            turns = np.arange(-2.0, 3.0)[:, None]
            u, own = (u + turns).ravel(), (own + turns[:, None]).reshape(-1, len(sections))
        else:
            ends = np.zeros((1, len(sections)))
            u, own = np.concatenate([[0.0], u, [1.0]]), np.concatenate([ends, own, ends + 1.0])
        if stepwise:
            for column, section in enumerate(sections):
                found[section] = Stepwise(u, own[:, column])
            continue
        from scipy.interpolate import PchipInterpolator

        together = PchipInterpolator(u, own)
        for column, section in enumerate(sections):
            found[section] = _Smooth(together, column)
    return found


def walked(walks: Sequence[Walk | None], u: Floats) -> list[Floats]:
    """Where each walk is at the common parameters u (m,); those that are known together are asked once."""
    asked: dict[int, Floats] = {}
    found = []
    for walk in walks:
        if isinstance(walk, _Smooth):
            if id(walk.together) not in asked:
                asked[id(walk.together)] = walk.together(u)
            found.append(asked[id(walk.together)][:, walk.column])
        else:
            found.append(u if walk is None else walk(u))
    return found


@dataclass(frozen=True)
class _Smooth:
    """One of several maps that take the common parameter of each joint to a section's own place of it, smooth between."""

    together: PchipInterpolator
    column: int

    def __call__(self, u: Floats) -> Floats:
        return np.asarray(self.together(u)[..., self.column], dtype=np.float64)


class Stepwise:
    """The map that takes the common parameter of each joint to the section's own place of it, linear between."""

    def __init__(self, u: Floats, own: Floats) -> None:
        self._u, self._own = u, own

    def __call__(self, u: Floats) -> Floats:
        return np.asarray(np.interp(u, self._u, self._own), dtype=np.float64)

    def back(self, own: Floats) -> Floats:
        """Parameters in [0, 1) of the section's own places (m,), counted round the girth."""
        low = float(self(np.zeros(1))[0])
        return np.asarray(np.interp(own + np.ceil(low - own - NOTHING), self._own, self._u), dtype=np.float64)
