"""From the kernel's shape back to a body: faces with their rims, edges with their curves, a mesh, and measures."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt
from OCP.Bnd import Bnd_Box
from OCP.BRep import BRep_Tool
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepGProp import BRepGProp
from OCP.BRepTools import BRepTools, BRepTools_WireExplorer
from OCP.Geom import Geom_TrimmedCurve
from OCP.GeomConvert import GeomConvert
from OCP.gp import gp_Pnt
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_REVERSED, TopAbs_WIRE
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS, TopoDS_Edge, TopoDS_Face, TopoDS_Shape

from wander.core.bodies.body import Along, Body, Exact, Face
from wander.core.bodies.measures import Measures, Source, of_mesh
from wander.core.bodies.watertight import open_sides
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.tolerances import DEFAULT
from wander.core.shaping.display import DisplayMesh
from wander.core.shaping.edges import Edge, numbered, pair_name
from wander.core.solids.assemble import faces_of
from wander.core.solids.curves import curve_from
from wander.core.solids.errors import KernelError
from wander.core.solids.integrals import moments_of
from wander.core.solids.meshing import FaceMesh, face_meshes, joined, polyline_of
from wander.core.solids.named import sheets_of, solids_of, to_bytes
from wander.core.solids.part_names import plain, short, told_by_neighbours
from wander.core.solids.topology import Beside, edges_beside, edges_of

RIM_STEPS = 16
VOLUME_ERROR = 1e-7
AREA_ERROR = 1e-6
"""Relative, of the kernel's integrals."""
SMOOTH = np.cos(np.radians(0.1))
"""Normals on both sides of an edge, read off the mesh, that agree so nearly belong to one smooth run."""


@dataclass(frozen=True)
class Origin:
    """Where a face of the shape comes from. name: of the face that it is, or is a part of; face: what the core knew of that one."""

    name: str
    face: Face


def body_from(shape: TopoDS_Shape, origins: Sequence[Origin], marks: dict[int, str], along: Along | None) -> Body:
    """The body of a shape made of solids, or the sheet of one made of shells.

    origins: of its faces in the order of `faces_of`. marks: what told edges apart before, by their place among the edges of `edges_of`. Raises
    KernelError when the kernel itself finds the shape not valid, or its volume is not that of its mesh.
    """
    if not BRepCheck_Analyzer(shape).IsValid():
        raise KernelError("the kernel finds the body not valid")
    shapes = list(faces_of(shape))
    beside = edges_beside(shape, shapes)
    names = told_by_neighbours([origin.name for origin in origins], _neighbours(len(shapes), beside, origins), lambda: _centres(shapes))
    faces = tuple(
        replace(origin.face, name=name, rims=_rims(face, closed=origin.face.rims is None), turned=face.Orientation() == TopAbs_REVERSED)
        for face, origin, name in zip(shapes, origins, names, strict=True)
    )
    meshes = face_meshes(shape, shapes, faces, DEFAULT.display)
    edges = _edges(beside, names, marks, shapes, meshes)
    solids, box = len(list(solids_of(shape))), _box(shapes, meshes)
    mesh = joined(meshes, names, [(edge.name, line) for edge, line, _ in edges if not edge.smooth], closed=solids > 0)
    if solids:
        _refuse_open(mesh)
    near = replace(of_mesh(mesh), closed=solids > 0)
    measures = _measures(shapes, faces, near, solids or len(list(sheets_of(shape))), box)
    exact = Exact(to_bytes(shape), tuple(names), faces, tuple(edge for edge, _, _ in edges), mesh, np.eye(3), np.zeros(3))
    return Body(measures, exact=(exact,), along=along)


def _refuse_open(mesh: DisplayMesh) -> None:
    gaps = open_sides(mesh)
    if len(gaps):
        raise KernelError("the kernel left the body open at ({:.4g}, {:.4g}, {:.4g})".format(*gaps[0]))


def _neighbours(count: int, beside: Sequence[Beside], origins: Sequence[Origin]) -> list[frozenset[str]]:
    found: list[set[str]] = [set() for _ in range(count)]
    for item in beside:
        a, b = item.faces
        found[a].add(origins[b].name)
        found[b].add(origins[a].name)
    return [frozenset(names) for names in found]


def _centres(faces: Sequence[TopoDS_Face]) -> Floats:
    found = []
    for face in faces:
        properties = GProp_GProps()
        BRepGProp.SurfaceProperties_s(face, properties)
        center = properties.CentreOfMass()
        found.append((center.X(), center.Y(), center.Z()))
    return np.array(found)


def _rims(face: TopoDS_Face, *, closed: bool) -> tuple[Floats, ...]:
    """The outer wire first, then those of the holes, as polygons in the parameters of the surface."""
    outer = BRepTools.OuterWire_s(face)
    explorer = TopExp_Explorer(face, TopAbs_WIRE)
    wires = []
    while explorer.More():
        wires.append(TopoDS.Wire(explorer.Current()))
        explorer.Next()
    wires.sort(key=lambda wire: not wire.IsSame(outer))
    rims = []
    for wire in wires:
        points = []
        walk = BRepTools_WireExplorer(wire, face)
        while walk.More():
            edge = walk.Current()
            curve = BRep_Tool.CurveOnSurface_s(edge, face, 0.0, 0.0)
            low, high = BRep_Tool.Range_s(edge)
            steps = np.linspace(low, high, RIM_STEPS + 1)
            if edge.Orientation() == TopAbs_REVERSED:
                steps = steps[::-1]
            points += [(p.X(), p.Y()) for p in (curve.Value(float(t)) for t in steps[:-1])]
            walk.Next()
        rims.append(np.array(points))
    return tuple(rims)


def _edges(
    beside: Sequence[Beside], names: Sequence[str], marks: dict[int, str], shapes: Sequence[TopoDS_Face], meshes: Sequence[FaceMesh]
) -> list[tuple[Edge, Floats, int]]:
    """Edges with their polylines, as the mesh has them."""
    pairs = [item.pair(names) for item in beside]
    further = [marks.get(k) or short("+".join(sorted(plain(names[i]) for i in item.near))) for k, item in enumerate(beside)]
    full = numbered([pair_name(*pair) for pair in pairs], further)
    found = []
    for k, (item, (left, right), name) in enumerate(zip(beside, pairs, full, strict=True)):
        a, b = (polyline_of(item.edge, shapes[i], meshes[i]) for i in item.faces)
        smooth = not item.rim and (item.faces[0] == item.faces[1] or bool(np.all(np.sum(a.normals * b.normals, axis=1) > SMOOTH)))
        found.append((Edge(name, _curve(item.edge), left, right, smooth), a.points, k))
    return found


def _curve(edge: TopoDS_Edge) -> Curve:
    low, high = BRep_Tool.Range_s(edge)
    return curve_from(GeomConvert.CurveToBSplineCurve_s(Geom_TrimmedCurve(BRep_Tool.Curve_s(edge, low, high), low, high)))


def _box(shapes: Sequence[TopoDS_Face], meshes: Sequence[FaceMesh]) -> Bnd_Box:
    """The box of all faces: of those edges and insides of faces that may reach its sides. The kernel takes long to find how far something goes."""
    low = np.min([mesh.points.min(axis=0) for mesh in meshes], axis=0)
    high = np.max([mesh.points.max(axis=0) for mesh in meshes], axis=0)
    slack = 4 * DEFAULT.display
    box = Bnd_Box()

    def reaches(points: Floats) -> bool:
        return bool(np.any(points <= low + slack) or np.any(points >= high - slack))

    for face, mesh in zip(shapes, meshes, strict=True):
        if not reaches(mesh.points):
            continue
        for edge in edges_of(face):
            if reaches(polyline_of(edge, face, mesh).points):
                BRepBndLib.AddOptimal_s(edge, box, False, False)
        inside = mesh.points[_inside(mesh)]
        if not len(inside):
            inside = mesh.points  # too small, or flat one way: its edges alone don't say how far it goes
        if reaches(inside):
            BRepBndLib.AddOptimal_s(face, box, False, False)
    box.SetGap(0.0)  # the kernel leaves a hair of air round everything
    return box


def _inside(mesh: FaceMesh) -> npt.NDArray[np.bool_]:
    """Which points of a face's mesh lie on none of its edges."""
    sides = np.sort(np.stack([mesh.triangles, np.roll(mesh.triangles, -1, axis=1)], axis=-1).reshape(-1, 2), axis=1)
    found, count = np.unique(sides, axis=0, return_counts=True)
    inside = np.ones(len(mesh.points), dtype=bool)
    inside[found[count == 1]] = False
    return inside


def _measures(shapes: Sequence[TopoDS_Face], faces: Sequence[Face], near: Measures, pieces: int, box: Bnd_Box) -> Measures:
    """Of solids, in so many pieces, or of a sheet, which encloses nothing. near: by the mesh. Raises KernelError where it holds another volume."""
    low, high = _place(box.CornerMin()), _place(box.CornerMax())
    about = (low + high) / 2
    found = moments_of(shapes, faces, about)
    if not near.closed:
        found = replace(found, volume=0.0)
    # chords leave the skin by at most the tolerance, so the two volumes by no more than that all over
    elif found.volume <= 0:
        raise KernelError("the kernel turned the body inside out")
    elif abs(found.volume - near.volume) > 4 * DEFAULT.display * near.area + 1e-6 * abs(near.volume):
        raise KernelError(f"the kernel's faces enclose {found.volume:.6g} mm3 where its own mesh holds {near.volume:.6g} mm3")
    return Measures(found.volume, found.area, found.center(about), low, high, Source.KERNEL, pieces, near.closed, found.spread)


def _place(point: gp_Pnt) -> Floats:
    return np.array([point.X(), point.Y(), point.Z()])
