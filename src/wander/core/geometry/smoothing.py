"""Fair a row of places within a tolerance: of all curves that pass near enough, the one whose curvature changes least.

The curve through places p at parameters t is taken as the cubic spline whose second derivatives M follow from p linearly; its change of curvature,
the integral of |C'''|^2, is then the sum of |M[i+1] - M[i]|^2 / h[i], a quadratic form in p. Least under |p[i] - q[i]| <= within[i]: a convex
programme, solved by a barrier (Boyd and Vandenberghe, Convex Optimization, 11.3).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput

Bools = npt.NDArray[np.bool_]
CLOSE = 1e-7
"""How near to the least change, as a share of what there was, is near enough."""
STEEPER = 12.0
ROUNDS = 60


@dataclass(frozen=True)
class Faired:
    """points: (n, d). before, after: integrals of the squared change of curvature. moved: how far each place went (n,)."""

    points: Floats
    before: float
    after: float
    moved: Floats


def change_of_curvature(parameters: Floats, *, closed: bool = False) -> Floats:
    """The quadratic form (n, n) of the change of curvature of the cubic spline through places at rising parameters.

    parameters: (n,), n >= 4; of a closed one (n + 1,), the last of which is the first again. An open spline is let go at its ends.
    """
    h = np.diff(parameters)
    if len(parameters) < 4 or np.any(h <= 0):
        raise BadInput("fairing needs 4 places or more, at rising parameters")
    count = len(parameters) - 1 if closed else len(parameters)
    slopes = np.zeros((len(h), count))
    rows = np.arange(len(h))
    slopes[rows, rows] -= 1 / h
    slopes[rows, (rows + 1) % count] += 1 / h
    # the second derivatives M solve: h[i-1] M[i-1] + 2 (h[i-1] + h[i]) M[i] + h[i] M[i+1] = 6 (slope[i] - slope[i-1])
    inner = np.arange(count) if closed else np.arange(1, count - 1)
    system, right = np.eye(count), np.zeros((count, count))
    system[inner] = 0.0
    for i in inner:
        before, here = h[i - 1], h[i]
        system[i, i - 1] += before
        system[i, i] += 2 * (before + here)
        system[i, (i + 1) % count] += here
        right[i] = 6 * (slopes[i] - slopes[i - 1])
    bends = np.linalg.solve(system, right)
    steps = bends[(rows + 1) % count] - bends[rows]
    return np.asarray(steps.T @ (steps / h[:, None]), dtype=np.float64)


def faired(parameters: Floats, points: Floats, within: Floats, *, closed: bool = False) -> Faired:
    """Places (n, d) that stay within (n,) mm of those given, 0 for one that is held, and whose curve changes its curvature least."""
    form = change_of_curvature(parameters, closed=closed)
    before = _energy(form, points)
    free = within > 0
    size = float(np.ptp(points, axis=0).max(initial=0.0))
    if not free.any() or before <= 1e-18 * max(size, 1e-300) ** 2:
        return Faired(points.copy(), before, before, np.zeros(len(points)))
    found = _least(form, points, within, free, before)
    after = _energy(form, found)
    if after >= before:
        found, after = points.copy(), before
    return Faired(found, before, after, np.linalg.norm(found - points, axis=1))


def _energy(form: Floats, points: Floats) -> float:
    return float(np.einsum("id,ij,jd->", points, form, points))


def _least(form: Floats, points: Floats, within: Floats, free: Bools, scale: float) -> Floats:
    """Newton's method on share * energy - sum log(within^2 - moved^2), the share growing until the energy is all that counts."""
    inner, dims = form[np.ix_(free, free)] / scale, points.shape[1]
    pull = form[free] @ points / scale
    limit, count = within[free] ** 2, int(free.sum())
    moved = np.zeros((count, dims))
    share = 1.0
    while count / share > CLOSE:
        share *= STEEPER
        for _ in range(ROUNDS):
            room = limit - (moved**2).sum(axis=1)
            slope = 2 * share * (inner @ moved + pull) + 2 * moved / room[:, None]
            bend = np.kron(2 * share * inner, np.eye(dims))
            own = 2 * np.eye(dims) / room[:, None, None] + 4 * moved[:, :, None] * moved[:, None, :] / room[:, None, None] ** 2
            for i in range(count):
                bend[i * dims : (i + 1) * dims, i * dims : (i + 1) * dims] += own[i]
            step = -np.linalg.solve(bend, slope.ravel()).reshape(count, dims)
            gain = -float((slope * step).sum())
            if gain < 1e-10:
                break
            moved = moved + _how_far(inner, pull, limit, moved, step, share, gain) * step
    found = points.copy()
    found[free] += moved
    return found


def _how_far(inner: Floats, pull: Floats, limit: Floats, moved: Floats, step: Floats, share: float, gain: float) -> float:
    """How much of a step is taken: as much as stays inside and gets lower."""

    def worth(there: Floats) -> float:
        room = limit - (there**2).sum(axis=1)
        if np.any(room <= 0):
            return np.inf
        return share * float((there * (inner @ there + 2 * pull)).sum()) - float(np.log(room).sum())

    part, here = 1.0, worth(moved)
    while part > 1e-12 and worth(moved + part * step) > here - 1e-4 * part * gain:
        part /= 2
    return part
