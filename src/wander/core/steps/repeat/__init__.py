from wander.core.steps.registry import StepKind
from wander.core.steps.repeat.params import RepeatParams

KIND = StepKind("repeat", "Repeat", "body", RepeatParams, "wander.core.steps.repeat.build:build", changes=lambda params: params.body)
