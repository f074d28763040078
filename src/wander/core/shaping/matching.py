"""Which corner of one section belongs to which corner of the next, along the whole body.

A track is one mark followed through all sections. Where a section has no corner of its own, the track passes through the place
that lies in the same proportion between its matched neighbours.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from wander.core.geometry.basis import Floats

REACH = 0.2
"""A shift by this share of the girth costs as much as leaving a mark without a partner."""


@dataclass(frozen=True)
class Mark:
    """position: parameter in [0, 1) from the start. turn: tangent turning in radians, or the sign of a curvature jump."""

    position: float
    turn: float


@dataclass
class Track:
    """positions: parameter in every section (k,). owners: the sections that have this mark themselves."""

    positions: Floats
    turn: float
    owners: set[int] = field(default_factory=set)


def follow(sections: Sequence[Sequence[Mark]]) -> list[Track]:
    """Tracks through all sections, in their order round the body, from the marks of each section."""
    if not any(sections):
        return []
    count = len(sections)
    tracks: list[Track] = []
    for i, marks in enumerate(sections):
        pairs: list[tuple[int, int]] = []
        if i:
            here = sorted(range(len(tracks)), key=lambda k: tracks[k].positions[i - 1])
            before = [Mark(float(tracks[k].positions[i - 1]), tracks[k].turn) for k in here]
            pairs = [(here[a], b) for a, b in match(before, marks)]
            carry = _proportion([(tracks[k].positions[i - 1], marks[b].position) for k, b in pairs])
            partner = dict(pairs)
            for k, track in enumerate(tracks):
                track.positions[i] = marks[partner[k]].position if k in partner else carry(track.positions[i - 1])
                if k in partner:
                    track.owners.add(i)
                    track.turn = marks[partner[k]].turn
        taken = {b for _, b in pairs}
        for b, mark in enumerate(marks):
            if b not in taken:
                positions = np.full(count, np.nan)
                positions[i] = mark.position
                tracks.append(Track(positions, mark.turn, {i}))
    for i in range(count - 1, 0, -1):
        known = [t for t in tracks if not np.isnan(t.positions[i - 1])]
        back = _proportion([(t.positions[i], t.positions[i - 1]) for t in known])
        for track in tracks:
            if np.isnan(track.positions[i - 1]) and not np.isnan(track.positions[i]):
                track.positions[i - 1] = back(track.positions[i])
    return sorted(tracks, key=lambda t: t.positions[0])


def match(before: Sequence[Mark], after: Sequence[Mark]) -> list[tuple[int, int]]:
    """Pairs of indices that belong together, in cyclic order: the cheapest alignment over all cuts of the ring."""
    if not before or not after:
        return []
    a = np.array([(m.position, m.turn) for m in before])
    b = np.array([(m.position, m.turn) for m in after])
    shift = (b[:, 0] - a[:, 0, None] + 0.5) % 1.0 - 0.5
    cost = (shift / REACH) ** 2 + (b[:, 1] - a[:, 1, None]) ** 2
    if len(a) == len(b) and float(np.trace(cost)) < 0.01 * len(a):
        return [(i, i) for i in range(len(a))]
    best: tuple[float, list[tuple[int, int]]] = (np.inf, [])
    for cut in range(len(b)):
        order = np.roll(np.arange(len(b)), -cut)
        total, pairs = _align(cost[:, order])
        if total < best[0] - 1e-12:
            best = (total, [(i, int(order[j])) for i, j in pairs])
    return best[1]


def _align(cost: Floats) -> tuple[float, list[tuple[int, int]]]:
    """Global alignment (Needleman & Wunsch 1970) with a price of 1 for a mark that stays alone."""
    m, n = cost.shape
    total = np.empty((m + 1, n + 1))
    total[0], total[:, 0] = np.arange(n + 1), np.arange(m + 1)
    for i in range(1, m + 1):
        for j in range(1, n + 1):
            total[i, j] = min(total[i - 1, j - 1] + cost[i - 1, j - 1], total[i - 1, j] + 1, total[i, j - 1] + 1)
    pairs = []
    i, j = m, n
    while i and j:
        if total[i, j] == total[i - 1, j - 1] + cost[i - 1, j - 1]:
            i, j = i - 1, j - 1
            pairs.append((i, j))
        elif total[i, j] == total[i - 1, j] + 1:
            i -= 1
        else:
            j -= 1
    return float(total[m, n]), pairs[::-1]


class _proportion:  # noqa: N801 - reads as the function it is
    """The map of the ring onto itself that is linear between the given pairs (from, to)."""

    def __init__(self, pairs: Sequence[tuple[float, float]]) -> None:
        ordered = sorted((float(a), float(b)) for a, b in pairs) or [(0.0, 0.0)]
        self.alone = len(ordered) == 1
        self.shift = ordered[0][1] - ordered[0][0]
        source = np.array([a for a, _ in ordered])
        target = np.array([b for _, b in ordered])
        steps = np.concatenate([[0.0], np.diff(target) % 1.0])
        target = target[0] + np.cumsum(steps)
        self.source = np.concatenate([source - 1, source, source + 1])
        self.target = np.concatenate([target - 1, target, target + 1])

    def __call__(self, position: float) -> float:
        found = (position + self.shift if self.alone else float(np.interp(position, self.source, self.target))) % 1.0
        return 0.0 if found > 1 - 1e-12 else found
