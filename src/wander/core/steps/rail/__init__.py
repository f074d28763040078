from wander.core.steps.rail.params import RailParams
from wander.core.steps.registry import StepKind

KIND = StepKind("rail", "Rail", "rail", RailParams, "wander.core.steps.rail.build:build")
