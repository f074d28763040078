"""Offset."""

from __future__ import annotations

from wander.core.bodies.kernel import KernelFailed
from wander.core.checks.surfaces import not_offset
from wander.core.results.bodies import body_summary
from wander.core.steps.inputs import Built, Inputs, NeedsExact, StepRefused
from wander.core.steps.offset.params import OffsetParams


def build(params: OffsetParams, inputs: Inputs) -> Built:
    base = inputs.exact_body(params.body)
    mine = {"step": params.body.step}
    faces = [inputs.face(ref.model_copy(update=mine), ["faces", k]).name for k, ref in enumerate(params.faces)]
    if inputs.kernel is None:
        raise NeedsExact
    try:
        made = inputs.kernel.offset(base, faces, params.distance, inputs.step.id)
    except KernelFailed as error:
        raise StepRefused([not_offset(inputs.step, inputs.named(params.body), params.distance, error)]) from error
    return Built(made, body_summary(made, inputs.tolerances))
