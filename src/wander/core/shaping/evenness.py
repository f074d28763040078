"""How evenly a skin is curved along the body, and how calmly, beside how it could be."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.vectors import lengths
from wander.core.shaping.bounds import waving
from wander.core.shaping.fairing import along, swinging
from wander.core.shaping.lengthwise import ROUND
from wander.core.shaping.loft import Plain
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.skin import Skin
from wander.core.shaping.unit_span import INNER, LOOKED


@dataclass(frozen=True)
class Unevenness:
    """times: by which its bending changes as much as that of the calm skin through the same sections. off: how far they are apart at most, mm.

    share: of the size of the sections, that this is. place: on the skin, where they are (3,).
    """

    times: float
    off: float
    share: float
    place: Floats


@dataclass(frozen=True)
class Waves:
    """share: how far it leaves the chord where it bends to the side to which the sections beside it do not, by the larger step there. place: (3,).

    off: how far it is from the calm skin through the same sections at most, mm.
    """

    share: float
    off: float
    place: Floats


@dataclass(frozen=True)
class _Beside:
    """A skin and the calm one through the same sections that lead. v: parameters of these (l,). shapes: places round them, (l, m, 3).

    space, own: control points of the skin, (n, m, 3); calm: of the other, in the same space. at: places between the sections; apart: how far both are
    apart there, (len(at), m), mm.
    """

    v: Floats
    shapes: Floats
    space: SplineSpace
    own: Floats
    calm: Floats
    at: Floats
    apart: Floats


def unevenness(plain: Plain, sections: Sequence[PlacedSection], slack: Sequence[float]) -> Unevenness | None:
    """Of a smooth skin with free ends, without rails, creases and a centre line; None where there is nothing that could be more even.

    sections: of the loft. slack: for each of them, how much of its own swelling the bay that begins there keeps.
    """
    both = _beside(plain, sections, slack)
    if both is None or (least := _change(both.space, both.calm)) <= 0:
        return None
    row, number = np.unravel_index(int(both.apart.argmax()), both.apart.shape)
    off = float(both.apart.max())
    times = float(np.sqrt(_change(both.space, both.own) / least))
    return Unevenness(times, off, off / float(np.ptp(both.shapes, axis=(0, 1)).max()), _on_skin(plain, both.at[row], int(number)))


def waves(plain: Plain, sections: Sequence[PlacedSection], slack: Sequence[float]) -> Waves | None:
    """Where an even skin bends back most, as for `unevenness`; None where it has too few sections for that."""
    both = _beside(plain, sections, slack)
    if both is None:
        return None
    knots = both.v[:-1, None] + np.diff(both.v)[:, None] * [0.0, *INNER, 1.0]
    bends = both.space.evaluate(both.own, knots.ravel(), 2).reshape(*knots.shape, -1, 3)
    share, bay, knot, way = waving(both.v, both.shapes, bends)
    return Waves(share, float(both.apart.max()), _on_skin(plain, knots[bay, knot], way))


def _beside(plain: Plain, sections: Sequence[PlacedSection], slack: Sequence[float]) -> _Beside | None:
    leads = [i for i, section in enumerate(sections) if section.share is None]
    lines = plain.lines
    if lines is None or len(leads) < 3 or lines.rows.shape[1] != len(leads):
        return None
    v = plain.places[leads]
    around = np.concatenate([face.surface.grid(ROUND, v) for face in plain.faces]).transpose(1, 0, 2)
    centers = np.stack([sections[i].center for i in leads])
    shapes = around - centers[:, None]
    length = float(lengths(np.diff(centers, axis=0)).sum() / (v[-1] - v[0]))
    calm = along(v, shapes, swings=swinging(v), held={}, slack=np.array(slack)[leads[:-1]], length=length, skin=Skin.CALM)
    own, best = (np.tensordot(rows, shapes, 1) for rows in (lines.rows, calm.shapes))
    at = (v[:-1, None] + np.diff(v)[:, None] * LOOKED).ravel()
    return _Beside(v, shapes, lines.space, own, best, at, lengths(calm.space.evaluate(own - best, at)))


def _on_skin(plain: Plain, v: float, number: int) -> Floats:
    """The place with this number round a skin, (3,)."""
    around = np.concatenate([face.surface.grid(ROUND, np.array([v])) for face in plain.faces])
    return np.asarray(around[number, 0], dtype=np.float64)


def _change(space: SplineSpace, points: Floats) -> float:
    """How much what is bent along cubics, control points (n, m, 3), changes: the integral of the squared third derivative."""
    middles = (space.breaks[:-1] + space.breaks[1:]) / 2
    return float((space.evaluate(points, middles, 3) ** 2).sum(axis=(1, 2)) @ np.diff(space.breaks))
