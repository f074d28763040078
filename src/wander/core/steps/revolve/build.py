"""Revolve: an area turned about a line in the plane of its station."""

from __future__ import annotations

import numpy as np

from wander.core.bodies.body import Along
from wander.core.checks.areas import crosses_axis, makes_no_body
from wander.core.geometry.errors import GeometryError
from wander.core.shaping.revolution import CrossesAxis, revolved
from wander.core.steps.areas import outlines_of
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import finished, left
from wander.core.steps.revolve.params import RevolveParams


def build(params: RevolveParams, inputs: Inputs) -> Built:
    areas, frame = outlines_of(params.section, inputs)
    low, high = sorted((params.angle, -params.other))
    try:
        skins = revolved(
            areas,
            frame,
            np.array(params.point),
            params.direction,
            low=low,
            high=high,
            name=inputs.step.id,
            section=params.section.step,
        )
    except CrossesAxis as error:
        raise StepRefused([crosses_axis(inputs.step, error, error.place)]) from error
    except GeometryError as error:
        raise StepRefused([makes_no_body(inputs.step, error)]) from error
    axis = frame.lift(np.array([np.cos(params.direction), np.sin(params.direction)])) - frame.origin
    body, findings = finished(skins, Along(axis), params.result, inputs)
    return left(body, inputs, findings)
