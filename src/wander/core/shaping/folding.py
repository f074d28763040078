"""Where a section that is swept reaches further than the path bends: there the skin would run back through itself."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.spatial import ConvexHull

from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.trajectories import Trajectories

LOOKED = 8
"""Places in each span of a path."""
FLAT = 1e-9
"""Of its length: an outline that is no wider is a straight line."""
STEP = 1e-5
"""Of the parameter: between two places whose frames are compared."""


PLACES = (1 - np.cos(np.pi * (np.arange(LOOKED) + 0.5) / LOOKED)) / 2
"""Where: closer to the ends of a span, at which bends often begin."""


@dataclass(frozen=True)
class Fold:
    """A run of a path along which the skin folds, at its worst. place: on the path (3,). share: of its length. middle: of the bend (3,).

    begins, ends: shares of the length between which it folds.

    radius: of the path there, mm, without end where it is straight. reach: how far the section reaches towards the middle of the bend, mm: the least
    radius that would do.
    """

    place: Floats
    share: float
    middle: Floats
    radius: float
    reach: float
    begins: float
    ends: float


def folds_along(trajectories: Sequence[Trajectories], outline: Floats, normal: Floats) -> list[Fold]:
    """One for each run of the path that is too tight, in their order.

    outline: points of the section in the frames of the path, (n, 3). normal: of its plane in these, looking forwards (3,). It folds where a point of
    the outline does not go forwards through the plane of the section.
    """
    found = []
    outline = outline[_outermost(outline)]
    for trajectory in trajectories:
        breaks = trajectory.curve.space.breaks
        t = (breaks[:-1, None] + np.diff(breaks)[:, None] * PLACES).ravel()
        forwards = _forwards(trajectory, t, outline, normal)
        if forwards.min() > 0:
            # it may fold between two places: looked at where it comes nearest to it
            least = int(np.argmin(forwards))
            close = np.linspace(t[max(least - 1, 0)], t[min(least + 1, len(t) - 1)], 4 * LOOKED)
            forwards = np.concatenate([forwards, _forwards(trajectory, close, outline, normal)])
            t = np.concatenate([t, close])
            order = np.argsort(t)
            t, forwards = t[order], forwards[order]
        bad = forwards <= 0
        starts = np.flatnonzero(bad & ~np.append(False, bad[:-1]))
        for start in starts.tolist():
            end = start + int(np.argmin(np.append(bad[start:], False)))
            worst = start + int(np.argmin(forwards[start:end]))
            about = t[[worst, max(start - 1, 0), min(end, len(t) - 1)]]
            found.append(_fold(trajectory, float(t[worst]), outline, trajectory.path.shares(trajectory.number, about)))
    return found


def _outermost(outline: Floats) -> Ints:
    """Numbers of the points (n, 3) that any plane can meet first: of a plane outline the hull of it."""
    flat = outline - outline.mean(axis=0)
    _, sizes, axes = np.linalg.svd(flat, full_matrices=False)
    across = axes[:2]
    if sizes[1] < FLAT * sizes[0]:
        return np.array([(flat @ axes[0]).argmin(), (flat @ axes[0]).argmax()])
    return np.asarray(ConvexHull(flat @ across.T).vertices)


def _forwards(trajectory: Trajectories, t: Floats, outline: Floats, normal: Floats) -> Floats:
    """How far the point that is slowest goes through the plane of the section while the path goes one (m,), mm by mm."""
    before, after = (trajectory(np.clip(t + step, 0.0, 1.0), outline) for step in (-STEP, STEP))
    _, turns = trajectory.frames(t)
    plane = turns @ normal
    moved = ((after - before) @ plane[:, :, None]).min(axis=(1, 2))
    gone = lengths(trajectory.curve(np.clip(t + STEP, 0.0, 1.0)) - trajectory.curve(np.clip(t - STEP, 0.0, 1.0)))
    return np.asarray(moved / gone, dtype=np.float64)


def _fold(trajectory: Trajectories, t: float, outline: Floats, shares: Floats) -> Fold:
    """shares: of the length at its worst place, where it begins and where it ends."""
    place, first, second = trajectory.curve.derivatives(t, 2)
    speed = float(np.linalg.norm(first))
    bend = cross(cross(first, second), first) / speed**4
    curvature = float(np.linalg.norm(bend))
    share, begins, ends = shares.tolist()
    if curvature < 1e-12:
        return Fold(place, share, place, float("inf"), float("inf"), begins, ends)
    inwards = bend / curvature
    reach = float(((trajectory(np.array([t]), outline)[0] - place) @ inwards).max())
    return Fold(place, share, place + inwards / curvature, 1 / curvature, reach, begins, ends)
