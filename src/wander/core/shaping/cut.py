"""Cutting a new section out of a body, so exactly that adding it to the loft changes nothing."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import join
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.shaping.lanes import height_on, strips_of
from wander.core.shaping.loft import Plain

FLAT = 1e-4
"""Out of its plane by less than this (mm), a line round the body counts as flat."""


@dataclass(frozen=True)
class Cut:
    """loop: in the plane of the frame. after: number of the section that it comes after. share: its place between leading sections."""

    frame: Frame
    loop: Loop
    after: int
    share: float


class NotFlat(BadInput):
    """The line round the body at that place is not flat: the stations on both sides lean against each other."""


def cut(plain: Plain, frame: Frame, at: float) -> Cut:
    """The section of the skin, before any law, on the plane `frame`, which stands `at` mm along its Run.

    Raises BadInput beyond the ends, NotFlat where the skin's own line round the body leaves the plane.
    """
    strips = strips_of(plain.faces)
    v = None
    for surface in strips[0]:
        found, reached = height_on(surface, plain.axis, np.array([surface.u.domain[0]]), np.array([at]))
        if reached[0]:
            v = float(found[0, 0])
            break
    if v is None or not plain.places[0] + 1e-6 < v < plain.places[-1] - 1e-6:
        raise BadInput("a section can be cut only between the first and the last station")
    pieces = []
    for strip in strips:
        surface = next(s for s in strip if s.v.domain[0] - 1e-12 <= v <= s.v.domain[1] + 1e-12)
        row = surface.v.evaluate(surface.points.transpose(1, 0, 2), np.array([v]))[0]
        away = np.abs((row - frame.origin) @ frame.z).max()
        if away > FLAT:
            raise NotFlat(f"the line round the body there is {away:.2g} mm out of flat: the stations on both sides lean against each other")
        pieces.append(Curve(surface.u, frame.drop(row)))
    after = int(np.searchsorted(plain.places, v)) - 1
    leads = [i for i, follower in enumerate(plain.followers) if not follower]
    before, behind = next((a, b) for a, b in pairwise(leads) if a <= after < b)
    share = (v - plain.places[before]) / (plain.places[behind] - plain.places[before])
    if len(pieces) == 1:
        return Cut(frame, Loop(pieces[0]), after, float(share))
    count = len(pieces)
    chain = join(pieces, [1.0] * count, [False] * (count - 1))
    return Cut(frame, Loop(chain, corners=tuple(i / count for i in range(count)), seam=0), after, float(share))
