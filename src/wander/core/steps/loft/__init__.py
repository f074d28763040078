from wander.core.steps.loft.params import LoftParams
from wander.core.steps.registry import StepKind
from wander.core.steps.result import meets_another, target

KIND = StepKind("loft", "Loft", "body", LoftParams, "wander.core.steps.loft.build:build", changes=target, kernel=meets_another)
