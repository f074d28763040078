"""How the skin leaves its first and last station: first derivatives along the body at one end of a panel."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum
from math import cos, sin
from typing import Protocol

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.vectors import cross, lengths

ROUND = 1.657
"""Handle of a quarter ellipse drawn as one cubic, per unit of parameter: three times 0.5523."""


class EndKind(Enum):
    """What is asked of the skin at an end."""

    FREE = "free"
    """Nothing: a batten let go; at a point, a sharp tip."""
    SQUARE = "square"
    """Square to the station."""
    ANGLE = "angle"
    """Leaning outwards from square by an angle."""
    DOMED = "domed"
    """At a point only: round, with the plane of its station as tangent plane."""
    TANGENT = "tangent"
    """In the tangent planes of another body, on which its outline lies."""
    CURVATURE = "curvature"
    """And curved along the body like it."""


class Beside(Protocol):
    """Another body at places on it: its unit normals (m, 3)."""

    @property
    def normals(self) -> Floats: ...

    def curvature(self, across: Floats) -> Floats:
        """Normal curvatures (m,), 1/mm, about these normals in unit directions (m, 3) of the tangent planes."""
        ...


class Onto(Protocol):
    """A body that an end goes on from."""

    def beside(self, points: Floats) -> Beside:
        """What it is like at points (m, 3). Raises BadInput where they don't lie on it."""
        ...


@dataclass(frozen=True)
class EndShape:
    """angle: radians outwards from square. fullness: how far the wish reaches into the body, 1 as usual. onto: the body that it goes on from."""

    kind: EndKind = EndKind.FREE
    angle: float = 0.0
    fullness: float = 1.0
    onto: Onto | None = None


FREE = EndShape()


@dataclass(frozen=True)
class EndPlace:
    """An end of one panel. row, next_row: control points (n, 3) of the station and of its neighbour. step: parameter between the two.

    normal: of the station, into the body (3,). reach: mean distance to the neighbour, mm, the same for all panels.
    mitres: in-plane directions (3,) in which the corners at both sides of the panel move when the outline grows by 1; None where it closes.
    """

    space: SplineSpace
    row: Floats
    next_row: Floats
    step: float
    normal: Floats
    reach: float
    mitres: tuple[Floats, Floats] | None


def derivative(end: EndShape, place: EndPlace) -> Floats:
    """First derivatives by the parameter, pointing into the body, as control points (n, 3)."""
    size = end.fullness / place.step
    if end.kind is EndKind.DOMED:
        outwards = place.next_row - place.row
        flat = outwards - (outwards @ place.normal)[:, None] * place.normal
        return ROUND * size * flat
    straight = np.tile(place.normal, (len(place.row), 1))
    if end.kind is EndKind.ANGLE and end.angle:
        straight = cos(end.angle) * straight + sin(end.angle) * _outwards(place)
    return size * place.reach * straight


def _outwards(place: EndPlace) -> Floats:
    """In-plane directions in which the outline grows evenly, as control points (n, 3)."""
    at = place.space.greville
    tangent = place.space.evaluate(place.row, at, 1)
    tangent /= lengths(tangent)[:, None]
    # outlines run counter-clockwise about the direction of travel; the normal here looks into the body
    normal = cross(tangent, np.broadcast_to(_travel(place), tangent.shape))
    if place.mitres is not None:
        along = [float(mitre @ tangent[i]) for mitre, i in zip(place.mitres, (0, -1), strict=True)]
        low, high = place.space.domain
        share = (at - low) / (high - low)
        normal = normal + ((1 - share) * along[0] + share * along[1])[:, None] * tangent
    return place.space.interpolate(normal)


def _travel(place: EndPlace) -> Floats:
    """The way the body runs: as the normal into the body at the start, against it at the end."""
    ahead = place.step > 0
    return place.normal if ahead else -place.normal


def mitre(into: Floats, out: Floats, travel: Floats) -> Floats:
    """How a corner moves when both its sides move outwards by 1: from the tangents (3,) before and after it."""
    a, b = (cross(t / np.linalg.norm(t), travel) for t in (into, out))
    # nearly folded corners would run away
    return (a + b) / max(1.0 + float(a @ b), 0.1)
