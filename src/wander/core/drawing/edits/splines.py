"""Splines through points: drawn anew through other points, so that the curve stays where it is."""

from __future__ import annotations

from typing import Any

import numpy as np

from wander.core.drawing.curves.pieces import spline_curve
from wander.core.drawing.edits.sheet import Sheet
from wander.core.drawing.model import DrawnSpline, Handle
from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.curve import Curve
from wander.core.geometry.interpolate import spread_parameters
from wander.core.geometry.quadrature import at_length, length

FAITHFUL = 5e-4
"""mm that a spline drawn anew may leave the one it stands for."""
MOST_POINTS = 400


def insert_point(sheet: Sheet, curve: DrawnSpline, after: int, at: tuple[float, float] | None) -> str:
    """A point in a span of a spline: in its middle, or at a place; marks after it are counted on."""
    count = len(curve.through)
    following = (after + 1) % count if curve.closed else after + 1
    if at is None:
        made = sheet.geometry(curve)
        ends = np.array([sheet.points[curve.through[i]] for i in (after, min(following, count - 1))])
        t = closest_parameters(made, ends)
        low, high = float(t[0]), float(t[1])
        at = tuple(made((low + (high if high > low else high + 1.0)) / 2 % 1.0).tolist())
    point = sheet.add_point(at)
    through = [*curve.through[: after + 1], point, *curve.through[after + 1 :]]

    def moved(i: int) -> int:
        return i + 1 if i > after else i

    sheet.put(
        curve,
        through=through,
        sharp=[moved(i) for i in curve.sharp],
        straight=sorted({moved(i) for i in curve.straight} | ({after + 1} if after in curve.straight else set())),
        handles=[{**h.model_dump(), "at": moved(h.at)} for h in curve.handles],
    )
    return point


def add_like(sheet: Sheet, curve: Curve, start: str | None, end: str | None, construction: bool) -> tuple[str, float]:
    """A spline through points within FAITHFUL of a smooth open curve, from a given point to another. Returns its id and how far it is off, mm."""
    tangents = curve.derivatives(np.array(curve.domain), 1)[1]
    angles = np.degrees(np.arctan2(tangents[:, 1], tangents[:, 0]))
    spans = max(2, len(curve.space.breaks) - 1)
    while True:
        u = _even_chords(curve, spans)
        points = curve(u)
        handles, missed = _with_speeds(curve, u, points, angles)
        if missed <= FAITHFUL or spans * 2 > MOST_POINTS:
            break
        spans *= 2
    ids = [start if start is not None else sheet.add_point(points[0])]
    ids += [sheet.add_point(p) for p in points[1:-1]]
    ids.append(end if end is not None else sheet.add_point(points[-1]))
    return sheet.add_curve(type="spline", through=ids, handles=handles, construction=construction), missed


def _even_chords(curve: Curve, spans: int) -> Floats:
    return at_length(curve, np.linspace(0.0, length(curve), spans + 1))


def _with_speeds(curve: Curve, u: Floats, points: Floats, angles: Floats) -> tuple[list[dict[str, Any]], float]:
    """Handles that hold the direction at both ends, and how far the spline through the points is off."""
    at = {f"p{i}": (float(x), float(y)) for i, (x, y) in enumerate(points)}
    handles = [Handle(at=0, angle=float(angles[0])), Handle(at=len(points) - 1, angle=float(angles[1]))]
    trial = DrawnSpline(id="c0", through=list(at), handles=handles)
    made = spline_curve(trial, at)
    knots = spread_parameters(points)
    inside = (knots[:-1, None] + np.diff(knots)[:, None] * np.array([0.25, 0.5, 0.75])).ravel()
    there = made(inside)
    missed = float(np.linalg.norm(curve(closest_parameters(curve, there)) - there, axis=1).max())
    return [h.model_dump() for h in handles], missed
