from wander.core.steps.registry import StepKind
from wander.core.steps.result import meets_another, target
from wander.core.steps.sweep.params import SweepParams

KIND = StepKind("sweep", "Sweep", "body", SweepParams, "wander.core.steps.sweep.build:build", changes=target, kernel=meets_another)
