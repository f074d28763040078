"""Runs of edges as a bridge sees them: their curves, and the faces that it goes on from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from wander.core.bodies.body import Body, Face
from wander.core.bodies.continuity import look_at
from wander.core.bodies.edge_runs import oriented, polynomial
from wander.core.bodies.projection import within
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.feet import derivatives_at, feet
from wander.core.geometry.tolerances import Tolerances
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.edges import Edge
from wander.core.shaping.runs_paired import Behind, Look, Run

LOOKS = 7
"""Places along an edge at which it is asked on which side of it a face lies."""
STEP = 1e-4
"""Share of the length of an edge by which it is left for that."""
CLOSES = 1e-4
"""mm: ends of a run that are nearer make it closed."""


class NoFace(BadInput):
    """No face with a surface lies behind an edge. edge: its name."""

    def __init__(self, edge: str) -> None:
        super().__init__("no face lies behind this edge that a bridge could go on from")
        self.edge = edge


@dataclass(frozen=True)
class Choice:
    """An edge in its run. faces: beside it, those that a bridge can go on from, and what each is like along it.

    middle: of the edge, (3,); leads: the way out of each face there, (n, 3).
    """

    curve: Curve
    faces: tuple[Face, ...]
    looks: tuple[Look, ...]
    middle: Floats
    leads: Floats


def choices(body: Body, run: Sequence[Edge], tolerances: Tolerances) -> list[Choice]:
    """Of the edges of a run, one after the other. Raises NoFace."""
    found = []
    for edge, curve in zip(run, oriented(run), strict=True):
        own = polynomial(curve, tolerances)
        faces = [face for face in body.faces if face.name in (edge.left, edge.right)]
        faces = [face for face in faces if face.surface is not None or face.frame is not None]
        if not faces:
            raise NoFace(edge.name)
        middle = np.array([sum(own.domain) / 2])
        points, ways = own.derivatives(middle, 1)
        looks = tuple(_Along(face, own) for face in faces)
        leads = np.array([look(points, ways / lengths(ways)[:, None]).outwards[0] for look in looks])
        found.append(Choice(own, tuple(faces), looks, points[0], leads))
    return found


def run_of(edges: Sequence[Edge], found: Sequence[Choice], towards: Floats, *, other: bool) -> tuple[Run, tuple[Face, ...]]:
    """The run, and of the faces beside each edge the one whose way out leads more towards a place (3,); other: the one on the other side."""
    looks, faces = [], []
    for choice in found:
        ahead = choice.leads @ (towards - choice.middle)
        best = int(ahead.argmin() if other and len(ahead) > 1 else ahead.argmax())
        faces.append(choice.faces[best])
        looks.append(choice.looks[best])
    curves = tuple(choice.curve for choice in found)
    closes = float(np.linalg.norm(curves[0](np.array([curves[0].domain[0]])) - curves[-1](np.array([curves[-1].domain[1]])))) < CLOSES
    return Run(curves, tuple(looks), tuple(edge.name for edge in edges), closes), tuple(faces)


class _Along:
    """What a face is like along an edge of it."""

    def __init__(self, face: Face, curve: Curve) -> None:
        self._face = face
        low, high = curve.domain
        points, ways = curve.derivatives(low + (high - low) * (np.arange(LOOKS) + 0.5) / LOOKS, 1)
        look = look_at(face, points)
        assert look is not None, "only faces that can be looked at are asked"
        across = cross(ways / lengths(ways)[:, None], look.normals)
        reach = STEP * float(lengths(ways).mean()) * (high - low)
        inside = _inside(face, np.concatenate([points - reach * across, points + reach * across]), reach)
        self._sign = 1.0 if inside[:LOOKS].sum() >= inside[LOOKS:].sum() else -1.0

    def __call__(self, points: Floats, ways: Floats) -> Behind:
        look = look_at(self._face, points)
        assert look is not None, "only faces that can be looked at are asked"
        out = self._sign * cross(ways, look.normals)
        return Behind(look.normals, out / lengths(out)[:, None], look.curvature)


def _inside(face: Face, points: Floats, reach: float) -> npt.NDArray[np.bool_]:
    """Which of places (m, 3) a little beside its edge lie on a face. reach: how far they are from the edge."""
    if face.surface is None:
        assert face.frame is not None
        assert face.rims is not None
        return within(face.rims, face.frame.drop(points))
    u, v = feet(face.surface, points, beside=True)
    if face.rims is not None:
        return within(face.rims, np.stack([u, v], axis=1))
    return lengths(derivatives_at(face.surface, u, v)[0] - points) < reach / 2
