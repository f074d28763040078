"""A curve that is turned about an axis, as it lies in its half plane."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.vectors import lengths

ON_AXIS = 1e-6
"""mm: nearer to the axis an end lies on it."""
ASKEW = 1e-4
"""mm: what a rail may stray from a plane through the axis."""
LOOKED = 32


class LeavesPlane(BadInput):
    """The rail lies in no plane with the axis; place: where it strays furthest (3,). off: by how much, mm."""

    def __init__(self, place: Floats, off: float) -> None:
        super().__init__(f"the rail strays {off:.3g} mm from the plane through the axis and its widest place")
        self.place, self.off = place, off


class RailCrossesAxis(BadInput):
    """The rail goes over the axis, or touches it on its way; place: (3,)."""

    def __init__(self, place: Floats) -> None:
        super().__init__("the rail goes over the axis, so that the body would run through itself")
        self.place = place


@dataclass(frozen=True)
class Axis:
    """A point (3,) and a unit direction (3,)."""

    point: Floats
    way: Floats

    @property
    def across(self) -> tuple[Floats, Floats]:
        """Two unit vectors square to it and to each other: with it, right-handed."""
        x = np.eye(3)[int(np.abs(self.way).argmin())]
        x = x - (x @ self.way) * self.way
        x = x / np.linalg.norm(x)
        return x, np.cross(self.way, x)

    def split(self, points: Floats) -> tuple[Floats, Floats]:
        """What lies across it (..., 2), and along it (...)."""
        off = points - self.point
        return np.stack([off @ way for way in self.across], axis=-1), off @ self.way

    def place(self, across: Floats, along: Floats) -> Floats:
        x, y = self.across
        return np.asarray(self.point + across[..., :1] * x + across[..., 1:] * y + along[..., None] * self.way, dtype=np.float64)


@dataclass(frozen=True)
class Meridian:
    """The rail as it lies in its half plane: a curve (away, along) over [0, 1], and the unit vector (2,) of that plane."""

    curve: Curve
    side: Floats

    @property
    def ends(self) -> Floats:
        """Away from the axis at the start and at the end, mm (2,)."""
        return np.asarray(self.curve(np.array([0.0, 1.0]))[:, 0])

    @property
    def encloses(self) -> float:
        """Twice the area between the rail and the axis, mm2: positive where the rail goes round it anticlockwise, seen with the axis at the left."""
        _, points = self.curve.sampled(LOOKED)
        ring = np.concatenate([points, [[0.0, points[-1, 1]], [0.0, points[0, 1]]]])
        following = np.roll(ring, -1, axis=0)
        return float(np.sum(ring[:, 0] * following[:, 1] - ring[:, 1] * following[:, 0]))


def meridian(rail: Curve, axis: Axis) -> Meridian:
    """Raises LeavesPlane, RailCrossesAxis."""
    rail = Curve(rail.space.mapped(0.0, 1.0), rail.points)
    _, places = rail.sampled(LOOKED)
    across, _ = axis.split(places)
    far = lengths(across)
    if far.max() < ON_AXIS:
        raise RailCrossesAxis(places[0])
    side = across[int(far.argmax())] / far.max()
    astray = np.abs(across @ np.array([-side[1], side[0]]))
    if astray.max() > ASKEW:
        raise LeavesPlane(places[int(astray.argmax())], float(astray.max()))
    away = across @ side
    inside = away[1:-1]
    if away.min() < -ON_AXIS or inside.min() < ON_AXIS:
        raise RailCrossesAxis(places[int(away.argmin()) if away.min() < -ON_AXIS else 1 + int(inside.argmin())])
    controls, along = axis.split(rail.points)
    flat = np.column_stack([controls @ side, along])
    flat[[0, -1], 0] = np.where(np.abs(flat[[0, -1], 0]) < ON_AXIS, 0.0, flat[[0, -1], 0])
    return Meridian(Curve(rail.space, flat), side)
