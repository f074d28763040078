"""Extension: a sheet goes on beyond its rim, straight or as it curves there.

Every line across is straight in the tangent plane, or the osculating circle of the sheet in its direction, told by splines that have its place and
its first two derivatives at their breaks. So planes, cylinders, cones and spheres go on as such.
"""

from __future__ import annotations

from functools import partial

import numpy as np

from wander.core.geometry.approximate import approximated
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import lengths
from wander.core.shaping.run_strips import knots_on, skin_of_strips
from wander.core.shaping.runs_paired import ALIKE, Behind, Run
from wander.core.shaping.shell import Shell

WITHIN = 1e-6
"""mm by which the skin may leave what is asked at places along it."""
TURN = 0.4
"""Radians by which a line turns between two breaks at most: a quintic is then off its circle by 1e-7 of the radius."""
ROUND = 2 * np.pi
HAIR = 1e-9
LOOKS = 17


class ComesRound(BadInput):
    """The sheet curves so much that it would come round to itself. fits: mm up to which it goes. place: where (3,)."""

    def __init__(self, fits: float, place: Floats) -> None:
        super().__init__(f"it would come round to itself after {fits:.3g} mm")
        self.fits, self.place = fits, place


class Folds(BadInput):
    """Lines across run into each other: it goes further than the rim allows on its hollow side. place: where (3,)."""

    def __init__(self, place: Floats) -> None:
        super().__init__("it goes so far that it folds over itself")
        self.place = place


def extension(run: Run, distance: float, name: str, *, curving: bool) -> Shell:
    """The sheet beyond a run of a rim, so far square to it, mm. Raises ComesRound, Folds, NotConverged."""
    strips = [_Strip(run, number, distance, curving=curving) for number in range(len(run.pieces))]
    turn = max(strip.turn for strip in strips) if curving else 0.0
    across = _Across(max(1, int(np.ceil(turn / TURN))), curving=curving and turn > 0)
    surfaces = []
    for strip in strips:
        shares, smooth = knots_on(run, strip.number)
        inner = (shares - strip.low) / (strip.high - strip.low)
        continuity = {float(t): order for t, order in zip(inner, smooth, strict=True) if ALIKE < t < 1 - ALIKE}
        breaks = np.array([0.0, *sorted(continuity), 1.0])
        rows, _ = approximated(partial(across.rows, strip), breaks, WITHIN, continuity=continuity)
        surface = Surface(rows.space, across.space, np.ascontiguousarray(rows.points.reshape(-1, across.space.count, 3)))
        _refuse_folded(surface)
        surfaces.append(surface)
    faces, seams = skin_of_strips(name, run.names, surfaces, closed=run.closed)
    return Shell(faces, (), (), seams, closed=False)


def _refuse_folded(surface: Surface) -> None:
    """Raises Folds where the far side runs back."""
    u = np.linspace(*surface.u.domain, 4 * LOOKS)
    here, du, _ = surface.tangents(u, np.array(surface.v.domain))
    back = (du[:, 0] * du[:, 1]).sum(axis=1) < 1e-6 * (du[:, 0] * du[:, 0]).sum(axis=1)
    if back.any():
        raise Folds(here[int(back.argmax()), 1])


class _Strip:
    """Beside one piece of the run: where each line across begins, where it goes, and how it bends."""

    def __init__(self, run: Run, number: int, distance: float, *, curving: bool) -> None:
        self._run, self.number, self._distance = run, number, distance
        self.low, self.high = run.begins[number], run.begins[number + 1]
        self._leans = [self._lean(number - 1, 0.0), self._lean(number + 1, 1.0)]
        self.turn = self._largest_turn() if curving else 0.0

    def lines(self, t: Floats) -> tuple[Floats, Floats, Floats, Floats, Floats]:
        """At parameters (m,): where lines begin, unit directions, normals, lengths, and curvatures along the normals."""
        places, ways, behind = _at(self._run, self.number, t)
        leans = self._leans[0] * (1 - t) + self._leans[1] * t
        way = behind.outwards + leans[:, None] * ways
        size = lengths(way)
        way = way / size[:, None]
        return places, way, behind.normals, self._distance * size, behind.bend(way)

    def _lean(self, other: int, end: float) -> float:
        """How much the line at a corner leans along the run, so that both strips have it: it goes as far square to either of them."""
        count = len(self._run.pieces)
        if not self._run.closed and not 0 <= other < count:
            return 0.0
        _, ways, own = _at(self._run, self.number, np.array([end]))
        _, _, beside = _at(self._run, other % count, np.array([1.0 - end]))
        out, there = own.outwards[0], beside.outwards[0]
        return float((out + there) @ ways[0]) / max(1 + float(out @ there), 1e-9)

    def _largest_turn(self) -> float:
        t = (np.arange(LOOKS) + 0.5) / LOOKS
        places, _, _, far, bend = self.lines(t)
        turn = np.abs(bend) * far
        worst = int(turn.argmax())
        if turn[worst] >= ROUND:
            raise ComesRound(self._distance * ROUND / float(turn[worst]), places[worst])
        return float(turn[worst])


def _at(run: Run, number: int, t: Floats) -> tuple[Floats, Floats, Behind]:
    """Places and unit ways at parameters (m,) of one piece of a run, 0 to 1, and what lies behind it there, looked at a hair from its ends."""
    low, high = run.begins[number], run.begins[number + 1]
    looked = run.places(low + (high - low) * np.clip(t, HAIR, 1 - HAIR), number)
    return *run.places(low + (high - low) * t, number), run.looks[number](*looked)


class _Across:
    """Lines across as splines: all of one space, so that they make a surface."""

    def __init__(self, count: int, *, curving: bool) -> None:
        self._curving = curving
        if not curving:
            self.space = SplineSpace.from_breaks(1, [0.0, 1.0])
            return
        self._breaks = np.linspace(0.0, 1.0, count + 1)
        self.space = SplineSpace.from_breaks(5, self._breaks, [3] * (count - 1))
        self._inverse = np.linalg.inv(np.concatenate([self.space.matrix(self._breaks, order) for order in range(3)]))

    def rows(self, strip: _Strip, t: Floats) -> Floats:
        """All coordinates of the control points of a line in a row: (m, 3 n)."""
        return self.points(strip, t).reshape(len(t), -1)

    def points(self, strip: _Strip, t: Floats) -> Floats:
        """Control points of the lines at parameters (m,): (m, n, 3)."""
        begin, way, normal, far, bend = strip.lines(t)
        if not self._curving:
            return np.stack([begin, begin + far[:, None] * way], axis=1)
        # place and two derivatives of circles at the breaks
        s = far[:, None] * self._breaks
        k = bend[:, None]
        turn = k * s
        along, aside = s * np.sinc(turn / np.pi), s * _versed(turn)
        value = begin[:, None] + along[..., None] * way[:, None] + aside[..., None] * normal[:, None]
        first = far[:, None, None] * (np.cos(turn)[..., None] * way[:, None] + np.sin(turn)[..., None] * normal[:, None])
        second = (far[:, None] ** 2 * k)[..., None] * (np.cos(turn)[..., None] * normal[:, None] - np.sin(turn)[..., None] * way[:, None])
        return np.einsum("ij,mjc->mic", self._inverse, np.concatenate([value, first, second], axis=1))


def _versed(turn: Floats) -> Floats:
    """(1 - cos x) / x, also where x is nothing."""
    half = turn / 2
    return np.asarray(np.sin(half) * np.sinc(half / np.pi))
