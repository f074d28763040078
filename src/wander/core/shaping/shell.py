"""A closed skin of surfaces and flat caps: what the core knows of a body before the kernel makes it solid."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.frame import Frame
from wander.core.geometry.surface import Surface


@dataclass(frozen=True)
class NamedFace:
    """A face that fills its whole surface; the normal du x dv points out of the body.

    closed_u: the u ends of the surface are one seam. Name: what made it, as in `loft-3/side.2`.
    """

    name: str
    surface: Surface
    closed_u: bool = False


@dataclass(frozen=True)
class Cap:
    """A flat face inside a closed chain of boundary curves in space; frame.z points out of the body."""

    name: str
    frame: Frame
    boundary: tuple[Curve, ...]


@dataclass(frozen=True)
class Ring:
    """A section as it lies on the finished skin, for display: name of its step and the curves of its outline."""

    name: str
    curves: tuple[Curve, ...]


@dataclass(frozen=True)
class Shell:
    faces: tuple[NamedFace, ...]
    caps: tuple[Cap, ...]
    rings: tuple[Ring, ...] = ()

    @property
    def size(self) -> float:
        """Diagonal of the box of all control points, mm: at least that of the body."""
        points = np.concatenate([face.surface.points.reshape(-1, 3) for face in self.faces])
        return float(np.linalg.norm(np.ptp(points, axis=0)))

    def moved(self, matrix: Floats, origin: Floats) -> Shell:
        """The image under a proper rotation and a shift."""
        from wander.core.geometry.curve_edits import transformed

        def frame(f: Frame) -> Frame:
            return Frame(matrix @ f.origin + origin, matrix @ f.x, matrix @ f.y)

        def curves(cs: tuple[Curve, ...]) -> tuple[Curve, ...]:
            return tuple(transformed(c, matrix, origin) for c in cs)

        return Shell(
            tuple(NamedFace(f.name, f.surface.transformed(matrix, origin), f.closed_u) for f in self.faces),
            tuple(Cap(c.name, frame(c.frame), curves(c.boundary)) for c in self.caps),
            tuple(Ring(r.name, curves(r.curves)) for r in self.rings),
        )
