"""How a skin goes from section to section: as evenly curved as can be without swelling between two sections beyond what both ask for.

Along the body every line of the skin is a cubic with a knot at each station and two between neighbours, so that value, slope and second derivative
can be chosen at each station. What lies round the line of centres begins as the line whose bending changes least; as far as that swells, as the one
that is bent least (by chord, each bay counting by its own size). From there it is bent as little as it takes to stay, in every direction round the
section, between the two sections that bound a bay, but for a hundredth of the larger step beside them, and not to bend back where both turn to one
side. That is a quadratic programme with a single
solution. It is solved in its dual, where only the places that are held count, by non-negative least squares (Lawson & Hanson 1974, chapter 23, least
distance programming). Once it is solved, every line is one linear map of the sections.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from wander.core.geometry.basis import Floats
from wander.core.geometry.interpolate import End, cubic_system
from wander.core.geometry.space import SplineSpace
from wander.core.geometry.vectors import lengths
from wander.core.shaping.bending import Row, by_bay, change, scales, units_of
from wander.core.shaping.bounds import NEVER, Bounds
from wander.core.shaping.skin import Skin
from wander.core.shaping.unit_span import IN_CONTROLS, INNER, VALUES

ASTRAY = 0.05
"""The least change of bending of the centres is given up from this share of the way between two on, and altogether at twice that."""
LONGEST, RUN, OVERLAP = 14, 6, 4
"""Sections that are sought all at once; of a longer row so many, with so many on both sides that are found anew with their own."""


@dataclass(frozen=True)
class Along:
    """How control points along the body follow from the sections. space: along it.

    centers, shapes: matrices (n, k) that take centres, and what lies round them, to control points. slopes: (n, 2), the same for slopes that are
    given at the two ends to what lies round the centres. bends: (n, 2), of second derivatives that are added at the two ends, and felt in the bay
    there alone.
    """

    space: SplineSpace
    centers: Floats
    shapes: Floats
    slopes: Floats
    bends: Floats


def along(
    places: Floats,
    shapes: Floats,
    *,
    swings: Floats,
    held: Mapping[int, Floats],
    slack: Floats | None = None,
    length: float = 1.0,
    ring: bool = False,
    skin: Skin = Skin.CALM,
) -> Along:
    """The maps from sections to skin.

    places: parameters of the sections (k,), rising. shapes: places round each section, from its centre, (k, m, 3), which belong together. swings:
    of `swinging`, for the centres. held: for an end (0 or -1) the slopes that the shapes have there, (m, 3), by the parameter. slack: for each bay
    (k - 1,) how much it may keep of the swelling that it would have by itself, 0 to 1. length: of one of the parameter, mm. ring: the last section is
    the first, and the skin goes on through it. skin: any but a batten.
    """
    k, steps = len(places), np.diff(places)
    if ring:
        states = _ring_states(steps * length, shapes[:-1], slack, skin)
    else:
        states = _states(steps * length, shapes, {index: slope / length for index, slope in held.items()}, slack, skin)
    states *= np.tile(length ** np.arange(3.0), k)[:, None]
    states[:, k:] /= length
    breaks = np.append((places[:-1, None] + steps[:, None] * np.array([0.0, *INNER])).ravel(), places[-1])
    bends = np.zeros((3 * k, 2))
    bends[2, 0] = bends[-1, 1] = 1.0
    controls = _controls(steps, np.concatenate([states, swings, bends], axis=1))
    return Along(SplineSpace.from_breaks(3, breaks), controls[:, k + 2 : -2], controls[:, :k], controls[:, k : k + 2], controls[:, -2:])


def _controls(steps: Floats, states: Floats) -> Floats:
    """Control points (3 k, ...) of what has these values, slopes and second derivatives at the stations in turn, (3 k, ...).

    Each is the blossom of the three knots that it stands for, about the middle one (The NURBS Book, section 5.2; Ramshaw 1989).
    """
    k = len(steps) + 1
    before, after = np.append(0.0, steps), np.append(steps, 0.0)
    value, slope, second = states[0::3], states[1::3], states[2::3]
    found = np.empty_like(states)
    found[0], found[-1] = value[0], value[-1]
    found[1::3] = value + ((after - before) / 9)[:, None] * slope - (before * after / 54)[:, None] * second
    own = by_bay(states) * units_of(steps)[..., None]
    inner = (IN_CONTROLS @ own.transpose(1, 0, 2).reshape(6, -1)).reshape(2, k - 1, -1)
    found[2:-1:3], found[3:-1:3] = inner
    return found


def _states(steps: Floats, shapes: Floats, held: Mapping[int, Floats], slack: Floats | None, skin: Skin) -> Floats:
    """Value, slope and second derivative at each station in turn, (3 k, k + 2), from shapes and given slopes.

    What is far off has next to no say: a long row is sought in runs that overlap.
    """
    k = len(shapes)
    if k <= LONGEST:
        row = Row(steps, shapes, held)
        return row.states(Bounds(row, slack, skin).within())
    states = np.zeros((3 * k, k + 2))
    for first in range(0, k, RUN):
        low, high = max(first - OVERLAP, 0), min(first + RUN + OVERLAP, k)
        ends = {index: slope for index, slope in held.items() if (low == 0 if index == 0 else high == k)}
        found = _states(steps[low : high - 1], shapes[low:high], ends, None if slack is None else slack[low : high - 1], skin)
        own = slice(first - low, min(first + RUN, k) - low)
        rows = slice(3 * first, 3 * first + 3 * (own.stop - own.start))
        states[rows, low:high] = found[3 * own.start : 3 * own.stop, : high - low]
        states[rows, k:] = found[3 * own.start : 3 * own.stop, high - low :]
    return states


def _ring_states(steps: Floats, shapes: Floats, slack: Floats | None, skin: Skin) -> Floats:
    """The same round a ring of sections (k, m, 3), the first of which is its last too: (3 k + 3, k + 3).

    Each is sought with as many before as behind it, so that it is the same wherever the ring is thought to begin.
    """
    k = len(shapes)
    states = np.zeros((3 * k + 3, k + 3))
    for i in range(k):
        near = np.arange(i - RUN, i + RUN + 1) % k
        found = _states(steps[near[:-1]], shapes[near], {}, None if slack is None else slack[near[:-1]], skin)
        own = slice(3 * RUN, 3 * RUN + 3)
        np.add.at(states[3 * i : 3 * i + 3].T, near, found[own, : len(near)].T)
    # it ends as it begins, and counts what is the first as the last there, so that every line is met to the last bit
    states[-3:] = states[:3]
    states[-3, [0, k]] = 0.0, 1.0
    return states


def ring_swinging(places: Floats) -> Floats:
    """As `swinging`, where the last section is the first: the cubic comes to its end as it began."""
    space, system = cubic_system(places, End.PERIODIC)
    controls = np.linalg.inv(system)[:, : len(places)]
    return np.stack([space.matrix(places, order) @ controls for order in range(3)], axis=1).reshape(-1, len(places))


def swinging(places: Floats) -> Floats:
    """Values, slopes and second derivatives of the natural cubic through the sections at each in turn (3 k, k): what the centres swing along."""
    k, steps = len(places), np.diff(places)
    found = np.zeros((k, 3, k))
    stations, bays = np.arange(k), np.arange(k - 1)
    found[stations, 0, stations] = 1.0
    rises = np.zeros((k - 1, k))
    rises[bays, bays], rises[bays, bays + 1] = -1 / steps, 1 / steps
    if k > 2:
        # second derivatives, none at the ends: what each bay turns by (The NURBS Book, 9.2.3, written for second derivatives)
        turns = np.zeros((k - 2, k - 2))
        inner = bays[:-1]
        turns[inner, inner] = (steps[:-1] + steps[1:]) / 3
        turns[inner[1:], inner[:-1]] = turns[inner[:-1], inner[1:]] = steps[1:-1] / 6
        found[1:-1, 2] = np.linalg.solve(turns, np.diff(rises, axis=0))
    found[:-1, 1] = rises - (steps / 6)[:, None] * (2 * found[:-1, 2] + found[1:, 2])
    found[-1, 1] = rises[-1] + steps[-1] / 6 * found[-2, 2]
    return found.reshape(3 * k, k)


def even_swinging(places: Floats, centers: Floats) -> Floats:
    """As `swinging`, for centres (k, 3), along what changes its bending least, which does not straighten towards its ends.

    Nothing holds it between sections: the further it strays from the natural cubic, the nearer it is to that.
    """
    natural, k, steps = swinging(places), len(places), np.diff(places)
    if k < 3 or np.abs(natural[2::3] @ centers).max() * steps.max() ** 2 < NEVER * np.abs(centers).max():
        return natural  # two, or a straight row: there is nothing to bend
    even, free = np.zeros((3 * k, k)), np.flatnonzero(np.arange(3 * k) % 3)
    even[::3] = np.eye(k)
    scale = scales(steps, free)
    form = change(steps, steps)[free]
    even[free] = scale[:, None] * np.linalg.solve(scale[:, None] * form[:, free] * scale, -scale[:, None] * (form @ even))
    apart = VALUES @ (by_bay((even - natural) @ centers) * units_of(steps)[..., None])
    strays = lengths(apart).max(axis=1) / np.maximum(lengths(np.diff(centers, axis=0)), NEVER)
    return natural + float(np.clip(2.0 - strays.max() / ASTRAY, 0.0, 1.0)) * (even - natural)
