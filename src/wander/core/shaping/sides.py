"""The four sides of a surface and the normals along them."""

from __future__ import annotations

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross, lengths


def unit_normals(surface: Surface, u: Floats, v: Floats) -> Floats:
    """Unit normals du x dv on a grid: (m, k, 3). At a point where an edge has shrunk to nothing the limit is taken from inside."""
    return points_and_normals(surface, u, v)[1]


def points_and_normals(surface: Surface, u: Floats, v: Floats) -> tuple[Floats, Floats]:
    """Points and unit normals on a grid: (m, k, 3) each."""
    points, du, dv = surface.tangents(u, v)
    normal = cross(du, dv)
    size = lengths(normal)
    flat = size <= 1e-9 * max(float(size.max()), 1e-300)
    if flat.any():
        low, high = surface.v.domain
        rows = np.flatnonzero(flat.any(axis=0))
        near = cross(*surface.tangents(u, np.clip(v[rows], low + 1e-4 * (high - low), high - 1e-4 * (high - low)))[1:])
        normal[:, rows] = np.where(flat[:, rows, None], near, normal[:, rows])
        size = lengths(normal)
    return points, normal / np.where(size > 0, size, 1.0)[..., None]


def along_sides(surface: Surface, shares: Floats) -> dict[str, tuple[Floats, Floats]]:
    """Points and unit normals along each side of the surface at shares (m,) of its length in parameter: (m, 3) each."""
    ends_u, ends_v = np.array(surface.u.domain), np.array(surface.v.domain)
    points, normals = points_and_normals(surface, ends_u, ends_v[0] + (ends_v[1] - ends_v[0]) * shares)
    found = {side: (points[i], normals[i]) for i, side in enumerate(("u0", "u1"))}
    points, normals = points_and_normals(surface, ends_u[0] + (ends_u[1] - ends_u[0]) * shares, ends_v)
    return found | {side: (points[:, i], normals[:, i]) for i, side in enumerate(("v0", "v1"))}
