"""How a section moves along what it is swept along: all its points by one affine map at each place, however many they are.

Points and maps are written as homogeneous ones: where the points of the section go is one product of matrices.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from wander.core.geometry.basis import Floats

Motion = Callable[[Floats], Floats]
"""At parameters (m,): where the middle of the frame goes, and below it the vectors that its x, y and z become, (m, 4, 3)."""


def moved(places: Floats, axes: Floats) -> Floats:
    """The maps (m, 4, 3) that take the middle to places (m, 3), and x, y and z to the columns of matrices (m, 3, 3)."""
    found = np.empty((len(places), 4, 3))
    found[:, 0] = places
    found[:, 1:] = axes.transpose(0, 2, 1)
    return found


def homogeneous(local: Floats) -> Floats:
    """Points (n, 3) as what a map of a motion is multiplied with, (n, 4)."""
    found = np.ones((len(local), 4))
    found[:, 1:] = local
    return found
