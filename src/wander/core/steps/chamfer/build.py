"""Chamfer."""

from __future__ import annotations

from wander.core.bodies.blending import Blend
from wander.core.bodies.copies import faces_called_alike
from wander.core.checks.blending import radius_not_positive
from wander.core.geometry.law import constant
from wander.core.steps.blends import blended, edges_of_set
from wander.core.steps.chamfer.params import ChamferParams
from wander.core.steps.inputs import Built, Inputs, StepRefused


def build(params: ChamferParams, inputs: Inputs) -> Built:
    for number, each in enumerate(params.sets):
        if each.distance <= 0:
            raise StepRefused([radius_not_positive(inputs.step, ["sets", number, "distance"])])
        if each.way == "distances" and each.other <= 0:
            raise StepRefused([radius_not_positive(inputs.step, ["sets", number, "other"])])

    def blends() -> list[Blend]:
        return [
            Blend(
                edges_of_set(each, params.body, inputs, ["sets", number]),
                constant(each.distance),
                None if each.among == "picked" else each.among,
                other=each.other if each.way == "distances" else None,
                angle=each.angle if each.way == "angle" else None,
                faces=faces_called_alike(inputs.exact_body(params.body), each.first) if each.copies else tuple(each.first),
            )
            for number, each in enumerate(params.sets)
        ]

    return blended(params.body, params.sets, blends, inputs, "distance", lambda kernel: kernel.chamfered)
