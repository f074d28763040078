"""How far a skin lies from the rails that it was led along: laws on top of it, or rails that only turn and scale, may take it away from them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy.spatial import cKDTree

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve, Together
from wander.core.geometry.feet import slid
from wander.core.geometry.vectors import lengths
from wander.core.shaping.meeting import crossings
from wander.core.shaping.shell import NamedFace

ACROSS = 33
"""Lines of a face in each direction from whose crossings the nearest place is looked for."""
SETTLED = 1e-7
"""mm by which a distance may still change."""


def strays(rails: Sequence[Curve], faces: Sequence[NamedFace], points: Floats, ways: Floats) -> Floats:
    """Distances (r, m), mm, of the rails from the skin where they pass planes through points (m, 3), square to unit ways (m, 3).

    Where a rail passes one of them twice, the smaller one; nan where it does not pass.
    """
    nearest = np.full((len(rails), len(points)), np.inf)
    if not rails:
        return nearest
    curves = [Curve(rail.space.mapped(0.0, 1.0), rail.points, rail.weights) for rail in rails]
    owner, which, t, short = crossings(curves, points, ways)
    owner, which, t = owner[~short], which[~short], t[~short]
    if len(owner):
        np.minimum.at(nearest, (owner, which), distances(faces, Together(curves).at(owner, t)))
    return np.where(np.isfinite(nearest), nearest, np.nan)


def distances(faces: Sequence[NamedFace], points: Floats) -> Floats:
    """From points (m, 3) to the nearest place of any of the faces, (m,), mm.

    The nearest places of a net over the faces are where Gauss's steps begin, which stay on their face: of two places of the skin that are about as
    near it may be the other one that is found.
    """
    # not at the sides themselves: one of them may be a tip, from which every way looks alike
    inside = (np.arange(ACROSS) + 0.5) / ACROSS
    spans = [tuple(low + (high - low) * inside for low, high in (face.surface.u.domain, face.surface.v.domain)) for face in faces]
    nets = [face.surface.grid(us, vs) for face, (us, vs) in zip(faces, spans, strict=True)]
    # a place of a face is no further from its net than this, but for what bulges between its lines
    reach = np.array([max(lengths(np.diff(net, axis=axis)).max() for axis in (0, 1)) for net in nets])
    apart, first = np.empty((len(faces), len(points))), np.empty((len(faces), len(points)), dtype=np.intp)
    for number, net in enumerate(nets):
        apart[number], first[number] = cKDTree(net.reshape(-1, 3)).query(points)
    likely = apart - reach[:, None] <= apart.min(axis=0)
    found = apart.min(axis=0)
    for face, (us, vs), begin, asked in zip(faces, spans, first, likely, strict=True):
        if asked.any():
            u, v = us[begin[asked] // ACROSS], vs[begin[asked] % ACROSS]
            found[asked] = np.minimum(found[asked], slid(face.surface, points[asked], u, v, settled=SETTLED)[2])
    return found
