"""One result, many makers: a body as later steps, files and the screen use it.

A body is held by its own surfaces (skins), as the kernel made it (exact), or, while something is dragged, as a mesh alone (rough). Who reads it asks
the functions of this room and never which of the three it is.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from wander.core.bodies.measures import Measures, Untaken, of_mesh, together
from wander.core.bodies.moved_meshes import copied_mesh, copied_pair, keeps_axes, moved_mesh
from wander.core.bodies.rough import Rough, gathered_roughly, rough_of
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import transformed
from wander.core.geometry.frame import Frame
from wander.core.geometry.motions import Motion, after, back
from wander.core.geometry.surface import Surface
from wander.core.geometry.tolerances import DEFAULT
from wander.core.shaping.display import DisplayMesh, display_mesh, merged
from wander.core.shaping.edges import Edge, edges
from wander.core.shaping.loft import Plain
from wander.core.shaping.shell import Cap, NamedFace, Shell

RIM = 24
"""Pieces in which each span of a boundary is taken where only its run matters."""


@dataclass(frozen=True)
class Face:
    """Part of the skin of a body. Either a surface, or flat: then x and y of the frame are its parameters.

    rims: closed polygons (n, 2) in the parameters, inside the first and outside the others; None where it fills its whole surface.
    turned: du x dv, or the frame's z, points into the body.
    """

    name: str
    surface: Surface | None
    frame: Frame | None
    rims: tuple[Floats, ...] | None = None
    turned: bool = False

    def moved(self, matrix: Floats, origin: Floats) -> Face:
        mirrored = bool(np.linalg.det(matrix) < 0)
        frame = self.frame
        if frame is not None:
            x, y = matrix @ frame.x, matrix @ frame.y
            frame = Frame(matrix @ frame.origin + origin, x, y)
        surface = None if self.surface is None else self.surface.transformed(matrix, origin)
        return replace(self, surface=surface, frame=frame, turned=self.turned != mirrored)


@dataclass(frozen=True)
class Exact:
    """As the kernel made it. data: its shape as bytes, before `matrix` and `origin` are applied. names: of its faces, as the kernel counts them.

    mesh: at the tolerance of the display, by the kernel.
    """

    data: bytes
    names: tuple[str, ...]
    faces: tuple[Face, ...]
    edges: tuple[Edge, ...]
    mesh: DisplayMesh
    matrix: Floats
    origin: Floats


@dataclass(frozen=True)
class Along:
    """The length of a body that has one, counted along a unit axis (3,).

    plain: the skin before laws, that sections are cut from. mirror: the plane in which its halves meet, by the name of its step.
    """

    axis: Floats
    plain: Plain | None = None
    mirror: tuple[str, Frame] | None = None


@dataclass(frozen=True)
class Copy:
    """suffix: what follows the names of faces on it. motion: takes what it was made from to where it is."""

    suffix: str
    motion: Motion


@dataclass(frozen=True)
class Body:
    """A body, or several that lie apart and are taken as one: each piece by its own surfaces or as the kernel made it, or all as a mesh.

    It is closed, or a sheet: one that has area and encloses nothing. copies: parts of it that were made as copies of others.
    """

    taken: Measures | Untaken
    skins: tuple[Shell, ...] = ()
    exact: tuple[Exact, ...] = ()
    rough: Rough | None = None
    along: Along | None = None
    copies: tuple[Copy, ...] = ()

    @cached_property
    def faces(self) -> tuple[Face, ...]:
        """Empty while the body is only a mesh."""
        own = [face for skin in self.skins for face in faces_of_skin(skin)]
        return (*own, *(face for part in self.exact for face in part.faces))

    @cached_property
    def edges(self) -> tuple[Edge, ...]:
        """Each once; names tell them apart."""
        own = [edge for skin in self.skins for edge in edges(skin)]
        return (*own, *(edge for part in self.exact for edge in part.edges))

    @property
    def measures(self) -> Measures:
        return self.taken.measures if isinstance(self.taken, Untaken) else self.taken

    @property
    def closed(self) -> bool:
        """Whether it encloses something: a sheet does not."""
        return self.taken.closed

    @property
    def volume_about(self) -> float:
        """The volume, mm3: as near as is needed to tell what is inside out."""
        return self.taken.volume_about if isinstance(self.taken, Untaken) else self.taken.volume

    @property
    def pieces(self) -> int:
        """How many bodies lie apart in it."""
        return self.taken.pieces

    @property
    def axis(self) -> Floats:
        """The direction in which its length is counted: its own, or that of the longest side of its box."""
        if self.along is not None:
            return self.along.axis
        return np.eye(3)[int(np.argmax(self.measures.high - self.measures.low))]

    @property
    def size(self) -> float:
        """Diagonal of its box, mm."""
        return float(np.linalg.norm(self.measures.high - self.measures.low))

    @property
    def size_about(self) -> float:
        """What its size is at the most, mm, where that is known before it is measured."""
        return max(skin.size for skin in self.skins) if isinstance(self.taken, Untaken) and len(self.skins) == 1 else self.size


def of_shells(skins: tuple[Shell, ...], along: Along | None = None) -> Body:
    """The body inside skins that lie apart, or the sheet that they are."""
    return Body(Untaken(skins), skins=skins, along=along)


def faces_of_skin(skin: Shell) -> list[Face]:
    """Its sides, and after them its flat ends."""
    return [*map(_whole, skin.faces), *map(_flat, skin.caps)]


def _whole(face: NamedFace) -> Face:
    return Face(face.name, face.surface, None)


def _flat(cap: Cap) -> Face:
    return Face(cap.name, None, cap.frame, tuple(_polygon(cap.frame, chain) for chain in cap.chains))


def _polygon(frame: Frame, chain: tuple[Curve, ...]) -> Floats:
    return frame.drop(np.concatenate([_run_on(chain, k) for k in range(len(chain))]))


def _run_on(chain: tuple[Curve, ...], number: int) -> Floats:
    """Points of one curve of a chain, its last one left to the next, run the way the chain goes."""
    points = chain[number].sampled(RIM if chain[number].degree > 1 else 1)[1]
    following = chain[(number + 1) % len(chain)].points
    ends = following[[0, -1]]
    if len(chain) > 1 and np.linalg.norm(ends - points[-1], axis=1).min() > np.linalg.norm(ends - points[0], axis=1).min():
        points = points[::-1]
    return points[:-1]


def moved(body: Body, matrix: Floats, origin: Floats) -> Body:
    """The image of a body under an isometry x -> matrix @ x + origin, mirror images included. Names stay."""
    skins = tuple(skin.moved(matrix, origin) for skin in body.skins)
    exact = tuple(_exact_moved(part, matrix, origin) for part in body.exact)
    rough = None if body.rough is None else body.rough.moved(matrix, origin)
    taken: Measures | Untaken
    if rough is not None:
        taken = rough.measures
    elif skins and not exact:
        taken = Untaken(skins)
    else:
        taken = body.measures.moved(matrix, origin)
        if not keeps_axes(matrix):
            meshes = [part.mesh for part in exact]
            low, high = (f([f(m.positions, axis=0) for m in meshes], axis=0) for f in (np.min, np.max))
            taken = replace(taken, low=low, high=high)
    along = None if body.along is None else Along(matrix @ body.along.axis)
    motion = Motion(matrix, origin)
    copies = tuple(Copy(copy.suffix, after(motion, after(copy.motion, back(motion)))) for copy in body.copies)
    return Body(taken, skins, exact, rough, along, copies)


def _exact_moved(part: Exact, matrix: Floats, origin: Floats) -> Exact:
    return replace(
        part,
        faces=tuple(face.moved(matrix, origin) for face in part.faces),
        edges=tuple(replace(edge, curve=transformed(edge.curve, matrix, origin)) for edge in part.edges),
        mesh=moved_mesh(part.mesh, matrix, origin),
        matrix=matrix @ part.matrix,
        origin=matrix @ part.origin + origin,
    )


def copied(body: Body, name: str) -> Body:
    """The same body as a copy of its own: every name in it is followed by `@name`, and it has no sections."""
    exact = tuple(
        replace(
            part,
            names=tuple(f"{n}@{name}" for n in part.names),
            faces=tuple(replace(face, name=f"{face.name}@{name}") for face in part.faces),
            edges=tuple(_edge_copied(edge, name) for edge in part.edges),
            mesh=copied_mesh(part.mesh, name),
        )
        for part in body.exact
    )
    rough = None if body.rough is None else body.rough.copied(name)
    return Body(body.taken, tuple(skin.renamed(name) for skin in body.skins), exact, rough, body.along)


def image(body: Body, name: str, motion: Motion) -> Body:
    """A copy of a body somewhere else, that is known as its copy later on."""
    nested = [Copy(f"{copy.suffix}@{name}", after(motion, copy.motion)) for copy in body.copies]
    return replace(moved(copied(body, name), motion.matrix, motion.origin), copies=(Copy(f"@{name}", motion), *nested))


def _edge_copied(edge: Edge, name: str) -> Edge:
    return replace(edge, name=copied_pair(edge.name, name), left=f"{edge.left}@{name}", right=f"{edge.right}@{name}")


def gathered(bodies: Sequence[Body]) -> Body:
    """Several bodies taken as one, each piece where it is."""
    first = bodies[0]
    if len(bodies) == 1:
        return first
    measures = together([body.measures for body in bodies])
    copies = tuple(copy for body in bodies for copy in body.copies)
    if any(body.rough is not None for body in bodies):
        # a piece that is only a mesh makes the whole one
        parts = [body.rough or rough_of(mesh_of(body, DEFAULT.display)) for body in bodies]
        return Body(measures, rough=gathered_roughly(parts), along=first.along, copies=copies)
    skins = tuple(skin for body in bodies for skin in body.skins)
    return Body(measures, skins, tuple(part for body in bodies for part in body.exact), along=first.along, copies=copies)


def pieces_of(body: Body) -> list[Body]:
    """The bodies that were taken as one, apart again, as far as each has own surfaces or was made by the kernel by itself."""
    if len(body.skins) + len(body.exact) < 2:
        return [body]
    exact = [Body(replace(of_mesh(part.mesh), closed=body.closed), exact=(part,)) for part in body.exact]
    return [*(of_shells((skin,)) for skin in body.skins), *exact]


def mesh_of(body: Body, tolerance: float, *, strict: bool = False, sparse: bool = False) -> DisplayMesh:
    """The mesh of a body within the tolerance, mm. What the kernel made comes as it was meshed with it, at the tolerance of the display.

    strict: not only the chords but the triangles of own surfaces keep it. sparse: these are no more than that takes.
    """
    if body.rough is not None:
        return body.rough.mesh
    return merged([*(display_mesh(skin, tolerance, strict=strict, sparse=sparse) for skin in body.skins), *(part.mesh for part in body.exact)])
