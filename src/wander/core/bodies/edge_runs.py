"""Runs and loops of edges: what comes along when one edge is picked."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.bodies.body import Body
from wander.core.geometry.approximate import approximated
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import chained, reverse
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame, facing
from wander.core.geometry.quadrature import length
from wander.core.geometry.tolerances import Tolerances
from wander.core.geometry.vectors import cross
from wander.core.shaping.edges import RIM, Edge

MEETING = 1e-4
"""Ends of edges closer than this meet, mm."""
PER_SPAN = 8
"""Places by which it is told whether an edge lies in a plane."""
ALIKE = 1e-9
"""One less the cosine of the angle between two planes that are one."""
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
    found = connected_runs([edge for edge in body.edges if face in (edge.left, edge.right)])
    if not found:
        raise BadInput("this face has no edges")
    if not all(closes(loop) for loop in found):
        raise BadInput("the edges round this face do not close")
    return found


def plane_loop(body: Body, edge: Edge) -> tuple[list[Edge], Frame]:
    """The closed loop that an edge makes with others that lie in one plane with it, whatever faces meet there, and the plane.

    The frame lies in the middle of the loop, which runs round its normal as the edge does; x goes along a straight edge, or towards where a curved
    one begins: however the body turns, the frame turns with it. Of several loops on a straight edge one that goes round more than one face is meant
    before others, and then the shortest. Raises BadInput where there is none.
    """
    found = []
    for normal in _planes_on(body, edge):
        level = float(edge.curve.points[0] @ normal)
        among = [other for other in body.edges if _lies_in(other.curve, normal, level)]
        run = _walked(edge, among, smoothly=False)
        curves = oriented(run)
        if _closes(curves):
            around_one = set.intersection(*({one.left, one.right} for one in run))
            found.append((bool(around_one), sum(length(curve) for curve in curves), run))
    if not found:
        raise BadInput("this edge closes to no loop that lies in a plane")
    _, _, run = min(found, key=lambda loop: loop[:2])
    curves = oriented(run)
    points = np.concatenate([curve.sampled(PER_SPAN)[1][:-1] for curve in curves])
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    around = cross(points - middle, np.roll(points, -1, axis=0) - middle).sum(axis=0)
    begin, end = edge.curve.points[[0, -1]]
    own = curves[[one.name for one in run].index(edge.name)]
    backwards = len(run) > 1 and np.linalg.norm(own.points[0] - begin) > np.linalg.norm(own.points[-1] - begin)
    straight = np.abs(cross(edge.curve.points - begin, end - begin)).max() < MEETING * np.linalg.norm(end - begin)
    return run, facing(middle, -around if backwards else around, end - begin if straight else begin - middle)


def _planes_on(body: Body, edge: Edge) -> list[Floats]:
    """Unit normals of the planes that the edge lies in by itself, or together with an edge that goes on from it."""
    own = _normal(edge.curve.sampled(PER_SPAN)[1])
    if own is not None:
        return [own]
    ends = edge.curve.points[[0, -1]]
    found: list[Floats] = []
    for other in body.edges:
        near = np.linalg.norm(other.curve.points[[0, -1]][:, None] - ends, axis=2).min()
        if other.name == edge.name or near >= MEETING:
            continue
        normal = _normal(np.concatenate([edge.curve.sampled(PER_SPAN)[1], other.curve.sampled(PER_SPAN)[1]]))
        if normal is not None and not any(abs(float(normal @ known)) > 1 - ALIKE for known in found):
            found.append(normal)
    return found


def _normal(points: Floats) -> Floats | None:
    """Of the plane that points (m, 3) lie in; None where they lie in none, or in many."""
    _, spread, ways = np.linalg.svd(points - points.mean(axis=0), full_matrices=False)
    flat = spread[2] < MEETING * np.sqrt(len(points)) and spread[1] > MEETING * np.sqrt(len(points))
    return np.asarray(ways[2]) if flat else None


def _lies_in(curve: Curve, normal: Floats, level: float) -> bool:
    return bool(np.abs(curve.sampled(PER_SPAN)[1] @ normal - level).max() < MEETING)


def chain_of(edges: Sequence[Edge]) -> list[Edge]:
    """The edges one after the other. Raises BadInput where they don't make one run."""
    run = _walked(edges[0], edges, smoothly=False)
    if len(run) < len(edges):
        raise BadInput("these edges do not make one run")
    return run


def connected_runs(edges: Sequence[Edge]) -> list[list[Edge]]:
    """The edges as runs of those that go on from each other, corners and all."""
    left, found = list(edges), []
    while left:
        run = _walked(left[0], left, smoothly=False)
        used = {edge.name for edge in run}
        left = [edge for edge in left if edge.name not in used]
        found.append(run)
    return found


def rim_loop(body: Body, edge: Edge) -> list[Edge]:
    """The closed loop of the rim of a sheet that an edge belongs to. Raises BadInput where it does not close."""
    run = _walked(edge, [other for other in body.edges if RIM in (other.left, other.right)], smoothly=False)
    if not closes(run):
        raise BadInput("the rim does not close there")
    return run


def closes(run: Sequence[Edge]) -> bool:
    """Whether a run of edges comes back to where it begins."""
    return _closes(oriented(run))


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
