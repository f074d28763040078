"""The one way in which tests compare numbers: everything to a stated tolerance, the worst miss in the message."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt


def assert_close(found: npt.ArrayLike, expected: npt.ArrayLike, *, within: float, relative: bool = False) -> None:
    """Every number within the tolerance; relative means to the largest expected size."""
    a, b = np.asarray(found, dtype=float), np.asarray(expected, dtype=float)
    assert a.shape == b.shape or a.ndim == 0 or b.ndim == 0, f"shapes differ: {a.shape} and {b.shape}"
    scale = max(float(np.abs(b).max()), 1e-300) if relative else 1.0
    worst = float(np.abs(a - b).max()) / scale
    assert np.isfinite(a).all(), "not all numbers are finite"
    assert worst <= within, f"off by {worst:.3g} where {within:.3g} is allowed"
