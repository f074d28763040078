"""Runs and loops of edges: what comes along when one edge is picked."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.bodies.body import Body
from wander.core.geometry.approximate import approximated
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import chained, reverse
from wander.core.geometry.errors import BadInput
from wander.core.geometry.tolerances import Tolerances
from wander.core.shaping.edges import Edge

MEETING = 1e-4
"""Ends of edges closer than this meet, mm."""
RUNS_ON = np.cos(np.radians(2.0))
"""Edges whose directions differ by less than two degrees make one run."""


def smooth_run(body: Body, edge: Edge) -> list[Edge]:
    """The edge and every edge that goes on smoothly from it, in their order."""
    return _walked(edge, body.edges, smoothly=True)


def flat_loop(body: Body, edge: Edge) -> list[Edge]:
    """The closed loop of edges round the flat face that the edge belongs to. Raises BadInput where there is none."""
    flat = [face.name for face in body.faces if face.frame is not None and face.name in (edge.left, edge.right)]
    if not flat:
        raise BadInput("this edge goes round no flat face, so it belongs to no closed loop")
    found = _walked(edge, [e for e in body.edges if flat[0] in (e.left, e.right)], smoothly=False)
    if not _closes(oriented(found)):
        raise BadInput("the edges round this flat face do not close")
    return found


def face_loops(body: Body, face: str) -> list[list[Edge]]:
    """The edges round a face, a closed loop for its outline and for each of its holes. Raises BadInput where they don't close."""
    left = [edge for edge in body.edges if face in (edge.left, edge.right)]
    found = []
    while left:
        loop = _walked(left[0], left, smoothly=False)
        if not _closes(oriented(loop)):
            raise BadInput("the edges round this face do not close")
        used = {edge.name for edge in loop}
        left = [edge for edge in left if edge.name not in used]
        found.append(loop)
    if not found:
        raise BadInput("this face has no edges")
    return found


def as_curve(run: Sequence[Edge], tolerances: Tolerances) -> Curve:
    """The edges of a run as one polynomial curve over [0, 1]."""
    return chained([polynomial(curve, tolerances) for curve in oriented(run)])


def polynomial(curve: Curve, tolerances: Tolerances) -> Curve:
    """Edges that the kernel found may be rational; what is built on them is not."""
    if curve.weights is None and curve.degree <= 5:
        return curve
    return approximated(curve, curve.space.breaks, tolerances.fit, continuity=curve.space.continuity)[0]


def _walked(edge: Edge, among: Sequence[Edge], *, smoothly: bool) -> list[Edge]:
    left = {other.name: other for other in among if other.name != edge.name}
    run, curves = [edge], [edge.curve]
    for at_end in (True, False):
        while not _closes(curves) and (on := _going_on(curves[-1 if at_end else 0], left, at_end=at_end, smoothly=smoothly)) is not None:
            name, curve = on
            place = len(run) if at_end else 0
            run.insert(place, left.pop(name))
            curves.insert(place, curve)
    return run


def oriented(run: Sequence[Edge]) -> list[Curve]:
    """The curves of a run, each in the direction in which the run goes."""
    first = run[0].curve
    if len(run) > 1:
        following = run[1].curve.points[[0, -1]]
        at_start, at_end = (np.linalg.norm(following - end, axis=1).min() for end in first.points[[0, -1]])
        first = reverse(first) if at_start < at_end - MEETING else first
    found = [first]
    for edge in run[1:]:
        behind = found[-1].points[-1]
        at_start, at_end = np.linalg.norm(edge.curve.points[[0, -1]] - behind, axis=1)
        found.append(reverse(edge.curve) if at_end < at_start else edge.curve)
    return found


def _going_on(curve: Curve, known: dict[str, Edge], *, at_end: bool, smoothly: bool) -> tuple[str, Curve] | None:
    """The edge that goes on from one end of a curve, run the same way; without a bend where that is asked for."""
    end, way = (d[0] for d in curve.derivatives(np.array([curve.domain[1 if at_end else 0]]), 1))
    for name, edge in known.items():
        for turned in (edge.curve, reverse(edge.curve)):
            there, direction = (d[0] for d in turned.derivatives(np.array([turned.domain[0 if at_end else 1]]), 1))
            if np.linalg.norm(there - end) >= MEETING:
                continue
            sizes = np.linalg.norm(way) * np.linalg.norm(direction)
            if not smoothly or (sizes > 0 and way @ direction > RUNS_ON * sizes):
                return name, turned
    return None


def _closes(chain: Sequence[Curve]) -> bool:
    return bool(np.linalg.norm(chain[0](chain[0].domain[0]) - chain[-1](chain[-1].domain[1])) < MEETING)
