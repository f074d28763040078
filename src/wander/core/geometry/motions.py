"""Isometries of space: x -> matrix @ x + origin."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput


@dataclass(frozen=True)
class Motion:
    """matrix: orthogonal (3, 3). origin: (3,) mm."""

    matrix: Floats
    origin: Floats


def turn_about(point: Floats, direction: Floats, angle: float) -> Motion:
    """A turn by radians about the line through a point, by the right-hand rule (Rodrigues). Raises BadInput without a direction."""
    size = float(np.linalg.norm(direction))
    if size < 1e-12:
        raise BadInput("an axis needs a direction")
    x, y, z = direction / size
    k = np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])
    matrix = np.eye(3) + np.sin(angle) * k + (1 - np.cos(angle)) * k @ k
    # quarter turns are exact, so that what was flush stays flush
    rounded = np.round(matrix)
    matrix = np.where(np.abs(matrix - rounded) < 1e-15, rounded, matrix)
    return Motion(matrix, point - matrix @ point)


def mirrored_in(point: Floats, normal: Floats) -> Motion:
    """The mirror image in the plane through a point, square to the unit normal."""
    matrix = np.eye(3) - 2 * np.outer(normal, normal)
    rounded = np.round(matrix)
    matrix = np.where(np.abs(matrix - rounded) < 1e-15, rounded, matrix)
    return Motion(matrix, point - matrix @ point)


def shift(by: Floats) -> Motion:
    return Motion(np.eye(3), by)


def after(second: Motion, first: Motion) -> Motion:
    """The first motion, and then the second."""
    return Motion(second.matrix @ first.matrix, second.matrix @ first.origin + second.origin)


def back(motion: Motion) -> Motion:
    """The motion that undoes this one."""
    return Motion(motion.matrix.T, -motion.matrix.T @ motion.origin)
