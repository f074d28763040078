"""Move and turn: a body somewhere else."""

from __future__ import annotations

import numpy as np

from wander.core.bodies.body import moved
from wander.core.geometry.motions import turn_about
from wander.core.steps.inputs import Built, Inputs
from wander.core.steps.made import elsewhere
from wander.core.steps.move.params import MoveParams

AXES = dict(zip("xyz", np.eye(3), strict=True))


def build(params: MoveParams, inputs: Inputs) -> Built:
    turn = turn_about(np.array(params.about), AXES[params.axis], params.angle)
    body = moved(inputs.body(params.body), turn.matrix, turn.origin + np.array(params.by))
    return elsewhere(body, inputs)
