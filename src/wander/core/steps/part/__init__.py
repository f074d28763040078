from wander.core.steps.part.params import PartParams
from wander.core.steps.registry import StepKind

KIND = StepKind("part", "Part", "body", PartParams, "wander.core.steps.part.build:build", kernel=lambda params: True)
