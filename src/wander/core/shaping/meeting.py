"""Where rails meet the sections of a skin."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from wander.core.geometry.basis import Floats, Ints
from wander.core.geometry.closest import closest_parameter
from wander.core.geometry.curve import Curve, Together
from wander.core.geometry.curve_edits import elevate, move_seam, reverse
from wander.core.geometry.errors import BadInput
from wander.core.geometry.vectors import lengths
from wander.core.shaping.girth import Girths
from wander.core.shaping.section import PlacedSection

MET = 1e-3
"""A rail that passes a section by no more, mm, meets it."""
PER_SPAN = 12
PER_BAY = 129
"""Places of a rail at which it is asked where it turns back."""
ROUNDS = 60
"""Of Newton's method, each of which halves a bracket at least."""
NEAR = 1e-9
MOST_LEVEL = 60
"""Places that are looked at of a rail that lies in the plane of a section for a while, beside those at which its spans meet."""


@dataclass(frozen=True)
class Meeting:
    """Where a rail passes a section. at: its parameter. place: on the rail (3,). on: nearest place of the section (3,).

    share: of the girth there, as the skin runs it; parameter: of the outline as it was drawn. Both None for a point.
    """

    at: float
    place: Floats
    on: Floats
    share: float | None = None
    parameter: float | None = None

    @property
    def miss(self) -> float:
        """mm."""
        return float(np.linalg.norm(self.place - self.on))


class Missed(BadInput):
    """A rail passes a section without touching it, or stops before it. rail, section: their numbers."""

    def __init__(self, rail: int, section: int, meeting: Meeting, *, short: bool) -> None:
        how = "stops" if short else "passes"
        super().__init__(f"rail {rail + 1} {how} {meeting.miss:.3g} mm off section {section + 1}")
        self.rail, self.section, self.meeting, self.short = rail, section, meeting, short


class TurnsBack(BadInput):
    """A rail does not go on from one section to the next: it turns back on its way, or runs across it.

    rail: its number. section: that of the section before. place: where it goes back most (3,).
    """

    def __init__(self, rail: int, section: int, place: Floats) -> None:
        super().__init__(f"rail {rail + 1} turns back on its way from section {section + 1} to the next")
        self.rail, self.section, self.place = rail, section, place


@dataclass(frozen=True)
class Guide:
    """A rail that meets all sections, over [0, 1], run as they follow each other.

    number: of the rail. at: its parameters at the sections (k,). meetings: one for each of them.
    """

    number: int
    curve: Curve
    at: Floats
    meetings: tuple[Meeting, ...]

    def turning_back(self, bay: int) -> TurnsBack:
        """bay: the number of the section before."""
        t = np.linspace(self.at[bay], self.at[bay + 1], PER_BAY)
        way = self.curve(self.at[bay + 1]) - self.curve(self.at[bay])
        worst = int(np.argmin(self.curve.derivatives(t, 1)[1] @ way))
        return TurnsBack(self.number, bay, self.curve(float(t[worst])))


def guides(rails: Sequence[Curve], sections: Sequence[PlacedSection], girths: Girths, *, leaves: Floats | None = None) -> list[Guide]:
    """The rails as the sections follow each other; girths: of the sections that have one, in turn.

    leaves: of a ring, in which the last section is the first again, the way (3,) that it leaves there; its rails close. Raises Missed where one meets
    no section, BadInput where one meets them in another order.
    """
    curves = _alike(rails)
    if leaves is not None:
        sections = sections[:-1]
        curves = _from_the_first(curves, sections[0], girths, leaves)
    passed = _passed(curves, sections, girths)
    found = []
    for number, curve in enumerate(curves):
        row = [passed[number, i] for i in range(len(sections))]
        for i, (meeting, short) in enumerate(row):
            if meeting.miss > MET:
                raise Missed(number, i, meeting, short=short)
        meetings = [meeting for meeting, _ in row]
        at = np.array([meeting.at for meeting in meetings])
        if leaves is not None:
            at, meetings = np.concatenate([[0.0], at[1:], [1.0]]), [*meetings, meetings[0]]
        elif at[0] > at[-1]:
            curve, at = reverse(curve), 1.0 - at
        if np.any(np.diff(at) <= NEAR):
            raise BadInput(f"rail {number + 1} meets the sections in another order than they follow each other")
        found.append(Guide(number, curve, at, tuple(meetings)))
    return found


def _from_the_first(rails: Sequence[Curve], section: PlacedSection, girths: Girths, leaves: Floats) -> list[Curve]:
    """Closed rails that begin where they come nearest to the first section, and run as the ring leaves it."""
    met = _passed(rails, [section], girths)
    found = []
    for number, rail in enumerate(rails):
        begun = move_seam(rail, met[number, 0][0].at)
        way = begun.derivatives(0.0, 1)[1]
        found.append(begun if float(way @ leaves) >= 0 else reverse(begun))
    return found


def _alike(rails: Sequence[Curve]) -> list[Curve]:
    """The rails over [0, 1], and of one degree where that can be: so they are asked for their points together."""
    degree = max((rail.degree for rail in rails), default=1)
    mapped = [Curve(rail.space.mapped(0.0, 1.0), rail.points, rail.weights) for rail in rails]
    if any(rail.weights is not None for rail in rails):
        return mapped
    return [rail if rail.degree == degree else elevate(rail, degree) for rail in mapped]


def _passed(rails: Sequence[Curve], sections: Sequence[PlacedSection], girths: Girths) -> dict[tuple[int, int], tuple[Meeting, bool]]:
    """For every rail and section where it comes nearest, and whether it stops before the plane of the section."""
    found = {}
    for i, section in enumerate(sections):
        if section.is_point:
            for number, rail in enumerate(rails):
                at = _nearest_end(rail, section.center)
                found[number, i] = Meeting(at, rail(at), section.center), False
    outlined = [i for i, section in enumerate(sections) if not section.is_point]
    owners, which, t, short = crossings(rails, *planes_of([sections[i] for i in outlined]))
    there = Together(rails).at(owners, t)
    parameters, on = girths.feet(which, there, within=MET / 2)
    shares = girths.shares(which, parameters)
    miss = lengths(there - on)
    for c in np.argsort(-miss, kind="stable"):
        drawn = girths.each[which[c]].as_drawn(float(parameters[c]))
        meeting = Meeting(float(t[c]), there[c], on[c], float(shares[c]), drawn)
        found[int(owners[c]), outlined[which[c]]] = meeting, bool(short[c])
    return found


def _nearest_end(rail: Curve, point: Floats) -> float:
    """Where a rail comes nearest to a point: most end there."""
    apart = lengths(rail(np.array([0.0, 1.0])) - point)
    return float(apart.argmin()) if apart.min() < MET else closest_parameter(rail, point)


def planes_of(sections: Sequence[PlacedSection]) -> tuple[Floats, Floats]:
    """Origins and unit normals (k, 3) of the planes that sections lie in."""
    return np.stack([section.frame.origin for section in sections]), np.stack([section.frame.z for section in sections])


def crossings(rails: Sequence[Curve], origins: Floats, normals: Floats) -> tuple[Ints, Ints, Floats, Ints]:
    """Where rails pass planes (k, 3): numbers of rail and plane, parameter, and whether it only comes nearest there; each (c,)."""
    level = (origins * normals).sum(axis=1)
    brackets, places = [], []
    for number, rail in enumerate(rails):
        t, points = rail.sampled(PER_SPAN)
        height = normals @ points.T - level[:, None]
        section, step = np.nonzero(height[:, :-1] * height[:, 1:] < 0)
        before, after = height[section, step], height[section, step + 1]
        brackets.append((np.full(len(step), number), section, t[step], t[step + 1], before, after))
        near = np.abs(height) <= MET
        alone = ~near.any(axis=1)
        alone[section] = False
        near[alone, np.abs(height[alone]).argmin(axis=1)] = True
        for row in np.flatnonzero(near.sum(axis=1) > MOST_LEVEL):
            # it lies in the plane for a while: some of its places there, and all at which its spans meet
            there = np.flatnonzero(near[row])
            near[row, there[(np.arange(len(there)) % (len(there) // MOST_LEVEL + 1) > 0) & (there % PER_SPAN > 0)]] = False
        at, step = np.nonzero(near)
        places.append((np.full(len(step), number), at, t[step], alone[at]))
    owners, which, low, high, before, after = (np.concatenate(parts) for parts in zip(*brackets, strict=True))
    first = low + (high - low) * before / np.where(before == after, 1.0, before - after)
    crossed = _level(Together(rails), owners, normals[which], level[which], low, high, first, before < 0)
    more = [np.concatenate(parts) for parts in zip(*places, strict=True)]
    found = [np.concatenate(pair) for pair in zip((owners, which, crossed, np.zeros(len(owners), dtype=bool)), more, strict=True)]
    return found[0], found[1], found[2], found[3]


def _level(
    rails: Together, owners: Ints, normals: Floats, level: Floats, low: Floats, high: Floats, t: Floats, rising: npt.NDArray[np.bool_]
) -> Floats:
    """Parameters (c,) between low and high where rails are level with planes, from t on: Newton's method within brackets."""
    for _ in range(ROUNDS):
        off = (rails.at(owners, t) * normals).sum(axis=1) - level
        slope = (rails.at(owners, t, 1) * normals).sum(axis=1)
        below = (off < 0) == rising
        low, high = np.where(below, t, low), np.where(below, high, t)
        there = t - off / np.where(np.abs(slope) > NEAR, slope, np.inf)
        new = np.where((there >= low) & (there <= high) & (np.abs(slope) > NEAR), there, (low + high) / 2)
        done = np.abs(new - t).max(initial=0.0) < 1e-14
        t = new
        if done:
            break
    return t
