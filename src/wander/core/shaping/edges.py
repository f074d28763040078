"""Edges of a skin: where two faces meet, named by both of them, and the rim of a sheet, where a face ends."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.shaping.shell import Shell, Side
from wander.core.shaping.sides import along_sides
from wander.core.shaping.tube import NOTHING

RIM = "rim"
"""Stands for a second face where there is none."""
_ENDS = {"u0": "first", "u1": "last", "v0": "start", "v1": "end"}
"""What the sides of a face are called at the rim of a sheet."""
SMOOTH = np.cos(np.radians(0.05))
LOOKS = 9
"""Places along an edge at which the faces beside it are asked whether they meet smoothly."""


@dataclass(frozen=True)
class Edge:
    """name: both faces in alphabetical order, `loft-1/end:section-8|loft-1/section-2.c1`; where the same two meet several times, `#` and the corner
    at which they do.

    curve: in space. left, right: names of the two faces; at the rim of a sheet the second one is RIM. smooth: they meet without a visible bend.
    """

    name: str
    curve: Curve
    left: str
    right: str
    smooth: bool


def pair_name(left: str, right: str) -> str:
    return "|".join(sorted((left, right)))


def numbered(names: Sequence[str], further: Sequence[str]) -> list[str]:
    """The names; those that stand several times with `#` and what tells them apart, or with their number where nothing does."""
    count = Counter(names)
    told = [name if count[name] == 1 or not more else f"{name}#{more}" for name, more in zip(names, further, strict=True)]
    again, seen = Counter(told), defaultdict[str, int](int)
    found = []
    for name in told:
        seen[name] += 1
        found.append(name if again[name] == 1 else f"{name}#{seen[name]}of{again[name]}")
    return found


def edges(shell: Shell) -> list[Edge]:
    """All edges with a length, each once, in the order of the seams; after them the rim of a sheet."""
    names = shell.names
    normals = _normals(shell)
    pairs = [(names[seam.first.part], names[seam.second.part]) for seam in shell.seams]
    full = numbered([pair_name(*pair) for pair in pairs], [seam.corner for seam in shell.seams])
    found = []
    for seam, (left, right), name in zip(shell.seams, pairs, full, strict=True):
        a, b = normals[seam.first], normals[seam.second]
        cosine = np.abs(np.sum(a * (b[::-1] if seam.turned else b), axis=1))
        found.append(Edge(name, shell.curve(seam.first), left, right, bool(np.all(cosine > SMOOTH))))
    return found if shell.closed else [*found, *_rim(shell)]


def _rim(shell: Shell) -> list[Edge]:
    """Sides of faces that meet nothing."""
    met = {side for seam in shell.seams for side in (seam.first, seam.second)}
    free = [side for part in range(len(shell.faces)) for name in _ENDS if (side := Side(part, name)) not in met]
    curves = [(side, shell.curve(side)) for side in free]
    long = [(side, curve) for side, curve in curves if np.abs(curve.points - curve.points[0]).max() > NOTHING]
    faces = [shell.names[side.part] for side, _ in long]
    names = [f"{pair_name(face, RIM)}#{_ENDS[str(side.side)]}" for face, (side, _) in zip(faces, long, strict=True)]
    return [Edge(name, curve, face, RIM, False) for name, face, (_, curve) in zip(names, faces, long, strict=True)]


def _normals(shell: Shell) -> dict[Side, Floats]:
    """Unit normals of the parts along each of their sides: (LOOKS, 3)."""
    t = np.linspace(0.0, 1.0, LOOKS)
    found: dict[Side, Floats] = {}
    for number, face in enumerate(shell.faces):
        found |= {Side(number, side): normals for side, (_, normals) in along_sides(face.surface, t).items()}
    for number, cap in enumerate(shell.caps, start=len(shell.faces)):
        found |= {Side(number, k): np.tile(cap.frame.z, (LOOKS, 1)) for k in range(len(cap.curves))}
    return found
