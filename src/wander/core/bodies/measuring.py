"""Measuring between parts of bodies: where two come nearest, the angle there, how tightly one bends, how long or large it is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

import numpy as np

from wander.core.bodies.body import Body, Face, mesh_of
from wander.core.bodies.projection import within
from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameters
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.feet import derivatives_at, feet, slid
from wander.core.geometry.tolerances import DEFAULT
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.edges import Edge

PAIRS = 6
"""Pairs of places from which the nearest pair is sought."""
TOGETHER = 3
"""Rounds for all of them; the best one goes on."""
ROUNDS = 1000
SETTLED = 1e-11
BENDS = 401
"""Places along an edge at which its bend is looked at."""
FLAT = 1e-9
"""1/mm: what bends less is straight, or flat."""


Step = Callable[[Floats], Floats]
"""From a place, (1, 3), to the one nearest to it."""


class Thing(Protocol):
    """Part of a body: places all over it, those nearest to others, and the unit direction at places on it: normal of a face, way of an edge."""

    def places(self) -> Floats: ...

    def nearest(self, points: Floats) -> Floats: ...

    def direction(self, points: Floats) -> Floats: ...

    def beside(self, place: Floats) -> Step:
        """What leads on from a place on it, (1, 3), to the nearest one near that."""
        ...

    @property
    def runs(self) -> bool:
        """Whether its direction is a way along it, and not square to it."""
        ...


@dataclass(frozen=True)
class OfEdge:
    curve: Curve

    runs = True

    def places(self) -> Floats:
        return self.curve.sampled(8)[1]

    def nearest(self, points: Floats) -> Floats:
        return self.curve(closest_parameters(self.curve, points))

    def direction(self, points: Floats) -> Floats:
        ways = self.curve.derivatives(closest_parameters(self.curve, points), 1)[1]
        return np.asarray(ways / lengths(ways)[:, None])

    def beside(self, place: Floats) -> Step:
        return self.nearest


@dataclass(frozen=True)
class OfFace:
    """rims: the edges round it: beyond them it does not go on. sampled: places on it, (n, 3)."""

    face: Face
    rims: tuple[OfEdge, ...]
    sampled: Floats

    runs = False

    def places(self) -> Floats:
        return self.sampled

    def nearest(self, points: Floats) -> Floats:
        found, on = self._feet(points)
        if on.all() or not self.rims:
            return found
        beside = [rim.nearest(points[~on]) for rim in self.rims]
        best = np.argmin([lengths(each - points[~on]) for each in beside], axis=0)
        found[~on] = np.stack(beside)[best, np.arange(len(best))]
        return found

    def _feet(self, points: Floats) -> tuple[Floats, np.ndarray]:
        """Nearest places on what the face is part of, and whether they lie on the face."""
        face = self.face
        if face.surface is None:
            assert face.frame is not None
            flat = face.frame.drop(points)
            return face.frame.lift(flat), np.ones(len(points), dtype=bool) if face.rims is None else within(face.rims, flat)
        u, v = feet(face.surface, points, beside=True)
        found = derivatives_at(face.surface, u, v)[0]
        return found, np.ones(len(points), dtype=bool) if face.rims is None else within(face.rims, np.stack([u, v], axis=1))

    def beside(self, place: Floats) -> Step:
        surface = self.face.surface
        if surface is None or self.face.rims is not None:
            return self.nearest
        at = feet(surface, place, beside=True)

        def on(point: Floats) -> Floats:
            nonlocal at
            u, v, _ = slid(surface, point, *at)
            at = u, v
            return surface.at(u, v, [(0, 0)])[0] if surface.weights is None else derivatives_at(surface, u, v)[0]

        return on

    def direction(self, points: Floats) -> Floats:
        face = self.face
        if face.surface is None:
            assert face.frame is not None
            return np.tile(-face.frame.z if face.turned else face.frame.z, (len(points), 1))
        u, v = feet(face.surface, points, beside=True)
        _, du, dv, *_ = derivatives_at(face.surface, u, v)
        normal = cross(du, dv) * (-1.0 if face.turned else 1.0)
        return np.asarray(normal / lengths(normal)[:, None])


@dataclass(frozen=True)
class OfBody:
    faces: tuple[OfFace, ...]

    runs = False

    def places(self) -> Floats:
        return np.concatenate([face.places() for face in self.faces])

    def nearest(self, points: Floats) -> Floats:
        each = np.stack([face.nearest(points) for face in self.faces])
        best = np.linalg.norm(each - points, axis=2).argmin(axis=0)
        return np.asarray(each[best, np.arange(len(points))])

    def direction(self, points: Floats) -> Floats:
        each = np.stack([face.nearest(points) for face in self.faces])
        best = np.linalg.norm(each - points, axis=2).argmin(axis=0)
        return np.concatenate([self.faces[k].direction(points[i : i + 1]) for i, k in enumerate(best.tolist())])

    def beside(self, place: Floats) -> Step:
        off = [float(np.linalg.norm(face.nearest(place) - place)) for face in self.faces]
        return self.faces[int(np.argmin(off))].beside(place)


class Parts:
    """The parts of one body, as they are asked for."""

    def __init__(self, body: Body) -> None:
        self._body = body

    @cached_property
    def _places(self) -> dict[str, Floats]:
        mesh = mesh_of(self._body, max(DEFAULT.display, DEFAULT.moving * self._body.size))
        return {name: mesh.positions[mesh.face_of == number] for number, name in enumerate(mesh.face_names)}

    def edge(self, edge: Edge) -> OfEdge:
        return OfEdge(edge.curve)

    def face(self, face: Face) -> OfFace:
        rims = tuple(OfEdge(edge.curve) for edge in self._body.edges if face.name in (edge.left, edge.right)) if face.rims is not None else ()
        return OfFace(face, rims, self._places[face.name])

    def whole(self) -> OfBody:
        return OfBody(tuple(self.face(face) for face in self._body.faces))


@dataclass(frozen=True)
class Nearest:
    """Where two things come nearest to each other: a place on each, (3,), and how far these are apart, mm."""

    first: Floats
    second: Floats
    distance: float


def nearest(first: Thing, second: Thing) -> Nearest:
    """The nearest pair of places: from the best pairs of many, back and forth until they rest. (Von Neumann's alternating projections.)"""
    from scipy.spatial import cKDTree

    a, b = first.places(), second.places()
    apart, other = cKDTree(b).query(a)
    order = np.argsort(apart, kind="stable")
    best = order[: PAIRS * 8 : 8] if len(a) > PAIRS * 8 else order[:PAIRS]
    p, q = a[best], b[np.asarray(other)[best]]
    for _ in range(TOGETHER):
        q = second.nearest(p)
        p = first.nearest(q)
    pair = int(lengths(p - q).argmin())
    p, q = p[[pair]], q[[pair]]
    last = float(lengths(p - q)[0])
    # on from there only where both are
    to_first, to_second = first.beside(p), second.beside(q)
    for _ in range(ROUNDS):
        q = to_second(p)
        p = to_first(q)
        off = float(lengths(p - q)[0])
        if last - off <= SETTLED * max(off, 1.0):
            break
        last = off
    return Nearest(p[0], q[0], float(lengths(p - q)[0]))


def angle(first: Thing, second: Thing, at: Nearest) -> float:
    """Between two things where they come nearest, radians, 0 to a right angle: of planes that touch them, or lines along them."""
    one, other = (thing.direction(place[None])[0] for thing, place in ((first, at.first), (second, at.second)))
    found = float(np.arctan2(np.linalg.norm(cross(one, other)), abs(float(one @ other))))
    # a line and a plane: to the plane, not to its normal
    return float(np.pi / 2 - found) if first.runs != second.runs else found


@dataclass(frozen=True)
class Bend:
    """Radii, mm, smallest and largest; at: where it bends most, (3,)."""

    least: float
    largest: float
    at: Floats


def bend_of_edge(curve: Curve) -> Bend:
    """How an edge bends along its length. Raises BadInput where it is straight."""
    low, high = curve.domain
    t = low + (high - low) * (np.arange(BENDS) + 0.5) / BENDS
    t = _climbed(lambda u: _curvature(curve, u), t, (high - low) / BENDS, (low, high))
    size = _curvature(curve, t)
    if size.max() < FLAT:
        raise BadInput("it is straight")
    return Bend(1 / float(size.max()), 1 / max(float(size.min()), FLAT), curve(t[[int(size.argmax())]])[0])


def _curvature(curve: Curve, t: Floats) -> Floats:
    _, d, dd = curve.derivatives(t, 2)
    return np.asarray(lengths(cross(d, dd)) / np.maximum(lengths(d), 1e-300) ** 3)


def _climbed(value: Callable[[Floats], Floats], t: Floats, step: float, domain: tuple[float, float]) -> Floats:
    """The places, and beside the best of them that from which nothing near is larger: by thirds."""
    best = float(t[int(value(t).argmax())])
    low, high = max(domain[0], best - step), min(domain[1], best + step)
    for _ in range(60):
        third = (high - low) / 3
        a, b = low + third, high - third
        fa, fb = value(np.array([a, b]))
        low, high = (a, high) if fa < fb else (low, b)
    return np.append(t, (low + high) / 2)


def bend_of_face(thing: OfFace) -> Bend:
    """How tightly a face bends, by its larger principal curvature at places all over it. Raises BadInput where it is flat."""
    if thing.face.surface is None:
        raise BadInput("it is flat")
    points = thing.sampled[np.linspace(0, len(thing.sampled) - 1, min(len(thing.sampled), 300)).astype(int)]
    u, v = feet(thing.face.surface, points)
    place, du, dv, duu, duv, dvv = derivatives_at(thing.face.surface, u, v)
    normal = cross(du, dv)
    size = lengths(normal)
    keep = size > 1e-9 * float(size.max())
    place, du, dv, duu, duv, dvv, normal = (each[keep] for each in (place, du, dv, duu, duv, dvv, normal / np.where(size > 0, size, 1.0)[:, None]))
    e, f, g = (np.einsum("ij,ij->i", a, b) for a, b in ((du, du), (du, dv), (dv, dv)))
    l_, m, n = (np.einsum("ij,ij->i", a, normal) for a in (duu, duv, dvv))
    whole = e * g - f * f
    mean, gauss = (e * n - 2 * f * m + g * l_) / (2 * whole), (l_ * n - m * m) / whole
    bend = np.abs(mean) + np.sqrt(np.maximum(mean * mean - gauss, 0.0))
    if bend.max() < FLAT:
        raise BadInput("it is flat")
    return Bend(1 / float(bend.max()), 1 / max(float(bend.min()), FLAT), place[int(bend.argmax())])
