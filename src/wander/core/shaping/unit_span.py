"""A bay of a skin by its own length: a cubic in three parts over [0, 1], from value, slope and second derivative at its start, then at its end."""

from __future__ import annotations

import numpy as np

from wander.core.geometry.basis import Floats

INNER = np.array([1 / 3, 2 / 3])
"""Where the two knots between neighbouring stations stand."""
LOOKED = (1 - np.cos(np.pi * np.arange(1, 32) / 32)) / 2
"""Places along a bay at which the swelling is looked at, closer towards the stations."""


def _curvatures() -> Floats:
    """Second derivatives at 0, 1/3, 2/3, 1 of a unit span, (4, 6), from value, slope, second derivative at its start, then at its end.

    They are linear between. The slopes at both ends say what they add up to, the values where their middle is.
    """
    first_moment = np.array([8, 12, 6, 1]) / 54  # of the hats, about the end
    both = np.stack([np.full(4, 1 / 3) * [0.5, 1, 1, 0.5], first_moment])
    asked = np.array([[0, -1, 0, 0, 1, 0], [-1, -1, 0, 1, 0, 0]], dtype=np.float64)
    asked[:, [2, 5]] -= both[:, [0, 3]]
    inner = np.linalg.solve(both[:, 1:3], asked)
    return np.stack([np.eye(6)[2], *inner, np.eye(6)[5]])


CURVATURES = _curvatures()


def values(at: Floats) -> Floats:
    """Values (m, 6) at places (m,) of a unit span, from the same six: the second derivative integrated twice."""
    # over each third f'' is linear: what it adds to the value at t is the moment about t of its part before t
    low = np.array([0.0, *INNER])
    length = np.clip(at[:, None] - low, 0.0, 1 / 3)
    lever = np.maximum(at[:, None] - low, 0.0)
    flat = lever * length - length**2 / 2
    rising = 3 * (lever * length**2 / 2 - length**3 / 3)
    weights = np.zeros((len(at), 4))
    weights[:, :3] += flat - rising
    weights[:, 1:] += rising
    found = np.asarray(weights @ CURVATURES, dtype=np.float64)
    found[:, 0] += 1.0
    found[:, 1] += at
    return found


VALUES = values(LOOKED)
IN_CONTROLS = values(INNER) - CURVATURES[1:3] / 54
"""Control points that stand for the two knots of a unit span, from the same six."""
BUMP = float(np.abs(values(np.linspace(0, 1, 201))[:, 1]).max())
"""How far a slope of one lifts a unit span that is otherwise flat."""

HATS = np.array([[2, 1], [1, 2]]) / 18
BENDING = np.sum([CURVATURES[j : j + 2].T @ HATS @ CURVATURES[j : j + 2] for j in range(3)], axis=0)
"""The form (6, 6) of bending over a unit span: the integral of the squared second derivative."""
CHANGE = 3 * np.diff(CURVATURES, axis=0).T @ np.diff(CURVATURES, axis=0)
"""The form (6, 6) of how bending changes: the integral of the squared third."""
