from wander.core.steps.registry import StepKind
from wander.core.steps.sew.params import SewParams

KIND = StepKind(
    "sew",
    "Sew",
    "body",
    SewParams,
    "wander.core.steps.sew.build:build",
    changes=lambda params: params.body,
    uses_up=lambda params: [] if params.keep else params.others,
    kernel=lambda params: True,
)
