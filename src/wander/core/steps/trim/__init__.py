from wander.core.steps.registry import StepKind
from wander.core.steps.trim.params import TrimParams

KIND = StepKind(
    "trim",
    "Trim",
    "body",
    TrimParams,
    "wander.core.steps.trim.build:build",
    changes=lambda params: params.body,
    kernel=lambda params: True,
)
