"""Bridge: a skin from one run of edges to another. It leaves each as is asked: straight, in the tangent planes of what lies behind, or curved alike.

Across it every line is one Bezier curve, a cubic, or a quintic where curvature is asked for; its first and second derivatives at a run are taken
from the surface behind that. Source: Farin, Curves and Surfaces for CAGD, chapters on Hermite and on geometric continuity.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum

import numpy as np

from wander.core.geometry.approximate import approximated
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import facing
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.surface import Surface
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.mass import mass_properties
from wander.core.shaping.run_strips import knots_on, skin_of_strips
from wander.core.shaping.runs_paired import ALIKE, ONE_PLANE, Behind, Run, Stretch, stretches
from wander.core.shaping.shell import Cap, NamedFace, Shell

WITHIN = 1e-6
"""mm by which the skin may leave what is asked at places along it."""
HAIR = 1e-9
"""Share of a stretch by which its ends are looked at from inside."""


class Meets(Enum):
    """How a bridge leaves a run."""

    POSITION = "position"
    TANGENT = "tangent"
    CURVATURE = "curvature"


@dataclass(frozen=True)
class Bank:
    """A run as a bridge leaves it. fullness: by the distance across, of its first derivative; 0 leaves straight."""

    run: Run
    meets: Meets = Meets.TANGENT
    fullness: float = 1.0

    @property
    def bound(self) -> bool:
        """Whether what lies behind has a say."""
        return self.meets is not Meets.POSITION and self.fullness > 0


class RunsTouch(BadInput):
    """Both runs come together where the bridge would have no width; place (3,)."""

    def __init__(self, place: Floats) -> None:
        super().__init__("the two runs come together, where the bridge would have no width")
        self.place = place


NARROW = 1e-5
"""mm: runs that come nearer touch."""


class NotFlat(BadInput):
    """An end can't be closed by a flat face. first: which run. off: mm by which it leaves its plane. place: where (3,)."""

    def __init__(self, *, first: bool, off: float, place: Floats) -> None:
        super().__init__(f"the {'first' if first else 'second'} run leaves its plane by {off:.3g} mm")
        self.first, self.off, self.place = first, off, place


FLAT = 1e-4
"""mm by which a run may leave its plane for a flat face to close it."""


def bridge(first: Bank, second: Bank, name: str, *, ends: bool) -> Shell:
    """The skin from one run to the other; both as `aligned` leaves them. ends: flat faces close it. Raises RunsTouch, NotFlat, NotConverged."""
    parts = stretches(first.run, second.run)
    along = [first.run.names[first.run.piece_at(*part.first)] for part in parts]
    faces, seams = skin_of_strips(name, along, strips(first, second, parts), closed=first.run.closed, caps=ends)
    if not ends:
        return Shell(faces, (), (), seams, closed=False)
    middles = [np.mean([face.surface.edge(side).sampled(8)[1].mean(axis=0) for face in faces], axis=0) for side in ("v0", "v1")]
    caps = tuple(_cap(faces, f"{name}/{end}", middles, at) for at, end in enumerate(("near", "far")))
    made = Shell(faces, caps, (), seams)
    return made if mass_properties(made).volume > 0 else made.turned()


def _cap(faces: Sequence[NamedFace], name: str, middles: Sequence[Floats], at: int) -> Cap:
    """The flat face at one end; z of its frame leads away from the other end."""
    chain = tuple(face.surface.edge(f"v{at}") for face in faces)
    points = np.concatenate([curve.sampled(8)[1] for curve in chain])
    middle = points.mean(axis=0)
    normal = np.linalg.svd(points - middle, full_matrices=False)[2][2]
    off = np.abs((points - middle) @ normal)
    if off.max() > FLAT:
        raise NotFlat(first=at == 0, off=float(off.max()), place=points[int(off.argmax())])
    around = cross(points - middle, np.roll(points, -1, axis=0) - middle).sum(axis=0)
    # run round as the sides are: the whole is turned afterwards where that is inside out
    normal = normal * np.sign(float(normal @ around)) * (-1.0 if at == 0 else 1.0)
    return Cap(name, facing(middle, normal, points[0] - middle), chain)


def strips(first: Bank, second: Bank, stretches: Sequence[Stretch]) -> list[Surface]:
    """The surfaces of a bridge: u along the runs, v from the first to the second.

    stretches: which parts of the two belong together, one after the other, none across a joint. Raises RunsTouch, NotConverged.
    """
    ends = _Ends(first, second, stretches)
    return [_strip(first, second, ends, number) for number in range(len(stretches))]


def _strip(first: Bank, second: Bank, ends: _Ends, number: int) -> Surface:
    def rows(t: Floats) -> Floats:
        return ends.rows(number, t).reshape(len(t), -1)

    breaks, continuity = _breaks(first, second, ends.stretches[number])
    found, _ = approximated(rows, breaks, WITHIN, continuity=continuity)
    count = found.points.shape[1] // 3
    return Surface(found.space, SplineSpace.from_breaks(count - 1, [0.0, 1.0]), np.ascontiguousarray(found.points.reshape(-1, count, 3)))


def _breaks(first: Bank, second: Bank, stretch: Stretch) -> tuple[Floats, dict[float, int]]:
    """Where the pieces under a stretch have knots, as parameters of it, and how smooth the bridge can be there: one derivative less."""
    found: dict[float, int] = {}
    for bank, (low, high) in ((first, stretch.first), (second, stretch.second)):
        shares, smooth = knots_on(bank.run, bank.run.piece_at(low, high))
        for share, order in zip(((shares - low) / (high - low)).tolist(), smooth, strict=True):
            near = next((t for t in found if abs(t - share) < ALIKE), share)
            if ALIKE < near < 1 - ALIKE:
                found[near] = min(found.get(near, 4), order)
    return np.array([0.0, *sorted(found), 1.0]), found


class _Ends:
    """Where stretches of a bridge meet each other, both must go the same way: what that is, at each of their ends and on both banks."""

    def __init__(self, first: Bank, second: Bank, stretches: Sequence[Stretch]) -> None:
        self.banks, self.stretches = (first, second), stretches
        self.closed = first.run.closed
        self._known: dict[tuple[int, int, bytes], Behind] = {}
        self._directions = [[self._direction(side, number) for number in range(len(stretches) + 1)] for side in (0, 1)]
        curved = any(bank.meets is Meets.CURVATURE and bank.bound for bank in self.banks)
        self._degree = 5 if curved else 3 if any(bank.bound for bank in self.banks) else 1
        self._tangential: list[list[tuple[Floats, Floats] | None]] = [[None] * len(stretches) for _ in (0, 1)]
        if curved:
            self._tangential = [self._made_common(side) for side in (0, 1)]

    def rows(self, number: int, t: Floats) -> Floats:
        """Control points across the bridge at parameters (m,) of a stretch: (m, degree + 1, 3)."""
        (a, da), (b, db) = self._hermite(number, t)
        if self._degree == 1:
            return np.stack([a, b], axis=1)
        if self._degree == 3:
            return np.stack([a, a + da / 3, b - db / 3, b], axis=1)
        sa, sb = (self._second(side, number, t) for side in (0, 1))
        p1, p4 = a + da / 5, b - db / 5
        return np.stack([a, p1, 2 * p1 - a + sa / 20, 2 * p4 - b + sb / 20, p4, b], axis=1)

    def _hermite(self, number: int, t: Floats) -> tuple[tuple[Floats, Floats], tuple[Floats, Floats]]:
        """Places and first derivatives across, on both banks."""
        a, b = (self._places(side, number, t)[0] for side in (0, 1))
        apart = lengths(b - a)
        if apart.min() < NARROW:
            raise RunsTouch(a[int(apart.argmin())])
        first, second = self.banks
        da = self._leaving(0, number, t) * (first.fullness * apart)[:, None] if first.bound else None
        db = -self._leaving(1, number, t) * (second.fullness * apart)[:, None] if second.bound else None
        if da is None and db is None:
            return (a, b - a), (b, b - a)
        # an end that is let go is not bent there
        if da is None:
            assert db is not None
            da = 1.5 * (b - db / 3 - a)
        if db is None:
            db = 1.5 * (b - a - da / 3)
        return (a, da), (b, db)

    def _second(self, side: int, number: int, t: Floats) -> Floats:
        """Second derivatives across on one bank: those of the cubic, but for what the curvature behind asks along the normal."""
        (a, da), (b, db) = self._hermite(number, t)
        plain = 6 * (b - a) - 4 * da - 2 * db if side == 0 else -6 * (b - a) + 2 * da + 4 * db
        bank = self.banks[side]
        if not (bank.bound and bank.meets is Meets.CURVATURE):
            return plain
        behind, slope = self._behind(side, number, t), (da, db)[side]
        asked = behind.bend(slope / lengths(slope)[:, None]) * np.einsum("mc,mc->m", slope, slope)
        found = plain + (asked - np.einsum("mc,mc->m", plain, behind.normals))[:, None] * behind.normals
        further = self._tangential[side][number]
        if further is None:
            return found
        extra = further[0] * (1 - t)[:, None] + further[1] * t[:, None]
        return found + extra - np.einsum("mc,mc->m", extra, behind.normals)[:, None] * behind.normals

    def _made_common(self, side: int) -> list[tuple[Floats, Floats] | None]:
        """What second derivatives get along the tangent planes at both ends of each stretch, so that at a corner both stretches have the same."""
        bank = self.banks[side]
        found = [(np.zeros(3), np.zeros(3)) for _ in self.stretches]
        if not (bank.bound and bank.meets is Meets.CURVATURE):
            return [None] * len(found)
        for number, beside in self._joints():
            if self._directions[side][number] is None:
                continue
            before, after = beside
            ends = [(before, 1.0), (after, 0.0)]
            own = [self._second(side, stretch, np.array([t]))[0] for stretch, t in ends]
            normals = np.array([self._behind(side, stretch, np.array([t])).normals[0] for stretch, t in ends])
            if np.linalg.norm(cross(normals[0], normals[1])) < ONE_PLANE:
                common = (own[0] + own[1]) / 2
            else:
                asked = np.array([value @ normal for value, normal in zip(own, normals, strict=True)])
                middle = (own[0] + own[1]) / 2
                common = middle + normals.T @ np.linalg.solve(normals @ normals.T, asked - normals @ middle)
            found[before][1][:] = common - own[0]
            found[after][0][:] = common - own[1]
        return list(found)

    def _joints(self) -> list[tuple[int, tuple[int, int]]]:
        """Numbers of the places between two stretches, and of both."""
        count = len(self.stretches)
        inner = [(number, (number - 1, number)) for number in range(1, count)]
        return [*inner, (0, (count - 1, 0)), (count, (count - 1, 0))] if self.closed else inner

    def _direction(self, side: int, number: int) -> Floats | None:
        """The direction in which both stretches leave the place between them, (3,); None where each has the same by itself."""
        bank, count = self.banks[side], len(self.stretches)
        if not bank.bound or (number in (0, count) and not self.closed):
            return None
        before, after = (self._behind(side, (number + k) % count, np.array([t])) for k, t in ((-1, 1.0), (0, 0.0)))
        first, second = before.outwards[0], after.outwards[0]
        if np.linalg.norm(first - second) < ALIKE:
            return None
        between = first + second
        both = cross(before.normals[0], after.normals[0])
        found = between if np.linalg.norm(both) < ONE_PLANE else both * np.sign(both @ between)
        return np.asarray(found / np.linalg.norm(found), dtype=np.float64)

    def _leaving(self, side: int, number: int, t: Floats) -> Floats:
        """Unit directions square to the run; towards a corner they turn to the one that both sides of it have."""
        _, ways = self._places(side, number, t)
        out = self._behind(side, number, t).outwards
        found = out.copy()
        for at, fade in ((number, 1 - t), (number + 1, t)):
            common = self._directions[side][at]
            if common is None:
                continue
            end = np.array([0.0 if at == number else 1.0])
            way, away = self._places(side, number, end)[1][0], self._behind(side, number, end).outwards[0]
            found += fade[:, None] * ((common @ away - 1) * out + (common @ way) * ways)
        return found

    def _share(self, side: int, number: int, t: Floats) -> tuple[Floats, int]:
        stretch = self.stretches[number]
        low, high = (stretch.first, stretch.second)[side]
        return low + (high - low) * t, self.banks[side].run.piece_at(low, high)

    def _places(self, side: int, number: int, t: Floats) -> tuple[Floats, Floats]:
        return self.banks[side].run.places(*self._share(side, number, t))

    def _behind(self, side: int, number: int, t: Floats) -> Behind:
        key = (side, number, t.tobytes())
        if key not in self._known:
            shares, piece = self._share(side, number, np.clip(t, HAIR, 1 - HAIR))
            run = self.banks[side].run
            self._known[key] = run.looks[piece](*run.places(shares, piece))
        return self._known[key]
