"""Edges of a skin: where two faces meet, named by both of them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.shaping.shell import Shell
from wander.core.shaping.sides import along_sides

SMOOTH = np.cos(np.radians(0.05))


@dataclass(frozen=True)
class Edge:
    """name: both faces in alphabetical order, `loft-1/end|loft-1/side.1`, with `#2` for a further run between the same two.

    curve: in space. smooth: the faces meet without a visible bend.
    """

    name: str
    curve: Curve
    smooth: bool


@dataclass(frozen=True)
class _Side:
    face: str
    curve: Curve
    places: Floats
    normals: Floats


def edges(shell: Shell) -> list[Edge]:
    """All edges with a length, each once."""
    waiting: dict[tuple[int, ...], _Side] = {}
    found: list[Edge] = []
    runs: dict[str, int] = {}
    for side in _sides(shell):
        middle = side.places[len(side.places) // 2]
        key = tuple(np.round(np.concatenate([np.sort(side.places[[0, -1]], axis=0).ravel(), middle]) * 1e3).astype(int))
        partner = waiting.pop(key, None)
        if partner is None:
            waiting[key] = side
            continue
        name = "|".join(sorted((side.face, partner.face)))
        runs[name] = runs.get(name, 0) + 1
        order = slice(None) if np.allclose(side.places[0], partner.places[0], atol=1e-3) else slice(None, None, -1)
        cosine = np.abs(np.sum(side.normals * partner.normals[order], axis=1))
        found.append(Edge(name if runs[name] == 1 else f"{name}#{runs[name]}", side.curve, bool(np.all(cosine > SMOOTH))))
    return found


def _sides(shell: Shell) -> list[_Side]:
    found = []
    t = np.linspace(0.0, 1.0, 9)
    for face in shell.faces:
        for which, (places, normals) in along_sides(face.surface, t).items():
            if np.ptp(places, axis=0).max() > 1e-9:
                found.append(_Side(face.name, face.surface.edge(which), places, normals))
    for cap in shell.caps:
        for curve in cap.boundary:
            low, high = curve.domain
            found.append(_Side(cap.name, curve, curve(low + (high - low) * t), np.tile(cap.frame.z, (9, 1))))
    return found
