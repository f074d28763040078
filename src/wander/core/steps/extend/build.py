"""Extend."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.bodies.body import Body, of_shells
from wander.core.bodies.bridged_runs import NoFace, choices
from wander.core.bodies.edge_runs import closes, connected_runs, smooth_run
from wander.core.bodies.kernel import KernelFailed
from wander.core.checks.extending import closed_already, comes_round, extends_by_nothing, folds_over, no_edge_yet, not_extended, not_of_the_rim
from wander.core.geometry.errors import GeometryError
from wander.core.shaping.edges import RIM, Edge
from wander.core.shaping.extension import ComesRound, Folds, extension
from wander.core.shaping.runs_paired import Run
from wander.core.shaping.shell import Shell
from wander.core.steps.extend.params import ExtendParams
from wander.core.steps.inputs import Built, Inputs, NeedsExact, StepRefused
from wander.core.steps.made import left

WITHIN = 1e-4
"""mm within which the strips are sewn to the sheet whose edges they begin at."""


def build(params: ExtendParams, inputs: Inputs) -> Built:
    step, base, named = inputs.step, inputs.exact_body(params.body), inputs.named(params.body)
    if base.closed:
        raise StepRefused([closed_already(step, named)])
    if params.distance <= 0:
        raise StepRefused([extends_by_nothing(step)])
    runs = connected_runs(_picked(params, base, inputs))
    strips = tuple(_strip(run, f"{step.id}.{k}" if len(runs) > 1 else step.id, params, base, inputs) for k, run in enumerate(runs, start=1))
    if inputs.kernel is None:
        raise NeedsExact
    try:
        made = inputs.kernel.sewn([base, *(of_shells((strip,)) for strip in strips)], WITHIN)
    except KernelFailed as error:
        raise StepRefused([not_extended(step, named, error)]) from error
    return left(made.body, inputs)


def _picked(params: ExtendParams, base: Body, inputs: Inputs) -> list[Edge]:
    """Edges of the rim. Raises StepRefused for others."""
    rim = {edge.name: edge for edge in base.edges if RIM in (edge.left, edge.right)}
    if params.whole:
        return list(rim.values())
    if not params.edges:
        raise StepRefused([no_edge_yet(inputs.step, inputs.named(params.body))])
    found: dict[str, Edge] = {}
    for number, ref in enumerate(params.edges):
        edge = inputs.edge(ref.model_copy(update={"step": params.body.step}), ["edges", number])
        if edge.name not in rim:
            raise StepRefused([not_of_the_rim(inputs.step, inputs.named(params.body), edge.name, ["edges"])])
        found |= {each.name: each for each in smooth_run(base, edge) if each.name in rim}
    return list(found.values())


def _strip(edges: Sequence[Edge], name: str, params: ExtendParams, base: Body, inputs: Inputs) -> Shell:
    """What goes on from edges one after the other. Raises StepRefused."""
    step, named = inputs.step, inputs.named(params.body)
    try:
        found = choices(base, edges, inputs.tolerances)
        run = Run(tuple(c.curve for c in found), tuple(c.looks[0] for c in found), tuple(edge.name for edge in edges), closes(edges))
        return extension(run, params.distance, name, curving=params.way == "curving")
    except NoFace as error:
        raise StepRefused([not_extended(step, named, error)]) from error
    except ComesRound as error:
        raise StepRefused([comes_round(step, named, error)]) from error
    except Folds as error:
        raise StepRefused([folds_over(step, named, error)]) from error
    except GeometryError as error:
        raise StepRefused([not_extended(step, named, error)]) from error
