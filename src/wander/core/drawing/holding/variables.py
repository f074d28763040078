"""The variables of a drawing, and geometry at their present values: every quantity with its slopes.

Plain floats, no arrays: equations have two to eight variables each, and arrays that small cost more than the arithmetic.
"""

from __future__ import annotations

from collections.abc import Iterable
from math import degrees, hypot, radians

import numpy as np
import numpy.typing as npt

from wander.core.drawing.ground import AXES, ORIGIN
from wander.core.drawing.holds import SHARES
from wander.core.drawing.model import AXIS_LINES, AnyCurve, Drawing, DrawnArc, DrawnBeside, DrawnCircle, DrawnEllipse, DrawnFoil, DrawnLine
from wander.core.geometry.basis import Floats

Slopes = dict[int, float]
Straight = DrawnLine | DrawnFoil
"""What has a length and a direction from its start to its end."""
OF_NUMBERS = (DrawnCircle, DrawnBeside, DrawnEllipse, DrawnFoil)
RELUCTANCE = 1e4
"""How much harder it is to move a point that is being dragged than any other."""


class Variables:
    """The numbers that a drawing is made of: positions, radii, axes; and simple geometry at their present values, with slopes."""

    def __init__(self, drawing: Drawing) -> None:
        self._drawing = drawing
        self._curves: dict[str, AnyCurve] = {curve.id: curve for curve in drawing.curves} | AXIS_LINES
        self._of_point: dict[str, int] = {}
        values: list[float] = []
        for point, (x, y) in drawing.points.items():
            self._of_point[point] = len(values)
            values += [x, y]
        spans = np.array(values or [0.0, 0.0]).reshape(-1, 2)
        reach = [
            c.radius if isinstance(c, DrawnCircle) else max(c.width, c.depth) for c in drawing.curves if isinstance(c, DrawnCircle | DrawnEllipse)
        ]
        self.size = max(float(np.ptp(spans, axis=0).max()), *reach, 1.0)
        self._of_curve: dict[str, int] = {}
        for curve in drawing.curves:
            if isinstance(curve, OF_NUMBERS):
                self._of_curve[curve.id] = len(values)
                values += self._numbers(curve)
        self._numbered = [(number, self._of_curve[curve.id]) for number, curve in enumerate(drawing.curves) if curve.id in self._of_curve]
        self.values = np.array(values, dtype=np.float64)
        # behind what varies stands what never does: the origin, and the ends of the axes
        self._ground: list[float] = []
        for point, way in {ORIGIN: (0.0, 0.0), **{AXIS_LINES[axis].end: way for axis, way in AXES.items()}}.items():
            self._of_point[point] = len(values) + len(self._ground)
            self._ground += [self.size * along for along in way]
        self._begun = self.values.copy()
        self._read()
        self._reach = {c.id: self._reach_of(c) for c in self._curves.values() if isinstance(c, Straight)}

    def _read(self) -> None:
        """Take the present values for what is worked out from now on."""
        self._v: list[float] = [*self.values.tolist(), *self._ground]

    # -- numbers that a curve has of its own, beside its points; each counts in mm ---------------------------------------------

    def _numbers(self, curve: AnyCurve) -> list[float]:
        match curve:
            case DrawnCircle():
                return [curve.radius]
            case DrawnBeside():
                return [curve.distance]
            case DrawnEllipse():
                # the turn counts as the way it makes at the end of the axis
                return [curve.width / 2, curve.depth / 2, radians(curve.turn) * self.size]
            case DrawnFoil():
                return [share * self.size for share in (curve.thickness, curve.camber, curve.crest)]
            case _:
                return []

    def _sizes(self, curve: AnyCurve, numbers: list[float]) -> dict[str, float]:
        """The fields of a curve from its numbers; more of them than it has may be given."""
        match curve:
            case DrawnCircle():
                return {"radius": abs(numbers[0])}
            case DrawnBeside():
                return {"distance": numbers[0]}
            case DrawnEllipse():
                width, depth, turn = numbers
                return {"width": 2 * abs(width), "depth": 2 * abs(depth), "turn": degrees(turn / self.size)}
            case _:
                # past these there is no such foil: what asks for one is told that it does not hold
                return {k: min(max(v / self.size, low), high) for (k, (low, high)), v in zip(SHARES.items(), numbers, strict=True)}

    def _count(self, curve_id: str) -> int:
        return len(self._numbers(self._curves[curve_id]))

    # -- what the solver asks -------------------------------------------------------------------------------------------------

    def position(self, point: str) -> tuple[float, float]:
        i = self._of_point[point]
        return float(self.values[i]), float(self.values[i + 1])

    def place_of(self, point: str) -> int:
        """Where its two numbers stand among all."""
        return self._of_point[point]

    def place(self, point: str, x: float, y: float) -> None:
        i = self._of_point[point]
        self.values[i], self.values[i + 1] = x, y

    def weights(self, pulled: Iterable[str]) -> Floats:
        found = np.ones(len(self.values))
        for point in pulled:
            i = self._of_point[point]
            found[i : i + 2] = RELUCTANCE
        return found

    def drawing(self) -> Drawing:
        """The drawing at the present values."""
        # points come first of all that varies, in their order
        end = 2 * len(self._drawing.points)
        points = dict(zip(self._drawing.points, zip(self.values[:end:2].tolist(), self.values[1:end:2].tolist(), strict=True), strict=True))
        curves = list(self._drawing.curves)
        changed = set(np.flatnonzero(self.values != self._begun).tolist())
        for number, i in self._numbered if changed else ():
            # further numbers than it has are those of others
            if not changed.isdisjoint((i, i + 1, i + 2)):
                curves[number] = curves[number].model_copy(update=self._sizes(curves[number], self.values[i : i + 3].tolist()))
        return self._drawing.model_copy(update={"points": points, "curves": curves})

    def settled(self, variables: npt.NDArray[np.bool_]) -> frozenset[str]:
        """Points and curves none of whose variables can change."""
        points = {p for p, i in self._of_point.items() if i >= len(variables) or (variables[i] and variables[i + 1])}
        found = points & self._drawing.points.keys()
        for curve in self._drawing.curves:
            own = self._of_curve.get(curve.id)
            count = self._count(curve.id)
            source = curve.of if isinstance(curve, DrawnBeside) else curve.id
            if all(p in points for p in self._curves[source].points()) and (own is None or variables[own : own + count].all()):
                found.add(curve.id)
        return frozenset(found)

    # -- pieces of geometry ---------------------------------------------------------------------------------------------------

    def _at(self, point: str) -> tuple[int, float, float]:
        i = self._of_point[point]
        return i, self._v[i], self._v[i + 1]

    def _line(self, curve_id: str) -> Straight:
        """A line, or the chord of a foil."""
        curve = self._curves[curve_id]
        assert isinstance(curve, Straight)
        return curve

    def _between(self, a: str, b: str) -> tuple[float, Slopes]:
        """Distance from b to a."""
        i, ax, ay = self._at(a)
        j, bx, by = self._at(b)
        dx, dy = ax - bx, ay - by
        r = hypot(dx, dy) or 1e-12
        return r, {i: dx / r, i + 1: dy / r, j: -dx / r, j + 1: -dy / r}

    def _radius_of(self, curve_id: str) -> tuple[float, Slopes]:
        curve = self._curves[curve_id]
        if isinstance(curve, DrawnArc):
            return self._between(curve.start, curve.center)
        i = self._of_curve[curve_id]
        return self._v[i], {i: 1.0}

    def _center(self, curve_id: str) -> str:
        curve = self._curves[curve_id]
        assert isinstance(curve, DrawnArc | DrawnCircle | DrawnEllipse)
        return curve.center

    def _vector(self, line: Straight) -> tuple[float, float, Slopes, Slopes]:
        i, ax, ay = self._at(line.start)
        j, bx, by = self._at(line.end)
        return bx - ax, by - ay, {i: -1.0, j: 1.0}, {i + 1: -1.0, j + 1: 1.0}

    def _from_line(self, point: str, line: Straight) -> tuple[float, Slopes]:
        """Signed distance of a point from a line, positive on its left."""
        k, px, py = self._at(point)
        i, ax, ay = self._at(line.start)
        j, bx, by = self._at(line.end)
        dx, dy = bx - ax, by - ay
        size = hypot(dx, dy) or 1e-12
        ex, ey = dx / size, dy / size
        wx, wy = px - ax, py - ay
        away, along = ex * wy - ey * wx, ex * wx + ey * wy
        share = along / size
        slopes: Slopes = {}
        # the normal is (-ey, ex); turning the line moves its foot by the share of the length
        for index, weight in ((k, 1.0), (i, -(1 - share)), (j, -share)):
            slopes[index] = slopes.get(index, 0.0) - ey * weight
            slopes[index + 1] = slopes.get(index + 1, 0.0) + ex * weight
        return away, slopes

    def _reach_of(self, line: Straight) -> float:
        """The length at which the direction of a line counts: the one it had at first, so that no line gets short to be out of the way."""
        (_, ax, ay), (_, bx, by) = (self._at(p) for p in line.points())
        return max(hypot(bx - ax, by - ay), 1e-3 * self.size)


def scaled(slopes: Slopes, factor: float) -> Slopes:
    return {k: factor * v for k, v in slopes.items()}


def added(a: Slopes, b: Slopes, factor: float) -> Slopes:
    found = dict(a)
    for k, v in b.items():
        found[k] = found.get(k, 0.0) + factor * v
    return found
