from wander.core.steps.combine.params import CombineParams
from wander.core.steps.registry import StepKind

KIND = StepKind(
    "combine",
    "Combine",
    "body",
    CombineParams,
    "wander.core.steps.combine.build:build",
    changes=lambda params: params.body,
    uses_up=lambda params: [] if params.keep else params.tools,
    kernel=lambda params: True,
)
