from wander.core.steps.fillet.params import FilletParams
from wander.core.steps.registry import StepKind

KIND = StepKind(
    "fillet",
    "Fillet",
    "body",
    FilletParams,
    "wander.core.steps.fillet.build:build",
    changes=lambda params: params.body,
    kernel=lambda params: True,
    waits=True,
)
