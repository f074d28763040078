"""Relations between the things of a drawing as equations: one on another, parallel, tangent, symmetric and so on.

Residuals are in mm, so that one tolerance serves all: an angle between lines counts as the distance it makes at the end of the shorter one.
Slopes leave out terms that vanish where an equation holds; Newton's method does not need them.
"""

from __future__ import annotations

from math import atan2, cos, hypot, pi, sin, sqrt

import numpy as np

from wander.core.drawing.curves.pieces import curve_of, foil_between
from wander.core.drawing.ground import AXES
from wander.core.drawing.holding.on_splines import OnSplines
from wander.core.drawing.holding.rows import Rows
from wander.core.drawing.holding.variables import Slopes, Straight, added, scaled
from wander.core.drawing.holds import AnyMeasure, Passing, Relation
from wander.core.drawing.model import DrawnArc, DrawnBeside, DrawnCircle, DrawnEllipse, DrawnFoil, DrawnLine, DrawnPoles, DrawnSpline, DrawnTrace
from wander.core.geometry.closest import closest_parameter
from wander.core.geometry.curve import Curve


class Relations(OnSplines):
    """sides: of each hold, which of several ways it can hold."""

    _sides: dict[str, float]

    # -- relations ------------------------------------------------------------------------------------------------------------

    def _coincident(self, rows: Rows, hold: Relation) -> None:
        (i, ax, ay), (j, bx, by) = (self._at(p) for p in hold.of)
        rows.add(hold.id, ax - bx, {i: 1.0, j: -1.0})
        rows.add(hold.id, ay - by, {i + 1: 1.0, j + 1: -1.0})

    def _concentric(self, rows: Rows, hold: Relation) -> None:
        a, b = (self._center(c) for c in hold.of)
        if a != b:
            self._coincident(rows, hold.model_copy(update={"of": [a, b]}))

    def _pair(self, hold: Relation | AnyMeasure) -> tuple[str, str]:
        if len(hold.of) == 2:
            return hold.of[0], hold.of[1]
        line = self._line(hold.of[0])
        return line.start, line.end

    def _stretch(self, hold: Relation, dx: float, dy: float) -> float:
        return self._reach[hold.of[0]] / (hypot(dx, dy) or 1e-12) if len(hold.of) == 1 else 1.0

    def _horizontal(self, rows: Rows, hold: Relation) -> None:
        (i, ax, ay), (j, bx, by) = (self._at(p) for p in self._pair(hold))
        stretch = self._stretch(hold, bx - ax, by - ay)
        rows.add(hold.id, stretch * (by - ay), {i + 1: -stretch, j + 1: stretch})

    def _vertical(self, rows: Rows, hold: Relation) -> None:
        (i, ax, ay), (j, bx, by) = (self._at(p) for p in self._pair(hold))
        stretch = self._stretch(hold, bx - ax, by - ay)
        rows.add(hold.id, stretch * (bx - ax), {i: -stretch, j: stretch})

    def _two_lines(self, hold: Relation | AnyMeasure) -> tuple[float, float, Slopes, Slopes]:
        """Sine and cosine of the angle between two lines, in mm at the reach of the shorter one; and their slopes."""
        ax, ay, ax_, ay_ = self._vector(self._line(hold.of[0]))
        bx, by, bx_, by_ = self._vector(self._line(hold.of[1]))
        a, b = hypot(ax, ay) or 1e-12, hypot(bx, by) or 1e-12
        size = a * b / min(self._reach[i] for i in hold.of)
        cross_ = added(added(scaled(ax_, by / size), by_, ax / size), added(scaled(ay_, bx / size), bx_, ay / size), -1.0)
        dot_ = added(added(scaled(ax_, bx / size), bx_, ax / size), added(scaled(ay_, by / size), by_, ay / size), 1.0)
        return (ax * by - ay * bx) / size, (ax * bx + ay * by) / size, cross_, dot_

    def _parallel(self, rows: Rows, hold: Relation) -> None:
        cross, _, slopes, _ = self._two_lines(hold)
        rows.add(hold.id, cross, slopes)

    def _perpendicular(self, rows: Rows, hold: Relation) -> None:
        _, dot, _, slopes = self._two_lines(hold)
        rows.add(hold.id, dot, slopes)

    def _collinear(self, rows: Rows, hold: Relation) -> None:
        # an axis is the one that the other lies on
        on, other = sorted(hold.of, key=lambda thing: thing not in AXES) if hold.of[0] in AXES else (hold.of[1], hold.of[0])
        for point in self._line(other).points():
            rows.add(hold.id, *self._from_line(point, self._line(on)))

    def _equal(self, rows: Rows, hold: Relation) -> None:
        if isinstance(self._curves[hold.of[0]], DrawnEllipse):
            i, j = (self._of_curve[c] for c in hold.of)
            for k in (0, 1):
                rows.add(hold.id, self._v[i + k] - self._v[j + k], {i + k: 1.0, j + k: -1.0})
            return
        sizes = []
        for curve_id in hold.of:
            curve = self._curves[curve_id]
            sizes.append(self._between(curve.end, curve.start) if isinstance(curve, DrawnLine) else self._radius_of(curve_id))
        (a, sa), (b, sb) = sizes
        rows.add(hold.id, a - b, added(sa, sb, -1.0))

    def _tangent(self, rows: Rows, hold: Relation) -> None:
        first, second = (self._curves[i] for i in hold.of)
        if isinstance(first, DrawnSpline | DrawnPoles) or isinstance(second, DrawnSpline | DrawnPoles):
            self._tangent_to_spline(rows, hold)
            return
        shared = self._shared(hold)
        if isinstance(second, DrawnLine):
            first, second = second, first
        if isinstance(first, DrawnLine):
            assert isinstance(second, DrawnArc | DrawnCircle)
            if shared is not None:
                # the radius to the point they share is square to the line
                dx, dy, dx_, dy_ = self._vector(first)
                size = hypot(dx, dy) or 1e-12
                i, px, py = self._at(shared)
                j, cx, cy = self._at(second.center)
                rx, ry = px - cx, py - cy
                slopes = added(scaled(dx_, rx / size), dy_, ry / size)
                slopes = added(slopes, {i: dx / size, i + 1: dy / size, j: -dx / size, j + 1: -dy / size}, 1.0)
                rows.add(hold.id, (dx * rx + dy * ry) / size, slopes)
                return
            away, slopes = self._from_line(second.center, first)
            radius, grown = self._radius_of(second.id)
            side = self._sides[hold.id]
            rows.add(hold.id, side * away - radius, added(scaled(slopes, side), grown, -1.0))
            return
        assert isinstance(first, DrawnArc | DrawnCircle)
        assert isinstance(second, DrawnArc | DrawnCircle)
        if shared is not None:
            # both centres are in one line with the point they share
            i, px, py = self._at(shared)
            j, ax, ay = self._at(first.center)
            k, bx, by = self._at(second.center)
            ux, uy, wx, wy = ax - px, ay - py, bx - px, by - py
            size = max(hypot(ux, uy), hypot(wx, wy)) or 1e-12
            slopes = {j: wy / size, j + 1: -wx / size}
            slopes = added(slopes, {k: -uy / size, k + 1: ux / size}, 1.0)
            slopes = added(slopes, {i: (uy - wy) / size, i + 1: (wx - ux) / size}, 1.0)
            rows.add(hold.id, (ux * wy - uy * wx) / size, slopes)
            return
        apart, slopes = self._between(first.center, second.center)
        (r1, g1), (r2, g2) = self._radius_of(first.id), self._radius_of(second.id)
        side = self._sides[hold.id]
        sign1, sign2 = (1.0, 1.0) if side == 0 else (side, -side)
        rows.add(hold.id, apart - sign1 * r1 - sign2 * r2, added(added(slopes, g1, -sign1), g2, -sign2))

    def _curvature(self, rows: Rows, hold: Relation) -> None:
        """A spline takes its curvature at a shared end from its neighbour, as it does its direction."""
        self._tangent_to_spline(rows, hold)

    def _midpoint(self, rows: Rows, hold: Relation) -> None:
        curve = self._curves[hold.of[1]]
        if isinstance(curve, DrawnArc):
            self._along_arc(rows, hold.id, hold.of[0], curve, 0.5)
            return
        k, px, py = self._at(hold.of[0])
        line = self._line(hold.of[1])
        i, ax, ay = self._at(line.start)
        j, bx, by = self._at(line.end)
        rows.add(hold.id, px - (ax + bx) / 2, {k: 1.0, i: -0.5, j: -0.5})
        rows.add(hold.id, py - (ay + by) / 2, {k + 1: 1.0, i + 1: -0.5, j + 1: -0.5})

    def _symmetric(self, rows: Rows, hold: Relation) -> None:
        line = self._line(hold.of[2])
        if hold.of[0] in self._curves:
            if isinstance(self._curves[hold.of[0]], DrawnFoil):
                self._symmetric_foils(rows, hold)
            else:
                self._symmetric_ellipses(rows, hold, line)
            return
        first, second = (self._from_line(p, line) for p in hold.of[:2])
        rows.add(hold.id, (first[0] + second[0]) / 2, added(scaled(first[1], 0.5), second[1], 0.5))
        dx, dy, dx_, dy_ = self._vector(line)
        size = hypot(dx, dy) or 1e-12
        (i, ax, ay), (j, bx, by) = (self._at(p) for p in hold.of[:2])
        wx, wy = bx - ax, by - ay
        slopes = added(scaled(dx_, wx / size), dy_, wy / size)
        slopes = added(slopes, {i: -dx / size, i + 1: -dy / size, j: dx / size, j + 1: dy / size}, 1.0)
        rows.add(hold.id, (dx * wx + dy * wy) / size, slopes)

    def _symmetric_ellipses(self, rows: Rows, hold: Relation, line: Straight) -> None:
        """The turns of two ellipses come to twice that of the line; their centres are held by themselves. The turn counts as mm (see Variables)."""
        i, j = (self._of_curve[c] + 2 for c in hold.of[:2])
        dx, dy, dx_, dy_ = self._vector(line)
        square = max(dx * dx + dy * dy, 1e-24)
        off = (self._v[i] + self._v[j]) / self.size - 2 * atan2(dy, dx)
        # an ellipse looks the same after half a turn
        off = (off + pi / 2) % pi - pi / 2
        slopes = added(scaled(dx_, 2 * self.size * dy / square), dy_, -2 * self.size * dx / square)
        rows.add(hold.id, off * self.size, added(slopes, {i: 1.0, j: 1.0}, 1.0))

    def _symmetric_foils(self, rows: Rows, hold: Relation) -> None:
        """Their shares are those of one another, with the camber to the other side; nose and tail are held by themselves."""
        i, j = (self._of_curve[c] for c in hold.of[:2])
        for k, sign in enumerate((1.0, -1.0, 1.0)):
            rows.add(hold.id, self._v[i + k] - sign * self._v[j + k], {i + k: 1.0, j + k: -sign})

    def _on_curve(self, rows: Rows, hold: Relation) -> None:
        point, curve = hold.of[0], self._curves[hold.of[1]]
        if isinstance(curve, DrawnLine):
            rows.add(hold.id, *self._from_line(point, curve))
        elif isinstance(curve, DrawnArc | DrawnCircle):
            apart, slopes = self._between(point, curve.center)
            radius, grown = self._radius_of(curve.id)
            rows.add(hold.id, apart - radius, added(slopes, grown, -1.0))
        elif isinstance(curve, DrawnEllipse):
            self._on_ellipse(rows, hold, point, curve)
        elif isinstance(curve, DrawnFoil):
            self._on_foil(rows, hold, point, curve)
        elif not isinstance(curve, DrawnTrace | DrawnBeside) or curve_of(curve, self.drawing()) is not None:
            k, px, py = self._at(point)
            spline, weights = self._spline(curve)
            t = closest_parameter(spline, np.array([px, py]))
            (x, y), (tx, ty) = spline.derivatives(t, 1)
            size = hypot(tx, ty) or 1e-12
            nx, ny = -ty / size, tx / size
            slopes = {k: nx, k + 1: ny}
            for own, weight in zip(curve.points() if isinstance(curve, DrawnSpline | DrawnPoles) else (), weights(t), strict=True):
                i = self._of_point[own]
                slopes[i] = slopes.get(i, 0.0) - nx * weight
                slopes[i + 1] = slopes.get(i + 1, 0.0) - ny * weight
            rows.add(hold.id, nx * (px - x) + ny * (py - y), slopes)

    def _on_ellipse(self, rows: Rows, hold: Relation, point: str, curve: DrawnEllipse) -> None:
        k, px, py = self._at(point)
        j, cx, cy = self._at(curve.center)
        i = self._of_curve[curve.id]
        a, b, turn = self._v[i], self._v[i + 1], self._v[i + 2] / self.size
        c, s = cos(turn), sin(turn)
        x, y = c * (px - cx) + s * (py - cy), -s * (px - cx) + c * (py - cy)
        f = sqrt((x / a) ** 2 + (y / b) ** 2) or 1e-12
        scale = min(a, b)
        fx, fy = scale * x / (a * a * f), scale * y / (b * b * f)
        gx, gy = c * fx - s * fy, s * fx + c * fy
        slopes = {k: gx, k + 1: gy, j: -gx, j + 1: -gy}
        slopes[i] = -scale * x * x / (a**3 * f)
        slopes[i + 1] = -scale * y * y / (b**3 * f)
        slopes[i + 2] = (fx * y - fy * x) / self.size
        rows.add(hold.id, scale * (f - 1.0), slopes)

    def _on_foil(self, rows: Rows, hold: Relation, point: str, curve: DrawnFoil) -> None:
        """At its nearest place; what its own variables do there is felt by small steps of each."""
        own = [self._of_point[p] + k for p in curve.points() for k in (0, 1)] + [self._of_curve[curve.id] + k for k in range(3)]

        def outline() -> Curve | None:
            nose, tail = ((self._v[self._of_point[p]], self._v[self._of_point[p] + 1]) for p in curve.points())
            sizes = self._sizes(curve, self._v[own[4] : own[4] + 3])
            return foil_between(nose, tail, **sizes) if hypot(tail[0] - nose[0], tail[1] - nose[1]) > 1e-9 else None

        made = outline()
        if made is None:
            return
        k, px, py = self._at(point)
        t = closest_parameter(made, np.array([px, py]))
        (x, y), (tx, ty) = made.derivatives(t, 1)
        size = hypot(tx, ty) or 1e-12
        nx, ny = -ty / size, tx / size
        slopes: Slopes = {k: nx, k + 1: ny}
        step = 1e-6 * self.size
        for i in own:
            kept = self._v[i]
            self._v[i] = kept + step
            moved = outline()
            self._v[i] = kept
            if moved is not None:
                mx, my = moved(t)
                slopes[i] = slopes.get(i, 0.0) - (nx * (mx - x) + ny * (my - y)) / step
        rows.add(hold.id, nx * (px - x) + ny * (py - y), slopes)

    def _fixed(self, rows: Rows, hold: Relation) -> None:
        for thing in hold.of:
            points = self._curves[thing].points() if thing in self._curves else (thing,)
            for point in points:
                i, x, y = self._at(point)
                rows.add(hold.id, x - self._begun[i], {i: 1.0})
                rows.add(hold.id, y - self._begun[i + 1], {i + 1: 1.0})
            own = self._of_curve.get(thing)
            if own is not None:
                for k in range(own, own + self._count(thing)):
                    rows.add(hold.id, self._v[k] - self._begun[k], {k: 1.0})

    def _passes(self, rows: Rows, hold: Passing) -> None:
        i, x, y = self._at(hold.of[0])
        rows.add(hold.id, x - hold.at[0], {i: 1.0})
        rows.add(hold.id, y - hold.at[1], {i + 1: 1.0})
