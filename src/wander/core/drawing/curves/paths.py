"""Curves as path text of Scalable Vector Graphics (W3C), exactly: lines, arcs, and cubic Bezier pieces. mm, y upwards as in the drawing."""

from __future__ import annotations

from collections.abc import Mapping
from math import dist, pi

import numpy as np

from wander.core.drawing.curves.even import Even, Straight
from wander.core.drawing.curves.pieces import arc_angles, curve_of
from wander.core.drawing.model import AnyCurve, Drawing, DrawnArc, DrawnCircle, DrawnEllipse, DrawnLine
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import elevate, insert_knots

PLACES = 1e6


def written(points: Mapping[str, tuple[float, float]]) -> dict[str, str]:
    """Points as they stand in paths, all at once: mostly each is where two curves meet."""
    numbers = np.array(list(points.values())).reshape(-1, 2)
    text = ("%.10g %.10g\n" * len(numbers)) % tuple((np.rint(numbers * PLACES) / PLACES + 0.0).ravel().tolist())
    return dict(zip(points, text.splitlines(), strict=True))


def path_of(curve: AnyCurve, drawing: Drawing, xy: Mapping[str, str] | None = None) -> str:
    """The path of one curve; empty where it has no length. xy: all points of the drawing as they are written, where they are known."""
    at = drawing.points
    xy = {p: _xy(*at[p]) for p in curve.points()} if xy is None else xy
    match curve:
        case DrawnLine():
            return f"M{xy[curve.start]}L{xy[curve.end]}"
        case DrawnArc():
            radius = _n(dist(at[curve.start], at[curve.center]))
            _, sweep = arc_angles(curve, at)
            if sweep > 2 * pi - 1e-9:
                return _round(at[curve.center], float(radius), float(radius), 0.0)
            return f"M{xy[curve.start]}A{radius} {radius} 0 {int(sweep > pi)} 1 {xy[curve.end]}"
        case DrawnCircle():
            return _round(at[curve.center], curve.radius, curve.radius, 0.0)
        case DrawnEllipse():
            return _round(at[curve.center], curve.width / 2, curve.depth / 2, curve.turn)
        case _:
            made = curve_of(curve, drawing)
            return bezier_path(made) if made is not None else ""


def even_path(form: Even, share: tuple[float, float]) -> str:
    """Along a line or an arc from one share of it to another, which may be the smaller: what follows the place where it begins."""
    low, high = share
    if isinstance(form, Straight):
        return f"L{_xy(*form.at(high))}"
    # in halves: an arc of more than half a turn would hang on the last digit of its ends
    radius, anticlockwise = _n(form.radius), int(high > low)
    return "".join(f"A{radius} {radius} 0 0 {anticlockwise} {_xy(*form.at(t))}" for t in ((low + high) / 2, high))


def begun_at(form: Even, share: float) -> str:
    return f"M{_xy(*form.at(share))}"


def bezier_path(curve: Curve) -> str:
    """The path of a polynomial spline of degree up to three; higher degrees are drawn as cubics within a thousandth of their size."""
    if curve.degree > 3:
        return _sampled(curve)
    cubic = elevate(curve, 3)
    inner = [b for b, m in zip(cubic.space.breaks[1:-1], cubic.space.multiplicities[1:-1], strict=True) for _ in range(3 - m)]
    points = insert_knots(cubic, inner).points
    rest = "".join(f"C{_xy(*points[i])} {_xy(*points[i + 1])} {_xy(*points[i + 2])}" for i in range(1, len(points) - 1, 3))
    return f"M{_xy(*points[0])}{rest}"


def _sampled(curve: Curve) -> str:
    """Hermite cubics on each half span: an arc of 4.5 degrees is met to 1e-9 of its radius."""
    b = curve.space.breaks
    u = np.append((b[:-1, None] + np.diff(b)[:, None] * np.array([0.0, 0.5])).ravel(), b[-1])
    p, d = curve.derivatives(u, 1)
    # at a corner the way in is another one than the way out
    into = curve.derivatives(np.nextafter(u[1:], u[:-1]), 1)[1]
    step = np.diff(u)[:, None] / 3
    first, second = p[:-1] + d[:-1] * step, p[1:] - into * step
    rest = "".join(f"C{_xy(*a)} {_xy(*c)} {_xy(*e)}" for a, c, e in zip(first, second, p[1:], strict=True))
    return f"M{_xy(*p[0])}{rest}"


def _round(center: tuple[float, float], a: float, b: float, turn: float) -> str:
    """In quarters: the centre of a half ellipse would hang on the last digit of its ends."""
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    ends = [(center[0] + x * a * c - y * b * s, center[1] + x * a * s + y * b * c) for x, y in ((1, 0), (0, 1), (-1, 0), (0, -1), (1, 0))]
    return f"M{_xy(*ends[0])}" + "".join(f"A{_n(a)} {_n(b)} {_n(turn)} 0 1 {_xy(*end)}" for end in ends[1:]) + "Z"


def _n(value: float) -> str:
    # no -0
    return f"{round(value * PLACES) / PLACES + 0.0:.10g}"


def _xy(x: float, y: float) -> str:
    return f"{_n(float(x))} {_n(float(y))}"
