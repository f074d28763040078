"""What holds to splines and the curves that follow others: their slopes are felt by small steps, or left out where they vanish."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from math import atan2, cos, hypot, pi, sin

import numpy as np

from wander.core.drawing.curves.pieces import Lead, curve_of, leads_of, spline_curve
from wander.core.drawing.holding.rows import Rows
from wander.core.drawing.holding.variables import Slopes, Variables, added
from wander.core.drawing.holds import AnyMeasure, Relation
from wander.core.drawing.model import AnyCurve, Drawing, DrawnArc, DrawnBeside, DrawnCircle, DrawnLine, DrawnPoles, DrawnSpline, DrawnTrace
from wander.core.geometry.closest import closest_parameter
from wander.core.geometry.curve import Curve
from wander.core.geometry.quadrature import at_length, length


class OnSplines(Variables):
    """lying: points held on curves, as pairs."""

    _lying: set[tuple[str, ...]]

    def __init__(self, drawing: Drawing) -> None:
        self._leads: dict[str, dict[int, Lead]] = {}
        self._ends_met: dict[tuple[str, ...], str | None] = {}
        super().__init__(drawing)

    def _read(self) -> None:
        super()._read()
        self._leads.clear()

    def _shared(self, hold: Relation | AnyMeasure) -> str | None:
        """The end that two curves have in common, or the end of one that is held on the other.

        Without this a line that ends where it touches a circle would be held by a double root, which nothing can find to nine digits.
        """
        both = tuple(hold.of)
        if both not in self._ends_met:
            self._ends_met[both] = self._end_met(*both)
        return self._ends_met[both]

    def _end_met(self, a: str, b: str) -> str | None:
        first, second = (self._curves[i].ends() or () for i in (a, b))
        own = next((p for p in first if p in second), None)
        if own is not None or self._curves[a].type == self._curves[b].type:
            return own
        return next((p for ends, other in ((first, b), (second, a)) for p in ends if (p, other) in self._lying), None)

    def _offset_ends(self, rows: Rows, curve: DrawnBeside) -> None:
        """The ends of an offset lie square to the ends of what it follows. How that turns there is left out of the slopes: it follows by itself."""
        source = self._curves[curve.of]
        made = curve_of(source, self.drawing())
        if made is None:
            return
        own = self._of_curve[curve.id]
        for point, origin, t in zip(curve.points(), (source.points()[0], source.points()[-1]), made.domain, strict=True):
            (k, px, py), (i, ax, ay) = self._at(point), self._at(origin)
            tx, ty = made.derivatives(t, 1)[1]
            size = hypot(tx, ty) or 1e-12
            nx, ny = ty / size, -tx / size
            rows.add(None, px - ax - self._v[own] * nx, {k: 1.0, i: -1.0, own: -nx})
            rows.add(None, py - ay - self._v[own] * ny, {k + 1: 1.0, i + 1: -1.0, own: -ny})

    def _tangent_to_spline(self, rows: Rows, hold: Relation) -> None:
        """A spline through points is led by its neighbour at a shared end when it is drawn, so nothing is left to solve; by control points, all is.

        Where they share no end, the other curve has to touch it: its distance from the spline at the nearest place, less its radius.
        """
        first, second = (self._curves[i] for i in hold.of)
        shared = self._shared(hold)
        if shared is not None:
            meets = all(shared in (curve.ends() or ()) for curve in (first, second))
            if not meets or not (isinstance(first, DrawnSpline) or isinstance(second, DrawnSpline)):
                self._aligned(rows, hold, shared)
            return
        if {first.type, second.type} <= {"spline", "poles"}:
            return  # two splines are tangent where they share an end only
        if isinstance(first, DrawnSpline | DrawnPoles):
            first, second = second, first
        assert isinstance(second, DrawnSpline | DrawnPoles)
        curve, weights = self._spline(second)
        if isinstance(first, DrawnLine):
            i, ax, ay = self._at(first.start)
            j, bx, by = self._at(first.end)
            size = hypot(bx - ax, by - ay) or 1e-12
            ex, ey = (bx - ax) / size, (by - ay) / size
            t = _touching(curve, (ax, ay), (ex, ey))
            x, y = curve(t)
            share = (ex * (x - ax) + ey * (y - ay)) / size
            slopes: Slopes = {}
            for index, weight in ((i, -(1 - share)), (j, -share)):
                slopes[index], slopes[index + 1] = -ey * weight, ex * weight
            for point, weight in zip(second.points(), weights(t), strict=True):
                k = self._of_point[point]
                slopes[k] = slopes.get(k, 0.0) - ey * weight
                slopes[k + 1] = slopes.get(k + 1, 0.0) + ex * weight
            rows.add(hold.id, ex * (y - ay) - ey * (x - ax), slopes)
            return
        assert isinstance(first, DrawnArc | DrawnCircle)
        k, cx, cy = self._at(first.center)
        t = closest_parameter(curve, np.array([cx, cy]))
        x, y = curve(t)
        apart = hypot(cx - x, cy - y) or 1e-12
        nx, ny = (cx - x) / apart, (cy - y) / apart
        slopes = {k: nx, k + 1: ny}
        for point, weight in zip(second.points(), weights(t), strict=True):
            i = self._of_point[point]
            slopes[i] = slopes.get(i, 0.0) - nx * weight
            slopes[i + 1] = slopes.get(i + 1, 0.0) - ny * weight
        radius, grown = self._radius_of(first.id)
        rows.add(hold.id, apart - radius, added(slopes, grown, -1.0))

    def _aligned(self, rows: Rows, hold: Relation, point: str) -> None:
        """Two curves run the same way through a place on both: the sine of the angle between them, in mm at the size of the drawing."""
        curves = [self._curves[i] for i in hold.of]

        def off() -> list[float]:
            (ax, ay), (bx, by) = (self._way_at(curve, point) for curve in curves)
            return [self.size * (ax * by - ay * bx)]

        self._felt(rows, hold.id, off, [point, *(p for curve in curves for p in curve.points())])

    def _way_at(self, curve: AnyCurve, point: str) -> tuple[float, float]:
        """The direction of a curve at a point that lies on it, as it runs."""
        at = {p: self._at(p)[1:] for p in {point, *curve.points()}}
        (px, py) = at[point]
        match curve:
            case DrawnLine():
                (ax, ay), (bx, by) = at[curve.start], at[curve.end]
                x, y = bx - ax, by - ay
            case DrawnArc() | DrawnCircle():
                cx, cy = at[curve.center]
                x, y = cy - py, px - cx
            case DrawnPoles() if point in curve.ends():
                (ax, ay), (bx, by) = (at[p] for p in (curve.poles[:2] if point == curve.poles[0] else curve.poles[-2:]))
                x, y = bx - ax, by - ay
            case DrawnSpline() | DrawnPoles():
                made = self._run_of(curve)
                x, y = made.derivatives(closest_parameter(made, np.array([px, py])), 1)[1]
            case _:
                raise AssertionError(curve.type)
        size = hypot(x, y) or 1e-12
        return x / size, y / size

    def _felt(self, rows: Rows, owner: str, off: Callable[[], list[float]], points: Iterable[str]) -> None:
        """Rows whose slopes are felt by small steps of the points that they depend on."""
        here = off()
        step = 1e-7 * self.size
        slopes: list[Slopes] = [{} for _ in here]
        for k in {i + axis for p in points for i in [self._of_point[p]] for axis in (0, 1)}:
            kept = self._v[k]
            self._v[k] = kept + step
            for found, a, b in zip(slopes, off(), here, strict=True):
                found[k] = (a - b) / step
            self._v[k] = kept
        for value, found in zip(here, slopes, strict=True):
            rows.add(owner, value, found)

    def _divided(self, rows: Rows, hold: Relation) -> None:
        """Points at equal steps along a curve, by its length."""
        curve, count = self._curves[hold.of[0]], len(hold.of)
        for k, point in enumerate(hold.of[1:], 1):
            if isinstance(curve, DrawnLine):
                (i, px, py), (a, ax, ay), (b, bx, by) = self._at(point), self._at(curve.start), self._at(curve.end)
                share = k / count
                for axis, left in enumerate((px - ax - share * (bx - ax), py - ay - share * (by - ay))):
                    rows.add(hold.id, left, {i + axis: 1.0, a + axis: share - 1.0, b + axis: -share})
            elif isinstance(curve, DrawnArc):
                self._along_arc(rows, hold.id, point, curve, k / count)
        if isinstance(curve, DrawnSpline | DrawnPoles):

            def off() -> list[float]:
                made = self._run_of(curve)
                shares = np.arange(1, count) / count * length(made)
                places = made(at_length(made, shares))
                return [v for p, (x, y) in zip(hold.of[1:], places, strict=True) for v in (self._at(p)[1] - x, self._at(p)[2] - y)]

            self._felt(rows, hold.id, off, [*hold.of[1:], *curve.points()])

    def _along_arc(self, rows: Rows, owner: str, point: str, arc: DrawnArc, share: float) -> None:
        """A point at a share of the way along an arc."""
        (k, px, py), (j, cx, cy) = self._at(point), self._at(arc.center)
        (i, ax, ay), (e, bx, by) = self._at(arc.start), self._at(arc.end)
        radius, grown = self._between(arc.start, arc.center)
        far = (bx - cx) ** 2 + (by - cy) ** 2 or 1e-24
        begin = atan2(ay - cy, ax - cx)
        sweep = (atan2(by - cy, bx - cx) - begin) % (2 * pi) or 2 * pi
        turn = begin + share * sweep
        # of how far round the point is: by the turn of the start, and of the end
        s = (1 - share) / (radius * radius)
        t = share / far
        turned = {i: -s * (ay - cy), i + 1: s * (ax - cx), e: -t * (by - cy), e + 1: t * (bx - cx)}
        turned = added(turned, {j: s * (ay - cy) + t * (by - cy), j + 1: -s * (ax - cx) - t * (bx - cx)}, 1.0)
        x, y = cos(turn), sin(turn)
        rows.add(owner, px - cx - radius * x, added(added({k: 1.0, j: -1.0}, grown, -x), turned, radius * y))
        rows.add(owner, py - cy - radius * y, added(added({k + 1: 1.0, j + 1: -1.0}, grown, -y), turned, -radius * x))

    def _run_of(self, curve: DrawnSpline | DrawnPoles) -> Curve:
        """A spline at the present values; how its neighbours lead it is left out of what is felt by small steps."""
        return spline_curve(curve, {p: self._at(p)[1:] for p in curve.points()}, self._led(curve))

    def _led(self, curve: AnyCurve) -> dict[int, Lead]:
        known = self._leads.get(curve.id)
        if known is None:
            known = self._leads[curve.id] = leads_of(curve, self.drawing()) if self._is_led(curve) else {}
        return known

    def _is_led(self, curve: AnyCurve) -> bool:
        return any(hold.type in ("tangent", "curvature") and curve.id in hold.of for hold in self._drawing.holds)

    def _spline(self, curve: DrawnSpline | DrawnPoles | DrawnTrace | DrawnBeside) -> tuple[Curve, Callable[[float], list[float]]]:
        """The spline at the present values, and the share of each of its points in the point at a parameter.

        That a step of a point changes the pace too is left out: it moves the curve along itself more than aside, and places are found anew.
        """
        if isinstance(curve, DrawnTrace | DrawnBeside):
            followed = curve_of(curve, self.drawing())
            assert followed is not None
            return followed, lambda t: []
        both = spline_curve(curve, {p: self._at(p)[1:] for p in curve.points()}, self._led(curve), shares=True)
        return Curve(both.space, both.points[:, :2]), lambda t: [float(share) for share in both(t)[2:]]


def _touching(curve: Curve, origin: tuple[float, float], way: tuple[float, float]) -> float:
    """The parameter at which a curve runs along a line and is nearest to it; the nearest end where it never does."""
    u = np.linspace(*curve.domain, 257)
    p, d = curve.derivatives(u, 1)
    away = np.abs(way[0] * (p[:, 1] - origin[1]) - way[1] * (p[:, 0] - origin[0]))
    turning = way[0] * d[:, 1] - way[1] * d[:, 0]
    flat = np.flatnonzero(np.sign(turning[1:]) != np.sign(turning[:-1]))
    if len(flat) == 0:
        return float(u[away.argmin()])
    t = float(u[flat[away[flat].argmin()]])
    for _ in range(12):
        _, d1, d2 = curve.derivatives(t, 2)
        slope = way[0] * d2[1] - way[1] * d2[0]
        if abs(slope) < 1e-14:
            break
        step = (way[0] * d1[1] - way[1] * d1[0]) / slope
        t = float(np.clip(t - step, *curve.domain))
        if abs(step) < 1e-14:
            break
    return t
