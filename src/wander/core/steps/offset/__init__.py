from wander.core.steps.offset.params import OffsetParams
from wander.core.steps.registry import StepKind

KIND = StepKind("offset", "Offset", "body", OffsetParams, "wander.core.steps.offset.build:build", kernel=lambda params: True)
