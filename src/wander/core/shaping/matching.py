"""Which corner of one section belongs to which corner of the next, along the whole body.

A track is one mark followed through all sections. Where a section has no corner of its own, the track passes through the place
that lies in the same proportion between its matched neighbours. Nothing here depends on which end of the body is looked at first.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput

REACH = 0.2
"""A shift by this share of the girth costs as much as leaving a mark without a partner."""
APART = 0.02
"""Tracks nearer than this share of the girth everywhere are one: a side between them would be a sliver."""
ON = 1e-6
"""A given place nearer to a corner than this share of the girth is the corner."""
NOTHING = 1e-9
"""Shares of the girth nearer than this are one place."""
NEVER, ALWAYS = 1e6, 1e3
"""Prices that no other outweighs."""
WHISPER = 1e-7
"""Weight of what decides between pairings that are equally good: where the marks lie in the direction they were drawn."""


@dataclass(frozen=True)
class Mark:
    """position: share of the girth in [0, 1) from the start. turn: tangent turning in radians, or the sign of a curvature jump.

    drawn: its share of the girth as it was drawn, whichever way the body runs through the section.
    """

    position: float
    turn: float
    drawn: float = 0.0


@dataclass
class Track:
    """positions: share of the girth in every section (k,). drawn: of the sections that have this mark themselves, where it lies as it was drawn."""

    positions: Floats
    turn: float
    drawn: Mapping[int, float] = field(default_factory=dict)

    @property
    def owners(self) -> set[int]:
        return set(self.drawn)


def follow(sections: Sequence[Sequence[Mark]], given: Sequence[Track] = ()) -> list[Track]:
    """Tracks through all sections, in their order round the body, from the marks of each section.

    given: tracks that belong together whatever the shapes say, none of which crosses another: a mark that lies on one is matched with those that do,
    and what lies between two with what lies between them.
    """
    if not any(sections):
        return []
    lines = [[float(track.positions[i]) for track in given] for i in range(len(sections))]
    pairs = [match(*both, given=at) for both, at in zip(pairwise(sections), pairwise(lines), strict=True)]
    ways = []
    for i, ((a, b), found) in enumerate(zip(pairwise(sections), pairs, strict=True)):
        free = [(a[m].position, b[n].position) for m, n in found if _held(a[m].position, lines[i]) % 2 == 0]
        ways.append(_Ways([*free, *((float(track.positions[i]), float(track.positions[i + 1])) for track in given)]))
    tracks = [_extended(chain, sections, ways) for chain in _chains(sections, pairs)]

    def joined(found: list[Track], price: Callable[[Track, Track], float]) -> list[Track]:
        return _joined(found, lambda a, b: _priced(a, b, price, given), given)

    # what is left so near to another that a side between them would be a sliver is taken for it, however they turn
    return _round(joined(joined(tracks, _cost), lambda a, b: float(_gaps(a, b).max()) / APART * 2.0))


def come_round(tracks: Sequence[Track]) -> list[Track]:
    """Tracks through a ring of sections, the last of which is the first: each comes back to where it began.

    A track that begins at a mark of the first section and one that ends at it are one, unless both have marks of their own on one section between.
    Where these would cross, marks go with those that lie at the same share of the girth, and no other. Raises BadInput where even they cross.
    """
    if not tracks or all(_returns(track) for track in tracks):
        return list(tracks)
    last = len(tracks[0].positions) - 1
    ending = {track.drawn[last]: track for track in tracks if last in track.drawn and 0 not in track.drawn}
    found = []
    for track in sorted(tracks, key=lambda track: 0 not in track.drawn):
        positions, drawn = track.positions.copy(), {i: at for i, at in track.drawn.items() if i < last}
        if 0 not in drawn:
            if not drawn or (last in track.drawn and track.drawn[last] not in ending):
                continue
        elif (other := ending.get(track.drawn[0])) is not None and not drawn.keys() & other.drawn.keys():
            del ending[track.drawn[0]]
            own = {i: at for i, at in other.drawn.items() if i < last}
            positions[list(own)] = other.positions[list(own)]
            drawn |= own
        found.append(_evenly(Track(positions, track.turn, drawn)))
    if not _in_order(found):
        found = _side_by_side(tracks)
    if not _in_order(found):
        raise BadInput("the corners of the sections can't be paired all round the ring: they cross")
    return _round(found)


def _returns(track: Track) -> bool:
    ends = track.positions[[0, -1]]
    return (0 in track.drawn) == (len(track.positions) - 1 in track.drawn) and abs((ends[1] - ends[0] + 0.5) % 1.0 - 0.5) < NOTHING


def _evenly(track: Track) -> Track:
    """The track through its marks on the sections of a ring, evenly from each to the next; the first section is told as the last one too."""
    positions, last = track.positions.copy(), len(track.positions) - 1
    marks = sorted(track.owners)
    for a, b in pairwise([*marks, marks[0] + last]):
        step = (positions[b % last] - positions[a] + 0.5) % 1.0 - 0.5
        for i in range(a + 1, b):
            positions[i % last] = (positions[a] + step * (i - a) / (b - a)) % 1.0
    positions[last] = positions[0]
    return Track(positions, track.turn, {**track.drawn, last: track.drawn[0]} if 0 in track.drawn else track.drawn)


def _side_by_side(tracks: Sequence[Track]) -> list[Track]:
    """For the marks of a ring of sections: tracks through those that lie at one share of the girth, a hair apart, on different sections."""
    last = len(tracks[0].positions) - 1
    marks = sorted((float(track.positions[i]), i, at, track.turn) for track in tracks for i, at in track.drawn.items() if i < last)
    found: list[Track] = []
    for position, section, drawn, turn in marks:
        if found and section not in found[-1].drawn and position - found[-1].positions.min() < APART:
            found[-1].positions[section] = position
            found[-1].drawn = {**found[-1].drawn, section: drawn}
        else:
            found.append(Track(np.full(last + 1, position), turn, {section: drawn}))
    return [_evenly(track) for track in found]


def _priced(a: Track, b: Track, price: Callable[[Track, Track], float], given: Sequence[Track]) -> float:
    """What it costs to take two tracks for one: nothing beside the same given one, and what can't be paid across one."""
    if given:
        own, other = (_held(float(track.positions[0]), [float(line.positions[0]) for line in given]) for track in (a, b))
        if own != other:
            return np.inf
        if own % 2:
            return 0.0
        from_first = [(track.positions - given[0].positions + ON) % 1.0 for track in (a, b)]
        if np.abs(from_first[0] - from_first[1]).max() > 0.5:
            return np.inf
    return price(a, b)


def _held(position: float, given: Sequence[float]) -> int:
    """Which given place a position lies on, as 2 n + 1, or else after which it comes round the girth, as 2 n."""
    if not len(given):
        return 0
    after = (position - np.array(given) + ON) % 1.0
    last = int(after.argmin())
    return 2 * last + (1 if after[last] < 2 * ON else 0)


def crossed(given: Sequence[Track]) -> tuple[int, int] | None:
    """Numbers of two given tracks that cross or meet between two sections, if any do."""
    for m, a in enumerate(given):
        for n in range(m + 1, len(given)):
            if float(_gaps(a, given[n]).min()) < ON:
                return m, n
            for k in range(n + 1, len(given)):
                if not _in_order([a, given[n], given[k]]):
                    return n, k
    return None


def goes_with(track: Track, passed: Sequence[Track]) -> bool:
    """Whether a track comes in the same order with those that are given, and nowhere so near to one that a side between them would be a sliver."""
    return _in_order([*passed, track]) and all(float(_gaps(track, other).min()) > APART / 4 for other in passed)


def _chains(sections: Sequence[Sequence[Mark]], pairs: Sequence[Sequence[tuple[int, int]]]) -> list[dict[int, Mark]]:
    """Marks that belong together from neighbour to neighbour, by section."""
    found: list[dict[int, Mark]] = []
    here: dict[int, dict[int, Mark]] = {}
    for i, marks in enumerate(sections):
        came = {n: here[m] for m, n in pairs[i - 1]} if i else {}
        here = {}
        for n, mark in enumerate(marks):
            chain = came.get(n)
            if chain is None:
                chain = {}
                found.append(chain)
            chain[i] = mark
            here[n] = chain
    return found


def _extended(chain: dict[int, Mark], sections: Sequence[Sequence[Mark]], ways: Sequence[_Ways]) -> Track:
    """The track of a chain, carried on to the sections beyond both its ends."""
    positions = np.full(len(sections), np.nan)
    for i, mark in chain.items():
        positions[i] = mark.position
    for i in range(max(chain) + 1, len(sections)):
        positions[i] = ways[i - 1].onwards(positions[i - 1])
    for i in range(min(chain) - 1, -1, -1):
        positions[i] = ways[i].back(positions[i + 1])
    return Track(positions, float(np.mean([mark.turn for mark in chain.values()])), {i: mark.drawn for i, mark in chain.items()})


def _joined(tracks: list[Track], price: Callable[[Track, Track], float], given: Sequence[Track]) -> list[Track]:
    """Tracks that no section has both of become one while that costs less than 2, the best pair first, as long as the order round the body stays."""
    while len(tracks) > 1:
        costs = [
            (round(cost, 12), -len(a.owners | b.owners), m, n)
            for m, a in enumerate(tracks)
            for n, b in enumerate(tracks)
            if m < n and not a.owners & b.owners and (cost := price(a, b)) < 2.0
        ]
        for _, _, m, n in sorted(costs):
            both = _one(tracks[m], tracks[n])
            rest = [track for k, track in enumerate(tracks) if k not in (m, n)]
            if _in_order([*given, *rest, both]):
                tracks = [*rest, both]
                break
        else:
            break
    return tracks


def _cost(a: Track, b: Track) -> float:
    """What it costs to take two tracks for one: 2 is the price of leaving both as they are."""
    gaps = _gaps(a, b)
    near = min(abs(i - j) for i in a.owners for j in b.owners)
    facing = [(i, j) for i in a.owners for j in b.owners if abs(i - j) == near]
    whisper = WHISPER * float(np.mean([(1 + a.drawn[i]) * (1 + b.drawn[j]) for i, j in facing]))
    return float(np.mean(gaps[np.array(facing)] ** 2)) / REACH**2 + (a.turn - b.turn) ** 2 + whisper


def _gaps(a: Track, b: Track) -> Floats:
    """How far apart two tracks are in every section, (k,)."""
    return np.abs((a.positions - b.positions + 0.5) % 1.0 - 0.5)


def _one(a: Track, b: Track) -> Track:
    """The track of both: each where it is owned, and from one to the other between."""
    owners = sorted(a.owners | b.owners)
    of = {i: a if i in a.owners else b for i in owners}
    positions = np.where(np.arange(len(a.positions)) < owners[0], of[owners[0]].positions, of[owners[-1]].positions)
    for before, after in pairwise(owners):
        near, far = of[before].positions, of[after].positions
        for i in range(before, after):
            step = (far[i] - near[i] + 0.5) % 1.0 - 0.5
            positions[i] = (near[i] + step * (i - before) / (after - before)) % 1.0
    counts = len(a.owners), len(b.owners)
    return Track(positions, (a.turn * counts[0] + b.turn * counts[1]) / sum(counts), {**a.drawn, **b.drawn})


def _in_order(tracks: Sequence[Track]) -> bool:
    """Whether all tracks come in the same order round every section."""
    if len(tracks) < 2:
        return True
    ordered = _round(tracks)
    at = (np.array([track.positions for track in ordered]) - ordered[0].positions + NOTHING) % 1.0
    return bool(np.all(np.diff(at, axis=0) >= -NOTHING))


def _round(tracks: Sequence[Track]) -> list[Track]:
    """The tracks in their order round the body; those that share a place in one section are told apart by the others."""
    first = min(tracks, key=lambda track: float(track.positions[0]))
    return sorted(tracks, key=lambda track: float(((track.positions - first.positions + NOTHING) % 1.0).sum()))


def match(before: Sequence[Mark], after: Sequence[Mark], *, given: tuple[Sequence[float], Sequence[float]] = ((), ())) -> list[tuple[int, int]]:
    """Pairs of indices that belong together, in cyclic order: the cheapest alignment over all cuts of the ring.

    given: positions on both sides that belong together: what lies on one goes with what lies on it, and what lies between two with what lies there.
    """
    if not before or not after:
        return []
    a = np.array([(m.position, m.turn, m.drawn) for m in before])
    b = np.array([(m.position, m.turn, m.drawn) for m in after])
    shift = (b[:, 0] - a[:, 0, None] + 0.5) % 1.0 - 0.5
    cost = (shift / REACH) ** 2 + (b[:, 1] - a[:, 1, None]) ** 2 + WHISPER * np.outer(1 + a[:, 2], 1 + b[:, 2])
    if given[0]:
        # counted from the first of them, all goes in one row
        own, other = ((marks[:, 0] - at[0] + ON) % 1.0 for marks, at in zip((a, b), given, strict=True))
        cost += ((other - own[:, None]) ** 2 - shift**2) / REACH**2
        codes = [np.array([_held(float(position), at) for position in marks[:, 0]]) for marks, at in zip((a, b), given, strict=True)]
        on = (codes[0] % 2 == 1)[:, None]
        cost = np.where(codes[0][:, None] != codes[1], NEVER, np.where(on, -ALWAYS, cost))
        rows, columns = np.argsort(own), np.argsort(other)
        return sorted((int(rows[i]), int(columns[j])) for i, j in _align(cost[rows][:, columns])[1])
    if len(a) == len(b) and float(np.trace(cost)) < 0.01 * len(a):
        return [(i, i) for i in range(len(a))]
    best: tuple[float, list[tuple[int, int]]] = (np.inf, [])
    for cut in range(len(b)):
        order = np.roll(np.arange(len(b)), -cut)
        total, pairs = _align(cost[:, order])
        if total < best[0] - 1e-11:
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


class _Ways:
    """The map from the girth of one section to that of the next, linear between marks that belong together, and the way back."""

    def __init__(self, pairs: Sequence[tuple[float, float]]) -> None:
        """pairs: positions on both."""
        ordered = sorted((float(a), float(b)) for a, b in pairs) or [(0.0, 0.0)]
        self._shift = ordered[0][1] - ordered[0][0] if len(ordered) == 1 else None
        source, target = np.array(ordered).T
        target = target[0] + np.cumsum(np.diff(target, prepend=target[0]) % 1.0)
        self._source = np.concatenate([source - 1, source, source + 1])
        self._target = np.concatenate([target - 1, target, target + 1])

    def onwards(self, position: float) -> float:
        return self._over(position, self._source, self._target, 1.0)

    def back(self, position: float) -> float:
        return self._over(position, self._target, self._source, -1.0)

    def _over(self, position: float, source: Floats, target: Floats, sign: float) -> float:
        found = position + sign * self._shift if self._shift is not None else float(np.interp(position, source, target))
        return 0.0 if found % 1.0 > 1 - 1e-12 else found % 1.0
