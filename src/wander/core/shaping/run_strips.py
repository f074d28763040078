"""Strips side by side along a run of edges, made one skin: names, common sides, seams."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.document.derived_names import blend_name, within_name
from wander.core.geometry.basis import Floats
from wander.core.geometry.quadrature import lengths_at
from wander.core.geometry.surface import Surface
from wander.core.shaping.naming import counted
from wander.core.shaping.runs_paired import Run
from wander.core.shaping.shell import NamedFace, Seam
from wander.core.shaping.tube import tube_seams


def skin_of_strips(
    name: str, along: Sequence[str], surfaces: Sequence[Surface], *, closed: bool, caps: bool = False
) -> tuple[tuple[NamedFace, ...], tuple[Seam, ...]]:
    """Faces and their seams. along: the edge that each strip goes along. closed: the last meets the first. caps: flat faces will close both ends."""
    names = counted([blend_name(name, edge) for edge in along])
    alone = closed and len(surfaces) == 1
    faces = tuple(NamedFace(own, surface, alone) for own, surface in zip(names, _met(surfaces, closed=closed), strict=True))
    corners = [within_name(edge) for edge in counted(along)]
    count = len(faces)
    ends = ((count, 0), (count + 1, 0)) if caps else (None, None)
    return faces, tuple(tube_seams([[item] for item in enumerate(faces)], corners=corners, caps=ends, ring=False, open_=not closed))


def _met(surfaces: Sequence[Surface], *, closed: bool) -> list[Surface]:
    """Each beginning where the one before ends, to the last bit."""
    found = list(surfaces)
    for number in range(0 if closed else 1, len(found)):
        points = found[number].points.copy()
        points[0] = found[number - 1].points[-1]
        found[number] = Surface(found[number].u, found[number].v, points)
    return found


def knots_on(run: Run, piece: int) -> tuple[Floats, list[int]]:
    """Shares of the length of a run at which a piece of it has knots, (k,), and how smooth a strip can be there: one derivative less."""
    curve = run.pieces[piece]
    inner = curve.space.continuity
    if not inner:
        return np.zeros(0), []
    shares = run.begins[piece] + lengths_at(curve, np.array(list(inner))) / run.length
    return shares, [max(order - 1, 1) for order in inner.values()]
