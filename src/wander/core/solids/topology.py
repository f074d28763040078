"""Which faces meet at which edges of the kernel's shapes."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BRep import BRep_Builder, BRep_Tool
from OCP.collections import IndexedDataMap_TopoDS_Shape_List_TopoDS_Shape_TopTools_ShapeMapHasher as Ancestors
from OCP.collections import List_TopoDS_Shape
from OCP.TopAbs import TopAbs_EDGE, TopAbs_FACE, TopAbs_VERTEX
from OCP.TopExp import TopExp, TopExp_Explorer
from OCP.TopoDS import TopoDS, TopoDS_Edge, TopoDS_Face, TopoDS_Shape, TopoDS_Shell

from wander.core.geometry.basis import Floats
from wander.core.shaping.edges import RIM


@dataclass(frozen=True)
class Beside:
    """An edge and the numbers of the faces on both sides of it, the same twice for a seam and for the rim of a sheet. near: faces at its ends."""

    edge: TopoDS_Edge
    faces: tuple[int, int]
    near: frozenset[int]
    rim: bool = False

    def pair(self, names: Sequence[str]) -> tuple[str, str]:
        """What lies on both sides of it, by the names of the faces."""
        first, second = (names[i] for i in self.faces)
        return first, RIM if self.rim else second


def edges_of(shape: TopoDS_Shape) -> list[TopoDS_Edge]:
    """Edges with a length, each once."""
    found = Ancestors()
    TopExp.MapShapesAndAncestors_s(shape, TopAbs_EDGE, TopAbs_FACE, found)
    edges = [TopoDS.Edge(found.FindKey(i)) for i in range(1, found.Extent() + 1)]
    return [edge for edge in edges if not BRep_Tool.Degenerated_s(edge)]


def edges_beside(shape: TopoDS_Shape, faces: Sequence[TopoDS_Face]) -> list[Beside]:
    """Every edge with a length that one or two faces meet at, in the order of `edges_of`. faces: those of the shape, as `faces_of` gives them."""
    by_edge, by_vertex = Ancestors(), Ancestors()
    TopExp.MapShapesAndAncestors_s(shape, TopAbs_EDGE, TopAbs_FACE, by_edge)
    TopExp.MapShapesAndAncestors_s(shape, TopAbs_VERTEX, TopAbs_FACE, by_vertex)

    def numbers(table: Ancestors, of: TopoDS_Shape) -> list[int]:
        return [next(i for i, known in enumerate(faces) if known.IsSame(face)) for face in table.FindFromKey(of)]

    found = []
    for edge in edges_of(shape):
        here = list(dict.fromkeys(numbers(by_edge, edge)))
        vertices = TopExp_Explorer(edge, TopAbs_VERTEX)
        near: set[int] = set()
        while vertices.More():
            near |= set(numbers(by_vertex, vertices.Current()))
            vertices.Next()
        if len(here) in (1, 2):
            rim = len(here) == 1 and not BRep_Tool.IsClosed_s(edge, faces[here[0]])
            found.append(Beside(edge, (here[0], here[-1]), frozenset(near - set(here)), rim))
    return found


def listed(shapes: Iterable[TopoDS_Shape]) -> List_TopoDS_Shape:
    """As the kernel takes several shapes."""
    found = List_TopoDS_Shape()
    for shape in shapes:
        found.Append(shape)
    return found


def shell_of(faces: Iterable[TopoDS_Shape]) -> TopoDS_Shell:
    """Faces as one sheet."""
    shell, builder = TopoDS_Shell(), BRep_Builder()
    builder.MakeShell(shell)
    for face in faces:
        builder.Add(shell, face)
    return shell


def middle_of(edge: TopoDS_Edge) -> Floats:
    """The place half-way along an edge in its parameter, (3,)."""
    low, high = BRep_Tool.Range_s(edge)
    return np.array(BRep_Tool.Curve_s(edge, low, high).Value((low + high) / 2).Coord())
