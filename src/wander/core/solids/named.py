"""Bodies as the kernel's shapes, every face with its name; and the kernel's shapes as bytes and back."""

from __future__ import annotations

import io
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from OCP.BinTools import BinTools
from OCP.BRep import BRep_Builder
from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.gp import gp_Trsf
from OCP.TopAbs import TopAbs_SHELL, TopAbs_SOLID
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS, TopoDS_Compound, TopoDS_Shape, TopoDS_Shell, TopoDS_Solid

from wander.core.bodies.body import Body, Exact, Face
from wander.core.geometry.basis import Floats
from wander.core.shaping.edges import Edge
from wander.core.solids.assemble import Solid, assemble, faces_of
from wander.core.solids.errors import KernelError
from wander.core.solids.measure import kernel_area


@dataclass(frozen=True)
class NamedShape:
    """shape: solids, or the shells of sheets, in a compound where there are several. names: of its faces, as `faces_of` orders them.

    faces, edges: as the core knows them.
    """

    shape: TopoDS_Shape
    names: tuple[str, ...]
    faces: tuple[Face, ...]
    edges: tuple[Edge, ...]

    @property
    def solids(self) -> list[TopoDS_Solid]:
        return list(solids_of(self.shape))

    @property
    def shells(self) -> list[TopoDS_Shell]:
        """Of its sheets."""
        return list(sheets_of(self.shape))


def own_solids(body: Body) -> list[Solid]:
    """Its skins as the kernel's solids, or sheets. Raises KernelError."""
    alone = len(body.skins) == 1 and not body.exact
    return [assemble(skin, body.measures if alone else None) for skin in body.skins]


def shape_of(body: Body) -> NamedShape:
    """All pieces of a body as the kernel's solids, or shells of a sheet. Raises KernelError where a skin does not close into one."""
    made = own_solids(body)
    parts: list[tuple[TopoDS_Shape, tuple[str, ...]]] = [(solid.shape, solid.names) for solid in made]
    parts += [(placed(part), part.names) for part in body.exact]
    names = tuple(name for _, own in parts for name in own)
    return NamedShape(compound([shape for shape, _ in parts]), names, body.faces, body.edges)


def face_area(body: Body, name: str) -> float:
    """Of the face of that name, mm2. Raises KernelError where there is none."""
    item = shape_of(body)
    for face, own in zip(faces_of(item.shape), item.names, strict=True):
        if own == name:
            return kernel_area(face)
    raise KernelError("the face is not on the kernel's body")


def placed(part: Exact) -> TopoDS_Shape:
    """The kernel's shape of a piece, where it is now."""
    shape = from_bytes(part.data)
    if np.array_equal(part.matrix, np.eye(3)) and not part.origin.any():
        return shape
    motion = BRepBuilderAPI_Transform(shape, _motion(part.matrix, part.origin), True)
    moved = motion.Shape()
    # names go by the order of faces: it has to be the same after as before
    for before, after in zip(faces_of(shape), faces_of(moved), strict=True):
        assert motion.ModifiedShape(before).IsSame(after), "the kernel moves faces in their order"
    return moved


def _motion(matrix: Floats, origin: Floats) -> gp_Trsf:
    motion = gp_Trsf()
    motion.SetValues(*(float(v) for row, o in zip(matrix, origin, strict=True) for v in (*row, o)))
    return motion


def compound(shapes: Sequence[TopoDS_Shape]) -> TopoDS_Shape:
    if len(shapes) == 1:
        return shapes[0]
    made, builder = TopoDS_Compound(), BRep_Builder()
    builder.MakeCompound(made)
    for shape in shapes:
        builder.Add(made, shape)
    return made


def solids_of(shape: TopoDS_Shape) -> Iterator[TopoDS_Solid]:
    explorer = TopExp_Explorer(shape, TopAbs_SOLID)
    while explorer.More():
        yield TopoDS.Solid(explorer.Current())
        explorer.Next()


def sheets_of(shape: TopoDS_Shape) -> Iterator[TopoDS_Shell]:
    """Shells that belong to no solid."""
    explorer = TopExp_Explorer(shape, TopAbs_SHELL, TopAbs_SOLID)
    while explorer.More():
        yield TopoDS.Shell(explorer.Current())
        explorer.Next()


def to_bytes(shape: TopoDS_Shape) -> bytes:
    """The kernel's own binary form, without triangles."""
    stream = io.BytesIO()
    BinTools.Write_s(shape, stream)
    return stream.getvalue()


def from_bytes(data: bytes) -> TopoDS_Shape:
    shape = TopoDS_Shape()
    BinTools.Read_s(shape, io.BytesIO(data))
    return shape
