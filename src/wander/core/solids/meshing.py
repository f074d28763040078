"""Meshes of what the kernel made: every edge is cut into pieces once, by the kernel, and the faces beside it take those."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from OCP.BRep import BRep_Tool
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.BRepTools import BRepTools
from OCP.IMeshTools import IMeshTools_MeshAlgoType, IMeshTools_Parameters
from OCP.TopAbs import TopAbs_REVERSED
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS_Edge, TopoDS_Face, TopoDS_Shape

from wander.core.bodies.body import Body, Face, mesh_of
from wander.core.geometry.basis import Floats
from wander.core.geometry.surface import Surface
from wander.core.geometry.tolerances import DEFAULT
from wander.core.geometry.vectors import cross, lengths
from wander.core.shaping.display import DisplayMesh, display_mesh, flow_lines, line_parts, merged
from wander.core.solids.errors import KernelError
from wander.core.solids.named import placed

FEW = 9
"""Places along a surface from which its reach is told."""
ANGLE = 0.35
"""Radians between neighbouring triangles; hardly ever what decides."""


@dataclass(frozen=True)
class FaceMesh:
    """points, normals (outwards): (n, 3). triangles: (t, 3), seen from outside counter-clockwise. flow: parameters from 0 to 1, (n, 2); 0 if flat.

    reach: how far the face goes along each of them, mm.
    """

    points: Floats
    normals: Floats
    triangles: npt.NDArray[np.int64]
    flow: Floats
    reach: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True)
class EdgeLine:
    """An edge as one of its faces has it: points and that face's normals, (n, 3)."""

    points: Floats
    normals: Floats


def face_meshes(shape: TopoDS_Shape, shapes: Sequence[TopoDS_Face], faces: Sequence[Face], tolerance: float) -> list[FaceMesh]:
    """The mesh of every face of a shape. Raises KernelError where a face could not be meshed."""
    BRepTools.Clean_s(shape)
    settings = IMeshTools_Parameters()
    settings.Deflection = tolerance
    settings.DeflectionInterior = tolerance
    settings.Angle = ANGLE
    settings.InParallel = True
    # a third of the time of the usual algorithm, for triangles that are as good
    settings.MeshAlgo = IMeshTools_MeshAlgoType.IMeshTools_MeshAlgoType_Delabella
    BRepMesh_IncrementalMesh(shape, settings)
    return [_face_mesh(face, known) for face, known in zip(shapes, faces, strict=True)]


def _face_mesh(shape: TopoDS_Face, face: Face) -> FaceMesh:
    place = TopLoc_Location()
    net = BRep_Tool.Triangulation_s(shape, place)
    if net is None:
        raise KernelError(f"the kernel could not mesh the face {face.name}")
    count = net.NbNodes()
    points = np.array([net.Node(i).Coord() for i in range(1, count + 1)])
    if not place.IsIdentity():
        # what came in a file may lie elsewhere than its triangles do
        motion = place.Transformation()
        rows = np.array([[motion.Value(i, j) for j in range(1, 5)] for i in range(1, 4)])
        points = points @ rows[:, :3].T + rows[:, 3]
    triangles = np.array([net.Triangle(i).Get() for i in range(1, net.NbTriangles() + 1)], dtype=np.int64) - 1
    inside_out = shape.Orientation() == TopAbs_REVERSED
    if inside_out:
        triangles = triangles[:, ::-1]
    flow, reach = np.zeros((count, 2)), (0.0, 0.0)
    if face.frame is not None:
        normals = np.tile(face.frame.z, (count, 1))
    else:
        assert face.surface is not None
        places = np.array([net.UVNode(i).Coord() for i in range(1, count + 1)])
        normals = _normals(face, places, points, triangles if not inside_out else triangles[:, ::-1])
        flow, reach = _flow(face.surface, places)
    return FaceMesh(points, -normals if inside_out else normals, triangles, flow, reach)


def _flow(surface: Surface, places: Floats) -> tuple[Floats, tuple[float, float]]:
    """Parameters (n, 2) of a whole surface from 0 to 1, and how far it goes along both, mm."""
    low, high = (np.array([space.domain[k] for space in (surface.u, surface.v)]) for k in (0, 1))
    u, v = (np.linspace(low[k], high[k], FEW) for k in (0, 1))
    grid = surface.grid(u, v)
    reach = [float(lengths(np.diff(grid, axis=k)).sum(axis=k).mean()) for k in (0, 1)]
    return np.clip((places - low) / (high - low), 0.0, 1.0), (reach[0], reach[1])


def _normals(face: Face, places: Floats, points: Floats, triangles: npt.NDArray[np.int64]) -> Floats:
    """Unit normals du x dv; at a pole, where there is none, those of the triangles round it."""
    assert face.surface is not None
    surface = face.surface
    (u0, u1), (v0, v1) = surface.u.domain, surface.v.domain
    _, du, dv = surface.at(np.clip(places[:, 0], u0, u1), np.clip(places[:, 1], v0, v1), [(0, 0), (1, 0), (0, 1)])
    normal = cross(du, dv)
    size = lengths(normal)
    poor = size <= 1e-9 * max(float(size.max()), 1e-300)
    if poor.any():
        flat = cross(points[triangles[:, 1]] - points[triangles[:, 0]], points[triangles[:, 2]] - points[triangles[:, 0]])
        around = np.zeros_like(points)
        for corner in range(3):
            np.add.at(around, triangles[:, corner], flat)
        normal[poor] = around[poor]
        size = lengths(normal)
    return normal / np.where(size > 0, size, 1.0)[:, None]


def polyline_of(edge: TopoDS_Edge, shape: TopoDS_Face, mesh: FaceMesh) -> EdgeLine:
    """An edge as it was cut into pieces."""
    where = TopLoc_Location()
    polygon = BRep_Tool.PolygonOnTriangulation_s(edge, BRep_Tool.Triangulation_s(shape, where), where)
    if polygon is None:
        raise KernelError("the kernel left an edge without pieces")
    numbers = np.array([polygon.Node(i) for i in range(1, polygon.NbNodes() + 1)]) - 1
    return EdgeLine(mesh.points[numbers], mesh.normals[numbers])


def joined(meshes: Sequence[FaceMesh], names: Sequence[str], lines: Sequence[tuple[str, Floats]], *, closed: bool = True) -> DisplayMesh:
    """Meshes of faces, and lines (n, 3) by name, as one. closed: False of a sheet."""
    offsets = np.cumsum([0, *(len(m.points) for m in meshes)])
    positions = np.concatenate([m.points for m in meshes])
    size = float(np.linalg.norm(np.ptp(positions, axis=0))) or 1.0
    return DisplayMesh(
        positions=positions,
        normals=np.concatenate([m.normals for m in meshes]),
        triangles=np.concatenate([m.triangles + o for m, o in zip(meshes, offsets, strict=False)]).astype(np.uint32),
        face_of=np.repeat(np.arange(len(meshes)), np.diff(offsets)).astype(np.uint32),
        face_names=tuple(names),
        flow=np.concatenate([m.flow * [flow_lines(reach, size) for reach in m.reach] for m in meshes]),
        closed=closed,
        **line_parts(list(range(len(lines))), [points for _, points in lines], tuple(name for name, _ in lines)),
    )


def finer_mesh(body: Body, tolerance: float) -> DisplayMesh:
    """The mesh of a body at any tolerance, mm: the kernel is asked where it is not the one that is kept."""
    if body.rough is not None or not body.exact or tolerance == DEFAULT.display:
        return mesh_of(body, tolerance, strict=True)
    parts = [display_mesh(skin, tolerance, strict=True) for skin in body.skins]
    for part in body.exact:
        from wander.core.solids.assemble import faces_of

        shape = placed(part)
        meshes = face_meshes(shape, list(faces_of(shape)), part.faces, tolerance)
        parts.append(joined(meshes, part.names, [], closed=part.mesh.closed))
    return merged(parts)
