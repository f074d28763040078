"""How evenly a skin is curved along the body, beside how evenly it could be."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.vectors import lengths
from wander.core.shaping.fairing import along, swinging
from wander.core.shaping.lengthwise import ROUND
from wander.core.shaping.loft import Plain
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.unit_span import LOOKED


@dataclass(frozen=True)
class Unevenness:
    """times: by which its bending changes as much as that of the even skin through the same sections. off: how far they are apart at most, mm.

    share: of the size of the sections, that this is. place: on the skin, where they are (3,).
    """

    times: float
    off: float
    share: float
    place: Floats


def unevenness(plain: Plain, sections: Sequence[PlacedSection], slack: Sequence[float]) -> Unevenness | None:
    """Of a smooth skin with free ends, without rails, creases and a centre line; None where there is nothing that could be more even.

    sections: of the loft. slack: for each of them, how much of its own swelling the bay that begins there keeps.
    """
    leads = [i for i, section in enumerate(sections) if section.share is None]
    lines = plain.lines
    if lines is None or len(leads) < 3 or lines.rows.shape[1] != len(leads):
        return None
    v = plain.places[leads]
    around = np.concatenate([face.surface.grid(ROUND, v) for face in plain.faces]).transpose(1, 0, 2)
    centers = np.stack([sections[i].center for i in leads])
    shapes = around - centers[:, None]
    length = float(lengths(np.diff(centers, axis=0)).sum() / (v[-1] - v[0]))
    even = along(v, shapes, swings=swinging(v), held={}, slack=np.array(slack)[leads[:-1]], length=length)
    flat = shapes.reshape(len(leads), -1)
    own, best = lines.rows @ flat, even.shapes @ flat
    least = _change(even.space, best)
    if least <= 0:
        return None
    at = (v[:-1, None] + np.diff(v)[:, None] * LOOKED).ravel()
    apart = lengths(even.space.evaluate((own - best).reshape(len(own), -1, 3), at))
    row, number = np.unravel_index(int(apart.argmax()), apart.shape)
    off = float(apart.max())
    skin = np.concatenate([face.surface.grid(ROUND, at[[row]]) for face in plain.faces])
    return Unevenness(float(np.sqrt(_change(lines.space, own) / least)), off, off / float(np.ptp(around, axis=(0, 1)).max()), skin[number, 0])


def _change(space: SplineSpace, points: Floats) -> float:
    """How much what is bent along cubics, control points (n, m), changes: the integral of the squared third derivative."""
    middles = (space.breaks[:-1] + space.breaks[1:]) / 2
    return float((space.evaluate(points, middles, 3) ** 2).sum(axis=1) @ np.diff(space.breaks))
