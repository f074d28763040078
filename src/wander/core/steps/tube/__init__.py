from wander.core.steps.registry import StepKind
from wander.core.steps.result import meets_another, target
from wander.core.steps.tube.params import TubeParams

KIND = StepKind("tube", "Tube", "body", TubeParams, "wander.core.steps.tube.build:build", changes=target, kernel=meets_another)
