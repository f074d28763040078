"""Where a skin runs through itself: triangles of a fine mesh, looked for in pairs by their boxes, and told when they cross deeply enough.

Source of the test of a pair: Möller & Trumbore 1997, edge against triangle, for all six edges of both.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.display import display_mesh
from wander.core.shaping.shell import Shell

FINE = 0.02
"""mm that the chords of the mesh stay within of the skin; on large bodies it is a share of their size."""
FINEST_SHARE = 2e-5
"""Chords are not asked to be finer than this share of the body."""
DEEP = 2.0
"""Chord heights by which triangles have to pass through each other: less may be the mesh, not the skin."""
TOUCHING = 1e-6
"""mm: what passes so near to a corner of a triangle only touches it."""
BLOCK = 32
"""Triangles that lie near each other and have a box together."""
MOST_PAIRS = 2_000_000
"""Pairs that are looked at in one go."""
APART = 0.05
"""Share of the body within which crossings are told as one."""
MOST_PLACES = 8

Bools = npt.NDArray[np.bool_]


@dataclass(frozen=True)
class SelfCrossing:
    """places: where, mm (k, 3), the deepest first. depth: by how much at the deepest, mm: as far as triangles pass through each other, at least."""

    places: Floats
    depth: float


def self_crossing(skin: Shell) -> SelfCrossing | None:
    """Where a skin runs through itself; None where it doesn't."""
    chord = max(FINE, FINEST_SHARE * skin.size)
    mesh = display_mesh(skin, chord, sparse=True)
    triangles = mesh.positions[mesh.triangles]
    solid = _area(triangles) > 1e-9
    triangles, corners = triangles[solid], _welded(mesh.positions)[mesh.triangles[solid]]
    places, depths = _crossings(triangles, corners, DEEP * chord)
    if not len(places):
        return None
    size = float(np.linalg.norm(np.ptp(triangles.reshape(-1, 3), axis=0)))
    order = np.argsort(-depths)
    kept: list[Floats] = []
    for place in places[order]:
        if all(np.linalg.norm(place - other) > APART * size for other in kept):
            kept.append(place)
        if len(kept) == MOST_PLACES:
            break
    return SelfCrossing(np.array(kept), float(depths.max()))


def _crossings(triangles: Floats, corners: Ints, deep: float) -> tuple[Floats, Floats]:
    """Places (k, 3) at which triangles (t, 3, 3) cross that share no corner (t, 3), and by how much, mm (k,)."""
    order = _near_each_other(triangles)
    triangles, corners = triangles[order], corners[order]
    low, high = _in_blocks(triangles.min(axis=1), np.inf), _in_blocks(triangles.max(axis=1), -np.inf)
    places, depths = [np.zeros((0, 3))], [np.zeros(0)]
    for first, second in _boxes_that_meet(low.min(axis=1), high.max(axis=1), MOST_PAIRS // BLOCK**2):
        met = np.ones((len(first), BLOCK, BLOCK), dtype=bool)
        for axis in range(3):
            met &= low[first, :, None, axis] <= high[second, None, :, axis]
            met &= low[second, None, :, axis] <= high[first, :, None, axis]
        pair, i, j = np.nonzero(met)
        a, b = first[pair] * BLOCK + i, second[pair] * BLOCK + j
        a, b = a[a < b], b[a < b]
        strangers = np.all(corners[a][:, :, None] != corners[b][:, None, :], axis=(1, 2))
        found = _pierced(triangles[a[strangers]], triangles[b[strangers]], deep)
        places.append(found[0])
        depths.append(found[1])
    return np.concatenate(places), np.concatenate(depths)


def _in_blocks(values: Floats, otherwise: float) -> Floats:
    """Values (t, 3) in blocks (t / BLOCK, BLOCK, 3), the last one filled up with what meets nothing."""
    blocks = np.full((-(-len(values) // BLOCK) * BLOCK, 3), otherwise)
    blocks[: len(values)] = values
    return blocks.reshape(-1, BLOCK, 3)


def _boxes_that_meet(low: Floats, high: Floats, most: int) -> list[tuple[Ints, Ints]]:
    """Pairs of boxes that meet, each box with itself too, in lots of at most so many."""
    first, second = [], []
    for i in range(len(low)):
        met = np.flatnonzero(np.all((low[i] <= high[i:]) & (low[i:] <= high[i]), axis=1)) + i
        first.append(np.full(len(met), i))
        second.append(met)
    a, b = np.concatenate(first), np.concatenate(second)
    return [(a[k : k + most], b[k : k + most]) for k in range(0, len(a), most)]


def _pierced(a: Floats, b: Floats, deep: float) -> tuple[Floats, Floats]:
    """Of pairs of triangles (p, 3, 3) the places where an edge of one passes through the other, and by how much: more than deep."""
    places, depths = [np.zeros((0, 3))], [np.zeros(0)]
    for one, other in ((a, b), (b, a)):
        normal = cross(other[:, 1] - other[:, 0], other[:, 2] - other[:, 0])
        normal /= np.maximum(lengths(normal), 1e-300)[:, None]
        above = np.einsum("pij,pj->pi", one - other[:, :1], normal)
        # both sides have to lie off by more than the mesh can be wrong
        depth = np.minimum(above.max(axis=1), -above.min(axis=1))
        deeper = depth > deep
        tri, over, up, by = one[deeper], other[deeper], above[deeper], depth[deeper]
        for k in range(3):
            h, g = up[:, k], up[:, (k + 1) % 3]
            passes = h * g < 0
            share = h[passes] / (h[passes] - g[passes])
            start = tri[passes, k]
            place = start + share[:, None] * (tri[passes, (k + 1) % 3] - start)
            # a long edge of a flat end may run over corners of the sides that stand on it: that is no passing through
            touching = lengths(over[passes] - place[:, None]).min(axis=1) < TOUCHING
            inside = _inside(place, over[passes]) & ~touching
            places.append(place[inside])
            depths.append(by[passes][inside])
    return np.concatenate(places), np.concatenate(depths)


def _inside(places: Floats, triangles: Floats) -> Bools:
    """Whether places (p, 3) in the planes of triangles (p, 3, 3) lie inside of them."""
    u, v, w = triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0], places - triangles[:, 0]
    uu, uv, vv = (np.einsum("pi,pi->p", x, y) for x, y in ((u, u), (u, v), (v, v)))
    wu, wv = np.einsum("pi,pi->p", w, u), np.einsum("pi,pi->p", w, v)
    scale = np.maximum(uu * vv - uv * uv, 1e-300)
    s, t = (vv * wu - uv * wv) / scale, (uu * wv - uv * wu) / scale
    return np.asarray((s >= 0) & (t >= 0) & (s + t <= 1))


def _near_each_other(triangles: Floats) -> Ints:
    """An order in which triangles that follow each other lie near each other: by the digits of their middles, mixed (Morton 1966)."""
    middle = triangles.mean(axis=1)
    extent = np.maximum(np.ptp(middle, axis=0), 1e-12)
    cells = np.clip(((middle - middle.min(axis=0)) / extent.max() * 1023).astype(np.uint64), 0, 1023)
    code = np.zeros(len(cells), dtype=np.uint64)
    for bit in range(10):
        for axis in range(3):
            code |= ((cells[:, axis] >> np.uint64(bit)) & np.uint64(1)) << np.uint64(3 * bit + axis)
    return np.argsort(code, kind="stable")


def _welded(positions: Floats) -> Ints:
    """One number for all vertices of a mesh that lie in one place: seams are cut alike on both sides, to the last bit or nearly."""
    _, numbers = np.unique(np.round(positions, 6), axis=0, return_inverse=True)
    return np.asarray(numbers.ravel(), dtype=np.intp)


def _area(triangles: Floats) -> Floats:
    return lengths(cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])) / 2
