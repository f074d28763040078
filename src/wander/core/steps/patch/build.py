"""Patch."""

from __future__ import annotations

from wander.core.bodies.body import Body, Face
from wander.core.bodies.continuity import between
from wander.core.bodies.edge_runs import chain_of, closes, plane_loop, rim_loop, smooth_run
from wander.core.bodies.kernel import KernelFailed
from wander.core.bodies.patching import Side
from wander.core.checks.surfaces import loop_open, no_opening, not_patched, patch_uneven
from wander.core.geometry.errors import BadInput
from wander.core.results.bodies import body_summary
from wander.core.results.continuity import bridged_out
from wander.core.results.summaries import BridgedOut
from wander.core.shaping.bridging import Meets
from wander.core.shaping.edges import RIM, Edge
from wander.core.steps.inputs import Built, Inputs, NeedsExact, StepRefused
from wander.core.steps.patch.params import PatchParams

PROMISED = {Meets.POSITION: 0, Meets.TANGENT: 1, Meets.CURVATURE: 2}


def build(params: PatchParams, inputs: Inputs) -> Built:
    if not params.edges:
        raise StepRefused([no_opening(inputs.step)])
    sides = _sides(params, inputs)
    if inputs.kernel is None:
        raise NeedsExact
    meets = Meets(params.meets)
    try:
        made = inputs.kernel.patched(sides, meets, inputs.step.id)
    except KernelFailed as error:
        raise StepRefused([not_patched(inputs.step, error, params.meets)]) from error
    told = _measured(made.body, sides)
    findings = (
        []
        if told.grade is not None and told.grade >= PROMISED[meets]
        else [patch_uneven(inputs.step, grade=told.grade, gap=told.gap, angle=told.angle, worst=told.worst)]
    )
    summary = body_summary(made.body, inputs.tolerances).model_copy(update={"bridged": [told]})
    return Built(made.body, summary, findings)


def _sides(params: PatchParams, inputs: Inputs) -> list[Side]:
    """The loop, edge by edge. Raises StepRefused where it does not close."""
    found: dict[tuple[str, str], tuple[Body, Edge]] = {}
    for number, ref in enumerate(params.edges):
        body, edge = inputs.exact_body(ref), inputs.edge(ref, ["edges", number])
        for each in smooth_run(body, edge):
            found[ref.step, each.name] = body, each
    picked = list(found.values())
    try:
        run = chain_of([edge for _, edge in picked])
        if not closes(run):
            if len(params.edges) > 1:
                raise BadInput("these edges do not close")
            body, edge = picked[0]
            run = rim_loop(body, edge) if RIM in (edge.left, edge.right) else plane_loop(body, edge)[0]
            picked = [(body, each) for each in run]
    except BadInput as error:
        raise StepRefused([loop_open(inputs.step, [edge.name for _, edge in picked], error)]) from error
    bodies = {edge.name: body for body, edge in picked}
    return [Side(bodies[edge.name], edge, _beside(edge)) for edge in run]


def _beside(edge: Edge) -> str:
    return edge.right if edge.left == RIM else edge.left


def _measured(patch: Body, sides: list[Side]) -> BridgedOut:
    """How the patch meets what lies beside it, the worst of all its edges."""
    (face,) = patch.faces
    seams = [between(face, _face(side), side.edge.curve, size=patch.size) for side in sides]
    return bridged_out("round", seams)


def _face(side: Side) -> Face:
    return next(face for face in side.body.faces if face.name == side.face)
