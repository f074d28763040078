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

    def followed(self, guides: Sequence[Guide], rails: Together, v: Floats) -> Floats:
        """Places of rails in the planes at v (m,), (m, j, 3), as a line runs straight up; rails: the same, together. Raises TurnsBack."""
        places = self._passed(guides, rails, v).reshape(len(v), len(guides), 3)
        return places if self._line is None else self._line.off(v, places)

    def bay_of(self, v: Floats) -> Ints:
        """Numbers of the stations before v (m,)."""
        return np.clip(np.searchsorted(self._places, v, side="right") - 1, 0, len(self._places) - 2)

    def _passed(self, guides: Sequence[Guide], rails: Together, v: Floats) -> Floats:
        at = np.stack([guide.at for guide in guides])
        which = np.tile(np.arange(len(at)), len(v))
        if self._pointed:
            return rails.at(which, np.clip(self.carried(at.T, v), 0.0, 1.0).ravel())
        bay = self.bay_of(v)
        share = (v - self._places[bay]) / (self._places[bay + 1] - self._places[bay])
        first, last = at[:, bay].T, at[:, bay + 1].T
        at_station = (share < NEAR) | (share > 1 - NEAR)
        guess = np.clip(self.carried(at.T, v), first, last)
        t = np.where(at_station[:, None], first + share[:, None] * (last - first), guess).ravel()
        low, high = first.ravel(), last.ravel()
        stands, looks = (np.repeat(part, len(at), axis=0) for part in self._where_rails_are(v))
        level, fixed = (stands * looks).sum(axis=1), np.repeat(at_station, len(at))
        for _ in range(ROUNDS):
            off = (rails.at(which, t) * looks).sum(axis=1) - level
            slope = (rails.at(which, t, 1) * looks).sum(axis=1)
            low, high = np.where(off < 0, t, low), np.where(off < 0, high, t)
            steep = np.abs(slope) > NEAR
            there = t - off / np.where(steep, slope, 1.0)
            new = np.where(steep & (there >= low) & (there <= high), there, (low + high) / 2)
            new = np.where(fixed, t, new)
            done = np.abs(new - t).max() < 1e-13
            t = new
            if done:
                break
        places = rails.at(which, t)
        off = np.where(fixed, 0.0, np.abs((places * looks).sum(axis=1) - level))
        if len(off) and off.max() > 1e-6:
            at_v, number = divmod(int(off.argmax()), len(guides))
            raise guides[number].turning_back(int(bay[at_v]))
        return places

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
