from wander.core.steps.mirror.params import MirrorParams
from wander.core.steps.registry import StepKind

KIND = StepKind(
    "mirror",
    "Mirror",
    "body",
    MirrorParams,
    "wander.core.steps.mirror.build:build",
    changes=lambda params: None if params.keep else params.body,
)
