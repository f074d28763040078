from wander.core.steps.patch.params import PatchParams
from wander.core.steps.registry import StepKind

KIND = StepKind("patch", "Patch", "body", PatchParams, "wander.core.steps.patch.build:build", kernel=lambda params: True)
