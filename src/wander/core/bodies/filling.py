"""How much a vessel holds up to a level, and up to which level it holds so much.

What is filled lies between the inside of the vessel and the level: the divergence theorem over what of the inside lies below (the vector field
that points up and is nought at the level), clipped triangle by triangle.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wander.core.bodies.body import Body, mesh_of
from wander.core.document.derived_names import face_in
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput
from wander.core.geometry.quadrature import gauss_points
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross
from wander.core.shaping.mass import cap_area

TOLERANCE = 0.02
"""mm, of meshes where there is no own surface to be integrated."""
PARTS = 160
"""Pieces, at least, in which a surface is integrated along each parameter: the level cuts through one row of them."""
HALVES = 80


class Spills(BadInput):
    """The level lies above the rim. rim: how high that is over the bottom, mm. place: (3,) on it."""

    def __init__(self, rim: float, place: Floats) -> None:
        super().__init__("the level lies above the rim")
        self.rim, self.place = rim, place


@dataclass(frozen=True)
class Vessel:
    """What is filled. heights (m,), weights (m,): places of own surfaces, how high each is and how much of its share looks up, mm2.

    triangles (t, 3, 3): of the rest, looking into it, each with the factor (t,) by which what they stand for is larger. up: unit vector. bottom, top:
    heights along it, mm; rim_place: (3,) where it runs over first.
    """

    heights: Floats
    weights: Floats
    triangles: Floats
    factors: Floats
    up: Floats
    bottom: float
    top: float
    rim_place: Floats

    @property
    def room(self) -> float:
        """From the bottom to the rim, mm."""
        return self.top - self.bottom

    def holds(self, level: float) -> float:
        """Volume, mm3, up to a level over the bottom, mm. Raises Spills."""
        if level > self.room + 1e-9:
            raise Spills(self.room, self.rim_place)
        if level <= 0:
            return 0.0
        surface = self.bottom + level
        own = float(np.maximum(surface - self.heights, 0.0) @ self.weights)
        return own + _below(self.triangles @ self.up, self.triangles, self.factors, self.up, surface)

    def level_for(self, volume: float) -> float | None:
        """The level over the bottom, mm, up to which it holds so much, mm3; None where that is more than it holds at all."""
        if volume > self.holds(self.room):
            return None
        low, high = 0.0, self.room
        for _ in range(HALVES):
            level = (low + high) / 2
            low, high = (level, high) if self.holds(level) < volume else (low, level)
        return (low + high) / 2


def vessel(body: Body, up: Floats) -> Vessel:
    """The inside of a body with a wall, else the body itself as what is filled. Raises BadInput of a sheet, and of one that is only a mesh."""
    if not body.closed or body.rough is not None:
        raise BadInput("it encloses nothing")
    inner = {face.name for face in body.faces if (found := face_in(face.name)) is not None and found[0].endswith("/inside")}
    mesh = mesh_of(body, TOLERANCE, strict=True)
    names = [name for name in mesh.face_names if not inner or name in inner]
    # of a body that is filled itself the skin looks out; the inside of a wall looks in
    sign = 1.0 if inner else -1.0
    owner = mesh.face_of[mesh.triangles[:, 0]]
    chosen = np.isin(owner, [k for k, name in enumerate(mesh.face_names) if name in names])
    corners = mesh.positions[mesh.triangles[chosen]]
    heights = corners @ up
    low, high, place = float(heights.min()), float(heights.max()), body.measures.center
    if inner:
        edge, at = _lowest_open(mesh.positions, mesh.triangles[chosen], up)
        if edge is not None:
            high, place = edge, at
    surfaces = [face.surface for skin in body.skins for face in skin.faces if face.name in names]
    own = [_integrated(surface, up) for surface in surfaces]
    integrated = {face.name for skin in body.skins for face in skin.faces}
    rest = chosen & np.isin(owner, [k for k, name in enumerate(mesh.face_names) if name not in integrated])
    exact = {cap.name: cap_area(cap) for skin in body.skins for cap in skin.caps}
    triangles = mesh.positions[mesh.triangles[rest]]
    sizes = np.linalg.norm(np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0]), axis=1) / 2
    factors = np.ones(len(triangles))
    for number, name in enumerate(mesh.face_names):
        mine = owner[rest] == number
        if name in exact and mine.any():
            # chords cut a little off round it
            factors[mine] = exact[name] / float(sizes[mine].sum())
    return Vessel(
        np.concatenate([h for h, _ in own]) if own else np.zeros(0),
        sign * np.concatenate([w for _, w in own]) if own else np.zeros(0),
        triangles,
        sign * factors,
        up,
        low,
        high,
        place,
    )


def _integrated(surface: Surface, up: Floats) -> tuple[Floats, Floats]:
    """Heights of Gauss points all over a surface, and du x dv . up with their weights, (m,) each."""
    parts = []
    for space in (surface.u, surface.v):
        each = -(-PARTS // (len(space.breaks) - 1))
        breaks = np.append((space.breaks[:-1, None] + np.diff(space.breaks)[:, None] * np.arange(each) / each).ravel(), space.breaks[-1])
        parts.append(gauss_points(breaks, 3))
    (u, wu), (v, wv) = parts
    places, du, dv = surface.tangents(u, v)
    return (places @ up).ravel(), ((cross(du, dv) @ up) * (wu[:, None] * wv)).ravel()


def _lowest_open(points: Floats, triangles: np.ndarray, up: Floats) -> tuple[float | None, Floats]:
    """The height of the lowest place of the mesh's open edge, and the place: corners at one place count as one."""
    _, same = np.unique(points.round(7), axis=0, return_inverse=True)
    own = same.ravel()[triangles]
    sides = np.sort(np.stack([own, np.roll(own, -1, axis=1)], axis=-1).reshape(-1, 2), axis=1)
    whole = sides[:, 0] != sides[:, 1]
    found, count = np.unique(sides[whole], axis=0, return_counts=True)
    free = np.unique(found[count == 1])
    if not len(free):
        return None, points[0]
    first = np.array([int(np.flatnonzero(same.ravel() == number)[0]) for number in free])
    heights = points[first] @ up
    return float(heights.min()), points[first[int(heights.argmin())]]


def _below(heights: Floats, corners: Floats, factors: Floats, up: Floats, level: float) -> float:
    """The integral of (level - height) n.up over what of triangles (t, 3, 3) lies below the level, each times its factor."""
    if not len(corners):
        return 0.0
    # n.up dA of a triangle, signed
    areas = factors * (np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]) @ up) / 2
    depth = level - heights
    d = np.sort(depth, axis=1)[:, ::-1]  # the deepest first
    a, b, c = d.T
    with np.errstate(invalid="ignore", divide="ignore"):
        one = a**3 / np.where((a - b) * (a - c) != 0, (a - b) * (a - c), np.inf) / 3
        two = (a + b + c) / 3 - c**3 / np.where((c - a) * (c - b) != 0, (c - a) * (c - b), np.inf) / 3
    mean = np.select([c >= 0, b >= 0, a > 0], [(a + b + c) / 3, two, one], 0.0)
    return float(np.sum(areas * mean))
