"""Lines, arcs and circles as what they are: where they are nearest to a place and where they meet, by closed forms.

Their parameters run from 0 to 1 at constant speed, as those of the splines that stand for them do.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import acos, atan2, cos, hypot, pi, sin, sqrt

Place = tuple[float, float]


@dataclass(frozen=True)
class Straight:
    """From one place to another, mm."""

    start: Place
    end: Place

    @property
    def length(self) -> float:
        return hypot(*_way(self))

    def at(self, t: float) -> Place:
        return self.start[0] + t * (self.end[0] - self.start[0]), self.start[1] + t * (self.end[1] - self.start[1])

    def foot(self, p: Place) -> float:
        """The parameter nearest to a place."""
        dx, dy = self.end[0] - self.start[0], self.end[1] - self.start[1]
        return min(max(((p[0] - self.start[0]) * dx + (p[1] - self.start[1]) * dy) / (dx * dx + dy * dy), 0.0), 1.0)


@dataclass(frozen=True)
class Turn:
    """About a centre, mm, from an angle on over a sweep (radians), counter-clockwise."""

    center: Place
    radius: float
    begin: float
    sweep: float

    @property
    def length(self) -> float:
        return self.radius * self.sweep

    def at(self, t: float) -> Place:
        turn = self.begin + t * self.sweep
        return self.center[0] + self.radius * cos(turn), self.center[1] + self.radius * sin(turn)

    def towards(self, p: Place) -> float:
        """The parameter in the direction of a place from the centre; beyond 1 where the arc does not go there."""
        return ((atan2(p[1] - self.center[1], p[0] - self.center[0]) - self.begin) % (2 * pi)) / self.sweep

    def foot(self, p: Place) -> float:
        t = self.towards(p)
        if t <= 1.0:
            return t
        return 0.0 if hypot(p[0] - self.at(0.0)[0], p[1] - self.at(0.0)[1]) < hypot(p[0] - self.at(1.0)[0], p[1] - self.at(1.0)[1]) else 1.0


Even = Straight | Turn


def may_share(a: Even, b: Even, tolerance: float) -> bool:
    """Whether two may run along each other: on one straight line, or on one circle, within a tolerance, mm."""
    if isinstance(a, Turn) and isinstance(b, Turn):
        return hypot(a.center[0] - b.center[0], a.center[1] - b.center[1]) <= 2 * tolerance and abs(a.radius - b.radius) <= 2 * tolerance
    if isinstance(a, Straight) and isinstance(b, Straight):
        long, short = (a, b) if a.length >= b.length else (b, a)
        return all(abs(_beside(p, long)) <= 2 * tolerance for p in (short.start, short.end))
    return False


def meetings(a: Even, b: Even, within: float) -> list[tuple[float, float]]:
    """Pairs of parameters at which two meet, by less than `within` mm; where they run along each other, none."""
    places = _line_and_line(a, b) if isinstance(a, Straight) and isinstance(b, Straight) else _on_circles(a, b, within)
    found: list[tuple[float, float]] = []
    for place in places:
        s, t = a.foot(place), b.foot(place)
        (px, py), (qx, qy) = a.at(s), b.at(t)
        if hypot(px - qx, py - qy) < within and all(hypot(px - x, py - y) > within for x, y in (a.at(u) for u, _ in found)):
            found.append((s, t))
    return found


def _line_and_line(a: Straight, b: Straight) -> list[Place]:
    (dx, dy), (ex, ey) = _way(a), _way(b)
    cross = dx * ey - dy * ex
    if abs(cross) <= 1e-12 * hypot(dx, dy) * hypot(ex, ey):
        return []
    gx, gy = b.start[0] - a.start[0], b.start[1] - a.start[1]
    return [a.at((gx * ey - gy * ex) / cross)]


def _on_circles(a: Even, b: Even, within: float) -> list[Place]:
    """Where a circle meets a straight line or a circle, both taken as a whole; one place where they only touch."""
    if isinstance(a, Straight):
        a, b = b, a
    assert isinstance(a, Turn)
    cx, cy = a.center
    if isinstance(b, Straight):
        ex, ey = _way(b)
        size = hypot(ex, ey)
        nx, ny = -ey / size, ex / size
        off = nx * (b.start[0] - cx) + ny * (b.start[1] - cy)
        half, reach = acos(min(max(off / a.radius, -1.0), 1.0)), abs(off) - a.radius
    else:
        gx, gy = b.center[0] - cx, b.center[1] - cy
        size = hypot(gx, gy)
        if size < 1e-12:
            return []
        nx, ny = gx / size, gy / size
        off = (size * size + a.radius**2 - b.radius**2) / (2 * size)
        half = acos(min(max(off / a.radius, -1.0), 1.0))
        reach = max(size - a.radius - b.radius, abs(a.radius - b.radius) - size)
    if reach > within:
        return []
    middle = atan2(ny, nx)
    # where they touch, or all but, it is one place: that where they are nearest
    turns = [middle if off >= 0 else middle + pi] if reach > -within else [middle - half, middle + half]
    return [(cx + a.radius * cos(t), cy + a.radius * sin(t)) for t in turns]


def _way(line: Straight) -> Place:
    return line.end[0] - line.start[0], line.end[1] - line.start[1]


def _beside(p: Place, line: Straight) -> float:
    dx, dy = _way(line)
    return (dx * (p[1] - line.start[1]) - dy * (p[0] - line.start[0])) / (sqrt(dx * dx + dy * dy) or 1e-300)
