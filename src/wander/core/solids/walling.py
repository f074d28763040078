"""Walls by the kernel, for bodies that are not one skin of the core's own: several ways of it, each looked at before it is believed."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeSolid, BRepBuilderAPI_MakeVertex
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.BRepLib import BRepLib
from OCP.BRepOffset import BRepOffset_Mode
from OCP.BRepOffsetAPI import BRepOffsetAPI_MakeThickSolid
from OCP.collections import List_TopoDS_Shape
from OCP.GeomAbs import GeomAbs_JoinType
from OCP.gp import gp_Pnt
from OCP.ShapeCustom import ShapeCustom
from OCP.TopAbs import TopAbs_EDGE
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS, TopoDS_Shape, TopoDS_Solid

from wander.core.bodies.body import Body
from wander.core.bodies.thickness import Thickness, of_places
from wander.core.document.derived_names import wall_name
from wander.core.solids.assemble import faces_of, shells_of
from wander.core.solids.errors import KERNEL_RAISES, KernelError
from wander.core.solids.named import NamedShape, compound, shape_of, sheets_of, solids_of
from wander.core.solids.origins import Origins
from wander.core.solids.readback import Origin, body_from

TOLERANCE = 1e-4
SAME = 1e-5
"""mm within which an edge and its trace on a face are one."""
LOOKS = 48
"""Places at which a wall of the kernel's is measured: each costs a search over the whole body."""
THIN = 0.98
"""Share of the thickness below which a wall is not what was asked for."""
WAYS = ((GeomAbs_JoinType.GeomAbs_Intersection, False), (GeomAbs_JoinType.GeomAbs_Arc, False), (GeomAbs_JoinType.GeomAbs_Arc, True))
"""How faces of the wall are joined, and whether each is cut with all others: slow, and at times the only one for a wall outside of a joined body."""


def walled(body: Body, thickness: float, open_: Sequence[str], maker: str) -> tuple[Body, Thickness]:
    """The body hollowed, faces of those names left open, and its wall as measured. thickness: mm, outwards below 0. Raises KernelError."""
    item = shape_of(body)
    if len(item.solids) != 1:
        raise KernelError("it is not one solid, and only one at a time can be hollowed")
    said = KernelError("the kernel found no wall for it")
    for way in WAYS:
        try:
            made, wall = _made(item, thickness, open_, *way)
            shape = own_splines(wall)
            found = body_from(shape, _origins(made, wall, shape, item, maker, inwards=thickness > 0), {}, body.along)
            measured = _measured(found, item, open_, maker, inwards=thickness > 0)
            _refuse(body, found, measured, thickness)
        except KERNEL_RAISES:
            continue
        except KernelError as error:
            said = error
        else:
            return found, measured
    raise said


def _made(
    item: NamedShape, thickness: float, open_: Sequence[str], join: GeomAbs_JoinType, all_with_all: bool
) -> tuple[BRepOffsetAPI_MakeThickSolid, TopoDS_Shape]:
    """The kernel's operation and the wall. Raises KernelError and what the kernel does."""
    gone = List_TopoDS_Shape()
    for face, name in zip(faces_of(item.shape), item.names, strict=True):
        if name in open_:
            gone.Append(face)
    made = BRepOffsetAPI_MakeThickSolid()
    made.MakeThickSolidByJoin(item.solids[0], gone, -thickness, TOLERANCE, BRepOffset_Mode.BRepOffset_Skin, all_with_all, False, join)
    made.Build()
    if not made.IsDone() or not (solids := list(solids_of(made.Shape()))):
        raise KernelError("the kernel found no wall")
    for solid in solids:
        BRepLib.OrientClosedSolid_s(solid)
    # with nothing left open it only makes what lies inside, or outside
    wall = compound(solids) if open_ else _hollow(*((item.solids[0], solids) if thickness > 0 else (solids[0], item.solids)))
    if not BRepCheck_Analyzer(wall).IsValid():
        raise KernelError("the kernel found no valid wall")
    return made, wall


def _hollow(outer: TopoDS_Solid, voids: Sequence[TopoDS_Solid]) -> TopoDS_Shape:
    """A solid with others left out of it that lie within."""
    builder = BRepBuilderAPI_MakeSolid()
    for shell in shells_of(outer):
        builder.Add(shell)
    for void in voids:
        for shell in shells_of(void):
            builder.Add(TopoDS.Shell(shell.Reversed()))
    return compound([builder.Solid()])


def own_splines(shape: TopoDS_Shape, *, solids: bool = True) -> TopoDS_Shape:
    """The solids of a shape, or its sheets, with splines for faces that are told by their distance from another one: nobody else reads those."""
    pieces = solids_of if solids else sheets_of
    shape = compound(list(pieces(shape)))
    made = compound(list(pieces(ShapeCustom.ConvertToBSpline_s(shape, False, False, True, False))))
    if not BRepCheck_Analyzer(made).IsValid():
        # edges are where they were: what they are in the parameters of the new surfaces is found again
        BRepLib.SameParameter_s(made, SAME, True)
    before, after = list(faces_of(shape)), list(faces_of(made))
    if len(before) != len(after) or not BRepCheck_Analyzer(made).IsValid():
        raise KernelError("the kernel's wall does not hold by itself")
    return made


def _origins(
    made: BRepOffsetAPI_MakeThickSolid, wall: TopoDS_Shape, shape: TopoDS_Shape, item: NamedShape, maker: str, *, inwards: bool
) -> list[Origin]:
    """shape: with splines of its own, its faces in the order of those of the wall that was made."""
    found = Origins(wall, shape)
    known = {face.name: face for face in item.faces}
    word = "inside" if inwards else "outside"
    pairs = list(zip(faces_of(item.shape), item.names, strict=True))
    for face, name in pairs:
        found.kept([face], name, known[name])
    for face, name in pairs:
        found.made(made.Generated(face), wall_name(maker, word, name))
    for face, name in pairs:
        found.made(made.Modified(face), name)
    for edge in _edges(item.shape):
        found.made(made.Generated(edge), f"{maker}/rounded")
    return found.all(f"{maker}/rim")


def _edges(shape: TopoDS_Shape) -> list[TopoDS_Shape]:
    explorer, found = TopExp_Explorer(shape, TopAbs_EDGE), []
    while explorer.More():
        found.append(explorer.Current())
        explorer.Next()
    return found


def _measured(found: Body, item: NamedShape, open_: Sequence[str], maker: str, *, inwards: bool) -> Thickness:
    """From places on the new faces to the body that was there, by the kernel's own search."""
    # of the faces that are left, not of the solid: whatever is inside of that is no distance away
    skin = compound([face for face, name in zip(faces_of(item.shape), item.names, strict=True) if name not in open_])
    measured = thickness_to(skin, found, f"{maker}/{'inside' if inwards else 'outside'}(")
    if measured is None:
        raise KernelError("the kernel left nothing inside")
    return measured


def thickness_to(skin: TopoDS_Shape, found: Body, begins: str) -> Thickness | None:
    """From places on those faces of a body whose names begin so to a skin, by the kernel's own search; None where it has no such faces."""
    mesh = found.exact[0].mesh
    new = np.array([name.startswith(begins) for name in mesh.face_names])
    places = mesh.positions[new[mesh.face_of]]
    if not len(places):
        return None
    chosen = places[np.linspace(0, len(places) - 1, min(LOOKS, len(places))).astype(int)]
    off = [BRepExtrema_DistShapeShape(BRepBuilderAPI_MakeVertex(gp_Pnt(*place.tolist())).Vertex(), skin).Value() for place in chosen]
    return of_places(chosen, np.array(off))


def _refuse(before: Body, after: Body, measured: Thickness, thickness: float) -> None:
    """What is valid and yet no wall of that thickness."""
    size = abs(thickness)
    if measured.least < THIN * size or measured.mean > 1.25 * size:
        raise KernelError(f"the kernel's wall is {measured.least:.3g} to {measured.largest:.3g} mm thick where {size:.3g} mm were asked for")
    volume = after.measures.volume
    if not 0 < volume < 2 * before.measures.area * size + (0 if thickness > 0 else 8 * size**3):
        raise KernelError("the kernel's wall holds more than a wall can")
    if thickness > 0 and volume >= before.measures.volume:
        raise KernelError("the kernel hollowed nothing out")
