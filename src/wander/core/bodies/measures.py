"""Measures of a body: one model for all makers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from enum import Enum
from functools import cached_property

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.display import DisplayMesh
from wander.core.shaping.mass import mass_properties, volume_about
from wander.core.shaping.shell import Shell


class Source(Enum):
    """What a measure was taken from."""

    SURFACES = "surfaces"
    """The own surfaces, by Gauss integration: exact up to rounding."""
    KERNEL = "kernel"
    """The faces of the exact body, in the curves that the kernel bounded them by."""
    MESH = "mesh"
    """A mesh, of a preview: near, not exact."""


@dataclass(frozen=True)
class Measures:
    """volume mm3, area mm2, center (3,) mm, low and high corner of the axis-parallel box (3,) mm. pieces: how many bodies lie apart in it.

    closed: it encloses something; of a sheet, which does not, the volume is 0 and the centre that of its area. spread: second moments of the volume
    about the centre, (3, 3) mm5.
    """

    volume: float
    area: float
    center: Floats
    low: Floats
    high: Floats
    source: Source
    pieces: int = 1
    closed: bool = True
    spread: Floats = field(default_factory=lambda: np.zeros((3, 3)))

    @property
    def moments(self) -> Floats:
        """Moments of inertia of the volume about axes through the centre along x, y and z, (3,) mm5: times its density those of the body."""
        return np.asarray(np.trace(self.spread) - np.diag(self.spread))

    def moved(self, matrix: Floats, origin: Floats) -> Measures:
        """Of the image under an isometry. The box is that of the turned box, unless axes go to axes: `boxed` sets it right."""
        corners = np.array([[(self.low, self.high)[k >> i & 1][i] for i in range(3)] for k in range(8)]) @ matrix.T + origin
        spread = matrix @ self.spread @ matrix.T
        return replace(self, center=matrix @ self.center + origin, low=corners.min(axis=0), high=corners.max(axis=0), spread=spread)


class Untaken:
    """The measures of skins that lie apart, taken when they are first asked for: what is pulled about is seen before it is measured."""

    def __init__(self, skins: Sequence[Shell]) -> None:
        self.skins = skins

    @cached_property
    def measures(self) -> Measures:
        return of_skins(self.skins)

    @property
    def pieces(self) -> int:
        return len(self.skins)

    @property
    def closed(self) -> bool:
        return all(skin.closed for skin in self.skins)

    @property
    def volume_about(self) -> float:
        """The volume within about a thousandth, mm3: enough to tell what is inside out."""
        return self.measures.volume if "measures" in vars(self) else sum(volume_about(skin) for skin in self.skins)


def of_skins(skins: Sequence[Shell]) -> Measures:
    """Of skins that lie apart, from their surfaces."""
    return together([_of_skin(skin) for skin in skins])


def _of_skin(skin: Shell) -> Measures:
    mass = mass_properties(skin)
    return Measures(mass.volume, mass.area, mass.center, mass.low, mass.high, Source.SURFACES, closed=skin.closed, spread=mass.spread)


def together(parts: Sequence[Measures]) -> Measures:
    """Of several bodies that lie apart, taken as one."""
    volume, area, closed = sum(p.volume for p in parts), sum(p.area for p in parts), all(p.closed for p in parts)
    weights = np.array([p.volume if closed else p.area for p in parts])
    center = weights @ np.stack([p.center for p in parts]) / (float(weights.sum()) or 1.0)
    low, high = np.min([p.low for p in parts], axis=0), np.max([p.high for p in parts], axis=0)
    # each about its own centre, and that about the one of all (Steiner)
    away = np.stack([p.center for p in parts]) - center
    spread = sum((p.spread for p in parts), np.zeros((3, 3))) + (away.T * weights) @ away if closed else np.zeros((3, 3))
    return Measures(volume, area, center, low, high, parts[0].source, sum(p.pieces for p in parts), closed, spread)


def of_mesh(mesh: DisplayMesh, pieces: int = 1) -> Measures:
    """Of a closed mesh."""
    return of_triangles(mesh.positions[mesh.triangles], mesh.positions.min(axis=0), mesh.positions.max(axis=0), pieces)


def of_triangles(corners: Floats, low: Floats, high: Floats, pieces: int = 1) -> Measures:
    """Of a closed skin of triangles (t, 3, 3): the divergence theorem. low, high: of its box."""
    about = (low + high) / 2
    a, b, c = np.moveaxis(corners - about, 1, 0)
    normal = cross(b - a, c - a)
    sixths = np.einsum("ij,ij->i", a, normal)
    together = a + b + c
    volume = float(sixths.sum()) / 6
    first = together.T @ sixths / 24
    second = sum((p.T * sixths) @ p for p in (a, b, c, together)) / 120
    off = first / (volume or 1.0)
    spread = np.asarray(second - volume * np.outer(off, off))
    return Measures(volume, float(lengths(normal).sum()) / 2, about + off, low, high, Source.MESH, pieces, spread=spread)
