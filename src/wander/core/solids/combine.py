"""Joining, cutting and overlapping bodies, every face and edge keeping its name."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_BooleanOperation, BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.collections import List_TopoDS_Shape
from OCP.TopoDS import TopoDS_Edge, TopoDS_Shape

from wander.core.bodies.body import Body
from wander.core.bodies.combining import How, NothingLeft
from wander.core.shaping.edges import Edge, pair_name
from wander.core.solids.assemble import faces_of
from wander.core.solids.errors import KernelError
from wander.core.solids.named import NamedShape, compound, shape_of, solids_of
from wander.core.solids.readback import Origin, body_from
from wander.core.solids.topology import edges_beside, edges_of, middle_of

NEAR = 1e-5
"""mm: how near the kernel takes for touching, where it found nothing valid without that."""
SLACK = 1e-6
"""How far (of the volume) a result may leave what its inputs allow."""


_OPERATIONS: dict[How, type[BRepAlgoAPI_BooleanOperation]] = {
    How.JOIN: BRepAlgoAPI_Fuse,
    How.CUT: BRepAlgoAPI_Cut,
    How.OVERLAP: BRepAlgoAPI_Common,
}


def combine(how: How, body: Body, tools: Sequence[Body]) -> Body:
    """The body joined with the tools, less the tools, or as far as it lies in them. Raises KernelError, NothingLeft.

    The result is valid, its volume agrees with its mesh and lies between what the inputs allow.
    """
    base, others = shape_of(body), [shape_of(tool) for tool in tools]
    error: KernelError | NothingLeft | None = None
    for fuzzy in (0.0, NEAR):
        try:
            found = _combined(how, base, others, fuzzy, body)
            _refuse_impossible(how, body, tools, found)
        except (KernelError, NothingLeft) as refused:
            error = error or refused
        else:
            return found
    assert error is not None
    raise error


def _combined(how: How, base: NamedShape, tools: Sequence[NamedShape], fuzzy: float, body: Body) -> Body:
    operation = _OPERATIONS[how]()
    operation.SetArguments(_list(base.solids))
    operation.SetTools(_list([solid for tool in tools for solid in tool.solids]))
    operation.SetNonDestructive(True)
    operation.SetRunParallel(True)
    if fuzzy:
        operation.SetFuzzyValue(fuzzy)
    operation.Build()
    if not operation.IsDone():
        raise KernelError("the kernel could not work out where the bodies meet")
    left = list(solids_of(operation.Shape()))
    if not left:
        raise NothingLeft
    shape = compound(left)
    return body_from(shape, _origins(operation, shape, [base, *tools]), _marks(operation, shape, [base, *tools]), body.along)


def _images(operation: BRepAlgoAPI_BooleanOperation, shape: TopoDS_Shape) -> list[TopoDS_Shape]:
    """What a face or edge of an input became."""
    modified = list(operation.Modified(shape))
    return modified or ([] if operation.IsDeleted(shape) else [shape])


def _origins(operation: BRepAlgoAPI_BooleanOperation, shape: TopoDS_Shape, inputs: Sequence[NamedShape]) -> list[Origin]:
    result = list(faces_of(shape))
    found: list[Origin | None] = [None] * len(result)
    for item in inputs:
        known = {face.name: face for face in item.faces}
        for face, name in zip(faces_of(item.shape), item.names, strict=True):
            for image in _images(operation, face):
                for number, there in enumerate(result):
                    # where faces of two bodies lie on each other the first body names what is left of them
                    if found[number] is None and there.IsSame(image):
                        found[number] = Origin(name, known[name])
    if any(origin is None for origin in found):
        raise KernelError("the kernel made a face that comes from none of the bodies")
    return [origin for origin in found if origin is not None]


def _marks(operation: BRepAlgoAPI_BooleanOperation, shape: TopoDS_Shape, inputs: Sequence[NamedShape]) -> dict[int, str]:
    """What told edges of the inputs apart from others between the same faces goes on to what became of them."""
    result = edges_of(shape)
    found: dict[int, str] = {}
    for item in inputs:
        for edge, mark in _marked(item):
            for image in _images(operation, edge):
                found |= {number: mark for number, there in enumerate(result) if there.IsSame(image)}
    return found


def _marked(item: NamedShape) -> list[tuple[TopoDS_Edge, str]]:
    """The kernel's edges whose names have a mark, each with it."""
    marked: dict[str, list[Edge]] = defaultdict(list)
    for edge in item.edges:
        if "#" in edge.name:
            marked[pair_name(edge.left, edge.right)].append(edge)
    if not marked:
        return []
    found = []
    for beside in edges_beside(item.shape, list(faces_of(item.shape))):
        alike = marked.get(pair_name(*(item.names[i] for i in beside.faces)), [])
        if alike:
            middle = middle_of(beside.edge)
            nearest = min(alike, key=lambda edge: float(np.linalg.norm(edge.curve.sampled(16)[1] - middle, axis=1).min()))
            found.append((beside.edge, nearest.name.partition("#")[2]))
    return found


def _list(shapes: Sequence[TopoDS_Shape]) -> List_TopoDS_Shape:
    found = List_TopoDS_Shape()
    for shape in shapes:
        found.Append(shape)
    return found


def _refuse_impossible(how: How, body: Body, tools: Sequence[Body], found: Body) -> None:
    """A volume that no join, cut or overlap of these bodies can have."""
    own, others = body.measures.volume, [tool.measures.volume for tool in tools]
    low, high = {
        How.JOIN: (max([own / body.measures.pieces, *others]) if body.measures.pieces == 1 else 0.0, own + sum(others)),
        How.CUT: (own - sum(others), own),
        How.OVERLAP: (0.0, min(own, sum(others))),
    }[how]
    slack = SLACK * (own + sum(others))
    if not low - slack <= found.measures.volume <= high + slack:
        raise KernelError(f"the kernel gave {found.measures.volume:.6g} mm3, which these bodies can't come to")
