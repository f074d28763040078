"""Curves that come from files, and the drawing that they make."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import cos, pi, sin
from typing import Any

import numpy as np

from wander.core.drawing.edits.splines import Mark, spline_through
from wander.core.exchange.fewest import fewest
from wander.core.exchange.rows import MEETS, between_corners, distinct, thinned
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import NotConverged
from wander.core.geometry.interpolate import open_through

MOST_POINTS = 20_000
"""A file with more is no outline for a designer but a scan."""
MOST_NUMBERS = 10 * MOST_POINTS
"""Where the points can't be counted without reading them: a file with more numbers than this is not read at all."""
MOST_CURVES = 2000
FARTHEST = 1e6
"""mm from the middle of a drawing, and the largest that anything in one can be."""
NO_PLACE = "the file holds a number that is no place: more than a kilometre off, or none at all. Leave that curve out"
FEW, MANY = 8, 2000
"""Points from which on fewer can stand for them, and more than which are only thinned."""


class UnreadableCurves(ValueError):
    """The file holds no curves that can be used; the message says what, where and what would help."""


@dataclass(frozen=True)
class Polyline:
    """Points (m, 2) in mm that a curve is to be laid through. smooth: it bends between them; otherwise it is straight from one to the next.

    chord: of a foil, its length as the file has it.
    """

    points: Floats
    smooth: bool
    closed: bool = False
    chord: float | None = None


@dataclass(frozen=True)
class PolesOf:
    """A cubic by its four controls (4, 2), mm."""

    points: Floats


@dataclass(frozen=True)
class ArcOf:
    """An arc or a whole circle about a centre, mm, from angle `start` over `sweep` radians, counter-clockwise."""

    center: tuple[float, float]
    radius: float
    start: float = 0.0
    sweep: float = 2 * pi


@dataclass(frozen=True)
class EllipseOf:
    """A whole ellipse; turn in degrees."""

    center: tuple[float, float]
    width: float
    depth: float
    turn: float = 0.0


Brought = Polyline | ArcOf | EllipseOf | PolesOf


@dataclass(frozen=True)
class Contents:
    """What a file holds, in mm. layers: of each curve, the layer that it lies on, without a name where the file has none.

    says_unit: the file itself says how large it is; otherwise its numbers are taken for mm.
    """

    curves: list[Brought]
    layers: list[str]
    says_unit: bool

    @property
    def chord(self) -> float | None:
        """How long the foil is that it holds."""
        return next((item.chord for item in self.curves if isinstance(item, Polyline) and item.chord), None)

    @property
    def named(self) -> list[str]:
        """All layers, each once."""
        return list(dict.fromkeys(self.layers))

    def only(self, layers: Sequence[int] | None) -> Contents:
        """What lies on some of its layers, by their numbers. Raises UnreadableCurves where nothing does."""
        if layers is None:
            return self
        names = {name for number, name in enumerate(self.named) if number in layers}
        kept = [(item, layer) for item, layer in zip(self.curves, self.layers, strict=True) if layer in names]
        if not kept:
            raise UnreadableCurves("there is nothing on the layers that were chosen; choose another one")
        return replace(self, curves=[item for item, _ in kept], layers=[layer for _, layer in kept])


@dataclass(frozen=True)
class Placing:
    """Where and how large curves come in: scaled about the origin, then turned (radians), then moved (mm).

    chord: that a foil is to have, mm. unit: mm in one unit of a file that does not say. layers: those that come in, by number; None: all.
    """

    scale: float = 1.0
    turn: float = 0.0
    at: tuple[float, float] = (0.0, 0.0)
    chord: float | None = None
    unit: float | None = None
    layers: tuple[int, ...] | None = None

    def __call__(self, points: Floats) -> Floats:
        c, s = cos(self.turn), sin(self.turn)
        return points * self.scale @ np.array([[c, s], [-s, c]]) + self.at


@dataclass(frozen=True)
class Fitted:
    """act: adds everything to a drawing. deviation: mm that the drawn curves leave the points of the file at most. curves, points: how many."""

    act: dict[str, Any]
    deviation: float
    curves: int
    points: int


def drawn(brought: list[Brought], placing: Placing, tolerance: float) -> Fitted:
    """Curves as one act in a drawing: lines and arcs exactly, point lists as splines with as few points as the tolerance (mm) allows.

    Ends that lie on each other become one point.
    """
    if not brought:
        raise UnreadableCurves("there is no curve in this file")
    if len(brought) > MOST_CURVES:
        raise UnreadableCurves(f"the file holds {len(brought)} curves; {MOST_CURVES} are the most that one drawing takes")
    for item in brought:
        if not np.abs(_numbers(item)).max(initial=0.0) * placing.scale <= FARTHEST:
            raise UnreadableCurves(NO_PLACE)
    laying = _Laying(placing)
    for item in brought:
        laying.add(item, tolerance)
    return Fitted({"act": "add", "points": laying.points, "curves": laying.curves}, laying.deviation, len(laying.curves), len(laying.points))


def _numbers(item: Brought) -> Floats:
    """All that says where a curve is and how large, mm; nan where it is no number."""
    match item:
        case Polyline() | PolesOf():
            return np.asarray(item.points, dtype=np.float64).ravel()
        case ArcOf():
            return np.array([*item.center, item.radius])
        case EllipseOf():
            return np.array([*item.center, item.width, item.depth])


class _Laying:
    def __init__(self, placing: Placing) -> None:
        self.placing = placing
        self.points: dict[str, tuple[float, float]] = {}
        self.curves: list[dict[str, Any]] = []
        self.deviation = 0.0
        self._cells: dict[tuple[int, int], list[str]] = {}

    def add(self, item: Brought, tolerance: float) -> None:
        match item:
            case Polyline():
                self._polyline(item, tolerance)
            case ArcOf():
                self._arc(item)
            case PolesOf():
                self._curve(type="poles", poles=[self._point(p) for p in self.placing(item.points)])
            case EllipseOf():
                center = self._point(self.placing(np.array([item.center]))[0])
                sizes = {"width": item.width * self.placing.scale, "depth": item.depth * self.placing.scale}
                self._curve(type="ellipse", center=center, turn=item.turn + float(np.degrees(self.placing.turn)), **sizes)

    def _curve(self, **fields: Any) -> None:
        self.curves.append({"id": f"$c{len(self.curves) + 1}", **fields})

    def _point(self, at: Floats) -> str:
        x, y = float(at[0]), float(at[1])
        cell = (int(np.floor(x / (8 * MEETS))), int(np.floor(y / (8 * MEETS))))
        for dx in (-1, 0, 1):
            for dy in (-1, 0, 1):
                for known in self._cells.get((cell[0] + dx, cell[1] + dy), ()):
                    if np.hypot(self.points[known][0] - x, self.points[known][1] - y) <= MEETS:
                        return known
        name = f"$p{len(self.points) + 1}"
        self.points[name] = (x, y)
        self._cells.setdefault(cell, []).append(name)
        return name

    def _arc(self, item: ArcOf) -> None:
        radius = item.radius * self.placing.scale
        center = self.placing(np.array([item.center]))[0]
        if item.sweep > 2 * pi - 1e-9:
            self._curve(type="circle", center=self._point(center), radius=radius)
            return
        ends = [center + radius * np.array([cos(a), sin(a)]) for a in (item.start + self.placing.turn, item.start + item.sweep + self.placing.turn)]
        self._curve(type="arc", center=self._point(center), start=self._point(ends[0]), end=self._point(ends[1]))

    def _polyline(self, item: Polyline, tolerance: float) -> None:
        points = distinct(self.placing(item.points))
        closed = item.closed or (len(points) > 3 and bool(np.linalg.norm(points[0] - points[-1]) <= MEETS))
        if closed and np.linalg.norm(points[0] - points[-1]) <= MEETS:
            points = points[:-1]
        if len(points) < 2:
            return
        if not item.smooth:
            names = [self._point(p) for p in points]
            for a, b in zip(names, [*names[1:], *names[:1]] if closed else names[1:], strict=False):
                if a != b:
                    self._curve(type="line", start=a, end=b)
            return
        for run, whole in between_corners(points, closed):
            if not whole and self._smooth(run, tolerance):
                continue
            chosen, missed = thinned(run, tolerance, closed=whole)
            self.deviation = max(self.deviation, missed)
            self._curve(type="spline", through=[self._point(p) for p in run[chosen]], closed=whole)

    def _smooth(self, run: Floats, tolerance: float) -> bool:
        """A row of points as a spline of its own with the fewest points; False where there are too few to do without any, or too many."""
        if not FEW <= len(run) <= MANY:
            return False
        whole = open_through(run)
        knots = whole.space.breaks
        # half-way between its points a curve through all of them tells where the outline runs
        dense = np.insert(run, np.arange(1, len(run)), whole((knots[:-1] + knots[1:]) / 2), axis=0)
        try:
            # between the places that were looked at it may leave them by as much again
            curve, missed = fewest(dense, tolerance / 2)
        except NotConverged:
            return False
        last = len(curve.space.breaks) - 1
        marks = [Mark(float(t), held=k in (0, last)) for k, t in enumerate(curve.space.breaks)]
        self.deviation = max(self.deviation, missed)
        self._curve(type="spline", **spline_through(self._point, curve, marks))
        return True
