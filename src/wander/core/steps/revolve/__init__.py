from wander.core.steps.registry import StepKind
from wander.core.steps.result import meets_another, target
from wander.core.steps.revolve.params import RevolveParams

KIND = StepKind("revolve", "Revolve", "body", RevolveParams, "wander.core.steps.revolve.build:build", changes=target, kernel=meets_another)
