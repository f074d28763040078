"""Cutting a new section out of a body, so that adding it to the loft changes nothing.

Along a line of the skin where that is flat: then the skin goes through it as through any section. Elsewhere as a plane cuts it: then it lies in the
skin, and has no say there until it is drawn anew.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from wander.core.geometry.approximate import approximated
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import join
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame, facing
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.vectors import lengths
from wander.core.shaping.lanes import Strip, height_on, strips_of
from wander.core.shaping.loft import Plain
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.shell import NamedFace

FLAT = 1e-4
"""Out of its plane by less than this (mm), a line round the body counts as flat."""
THIN = 1e-3
"""Of its length: a line that goes no further to a side is straight, and says nothing of its plane."""
CLOSE = 1e-6
"""mm by which a cut may miss the skin where it is no line of it."""
SEEN = 96
"""Places of each side at which it is seen how flat a line round the body is, and whether a cut still lies in the skin."""
FIRST_STEP, ROUNDS, ON_PLANE = 1e-4, 40, 1e-9
"""Of the search by secants: its first step by the length of the body, its rounds, and how near to the plane is on it, mm."""


@dataclass(frozen=True)
class Cut:
    """An outline in the plane of the frame, over [0, 1], (2,), each side of the skin by its own parameter.

    corners: its parameters where it bends. closed: it goes round; else from one end of a sheet to the other. share: its place between leading
    sections. aside: the skin through it would be another one, so it has to be passed over while it lies in this.
    """

    frame: Frame
    curve: Curve
    corners: tuple[float, ...]
    closed: bool
    share: float
    aside: bool


class NotFlat(BadInput):
    """The line round the body at that place is not flat: the stations on both sides lean against each other."""


def cut_along(plain: Plain, frame: Frame, at: float) -> Cut:
    """The section of the skin, before any law, on the plane `frame`, which stands `at` mm along its Run.

    Raises BadInput beyond the ends, NotFlat where the skin's own line round the body leaves the plane.
    """
    v = _place(plain, at)
    rows = _round(plain, v)
    away = max(float(np.abs((row.points - frame.origin) @ frame.z).max()) for row in rows)
    if away > FLAT:
        raise NotFlat(f"the line round the body there is {away:.2g} mm out of flat: the stations on both sides lean against each other")
    return _cut(plain, frame, v, rows, aside=plain.led is not None)


def cut_across(plain: Plain, beside: Frame, at: float) -> Cut:
    """The same on the plane that is nearest to the line round the body there; where this leaves it, what the plane cuts.

    beside: of the station before, whose x its own comes nearest to. Raises BadInput beyond the ends, or where the plane leaves the body through one.
    """
    v = _place(plain, at)
    rows = _round(plain, v)
    frame = _nearest_plane(plain, rows, beside, v)
    if all(float(np.abs((row.points - frame.origin) @ frame.z).max()) <= FLAT for row in rows):
        return _cut(plain, frame, v, rows, aside=plain.led is not None)
    pieces = [_fitted(plain, Strip(strip), frame, v) for strip in strips_of(plain.faces)]
    return _cut(plain, frame, v, pieces, aside=True)


@dataclass(frozen=True)
class Lying:
    """off: how far an outline that was cut from a skin is off it now, mm; infinite where its plane does not cut it, or not as it did.

    ring: where it runs on the finished body, side by side.
    """

    off: float
    ring: tuple[Curve, ...] = ()


NOWHERE = Lying(float("inf"))


def lying(plain: Plain, faces: Sequence[NamedFace], section: PlacedSection, share: float, before: int, behind: int) -> Lying:
    """An outline that was cut from the skin, on it. faces: of the finished body, after its laws.

    before, behind: numbers of the leading sections that its share lies between, behind the last of a ring the one after.
    """
    assert section.loop is not None
    strips, finished = ([Strip(strip) for strip in strips_of(own)] for own in (plain.faces, faces))
    corners = len(section.loop.corners)
    if corners != (2 * len(strips) if plain.open else len(strips) if len(strips) > 1 else 0):
        return NOWHERE
    outline = section.in_space().curve
    bounds = [*section.loop.corners, 1.0] if corners else [0.0, 1.0]
    near = float(plain.places[before] + share * (plain.places[behind] - plain.places[before]))
    off, ring = 0.0, []
    for strip, last, (low, high) in zip(strips, finished, pairwise(bounds), strict=False):
        t = np.linspace(0.0, 1.0, SEEN + 1)
        u = strip.u.domain[0] + (strip.u.domain[1] - strip.u.domain[0]) * t
        try:
            v, there = _crossing(plain, strip, section.frame, near, u)
        except BadInput:
            return NOWHERE
        off = max(off, float(lengths(there - outline(low + (high - low) * t)).max()))
        ring.append(open_through(last.at(u, v[None], (0, 0))[0]))
    return Lying(off, tuple(ring))


def _place(plain: Plain, at: float) -> float:
    """The parameter along the skin of a place on its Run."""
    v = None
    if plain.line is not None:
        v = at / plain.line.length
    else:
        for surface in strips_of(plain.faces)[0]:
            found, reached = height_on(surface, plain.axis, np.array([surface.u.domain[0]]), np.array([at]))
            if reached[0]:
                v = float(found[0, 0])
                break
    if v is None or not plain.places[0] + 1e-6 < v < plain.places[-1] - 1e-6:
        raise BadInput("a section can be cut only between the first and the last station")
    return v


def _round(plain: Plain, v: float) -> list[Curve]:
    """The line of the skin round the body, side by side, where it is drawn."""
    found = []
    for strip in strips_of(plain.faces):
        surface = next(s for s in strip if s.v.domain[0] - 1e-12 <= v <= s.v.domain[1] + 1e-12)
        row = surface.v.evaluate(surface.points.transpose(1, 0, 2), np.array([v]))
        found.append(Curve(surface.u, (row if plain.line is None else plain.line.onto(np.array([v]), row))[0]))
    return found


def _nearest_plane(plain: Plain, rows: list[Curve], beside: Frame, v: float) -> Frame:
    """The plane nearest to a line round the body; of a straight one, as little turned against the station before as can be."""
    seen = np.concatenate([row(np.linspace(*row.domain, SEEN)) for row in rows])
    middle = seen.mean(axis=0)
    sizes, ways = np.linalg.svd(seen - middle, full_matrices=False)[1:]
    normal = ways[2] if sizes[1] > THIN * sizes[0] else beside.z - (beside.z @ ways[0]) * ways[0]
    if float(normal @ beside.z) < 0:
        normal = -normal
    if plain.line is not None:
        # where its centre line passes, so that the section stands on its station as its neighbours do on theirs
        on = plain.line.places_on(np.array([v * plain.line.length]))[0][0]
        middle = on - ((on - middle) @ normal) * normal
    x = beside.x if abs(float(beside.x @ normal)) < 1 - THIN else beside.y
    return facing(middle, normal, x)


def _fitted(plain: Plain, strip: Strip, frame: Frame, near: float) -> Curve:
    """Where the plane cuts a side of the skin, by the parameter across it."""
    smooth = {float(b): strip.u.degree - int(m) for b, m in zip(strip.u.breaks[1:-1], strip.u.multiplicities[1:-1], strict=True)}
    return approximated(lambda u: _crossing(plain, strip, frame, near, u)[1], strip.u.breaks, CLOSE, continuity=smooth)[0]


def _crossing(plain: Plain, strip: Strip, frame: Frame, near: float, u: Floats) -> tuple[Floats, Floats]:
    """Where the plane cuts the lines u (m,) of a side of the skin, close to a parameter along it: parameters (m,) and places (m, 3). By secants."""
    low, high = strip.domain

    def seen(v: Floats) -> tuple[Floats, Floats]:
        points = strip.at(u, v[None], (0, 0))[0]
        if plain.line is not None:
            points = plain.line.onto(v, points[:, None])[:, 0]
        return points, (points - frame.origin) @ frame.z

    old = np.full(len(u), near)
    v = np.full(len(u), near + (FIRST_STEP if near < (low + high) / 2 else -FIRST_STEP) * (high - low))
    off_before = seen(old)[1]
    for _ in range(ROUNDS):
        points, off = seen(v)
        if np.abs(off).max() < ON_PLANE:
            return v, points
        rise = off - off_before
        step = np.where(np.abs(rise) > 0, off * (v - old) / np.where(rise == 0, 1.0, rise), 0.0)
        old, off_before, v = v, off, np.clip(v - step, low, high)
    raise BadInput("the plane there leaves the body through one of its ends")


def _cut(plain: Plain, frame: Frame, v: float, rows: list[Curve], *, aside: bool) -> Cut:
    pieces = [Curve(row.space, frame.drop(row.points)) for row in rows]
    leads = [i for i, follower in enumerate(plain.followers) if not follower]
    before, behind = next((a, b) for a, b in pairwise(leads) if plain.places[a] <= v <= plain.places[b])
    share = float((v - plain.places[before]) / (plain.places[behind] - plain.places[before]))
    count, closed = len(pieces), not plain.open
    if count == 1:
        return Cut(frame, pieces[0], (), closed, share, aside)
    chain = join(pieces, [1.0] * count, [False] * (count - 1))
    if closed:
        chain = replace(chain, points=np.concatenate([chain.points[:-1], chain.points[:1]]))
    return Cut(frame, chain, tuple(i / count for i in range(0 if closed else 1, count)), closed, share, aside)
