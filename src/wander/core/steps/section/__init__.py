from wander.core.steps.registry import StepKind
from wander.core.steps.section.params import SectionParams

KIND = StepKind("section", "Section", "section", SectionParams, "wander.core.steps.section.build:build")
