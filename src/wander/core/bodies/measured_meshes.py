"""Meshes as something that is measured to: where on their triangles a place comes nearest."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from wander.core.bodies.measuring import Step
from wander.core.geometry.basis import Floats
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.display import DisplayMesh

if TYPE_CHECKING:
    from scipy.spatial import cKDTree

PLACES = 50
"""Places along the diagonal of a mesh: no point of it is further than one such step from one of its own triangle's."""
MOST = 400_000
"""Places on a mesh; where there would be more they stand further apart."""


@dataclass(frozen=True)
class OfMesh:
    mesh: DisplayMesh

    runs = False

    @cached_property
    def _corners(self) -> Floats:
        """Of its triangles, (n, 3, 3), those without an area left out."""
        found = np.asarray(self.mesh.positions, dtype=float)[self.mesh.triangles]
        return np.asarray(found[lengths(_square_to(found)) > 0])

    @cached_property
    def _spread(self) -> tuple[Floats, np.ndarray, float]:
        """Places all over it, (n, 3), the triangle of each, and how far the next one of the same triangle is at the most, mm."""
        corners = self._corners
        size = float(np.linalg.norm(np.ptp(corners.reshape(-1, 3), axis=0)))
        longest = np.max([lengths(corners[:, k] - corners[:, k - 1]) for k in range(3)], axis=0)
        step = size / PLACES
        while _count(longest, step) > MOST and step < size:
            step *= 1.4
        pieces = np.maximum(np.ceil(longest / step).astype(int), 1)
        places, owners = [], []
        for n in np.unique(pieces).tolist():
            which = np.flatnonzero(pieces == n)
            a, b = (each.ravel() / n for each in np.mgrid[0 : n + 1, 0 : n + 1])
            shares = np.stack([a, b, 1 - a - b], axis=1)[a + b <= 1 + 1e-9]
            places.append(np.einsum("sk,tkx->tsx", shares, corners[which]).reshape(-1, 3))
            owners.append(np.repeat(which, len(shares)))
        return np.concatenate(places), np.concatenate(owners), max(step, float((longest / pieces).max()))

    @cached_property
    def _tree(self) -> cKDTree:
        from scipy.spatial import cKDTree

        return cKDTree(self._spread[0])

    def places(self) -> Floats:
        return self._spread[0]

    def nearest(self, points: Floats) -> Floats:
        return np.array([self._foot(point)[0] for point in points])

    def direction(self, points: Floats) -> Floats:
        which = [self._foot(point)[1] for point in points]
        normal = _square_to(self._corners[which])
        return np.asarray(normal / lengths(normal)[:, None])

    def beside(self, place: Floats) -> Step:
        return self.nearest

    def _foot(self, point: Floats) -> tuple[Floats, int]:
        """The place that is nearest to one, (3,), and its triangle: it has a place within a step, so no other triangle comes into question."""
        _, owners, step = self._spread
        reach = float(self._tree.query(point)[0]) + step
        which = np.unique(owners[self._tree.query_ball_point(point, reach * (1 + 1e-9))])
        found = on_triangles(self._corners[which], point)
        best = int(lengths(found - point).argmin())
        return found[best], int(which[best])


def _count(longest: Floats, step: float) -> float:
    pieces = np.maximum(np.ceil(longest / step), 1)
    return float(((pieces + 1) * (pieces + 2) / 2).sum())


def _square_to(corners: Floats) -> Floats:
    return cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])


def on_triangles(corners: Floats, point: Floats) -> Floats:
    """The place of each triangle, (n, 3, 3), that is nearest to a point, (3,): its foot where that lies inside, else on a side."""
    normal = _square_to(corners)
    to = point - corners[:, 0]
    foot = point - normal * (np.einsum("ij,ij->i", to, normal) / np.einsum("ij,ij->i", normal, normal))[:, None]
    sides = []
    inside = np.ones(len(corners), dtype=bool)
    for k in range(3):
        start, along = corners[:, k], corners[:, (k + 1) % 3] - corners[:, k]
        inside &= np.einsum("ij,ij->i", cross(along, foot - start), normal) >= 0
        share = np.clip(np.einsum("ij,ij->i", point - start, along) / np.einsum("ij,ij->i", along, along), 0.0, 1.0)
        sides.append(start + share[:, None] * along)
    each = np.stack(sides)
    best = lengths((each - point).reshape(-1, 3)).reshape(3, -1).argmin(axis=0)
    return np.asarray(np.where(inside[:, None], foot, each[best, np.arange(len(corners))]))
