"""Splines that follow a curve known only by its points, to a tolerance."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import NotConverged
from wander.core.geometry.space import SplineSpace

PLACES = np.array([0.06, 0.28, 0.5, 0.72, 0.94])
"""Where each span is checked, between the places at which it was met."""


def approximated(
    true: Callable[[Floats], Floats], breaks: Floats, tolerance: float, *, continuity: Mapping[float, int] | None = None, most_spans: int = 512
) -> tuple[Curve, float]:
    """The quintic that takes the values of `true`, (m,) to (m, d), and how far it strays from them, mm.

    breaks: rising, (b,), where to begin; spans that stray by more than the tolerance are halved. continuity: derivatives that agree at some of
    those, 4 where nothing is said, 0 for a bend.
    Raises NotConverged with the distance left when the spans run out.
    """
    known = continuity or {}
    rounds = 0
    while True:
        space = SplineSpace.from_breaks(5, breaks, [5 - min(4, known.get(float(b), 4)) for b in breaks[1:-1]])
        between = (breaks[:-1, None] + np.diff(breaks)[:, None] * PLACES).ravel()
        values = true(np.concatenate([space.greville, between]))
        controls = space.interpolate(values[: space.count])
        misses = np.linalg.norm(space.evaluate(controls, between) - values[space.count :], axis=1)
        bad = np.flatnonzero(misses.reshape(-1, len(PLACES)).max(axis=1) > tolerance)
        if len(bad) == 0:
            return Curve(space, controls), float(misses.max())
        rounds += 1
        if len(breaks) - 1 + len(bad) > most_spans:
            raise NotConverged("the fit", rounds, float(misses.max()))
        breaks = np.sort(np.concatenate([breaks, (breaks[bad] + breaks[bad + 1]) / 2]))
