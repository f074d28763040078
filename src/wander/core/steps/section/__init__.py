from wander.core.steps.section.params import SectionParams
from wander.core.steps.registry import StepKind

KIND = StepKind("section", "Section", "section", SectionParams, "wander.core.steps.section.build:build")
