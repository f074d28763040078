"""Runs of drawn curves, end to end: what a drawing is where no area is asked for."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wander.core.drawing.areas.regions import SAME
from wander.core.drawing.curves.pieces import Piece
from wander.core.drawing.outlines.outline import Stretch
from wander.core.drawing.outlines.runs import OpenRun
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import chained, reverse
from wander.core.geometry.quadrature import length


@dataclass(frozen=True)
class Chain:
    """curve: over [0, 1], (2,). walk: its pieces in their order, and whether each is run forward. closed: it comes back to where it began."""

    curve: Curve
    walk: tuple[tuple[Piece, bool], ...]
    closed: bool

    @property
    def spans(self) -> tuple[tuple[float, str], ...]:
        """Where each of its pieces begins, as a parameter of the curve, and the id of what was drawn there."""
        sizes = np.array([length(piece.curve) for piece, _ in self.walk])
        begins = np.concatenate([[0.0], np.cumsum(sizes)[:-1]]) / sizes.sum()
        return tuple(zip(begins.tolist(), self.curves, strict=True))

    @property
    def curves(self) -> tuple[str, ...]:
        """Ids in their order."""
        return tuple(piece.id for piece, _ in self.walk)


def chains(pieces: Sequence[Piece]) -> list[Chain]:
    """All runs of curves that are not construction, each as long as can be; where three curves meet, runs end."""
    drawn = [piece for piece in pieces if not piece.construction]
    places: dict[tuple[int, int], list[tuple[int, bool]]] = defaultdict(list)
    keys: dict[tuple[int, bool], tuple[int, int]] = {}
    for i, piece in enumerate(drawn):
        for at_end in (False, True):
            keys[i, at_end] = _place(piece.curve, at_end, places)
            places[keys[i, at_end]].append((i, at_end))
    left = set(range(len(drawn)))
    found = []
    # begin where runs end; what is left after those is closed
    ends = [i for i in range(len(drawn)) if any(len(places[keys[i, e]]) != 2 for e in (False, True))]
    for first in [*ends, *range(len(drawn))]:
        if first not in left:
            continue
        left.discard(first)
        forward = len(places[keys[first, False]]) != 2 or len(places[keys[first, True]]) == 2
        walk = [(first, forward)]
        while True:
            here = places[keys[walk[-1][0], walk[-1][1]]]
            on = [(i, e) for i, e in here if i in left] if len(here) == 2 else []
            if not on:
                break
            left.discard(on[0][0])
            walk.append((on[0][0], not on[0][1]))
        found.append(_chain([(drawn[i], way) for i, way in walk]))
    return found


def _place(curve: Curve, at_end: bool, places: dict[tuple[int, int], list[tuple[int, bool]]]) -> tuple[int, int]:
    """The place of an end: rounded, and the neighbour that is there already where rounding parted the two."""
    x, y = curve.points[-1 if at_end else 0] / SAME
    cell = int(np.floor(x)), int(np.floor(y))
    near = [(cell[0] + i, cell[1] + j) for i in (0, -1, 1) for j in (0, -1, 1)]
    return next((n for n in near if n in places), cell)


def _chain(walk: Sequence[tuple[Piece, bool]]) -> Chain:
    run = [piece.curve if forward else reverse(piece.curve) for piece, forward in walk]
    whole = chained(run)
    closed = bool(np.linalg.norm(whole.points[0] - whole.points[-1]) < 2 * SAME)
    return Chain(whole, tuple(walk), closed)


def open_run(pieces: Sequence[Piece]) -> OpenRun | None:
    """The one run that curves which are not construction make, where they make one that is open."""
    found = chains(pieces)
    if len(found) != 1 or found[0].closed:
        return None
    stretches = []
    for piece, forward in found[0].walk:
        ends = piece.ends or ("", "")
        curve = piece.curve if forward else reverse(piece.curve)
        mapped = curve if curve.domain == (0.0, 1.0) else Curve(curve.space.mapped(0.0, 1.0), curve.points, curve.weights)
        stretches.append(Stretch(mapped, piece.even, False, piece.id, ends[0 if forward else 1]))
    last, forward = found[0].walk[-1]
    return OpenRun(tuple(stretches), (last.ends or ("", ""))[1 if forward else 0])
