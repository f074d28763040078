"""Faces of a planar graph by the parts round them: how large they are, and what lies in them. Lines and arcs by closed forms."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from math import cos, pi, sin

import numpy as np

from wander.core.drawing.areas.parts import Part, Side
from wander.core.drawing.curves.even import Straight
from wander.core.geometry.basis import Floats
from wander.core.geometry.quadrature import gauss_points

PER_TURN = 192
PER_SPAN = 24
"""Places by which what lies in a face is told: of a whole circle, and of a span of a spline."""
Moments = tuple[float, float, float]


@dataclass(frozen=True)
class Face:
    """What lies to the left of a walk. parts: along it, each with whether it is walked forward."""

    walk: tuple[Side, ...]
    parts: tuple[tuple[Part, bool], ...]

    @cached_property
    def moments(self) -> tuple[float, Floats]:
        """Signed area (mm2) and centroid (2,), by Green's theorem; counter-clockwise is positive."""
        area, x, y = np.sum([_moments(part) if forward else [-m for m in _moments(part)] for part, forward in self.parts], axis=0).tolist()
        return area, np.array([x, y]) / area if area else self.ring.mean(axis=0)

    @property
    def area(self) -> float:
        return self.moments[0]

    @cached_property
    def ring(self) -> Floats:
        """A fine polygon (m, 2) round it."""
        return np.concatenate([_places(part) if forward else _places(part)[::-1] for part, forward in self.parts])

    @cached_property
    def box(self) -> tuple[Floats, Floats]:
        """Its lowest and its highest corner, a little more than it takes: round the controls of its parts."""
        points = np.concatenate([part.curve.points for part, _ in self.parts])
        return points.min(axis=0), points.max(axis=0)

    @property
    def begins(self) -> Floats:
        part, forward = self.parts[0]
        return np.array(part.at(0.0 if forward else 1.0))

    @property
    def somewhere(self) -> Floats:
        """A place on its outline that is hardly ever a special one."""
        part, _ = self.parts[0]
        return np.array(part.at(0.371))


def smallest_round(outside: Face, faces: Sequence[Face], low: Floats, high: Floats) -> int | None:
    """The smallest of some faces that an outline lies in, not being part of it. low, high: corners (n, 2) of their boxes."""
    point, own = outside.somewhere, {side.part for side in outside.walk}
    near = np.flatnonzero(np.all((low <= point) & (point <= high), axis=1)).tolist()
    for k in sorted(near, key=lambda k: faces[k].area):
        if not own & {side.part for side in faces[k].walk} and goes_round(faces[k].ring, point):
            return int(k)
    return None


def goes_round(ring: Floats, point: Floats) -> bool:
    """Whether a closed polygon (m, 2) runs round a place, by winding number; that lies on another outline, never on this one."""
    d = ring - point
    angle = np.arctan2(d[:, 1], d[:, 0])
    return bool(abs(np.sum((np.diff(angle, append=angle[0]) + pi) % (2 * pi) - pi)) > pi)


def _places(part: Part) -> Floats:
    if isinstance(part.form, Straight):
        return np.array([part.at(0.0), part.at(1.0)])
    if part.form is not None:
        turn = part.form.sweep * (part.share[1] - part.share[0])
        return np.array([part.at(float(t)) for t in np.linspace(0.0, 1.0, 2 + int(PER_TURN * turn / (2 * pi)))])
    return part.curve.sampled(PER_SPAN)[1]


def _moments(part: Part) -> Moments:
    """What a part gives to the area and to its first moments, walked forward."""
    if part.form is None:
        u, w = gauss_points(part.curve.space.breaks, (3 * part.curve.degree) // 2 + 1)
        (x, y), (dx, dy) = (d.T for d in part.curve.derivatives(u, 1))
        return float(np.sum(w * (x * dy - y * dx)) / 2), float(np.sum(w * x * x * dy) / 2), float(-np.sum(w * y * y * dx) / 2)
    if isinstance(part.form, Straight):
        (ax, ay), (bx, by) = part.at(0.0), part.at(1.0)
        return (ax * by - bx * ay) / 2, (by - ay) * (ax * ax + ax * bx + bx * bx) / 6, -(bx - ax) * (ay * ay + ay * by + by * by) / 6
    (cx, cy), r = part.form.center, part.form.radius
    a, b = (part.form.begin + t * part.form.sweep for t in part.share)
    # integrals of powers of the cosine and the sine
    c1, s1 = sin(b) - sin(a), cos(a) - cos(b)
    c2, s2 = (b - a) / 2 + (sin(2 * b) - sin(2 * a)) / 4, (b - a) / 2 - (sin(2 * b) - sin(2 * a)) / 4
    c3, s3 = c1 - (sin(b) ** 3 - sin(a) ** 3) / 3, s1 + (cos(b) ** 3 - cos(a) ** 3) / 3
    area = (r * r * (b - a) + r * cx * c1 + r * cy * s1) / 2
    return area, r * (cx * cx * c1 + 2 * cx * r * c2 + r * r * c3) / 2, r * (cy * cy * s1 + 2 * cy * r * s2 + r * r * s3) / 2
