from wander.core.steps.extrude.params import ExtrudeParams
from wander.core.steps.registry import StepKind
from wander.core.steps.result import meets_another, target

KIND = StepKind("extrude", "Extrude", "body", ExtrudeParams, "wander.core.steps.extrude.build:build", changes=target, kernel=meets_another)
