"""The kernel's edges by the names that the core has for them, and how the faces beside them meet."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.gp import gp_Pnt, gp_Vec
from OCP.TopAbs import TopAbs_EDGE, TopAbs_REVERSED
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS, TopoDS_Edge, TopoDS_Face

from wander.core.geometry.basis import Floats
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.edges import Edge, pair_name
from wander.core.solids.assemble import faces_of
from wander.core.solids.named import NamedShape
from wander.core.solids.topology import Beside, edges_beside, middle_of

LOOKS = 17
"""Places along an edge at which the faces beside it are compared."""
A_HAIR = 1e-3
"""How far from its ends, as a share of its parameters, an edge is looked at first and last: at a corner there may be no normal."""


@dataclass(frozen=True)
class Between:
    """An edge of the kernel's with two faces beside it, and how they meet there.

    points: along it, (LOOKS, 3). steps: length of the edge that each stands for, mm. turns: the angle from one face's normal to the other's, radians:
    above 0 where the body stands out, below where it goes in.
    """

    edge: TopoDS_Edge
    faces: tuple[TopoDS_Face, TopoDS_Face]
    names: tuple[str, str]
    points: Floats
    steps: Floats
    turns: Floats


def named_edges(item: NamedShape) -> list[tuple[Edge, Beside]]:
    """Edges of the kernel's with the one that the core knows; those that it does not know are left out."""
    by_pair: dict[str, list[Edge]] = defaultdict(list)
    for edge in item.edges:
        by_pair[pair_name(edge.left, edge.right)].append(edge)
    found = []
    for beside in edges_beside(item.shape, list(faces_of(item.shape))):
        alike = by_pair.get(pair_name(*beside.pair(item.names)), [])
        if alike:
            middle = middle_of(beside.edge)
            nearest = (
                min(alike, key=lambda edge: float(np.linalg.norm(edge.curve.sampled(16)[1] - middle, axis=1).min())) if len(alike) > 1 else alike[0]
            )
            found.append((nearest, beside))
    return found


def between(beside: Beside, faces: Sequence[TopoDS_Face], names: Sequence[str]) -> Between:
    """How the two faces beside an edge meet."""
    first, second = (faces[i] for i in beside.faces)
    low, high = BRep_Tool.Range_s(beside.edge)
    t = low + (high - low) * np.linspace(A_HAIR, 1 - A_HAIR, LOOKS)
    curve = BRep_Tool.Curve_s(beside.edge, low, high)
    points, ways = np.empty((LOOKS, 3)), np.empty((LOOKS, 3))
    for k, at in enumerate(t.tolist()):
        place, way = gp_Pnt(), gp_Vec()
        curve.D1(at, place, way)
        points[k], ways[k] = place.Coord(), (way.X(), way.Y(), way.Z())
    one, other = _normals(beside.edge, first, t), _normals(beside.edge, second, t)
    # seen from outside, a face lies to the left of its rim
    rim = -ways if _backwards(beside.edge, second) else ways
    into = cross(other, rim)
    angle = np.arctan2(lengths(cross(one, other)), np.sum(one * other, axis=1))
    turns = np.where(np.sum(one * into, axis=1) <= 0, angle, -angle)
    steps = lengths(ways) * (high - low) / LOOKS
    return Between(beside.edge, (first, second), (names[beside.faces[0]], names[beside.faces[1]]), points, steps, turns)


def _backwards(edge: TopoDS_Edge, face: TopoDS_Face) -> bool:
    """Whether the rim of a face, seen from outside, runs against the edge's own direction."""
    explorer = TopExp_Explorer(face, TopAbs_EDGE)
    while explorer.More():
        if explorer.Current().IsSame(edge):
            return TopoDS.Edge(explorer.Current()).Orientation() == TopAbs_REVERSED
        explorer.Next()
    return False


def _normals(edge: TopoDS_Edge, face: TopoDS_Face, t: Floats) -> Floats:
    """Unit normals of a face, outwards, along one of its edges: (m, 3)."""
    surface = BRepAdaptor_Surface(face, False)
    trace = BRep_Tool.CurveOnSurface_s(edge, face, 0.0, 0.0)
    found = np.empty((len(t), 3))
    for k, at in enumerate(t.tolist()):
        place = trace.Value(at)
        point, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
        surface.D1(place.X(), place.Y(), point, du, dv)
        normal = du.Crossed(dv)
        found[k] = (normal.X(), normal.Y(), normal.Z())
    found /= np.maximum(lengths(found), 1e-300)[:, None]
    return -found if face.Orientation() == TopAbs_REVERSED else found
