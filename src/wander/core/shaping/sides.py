"""The four sides of a surface and the normals along them."""

from __future__ import annotations

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross

SIDES = ("u0", "u1", "v0", "v1")


def unit_normals(surface: Surface, u: Floats, v: Floats) -> Floats:
    """Unit normals du x dv on a grid: (m, k, 3). At a point where an edge has shrunk to nothing the limit is taken from inside."""
    normal = cross(surface.grid(u, v, 1, 0), surface.grid(u, v, 0, 1))
    size = np.linalg.norm(normal, axis=-1)
    flat = size <= 1e-9 * max(float(size.max()), 1e-300)
    if flat.any():
        low, high = surface.v.domain
        inner = np.clip(v, low + 1e-4 * (high - low), high - 1e-4 * (high - low))
        near = cross(surface.grid(u, inner, 1, 0), surface.grid(u, inner, 0, 1))
        normal = np.where(flat[..., None], near, normal)
        size = np.linalg.norm(normal, axis=-1)
    return normal / np.where(size > 0, size, 1.0)[..., None]


def side_normals(surface: Surface, side: str, shares: Floats) -> Floats:
    """Unit normals of the surface along one of its sides at shares (m,) of its length in parameter: (m, 3)."""
    u0, u1 = surface.u.domain
    v0, v1 = surface.v.domain
    if side[0] == "u":
        at = np.array([u0 if side[1] == "0" else u1])
        return unit_normals(surface, at, v0 + (v1 - v0) * shares)[0]
    at = np.array([v0 if side[1] == "0" else v1])
    return unit_normals(surface, u0 + (u1 - u0) * shares, at)[:, 0]
