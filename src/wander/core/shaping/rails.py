"""Rails: curves in space that guide a body, made from points, from planar curves, or from a body's own edges.

Lengths in mm, angles in radians. Every curve is a polynomial spline over [0, 1].
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from wander.core.geometry.approximate import approximated
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import reverse
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.geometry.interpolate import closed_through, spread_parameters
from wander.core.geometry.rising import where_reached
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.tolerances import Tolerances
from wander.core.geometry.vectors import cross


@dataclass(frozen=True)
class Through:
    """A point that a rail goes through, (3,). handle: direction and length of the pull there, (3,) mm. sharp: the rail may bend."""

    at: Floats
    handle: Floats | None = None
    sharp: bool = False


def spline_through(points: Sequence[Through], *, closed: bool = False) -> Curve:
    """The cubic through points (2 or more, 3 for a closed one): C2, C1 where there is a handle, bent where it is sharp.

    A handle is a third of the way that the rail would go on with its speed there over the mean of its neighbouring spans, as in a Bézier
    curve. Raises BadInput where neighbours lie on each other.
    """
    if len(points) < (3 if closed else 2):
        raise BadInput(f"a {'closed ' if closed else ''}rail needs {3 if closed else 2} points or more, got {len(points)}")
    ring = list(points)
    if closed:
        first = next((i for i, p in enumerate(points) if p.sharp or p.handle is not None), None)
        if first is None:
            return closed_through(np.stack([p.at for p in points]))
        # it is cut where its direction is known, or where it may bend
        ring = [*points[first:], *points[:first], points[first]]
    t = spread_parameters(np.stack([p.at for p in ring]))
    spans = np.diff(t)
    reach = np.concatenate([spans[:1], (spans[:-1] + spans[1:]) / 2, spans[-1:]])
    if closed:
        reach[[0, -1]] = (spans[0] + spans[-1]) / 2
    speeds = [None if p.handle is None else p.handle * 3 / r for p, r in zip(ring, reach, strict=True)]
    bends = [0, *(i for i in range(1, len(ring) - 1) if ring[i].sharp), len(ring) - 1]
    runs = [_run(t[a : b + 1], [p.at for p in ring[a : b + 1]], speeds[a : b + 1]) for a, b in pairwise(bends)]
    # a bend stands three times, the ends four times
    knots = [runs[0].space.knots[:-1], *(run.space.knots[4:-1] for run in runs[1:]), runs[-1].space.knots[-1:]]
    return Curve(SplineSpace(3, np.concatenate(knots)), np.concatenate([runs[0].points, *(run.points[1:] for run in runs[1:])]))


def _run(t: Floats, at: Sequence[Floats], speeds: Sequence[Floats | None]) -> Curve:
    """One cubic without bends: a second knot at each inner handle leaves room for its direction."""
    inner = [i for i in range(1, len(t) - 1) if speeds[i] is not None]
    space = SplineSpace.from_breaks(3, t, [2 if i in inner else 1 for i in range(1, len(t) - 1)])
    rows, values = [space.matrix(t)], [np.stack(at)]
    for end in (0, len(t) - 1):
        given = speeds[end]
        rows.append(space.matrix(t[[end]], 2 if given is None else 1))
        values.append(np.zeros((1, 3)) if given is None else given[None])
    for i in inner:
        rows.append(space.matrix(t[[i]], 1))
        values.append(np.atleast_2d(np.asarray(speeds[i])))
    return Curve(space, np.linalg.solve(np.concatenate(rows), np.concatenate(values)))


def helix(
    frame: Frame, center: Floats, *, radius: float, end_radius: float, rise: float, turns: float, begins: float, tolerances: Tolerances
) -> tuple[Curve, float]:
    """A helix about the normal of a plane through center (2,), and how far the spline strays from it, mm.

    turns: negative for a left-handed one. Radius and height change evenly with the angle.
    """
    if abs(turns) < 1e-3:
        raise BadInput("a helix needs some part of a turn")
    if radius < 0 or end_radius < 0 or max(radius, end_radius) < 1e-6:
        raise BadInput("a helix needs a radius")

    def true(s: Floats) -> Floats:
        angle, r = begins + 2 * np.pi * turns * s, radius + (end_radius - radius) * s
        flat = np.stack([np.cos(angle), np.sin(angle)], axis=-1) * r[:, None] + center
        return frame.lift(flat) + (rise * s)[:, None] * frame.z

    return approximated(true, np.linspace(0.0, 1.0, int(np.ceil(abs(turns) * 8)) + 1), tolerances.fit, most_spans=4096)


def from_two_views(first: Curve, first_frame: Frame, second: Curve, second_frame: Frame, tolerances: Tolerances) -> tuple[Curve, float]:
    """The rail that looks like `first` seen square to its plane, and like `second` seen square to the other, as far as both reach.

    The curves are planar, (2,). Raises BadInput where the planes are parallel, a curve turns back along the line that both planes share, or they
    have no part of it in common.
    """
    along = cross(first_frame.z, second_frame.z)
    if np.linalg.norm(along) < 1e-6:
        raise BadInput("the two drawings lie on parallel stations, so they show the rail from the same side")
    along = along / np.linalg.norm(along)
    lifted = [Curve(c.space, f.lift(c.points)) for c, f in ((first, first_frame), (second, second_frame))]
    lifted = [curve if _rises(curve, along) else reverse(curve) for curve in lifted]
    for which, curve in zip(("first", "second"), lifted, strict=True):
        t, _ = curve.sampled(24)
        if np.any(curve.derivatives(t, 1)[1] @ along < -1e-9):
            raise BadInput(f"the {which} drawing turns back along the line that both views share, so its places can't be told apart")
    low, high = (max(float(c(c.domain[0]) @ along) for c in lifted), min(float(c(c.domain[1]) @ along) for c in lifted))
    if high - low < 1e-6:
        raise BadInput("the two drawings have no part of their common length in common")
    across = np.stack([along, cross(first_frame.z, along), cross(second_frame.z, along)])

    def true(s: Floats) -> Floats:
        reached = low + (high - low) * s
        on_a, on_b = (_where_so_far(curve, along, reached) for curve in lifted)
        return np.linalg.solve(across, np.stack([reached, on_a @ across[1], on_b @ across[2]])).T

    smooth: dict[float, int] = {}
    for curve in lifted:
        for at, count in curve.space.continuity.items():
            share = round(float(curve(at) @ along - low) / (high - low), 9)
            if 0 < share < 1:
                smooth[share] = min(count, smooth.get(share, 4))
    return approximated(true, np.array([0.0, *sorted(smooth), 1.0]), tolerances.fit, continuity=smooth)


def _where_so_far(curve: Curve, along: Floats, reached: Floats) -> Floats:
    """Places (m, 3) at which a curve that rises along a direction has come so far (m,)."""
    return curve(where_reached(lambda t: curve(t) @ along, curve.domain, reached))


def _rises(curve: Curve, along: Floats) -> bool:
    low, high = curve.domain
    return float((curve(high) - curve(low)) @ along) >= 0
