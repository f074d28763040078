"""Rails that carry whole sections: between the stations each section is moved, turned and scaled as its rails ask, not only the skin beside them."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.tolerances import Tolerances
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.carrying import bends_of, carried
from wander.core.shaping.shell import NamedFace

NOTHING = 1e-9
"""mm: rails no further from where they turn the section about turn and scale nothing."""

Where = Callable[[Floats], tuple[Floats, Floats]]
"""At parameters along the body (m,): two sets of places (m, ..., 3)."""


def moved_whole(surfaces: Sequence[Surface], planes: Where, rails: Where, along: SplineSpace, tolerances: Tolerances) -> list[Surface]:
    """The sides of a skin, at each place along it moved by the similarity in the plane there that brings it nearest to all rails.

    One rail turns and scales the section about its centre, two say all of it; of more what is left over stays. planes: centres of the planes and
    which way these look, (m, 3) each. rails: where the skin has its lines for the rails, and where the rails are, (m, j, 3) each. along: the space in
    which these are apart, which says where they bend.
    """

    def carry(v: Floats, points: Floats) -> Floats:
        centers, looks = planes(v)
        before, after = rails(v)
        n = looks / lengths(looks)[:, None]
        middle, middle_after = (centers, centers) if before.shape[1] == 1 else (before.mean(axis=1), after.mean(axis=1))
        x = _in_plane(before[:, 0] - middle, n)
        y = cross(n, x)

        def seen(vectors: Floats) -> np.ndarray:
            """In the plane, as complex numbers."""
            return np.einsum("m...c,mc->m...", vectors, x) + 1j * np.einsum("m...c,mc->m...", vectors, y)

        own, wanted = seen(before - middle[:, None]), seen(after - middle_after[:, None])
        size = (np.abs(own) ** 2).sum(axis=1)
        ratio = np.where(size > NOTHING**2, (np.conj(own) * wanted).sum(axis=1) / np.where(size > NOTHING**2, size, 1.0), 1.0)
        offset = points - middle[:, None]
        flat = seen(offset)
        moved = ratio[:, None] * flat - flat + seen(middle_after - middle)[:, None]
        return np.asarray(points + moved.real[..., None] * x[:, None] + moved.imag[..., None] * y[:, None], dtype=np.float64)

    faces, _ = carried([NamedFace("", surface) for surface in surfaces], carry, bends_of(along), tolerances)
    return [face.surface for face in faces]


def _in_plane(vectors: Floats, normals: Floats) -> Floats:
    """Unit vectors (m, 3) in the planes of unit normals, nearest to the vectors; any where these are nothing there."""
    flat = vectors - np.sum(vectors * normals, axis=1, keepdims=True) * normals
    size = lengths(flat)[:, None]
    least = np.eye(3)[np.abs(normals).argmin(axis=1)]
    other = cross(normals, least)
    return np.asarray(np.where(size > NOTHING, flat / np.where(size > NOTHING, size, 1.0), other / lengths(other)[:, None]), dtype=np.float64)
