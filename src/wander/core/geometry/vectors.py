"""Small vector algebra where numpy's general versions cost more than the arithmetic."""

from __future__ import annotations

import numpy as np

from wander.core.geometry.basis import Floats


def cross(a: Floats, b: Floats) -> Floats:
    """Cross product along the last axis: (..., 3)."""
    ax, ay, az = a[..., 0], a[..., 1], a[..., 2]
    bx, by, bz = b[..., 0], b[..., 1], b[..., 2]
    result = np.empty(np.broadcast_shapes(a.shape, b.shape))
    result[..., 0] = ay * bz - az * by
    result[..., 1] = az * bx - ax * bz
    result[..., 2] = ax * by - ay * bx
    return result


def lengths(a: Floats) -> Floats:
    """Euclidean length along the last axis: (...,)."""
    return np.asarray(np.sqrt(np.vecdot(a, a)), dtype=np.float64)
