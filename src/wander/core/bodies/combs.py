"""Curvature combs: how much lines on a body bend, as teeth that stand on them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from wander.core.bodies.body import Body
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.vectors import cross
from wander.core.shaping.shell import NamedFace, Ring, Shell

FLOWS = 12
"""Flow lines round a body, about."""
PLACES = 61
"""Teeth on a flow line of a face, and on a curve of a section."""
FLAT = 1e-12


@dataclass(frozen=True)
class Comb:
    """points: places on a line of the body, (m, 3). bends: its curvature vectors there, 1/mm, towards the centre of curvature (m, 3)."""

    points: Floats
    bends: Floats


def combs(body: Body) -> list[Comb]:
    """Of every section that its skins go through, and of flow lines along them.

    Of a body that was joined to or cut from another, of the skin that it was made with, before any law; of one that never had a skin, or whose skin
    goes along a line, none.
    """
    plain = body.along.plain if body.along is not None else None
    if not body.skins and plain is not None and plain.line is None:
        return _combs(_flows(plain.faces))
    return skin_combs(body.skins)


def skin_combs(skins: Sequence[Shell]) -> list[Comb]:
    """Of every section that the skins go through, and of flow lines along them."""
    return _combs(curve for skin in skins for curve in (*_sections(skin.rings), *_flows(skin.faces)))


def curve_combs(curves: Sequence[Curve]) -> list[Comb]:
    """Of curves as they are: of the rails that lead a body, say."""
    return _combs(curves)


def _combs(curves: Iterable[Curve]) -> list[Comb]:
    return [comb for curve in curves if (comb := _comb(curve)) is not None]


def _sections(rings: Sequence[Ring]) -> Iterator[Curve]:
    for ring in rings:
        yield from ring.curves


def _flows(faces: Sequence[NamedFace]) -> Iterator[Curve]:
    each = max(1, round(FLOWS / max(len(faces), 1)))
    for face in faces:
        surface = face.surface
        if surface.weights is not None:
            continue
        low, high = surface.u.domain
        for u in low + (high - low) * (np.arange(each) + 0.5) / each:
            yield Curve(surface.v, surface.u.evaluate(surface.points, np.array([u]))[0])


def _comb(curve: Curve) -> Comb | None:
    """None where a line has shrunk to a point."""
    low, high = curve.domain
    points, first, second = curve.derivatives(np.linspace(low, high, PLACES), 2)
    speed = np.einsum("mc,mc->m", first, first)
    if float(speed.max()) < FLAT:
        return None
    moves = speed > 1e-9 * float(speed.max())
    safe = np.where(moves, speed, 1.0)
    bends = cross(cross(first, second), first) / (safe**2)[:, None]
    return Comb(points, np.where(moves[:, None], bends, 0.0))
