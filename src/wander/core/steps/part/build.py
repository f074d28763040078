"""Part: bodies from a STEP file, to be worked on like any other."""

from __future__ import annotations

from wander.core.bodies.body import moved
from wander.core.bodies.brought import NotInFile
from wander.core.bodies.kernel import KernelFailed
from wander.core.checks.brought import not_read
from wander.core.steps.inputs import Built, Inputs, NeedsExact, StepRefused
from wander.core.steps.made import left
from wander.core.steps.part.params import PartParams
from wander.core.steps.standing_at import data_of, motion_of


def build(params: PartParams, inputs: Inputs) -> Built:
    matrix, origin = motion_of(params, inputs)
    if inputs.kernel is None:
        raise NeedsExact
    data = data_of(params, inputs)
    try:
        body = inputs.kernel.brought_in(data, params.number, inputs.step.id)
    except (NotInFile, KernelFailed) as error:
        raise StepRefused([not_read(inputs.step, error)]) from error
    body = moved(body, matrix, origin)
    return left(body, inputs)
