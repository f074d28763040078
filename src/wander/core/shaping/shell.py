"""A skin of surfaces and flat caps: what the core knows of a body before the kernel makes it solid, or a sheet.

Which sides meet is known from how the skin was made and kept with it; nothing ever looks for it in coordinates.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import reverse, transformed
from wander.core.geometry.frame import Frame
from wander.core.geometry.surface import Surface


@dataclass(frozen=True)
class NamedFace:
    """A face that fills its whole surface; the normal du x dv points out of the body.

    closed_u: the u ends of the surface are one seam. Name: what made it, as in `loft-3/section-2.c1`.
    """

    name: str
    surface: Surface
    closed_u: bool = False


@dataclass(frozen=True)
class Cap:
    """A flat face inside a closed chain of boundary curves in space, less what lies inside further chains; frame.z points out of the body."""

    name: str
    frame: Frame
    boundary: tuple[Curve, ...]
    holes: tuple[tuple[Curve, ...], ...] = ()

    @property
    def curves(self) -> tuple[Curve, ...]:
        """All boundary curves, those of the holes after the outer ones: seams count them in this order."""
        return (*self.boundary, *(curve for hole in self.holes for curve in hole))

    @property
    def chains(self) -> tuple[tuple[Curve, ...], ...]:
        return (self.boundary, *self.holes)


@dataclass(frozen=True)
class Ring:
    """A section as it lies on the finished skin, for display: name of its step and the curves of its outline."""

    name: str
    curves: tuple[Curve, ...]


@dataclass(frozen=True)
class Side:
    """One side of a part of a shell. part: number among the faces, then the caps. side: 'u0', 'u1', 'v0' or 'v1' of a face; a curve of a cap."""

    part: int
    side: str | int


@dataclass(frozen=True)
class Seam:
    """Where two sides of parts meet all along. corner: tells seams between the same two parts apart. turned: they run opposite ways."""

    first: Side
    second: Side
    corner: str = ""
    turned: bool = False


@dataclass(frozen=True)
class Shell:
    """One piece of skin. seams: each pair of sides that meet, once; sides that have shrunk to a point have none. closed: nothing has a free side."""

    faces: tuple[NamedFace, ...]
    caps: tuple[Cap, ...]
    rings: tuple[Ring, ...] = ()
    seams: tuple[Seam, ...] = ()
    closed: bool = True

    @property
    def size(self) -> float:
        """Diagonal of the box of all control points, mm: at least that of the body."""
        points = [face.surface.points.reshape(-1, 3) for face in self.faces] or [curve.points for cap in self.caps for curve in cap.curves]
        return float(np.linalg.norm(np.ptp(np.concatenate(points), axis=0)))

    @property
    def names(self) -> tuple[str, ...]:
        """Of the faces, then the caps."""
        return (*(face.name for face in self.faces), *(cap.name for cap in self.caps))

    def curve(self, side: Side) -> Curve:
        """The curve of a side in space."""
        if side.part < len(self.faces):
            return self.faces[side.part].surface.edge(str(side.side))
        return self.caps[side.part - len(self.faces)].curves[int(side.side)]

    def moved(self, matrix: Floats, origin: Floats) -> Shell:
        """The image under x -> matrix @ x + origin, which may be a mirror image: faces are then run the other way, so that they look outwards."""
        mirrored = bool(np.linalg.det(matrix) < 0)

        def curves(cs: Sequence[Curve]) -> tuple[Curve, ...]:
            return tuple(transformed(c, matrix, origin) for c in cs)

        def face(f: NamedFace) -> NamedFace:
            surface = f.surface.transformed(matrix, origin)
            return replace(f, surface=_other_way(surface) if mirrored else surface)

        def cap(c: Cap) -> Cap:
            at, x, y = matrix @ c.frame.origin + origin, matrix @ c.frame.x, matrix @ c.frame.y
            frame = Frame(at, y, x) if mirrored else Frame(at, x, y)
            return Cap(c.name, frame, curves(c.boundary), tuple(curves(h) for h in c.holes))

        return replace(
            self,
            faces=tuple(map(face, self.faces)),
            caps=tuple(map(cap, self.caps)),
            rings=tuple(Ring(r.name, curves(r.curves)) for r in self.rings),
            seams=tuple(self._seam_mirrored(s) for s in self.seams) if mirrored else self.seams,
        )

    def turned(self) -> Shell:
        """The same skin looking the other way: that of a hole. The curves of its caps run the other way too."""
        caps = tuple(
            Cap(c.name, Frame(c.frame.origin, c.frame.y, c.frame.x), _backwards(c.boundary), tuple(_backwards(h) for h in c.holes)) for c in self.caps
        )
        faces = tuple(replace(f, surface=_other_way(f.surface)) for f in self.faces)
        return replace(
            self, faces=faces, caps=caps, seams=tuple(replace(s, first=self._turned(s.first), second=self._turned(s.second)) for s in self.seams)
        )

    def renamed(self, name: str) -> Shell:
        """The same skin as a copy of its own: every name is followed by `@name`."""
        return replace(
            self,
            faces=tuple(replace(f, name=f"{f.name}@{name}") for f in self.faces),
            caps=tuple(replace(c, name=f"{c.name}@{name}") for c in self.caps),
            rings=(),
        )

    def _seam_mirrored(self, seam: Seam) -> Seam:
        first, second = (self._side_mirrored(side) for side in (seam.first, seam.second))
        swapped = sum(side.part < len(self.faces) and str(side.side)[0] == "v" for side in (seam.first, seam.second))
        return replace(seam, first=first, second=second, turned=seam.turned != (swapped == 1))

    def _turned(self, side: Side) -> Side:
        """Both a face and a cap are run the other way: what runs alike goes on to."""
        if side.part < len(self.faces):
            return self._side_mirrored(side)
        cap = self.caps[side.part - len(self.faces)]
        number = int(side.side)
        for chain in cap.chains:
            if number < len(chain):
                return replace(side, side=int(side.side) + len(chain) - 1 - 2 * number)
            number -= len(chain)
        raise IndexError(f"the cap {cap.name} has no curve {side.side}")

    def _side_mirrored(self, side: Side) -> Side:
        if side.part >= len(self.faces):
            return side
        return replace(side, side={"u0": "u1", "u1": "u0"}.get(str(side.side), side.side))


def _backwards(chain: Sequence[Curve]) -> tuple[Curve, ...]:
    """A chain of curves gone through from its other end."""
    return tuple(reverse(curve) for curve in reversed(chain))


def _other_way(surface: Surface) -> Surface:
    """The same surface with u run backwards, so that du x dv points the other way."""
    flat = surface.homogeneous
    turned = reverse(Curve(surface.u, flat.reshape(len(flat), -1)))
    return surface.in_spaces(turned.space, surface.v, turned.points.reshape(flat.shape))
