"""What the designer ties together: places that belong to each other in all sections, whatever the shapes say."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import TypeVar

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.shaping.around import Across, bounds_round, places_round, side_at
from wander.core.shaping.girth import Girths
from wander.core.shaping.panels import Panel, extents_of
from wander.core.shaping.shell import NamedFace


@dataclass(frozen=True)
class Tie:
    """Places that belong together in all sections.

    at: parameters of the outlines as drawn, None for a point. line: the line of the skin through them, a curve for each bay.
    """

    at: tuple[float | None, ...]
    line: tuple[Curve, ...]


Shares = TypeVar("Shares", float, Floats)


def on_way_there(shares: Shares, starts: Shares) -> Shares:
    """Shares of open outlines that are gone there and back, as they lie on the way there from the starts."""
    on = (shares - starts) % 1.0
    on = 0.5 - np.abs(on - 0.5)
    return (starts + on) % 1.0


def tied_shares(known: Mapping[int, float], starts: Floats, *, ring: bool = False, within: float = 1.0) -> Floats:
    """Shares of the girths (k,) that a tie goes through: where it is known, and counted from the starts (k,) in proportion between.

    ring: the last section is the first. within: so much of the girth counts, from the start.
    """
    from_start = {n: (at - starts[n]) % 1.0 for n, at in known.items()}
    if not from_start:
        return (starts + within / 2) % 1.0
    if ring:
        round_ = len(starts) - 1
        from_start = {n + turn: at for turn in (-round_, 0, round_) for n, at in from_start.items() if n < round_}
    order = sorted(from_start)
    values = [from_start[order[0]]]
    for before, n in pairwise(order):
        # the shorter way round
        values.append(values[-1] + (from_start[n] - from_start[before] + 0.5) % 1.0 - 0.5)
    return np.asarray((starts + np.interp(np.arange(len(starts)), order, values)) % 1.0, dtype=np.float64)


def ties_of(tied: Sequence[Floats], girths: Girths, leading: Sequence[int], strips: Sequence[Panel], faces: Sequence[NamedFace]) -> tuple[Tie, ...]:
    """What the ties came to: tied as `_tied` has them; strips before any law, faces after."""
    sides = [Across(strip.space, strip.rows[list(leading)], strip.closed, extent) for strip, extent in zip(strips, extents_of(strips), strict=True)]
    shares, bounds = np.stack(tied, axis=1), bounds_round(sides)
    where = places_round(sides, girths(shares), open_=strips[0].open)
    drawn = [girths.as_drawn(row.tolist()) for row in shares.T]
    bays = len(faces) // len(strips)
    found = []
    for at, place in zip(drawn, where, strict=True):
        number, share = side_at(bounds, float(place))
        surfaces = [face.surface for face in faces[number * bays : (number + 1) * bays]]
        line = tuple(Curve(surface.v, surface.u.evaluate(surface.points, np.array([share]))[0]) for surface in surfaces)
        known = dict(zip(leading, at, strict=True))
        found.append(Tie(tuple(known.get(i) for i in range(len(strips[0].rows))), line))
    return tuple(found)
