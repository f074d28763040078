"""A body that another one goes on from: its tangent planes and curvatures where the outline of an end lies on it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wander.core.bodies.body import Body, Face
from wander.core.bodies.continuity import Look, look_at
from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.geometry.vectors import lengths

ON = 2e-3
"""mm within which an outline lies on a body: both may have been fitted."""


class OffBody(BadInput):
    """An outline does not lie on the body that it is to go on from. off: largest distance, mm. place: where (3,)."""

    def __init__(self, off: float, place: Floats) -> None:
        super().__init__(f"the outline leaves the body by {off:.3g} mm")
        self.off, self.place = off, place


@dataclass(frozen=True)
class Beside:
    """What a body is like at places on it; of several faces there the nearest counts."""

    looks: tuple[Look, ...]
    nearest: Ints

    @property
    def normals(self) -> Floats:
        return self._of([look.normals for look in self.looks])

    def curvature(self, across: Floats) -> Floats:
        return self._of([look.curvature(across) for look in self.looks])

    def _of(self, values: list[Floats]) -> Floats:
        return np.stack(values)[self.nearest, np.arange(len(self.nearest))]


@dataclass(frozen=True)
class Touching:
    """A body as the ends of others see it. faces: those that don't lie in the plane of the end themselves."""

    faces: tuple[Face, ...]

    @classmethod
    def of(cls, body: Body, plane: Frame) -> Touching:
        """plane: of the station at that end. Raises BadInput where the body has no faces, being only a mesh as yet."""
        faces = tuple(face for face in body.faces if not _lies_in(face, plane))
        if not faces:
            raise BadInput("the body that the end goes on from has no faces to go on from")
        return cls(faces)

    def beside(self, points: Floats) -> Beside:
        """Raises OffBody where points (m, 3) don't lie on the body."""
        looks = tuple(look for face in self.faces if (look := look_at(face, points)) is not None)
        apart = np.stack([np.where(np.isfinite(look.normals).all(axis=1), lengths(look.points - points), np.inf) for look in looks])
        nearest = apart.argmin(axis=0)
        off = apart.min(axis=0)
        if off.max() > ON:
            raise OffBody(float(off.max()), points[int(off.argmax())])
        return Beside(looks, nearest)


def _lies_in(face: Face, plane: Frame) -> bool:
    if face.frame is None:
        return False
    return abs(abs(float(face.frame.z @ plane.z)) - 1) < 1e-9 and abs(float((face.frame.origin - plane.origin) @ plane.z)) < ON
