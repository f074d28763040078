"""How a section is held along its path: which frame it has at each place."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import Enum

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.least_turning import LeastTurning
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.path import Path

STEEP = 1e-6
"""A path that runs nearer than this (radians) to the upright has no way of its own across it."""

LEVEL = 1e-10
"""Radians: less that a closed path comes back turned by is rounding."""

Frames = Callable[[Floats], tuple[Floats, Floats]]
"""At parameters (m,) of a piece: places (m, 3), and matrices (m, 3, 3) whose columns are x, y and z of the frame, z forwards."""


class Attitude(Enum):
    """What stays as it is while a section is carried along."""

    LEAST = "least"
    """Square to the path, and turning about it as little as can be."""
    UPRIGHT = "upright"
    """Its upright stays upright, whether the path climbs or turns."""
    PARALLEL = "parallel"
    """It stays parallel to how it was drawn."""
    SURFACE = "surface"
    """Its upright stays square to a surface that the path lies on, or runs beside."""


Normals = Callable[[Floats], Floats]
"""Unit normals (m, 3) of a surface at its places nearest to points (m, 3)."""


class RunsIntoSurface(BadInput):
    """The path runs square into the surface, or where this has no normal; place: (3,)."""

    def __init__(self, place: Floats) -> None:
        super().__init__("the path runs square into the surface there, so that no side of the section would stand up from it")
        self.place = place


class RunsUpright(BadInput):
    """The path runs along the upright; place: (3,)."""

    def __init__(self, place: Floats) -> None:
        super().__init__("the path runs straight along the upright there, so that no side of the section would be upright")
        self.place = place


@dataclass(frozen=True)
class Held:
    """The frames of every piece of a path. turned: radians by which least turning comes back turned round a closed path, spread evenly along it.

    square: their z is the way of the path everywhere.
    """

    frames: tuple[Frames, ...]
    turned: float = 0.0
    square: bool = False


def held(path: Path, attitude: Attitude, x: Floats, up: Floats, normals: Normals | None = None) -> Held:
    """x: what the x of the first frame is nearest to (3,). up: the upright, a unit vector (3,). normals: of the surface that it is square to.

    Raises RunsUpright, RunsIntoSurface, BadInput.
    """
    if attitude is Attitude.SURFACE:
        if normals is None:
            raise BadInput("there is no surface to be square to")
        return Held(tuple(_OnSurface(piece, normals) for piece in path.pieces), square=True)
    if attitude is Attitude.PARALLEL:
        way = path.pieces[0].derivatives(0.0, 1)[1]
        matrix = _square(way / np.linalg.norm(way), x)
        return Held(tuple(_Parallel(piece, matrix) for piece in path.pieces))
    if attitude is Attitude.UPRIGHT:
        return Held(tuple(_Upright(piece, up) for piece in path.pieces))
    found: list[Frames] = []
    first, way = None, None
    alone = path.goes_on and len(path.pieces) == 1
    for piece in path.pieces:
        ahead = piece.derivatives(0.0, 1)[1]
        ahead = ahead / np.linalg.norm(ahead)
        if way is not None:
            x = turned_with(x, way, ahead)
        frames = LeastTurning(piece, x, closing=alone)
        if alone:
            return Held((frames,), frames.closes_by, square=True)
        found.append(frames)
        begins, x, way = frames.ends
        first = (begins, ahead) if first is None else first
    if not path.closed or first is None or way is None:
        return Held(tuple(found), square=True)
    x = turned_with(x, way, first[1])
    turned = float(np.arctan2(x @ cross(first[1], first[0]), x @ first[0]))
    if abs(turned) > LEVEL:
        found = [_Back(frames, path, number, turned) for number, frames in enumerate(found)]
    return Held(tuple(found), turned, square=True)


def turned_with(vector: Floats, before: Floats, after: Floats) -> Floats:
    """A vector (3,) turned as little as takes one unit way to another."""
    axis = cross(before, after)
    sine, cosine = float(np.linalg.norm(axis)), float(before @ after)
    if sine < 1e-12:
        if cosine < 0:
            raise BadInput("the path turns straight back at a corner")
        return vector
    axis = axis / sine
    return np.asarray(vector * cosine + cross(axis, vector) * sine + axis * (axis @ vector) * (1 - cosine), dtype=np.float64)


def _square(way: Floats, x: Floats) -> Floats:
    across = x - (x @ way) * way
    if np.linalg.norm(across) < 1e-9:
        across = np.eye(3)[int(np.abs(way).argmin())]
        across = across - (across @ way) * way
    across = across / np.linalg.norm(across)
    return np.stack([across, cross(way, across), way], axis=1)


@dataclass(frozen=True)
class _Parallel:
    curve: Curve
    matrix: Floats

    def __call__(self, parameters: Floats) -> tuple[Floats, Floats]:
        return self.curve(parameters), np.broadcast_to(self.matrix, (len(parameters), 3, 3))


@dataclass(frozen=True)
class _Upright:
    """y is the upright, and z goes level in the direction of the path."""

    curve: Curve
    up: Floats

    def __call__(self, parameters: Floats) -> tuple[Floats, Floats]:
        places, slopes = self.curve.derivatives(parameters, 1)
        level = slopes - (slopes @ self.up)[:, None] * self.up
        reach, speed = lengths(level), lengths(slopes)
        if np.any(reach < STEEP * speed):
            raise RunsUpright(places[int(np.argmin(reach / speed))])
        z = level / reach[:, None]
        y = np.broadcast_to(self.up, z.shape)
        return places, np.stack([cross(y, z), y, z], axis=-1)


@dataclass(frozen=True)
class _OnSurface:
    """y stands up from the surface, less what of it lies along the path."""

    curve: Curve
    normals: Normals

    def __call__(self, parameters: Floats) -> tuple[Floats, Floats]:
        places, slopes = self.curve.derivatives(parameters, 1)
        z = slopes / lengths(slopes)[:, None]
        up = self.normals(places)
        y = up - np.sum(up * z, axis=1)[:, None] * z
        size = lengths(y)
        if not np.all(size > STEEP):
            raise RunsIntoSurface(places[int(np.argmin(np.nan_to_num(size)))])
        y = y / size[:, None]
        return places, np.stack([cross(y, z), y, z], axis=-1)


@dataclass(frozen=True)
class _Back:
    """Frames turned back evenly along a whole path by what they come back turned by."""

    frames: Frames
    path: Path
    number: int
    turned: float

    def __call__(self, parameters: Floats) -> tuple[Floats, Floats]:
        places, matrices = self.frames(parameters)
        back = (-self.turned * self.path.shares(self.number, parameters))[:, None]
        x, y, z = (matrices[..., i] for i in range(3))
        return places, np.stack([np.cos(back) * x + np.sin(back) * y, np.cos(back) * y - np.sin(back) * x, z], axis=-1)
