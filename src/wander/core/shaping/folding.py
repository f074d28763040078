"""Where a section that is swept reaches further than the path bends: there the skin would run back through itself."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.spatial import ConvexHull

from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.moving import homogeneous, moved
from wander.core.shaping.trajectories import Trajectories

LOOKED = 8
"""Places in each span of a path."""
FLAT = 1e-9
"""Of its length: an outline that is no wider is a straight line."""
CLEAR = 0.5
"""Of the radius of a bend: what reaches no further at any of the places that are looked at does not fold between them."""
NEVER = 1e-9
"""mm: a section that leaves a plane by less lies in it."""
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


def folds_along(trajectories: Sequence[Trajectories], outline: Floats, normal: Floats, *, square: bool = False) -> list[Fold]:
    """One for each run of the path that is too tight, in their order.

    outline: points of the section in the frames of the path, (n, 3). normal: of its plane in these, looking forwards (3,). It folds where a point of
    the outline does not go forwards through the plane of the section. square: the frames stand square to the path.
    """
    found: list[Fold] = []
    whole, outline = outline, np.empty((0, 4))
    flat = square and float(np.abs(whole[:, 2]).max()) < NEVER
    for trajectory in trajectories:
        breaks = trajectory.curve.space.breaks
        t = (breaks[:-1, None] + np.diff(breaks)[:, None] * PLACES).ravel()
        if flat and _clear_of_bends(trajectory, t, float(lengths(whole).max())):
            continue
        if not len(outline):
            outline = homogeneous(whole[_outermost(whole)])
        forwards = (_ahead(trajectory, t, normal) @ outline.T).min(axis=1)
        if forwards.min() > 0:
            # it may fold between two places: looked at where it comes nearest to it
            least = int(np.argmin(forwards))
            close = np.linspace(t[max(least - 1, 0)], t[min(least + 1, len(t) - 1)], 4 * LOOKED)
            forwards = np.concatenate([forwards, (_ahead(trajectory, close, normal) @ outline.T).min(axis=1)])
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


def _clear_of_bends(trajectory: Trajectories, t: Floats, reach: float) -> bool:
    """Whether a section that lies in the plane square to the path, out to its reach from it (mm), stays well inside every bend.

    Each of its points goes forwards by one less what it reaches into the bend, by the radius there; turning about the path changes nothing of that.
    """
    curve = trajectory.curve
    first, second = (curve.space.evaluate(curve.points, t, order) for order in (1, 2))
    bends = lengths(cross(first, second)) / lengths(first) ** 3
    if not trajectory.laws.idle:
        _, width, height = trajectory.laws.at(trajectory.path.shares(trajectory.number, t))
        bends *= np.maximum(np.abs(width), np.abs(height))
    return bool(reach * bends.max() < CLEAR)


def _ahead(trajectory: Trajectories, t: Floats, normal: Floats) -> Floats:
    """How far points go through the plane of the section while the path goes one, mm by mm: (m, 4), times a homogeneous point in the frame."""
    at = np.concatenate([np.maximum(t - STEP, 0.0), np.minimum(t + STEP, 1.0)])
    places, turns = trajectory.frames(at)
    before, after = np.split(moved(places, trajectory.lawed(at, turns)), 2)
    # half-way between them as exactly as what moves
    plane = np.add(*np.split(turns, 2)) @ (normal / 2)
    gone = lengths(after[:, 0] - before[:, 0])
    return np.asarray(((after - before) @ plane[:, :, None])[..., 0] / gone[:, None], dtype=np.float64)


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
    reach = float(((outline @ trajectory(np.array([t]))[0] - place) @ inwards).max())
    return Fold(place, share, place + inwards / curvature, 1 / curvature, reach, begins, ends)
