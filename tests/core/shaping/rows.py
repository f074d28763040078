"""Rows of sections for tests of skins, and what is known of the lines through them by other ways than their own."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise

import numpy as np
import numpy.typing as npt
from scipy.integrate import quad_vec

from wander.core.geometry.curve import Curve
from wander.core.shaping.fairing import along, swinging
from wander.core.shaping.skin import Skin

Row = npt.NDArray[np.float64]

ROWS = {
    "collar": ([0, 20, 21, 24, 25, 45], [10, 10, 30, 30, 10, 10]),
    "step": ([0, 40, 43, 80], [14, 14, 35, 35]),
    "flask": ([0, 14, 78, 132, 172, 200], [31, 36, 38, 33, 17.5, 17]),
    "a pair side by side": ([0, 30, 30.05, 60], [20, 30, 30.2, 22]),
    "up and down": ([0, 30, 60, 90, 120], [10, 30, 20, 25, 10]),
    "tip": ([0, 25, 60], [0, 20, 14]),
}


def rounds(radii: npt.ArrayLike, places: int = 24) -> Row:
    """Circles about one line, (k, m, 3)."""
    angle = 2 * np.pi * (np.arange(places) + 0.5) / places
    return np.asarray(radii, dtype=float)[:, None, None] * np.stack([np.cos(angle), np.sin(angle), 0 * angle], axis=-1)


def line(places: Row, shapes: Row, slack: Row | None = None, *, skin: Skin = Skin.CALM) -> Curve:
    """The lines of the skin along the body, all at once, (n, m * 3)."""
    found = along(places, shapes, swings=swinging(places), held={}, slack=slack, skin=skin)
    return Curve(found.space, found.shapes @ shapes.reshape(len(places), -1))


def beyond(places: Row, radii: Row, curve: Curve) -> float:
    """How far the radius leaves the range of its bay at most, as a share of the larger step beside it."""
    steps = np.pad(np.abs(np.diff(radii)), 1)
    worst = 0.0
    for i, (a, b) in enumerate(pairwise(places)):
        seen = curve(np.linspace(a, b, 400))[:, :3]
        found = np.linalg.norm(seen, axis=1)
        over = max(found.max() - radii[i : i + 2].max(), radii[i : i + 2].min() - found.min())
        worst = max(worst, over / max(steps[i : i + 3]))
    return worst


def bent(places: Row, values: Row, slopes: Row, seconds: Row, chords: Row) -> float:
    """Bending as the module says it, integrated by another way: (k,) numbers at the stations of one line."""
    steps = np.diff(places)
    share = np.exp(np.log(chords).mean()) / chords
    total = 0.0
    for i, h in enumerate(steps):
        curvature = curvature_of(values[i : i + 2], h * slopes[i : i + 2], h**2 * seconds[i : i + 2])
        bending = quad_vec(lambda t, c=curvature: c(t) ** 2, 0, 1, points=[1 / 3, 2 / 3])[0]
        total += share[i] * bending
    return float(total)


def curvature_of(values: Row, slopes: Row, seconds: Row) -> Callable[[Row], Row]:
    """Second derivative of the cubic in three parts on [0, 1] with these ends: its two inner numbers are sought from what they have to add up to."""

    def integrals(inner: Row) -> Row:
        t = np.linspace(0, 1, 3001)
        f = np.interp(t, [0, 1 / 3, 2 / 3, 1], [seconds[0], *inner, seconds[1]])
        return np.array([np.trapezoid(f, t), np.trapezoid((1 - t) * f, t)])

    zero = integrals(np.zeros(2))
    matrix = np.stack([integrals(e) - zero for e in np.eye(2)], axis=1)
    inner = np.linalg.solve(matrix, np.array([slopes[1] - slopes[0], values[1] - values[0] - slopes[0]]) - zero)
    return lambda t: np.interp(t, [0, 1 / 3, 2 / 3, 1], [seconds[0], *inner, seconds[1]])


def changed(places: Row, values: Row, states: Row, chords: Row) -> float:
    """How much the bending of a line changes along its chords, from the cubic in three parts as `curvature_of` finds it."""
    total = 0.0
    for i, h in enumerate(np.diff(places)):
        slopes, seconds = np.split(states, 2)
        curvature = curvature_of(values[i : i + 2], h * slopes[i : i + 2], h**2 * seconds[i : i + 2])
        at = np.array([0, 1 / 3, 2 / 3, 1])
        total += float((3 * np.diff(curvature(at)) ** 2).sum()) / chords[i] ** 5
    return total
