"""From a chain of curves to the one closed curve that shaping works on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wander.core.drawing.outlines.loop import Loop, Span, opposite
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import continuity_at_seam, join
from wander.core.geometry.quadrature import at_length, length
from wander.core.geometry.space import SplineSpace

SMOOTH = 1e-3
"""Radians by which a tangent may turn where an outline counts as smooth."""
UNBENT = 2e-4
"""mm by which an outline may move when a turn that small is smoothed away; where it would be more, the turn stays as a corner."""
EVEN = 1e-7
"""mm by which a spline may move when it is run at constant speed."""


@dataclass(frozen=True)
class Stretch:
    """A part of an outline, run in its direction. even: at constant speed. whole: it is a closed curve by itself.

    label, corner: ids of the curve that it is part of, and of the point where it begins.
    """

    curve: Curve
    even: bool
    whole: bool = False
    label: str = ""
    corner: str = ""


def outline(stretches: Sequence[Stretch]) -> Loop:
    """The loop of stretches that follow each other and close, in the direction they are given."""
    if len(stretches) == 1 and stretches[0].whole:
        return _alone(stretches[0])
    turns = [_turn(before.curve, after.curve) for before, after in zip([stretches[-1], *stretches[:-1]], stretches, strict=True)]
    sizes = [length(s.curve) for s in stretches]
    smooth = [turn <= SMOOTH and turn * min(sizes[i - 1], sizes[i]) / 2 <= UNBENT for i, turn in enumerate(turns)]
    first = next((i for i, s in enumerate(smooth) if not s), 0)
    order = [(first + k) % len(stretches) for k in range(len(stretches))]
    chain, at_corner = [stretches[i] for i in order], [not smooth[i] for i in order]
    if not all(s.even for s in chain) and not any(at_corner):
        # going round without a corner, only constant speed fits everywhere
        chain = [s if s.even else replace(s, curve=even(s.curve), even=True) for s in chain]
    curves = [s.curve for s in chain]
    lengths = _shares(curves, at_corner)
    curve = join(_closing(curves), lengths, [not corner for corner in at_corner[1:]])
    starts = np.concatenate([[0.0], np.cumsum(lengths)[:-1]]) / np.sum(lengths)
    corners = tuple(float(s) for s, corner in zip(starts, at_corner, strict=True) if corner)
    joints = tuple(float(s) for i, s in enumerate(starts) if not at_corner[i] and _bends_anew(curves[i - 1], curves[i]))
    seam = 0 if at_corner[0] else max(continuity_at_seam(curve, 1e-5), 1)
    spans = tuple(Span(float(at), s.label, s.corner) for at, s in zip(starts, chain, strict=True))
    return Loop(curve, corners, joints, seam, spans)


def _shares(curves: Sequence[Curve], at_corner: Sequence[bool]) -> list[float]:
    """How much of the parameter each curve gets, so that the speed is the same on both sides of every smooth joint."""
    found: list[float] = []
    run: list[float] = []
    own: list[float] = []
    ending = 1.0
    for i, curve in enumerate([*curves, None]):
        if curve is None or at_corner[i] or i == 0:
            factor = sum(own) / sum(run) if run else 1.0
            found += [share * factor for share in run]
            run, own = [], []
        if curve is None:
            break
        begin = float(np.linalg.norm(curve.derivatives(curve.domain[0], 1)[1]))
        run.append(run[-1] * begin / ending if run else 1.0)
        own.append(length(curve))
        ending = float(np.linalg.norm(curve.derivatives(curve.domain[1], 1)[1]))
    return found


def _alone(stretch: Stretch) -> Loop:
    """A curve that closes on itself: with a corner where it closes, or smooth; and with the corners it has inside."""
    curve = stretch.curve
    ends = curve.derivatives(np.array(curve.domain), 1)[1]
    inner = [float(b) for b, m in zip(curve.space.breaks[1:-1], curve.space.multiplicities[1:-1], strict=True) if m >= curve.degree]
    turning = [t for t in inner if _bend_at(curve, t) > SMOOTH]
    closes_smooth = _angle(ends[1], ends[0]) <= SMOOTH
    if not closes_smooth:
        return Loop(curve, (0.0, *turning), seam=0, spans=_parted(stretch, [0.0, *turning], bent=True))
    seam = max(continuity_at_seam(curve, 1e-5), 1)
    if not turning:
        return Loop(curve, seam=seam, spans=_parted(stretch, [0.0], bent=False))
    return Loop(curve, tuple(turning), seam=seam, spans=_parted(stretch, turning, bent=True))


def _parted(stretch: Stretch, at: list[float], *, bent: bool) -> tuple[Span, ...]:
    """Spans of one curve between its own corners. With one corner alone, what lies to both sides of the place farthest from it."""
    if len(at) == 1 and bent:
        halves = sorted([(at[0], "a"), (opposite(stretch.curve, at[0]), "b")])
        return tuple(Span(t, stretch.label + half, stretch.corner if half == "a" else f"{stretch.corner}b") for t, half in halves)
    if len(at) == 1:
        return (Span(at[0], stretch.label, stretch.corner),)
    return tuple(Span(t, f"{stretch.label}.{k}of{len(at)}", f"{stretch.corner}.{k}of{len(at)}") for k, t in enumerate(at, start=1))


def _closing(curves: list[Curve]) -> list[Curve]:
    """The same chain with every joint met to the last bit, which sharing points does not promise for arcs."""
    found = []
    for i, curve in enumerate(curves):
        points = curve.points.copy()
        points[0] = (curves[i - 1].points[-1] + points[0]) / 2
        points[-1] = (curves[(i + 1) % len(curves)].points[0] + points[-1]) / 2
        found.append(Curve(curve.space, points))
    return found


def even(curve: Curve) -> Curve:
    """The same curve run at constant speed over [0, 1], within EVEN: quintic pieces between places at equal lengths."""
    total = length(curve)
    spans = 8 * max(2, len(curve.space.breaks) - 1)
    while True:
        # smooth parts keep one curve; where it has a corner of its own the speed has none
        space = SplineSpace.from_breaks(5, np.linspace(0.0, 1.0, spans + 1))
        found = Curve(space, space.interpolate(curve(at_length(curve, space.greville * total))))
        u = (np.arange(4 * spans) + 0.37) / (4 * spans)
        missed = float(np.linalg.norm(found(u) - curve(at_length(curve, u * total)), axis=1).max())
        if missed <= EVEN or spans > 256:
            return found
        spans *= 2


def _angle(a: Floats, b: Floats) -> float:
    return float(abs(np.arctan2(a[0] * b[1] - a[1] * b[0], a @ b)))


def _turn(before: Curve, after: Curve) -> float:
    return _angle(before.derivatives(before.domain[1], 1)[1], after.derivatives(after.domain[0], 1)[1])


def _bend_at(curve: Curve, t: float) -> float:
    step = 1e-9 * (curve.domain[1] - curve.domain[0])
    into, out = curve.derivatives(np.array([t - step, t + step]), 1)[1]
    return _angle(into, out)


def _curvature(curve: Curve, t: float) -> float:
    _, d, dd = curve.derivatives(t, 2)
    return float((d[0] * dd[1] - d[1] * dd[0]) / np.hypot(*d) ** 3)


def _bends_anew(before: Curve, after: Curve) -> bool:
    """Whether the curvature jumps from one to the next."""
    a, b = _curvature(before, before.domain[1]), _curvature(after, after.domain[0])
    return abs(a - b) > 1e-3 * max(abs(a), abs(b), 1e-6)
