from wander.core.steps.between.params import BetweenParams
from wander.core.steps.registry import StepKind
from wander.core.steps.result import meets_another, target

KIND = StepKind("between", "Between rails", "body", BetweenParams, "wander.core.steps.between.build:build", changes=target, kernel=meets_another)
