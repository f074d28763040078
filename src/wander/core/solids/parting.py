"""Faces parted along the lines at which they only just go on smoothly: there the kernel stumbles when it rolls a ball along them."""

from __future__ import annotations

from OCP.GeomAbs import GeomAbs_Shape
from OCP.ShapeUpgrade import ShapeUpgrade_ShapeDivideContinuity
from OCP.TopAbs import TopAbs_FACE
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS_Shape

from wander.core.bodies.body import Face
from wander.core.solids.assemble import faces_of
from wander.core.solids.named import NamedShape

SAME = 1e-6
"""Tolerance of the kernel for what it parts, mm."""


def parted(item: NamedShape) -> NamedShape:
    """The same solids, every face parted where its bends jump; the parts are called as the face was. The item itself where there is no such place."""
    work = ShapeUpgrade_ShapeDivideContinuity(item.shape)
    work.SetSurfaceCriterion(GeomAbs_Shape.GeomAbs_C2)
    work.SetBoundaryCriterion(GeomAbs_Shape.GeomAbs_C2)
    work.SetPCurveCriterion(GeomAbs_Shape.GeomAbs_C2)
    work.SetTolerance(SAME)
    if not work.Perform():
        return item
    shape = work.Result()
    context = work.GetContext()
    result = list(faces_of(shape))
    names: list[str | None] = [None] * len(result)
    faces: list[Face | None] = [None] * len(result)
    known = {face.name: face for face in item.faces}
    for face, name in zip(faces_of(item.shape), item.names, strict=True):
        for part in _faces_in(context.Apply(face)):
            for number, there in enumerate(result):
                if there.IsSame(part):
                    names[number], faces[number] = name, known[name]
    if any(name is None for name in names):
        return item
    return NamedShape(shape, tuple(name for name in names if name is not None), tuple(face for face in faces if face is not None), item.edges)


def _faces_in(shape: TopoDS_Shape) -> list[TopoDS_Shape]:
    if shape.ShapeType() == TopAbs_FACE:
        return [shape]
    explorer, found = TopExp_Explorer(shape, TopAbs_FACE), []
    while explorer.More():
        found.append(explorer.Current())
        explorer.Next()
    return found
