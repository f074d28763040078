from wander.core.steps.extend.params import ExtendParams
from wander.core.steps.registry import StepKind

KIND = StepKind(
    "extend",
    "Extend",
    "body",
    ExtendParams,
    "wander.core.steps.extend.build:build",
    changes=lambda params: params.body,
    kernel=lambda params: True,
)
