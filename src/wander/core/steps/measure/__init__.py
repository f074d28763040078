from wander.core.steps.measure.params import MeasureParams
from wander.core.steps.registry import StepKind

KIND = StepKind("measure", "Measure", "measure", MeasureParams, "wander.core.steps.measure.build:build", last=True)
