"""Runs of edges that are rounded or cut off: which way they go, so that a size that changes along them is always at the same end."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wander.core.bodies.body import Body
from wander.core.bodies.bridged_runs import Choice, choices
from wander.core.bodies.edge_runs import closes, smooth_run
from wander.core.geometry.basis import Floats
from wander.core.geometry.tolerances import Tolerances
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.edges import Edge
from wander.core.shaping.runs_paired import Run

STEPS = 64
"""Pieces of equal length in which a run is told."""
STEEPEST = 20.0
"""Largest reach that is told: where faces nearly fold back a blend goes on and on."""


@dataclass(frozen=True)
class BlendRun:
    """places: (m, 3) along it, all as far apart; the last is the first again where it closes.

    inwards: unit directions (m, 3) square to it along the first of the faces beside it. reach: (m,) how far along that a fillet of radius 1 goes.
    """

    places: Floats
    inwards: Floats
    reach: Floats
    closed: bool

    def shares(self, points: Floats) -> Floats:
        """Of the length, where points (m, 3) that lie near it in their order are: along a closed run no step of them goes over where it begins."""
        a, b = self.places[:-1], self.places[1:]
        way = b - a
        along = np.clip(((points[:, None] - a) * way).sum(axis=2) / np.maximum((way * way).sum(axis=1), 1e-300), 0.0, 1.0)
        off = lengths(points[:, None] - a - along[..., None] * way)
        nearest = off.argmin(axis=1)
        found = (nearest + along[np.arange(len(points)), nearest]) / len(a)
        if self.closed and len(found) > 2:
            # what lies where the run begins lies where it ends as well: it is told by what is beside it
            for end, beside in ((0, 1), (-1, -2)):
                found[end] += np.round(found[beside] - found[end])
        return np.clip(found, 0.0, 1.0)


def blend_run(body: Body, edge: Edge, tolerances: Tolerances) -> BlendRun:
    """What goes on smoothly from an edge, and itself, begun at it where it closes.

    It goes so that of the two faces beside it the one whose name comes first in the alphabet lies to the left, seen from outside: what made the faces
    gives the direction, and not how the kernel happens to run the edge. Raises NoFace.
    """
    run = smooth_run(body, edge)
    found = choices(body, run, tolerances)
    pieces, names, closed = tuple(choice.curve for choice in found), tuple(each.name for each in run), closes(run)
    sides = [_sides(choice) for choice in found]
    left, right = (Run(pieces, tuple(c.looks[each[k]] for c, each in zip(found, sides, strict=True)), names, closed) for k in (0, 1))
    own = names.index(edge.name)
    begin = left.begins[own]
    if min(found[own].faces, key=lambda face: face.name) is not found[own].faces[sides[own][0]]:
        left, right, begin = right.turned(), left.turned(), 1 - left.begins[own + 1]
    if closed and begin % 1.0:
        left, right = left.begun_at(begin), right.begun_at(begin)
    # a hair inside the ends, where faces may meet a third one
    shares = np.linspace(0.0, 1.0, STEPS + 1)
    (near, outwards), (far, _) = (_behind(each, np.clip(shares, 1e-6, 1 - 1e-6)) for each in (left, right))
    turn = np.arccos(np.clip((near * far).sum(axis=1), -1.0, 1.0))
    return BlendRun(left.everywhere(shares), -outwards, np.minimum(np.tan(turn / 2), STEEPEST), closed)


def _sides(choice: Choice) -> tuple[int, int]:
    """Which of its faces lies to the left of an edge that is gone along, seen from outside, and which to the right."""
    points, ways = choice.curve.derivatives(np.array([sum(choice.curve.domain) / 2]), 1)
    ways = ways / lengths(ways)[:, None]
    behind = [look(points, ways) for look in choice.looks]
    to_the_right = [float((cross(each.normals, ways) * each.outwards).sum()) for each in behind]
    return int(np.argmin(to_the_right)), int(np.argmax(to_the_right))


def _behind(run: Run, shares: Floats) -> tuple[Floats, Floats]:
    """Normals of what lies behind a run at shares of its length, and the ways out of it, (m, 3) each."""
    which = np.clip(np.searchsorted(run.begins, shares, side="right") - 1, 0, len(run.pieces) - 1)
    normals, outwards = np.empty((2, len(shares), 3))
    for number in np.unique(which).tolist():
        here = which == number
        found = run.looks[number](*run.places(shares[here], number))
        normals[here], outwards[here] = found.normals, found.outwards
    return normals, outwards
