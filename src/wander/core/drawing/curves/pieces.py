"""The curves of a drawing as geometry: every one a spline over [0, 1], lines and arcs run at constant speed."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import atan2, cos, hypot, pi, radians, sin

import numpy as np

from wander.core.drawing.curves.beside import NoOffset, beside
from wander.core.drawing.curves.even import Even, Straight, Turn
from wander.core.drawing.model import (
    AnyCurve,
    Drawing,
    DrawnArc,
    DrawnBeside,
    DrawnCircle,
    DrawnEllipse,
    DrawnFoil,
    DrawnLine,
    DrawnPoles,
    DrawnSpline,
    DrawnTrace,
)
from wander.core.drawing.outlines.shapes import foil
from wander.core.geometry.basis import Floats
from wander.core.geometry.conics import smooth_arc
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import join
from wander.core.geometry.interpolate import End, cubic_through, spread_parameters
from wander.core.geometry.quadrature import length
from wander.core.geometry.space import SplineSpace

LINE = SplineSpace.from_breaks(1, [0.0, 1.0])
Positions = Mapping[str, tuple[float, float]]
Direction = tuple[float, float]


@dataclass(frozen=True)
class Piece:
    """A curve of a drawing. ends: ids of its end points, None where it closes on itself. form: what a line, an arc or a circle is."""

    id: str
    type: str
    curve: Curve
    ends: tuple[str, str] | None
    construction: bool
    form: Even | None

    @property
    def even(self) -> bool:
        """Whether it is run at constant speed."""
        return self.form is not None

    @property
    def length(self) -> float:
        """mm."""
        return self.form.length if self.form is not None else length(self.curve)


def pieces(drawing: Drawing) -> list[Piece]:
    """All curves that have a length, in their order."""
    found = []
    for curve in drawing.curves:
        made = curve_of(curve, drawing)
        if made is not None:
            found.append(Piece(curve.id, curve.type, made, curve.ends(), curve.construction, form_of(curve, drawing.points)))
    return found


def form_of(curve: AnyCurve, at: Positions) -> Even | None:
    """A line, an arc or a circle as what it is; None for what has no such form."""
    match curve:
        case DrawnLine():
            return Straight(at[curve.start], at[curve.end])
        case DrawnArc():
            (cx, cy), (ax, ay), (bx, by) = at[curve.center], at[curve.start], at[curve.end]
            return Turn((cx, cy), (hypot(ax - cx, ay - cy) + hypot(bx - cx, by - cy)) / 2, *arc_angles(curve, at))
        case DrawnCircle():
            return Turn(at[curve.center], curve.radius, 0.0, 2 * pi)
        case _:
            return None


def curve_of(curve: AnyCurve, drawing: Drawing) -> Curve | None:
    """The geometry of one curve; None where it has shrunk to nothing, or is an offset that there can't be."""
    at = drawing.points
    match curve:
        case DrawnLine():
            a, b = np.array(at[curve.start]), np.array(at[curve.end])
            return Curve(LINE, np.stack([a, b])) if np.linalg.norm(b - a) > 1e-9 else None
        case DrawnArc():
            (cx, cy), (ax, ay), (bx, by) = at[curve.center], at[curve.start], at[curve.end]
            radius = (hypot(ax - cx, ay - cy) + hypot(bx - cx, by - cy)) / 2
            begin, sweep = arc_angles(curve, at)
            return smooth_arc((cx, cy), radius, begin, sweep) if radius > 1e-9 and sweep * radius > 1e-9 else None
        case DrawnCircle():
            return smooth_arc(at[curve.center], curve.radius, 0.0, 2 * pi)
        case DrawnEllipse():
            unit = smooth_arc((0.0, 0.0), 0.5, 0.0, 2 * pi)
            c, s = cos(radians(curve.turn)), sin(radians(curve.turn))
            return Curve(unit.space, (unit.points * (curve.width, curve.depth)) @ np.array([[c, s], [-s, c]]) + at[curve.center])
        case DrawnFoil():
            nose, tail = at[curve.start], at[curve.end]
            apart = hypot(tail[0] - nose[0], tail[1] - nose[1])
            return foil_between(nose, tail, curve.thickness, curve.camber, curve.crest) if apart > 1e-9 else None
        case DrawnPoles():
            p = np.array([at[i] for i in curve.poles])
            return Curve(SplineSpace.from_breaks(3, np.linspace(0, 1, len(p) - 2)), p) if np.ptp(p, axis=0).max() > 1e-9 else None
        case DrawnBeside():
            original = curve_of(drawing.curve(curve.of), drawing)
            try:
                return beside(original, curve.distance) if original is not None else None
            except NoOffset:
                return None
        case DrawnTrace():
            return Curve(SplineSpace(curve.degree, np.array(curve.knots)), np.array(curve.poles)) if curve.poles else None
        case DrawnSpline():
            p = np.array([at[i] for i in curve.through])
            if np.linalg.norm(np.diff(p, axis=0), axis=1).min() <= 1e-9 or (curve.closed and (len(p) < 3 or np.linalg.norm(p[0] - p[-1]) <= 1e-9)):
                return None
            return spline_curve(curve, at, borrowed=leads_of(curve, drawing))


def arc_angles(arc: DrawnArc, at: Positions) -> tuple[float, float]:
    """Angle at the start and the sweep, radians, the sweep in (0, 2 pi]."""
    (cx, cy), (ax, ay), (bx, by) = at[arc.center], at[arc.start], at[arc.end]
    begin = atan2(ay - cy, ax - cx)
    sweep = (atan2(by - cy, bx - cx) - begin) % (2 * pi)
    return begin, sweep if sweep > 1e-12 else 2 * pi


def foil_between(nose: Direction, tail: Direction, thickness: float, camber: float, crest: float) -> Curve:
    """The outline of a foil from its trailing edge round its nose and back. Raises ShapeError where there is no such foil."""
    unit = foil(1.0, thickness, camber, crest).curve
    (ax, ay), (bx, by) = nose, tail
    turned = np.array([[bx - ax, by - ay], [ay - by, bx - ax]])
    return Curve(unit.space, (unit.points + np.array([0.25, 0.0])) @ turned + nose)


@dataclass(frozen=True)
class Lead:
    """How a spline is led through one of its points: its direction there (unit), how far that is felt, and its curvature.

    bend: 1/mm, positive to the left; None: as it comes.
    """

    way: Direction
    pull: float = 1.0
    bend: float | None = None


def spline_curve(curve: DrawnSpline | DrawnPoles, at: Positions, borrowed: Mapping[int, Lead] | None = None, *, shares: bool = False) -> Curve:
    """The curve of a spline through or by its points. borrowed: how its neighbours lead it at its ends.

    shares: with a coordinate more for each of its points: how much of it is in a place, or how far a step of it moves that while the pace stays.
    """
    p = np.array([at[i] for i in curve.points()])
    if shares:
        p = np.hstack([p, np.eye(len(p))])
    if isinstance(curve, DrawnPoles):
        return Curve(SplineSpace.from_breaks(3, np.linspace(0, 1, len(p) - 2)), p)
    ways = {h.at: Lead((cos(radians(h.angle)), sin(radians(h.angle))), h.pull, h.bend) for h in curve.handles if h.at < len(p)}
    # where it is tangent to a neighbour, only how far that is felt is its own
    ways |= {k: _of_both(lead, ways[k]) if k in ways else lead for k, lead in (borrowed or {}).items()}
    straight = {i for i in curve.straight if i < curve.spans}
    nodes = _nodes(curve, len(p), ways, straight)
    order = _order(curve, nodes)
    ring = p[order]
    u = _paced(curve, order, ring[:, :2])
    if curve.closed and not nodes:
        return cubic_through(ring, u, End.PERIODIC)
    stops = [k for k, i in enumerate(order) if i in nodes or k in (0, len(order) - 1)]
    runs, smooth = [], []
    for a, b in itertools.pairwise(stops):
        runs.append(_run(curve, ring, u, a, b, order, ways, straight))
    for k in stops[1:-1]:
        # a direction of its own beside a straight span makes a corner
        smooth.append(order[k] not in curve.sharp and (order[k] in ways) != _next_to(order[k], straight, len(p), curve.closed))
    return join(runs, [float(u[b] - u[a]) for a, b in itertools.pairwise(stops)], smooth)


def _of_both(borrowed: Lead, own: Lead) -> Lead:
    """How a spline is led where a neighbour leads it: how far that is felt is its own, and its curvature where only the direction is borrowed."""
    return replace(borrowed, pull=own.pull, bend=own.bend if borrowed.bend is None else borrowed.bend)


def places_along(curve: DrawnSpline, at: Positions) -> list[tuple[float, int]]:
    """The parameters at which a spline runs through its points, rising from 0 to 1, with their numbers; the first of a closed one comes last too."""
    ways = dict.fromkeys(h.at for h in curve.handles if h.at < len(curve.through))
    order = _order(curve, _nodes(curve, len(curve.through), ways, {i for i in curve.straight if i < curve.spans}))
    u = _paced(curve, order, np.array([at[curve.through[i]] for i in order]))
    return list(zip(u.tolist(), order, strict=True))


def _order(curve: DrawnSpline, nodes: Sequence[int]) -> list[int]:
    """Its points in the order in which the curve is put together: a closed one begins at the first point where parts meet."""
    count = len(curve.through)
    first = nodes[0] if nodes else 0
    return [(first + k) % count for k in range(count + 1)] if curve.closed else list(range(count))


def _paced(curve: DrawnSpline, order: Sequence[int], ring: Floats) -> Floats:
    return spread_parameters(ring, factors=np.array([curve.spacing[i] for i in order[:-1]]) if curve.spacing else None)


def _nodes(curve: DrawnSpline, count: int, ways: Mapping[int, object], straight: set[int]) -> list[int]:
    """Points at which the spline is put together from parts."""
    return sorted({i for i in curve.sharp if i < count} | set(ways) | straight | {(i + 1) % count for i in straight})


def _next_to(node: int, straight: set[int], count: int, closed: bool) -> bool:
    return node in straight or ((node - 1) % count if closed else node - 1) in straight


def _run(
    curve: DrawnSpline,
    ring: Floats,
    u: Floats,
    a: int,
    b: int,
    order: Sequence[int],
    ways: Mapping[int, Lead],
    straight: set[int],
) -> Curve:
    """The part of a spline between two of its nodes: straight, or a cubic as it is led at its ends, with a span more for each curvature."""
    if b == a + 1 and order[a] in straight:
        return Curve(LINE, ring[[a, b]])
    conditions: list[Floats | None] = []
    bends: list[Floats | None] = []
    none = np.zeros(ring.shape[1] - 2)
    for here, sign in ((a, 1), (b, -1)):
        node = order[here]
        bends.append(None)
        if node in ways:
            lead = ways[node]
            x, y = np.array(lead.way) * lead.pull * pace_at(ring[:, :2], u, here, closed=curve.closed)
            conditions.append(np.array([x, y, *none]))
            if lead.bend is not None:
                bends[-1] = lead.bend * hypot(x, y) * np.array([-y, x, *none])
            continue
        other = here - 1 if sign == 1 else here
        if curve.closed:
            other %= len(u) - 1
        if node not in curve.sharp and 0 <= other < len(u) - 1 and order[other] in straight:
            conditions.append((ring[other + 1] - ring[other]) / (u[other + 1] - u[other]))
        else:
            conditions.append(None)
    bent = [i for i, bend in enumerate(bends) if bend is not None]
    inside = [u[a] + (u[a + 1] - u[a]) / (3 if b == a + 1 and len(bent) == 2 else 2)] if 0 in bent else []
    inside += [u[b] - (u[b] - u[b - 1]) / (3 if b == a + 1 and len(bent) == 2 else 2)] if 1 in bent else []
    space = SplineSpace.from_breaks(3, np.sort([*u[a : b + 1], *inside]))
    ends = u[[a, b]]
    first, second = space.matrix(ends, 1), space.matrix(ends, 2)
    rows = np.stack([*((second if c is None else first)[i] for i, c in enumerate(conditions)), *(second[i] for i in bent)])
    wanted = np.array([np.zeros(ring.shape[1]) if c is None else c for c in (*conditions, *(bends[i] for i in bent))])
    controls = np.linalg.solve(np.concatenate([space.matrix(u[a : b + 1]), rows]), np.concatenate([ring[a : b + 1], wanted]))
    return Curve(space, controls)


def pace_at(ring: Floats, u: Floats, here: int, *, closed: bool) -> float:
    """How fast a spline runs through one of its points by itself: the mean of the spans beside it, or its two sides would meet at different rates."""
    spans = [i for i in (here - 1, here) if 0 <= i < len(u) - 1]
    if closed and len(spans) == 1:
        spans = [0, len(u) - 2]
    return float(np.mean([np.linalg.norm(ring[i + 1] - ring[i]) / (u[i + 1] - u[i]) for i in spans]))


def leads_of(curve: AnyCurve, drawing: Drawing) -> dict[int, Lead]:
    """How a spline through points is led at its ends by the neighbours that it is tangent to.

    Of two splines the one that was drawn later is led by the other, so that none leads itself.
    """
    if not isinstance(curve, DrawnSpline) or curve.closed:
        return {}
    found: dict[int, Lead] = {}
    leading = [hold for hold in drawing.holds if hold.type in ("tangent", "curvature") and curve.id in hold.of]
    # where both are held, the curvature is what counts
    for hold in sorted(leading, key=lambda hold: hold.type == "curvature"):
        other = drawing.curve(next(i for i in hold.of if i != curve.id))
        ends = other.ends()
        if ends is None or (isinstance(other, DrawnSpline) and drawing.curves.index(other) > drawing.curves.index(curve)):
            continue
        for index, point in ((0, curve.through[0]), (len(curve.through) - 1, curve.through[-1])):
            if point not in ends:
                continue
            run = curve_of(other, drawing)
            if run is None:
                continue
            leaves = point == ends[1]
            # out of the neighbour where the spline begins there, into it where the spline ends there
            sign = 1.0 if leaves == (index == 0) else -1.0
            _, (x, y), (ddx, ddy) = run.derivatives(run.domain[1] if leaves else run.domain[0], 2)
            pace = hypot(x, y) or 1.0
            bend = sign * float(x * ddy - y * ddx) / pace**3
            found[index] = Lead((sign * float(x) / pace, sign * float(y) / pace), bend=bend if hold.type == "curvature" else None)
    return found
