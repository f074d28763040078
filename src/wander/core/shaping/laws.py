"""Twist and scale along the length, acting on top of a finished skin.

At every place along the body the skin is turned and scaled about a centre, in the plane of the stations there. Each of these maps is affine, so
it acts on the control points across the skin; along the skin the outcome is a polynomial again where scale laws meet a straight run of
stations, and is fitted to a tolerance otherwise.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum
from functools import partial

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.law import Law
from wander.core.geometry.rising import where_reached
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.tolerances import Tolerances
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.carrying import carried
from wander.core.shaping.shell import NamedFace


class About(Enum):
    """The centre that the skin is turned and scaled about."""

    SECTION = "section"
    """The centre of the section, wherever it goes."""
    RIDING = "riding"
    """A point that has the same place on every station."""
    SPINE = "spine"
    """The straight line from the centre of the first section to that of the last."""


@dataclass(frozen=True)
class Laws:
    """twist in radians, width and height as factors. riding: its point on the stations, mm (2,)."""

    twist: Law | None = None
    width: Law | None = None
    height: Law | None = None
    about: About = About.SECTION
    riding: tuple[float, float] = (0.0, 0.0)

    @property
    def idle(self) -> bool:
        return self.twist is None and self.width is None and self.height is None

    def at(self, share: Floats) -> tuple[Floats, Floats, Floats]:
        """Twist, width and height at shares of the length, (m,) each."""
        width = self.width(share) if self.width is not None else np.ones(len(share))
        height = width if self.height is self.width else self.height(share) if self.height is not None else np.ones(len(share))
        return self.twist(share) if self.twist is not None else np.zeros(len(share)), width, height

    @property
    def all(self) -> list[Law]:
        """Each law once."""
        found = (self.twist, self.width, self.height)
        return [law for i, law in enumerate(found) if law is not None and not any(law is other for other in found[:i])]


@dataclass(frozen=True)
class Skeleton:
    """What a skin is turned and scaled about, as splines along it.

    space: along the body. share: (n,) place from end to end; centers: (n, 3); across: (n, 3) the stations' own x; travel: (n, 3).
    """

    space: SplineSpace
    share: Floats
    centers: Floats
    across: Floats
    travel: Floats

    def at(self, v: Floats) -> tuple[Floats, Floats, Floats, Floats]:
        """Share (m,), centre (m, 3) and two unit axes in the plane of the body there (m, 3), at parameters (m,)."""
        together = np.column_stack([self.share, self.centers, self.across, self.travel])
        share, center, x, normal = np.split(self.space.evaluate(together, v), [1, 4, 7], axis=1)
        normal = normal / lengths(normal)[:, None]
        x = x - np.einsum("ij,ij->i", x, normal)[:, None] * normal
        x = x / lengths(x)[:, None]
        return share[:, 0], center, x, cross(normal, x)

    @property
    def is_straight(self) -> bool:
        """Parallel stations, and the share of the length the same as the parameter: laws then meet the skin exactly."""
        level = np.ptp(self.across, axis=0).max() < 1e-12 and np.ptp(self.travel, axis=0).max() < 1e-12
        return bool(level and np.abs(self.share - self.space.greville).max() < 1e-12)


def skeleton(
    space: SplineSpace, to_controls: Floats, origins: Floats, centers: Floats, across: Floats, normals: Floats, axis: Floats, laws: Laws
) -> Skeleton:
    """From what stands at the stations (k, 3): origins and x axes of their frames, centres of the sections, normals along the travel.

    to_controls: (n, k), the interpolation along the body. axis: unit direction in which the length is counted (3,).
    """
    along = origins @ axis
    share = (along - along[0]) / (along[-1] - along[0])
    if laws.about is About.RIDING:
        centers = origins + laws.riding[0] * across + laws.riding[1] * cross(normals, across)
    elif laws.about is About.SPINE:
        line = centers[-1] - centers[0]
        reach = np.einsum("ij,ij->i", origins - centers[0], normals) / (normals @ line)
        centers = centers[0] + reach[:, None] * line
    carried = [across[0]]
    for normal in normals[1:]:
        flat = carried[-1] - (carried[-1] @ normal) * normal
        carried.append(flat / np.linalg.norm(flat))
    return Skeleton(space, to_controls @ share, to_controls @ centers, to_controls @ np.array(carried), to_controls @ normals)


def moved(laws: Laws, bones: Skeleton, v: Floats, points: Floats) -> Floats:
    """Points (m, n, 3), a row for each of the parameters v (m,), where the laws take them."""
    share, center, x, y = bones.at(v)
    turn, width, height = laws.at(share)
    c, s = np.cos(turn), np.sin(turn)
    # where each row's own axes go, less the axes themselves: what the map adds to a point
    x_to = (width * c - 1)[:, None] * x + (width * s)[:, None] * y
    y_to = (height * c - 1)[:, None] * y - (height * s)[:, None] * x
    added = x[:, :, None] * x_to[:, None] + y[:, :, None] * y_to[:, None]
    return points + (points - center[:, None]) @ added


def lawed(faces: Sequence[NamedFace], laws: Laws, bones: Skeleton, tolerances: Tolerances) -> tuple[list[NamedFace], float]:
    """The faces where the laws take them, and the largest distance (mm) from the exact outcome, zero where it is met exactly."""

    def space(v: SplineSpace) -> SplineSpace | None:
        return _exact_space(v, laws) if laws.twist is None and bones.is_straight else None

    return carried(faces, partial(moved, laws, bones), lambda v: _breaks(v, laws, bones), tolerances, exact=space)


def _exact_space(v: SplineSpace, laws: Laws) -> SplineSpace | None:
    """The space that holds the product of a skin and its scale laws, where its degree stays in bounds."""
    low, high = v.domain
    degree = v.degree + max(law.space.degree for law in laws.all)
    if degree > 5:
        return None
    smooth: dict[float, int] = {float(b): int(c) for b, c in zip(v.breaks[1:-1], v.degree - v.multiplicities[1:-1], strict=True)}
    for law in laws.all:
        for b, c in zip(law.space.breaks[1:-1], law.continuity, strict=True):
            if low < b < high:
                smooth[float(b)] = min(int(c), smooth.get(float(b), degree))
    breaks = sorted(smooth)
    return SplineSpace.from_breaks(degree, [low, *breaks, high], [degree - smooth[b] for b in breaks])


def _breaks(v: SplineSpace, laws: Laws, bones: Skeleton) -> tuple[Floats, dict[float, int]]:
    """Where a fit has to break, and how many derivatives are continuous there."""
    low, high = v.domain
    least = {float(b): 2 for b in v.breaks[1:-1]}
    wanted = [(float(s), int(c)) for law in laws.all for s, c in zip(law.space.breaks[1:-1], law.continuity, strict=True)]
    for place, (_, continuity) in zip(_places_of(np.array([s for s, _ in wanted]), bones), wanted, strict=True):
        if low + 1e-9 < place < high - 1e-9:
            near = next((b for b in least if abs(b - place) < 1e-9), float(place))
            least[near] = min(continuity, least.get(near, 4))
    return np.array([low, *sorted(least), high]), least


def _places_of(shares: Floats, bones: Skeleton) -> Floats:
    """Parameters at shares of the length (m,): shares rise along a body whose stations are in order."""
    return where_reached(lambda v: bones.space.evaluate(bones.share, v), bones.space.domain, shares)
