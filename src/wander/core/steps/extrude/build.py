"""Extrude: an area moved along the normal of its station."""

from __future__ import annotations

from math import pi

from wander.core.bodies.body import Along
from wander.core.checks.areas import makes_no_body
from wander.core.geometry.errors import BadInput, GeometryError
from wander.core.results.bodies import body_summary
from wander.core.shaping.extrusion import extruded
from wander.core.steps.areas import areas_of
from wander.core.steps.extrude.params import ExtrudeParams
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import finished

STEEPEST = 0.49 * pi


def build(params: ExtrudeParams, inputs: Inputs) -> Built:
    drawn = areas_of(params.section, inputs)
    ends = {"far": params.distance, "near": -params.other}
    low, high = sorted(ends, key=lambda end: ends[end])
    try:
        if abs(params.taper) > STEEPEST:
            raise BadInput("the sides lean so much that they hardly rise")
        skins = extruded(
            drawn.areas,
            drawn.frame,
            low=ends[low],
            high=ends[high],
            taper=params.taper,
            name=inputs.step.id,
            section=params.section.step,
            ends=(low, high),
            tolerances=inputs.tolerances,
        )
    except GeometryError as error:
        raise StepRefused([makes_no_body(inputs.step, error)]) from error
    body, findings = finished(skins, Along(drawn.frame.z), params.result, inputs)
    return Built(body, body_summary(body, inputs.tolerances), findings)
