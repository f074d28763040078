"""Sheets made thick, and sheets at a distance from faces, by the kernel; each looked at before it is believed."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BRepOffset import BRepOffset_MakeOffset, BRepOffset_Mode
from OCP.GeomAbs import GeomAbs_JoinType
from OCP.TopoDS import TopoDS_Edge, TopoDS_Shape, TopoDS_Shell

from wander.core.bodies.body import Body
from wander.core.bodies.thickness import Thickness
from wander.core.document.derived_names import blend_name, wall_name
from wander.core.solids.assemble import faces_of
from wander.core.solids.edges import named_edges
from wander.core.solids.errors import KERNEL_RAISES, KernelError
from wander.core.solids.measure import kernel_volume
from wander.core.solids.named import NamedShape, compound, shape_of, sheets_of, solids_of
from wander.core.solids.origins import Origins, marks_of
from wander.core.solids.readback import Origin, body_from
from wander.core.solids.topology import edges_of, shell_of
from wander.core.solids.walling import own_splines, thickness_to

TOLERANCE = 1e-5
OFF = 0.01
"""Share of the distance by which it may be missed."""


def thickened(sheet: Body, thickness: float, maker: str) -> tuple[Body, Thickness]:
    """The body between a sheet and another one at a distance, mm, to the side of its normals where that is above 0, and how thick it is.

    Raises KernelError.
    """
    item = shape_of(sheet)
    made = [_offset(shell, thickness, thick=True) for shell in item.shells]
    solids = [solid for each in made for solid in solids_of(each.Shape())]
    if len(solids) < len(made):
        raise KernelError("the kernel found no closed body between the two sides")
    solids = [solid if kernel_volume(solid) > 0 else solid.Reversed() for solid in solids]
    shape = own_splines(compound(solids))
    found = body_from(shape, _origins(made, compound(solids), shape, item, maker, thickness, kept=True), {}, sheet.along)
    return found, _measured(found, item, maker, thickness)


def offset(body: Body, faces: Sequence[str], distance: float, maker: str) -> Body:
    """The sheet at a distance, mm, from faces of a body along their normals; 0 copies them. Where no face is named all are meant.

    Of all faces of a closed body it is one again. Raises KernelError.
    """
    item = shape_of(body)
    whole = body.closed and (not faces or set(item.names) <= set(faces))
    shell = _shell(item, faces)
    if distance == 0.0:
        kept = Origins(shell)
        known = {face.name: face for face in item.faces}
        for face, name in zip(faces_of(item.shape), item.names, strict=True):
            kept.kept([face], name, known[name])
        return body_from(shell, kept.all(), marks_of(shell, [([edge], mark) for edge, mark in _rims(item, faces)]), None)
    made = [_offset(solid, distance, thick=False) for solid in item.solids] if whole else [_offset(shell, distance, thick=False)]
    pieces = [piece for each in made for piece in (solids_of if whole else sheets_of)(each.Shape())]
    if not pieces:
        raise KernelError("the kernel found nothing at that distance")
    shape = own_splines(compound(pieces), solids=whole)
    before, after = edges_of(compound(pieces)), edges_of(shape)
    marks = marks_of(compound(pieces), [(each.Generated(edge), mark) for each in made for edge, mark in _rims(item, faces)])
    found = body_from(
        shape, _origins(made, compound(pieces), shape, item, maker, distance, kept=False), marks if len(before) == len(after) else {}, None
    )
    _measured(found, _only(item, faces), maker, distance)
    return found


def _rims(item: NamedShape, faces: Sequence[str]) -> list[tuple[TopoDS_Edge, str]]:
    """Edges at which the chosen faces end, each with what tells it apart: the face that lay beyond it, or as it was told before."""
    found = []
    for edge, beside in named_edges(item):
        pair = beside.pair(item.names)
        beyond = [name for name in pair if faces and name not in faces]
        if beside.rim:
            found.append((beside.edge, edge.name.partition("#")[2]))
        elif len(beyond) == 1:
            found.append((beside.edge, beyond[0]))
    return [(edge, mark) for edge, mark in found if mark]


def _offset(shell: TopoDS_Shape, distance: float, *, thick: bool) -> BRepOffset_MakeOffset:
    made = BRepOffset_MakeOffset()
    arc = GeomAbs_JoinType.GeomAbs_Arc
    try:
        made.Initialize(shell, distance, TOLERANCE, BRepOffset_Mode.BRepOffset_Skin, False, False, arc, thick, False)
        if thick:
            made.MakeThickSolid()
        else:
            made.MakeOffsetShape()
    except KERNEL_RAISES as error:
        raise KernelError("the kernel found nothing at that distance") from error
    if not made.IsDone():
        raise KernelError("the kernel found nothing at that distance")
    return made


def _shell(item: NamedShape, faces: Sequence[str]) -> TopoDS_Shell:
    return shell_of(face for face, name in zip(faces_of(item.shape), item.names, strict=True) if not faces or name in faces)


def _only(item: NamedShape, faces: Sequence[str]) -> NamedShape:
    return NamedShape(_shell(item, faces), tuple(name for name in item.names if not faces or name in faces), item.faces, item.edges)


def _origins(
    made: Sequence[BRepOffset_MakeOffset], shape: TopoDS_Shape, as_read: TopoDS_Shape, item: NamedShape, maker: str, distance: float, *, kept: bool
) -> list[Origin]:
    """as_read: the same with splines of its own. kept: the faces that were there are part of it."""
    found = Origins(shape, as_read)
    known = {face.name: face for face in item.faces}
    word = "outside" if distance > 0 else "inside"
    pairs = list(zip(faces_of(item.shape), item.names, strict=True))
    for face, name in pairs:
        if kept:
            found.kept([face], name, known[name])
    for each in made:
        for face, name in pairs:
            found.made(each.Generated(face), wall_name(maker, word, name))
        for edge, beside in named_edges(item):
            found.made(each.Generated(beside.edge), blend_name(maker, edge.name))
    if kept:
        # what closes it at its rim begins at an edge of that
        rims = [(edge, beside.edge) for edge, beside in named_edges(item) if beside.rim]
        for face in faces_of(shape):
            own = edges_of(face)
            for edge, there in rims:
                if any(there.IsSame(other) for other in own):
                    found.made([face], blend_name(maker, edge.name))
    return found.all(f"{maker}/rim")


def _measured(found: Body, item: NamedShape, maker: str, distance: float) -> Thickness:
    """From places on the new side to the sheet that was there, by the kernel's own search. Raises KernelError where it is not what was asked for."""
    measured = thickness_to(item.shape, found, f"{maker}/{'outside' if distance > 0 else 'inside'}(")
    if measured is None:
        raise KernelError("the kernel left nothing at that distance")
    size = abs(distance)
    if measured.least < (1 - OFF) * size or measured.largest > (1 + OFF) * size:
        raise KernelError(f"what the kernel made lies {measured.least:.3g} to {measured.largest:.3g} mm away where {size:.3g} mm were asked for")
    return measured
