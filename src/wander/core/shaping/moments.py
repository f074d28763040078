"""What a skin encloses and how that lies, by integrals over its faces.

Source: the divergence theorem. With w = p.n du dv, and p counted from one place for all faces, the shares of a face in volume, first and second
moments are w/3, p w/4 and p p^T w/5. Any place gives the same sums over a skin that is closed; one near the middle loses least to rounding.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.frame import Frame
from wander.core.geometry.vectors import lengths


@dataclass(frozen=True)
class Moments:
    """volume mm3, area mm2, first (3,) mm4 and second (3, 3) mm5 moments of the volume, areas (3,) mm3: first moments of the area."""

    volume: float
    area: float
    first: Floats
    second: Floats
    areas: Floats

    def __add__(self, other: Moments) -> Moments:
        return Moments(
            self.volume + other.volume, self.area + other.area, self.first + other.first, self.second + other.second, self.areas + other.areas
        )

    def turned(self) -> Moments:
        """Of the same face looked at from its other side."""
        return Moments(-self.volume, self.area, -self.first, -self.second, self.areas)

    def center(self, about: Floats) -> Floats:
        """Of the volume, or of the area of a skin that encloses nothing. about: the place that moments were counted from."""
        if self.volume:
            return np.asarray(about + self.first / self.volume)
        return np.asarray(about + (self.areas / self.area if self.area else 0.0))

    @property
    def spread(self) -> Floats:
        """Second moments about the centre, (3, 3) mm5."""
        return self.second - np.outer(self.first, self.first) / self.volume if self.volume else np.zeros((3, 3))


NOTHING = Moments(0.0, 0.0, np.zeros(3), np.zeros((3, 3)), np.zeros(3))


def of_pieces(points: Floats, normals: Floats, signs: Floats | None = None) -> Moments:
    """Of a face cut into pieces: places (m, 3), and normals (m, 3) as long as the pieces are large. signs: of pieces some of which are taken away."""
    flux = np.einsum("ij,ij->i", points, normals)
    size = lengths(normals) if signs is None else np.copysign(lengths(normals), signs)
    weighted = points * flux[:, None]
    return Moments(float(flux.sum()) / 3, float(size.sum()), weighted.sum(axis=0) / 4, points.T @ weighted / 5, size @ points)


def flat_sums(x: Floats, y: Floats, dx: Floats, dy: Floats) -> Floats:
    """Shares of pieces of a boundary in the area, and in the integrals of x, y, x2, xy, y2 inside it, by Green's theorem: (6,)."""
    parts = ((x * dy - y * dx) / 2, x * x * dy / 2, -y * y * dx / 2, x**3 * dy / 3, x * x * y * dy / 2, -(y**3) * dx / 3)
    return np.array([float(np.sum(part)) for part in parts])


def of_flat(frame: Frame, sums: Floats, about: Floats) -> Moments:
    """Of a flat face. sums: as `flat_sums` gives them in its frame; a boundary that runs the wrong way round is taken the other way."""
    area, mx, my, xx, xy, yy = sums if sums[0] >= 0 else -sums
    o, a, b = frame.origin - about, frame.x, frame.y
    areas = o * area + a * mx + b * my
    across = np.outer(o, a * mx + b * my) + xy * np.outer(a, b)
    squares = np.outer(o, o) * area + across + across.T + xx * np.outer(a, a) + yy * np.outer(b, b)
    height, area = float(o @ frame.z), float(area)
    return Moments(height * area / 3, area, height * areas / 4, height * squares / 5, areas)
