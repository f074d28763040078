"""Sheets sewn together where their edges lie on each other; what closes becomes a body."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepBuilderAPI import BRepBuilderAPI_Sewing
from OCP.ShapeFix import ShapeFix_Solid
from OCP.TopoDS import TopoDS, TopoDS_Edge, TopoDS_Shape

from wander.core.bodies.body import Body
from wander.core.bodies.sewing import Gap, Sewn
from wander.core.geometry.basis import Floats
from wander.core.solids.assemble import faces_of, shells_of
from wander.core.solids.errors import KernelError
from wander.core.solids.measure import kernel_volume
from wander.core.solids.named import compound, shape_of, solids_of
from wander.core.solids.origins import Origins
from wander.core.solids.readback import body_from

LOOKS = 17
"""Places along an edge at which its distance from another is measured."""
NEAR = 1.0
"""mm within which edges that were left open are told to have a gap between them."""


def sewn(sheets: Sequence[Body], tolerance: float) -> Sewn:
    """One sheet of several, or the body that they close to; edges nearer than the tolerance, mm, become one. Raises KernelError."""
    items = [shape_of(sheet) for sheet in sheets]
    sewing = BRepBuilderAPI_Sewing(tolerance)
    for item in items:
        for face in faces_of(item.shape):
            sewing.Add(face)
    sewing.Perform()
    free = [sewing.FreeEdge(i) for i in range(1, sewing.NbFreeEdges() + 1)]
    shells = shells_of(sewing.SewedShape())
    if not shells:
        raise KernelError("nothing of it could be sewn together")
    closed = not [edge for edge in free if not BRep_Tool.Degenerated_s(edge)]
    shape: TopoDS_Shape = compound(shells)
    if closed:
        solids = [solid for shell in shells for solid in solids_of(ShapeFix_Solid().SolidFromShell(shell))]
        if len(solids) < len(shells):
            raise KernelError("the kernel could not close it to a body")
        shape = compound([solid if kernel_volume(solid) > 0 else solid.Reversed() for solid in solids])
    found = Origins(shape)
    for item in items:
        known = {face.name: face for face in item.faces}
        for face, name in zip(faces_of(item.shape), item.names, strict=True):
            found.kept([sewing.Modified(face) if sewing.IsModified(face) else face], name, known[name])
    body = body_from(shape, found.all(), {}, None)
    return Sewn(body, _closed_gap(sewing), _left(free), len(shells))


def _closed_gap(sewing: BRepBuilderAPI_Sewing) -> float:
    """By how much edges that became one lay apart at most, mm."""
    most = 0.0
    for number in range(1, sewing.NbContigousEdges() + 1):
        couple = [TopoDS.Edge(edge) for edge in sewing.ContigousEdgeCouple(number)]
        lines = [_points(edge) for edge in couple]
        for line in lines[1:]:
            most = max(most, float(_apart(line, lines[0]).max()))
    return most


def _left(free: Sequence[TopoDS_Edge]) -> tuple[Gap, ...]:
    """Edges that stayed open though another one runs beside them: how far it is, and where that is most."""
    lines = [_points(edge) for edge in free]
    found = []
    for number, line in enumerate(lines):
        others = [other for k, other in enumerate(lines) if k != number]
        if not others:
            continue
        apart = np.min([_apart(line, other) for other in others], axis=0)
        if apart.max() < NEAR:
            found.append(Gap(float(apart.max()), line[int(apart.argmax())]))
    return tuple(sorted(found, key=lambda gap: -gap.width))


def _points(edge: TopoDS_Edge) -> Floats:
    low, high = BRep_Tool.Range_s(edge)
    curve = BRep_Tool.Curve_s(edge, low, high)
    return np.array([curve.Value(float(t)).Coord() for t in np.linspace(low, high, LOOKS)])


def _apart(points: Floats, line: Floats) -> Floats:
    """Distances (m,) of points from a polyline."""
    starts, ways = line[:-1], np.diff(line, axis=0)
    share = np.einsum("mkc,kc->mk", points[:, None] - starts, ways) / np.maximum(np.einsum("kc,kc->k", ways, ways), 1e-300)
    feet = starts + np.clip(share, 0.0, 1.0)[..., None] * ways
    return np.asarray(np.linalg.norm(points[:, None] - feet, axis=2).min(axis=1))
