"""How the faces of a body meet: gap, angle and jump of curvature along every edge, and across every section that a skin goes through.

Measured after the fact, on the surfaces as they are, and never taken from how they were made.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from wander.core.bodies.body import Body, Face
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.feet import derivatives_at, feet
from wander.core.geometry.frame import Frame
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.shell import NamedFace, Ring, Shell

PLACES = 50
"""Along an edge."""
ACROSS = 132
"""Places along a section."""
HAIR = 1e-7
"""Share of the span of a surface by which a section is looked at before and after it."""
FLATTEST = 1e-2
"""Curvatures below this, by the size of the body, are none: a radius of a hundred sizes."""
BENT = 5.0
"""Faces that meet at more than this angle, degrees, have no curvature in common to speak of."""


@dataclass(frozen=True)
class Limits:
    """What still counts as continuous. gap: mm. angle: degrees. jump: of the curvature across, as a share of the larger one."""

    gap: float = 1e-3
    angle: float = 0.05
    jump: float = 0.02


@dataclass(frozen=True)
class Seam:
    """How two faces meet, or one with itself. name: of the edge, or of the section that is crossed. section: it is one.

    gap: largest, mm. angle: largest between the normals, degrees. jump: largest of the curvature across the seam, as a share of the larger one; None
    where the faces meet at an angle. worst: where it is furthest from the next class, (3,). grade: 0 to 2 for G0 to G2; None where they don't meet.
    """

    name: str
    faces: tuple[str, str]
    section: bool
    length: float
    gap: float
    angle: float
    jump: float | None
    worst: Floats
    grade: int | None


def seams(body: Body, limits: Limits = Limits()) -> list[Seam]:
    """Every edge of a body, and every section inside its skins; those that meet worst come first. Bodies that are only a mesh have none."""
    faces = {face.name: face for face in body.faces}
    found = []
    for edge in body.edges:
        both = [faces.get(edge.left), faces.get(edge.right)]
        if both[0] is None or both[1] is None:
            continue
        points, ways, length = _along(edge.curve)
        sides = _sides(both[0], both[1], points)
        if sides is not None:
            found.append(_seam(edge.name, (edge.left, edge.right), False, length, points, ways, sides, limits, body.size))
    found += [seam for skin in body.skins for seam in _sections(skin, limits, body.size)]
    if body.along is not None and body.along.mirror is not None:
        name, plane = body.along.mirror
        found += [seam for skin in body.skins for face in skin.faces for seam in _across(face, name, plane, limits, body.size)]
    return sorted(found, key=lambda seam: (-1 if seam.grade is None else seam.grade, -seam.gap if seam.grade is None else -seam.angle, seam.name))


def between(left: Face, right: Face, curve: Curve, *, size: float, limits: Limits = Limits()) -> Seam:
    """How two faces, of one body or of two, meet along a curve. size: of the bodies, mm. Raises ValueError where one of them has no surface."""
    points, ways, length = _along(curve)
    sides = _sides(left, right, points)
    if sides is None:
        raise ValueError("a face without a surface can't be looked at")
    return _seam(f"{left.name}|{right.name}", (left.name, right.name), False, length, points, ways, sides, limits, size)


@dataclass(frozen=True)
class Look:
    """What a face is like at places: points, outward unit normals (m, 3), and the second fundamental form with what it is counted in."""

    points: Floats
    normals: Floats
    du: Floats
    dv: Floats
    bends: Floats

    def curvature(self, across: Floats) -> Floats:
        """Normal curvature (m,), 1/mm, in unit directions (m, 3) of the tangent plane."""
        e, f, g = (np.einsum("mc,mc->m", *pair) for pair in ((self.du, self.du), (self.du, self.dv), (self.dv, self.dv)))
        p, q = np.einsum("mc,mc->m", across, self.du), np.einsum("mc,mc->m", across, self.dv)
        whole = e * g - f * f
        with np.errstate(invalid="ignore", divide="ignore"):
            a, b = (g * p - f * q) / whole, (e * q - f * p) / whole
        return np.asarray(self.bends[:, 0] * a * a + 2 * self.bends[:, 1] * a * b + self.bends[:, 2] * b * b, dtype=np.float64)


def _along(curve: Curve) -> tuple[Floats, Floats, float]:
    """Places along a curve, its unit directions there, (m, 3) each, and its length, mm."""
    low, high = curve.domain
    points, ways = curve.derivatives(low + (high - low) * (np.arange(PLACES) + 0.5) / PLACES, 1)
    size = lengths(ways)
    return points, ways / np.where(size > 0, size, 1.0)[:, None], float(size.mean() * (high - low))


def _sides(left: Face, right: Face, points: Floats) -> tuple[Look, Look] | None:
    """Both faces beside an edge, None where one of them has no surface to look at. A face that meets itself is looked at from either end."""
    if left.name == right.name and left.surface is not None:
        axis = _closed(left.surface)
        spans = [left.surface.u.domain, left.surface.v.domain]
        looks = []
        for share in (0.0, 0.5):
            low, high = spans[axis]
            part = [*spans]
            part[axis] = (low + share * (high - low), low + (share + 0.5) * (high - low))
            looks.append(look_at(left, points, part))
    else:
        looks = [look_at(face, points) for face in (left, right)]
    if looks[0] is None or looks[1] is None:
        return None
    return looks[0], looks[1]


def _closed(surface: Surface) -> int:
    """The direction, 0 for u, in which a surface comes back to itself."""
    apart = [float(np.abs(surface.edge(f"{way}0").points - surface.edge(f"{way}1").points).max()) for way in "uv"]
    return int(np.argmin(apart))


def look_at(face: Face, points: Floats, within: Sequence[tuple[float, float]] | None = None) -> Look | None:
    """The face at the feet of points (m, 3); within: the parameters in which they are sought, low and high in each direction."""
    sign = -1.0 if face.turned else 1.0
    if face.surface is None:
        if face.frame is None:
            return None
        frame = face.frame
        height = (points - frame.origin) @ frame.z
        normal, x, y = (np.tile(way, (len(points), 1)) for way in (sign * frame.z, frame.x, frame.y))
        return Look(points - height[:, None] * frame.z, normal, x, y, np.zeros((len(points), 3)))
    u, v = feet(face.surface, points, within, beside=True)
    return _at(face.surface, u, v, sign)


def _at(surface: Surface, u: Floats, v: Floats, sign: float) -> Look:
    place, du, dv, duu, duv, dvv = derivatives_at(surface, u, v)
    normal = cross(du, dv)
    size = lengths(normal)
    with np.errstate(invalid="ignore", divide="ignore"):
        normal = sign * normal / np.where(size > 1e-9 * max(float(size.max()), 1e-300), size, np.nan)[:, None]
    bends = np.stack([np.einsum("mc,mc->m", second, normal) for second in (duu, duv, dvv)], axis=1)
    return Look(place, normal, du, dv, bends)


def _sections(skin: Shell, limits: Limits, size: float) -> Iterator[Seam]:
    """What a skin is like across the sections inside its faces."""
    for ring in skin.rings:
        seam = _section(skin.faces, ring, limits, size)
        if seam is not None:
            yield seam


def _across(face: NamedFace, name: str, plane: Frame, limits: Limits, size: float) -> Iterator[Seam]:
    """What a face is like where it goes through the plane in which its body is mirrored. name: of the plane."""
    surface = face.surface
    (low, high), v = surface.u.domain, np.linspace(*surface.v.domain, PLACES + 2)[1:-1]
    u = np.linspace(low, high, ACROSS)[1:-1]
    height = (surface.grid(u, v) - plane.origin) @ plane.z
    passes = np.flatnonzero(np.all(height[:-1] * height[1:] <= 0, axis=1) | (np.diff(np.sign(height.mean(axis=1))) != 0))
    for first in passes.tolist():
        before, after = np.full(len(v), u[max(first - 2, 0)]), np.full(len(v), u[min(first + 3, len(u) - 1)])
        side = (surface.at(before, v, [(0, 0)])[0] - plane.origin) @ plane.z > 0
        for _ in range(60):
            middle = (before + after) / 2
            same = ((surface.at(middle, v, [(0, 0)])[0] - plane.origin) @ plane.z > 0) == side
            before, after = np.where(same, middle, before), np.where(same, after, middle)
        hair = HAIR * (high - low)
        sides = _at(surface, after - hair, v, 1.0), _at(surface, after + hair, v, 1.0)
        points = surface.at(after, v, [(0, 0)])[0]
        ways: Floats = np.asarray(np.gradient(points, axis=0), dtype=np.float64)
        length = float(lengths(np.diff(points, axis=0)).sum())
        apart = 2 * hair * lengths(sides[0].du)
        yield _seam(name, (face.name, face.name), True, length, points, ways / lengths(ways)[:, None], sides, limits, size, apart=apart)


def _section(faces: Sequence[NamedFace], ring: Ring, limits: Limits, size: float) -> Seam | None:
    worst: Seam | None = None
    for curve in ring.curves:
        points, ways, length = _along(curve)
        for face in faces:
            surface = face.surface
            low, high = surface.v.domain
            u, v = feet(surface, points)
            there = surface.at(u, v, [(0, 0)])[0] if surface.weights is None else derivatives_at(surface, u, v)[0]
            if np.abs(there - points).max() > limits.gap or not np.all((v > low + 1e-6 * (high - low)) & (v < high - 1e-6 * (high - low))):
                continue
            hair = HAIR * (high - low)
            sides = _at(surface, u, v - hair, 1.0), _at(surface, u, v + hair, 1.0)
            seam = _seam(ring.name, (face.name, face.name), True, length, points, ways, sides, limits, size, apart=2 * hair * lengths(sides[0].dv))
            if worst is None or (seam.grade or 0, -seam.angle, -(seam.jump or 0)) < (worst.grade or 0, -worst.angle, -(worst.jump or 0)):
                worst = seam
            break
    return worst


def _seam(
    name: str,
    faces: tuple[str, str],
    section: bool,
    length: float,
    points: Floats,
    ways: Floats,
    sides: tuple[Look, Look],
    limits: Limits,
    size: float,
    apart: Floats | float = 0.0,
) -> Seam:
    """apart: by how much the two looks were taken apart on purpose, mm."""
    one, other = sides
    gap = np.maximum(lengths(one.points - other.points) - apart, 0.0)
    angle = np.degrees(np.arctan2(lengths(cross(one.normals, other.normals)), np.einsum("mc,mc->m", one.normals, other.normals)))
    mean = one.normals + other.normals
    across = cross(mean, ways)
    with np.errstate(invalid="ignore", divide="ignore"):
        across = across / lengths(across)[:, None]
    first, second = one.curvature(across), other.curvature(across)
    jump = np.abs(first - second) / np.maximum(np.maximum(np.abs(first), np.abs(second)), FLATTEST / size)
    known = np.isfinite(angle) & np.isfinite(jump)
    if not known.any():
        return Seam(name, faces, section, length, float(gap.max()), 0.0, None, points[int(gap.argmax())], 0 if gap.max() <= limits.gap else None)
    angle, jump = np.where(known, angle, 0.0), np.where(known, jump, 0.0)
    bent = float(angle.max()) > BENT
    measures = ((gap, limits.gap), (angle, limits.angle), (jump, limits.jump))
    # how many of the three keep their limit before one doesn't
    kept = next((number for number, (measure, limit) in enumerate(measures) if float(measure.max()) > limit), 3)
    worst = points[int(measures[min(kept, 2)][0].argmax())]
    told = None if bent else float(jump.max())
    return Seam(name, faces, section, length, float(gap.max()), float(angle.max()), told, worst, None if kept == 0 else kept - 1)
