"""Where something that rises along a parameter has come to given values."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from wander.core.geometry.basis import Floats

PARTS = 32
ROUNDS = 9


def where_reached(value: Callable[[Floats], Floats], domain: tuple[float, float], targets: Floats) -> Floats:
    """Parameters (m,) at which a rising function, (k,) to (k,), reaches its targets (m,), to 32**-9 of the domain.

    Every round parts the rest into 32 at a time: fewer and larger questions than halving. Beyond the ends it is the end.
    """
    low, high = (np.full(len(targets), end) for end in domain)
    rows = np.arange(len(targets))
    for _ in range(ROUNDS if len(targets) else 0):
        within = low[:, None] + (high - low)[:, None] * np.linspace(0.0, 1.0, PARTS + 1)
        below = (value(within.ravel()).reshape(within.shape) < targets[:, None])[:, 1:-1].sum(axis=1)
        low, high = within[rows, below], within[rows, below + 1]
    return (low + high) / 2
