"""Measures of a body: one model for all makers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.display import DisplayMesh
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.shell import Shell


class Source(Enum):
    """What a measure was taken from."""

    SURFACES = "surfaces"
    """The own surfaces, by Gauss integration: exact up to rounding."""
    KERNEL = "kernel"
    """The kernel's integration over the exact body."""
    MESH = "mesh"
    """A mesh, of a preview: near, not exact."""


@dataclass(frozen=True)
class Measures:
    """volume mm3, area mm2, center (3,) mm, low and high corner of the axis-parallel box (3,) mm. pieces: how many bodies lie apart in it."""

    volume: float
    area: float
    center: Floats
    low: Floats
    high: Floats
    source: Source
    pieces: int = 1

    def moved(self, matrix: Floats, origin: Floats) -> Measures:
        """Of the image under an isometry. The box is that of the turned box, unless axes go to axes: `boxed` sets it right."""
        corners = np.array([[(self.low, self.high)[k >> i & 1][i] for i in range(3)] for k in range(8)]) @ matrix.T + origin
        return Measures(self.volume, self.area, matrix @ self.center + origin, corners.min(axis=0), corners.max(axis=0), self.source, self.pieces)


def of_skins(skins: Sequence[Shell]) -> Measures:
    """Of closed skins that lie apart, from their surfaces."""
    return together([_of_skin(skin) for skin in skins])


def _of_skin(skin: Shell) -> Measures:
    mass = mass_properties(skin)
    return Measures(mass.volume, mass.area, mass.center, mass.low, mass.high, Source.SURFACES)


def together(parts: Sequence[Measures]) -> Measures:
    """Of several bodies that lie apart, taken as one."""
    volume = sum(p.volume for p in parts)
    center = sum((p.volume * p.center for p in parts), np.zeros(3)) / (volume or 1.0)
    low, high = np.min([p.low for p in parts], axis=0), np.max([p.high for p in parts], axis=0)
    return Measures(volume, sum(p.area for p in parts), center, low, high, parts[0].source, sum(p.pieces for p in parts))


def of_mesh(mesh: DisplayMesh, pieces: int = 1) -> Measures:
    """Of a closed mesh: the divergence theorem over its triangles."""
    a, b, c = (mesh.positions[mesh.triangles[:, i]] for i in range(3))
    normal = cross(b - a, c - a)
    sixths = np.einsum("ij,ij->i", a, normal)
    volume = float(sixths.sum()) / 6
    center = ((a + b + c) * sixths[:, None]).sum(axis=0) / 24 / (volume or 1.0)
    low, high = mesh.positions.min(axis=0), mesh.positions.max(axis=0)
    return Measures(volume, float(lengths(normal).sum()) / 2, center, low, high, Source.MESH, pieces)
