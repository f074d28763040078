from wander.core.steps.registry import StepKind
from wander.core.steps.result import meets_another, target
from wander.core.steps.turn.params import TurnParams

KIND = StepKind("turn", "Turned rail", "body", TurnParams, "wander.core.steps.turn.build:build", changes=target, kernel=meets_another)
