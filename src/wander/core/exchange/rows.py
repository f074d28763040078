"""Rows of points that stand for curves: where they have corners, which of them are needed, and the curve round all of them."""

from __future__ import annotations

import itertools
from collections.abc import Callable

import numpy as np
import numpy.typing as npt

from wander.core.exchange.fewest import fewest
from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import chained
from wander.core.geometry.errors import NotConverged
from wander.core.geometry.interpolate import closed_through, open_through
from wander.core.geometry.space import SplineSpace

MEETS = 1e-6
MOST_FITTED = 400
STRAIGHT = 0.1
"""Of the tolerance: points that leave the line between their ends by less are on it."""
CORNER = 32.0
"""A turn times the shorter of the two sides beside it (mm), as a multiple of the chord: eight where an arc goes on, four times that to be sure."""
SHARP = float(np.radians(35))
"""By more than this nothing smooth turns at once, however short its sides are."""
PLACES = 96
"""Places along a run, at the least."""


def distinct(points: Floats) -> Floats:
    """Without points that repeat the one before."""
    keep = np.append(True, np.linalg.norm(np.diff(points, axis=0), axis=1) > MEETS)
    return np.asarray(points[keep])


def between_corners(points: Floats, closed: bool) -> list[tuple[Floats, bool]]:
    """Runs of points between places where the outline turns by more than SHARP at once, far more than on either side of it."""
    if len(points) < 4:
        return [(points, closed and len(points) > 2)]
    ring = np.concatenate([points[-1:], points, points[:1]]) if closed else points
    steps = np.diff(ring, axis=0)
    angles = np.arctan2(steps[:, 1], steps[:, 0])
    turns = np.abs((np.diff(angles) + np.pi) % (2 * np.pi) - np.pi)
    beside = np.pad(turns, 1, mode="wrap" if closed else "edge")
    usual = np.maximum(beside[:-2], beside[2:])
    sharp = (turns > SHARP) & (turns > 2.5 * usual)
    if not closed:
        stops = [0, *(np.flatnonzero(sharp) + 1).tolist(), len(points) - 1]
        return [(points[a : b + 1], False) for a, b in itertools.pairwise(stops) if b > a]
    return _parted(points, np.flatnonzero(sharp))


def _parted(points: Floats, corners: npt.NDArray[np.intp]) -> list[tuple[Floats, bool]]:
    """Runs of a closed row of points between its corners; all of it, closed, where it has none."""
    if len(corners) == 0:
        return [(points, True)]
    rolled = np.roll(points, -int(corners[0]), axis=0)
    rolled = np.concatenate([rolled, rolled[:1]])
    stops = [*(corners - corners[0]).tolist(), len(points)]
    return [(rolled[a : b + 1], False) for a, b in itertools.pairwise(stops)]


def thinned(points: Floats, tolerance: float, *, closed: bool) -> tuple[list[int], float]:
    """Which of the points (m, 2) a spline has to go through to pass all of them within the tolerance, and how far it then misses any.

    Points are taken in where it misses most, until it does not.
    """
    count = len(points)
    through: Callable[[Floats], Curve] = closed_through if closed else open_through
    least = 8 if closed else 3
    if count <= least:
        return list(range(count)), 0.0
    whole = through(points)
    knots = whole.space.breaks[: count + closed]
    # half-way between its points a curve through all of them tells where the outline runs
    targets = np.empty((2 * (count if closed else count - 1), 2))
    targets[::2], targets[1::2] = points[: len(targets) // 2], whole((knots[:-1] + knots[1:]) / 2)[: len(targets) // 2]
    chosen = sorted(set(np.linspace(0, count - (1 if closed else 0), least + (1 if closed else 0)).astype(int).tolist()[: least if closed else None]))
    chosen = [min(i, count - 1) for i in chosen]
    while True:
        halves = _misses(through(points[chosen]), targets).reshape(-1, 2).max(axis=1)
        misses = np.zeros(count)
        misses[: len(halves)] = halves
        misses[1 : len(halves) + 1] = np.maximum(misses[1 : len(halves) + 1], halves[: count - 1])
        if misses.max() <= tolerance or len(chosen) >= min(count, MOST_FITTED):
            return chosen, float(misses.max())
        # the worst place of every stretch that misses: far fewer rounds than one at a time
        new = []
        stops = [*chosen, chosen[0] + count] if closed else chosen
        for a, b in itertools.pairwise(stops):
            between = np.arange(a + 1, b) % count
            if len(between) and misses[between].max() > tolerance:
                new.append(int(between[misses[between].argmax()]))
        if not new:
            # the nearest place lies on another stretch: take what is left of the widest gap
            widest = max(itertools.pairwise(stops), key=lambda pair: pair[1] - pair[0])
            if widest[1] - widest[0] < 2:
                return chosen, float(misses.max())
            new = [(widest[0] + widest[1]) // 2 % count]
        chosen = sorted({*chosen, *new})


def _misses(curve: Curve, points: Floats) -> Floats:
    return np.linalg.norm(curve(closest_parameters(curve, points)) - points, axis=1)


def closed_curve(points: Floats, tolerance: float, *, chord: float) -> Curve:
    """The closed curve over [0, 1] near a closed polygon (m, 2), within the tolerance (mm): straight and smooth between its corners.

    chord: by how much the polygon leaves what it stands for, mm. Where that is smooth it turns the less the longer its sides are; where it turns by
    more there is a corner.
    """
    ring = distinct(points)
    sides = np.roll(ring, -1, axis=0) - ring
    long = np.linalg.norm(sides, axis=1)
    angles = np.arctan2(sides[:, 1], sides[:, 0])
    turns = np.abs((angles - np.roll(angles, 1) + np.pi) % (2 * np.pi) - np.pi)
    bends = turns * np.minimum(long, np.roll(long, 1))
    runs = _parted(ring, np.flatnonzero((bends > CORNER * chord) | (turns > SHARP)))
    if runs[0][1]:
        dense = _filled(np.concatenate([ring, ring[:1]]))[:-1]
        chosen, _ = thinned(dense, tolerance, closed=True)
        return closed_through(dense[chosen])
    return chained([_run(run, tolerance) for run, _ in runs])


def _filled(points: Floats) -> Floats:
    """With places on the long ones of its sides, so that a curve near all of them does not swing out between two."""
    long = np.linalg.norm(np.diff(points, axis=0), axis=1)
    parts = np.maximum(np.ceil(long / (long.sum() / PLACES)).astype(int), 1)
    found = [a + np.arange(count)[:, None] / count * (b - a) for a, b, count in zip(points[:-1], points[1:], parts, strict=True)]
    return np.concatenate([*found, points[-1:]])


def _run(points: Floats, tolerance: float) -> Curve:
    """A curve near an open row of points, from its first to its last."""
    chord = points[-1] - points[0]
    size = float(np.hypot(*chord)) or 1.0
    off = points - points[0]
    if np.abs(chord[0] * off[:, 1] - chord[1] * off[:, 0]).max() <= STRAIGHT * tolerance * size:
        return Curve(SplineSpace.from_breaks(1, np.array([0.0, 1.0])), points[[0, -1]])
    dense = _filled(points)
    try:
        return fewest(dense, tolerance)[0]
    except NotConverged:
        chosen, _ = thinned(dense, tolerance, closed=False)
        return open_through(dense[chosen])
