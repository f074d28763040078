"""Whether a skin of triangles has a hole anywhere."""

from __future__ import annotations

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.shaping.display import DisplayMesh


def open_sides(mesh: DisplayMesh) -> Floats:
    """Middles (k, 3) of the sides of triangles that are not run as often one way as the other: none where the skin is closed.

    Corners are one where they are so to the last bit: nothing is moved to meet.
    """
    positions = np.ascontiguousarray(mesh.positions + 0.0)  # no -0.0
    _, corner = np.unique(positions.view([("", positions.dtype)] * 3).ravel(), return_inverse=True)
    triangles = corner[mesh.triangles.astype(np.int64)]
    # what has no area at a pole, or in a corner, closes nothing and opens nothing
    flat = (triangles == np.roll(triangles, -1, axis=1)).any(axis=1)
    sides = np.stack([triangles, np.roll(triangles, -1, axis=1)], axis=-1)[~flat].reshape(-1, 2)
    count = int(corner.max(initial=0)) + 1
    low, high = sides.min(axis=1), sides.max(axis=1)
    _, pair = np.unique(low * count + high, return_inverse=True)
    # where bodies touch along an edge more than two meet
    met = np.bincount(pair, weights=np.where(sides[:, 0] == low, 1.0, -1.0))[pair] == 0
    first = np.empty((count, 3))
    first[corner] = mesh.positions
    return np.asarray(first[sides[~met]].mean(axis=1))
