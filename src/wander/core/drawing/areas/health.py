"""What is wrong with a drawing although every single curve is right: gaps, doubled lines, slivers, needless splits, crossings.

Each ailment comes with the acts that mend it. Where there are many of a kind, as in a drawing that was scanned, they are one, and mended together.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from itertools import pairwise
from typing import Any, Literal

import numpy as np

from wander.core.drawing.areas.regions import SAME, Graph
from wander.core.drawing.curves.beside import NoOffset, beside
from wander.core.drawing.curves.boxes import Boxes
from wander.core.drawing.curves.crossings import runs_along
from wander.core.drawing.curves.even import may_share
from wander.core.drawing.curves.pieces import Piece
from wander.core.drawing.model import AnyCurve, Drawing, DrawnArc, DrawnBeside, DrawnLine
from wander.core.geometry.curve import Curve

WIDEST_GAP = 0.02
"""Gaps up to this share of the drawing's size look closed."""
SLIVER = 2e-3
"""Curves shorter than this share of the drawing's size are an accident."""
MOST_ALONE = 3
"""Ailments of a kind that are told one by one."""
Kind = Literal["gap", "doubled", "sliver", "needless-split", "crosses-itself", "no-offset"]


@dataclass(frozen=True)
class Ailment:
    """places: in the plane, mm. size: of a gap or sliver, of many the largest, or the distance at which an offset is possible, mm. curves: concerned.

    mend: acts, as they are written. count: how many it stands for.
    """

    kind: Kind
    places: tuple[tuple[float, float], ...]
    size: float
    curves: tuple[str, ...]
    mend: list[dict[str, Any]]
    count: int = 1


def ailments(drawing: Drawing, pieces: Sequence[Piece], graph: Graph) -> list[Ailment]:
    """Everything that is wrong, in the order in which it is best mended."""
    drawn = [piece for piece in pieces if not piece.construction]
    if not drawn:
        return []
    box = np.concatenate([piece.curve.points for piece in drawn])
    size = float(np.ptp(box, axis=0).max())
    slivers = _slivers(drawn, size)
    doubled = _doubled(drawn)
    hidden = {c for a in doubled for c in a.curves[:1]}
    wholly = [a for a in doubled if a.mend[0]["act"] == "drop"]
    offsets = _impossible(drawing, pieces)
    return [
        *offsets,
        *_together(wholly, _one_by_one),
        *(a for a in doubled if a not in wholly),
        *_together(slivers, partial(_closed_up, drawing)),
        *_together(_gaps(drawing, [p for p in drawn if p.id not in hidden], size), _one_by_one),
        *_together(_splits(drawing, drawn), _one_by_one),
        # one choice settles all crossings
        *_together(_crossed(drawing, graph), lambda crossed: crossed[0].mend),
    ]


def _together(found: Sequence[Ailment], mended: Callable[[Sequence[Ailment]], list[dict[str, Any]]]) -> list[Ailment]:
    """Many of a kind as one. mended: the acts that mend them all."""
    if len(found) <= MOST_ALONE:
        return list(found)
    places = tuple(place for ailment in found for place in ailment.places)
    curves = tuple(dict.fromkeys(curve for ailment in found for curve in ailment.curves))
    return [Ailment(found[0].kind, places, max(a.size for a in found), curves, mended(found), len(found))]


def _one_by_one(found: Sequence[Ailment]) -> list[dict[str, Any]]:
    return [act for ailment in found for act in ailment.mend]


def _closed_up(drawing: Drawing, slivers: Sequence[Ailment]) -> list[dict[str, Any]]:
    """All slivers taken away at once. Some follow each other: what is left at both ends of such a row comes together."""
    gone = {curve for sliver in slivers for curve in sliver.curves}
    ends = [ends for curve in drawing.curves if curve.id in gone and (ends := curve.ends()) is not None]
    stays = {p for curve in drawing.curves if curve.id not in gone for p in curve.points()}
    row_of: dict[str, list[str]] = {}
    for a, b in ends:
        rows = [row_of.get(a, [a]), row_of.get(b, [b])]
        row = rows[0] if rows[0] is rows[1] else [*rows[0], *rows[1]]
        row_of |= dict.fromkeys(row, row)
    rows = list({id(row): row for row in row_of.values()}.values())
    left = [list(dict.fromkeys(p for p in row if p in stays)) for row in rows]
    holds = [{"act": "hold", "type": "coincident", "of": [a, b]} for row in left for a, b in pairwise(row)]
    return [{"act": "drop", "things": sorted(gone)}, *holds]


def _impossible(drawing: Drawing, pieces: Sequence[Piece]) -> list[Ailment]:
    """Offsets that there can't be at their distance any more, since what they follow has changed; the nearest distance that would do mends them."""
    made = {piece.id: piece.curve for piece in pieces}
    found = []
    for curve in drawing.curves:
        if not isinstance(curve, DrawnBeside) or curve.id in made or curve.of not in made:
            continue
        x, y = made[curve.of](0.0)
        size = abs(curve.distance) * _workable(made[curve.of], curve.distance)
        hold = next((h for h in drawing.holds if h.of == [curve.id] and h.type == "distance"), None)
        mend: list[dict[str, Any]] = [{"act": "measure", "hold": hold.id, "value": float(f"{size:.3g}")}] if hold is not None and size > 1e-3 else []
        found.append(Ailment("no-offset", ((float(x), float(y)),), size, (curve.id, curve.of), mend or [{"act": "drop", "things": [curve.id]}]))
    return found


def _workable(made: Curve, distance: float) -> float:
    """The largest share of a distance at which a curve has an offset, within a hundredth, and a twentieth less to be safe."""
    low, high = 0.0, 1.0
    while high - low > 0.01:
        middle = (low + high) / 2
        try:
            beside(made, middle * distance)
            low = middle
        except NoOffset:
            high = middle
    return 0.95 * low


def _slivers(drawn: Sequence[Piece], size: float) -> list[Ailment]:
    found = []
    for piece in drawn:
        long = piece.length
        if long < SLIVER * size and len(drawn) > 1 and piece.ends is not None:
            x, y = piece.curve(0.5)
            mend: list[dict[str, Any]] = [{"act": "drop", "things": [piece.id]}]
            if piece.ends[0] != piece.ends[1]:
                mend.append({"act": "hold", "type": "coincident", "of": list(piece.ends)})
            found.append(Ailment("sliver", ((float(x), float(y)),), long, (piece.id,), mend))
    return found


def _doubled(drawn: Sequence[Piece]) -> list[Ailment]:
    """Curves that lie wholly on others, and lines that overlap in part."""
    found = []
    gone: set[str] = set()
    boxes = Boxes([piece.curve for piece in drawn], 1e-6)
    for i, a in enumerate(drawn):
        for j in boxes.met_before(i):
            b = drawn[j]
            if a.id in gone or b.id in gone:
                continue
            if a.form is not None and b.form is not None and not may_share(a.form, b.form, SAME):
                continue
            for one, other in ((a, b), (b, a)):
                along = runs_along(one.curve, other.curve)
                if along is None:
                    continue
                middle = one.curve((along[0] + along[1]) / 2)
                at = ((float(middle[0]), float(middle[1])),)
                shared = one.length * (along[1] - along[0])
                if along[1] - along[0] > 1 - 1e-9:
                    found.append(Ailment("doubled", at, shared, (one.id, other.id), [{"act": "drop", "things": [one.id]}]))
                    gone.add(one.id)
                elif one.type == "line":
                    # the part that lies on the other is taken away
                    ends = one.curve(np.array(along))
                    mend = [{"act": "split", "curve": one.id, "at": p.tolist()} for p, t in zip(ends, along, strict=True) if 1e-6 < t < 1 - 1e-6]
                    found.append(Ailment("doubled", at, shared, (one.id, other.id), mend))
                else:
                    continue
                break
    return found


def _gaps(drawing: Drawing, drawn: Sequence[Piece], size: float) -> list[Ailment]:
    """Ends that belong to one curve only and lie so near another such end that the outline looks closed."""
    count: dict[str, list[str]] = defaultdict(list)
    for piece in drawn:
        for p in piece.ends or ():
            count[p].append(piece.id)
    loose = [p for p, users in count.items() if len(users) == 1]
    found: list[Ailment] = []
    if not loose:
        return found
    from scipy.spatial import KDTree

    near = KDTree([drawing.points[p] for p in loose]).query_pairs(WIDEST_GAP * size)
    apart = [
        (float(np.hypot(*np.subtract(drawing.points[loose[i]], drawing.points[loose[j]]))), loose[i], loose[j])
        for j, i in near
        if count[loose[i]] != count[loose[j]] or len(drawn) == 1
    ]
    taken: set[str] = set()
    for gap, p, q in sorted(apart):
        if p in taken or q in taken:
            continue
        taken |= {p, q}
        middle = (np.array(drawing.points[p]) + drawing.points[q]) / 2
        mend = [{"act": "hold", "type": "coincident", "of": [q, p]}]
        found.append(Ailment("gap", ((float(middle[0]), float(middle[1])),), gap, (count[p][0], count[q][0]), mend))
    return found


def _splits(drawing: Drawing, drawn: Sequence[Piece]) -> list[Ailment]:
    """Lines in one line, or arcs on one circle, with nothing at the points between them: a row of them is one ailment."""
    at: dict[str, list[str]] = defaultdict(list)
    for piece in drawn:
        for p in piece.ends or ():
            at[p].append(piece.id)
    users: dict[str, int] = defaultdict(int)
    for curve in drawing.curves:
        for p in curve.points():
            users[p] += 1
    held_by: dict[str, set[str]] = defaultdict(set)
    for hold in drawing.holds:
        for i in hold.of:
            held_by[i].add(hold.id)
    curves = {curve.id: curve for curve in drawing.curves}
    needless: dict[str, list[str]] = {}
    for p, here in at.items():
        if len(here) != 2 or here[0] == here[1] or users[p] != 2 or p in held_by:
            continue
        if held_by[here[0]] & held_by[here[1]]:
            continue  # parted on purpose, and held together
        a, b = curves[here[0]], curves[here[1]]
        in_line = isinstance(a, DrawnLine) and isinstance(b, DrawnLine) and _goes_on(drawing, a, b, p)
        if in_line or (isinstance(a, DrawnArc) and isinstance(b, DrawnArc) and a.center == b.center):
            needless[p] = here
    found = []
    while needless:
        row, places = _row(needless, curves)
        # arcs run one way: the one that comes first stays
        mend = [{"act": "join", "curves": [row[0], following]} for following in row[1:]]
        found.append(Ailment("needless-split", tuple(drawing.points[p] for p in places), 0.0, tuple(row), mend))
    return found


def _row(needless: dict[str, list[str]], curves: Mapping[str, AnyCurve]) -> tuple[list[str], list[str]]:
    """Curves that follow each other, taken out of all that do, and the points between them; the first arc of a row begins it."""
    p, (a, b) = next(iter(needless.items()))
    del needless[p]
    first = curves[a]
    if isinstance(first, DrawnArc) and first.end != p:
        a, b = b, a
    row, places = [a, b], [p]
    for end in (-1, 0):
        while (between := next((q for q, here in needless.items() if row[end] in here), None)) is not None:
            a, b = needless.pop(between)
            following = b if a == row[end] else a
            places.append(between)
            if following in row:
                break  # all the way round
            row.insert(len(row) if end else 0, following)
    return row, places


def _goes_on(drawing: Drawing, a: DrawnLine, b: DrawnLine, point: str) -> bool:
    ways = [np.subtract(drawing.points[next(p for p in line.ends() if p != point)], drawing.points[point]) for line in (a, b)]
    cross = ways[0][0] * ways[1][1] - ways[0][1] * ways[1][0]
    sizes = float(np.hypot(*ways[0]) * np.hypot(*ways[1]))
    return abs(cross) < 1e-6 * sizes and float(ways[0] @ ways[1]) < 0


def _crossed(drawing: Drawing, graph: Graph) -> list[Ailment]:
    """Curves that cross where neither ends. Mended by keeping the largest area and what bounds it."""
    if not graph.crossed or not graph.regions or drawing.use is not None:
        # where areas were chosen, curves run over each other on purpose
        return []
    largest = max(graph.regions, key=lambda region: region.area)
    if len(graph.crossed) == 2 and len({frozenset(pair) for _, pair in graph.crossed}) == 1 and not any(a == b for _, (a, b) in graph.crossed):
        # two curves laid over each other on purpose: areas to choose from, nothing wrong
        return []
    mend = [{"act": "use", "regions": [largest.name]}]
    return [Ailment("crosses-itself", ((float(p[0]), float(p[1])),), 0.0, pair, mend) for p, pair in graph.crossed]
