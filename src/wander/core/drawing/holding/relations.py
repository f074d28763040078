"""Relations between the things of a drawing that are no sums of simple terms: with splines, foils and ellipses, and the like.

Residuals are in mm, so that one tolerance serves all: an angle between lines counts as the distance it makes at the end of the shorter one.
Slopes leave out terms that vanish where an equation holds; Newton's method does not need them.
"""

from __future__ import annotations

from math import atan2, cos, hypot, pi, sin, sqrt

import numpy as np

from wander.core.drawing.curves.pieces import curve_of, foil_between
from wander.core.drawing.holding.on_splines import OnSplines
from wander.core.drawing.holding.rows import Rows
from wander.core.drawing.holding.variables import Slopes, Straight, added, scaled
from wander.core.drawing.holds import AnyMeasure, Relation
from wander.core.drawing.model import DrawnArc, DrawnBeside, DrawnCircle, DrawnEllipse, DrawnFoil, DrawnLine, DrawnPoles, DrawnSpline, DrawnTrace
from wander.core.geometry.closest import closest_parameter
from wander.core.geometry.curve import Curve


class Relations(OnSplines):
    """sides: of each hold, which of several ways it can hold."""

    _sides: dict[str, float]

    # -- relations ------------------------------------------------------------------------------------------------------------

    def _pair(self, hold: Relation | AnyMeasure) -> tuple[str, str]:
        if len(hold.of) == 2:
            return hold.of[0], hold.of[1]
        line = self._line(hold.of[0])
        return line.start, line.end

    def _tangent(self, rows: Rows, hold: Relation) -> None:
        """To a spline; or of two rounds that share a point: both centres are in one line with it."""
        first, second = (self._curves[i] for i in hold.of)
        shared = self._shared(hold)
        if not (isinstance(first, DrawnArc | DrawnCircle) and isinstance(second, DrawnArc | DrawnCircle) and shared is not None):
            self._tangent_to_spline(rows, hold)
            return
        i, px, py = self._at(shared)
        j, ax, ay = self._at(first.center)
        k, bx, by = self._at(second.center)
        ux, uy, wx, wy = ax - px, ay - py, bx - px, by - py
        size = max(hypot(ux, uy), hypot(wx, wy)) or 1e-12
        slopes = {j: wy / size, j + 1: -wx / size}
        slopes = added(slopes, {k: -uy / size, k + 1: ux / size}, 1.0)
        slopes = added(slopes, {i: (uy - wy) / size, i + 1: (wx - ux) / size}, 1.0)
        rows.add(hold.id, (ux * wy - uy * wx) / size, slopes)

    def _curvature(self, rows: Rows, hold: Relation) -> None:
        """A spline takes its curvature at a shared end from its neighbour, as it does its direction."""
        self._tangent_to_spline(rows, hold)

    def _midpoint(self, rows: Rows, hold: Relation) -> None:
        curve = self._curves[hold.of[1]]
        assert isinstance(curve, DrawnArc)
        self._along_arc(rows, hold.id, hold.of[0], curve, 0.5)

    def _symmetric(self, rows: Rows, hold: Relation) -> None:
        if isinstance(self._curves[hold.of[0]], DrawnFoil):
            self._symmetric_foils(rows, hold)
        else:
            self._symmetric_ellipses(rows, hold, self._line(hold.of[2]))

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
        """On what is round or straight it is a sum."""
        point, curve = hold.of[0], self._curves[hold.of[1]]
        assert not isinstance(curve, DrawnLine | DrawnArc | DrawnCircle)
        if isinstance(curve, DrawnEllipse):
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
