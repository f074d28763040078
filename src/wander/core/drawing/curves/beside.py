"""A curve at a constant distance to the right of another."""

from __future__ import annotations

import numpy as np

from wander.core.drawing.outlines.outline import SMOOTH
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.space import SplineSpace

PLACES = 16
"""Knots of the offset in every span of its curve: a spline that it meets there stays within 5e-4 mm of the true one."""


class NoOffset(BadInput):
    """There is no offset of a curve at this distance; the message says where and why."""


def beside(made: Curve, size: float) -> Curve:
    """A spline near the true offset of a planar curve, size mm to its right. Raises NoOffset where it bends too tightly or has a corner."""
    breaks = made.space.breaks
    corner = _corner(made)
    if corner is not None:
        raise NoOffset(f"the curve has a corner near ({corner[0]:.3g}, {corner[1]:.3g}); split it there, and the offsets of the parts meet")
    cut = np.append((breaks[:-1, None] + np.diff(breaks)[:, None] * np.arange(PLACES) / PLACES).ravel(), breaks[-1])
    space = SplineSpace.from_breaks(3, cut)
    u = space.greville
    p, d, dd = made.derivatives(u, 2)
    speed = np.linalg.norm(d, axis=1)
    bend = (d[:, 0] * dd[:, 1] - d[:, 1] * dd[:, 0]) / speed**3
    if np.any(1 + size * bend < 1e-3):
        at = p[int(np.argmin(1 + size * bend))]
        raise NoOffset(f"the curve bends more tightly than {abs(size):.4g} mm near ({at[0]:.3g}, {at[1]:.3g}); a smaller offset would do")
    return Curve(space, space.interpolate(p + size * np.column_stack([d[:, 1], -d[:, 0]]) / speed[:, None]))


def _corner(made: Curve) -> Floats | None:
    """Where a curve turns all at once, its closing point included."""
    step = 1e-9 * (made.domain[1] - made.domain[0])
    inner = made.space.breaks[1:-1][made.space.multiplicities[1:-1] >= made.degree]
    before, after = inner - step, inner + step
    if np.linalg.norm(made.points[0] - made.points[-1]) < 1e-9:
        before, after = np.append(before, made.domain[1]), np.append(after, made.domain[0])
    if not len(before):
        return None
    a, b = made.derivatives(before, 1)[1], made.derivatives(after, 1)[1]
    turn = np.abs(np.arctan2(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0], (a * b).sum(axis=1)))
    return made(after[[int(turn.argmax())]])[0] if turn.max() > SMOOTH else None
