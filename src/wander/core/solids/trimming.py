"""Bodies and sheets parted by a plane, a sheet, a body or what a curve sweeps, and the parts on one side kept."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAlgoAPI import BRepAlgoAPI_Splitter
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeVertex, BRepBuilderAPI_Transform
from OCP.BRepClass3d import BRepClass3d_SolidClassifier
from OCP.BRepExtrema import BRepExtrema_DistShapeShape, BRepExtrema_SupportType
from OCP.BRepGProp import BRepGProp_Face
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.gp import gp_Pnt, gp_Trsf, gp_Vec
from OCP.ShapeAnalysis import ShapeAnalysis_Surface
from OCP.TopAbs import TopAbs_FORWARD, TopAbs_IN
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS, TopoDS_Edge, TopoDS_Face, TopoDS_Shape

from wander.core.bodies.body import Body
from wander.core.bodies.trimming import Kept, Misses, NothingKept, Tool
from wander.core.geometry.basis import Floats
from wander.core.geometry.frame import Frame
from wander.core.solids.assemble import faces_of
from wander.core.solids.convert import to_kernel_curve, to_kernel_plane
from wander.core.solids.edges import named_edges
from wander.core.solids.errors import KernelError
from wander.core.solids.measure import kernel_area, kernel_volume
from wander.core.solids.named import NamedShape, compound, shape_of, solids_of
from wander.core.solids.origins import Origins, marks_of
from wander.core.solids.readback import body_from
from wander.core.solids.topology import edges_of, listed, shell_of

AGREED = 1e-5
"""Share of a volume or area by which all parts together may differ from the whole."""
ASKED = 12
"""Places of a part that are asked on which side of the tool they lie."""
BESIDE = 1e-3
"""Share of the size of a body within which a place tells nothing: it lies on the tool."""
SQUARE = 0.3
"""Sine of the angle to the tool at which a place lies before it, at least: beside the rim of the tool it may lie neither before it nor behind."""


def trimmed(body: Body, tool: Tool, kept: Kept, maker: str, at: Floats | None = None) -> Body:
    """The parts of a body, or of a sheet, on one side of a tool, all of them, or the one nearest to a place (3,).

    Raises KernelError, Misses, NothingKept.
    """
    item = shape_of(body)
    cutter = _cutter(tool, body)
    splitter = BRepAlgoAPI_Splitter()
    splitter.SetArguments(listed(item.solids or item.shells))
    splitter.SetTools(listed([cutter.shape]))
    splitter.SetNonDestructive(True)
    splitter.SetRunParallel(True)
    splitter.Build()
    if not splitter.IsDone():
        raise KernelError("the kernel could not work out where the two meet")
    crossings = _crossings(splitter, cutter)
    parts = list(solids_of(splitter.Shape())) if body.closed else _connected(_parts_of_sheet(splitter, item), crossings)
    if len(parts) < 2 and not _parted(splitter, item):
        raise Misses
    _refuse_lost(body, item, parts)
    left = _left(parts, kept, at, lambda part: _in_front(part, tool, cutter, body.size))
    shape = compound(left)
    found = Origins(shape)
    for source in (item, cutter):
        known = {face.name: face for face in source.faces}
        for face, name in zip(faces_of(source.shape), source.names, strict=True):
            images = list(splitter.Modified(face)) or ([] if splitter.IsDeleted(face) else [face])
            if name in known:
                found.kept(images, name, known[name])
            else:
                found.made(images, f"{maker}/{name}")
    marks = [(list(splitter.Modified(beside.edge)) or [beside.edge], edge.name.partition("#")[2]) for edge, beside in named_edges(item)]
    marks += [([edge], name) for edge, name in _cut_by(crossings, splitter, cutter)]
    return body_from(shape, found.all(f"{maker}/cut"), marks_of(shape, [(images, mark) for images, mark in marks if mark]), body.along)


def _left(parts: Sequence[TopoDS_Shape], kept: Kept, at: Floats | None, in_front: Callable[[TopoDS_Shape], bool]) -> list[TopoDS_Shape]:
    """Raises Misses, NothingKept."""
    if kept is Kept.BOTH or (kept is Kept.PICKED and at is None):
        return list(parts)
    if at is not None:
        vertex = _vertex(at)
        return [min(parts, key=lambda part: BRepExtrema_DistShapeShape(vertex, part).Value())]
    left = [part for part in parts if in_front(part) == (kept is Kept.FRONT)]
    if not left:
        raise NothingKept
    if len(left) == len(parts):
        raise Misses
    return left


def _cut_by(crossings: Sequence[TopoDS_Edge], splitter: BRepAlgoAPI_Splitter, cutter: NamedShape) -> list[tuple[TopoDS_Edge, str]]:
    """Edges along which it was parted, each with the face of the tool that did it."""
    found = []
    for face, name in zip(faces_of(cutter.shape), cutter.names, strict=True):
        images = list(splitter.Modified(face)) or [face]
        own = [edge for image in images for edge in edges_of(image)]
        found += [(edge, name) for edge in crossings if any(edge.IsSame(other) for other in own)]
    return found


def _crossings(splitter: BRepAlgoAPI_Splitter, cutter: NamedShape) -> list[TopoDS_Edge]:
    """Edges along which the tool lies: where faces cross, and where it only ends on them."""
    found = [TopoDS.Edge(edge) for edge in splitter.SectionEdges()]
    for edge in edges_of(cutter.shape):
        found += [TopoDS.Edge(image) for image in splitter.Modified(edge)] or [edge]
    return found


def _parted(splitter: BRepAlgoAPI_Splitter, item: NamedShape) -> bool:
    """Whether any face fell into several."""
    return any(splitter.Modified(face).Size() > 1 for face in faces_of(item.shape))


def _cutter(tool: Tool, body: Body) -> NamedShape:
    """The tool as the kernel's shape, large enough to go through all of the body."""
    if isinstance(tool, Body):
        return shape_of(tool)
    reach = 2 * body.size + float(np.linalg.norm(body.measures.center))
    if isinstance(tool, Frame):
        middle = tool.lift(tool.drop(body.measures.center[None]))[0]
        plane = Frame(middle, tool.x, tool.y)
        return NamedShape(BRepBuilderAPI_MakeFace(to_kernel_plane(plane), -reach, reach, -reach, reach).Face(), ("cut",), (), ())
    edge = BRepBuilderAPI_MakeEdge(to_kernel_curve(tool.curve)).Edge()
    away = gp_Trsf()
    away.SetTranslation(gp_Vec(*(-reach * tool.way).tolist()))
    began = BRepBuilderAPI_Transform(edge, away, True).Shape()
    curtain = BRepPrimAPI_MakePrism(began, gp_Vec(*(2 * reach * tool.way).tolist())).Shape()
    return NamedShape(curtain, ("cut",) * len(list(faces_of(curtain))), (), ())


def _parts_of_sheet(splitter: BRepAlgoAPI_Splitter, item: NamedShape) -> list[TopoDS_Face]:
    """What the faces of a sheet became."""
    found = []
    for face in faces_of(item.shape):
        images = splitter.Modified(face)
        found += [TopoDS.Face(image) for image in images] if images.Size() else [face]
    return found


def _connected(faces: Sequence[TopoDS_Face], crossings: Sequence[TopoDS_Shape]) -> list[TopoDS_Shape]:
    """Faces that hang together otherwise than across the tool, as shells."""
    group = list(range(len(faces)))
    own = [[edge for edge in edges_of(face) if not any(edge.IsSame(there) for there in crossings)] for face in faces]
    for i, first in enumerate(own):
        for j in range(i):
            if group[i] != group[j] and any(a.IsSame(b) for a in first for b in own[j]):
                group = [group[j] if g == group[i] else g for g in group]
    return [shell_of(face for face, g in zip(faces, group, strict=True) if g == number) for number in dict.fromkeys(group)]


def _refuse_lost(body: Body, item: NamedShape, parts: Sequence[TopoDS_Shape]) -> None:
    """Parts that don't come to the whole."""
    count = kernel_volume if body.closed else kernel_area
    whole, together = count(item.shape), sum(count(part) for part in parts)
    if abs(whole - together) > AGREED * whole:
        raise KernelError(f"the parts come to {together:.6g} where the whole has {whole:.6g}")


def _in_front(part: TopoDS_Shape, tool: Tool, cutter: NamedShape, size: float) -> bool:
    """On which side of the tool a part lies: told by places on it, the nearest that are not on the tool itself."""
    places = _places(part)
    if isinstance(tool, Frame):
        heights = (places - tool.origin) @ tool.z
        return bool(heights[int(np.abs(heights).argmax())] > 0)
    if isinstance(tool, Body) and tool.closed:
        sides = [BRepExtrema_DistShapeShape(_vertex(place), _skin(cutter)).Value() for place in places]
        place = places[int(np.argmax(sides))]
        return not any(_inside(solid, place) for solid in cutter.solids)
    told: list[tuple[float, bool]] = []
    for place in places:
        found = BRepExtrema_DistShapeShape(_vertex(place), cutter.shape)
        for number in range(1, found.NbSolution() + 1):
            ahead = _ahead(found, number, place, cutter)
            if found.Value() > BESIDE * size and abs(ahead) > SQUARE * found.Value():
                told.append((found.Value(), ahead > 0))
                break
    if not told:
        raise KernelError("a part lies beside the end of the tool: neither in front of it nor behind")
    near = sorted(told)[: max(1, len(told) // 3)]
    return sum(ahead for _, ahead in near) * 2 > len(near)


def _ahead(found: BRepExtrema_DistShapeShape, number: int, place: Floats, cutter: NamedShape) -> float:
    """How far a place lies before the plane that touches the tool at the nearest place of it, mm: that may be on its rim."""
    match found.SupportTypeShape2(number):
        case BRepExtrema_SupportType.BRepExtrema_IsInFace:
            face = TopoDS.Face(found.SupportOnShape2(number))
            u, v = found.ParOnFaceS2(number)
        case BRepExtrema_SupportType.BRepExtrema_IsOnEdge:
            edge = TopoDS.Edge(found.SupportOnShape2(number))
            face = next(face for face in faces_of(cutter.shape) if any(own.IsSame(edge) for own in edges_of(face)))
            at = ShapeAnalysis_Surface(BRep_Tool.Surface_s(face)).ValueOfUV(found.PointOnShape2(number), 1e-7)
            u, v = at.X(), at.Y()
        case _:
            return 0.0
    foot, normal = gp_Pnt(), gp_Vec()
    # its own orientation is heeded
    BRepGProp_Face(face).Normal(u, v, foot, normal)
    away = np.array([normal.X(), normal.Y(), normal.Z()])
    return float((place - np.array(foot.Coord())) @ away / max(float(np.linalg.norm(away)), 1e-300))


def _skin(cutter: NamedShape) -> TopoDS_Shape:
    return compound(list(faces_of(cutter.shape)))


def _inside(solid: TopoDS_Shape, place: Floats) -> bool:
    classifier = BRepClass3d_SolidClassifier(solid, gp_Pnt(*place.tolist()), 1e-7)
    return bool(classifier.State() == TopAbs_IN)


def _places(part: TopoDS_Shape) -> Floats:
    """Middles of triangles of a coarse mesh, the largest first."""
    BRepMesh_IncrementalMesh(part, 0.5, False, 0.5)
    found: list[tuple[float, Floats]] = []
    for face in faces_of(part):
        net = BRep_Tool.Triangulation_s(TopoDS.Face(face.Oriented(TopAbs_FORWARD)), TopLoc_Location())
        if net is None:
            continue
        points = np.array([net.Node(i).Coord() for i in range(1, net.NbNodes() + 1)])
        corners = points[np.array([net.Triangle(i).Get() for i in range(1, net.NbTriangles() + 1)]) - 1]
        areas = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
        found += list(zip(areas.tolist(), corners.mean(axis=1), strict=True))
    if not found:
        raise KernelError("the kernel could not mesh a part")
    found.sort(key=lambda item: -item[0])
    return np.array([place for _, place in found[:ASKED]])


def _vertex(place: Floats) -> TopoDS_Shape:
    return BRepBuilderAPI_MakeVertex(gp_Pnt(*place.tolist())).Vertex()
