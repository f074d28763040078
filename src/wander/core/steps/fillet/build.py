"""Fillet."""

from __future__ import annotations

from wander.core.bodies.blending import Blend
from wander.core.bodies.own_rims import rounded_rims
from wander.core.checks.blending import radius_not_positive
from wander.core.geometry.law import Law, constant, through
from wander.core.steps.blends import blended, edges_of_set
from wander.core.steps.fillet.params import FilletParams, FilletSet
from wander.core.steps.inputs import Built, Inputs, StepRefused


def build(params: FilletParams, inputs: Inputs) -> Built:
    for number, each in enumerate(params.sets):
        wrong: list[list[str | int]] = [["sets", number, "along", k, "radius"] for k, place in enumerate(each.along) if place.radius <= 0]
        if not each.along and each.radius <= 0:
            wrong.append(["sets", number, "radius"])
        if wrong:
            raise StepRefused([radius_not_positive(inputs.step, wrong[0])])

    def blends() -> list[Blend]:
        return [
            Blend(edges_of_set(each, params.body, inputs, ["sets", number]), _law(each), None if each.among == "picked" else each.among)
            for number, each in enumerate(params.sets)
        ]

    return blended(params.body, params.sets, blends, inputs, "radius", lambda kernel: kernel.filleted, rounded_rims)


def _law(each: FilletSet) -> Law:
    if not each.along:
        return constant(each.radius)
    return through([(place.at, place.radius, False) for place in sorted(each.along, key=lambda place: place.at)])
