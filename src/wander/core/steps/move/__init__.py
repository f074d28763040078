from wander.core.steps.move.params import MoveParams
from wander.core.steps.registry import StepKind

KIND = StepKind("move", "Move and turn", "body", MoveParams, "wander.core.steps.move.build:build", changes=lambda params: params.body)
