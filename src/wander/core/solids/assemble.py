"""From a skin to one valid closed solid, or to the open shell of a sheet, every face keeping its name."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Protocol

from OCP.BRep import BRep_Builder
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire, BRepBuilderAPI_Sewing
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepClass3d import BRepClass3d_SolidClassifier
from OCP.gp import gp_Pnt
from OCP.ShapeFix import ShapeFix_Face, ShapeFix_Solid
from OCP.TopAbs import TopAbs_FACE, TopAbs_IN, TopAbs_SHELL, TopAbs_SOLID
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS, TopoDS_Face, TopoDS_Shape, TopoDS_Shell, TopoDS_Solid, TopoDS_Wire

from wander.core.bodies.body import faces_of_skin
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.shaping.mass import mass_properties, skin_moments
from wander.core.shaping.shell import Cap, NamedFace, Shell
from wander.core.solids.convert import to_kernel_curve, to_kernel_plane, to_kernel_surface
from wander.core.solids.errors import KernelError
from wander.core.solids.integrals import is_whole, moments_of
from wander.core.solids.measure import kernel_area, kernel_volume

SEWING = 1e-5
AGREED = 1e-6
"""Share of the volume by which that of the solid may differ: a face that is missing or looks the wrong way makes far more."""
ASKED = (1e-6, 1e-8, 1e-11)
"""Relative errors that the kernel's integral is asked for, one after the other until it agrees: each takes several times as long as the last."""

THIN = 10.0
"""How many times more a cube with the area of a thin body holds, at least."""

SAME_AREA = 1e-4
"""Share of the area by which the kernel's count may differ: it integrates no finer, and a face that is missing makes far more."""


@dataclass(frozen=True)
class Solid:
    """shape: the kernel's solid, or the shell of a sheet. names: one for each face, in the order in which the kernel explores them.

    volume: inside the faces as the kernel has them, mm3; 0 of a sheet.
    """

    shape: TopoDS_Shape
    names: tuple[str, ...]
    volume: float


def faces_of(shape: TopoDS_Shape) -> Iterator[TopoDS_Face]:
    explorer = TopExp_Explorer(shape, TopAbs_FACE)
    while explorer.More():
        yield TopoDS.Face(explorer.Current())
        explorer.Next()


class Held(Protocol):
    """What a skin holds: volume mm3, area mm2, center (3,) mm."""

    @property
    def volume(self) -> float: ...

    @property
    def area(self) -> float: ...

    @property
    def center(self) -> Floats: ...


def assemble(shell: Shell, mass: Held | None = None) -> Solid:
    """Sew the faces and caps of a skin into a solid, or a sheet, and check it before anybody sees it.

    mass: what it holds by its own surfaces, where that is known. Raises KernelError when a face can't be made, the result is not one closed valid
    solid, or its volume is not the skin's own; of a sheet, when it is not one valid shell of the skin's own area.
    """
    named = [(face.name, _side(face)) for face in shell.faces] + [(cap.name, _cap(cap)) for cap in shell.caps]
    sewing = BRepBuilderAPI_Sewing(SEWING)
    for _, face in named:
        sewing.Add(face)
    sewing.Perform()
    if shell.closed and sewing.NbFreeEdges():
        raise KernelError(f"the faces leave {sewing.NbFreeEdges()} open edges")
    made = _solid(sewing.SewedShape()) if shell.closed else _sheet(sewing.SewedShape())
    names = _names(made, [(name, sewing.Modified(face) if sewing.IsModified(face) else face) for name, face in named])
    mass = mass or mass_properties(shell)
    if shell.closed:
        return Solid(made, names, check(made, names, shell, mass))
    _check_sheet(made, mass.area)
    return Solid(made, names, 0.0)


def _sheet(sewn: TopoDS_Shape) -> TopoDS_Shape:
    found = shells_of(sewn)
    if len(found) != 1:
        raise KernelError(f"the faces of the sheet lie in {len(found)} pieces")
    found[0].Closed(False)
    return found[0]


def _check_sheet(sheet: TopoDS_Shape, expected_area: float) -> None:
    """Valid by the kernel's rules, and of the area found without the kernel. Raises KernelError."""
    if not BRepCheck_Analyzer(sheet).IsValid():
        raise KernelError("the kernel finds the sheet not valid")
    area = kernel_area(sheet)
    if abs(area - expected_area) > SAME_AREA * expected_area:
        raise KernelError(f"the sheet has {area:.6g} mm2 where its surfaces have {expected_area:.6g} mm2")


def shells_of(sewn: TopoDS_Shape) -> list[TopoDS_Shell]:
    """The shells of what was sewn; a face that nothing else touches, or that closes on itself in both directions, is a shell alone."""
    found = []
    explorer = TopExp_Explorer(sewn, TopAbs_SHELL)
    while explorer.More():
        found.append(TopoDS.Shell(explorer.Current()))
        explorer.Next()
    alone = TopExp_Explorer(sewn, TopAbs_FACE, TopAbs_SHELL)
    while alone.More():
        shell, builder = TopoDS_Shell(), BRep_Builder()
        builder.MakeShell(shell)
        builder.Add(shell, alone.Current())
        shell.Closed(True)
        found.append(shell)
        alone.Next()
    return found


def _solid(sewn: TopoDS_Shape) -> TopoDS_Solid:
    """One solid: inside the largest shell, less what the others enclose."""
    solids = [_only_solid(ShapeFix_Solid().SolidFromShell(shell)) for shell in shells_of(sewn)]
    if not solids:
        raise KernelError("the faces do not close into a shell")
    if len(solids) == 1:
        return solids[0]
    solids.sort(key=lambda solid: -abs(kernel_volume(solid)))
    solid, builder = TopoDS_Solid(), BRep_Builder()
    builder.MakeSolid(solid)
    for number, part in enumerate(solids):
        shell = TopExp_Explorer(part, TopAbs_SHELL).Current()
        builder.Add(solid, shell if number == 0 else shell.Reversed())
    return solid


def check(solid: TopoDS_Shape, names: Sequence[str], shell: Shell, mass: Held) -> float:
    """Valid by the kernel's rules, finite, and of the volume that its skin has; returns what it holds, mm3. Raises KernelError.

    names: of its faces, in their order. What it holds is counted over the faces that the kernel has, inside the curves by which it bounds them,
    where these are not the sides of the skin's own surfaces; where that does not agree the kernel counts by itself before the body is refused.
    """
    if not BRepCheck_Analyzer(solid).IsValid():
        raise KernelError("the kernel finds the body not valid")
    classifier = BRepClass3d_SolidClassifier(solid)
    classifier.PerformInfinitePoint(1e-6)
    if classifier.State() == TopAbs_IN:
        raise KernelError("the body is inside out")
    known = {face.name: face for face in faces_of_skin(shell)}
    faces = [(face, known[name]) for face, name in zip(faces_of(solid), names, strict=True)]
    # what is the skin's own, whole, holds what that holds: only the others are counted, and held against theirs
    others = [(face, own) for face, own in faces if not is_whole(face, own.surface)]
    counted = moments_of([face for face, _ in others], [own for _, own in others], mass.center)
    found = mass.volume + counted.volume - skin_moments(shell, mass.center, {own.name for _, own in others}).volume
    if abs(found - mass.volume) <= AGREED * abs(mass.volume):
        return found
    return _counted_by_kernel(solid, mass.volume, mass.area)


def _counted_by_kernel(solid: TopoDS_Shape, expected: float, area: float) -> float:
    """What is thin holds little between large faces: the kernel's count is as near as that of a cube with the same area, mm2, would be."""
    cube = (area / 6) ** 1.5
    slack = AGREED * max(abs(expected), cube)
    last = 0 if cube > THIN * abs(expected) else len(ASKED) - 1
    volume = 0.0
    for number, relative_error in enumerate(ASKED):
        volume = kernel_volume(solid, relative_error)
        off = abs(volume - expected)
        if off <= AGREED * abs(expected) or (number >= last and off <= slack):
            return volume
    raise KernelError(f"the body holds {volume:.6g} mm3 where its surfaces hold {expected:.6g} mm3")


def _side(face: NamedFace) -> TopoDS_Face:
    maker = BRepBuilderAPI_MakeFace(to_kernel_surface(face.surface), 1e-7)
    if not maker.IsDone():
        raise KernelError(f"the kernel could not make the face {face.name}")
    return maker.Face()


def _cap(cap: Cap) -> TopoDS_Face:
    maker = BRepBuilderAPI_MakeFace(to_kernel_plane(cap.frame), _wire(cap.name, cap.boundary), True)
    for hole in cap.holes:
        maker.Add(_wire(cap.name, hole))
    if not maker.IsDone():
        raise KernelError(f"the kernel could not make the face {cap.name}")
    if not cap.holes:
        return maker.Face()
    fix = ShapeFix_Face(maker.Face())
    fix.FixOrientation()
    return fix.Face()


def _wire(name: str, chain: tuple[Curve, ...]) -> TopoDS_Wire:
    wire = BRepBuilderAPI_MakeWire()
    for curve in chain:
        low, high = (gp_Pnt(*curve.points[i].tolist()) for i in (0, -1))
        edge = (
            BRepBuilderAPI_MakeEdge(to_kernel_curve(curve), low, high)
            if low.Distance(high) > 1e-7
            else BRepBuilderAPI_MakeEdge(to_kernel_curve(curve))
        )
        wire.Add(edge.Edge())
    if not wire.IsDone():
        raise KernelError(f"the outline of {name} does not close")
    return wire.Wire()


def _only_solid(shape: TopoDS_Shape) -> TopoDS_Solid:
    explorer = TopExp_Explorer(shape, TopAbs_SOLID)
    if not explorer.More():
        raise KernelError("the shell does not close into a solid")
    solid = TopoDS.Solid(explorer.Current())
    explorer.Next()
    if explorer.More():
        raise KernelError("the shell falls apart into several solids")
    return solid


def _names(solid: TopoDS_Shape, sewn: list[tuple[str, TopoDS_Shape]]) -> tuple[str, ...]:
    found = []
    for face in faces_of(solid):
        name = next((name for name, shape in sewn if face.IsSame(shape)), None)
        if name is None:
            raise KernelError("the kernel changed a face beyond recognition while closing the body")
        found.append(name)
    return tuple(found)
