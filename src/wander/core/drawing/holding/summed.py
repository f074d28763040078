"""Holds as equations that are sums of simple terms: most of what holds a drawing is."""

from __future__ import annotations

from wander.core.drawing.ground import AXES
from wander.core.drawing.holding.on_splines import OnSplines
from wander.core.drawing.holding.sums import Sums, along, away, cosine, distance, level, number, sine
from wander.core.drawing.holding.variables import Straight
from wander.core.drawing.holds import AnyHold
from wander.core.drawing.model import DrawnArc, DrawnBeside, DrawnCircle, DrawnEllipse, DrawnLine

Round = DrawnArc | DrawnCircle


class Summed(OnSplines):
    """Adds what a hold asks to the sums, as far as it is one.

    Residuals are in mm, so that one tolerance serves all: an angle between lines counts as the distance it makes at the end of the shorter one.
    """

    _sides: dict[str, float]
    sums: Sums

    def _taken_as_sum(self, hold: AnyHold, rank: int) -> bool:
        """Whether the hold is a sum of simple terms; then it is among the sums now."""
        make = getattr(self, "_sum_" + hold.type.replace("-", "_"), None)
        return make is not None and make(hold, rank)

    def _own_sum(self, arc: DrawnArc) -> None:
        """Both ends of an arc are as far from its centre."""
        self.sums.begin(None, -1)
        self._size(1.0, arc)
        self.sums.term(distance, -1.0, self._of_point[arc.end], self._of_point[arc.center])

    def _size(self, times: float, curve: object) -> None:
        """The radius of what is round, or the length of a line."""
        if isinstance(curve, DrawnArc):
            self.sums.term(distance, times, self._of_point[curve.start], self._of_point[curve.center])
        elif isinstance(curve, DrawnCircle):
            self.sums.term(number, times, self._of_curve[curve.id])
        else:
            assert isinstance(curve, Straight)
            self.sums.term(distance, times, *self._ends(curve))

    def _ends(self, line: Straight) -> tuple[int, int]:
        return self._of_point[line.start], self._of_point[line.end]

    def _sum_coincident(self, hold: AnyHold, rank: int) -> bool:
        self._together(hold.id, rank, hold.of[0], hold.of[1])
        return True

    def _together(self, owner: str, rank: int, first: str, second: str) -> None:
        i, j = self._of_point[first], self._of_point[second]
        for k in (0, 1):
            self.sums.begin(owner, rank)
            self.sums.term(number, 1.0, i + k)
            self.sums.term(number, -1.0, j + k)

    def _sum_concentric(self, hold: AnyHold, rank: int) -> bool:
        first, second = (self._center(curve) for curve in hold.of)
        if first != second:
            self._together(hold.id, rank, first, second)
        return True

    def _sum_horizontal(self, hold: AnyHold, rank: int) -> bool:
        return self._levelled(hold, rank, 1)

    def _sum_vertical(self, hold: AnyHold, rank: int) -> bool:
        return self._levelled(hold, rank, 0)

    def _levelled(self, hold: AnyHold, rank: int, axis: int) -> bool:
        """Two points, or the ends of a line, at one height along an axis."""
        self.sums.begin(hold.id, rank)
        if len(hold.of) == 1:
            i, j = self._ends(self._line(hold.of[0]))
            self.sums.term(level, self._reach[hold.of[0]], i, j, i + axis, j + axis)
        else:
            i, j = (self._of_point[point] for point in hold.of)
            self.sums.term(number, 1.0, j + axis)
            self.sums.term(number, -1.0, i + axis)
        return True

    def _sum_parallel(self, hold: AnyHold, rank: int) -> bool:
        self.sums.begin(hold.id, rank)
        self.sums.term(sine, self._shorter(hold), *self._both(hold))
        return True

    def _sum_perpendicular(self, hold: AnyHold, rank: int) -> bool:
        self.sums.begin(hold.id, rank)
        self.sums.term(cosine, self._shorter(hold), *self._both(hold))
        return True

    def _shorter(self, hold: AnyHold) -> float:
        return min(self._reach[line] for line in hold.of)

    def _both(self, hold: AnyHold) -> tuple[int, int, int, int]:
        (a, b), (c, d) = (self._ends(self._line(line)) for line in hold.of)
        return a, b, c, d

    def _sum_collinear(self, hold: AnyHold, rank: int) -> bool:
        # an axis is the one that the other lies on
        on, other = sorted(hold.of, key=lambda thing: thing not in AXES) if hold.of[0] in AXES else (hold.of[1], hold.of[0])
        for point in self._line(other).points():
            self.sums.begin(hold.id, rank)
            self.sums.term(away, 1.0, self._of_point[point], *self._ends(self._line(on)))
        return True

    def _sum_equal(self, hold: AnyHold, rank: int) -> bool:
        first, second = (self._curves[curve] for curve in hold.of)
        if isinstance(first, DrawnEllipse):
            i, j = (self._of_curve[curve] for curve in hold.of)
            for k in (0, 1):
                self.sums.begin(hold.id, rank)
                self.sums.term(number, 1.0, i + k)
                self.sums.term(number, -1.0, j + k)
            return True
        self.sums.begin(hold.id, rank)
        self._size(1.0, first)
        self._size(-1.0, second)
        return True

    def _sum_tangent(self, hold: AnyHold, rank: int) -> bool:
        first, second = (self._curves[curve] for curve in hold.of)
        if isinstance(second, DrawnLine):
            first, second = second, first
        assert hold.type == "tangent"
        shared = self._shared(hold)
        if isinstance(first, DrawnLine) and isinstance(second, Round):
            center = self._of_point[second.center]
            self.sums.begin(hold.id, rank)
            if shared is not None:
                # the radius to the point they share is square to the line
                self.sums.term(along, 1.0, *self._ends(first), self._of_point[shared], center)
            else:
                self.sums.term(away, self._sides[hold.id], center, *self._ends(first))
                self._size(-1.0, second)
            return True
        if isinstance(first, Round) and isinstance(second, Round) and shared is None:
            side = self._sides[hold.id]
            signs = (1.0, 1.0) if side == 0 else (side, -side)
            self.sums.begin(hold.id, rank)
            self.sums.term(distance, 1.0, self._of_point[first.center], self._of_point[second.center])
            for sign, curve in zip(signs, (first, second), strict=True):
                self._size(-sign, curve)
            return True
        return False

    def _sum_midpoint(self, hold: AnyHold, rank: int) -> bool:
        curve = self._curves[hold.of[1]]
        if isinstance(curve, DrawnArc):
            return False
        middle, (i, j) = self._of_point[hold.of[0]], self._ends(self._line(hold.of[1]))
        for k in (0, 1):
            self.sums.begin(hold.id, rank)
            self.sums.term(number, 1.0, middle + k)
            self.sums.term(number, -0.5, i + k)
            self.sums.term(number, -0.5, j + k)
        return True

    def _sum_symmetric(self, hold: AnyHold, rank: int) -> bool:
        if hold.of[0] in self._curves:
            return False
        i, j = (self._of_point[point] for point in hold.of[:2])
        ends = self._ends(self._line(hold.of[2]))
        self.sums.begin(hold.id, rank)
        self.sums.term(away, 0.5, i, *ends)
        self.sums.term(away, 0.5, j, *ends)
        self.sums.begin(hold.id, rank)
        self.sums.term(along, 1.0, *ends, j, i)
        return True

    def _sum_on_curve(self, hold: AnyHold, rank: int) -> bool:
        point, curve = self._of_point[hold.of[0]], self._curves[hold.of[1]]
        if isinstance(curve, DrawnLine):
            self.sums.begin(hold.id, rank)
            self.sums.term(away, 1.0, point, *self._ends(curve))
            return True
        if isinstance(curve, Round):
            self.sums.begin(hold.id, rank)
            self.sums.term(distance, 1.0, point, self._of_point[curve.center])
            self._size(-1.0, curve)
            return True
        return False

    def _sum_fixed(self, hold: AnyHold, rank: int) -> bool:
        for thing in hold.of:
            points = self._curves[thing].points() if thing in self._curves else (thing,)
            own = self._of_curve.get(thing)
            numbers = [self._of_point[point] + k for point in points for k in (0, 1)]
            for i in numbers + ([] if own is None else list(range(own, own + self._count(thing)))):
                self.sums.begin(hold.id, rank, float(self._begun[i]))
                self.sums.term(number, 1.0, i)
        return True

    def _sum_passes(self, hold: AnyHold, rank: int) -> bool:
        assert hold.type == "passes"
        for k in (0, 1):
            self.sums.begin(hold.id, rank, hold.at[k])
            self.sums.term(number, 1.0, self._of_point[hold.of[0]] + k)
        return True

    # -- measures ---------------------------------------------------------------------------------------------------------------

    def _sum_length(self, hold: AnyHold, rank: int) -> bool:
        assert hold.type == "length"
        self.sums.begin(hold.id, rank, hold.value)
        self._size(1.0, self._line(hold.of[0]))
        return True

    def _sum_radius(self, hold: AnyHold, rank: int) -> bool:
        assert hold.type == "radius"
        self.sums.begin(hold.id, rank, hold.value)
        self._size(1.0, self._curves[hold.of[0]])
        return True

    def _sum_diameter(self, hold: AnyHold, rank: int) -> bool:
        assert hold.type == "diameter"
        self.sums.begin(hold.id, rank, hold.value)
        self._size(2.0, self._curves[hold.of[0]])
        return True

    def _sum_distance(self, hold: AnyHold, rank: int) -> bool:
        """What has two sides stays on its own, whatever an expression comes to: a sign would send it to and fro with every solve."""
        assert hold.type == "distance"
        first, last = self._curves.get(hold.of[0]), self._curves.get(hold.of[-1])
        side = self._sides[hold.id]
        if isinstance(last, DrawnBeside) or (isinstance(last, DrawnLine) and isinstance(first, Round)):
            return False
        self.sums.begin(hold.id, rank, abs(hold.value))
        if first is None and last is None:
            self.sums.term(distance, 1.0, self._of_point[hold.of[1]], self._of_point[hold.of[0]])
        elif first is None and isinstance(last, Round):
            self.sums.term(distance, side, self._of_point[hold.of[0]], self._of_point[last.center])
            self._size(-side, last)
        elif isinstance(first, Round):
            self._size(side, first)
            self._size(-side, last)
        else:
            line = self._line(hold.of[1])
            point = hold.of[0] if hold.of[0] in self._of_point else self._line(hold.of[0]).start
            self.sums.term(away, side, self._of_point[point], *self._ends(line))
        return True
