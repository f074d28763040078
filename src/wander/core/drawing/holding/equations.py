"""Everything that holds a drawing, as one system of equations: what curves are by themselves, relations, and measures."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from copy import copy
from functools import cached_property
from math import atan2, pi, sqrt

import numpy as np

from wander.core.drawing.holding.relations import Relations
from wander.core.drawing.holding.rows import Linearised, Rows, System
from wander.core.drawing.holding.shortest import Shortest
from wander.core.drawing.holding.summed import Summed
from wander.core.drawing.holding.sums import Sums
from wander.core.drawing.holding.variables import Slopes, added, scaled
from wander.core.drawing.holds import MEASURES, SHARES, AngleMeasure, AnyHold, AnyMeasure, Measure, Relation, ShareMeasure
from wander.core.drawing.model import Drawing, DrawnArc, DrawnBeside, DrawnCircle, DrawnEllipse, DrawnLine
from wander.core.geometry.basis import Ints

DIRECTED = {"parallel", "perpendicular", "collinear", "tangent", "angle"}
"""What holds a direction of lines: one of no length has none, and keeps to anything."""


class Equations(Summed, Relations):
    """Everything that holds a drawing, as equations between its variables."""

    def __init__(self, drawing: Drawing) -> None:
        super().__init__(drawing)
        self._holds = [hold for hold in drawing.holds if not (isinstance(hold, AnyMeasure) and hold.reading)]
        self._lying = {tuple(hold.of) for hold in self._holds if hold.type == "on-curve"}
        self._sides = {hold.id: self._side(hold) for hold in self._holds}
        self.sums, self.shortest = Sums(), Shortest()
        for curve in drawing.curves:
            if isinstance(curve, DrawnArc):
                self._own_sum(curve)
        self._besides = [curve for curve in drawing.curves if isinstance(curve, DrawnBeside) and curve.ends() is not None]
        numbered = enumerate(self._holds)
        others = [(rank, hold) for rank, hold in numbered if not self._taken_as_sum(hold, rank)]
        self._each: list[tuple[Callable[[Rows, AnyHold], None], AnyHold, int]] = [
            (getattr(self, "_" + hold.type.replace("-", "_")), hold, rank) for rank, hold in others
        ]

    def afresh(self) -> Equations:
        """The same equations where they began, with values of their own."""
        other = copy(self)
        other._system = self._system
        other.values, other._leads, other.shortest = self._begun.copy(), {}, self.shortest.afresh()
        other._each = [(getattr(other, add.__name__), hold, rank) for add, hold, rank in self._each]
        return other

    @cached_property
    def directed(self) -> Ints:
        """For each line whose direction is held, where the numbers of its two ends stand among all, (n, 2)."""
        named = {name for hold in self._holds if hold.type in DIRECTED for name in hold.of}
        lines = [curve for curve in self._drawing.curves if curve.id in named and isinstance(curve, DrawnLine)]
        return np.array([[self._of_point[point] for point in (line.start, line.end)] for line in lines], dtype=np.int64).reshape(-1, 2)

    @cached_property
    def _system(self) -> System:
        return System(self.sums, len(self.values))

    def linearised(self) -> Linearised:
        """At the present values."""
        rows = Rows(rank=-1)
        if self._besides or self._each:
            self._read()
        for curve in self._besides:
            self._offset_ends(rows, curve)
        for add, hold, rank in self._each:
            rows.rank = rank
            add(rows, hold)
        return self._system.at(np.append(self.values, self._ground), rows)

    def measured(self, holds: Iterable[AnyHold]) -> dict[str, float]:
        """What the measures among some holds come to, by their ids, mm or radians."""
        self._read()
        return {hold.id: self._measure(hold)[0] for hold in holds if isinstance(hold, AnyMeasure)}

    def _side(self, hold: AnyHold) -> float:
        """Which of several ways an equation can hold: the one that is nearer at first stays."""
        kinds = [self._curves[i].type if i in self._curves else "point" for i in hold.of]
        if hold.type == "distance" and kinds != ["point", "point"]:
            return 1.0 if self._away(hold)[0] >= 0 else -1.0
        if hold.type in ("across", "up"):
            return 1.0 if self._step(hold)[0] >= 0 else -1.0
        if hold.type == "angle" and len(hold.of) == 2:
            return 1.0 if self._turn(hold)[0] >= 0 else -1.0
        if hold.type == "tangent" and self._shared(hold) is None and not {"spline", "poles"} & set(kinds):
            if "line" in kinds:
                line, round_one = (hold.of[0], hold.of[1]) if kinds[0] == "line" else (hold.of[1], hold.of[0])
                return 1.0 if self._from_line(self._center(round_one), self._line(line))[0] >= 0 else -1.0
            apart = self._between(self._center(hold.of[0]), self._center(hold.of[1]))[0]
            r1, r2 = self._radius_of(hold.of[0])[0], self._radius_of(hold.of[1])[0]
            if abs(apart - (r1 + r2)) <= abs(apart - abs(r1 - r2)):
                return 0.0
            return 1.0 if r1 >= r2 else -1.0
        return 1.0

    # -- measures -------------------------------------------------------------------------------------------------------------

    def _length(self, rows: Rows, hold: Measure) -> None:
        found, slopes = self._measure(hold)
        # what has two sides stays on its own, whatever an expression comes to: a sign would send it to and fro with every solve
        sided = hold.type in ("distance", "across", "up")
        rows.add(hold.id, found - (abs(hold.value) if sided else hold.value), slopes)

    _distance = _across = _up = _length

    def _angle(self, rows: Rows, hold: AngleMeasure) -> None:
        turn, slopes, reach = self._turn(hold)
        off = (turn - self._sides[hold.id] * hold.value + pi) % (2 * pi) - pi
        rows.add(hold.id, off * reach, scaled(slopes, reach))

    def _thickness(self, rows: Rows, hold: ShareMeasure) -> None:
        found, slopes = self._measure(hold)
        rows.add(hold.id, (found - hold.value) * self.size, scaled(slopes, self.size))

    _camber = _crest = _thickness

    def _measure(self, hold: AnyMeasure) -> tuple[float, Slopes]:
        match hold.type:
            case "thickness" | "camber" | "crest":
                own = self._of_curve[hold.of[0]] + list(SHARES).index(hold.type)
                return self._v[own] / self.size, {own: 1 / self.size}
            case "length":
                line = self._line(hold.of[0])
                return self._between(line.end, line.start)
            case "radius":
                return self._radius_of(hold.of[0])
            case "diameter":
                radius, slopes = self._radius_of(hold.of[0])
                return 2 * radius, scaled(slopes, 2.0)
            case "across" | "up":
                found, slopes = self._step(hold)
            case "angle":
                found, slopes, _ = self._turn(hold)
                if len(hold.of) == 1 and not isinstance(self._curves[hold.of[0]], DrawnArc):
                    # the direction of a line is told in the turn in which it was asked for: 350 stays 350, and -10 stays -10
                    return found + 2 * pi * round((hold.value - found) / (2 * pi)), slopes
            case _:
                if not any(i in self._curves for i in hold.of):
                    return self._between(hold.of[1], hold.of[0])
                found, slopes = self._away(hold)
        side = self._sides.get(hold.id, 1.0 if found >= 0 else -1.0)
        return side * found, scaled(slopes, side)

    def _away(self, hold: Relation | AnyMeasure) -> tuple[float, Slopes]:
        """Signed distance of a line or a point from a line, of a circle from one about the same centre, of an offset from what it follows."""
        first, last = self._curves.get(hold.of[0]), self._curves[hold.of[-1]]
        if isinstance(last, DrawnBeside):
            own = self._of_curve[last.id]
            return self._v[own], {own: 1.0}
        if isinstance(last, DrawnLine) and isinstance(first, DrawnArc | DrawnCircle):
            # between the two where they are clear of each other; less than nothing where they cross
            off, slopes = self._from_line(first.center, last)
            radius, grown = self._radius_of(first.id)
            return abs(off) - radius, added(scaled(slopes, 1.0 if off >= 0 else -1.0), grown, -1.0)
        if first is None and isinstance(last, DrawnArc | DrawnCircle):
            off, slopes = self._between(hold.of[0], last.center)
            radius, grown = self._radius_of(last.id)
            return off - radius, added(slopes, grown, -1.0)
        if isinstance(first, DrawnArc | DrawnCircle):
            (a, sa), (b, sb) = (self._radius_of(i) for i in hold.of)
            return a - b, added(sa, sb, -1.0)
        line = self._line(hold.of[1])
        point = hold.of[0] if hold.of[0] in self._of_point else self._line(hold.of[0]).start
        return self._from_line(point, line)

    def _step(self, hold: Relation | AnyMeasure) -> tuple[float, Slopes]:
        """From one point to another along x or y; the width or the depth of an ellipse along its own; what is round, over all."""
        first = self._curves.get(hold.of[0])
        if isinstance(first, DrawnEllipse):
            own = self._of_curve[first.id] + (0 if hold.type == "across" else 1)
            return 2 * self._v[own], {own: 2.0}  # half of it is what varies
        if any(isinstance(self._curves.get(thing), DrawnArc | DrawnCircle) for thing in hold.of):
            return self._over_all(hold.of, 0 if hold.type == "across" else 1)
        (i, ax, ay), (j, bx, by) = (self._at(p) for p in self._pair(hold))
        return (bx - ax, {i: -1.0, j: 1.0}) if hold.type == "across" else (by - ay, {i + 1: -1.0, j + 1: 1.0})

    def _over_all(self, things: Sequence[str], axis: int) -> tuple[float, Slopes]:
        """How far points, lines and rounds reach together along x (axis 0) or y (1)."""
        ends = [end for thing in things for end in self._reaches(thing, axis)]
        (high, up), (low, down) = max(ends, key=lambda end: end[0]), min(ends, key=lambda end: end[0])
        return high - low, added(up, down, -1.0)

    def _reaches(self, thing: str, axis: int) -> list[tuple[float, Slopes]]:
        """The places on a thing that can be its outermost along x or y, along that."""
        curve = self._curves.get(thing)
        points = [thing] if curve is None else [] if isinstance(curve, DrawnCircle) else list(curve.ends() or ())
        found = [(self._v[self._of_point[p] + axis], {self._of_point[p] + axis: 1.0}) for p in points]
        if isinstance(curve, DrawnArc | DrawnCircle):
            i, *center = self._at(curve.center)
            radius, grown = self._radius_of(curve.id)
            for sign in (1.0, -1.0):
                outermost = [sign, 0.0] if axis == 0 else [0.0, sign]
                if isinstance(curve, DrawnCircle) or self._sweeps(curve, atan2(outermost[1], outermost[0])):
                    found.append((center[axis] + sign * radius, added({i + axis: 1.0}, grown, sign)))
        return found

    def _sweeps(self, arc: DrawnArc, turn: float) -> bool:
        """Whether an arc runs through a direction from its centre, radians."""
        (_, cx, cy), (_, ax, ay), (_, bx, by) = (self._at(p) for p in arc.points())
        begin = atan2(ay - cy, ax - cx)
        return (turn - begin) % (2 * pi) <= ((atan2(by - cy, bx - cx) - begin) % (2 * pi) or 2 * pi)

    def _turn(self, hold: Relation | AnyMeasure) -> tuple[float, Slopes, float]:
        """Angle from the first line to the second, radians in (-pi, pi], away from the end they share, if they do; and its reach.

        Of a single line: its direction, from the x axis; of an arc, how far it sweeps, in [0, 2 pi).
        """
        arc = self._curves[hold.of[0]]
        if isinstance(arc, DrawnArc):
            (j, cx, cy), (i, ax, ay), (k, bx, by) = (self._at(p) for p in arc.points())
            (ux, uy), (vx, vy) = (ax - cx, ay - cy), (bx - cx, by - cy)
            u2, v2 = max(ux * ux + uy * uy, 1e-24), max(vx * vx + vy * vy, 1e-24)
            slopes = {i: uy / u2, i + 1: -ux / u2, k: -vy / v2, k + 1: vx / v2}
            slopes = added(slopes, {j: vy / v2 - uy / u2, j + 1: ux / u2 - vx / v2}, 1.0)
            return (atan2(vy, vx) - atan2(uy, ux)) % (2 * pi), slopes, max(sqrt(u2), 1e-3 * self.size)
        if len(hold.of) == 1:
            ax, ay, ax_, ay_ = self._vector(self._line(hold.of[0]))
            a2 = max(ax * ax + ay * ay, 1e-24)
            return atan2(ay, ax), added(scaled(ay_, ax / a2), ax_, -ay / a2), self._reach[hold.of[0]]
        first, second = (self._line(i) for i in hold.of)
        shared = self._shared(hold)
        ax, ay, ax_, ay_ = self._vector(first)
        bx, by, bx_, by_ = self._vector(second)
        if shared is not None and shared == first.end:
            ax, ay, ax_, ay_ = -ax, -ay, scaled(ax_, -1.0), scaled(ay_, -1.0)
        if shared is not None and shared == second.end:
            bx, by, bx_, by_ = -bx, -by, scaled(bx_, -1.0), scaled(by_, -1.0)
        a2, b2 = max(ax * ax + ay * ay, 1e-24), max(bx * bx + by * by, 1e-24)
        turn = atan2(ax * by - ay * bx, ax * bx + ay * by)
        slopes = added(scaled(bx_, -by / b2), by_, bx / b2)
        slopes = added(added(slopes, ax_, ay / a2), ay_, -ax / a2)
        return turn, slopes, min(self._reach[i] for i in hold.of)


assert all(hasattr(Equations, "_" + name) or hasattr(Equations, "_sum_" + name) for name in MEASURES)
