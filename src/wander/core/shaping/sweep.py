"""Sweep: areas carried along a path.

Every point of the section runs beside the path in the frames that its attitude gives it, turned and scaled by laws over arc length. The faces follow
that within a tolerance, and exactly where the outcome is a spline itself: straight pieces give extrusions, arcs revolutions. At a corner both
pieces run straight on, or stop short, to the plane that halves it: they are sheared along their way, each point by as much as it needs.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import partial

import numpy as np

from wander.core.drawing.outlines.area import Area
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.tolerances import Tolerances
from wander.core.shaping.bays import Along, Bay, Swept, skinned
from wander.core.shaping.laws import Laws
from wander.core.shaping.mitring import mitred
from wander.core.shaping.path import Path, is_straight
from wander.core.shaping.placing import Placing
from wander.core.shaping.trajectories import Trajectories


def swept(areas: Sequence[Area], path: Path, placing: Placing, *, laws: Laws, name: str, section: str, tolerances: Tolerances) -> Swept:
    """The skins of areas along a path.

    laws: over the length of the path, turned and scaled about the path itself. name: of the body; section: what sides are named by. Raises
    DoesNotClose, and BadInput where a corner can't be mitred.
    """
    bays = [_bay(Trajectories(path, number, frames, laws)) for number, frames in enumerate(placing.held.frames)]
    along = Along(bays, placing.local, path.closed, path.goes_on, placing.backwards, partial(mitred, path=path))
    return skinned(areas, along, name=name, section=section, tolerances=tolerances)


def _bay(trajectory: Trajectories) -> Bay:
    curve = trajectory.curve
    breaks, least = _breaks(trajectory)
    ways = curve.derivatives(np.array([0.0, 1.0]), 1)[1]
    exact = _exact_space(curve) if trajectory.laws.idle else None
    return Bay(trajectory, breaks, least, exact, ways, trajectory.path.names[trajectory.number])


def _exact_space(curve: Curve) -> SplineSpace:
    """What holds the outcome where the path is straight or an arc: a straight run is linear, however it is written."""
    return SplineSpace.from_breaks(1, [0.0, 1.0]) if is_straight(curve) and is_even(curve) else curve.space


def is_even(curve: Curve) -> bool:
    """Whether a straight curve is run at one speed."""
    first, last = curve.points[[0, -1]]
    return bool(np.abs(curve.points - first - curve.space.greville[:, None] * (last - first)).max() < 1e-9 * float(np.abs(last - first).max()))


def _breaks(trajectory: Trajectories) -> tuple[Floats, Mapping[float, int]]:
    """Where a fit has to break, and how many derivatives are continuous there: what is beside a path has one less than the path."""
    space = trajectory.curve.space
    counts = zip(space.breaks[1:-1].tolist(), space.multiplicities[1:-1].tolist(), strict=True)
    least = {knot: min(max(space.degree - count - 1, 1), 4) for knot, count in counts}
    path, number = trajectory.path, trajectory.number
    bounds = np.array([0.0, 1.0]) if trajectory.laws.idle else path.begins[number : number + 2] / path.length
    for law in trajectory.laws.all:
        for share, smooth in zip(law.space.breaks[1:-1], law.continuity, strict=True):
            if not bounds[0] + 1e-9 < share < bounds[1] - 1e-9:
                continue
            place = path.parameter(number, float(share))
            near = next((b for b in least if abs(b - place) < 1e-9), place)
            least[near] = min(int(smooth), least.get(near, 4))
    return np.array([0.0, *sorted(least), 1.0]), least
