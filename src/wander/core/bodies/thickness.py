"""How thick a wall is, measured: from many places on one side of it to the nearest place of the other."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.shell import NamedFace
from wander.core.shaping.strays import distances

PLACES = 2000


@dataclass(frozen=True)
class Thickness:
    """least, largest and mean, mm, at so many places; thin, thick: the places of the first two, (3,)."""

    least: float
    largest: float
    mean: float
    places: int
    thin: Floats
    thick: Floats


def of_places(places: Floats, distances_: Floats) -> Thickness:
    """From places (m, 3) and how thick it is there, (m,)."""
    low, high = int(np.argmin(distances_)), int(np.argmax(distances_))
    mean = float(distances_.mean())
    return Thickness(float(distances_[low]), float(distances_[high]), mean, len(places), places[low], places[high])


def of_all(walls: Sequence[Thickness]) -> Thickness:
    """Of several walls taken as one."""
    thin, thick = min(walls, key=lambda wall: wall.least), max(walls, key=lambda wall: wall.largest)
    places = sum(wall.places for wall in walls)
    mean = sum(wall.mean * wall.places for wall in walls) / places
    return Thickness(thin.least, thick.largest, mean, places, thin.thin, thick.thick)


def measured(faces: Sequence[NamedFace], against: Sequence[NamedFace], count: int = PLACES) -> Thickness:
    """From about `count` places spread over faces to the nearest of others."""
    nets = [_net(face, 24) for face in faces]
    areas = np.array([_area(net) for net in nets])
    places = []
    for face, share in zip(faces, areas / areas.sum(), strict=True):
        across = max(3, round(float(np.sqrt(count * share))))
        places.append(_net(face, across).reshape(-1, 3))
    found = np.concatenate(places)
    return of_places(found, distances(against, found))


def _net(face: NamedFace, count: int) -> Floats:
    """Places in the middle of so many parts of a face each way: (count, count, 3)."""
    shares = (np.arange(count) + 0.5) / count
    u, v = (low + (high - low) * shares for low, high in (face.surface.u.domain, face.surface.v.domain))
    return face.surface.grid(u, v)


def _area(net: Floats) -> float:
    along, across = np.diff(net, axis=0)[:, :-1], np.diff(net, axis=1)[:-1]
    return float(lengths(cross(along, across)).sum())
