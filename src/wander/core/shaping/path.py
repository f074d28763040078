"""A path that a section is swept along: smooth pieces one after the other, with corners between them.

A straight run that ends at a corner is a piece of its own: what is carried along it can be led on to the plane that halves the corner.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from wander.core.drawing.outlines.loop import by_age
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import join, move_seam, split
from wander.core.geometry.errors import BadInput
from wander.core.geometry.quadrature import ROUGHLY, at_length, lengths_at, span_lengths
from wander.core.geometry.space import SplineSpace
from wander.core.shaping.naming import counted

TURNED = 1e-6
"""Between unit tangents: more is a corner."""
SLIGHT = 1e-3
"""Between unit tangents: less of a corner is none that was meant, 0.06 degrees."""
ROOM = 0.25
"""Of a span that a slight corner may take of it."""
ASKED = 256
"""Places along a piece at which it is asked what it was drawn as."""
STRAIGHT = 1e-9
"""Of its length: a run that strays no further is straight."""
SHORTEST = 1e-6
"""mm: a path that is no longer is none."""


@dataclass(frozen=True)
class Path:
    """pieces: smooth, each over [0, 1] and beginning where the one before ends. corners: numbers of the pieces that begin at a corner.

    closed: the last one ends where the first begins. names: of the pieces, by what they were drawn as, else by their count.
    """

    pieces: tuple[Curve, ...]
    corners: frozenset[int] = frozenset()
    closed: bool = False
    names: tuple[str, ...] = ()

    @cached_property
    def lengths(self) -> Floats:
        """Of the pieces, mm."""
        return np.array([span_lengths(piece).sum() for piece in self.pieces])

    @property
    def length(self) -> float:
        return float(self.lengths.sum())

    @cached_property
    def begins(self) -> Floats:
        """How far along the path its pieces begin, and where the last one ends, mm."""
        return np.concatenate([[0.0], np.cumsum(self.lengths)])

    def shares(self, piece: int, parameters: Floats) -> Floats:
        """How far along the whole path parameters (m,) of a piece are, 0 to 1."""
        return (self.begins[piece] + lengths_at(self.pieces[piece], parameters)) / self.length

    def places(self, shares: Floats) -> tuple[Floats, Floats]:
        """Places and unit ways (m, 3) at shares of the length (m,)."""
        along = np.clip(shares, 0.0, 1.0) * self.length
        which = np.clip(np.searchsorted(self.begins, along, side="right") - 1, 0, len(self.pieces) - 1)
        found = np.empty((2, len(along), 3))
        for number, piece in enumerate(self.pieces):
            own = which == number
            if own.any():
                found[:, own] = piece.derivatives(at_length(piece, along[own] - self.begins[number]), 1)
        return found[0], found[1] / np.linalg.norm(found[1], axis=1)[:, None]

    def parameter(self, piece: int, share: float) -> float:
        """Of a piece, at a share of the whole length."""
        return float(at_length(self.pieces[piece], np.array([share * self.length - self.begins[piece]]))[0])

    @property
    def goes_on(self) -> bool:
        """It closes, and without a corner there."""
        return self.closed and 0 not in self.corners


@dataclass(frozen=True)
class Merged:
    """A curve whose slightest corners were taken for smooth. places: where they were (n, 3). off: how far it is from the one before, mm."""

    curve: Curve
    places: Floats
    off: float


def without_slight_corners(curve: Curve, tolerance: float) -> Merged | None:
    """Pieces that meet at less than `SLIGHT`, as edges of a body or what was drawn by eye may, merged within the tolerance (mm).

    Beside each a short stretch is replaced by a cubic; all else, corners that are meant too, stays as it is. None where there is nothing to merge.
    """
    if curve.weights is not None:
        return None
    curve = _unit(curve)
    slight = [(bend, _turned(curve, bend)) for bend in bends_of(curve) if _turned(curve, bend) < SLIGHT]
    if not slight:
        return None
    found, rest, off = [], curve, 0.0
    for bend, turned in slight:
        beside = np.array(
            [before for before in curve.space.breaks if before < bend][-1:] + [after for after in curve.space.breaks if after > bend][:1]
        )
        speeds = np.linalg.norm(curve.derivatives(np.array([np.nextafter(bend, 0.0), bend]), 1)[1], axis=1)
        # the cubic leaves the corner by a quarter of its turn times half its length
        reach = np.minimum(ROOM * np.abs(beside - bend), 2 * tolerance / turned / speeds)
        before, rest = split(rest, bend - reach[0])
        _, rest = split(rest, bend + reach[1])
        found += [before, _blend(curve, bend - reach[0], bend + reach[1])]
        off = max(off, turned * float((reach * speeds).max()) / 2)
    found.append(rest)
    whole = join(found, [piece.domain[1] - piece.domain[0] for piece in found], [False] * (len(found) - 1))
    return Merged(_unit(whole), curve(np.array([bend for bend, _ in slight])), off)


def _blend(curve: Curve, low: float, high: float) -> Curve:
    """The cubic over a stretch of a curve that leaves and arrives as it does."""
    places, slopes = curve.derivatives(np.array([low, high]), 1)
    pull = (high - low) / 3 * slopes
    space = SplineSpace.from_breaks(3, [low, high])
    return Curve(space, np.stack([places[0], places[0] + pull[0], places[1] - pull[1], places[1]]))


def _turned(curve: Curve, knot: float) -> float:
    """Between the ways before and after a knot, radians."""
    return float(np.linalg.norm(_way(curve, np.nextafter(knot, 0.0)) - _way(curve, knot)))


def path_along(curve: Curve, *, closed: bool, spans: Sequence[tuple[float, str]] = ()) -> Path:
    """The pieces of a curve in space between its corners; that of a closed one begin at a corner, where it has any.

    spans: where each curve of a drawing that it was begins, as a parameter, and its id. Raises BadInput where it has no length or stands still.
    """
    if curve.weights is not None:
        raise BadInput("a path is a polynomial curve")
    curve = Curve(curve.space.mapped(0.0, 1.0), curve.points)
    sizes = span_lengths(curve, ROUGHLY)
    if sizes.sum() < SHORTEST:
        raise BadInput("the path has no length")
    if sizes.min() < SHORTEST:
        raise BadInput("the path stands still on its way; leave out points that lie on each other")
    bends = bends_of(curve)
    cornered = closed and bool(np.linalg.norm(_way(curve, 0.0) - _way(curve, np.nextafter(1.0, 0.0))) > TURNED)
    seam = 0.0
    if closed and not cornered and bends:
        seam = bends[0]
        curve = move_seam(curve, seam)
        bends, cornered = bends_of(curve), True
    pieces: list[Curve] = []
    corners = {0} if cornered else set()
    runs = _split(curve, bends)
    for number, run in enumerate(runs):
        if number:
            corners.add(len(pieces))
        pieces += _with_straight_ends(run, start=bool(number) or cornered, end=number < len(runs) - 1 or cornered)
    bounds = [(seam + piece.domain[0], seam + piece.domain[1]) for piece in pieces]
    return Path(tuple(_unit(piece) for piece in pieces), frozenset(corners), closed, _names(bounds, spans))


def _names(bounds: Sequence[tuple[float, float]], spans: Sequence[tuple[float, str]]) -> tuple[str, ...]:
    """A piece is called by the oldest of the curves that it was drawn as, so that it keeps its name when others come before it."""
    if not spans:
        return tuple(counted([""] * len(bounds)))
    begins = np.array([at for at, _ in spans])
    found = []
    for low, high in bounds:
        shares = (np.linspace(low, high, ASKED + 2)[1:-1]) % 1.0
        own = np.unique(np.clip(np.searchsorted(begins, shares, side="right") - 1, 0, len(spans) - 1))
        found.append(min((spans[number][1] for number in own.tolist()), key=by_age))
    return tuple(counted(found))


def is_straight(curve: Curve) -> bool:
    first, last = curve.points[[0, -1]]
    reach = float(np.linalg.norm(last - first))
    if reach < SHORTEST:
        return False
    off = curve.points - first
    along = off @ (last - first) / reach
    beside = np.linalg.norm(off - along[:, None] * (last - first) / reach, axis=1).max()
    return bool(beside < STRAIGHT * reach and np.all(np.diff(along) > -STRAIGHT * reach))


def _with_straight_ends(run: Curve, *, start: bool, end: bool) -> list[Curve]:
    """A smooth run in parts: what is straight at its start and at its end is parted where that is asked for."""
    if not (start or end):
        return [run]
    first, last = 0, len(run.space.breaks) - 2
    spans = _split(run, run.space.breaks[1:-1].tolist())
    straight = [is_straight(span) for span in spans]
    if not all(straight):
        first = straight.index(False) if start else 0
        last = len(spans) - 1 - straight[::-1].index(False) if end else last
    inside = run.space.breaks[[i for i in (first, last + 1) if 0 < i < len(spans)]]
    return _split(run, inside.tolist())


def bends_of(curve: Curve) -> list[float]:
    """Inner knots where the tangent turns."""
    space = curve.space
    able = space.breaks[1:-1][space.multiplicities[1:-1] >= space.degree]
    return [knot for knot in able.tolist() if _turned(curve, knot) > TURNED]


def _way(curve: Curve, t: float) -> Floats:
    slope = curve.derivatives(float(t), 1)[1]
    return np.asarray(slope / max(float(np.linalg.norm(slope)), 1e-300), dtype=np.float64)


def _split(curve: Curve, at: Sequence[float]) -> list[Curve]:
    found, rest = [], curve
    for knot in at:
        piece, rest = split(rest, knot)
        found.append(piece)
    return [*found, rest]


def _unit(curve: Curve) -> Curve:
    return Curve(curve.space.mapped(0.0, 1.0), curve.points)
