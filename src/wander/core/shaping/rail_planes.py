"""Planes that swing from station to station along a body, by which rails between the stations are counted."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.curve import Together
from wander.core.geometry.interpolate import End, cubic_system
from wander.core.geometry.space import SplineSpace
from wander.core.shaping.centre_line import CentreLine
from wander.core.shaping.meeting import Guide
from wander.core.shaping.section import PlacedSection

ROUNDS = 60
"""Of a search by halves, and of Newton's method within brackets."""
NEAR = 1e-9
CLOSE = 1e-9
"""The last step of Newton's method: what it leaves is its square."""
MISSED = 1e-6
"""mm by which a rail may be off a plane that it is said to pass."""


class Planes:
    """Planes that swing from station to station along the body.

    line: that sections swing along; these stand where they would if it ran straight up, and so do the planes, but rails are where they were drawn.
    """

    def __init__(self, places: Floats, sections: Sequence[PlacedSection], line: CentreLine | None = None) -> None:
        self._places, self._line = places, line
        # a rail may arrive at a point flat, where no plane counts it
        self._pointed = any(section.is_point for section in sections)
        ring = line is not None and line.closed
        if len(places) == 2:
            self._space, self._to_controls = SplineSpace.from_breaks(1, places), np.eye(2)
        else:
            self._space, matrix = cubic_system(places, End.PERIODIC if ring else End.NATURAL)
            self._to_controls = np.asarray(np.linalg.inv(matrix), dtype=np.float64)[:, : len(places)]
        centers = np.stack([section.center for section in sections])
        normals = np.stack([section.frame.z for section in sections])
        along = np.gradient(centers, axis=0)
        normals = normals * np.where(np.einsum("ic,ic->i", normals, along) < 0, -1.0, 1.0)[:, None]
        self._controls = self._to_controls @ np.concatenate([centers - self._height(places), normals], axis=1)

    def carried(self, values: Floats, v: Floats) -> Floats:
        """What is known at the stations (k, ...) at v (m,) too: (m, ...)."""
        return self._space.evaluate(np.tensordot(self._to_controls, values, 1), v)

    def at(self, v: Floats) -> tuple[Floats, Floats]:
        """Where the planes at v (m,) stand, and which way they look, (m, 3) each."""
        both = self._space.evaluate(self._controls, v)
        return both[:, :3] + self._height(v), both[:, 3:]

    def _height(self, v: Floats) -> Floats | float:
        """What rises evenly along a line that runs straight up, so that the rest comes round with a ring."""
        return 0.0 if self._line is None else self._line.length * v[:, None] * np.array([0.0, 0.0, 1.0])

    def _where_rails_are(self, v: Floats) -> tuple[Floats, Floats]:
        stands, looks = self.at(v)
        if self._line is None:
            return stands, looks
        both = self._line.onto(v, np.stack([stands, stands + looks], axis=1))
        return both[:, 0], both[:, 1] - both[:, 0]

    def bay_of(self, v: Floats) -> Ints:
        """Numbers of the stations before v (m,)."""
        return np.clip(np.searchsorted(self._places, v, side="right") - 1, 0, len(self._places) - 2)

    def found_on(self, rails: Together, v: Floats, t: Floats) -> Floats:
        """Places (m, j, 3) at parameters t (m, j) of rails, which v (m,) along the body are for, as a line runs straight up."""
        places = rails.at(np.tile(np.arange(t.shape[1]), len(t)), t.ravel()).reshape(*t.shape, 3)
        return places if self._line is None else self._line.off(v, places)

    def passed(self, guides: Sequence[Guide], rails: Together, v: Floats, near: Floats | None) -> tuple[Floats, Floats]:
        """Where rails pass the planes at v (m,), between the stations: their parameters (m, j), and places (m, j, 3) as a line runs straight up.

        rails: the same as the guides, together. near: parameters to look from, (m, j). Raises TurnsBack.
        """
        at = np.stack([guide.at for guide in guides])
        if near is None or self._pointed:
            near = self.carried(at.T, v)
        if self._pointed:
            t = np.clip(near, 0.0, 1.0)
            return t, self.found_on(rails, v, t)
        bay = self.bay_of(v)
        low, high = at[:, bay].T, at[:, bay + 1].T
        t = np.clip(near, low, high).ravel()
        low, high = low.ravel(), high.ravel()
        which = np.tile(np.arange(len(at)), len(v))
        stands, looks = (np.repeat(part, len(guides), axis=0) for part in self._where_rails_are(v))
        level = (stands * looks).sum(axis=1)
        for _ in range(ROUNDS):
            places, ways = rails.at(which, t), rails.at(which, t, 1)
            off = (places * looks).sum(axis=1) - level
            slope = (ways * looks).sum(axis=1)
            low, high = np.where(off < 0, t, low), np.where(off < 0, high, t)
            steep = np.abs(slope) > NEAR
            there = t - off / np.where(steep, slope, 1.0)
            step = np.where(steep & (there >= low) & (there <= high), there, (low + high) / 2) - t
            t = t + step
            if np.abs(step).max() < CLOSE:
                break
        # so short a step is one along the tangent
        places = places + ways * step[:, None]
        off = np.abs((places * looks).sum(axis=1) - level)
        if off.max() > MISSED:
            at_v, number = divmod(int(off.argmax()), len(guides))
            raise guides[number].turning_back(int(bay[at_v]))
        places = places.reshape(*near.shape, 3)
        return t.reshape(near.shape), places if self._line is None else self._line.off(v, places)

    def bends(self, guide: Guide, places: Floats) -> list[float]:
        """Parameters along the body at which a rail has a kink."""
        found = []
        for at, count in guide.curve.space.continuity.items():
            if count > 0 or not guide.at[0] < at < guide.at[-1]:
                continue
            before, after = (guide.curve.derivatives(at + d, 1)[1] for d in (-1e-9, 1e-9))
            if float(before @ after) > (1 - 1e-12) * float(np.linalg.norm(before) * np.linalg.norm(after)):
                continue
            bay = int(np.searchsorted(guide.at, at, side="right")) - 1
            if (near := np.abs(guide.at - at)).min() < 1e-9:
                found.append(float(places[int(near.argmin())]))
                continue
            low, high = places[bay], places[bay + 1]
            point = guide.curve(at)
            for _ in range(ROUNDS):
                middle = (low + high) / 2
                stands, looks = self._where_rails_are(np.array([middle]))
                if float((point - stands[0]) @ looks[0]) > 0:
                    low = middle
                else:
                    high = middle
            found.append(float((low + high) / 2))
        return found


class Followed:
    """Places of rails (m, j, 3) in the planes at places along the body (m,), as a line runs straight up.

    Each is looked for once, however often it is asked for, and from what is known beside it: where a few spans of a skin are parted, most places are
    the same again.
    """

    def __init__(self, guides: Sequence[Guide], planes: Planes, stations: Floats) -> None:
        """stations: the parameters at which the guides meet their sections (k,)."""
        self._guides, self._planes, self._stations = guides, planes, stations
        self._rails = Together([guide.curve for guide in guides])
        self._same = NEAR * float(np.diff(stations).min())
        self._at, self._t = stations, np.stack([guide.at for guide in guides], axis=1)
        self._places = planes.found_on(self._rails, stations, self._t)

    def __call__(self, v: Floats) -> Floats:
        """Raises TurnsBack."""
        bay = self._planes.bay_of(v)
        for station in (self._stations[bay], self._stations[bay + 1]):
            # a rail that passes a section a little off it has its place there all the same
            v = np.where(np.abs(v - station) < self._same, station, v)
        new = np.setdiff1d(v, self._at)
        if len(new):
            # what is known by stations alone swings between them
            known = len(self._at) > len(self._stations)
            near = np.stack([np.interp(new, self._at, t) for t in self._t.T], axis=1) if known else None
            t, places = self._planes.passed(self._guides, self._rails, new, near)
            order = np.argsort(at := np.concatenate([self._at, new]))
            self._at, self._t = at[order], np.concatenate([self._t, t])[order]
            self._places = np.concatenate([self._places, places])[order]
        return np.asarray(self._places[np.searchsorted(self._at, v)], dtype=np.float64)
