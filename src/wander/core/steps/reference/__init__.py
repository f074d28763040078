from wander.core.steps.reference.params import ReferenceParams
from wander.core.steps.registry import StepKind

KIND = StepKind(
    "reference",
    "Reference body",
    "reference",
    ReferenceParams,
    "wander.core.steps.reference.build:build",
    kernel=lambda params: params.format == "step",
)
