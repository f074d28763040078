from wander.core.steps.dome.params import DomeParams
from wander.core.steps.registry import StepKind

KIND = StepKind(
    "dome", "Dome", "body", DomeParams, "wander.core.steps.dome.build:build", changes=lambda params: params.face, kernel=lambda params: True
)
