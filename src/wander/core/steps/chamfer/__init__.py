from wander.core.steps.chamfer.params import ChamferParams
from wander.core.steps.registry import StepKind

KIND = StepKind(
    "chamfer",
    "Chamfer",
    "body",
    ChamferParams,
    "wander.core.steps.chamfer.build:build",
    changes=lambda params: params.body,
    kernel=lambda params: True,
    waits=True,
)
