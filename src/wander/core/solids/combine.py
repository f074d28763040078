"""Joining, cutting and overlapping bodies, every face and edge keeping its name."""

from __future__ import annotations

from collections.abc import Sequence

from OCP.BOPAlgo import BOPAlgo_Operation
from OCP.BRepAlgoAPI import BRepAlgoAPI_BooleanOperation
from OCP.TopoDS import TopoDS_Edge, TopoDS_Shape

from wander.core.bodies.body import Body
from wander.core.bodies.combining import CombineFailed, How, NothingLeft, combined_roughly, meshed
from wander.core.bodies.rough import NotClosed
from wander.core.geometry.tolerances import DEFAULT
from wander.core.solids.assemble import faces_of
from wander.core.solids.edges import named_edges
from wander.core.solids.errors import KernelError
from wander.core.solids.named import NamedShape, compound, shape_of, solids_of
from wander.core.solids.origins import Origins, marks_of
from wander.core.solids.readback import Origin, body_from
from wander.core.solids.topology import listed

NEAR = 1e-5
"""mm: how near the kernel takes for touching, where it found nothing valid without that."""
SLACK = 1e-6
"""How far (of the volume) a result may leave what its inputs allow."""


_OPERATIONS = {
    How.JOIN: BOPAlgo_Operation.BOPAlgo_FUSE,
    How.CUT: BOPAlgo_Operation.BOPAlgo_CUT,
    How.OVERLAP: BOPAlgo_Operation.BOPAlgo_COMMON,
}


def combine(how: How, body: Body, tools: Sequence[Body]) -> Body:
    """The body joined with the tools, less the tools, or as far as it lies in them. Raises KernelError, NothingLeft.

    The result is valid, and its volume agrees with its mesh, with what the inputs allow, and with what their meshes come to put together.
    """
    base, others = shape_of(body), [shape_of(tool) for tool in tools]
    error: KernelError | NothingLeft | None = None
    met = _met(how, body, tools)
    # the kernel may miss that two faces meet, without a word; asked the other way round it finds it
    for fuzzy, turned in ((0.0, False), (0.0, True), (NEAR, False), (NEAR, True)):
        try:
            found = _combined(how, base, others, fuzzy, body, turned=turned)
            _refuse_impossible(how, body, tools, found)
            _refuse_unlike(met, found.measures.volume)
        except NothingLeft as refused:
            error = error or refused
            if met is None or met[0] <= met[1]:
                raise
        except KernelError as refused:
            error = error or refused
        else:
            return found
    assert error is not None
    raise error


def _met(how: How, body: Body, tools: Sequence[Body]) -> tuple[float, float] | None:
    """What the meshes of the bodies come to when they are put together, mm3, and how far that may be off; None where they can't be."""
    tolerance = max(DEFAULT.display, DEFAULT.moving * max(item.size for item in (body, *tools)))
    try:
        parts = [meshed(item, tolerance) for item in (body, *tools)]
        volume = combined_roughly(how, body, tools, tolerance, lambda item, _: parts[1 + next(k for k, tool in enumerate(tools) if tool is item)])
    except NothingLeft:
        return 0.0, SLACK * body.measures.volume
    except (CombineFailed, NotClosed):
        return None
    # chords leave each body by so much; where they are put together no more than all of that can show
    off = sum(abs(part.measures.volume - item.measures.volume) for part, item in zip(parts, (body, *tools), strict=True))
    return volume.measures.volume, 2 * off + 1e-5 * sum(item.measures.volume for item in (body, *tools))


def _refuse_unlike(met: tuple[float, float] | None, volume: float) -> None:
    """A volume that is not what the meshes of the inputs come to."""
    if met is not None and abs(volume - met[0]) > met[1]:
        raise KernelError(f"the kernel gave {volume:.6g} mm3 where the meshes of these bodies come to {met[0]:.6g} mm3")


def _combined(how: How, base: NamedShape, tools: Sequence[NamedShape], fuzzy: float, body: Body, *, turned: bool) -> Body:
    """turned: the tools are handed to the kernel first."""
    operation = BRepAlgoAPI_BooleanOperation()
    operation.SetOperation(BOPAlgo_Operation.BOPAlgo_CUT21 if turned and how is How.CUT else _OPERATIONS[how])
    first, second = listed(base.solids), listed([solid for tool in tools for solid in tool.solids])
    operation.SetArguments(second if turned else first)
    operation.SetTools(first if turned else second)
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
    found = Origins(shape)
    for item in inputs:
        known = {face.name: face for face in item.faces}
        for face, name in zip(faces_of(item.shape), item.names, strict=True):
            # where faces of two bodies lie on each other the first body names what is left of them
            found.kept(_images(operation, face), name, known[name])
    return found.all()


def _marks(operation: BRepAlgoAPI_BooleanOperation, shape: TopoDS_Shape, inputs: Sequence[NamedShape]) -> dict[int, str]:
    """What told edges of the inputs apart from others between the same faces goes on to what became of them."""
    return marks_of(shape, [(_images(operation, edge), mark) for item in inputs for edge, mark in _marked(item)])


def _marked(item: NamedShape) -> list[tuple[TopoDS_Edge, str]]:
    """The kernel's edges whose names have a mark, each with it."""
    if not any("#" in edge.name for edge in item.edges):
        return []
    return [(beside.edge, mark) for edge, beside in named_edges(item) if (mark := edge.name.partition("#")[2])]


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
