"""Openings closed: flat where their edges lie in a plane and nothing else is asked, else by a surface that goes on from what lies beside them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeFilling
from OCP.GeomAbs import GeomAbs_Shape
from OCP.gp import gp_Ax3, gp_Dir, gp_Pln, gp_Pnt
from OCP.TopoDS import TopoDS, TopoDS_Edge, TopoDS_Face

from wander.core.bodies.body import Body
from wander.core.bodies.patching import Patched, Side
from wander.core.shaping.bridging import Meets
from wander.core.solids.assemble import faces_of
from wander.core.solids.edges import named_edges
from wander.core.solids.errors import KERNEL_RAISES, KernelError
from wander.core.solids.faces import face_from
from wander.core.solids.named import shape_of
from wander.core.solids.readback import Origin, body_from
from wander.core.solids.topology import Beside, listed, middle_of, shell_of

FLAT = 1e-4
"""mm within which edges lie in one plane."""
OFF = 1e-3
"""mm by which a surface may miss its edges."""
_ORDERS = {Meets.POSITION: GeomAbs_Shape.GeomAbs_C0, Meets.TANGENT: GeomAbs_Shape.GeomAbs_G1, Meets.CURVATURE: GeomAbs_Shape.GeomAbs_G2}
_TRIES = ((30, 2), (60, 3))
"""Places on each edge, and rounds, with which the kernel is asked."""


def patched(sides: Sequence[Side], meets: Meets, maker: str) -> Patched:
    """The sheet that fills a closed loop of edges. Raises KernelError."""
    edges = [_found(side) for side in sides]
    flat = _plane(sides)
    if meets is Meets.POSITION and flat is not None:
        return Patched(_sheet(_flat(edges, flat), maker), flat=True)
    said = KernelError("the kernel found no surface through these edges")
    for count, rounds in _TRIES:
        try:
            face = _filled(edges, meets, count, rounds)
            return Patched(_sheet(face, maker), flat=False)
        except KernelError as error:
            said = error
    raise said


def _found(side: Side) -> tuple[TopoDS_Edge, TopoDS_Face]:
    """The kernel's edge that is meant, and the face beside it that the surface goes on from."""
    item = shape_of(side.body)
    faces = list(faces_of(item.shape))
    near: list[tuple[float, Beside]] = [
        (float(np.linalg.norm(side.edge.curve.sampled(16)[1] - middle_of(beside.edge), axis=1).min()), beside)
        for edge, beside in named_edges(item)
        if edge.name == side.edge.name
    ]
    if not near:
        raise KernelError("one of the edges is not on the kernel's body")
    beside = min(near, key=lambda each: each[0])[1]
    return beside.edge, next((faces[i] for i in beside.faces if item.names[i] == side.face), faces[beside.faces[0]])


def _plane(sides: Sequence[Side]) -> gp_Pln | None:
    points = np.concatenate([side.edge.curve.sampled(12)[1] for side in sides])
    middle = points.mean(axis=0)
    normal = np.linalg.svd(points - middle, full_matrices=False)[2][2]
    if np.abs((points - middle) @ normal).max() > FLAT:
        return None
    return gp_Pln(gp_Ax3(gp_Pnt(*middle.tolist()), gp_Dir(*normal.tolist())))


def _flat(edges: Sequence[tuple[TopoDS_Edge, TopoDS_Face]], plane: gp_Pln) -> TopoDS_Face:
    wire = BRepBuilderAPI_MakeWire()
    wire.Add(listed(edge for edge, _ in edges))
    if not wire.IsDone():
        raise KernelError("the edges do not close")
    made = BRepBuilderAPI_MakeFace(plane, wire.Wire(), True)
    if not made.IsDone():
        raise KernelError("the kernel could not make a flat face inside these edges")
    return made.Face()


def _filled(edges: Sequence[tuple[TopoDS_Edge, TopoDS_Face]], meets: Meets, count: int, rounds: int) -> TopoDS_Face:
    made = BRepOffsetAPI_MakeFilling(3, count, rounds, False, 1e-5, 1e-4, 1e-3, 0.01, 8, 30)
    try:
        for edge, face in edges:
            if meets is Meets.POSITION:
                made.Add(edge, GeomAbs_Shape.GeomAbs_C0, True)
            else:
                made.Add(edge, face, _ORDERS[meets], True)
        made.Build()
    except KERNEL_RAISES as error:
        raise KernelError("the kernel found no surface through these edges") from error
    if not made.IsDone():
        raise KernelError("the kernel found no surface through these edges")
    if made.G0Error() > OFF:
        raise KernelError(f"the best surface that the kernel found leaves the edges by {made.G0Error():.3g} mm")
    return TopoDS.Face(made.Shape())


def _sheet(face: TopoDS_Face, maker: str) -> Body:
    name = f"{maker}/patch"
    return body_from(shell_of([face]), [Origin(name, face_from(face, name))], {}, None)
