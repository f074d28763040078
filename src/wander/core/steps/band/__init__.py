from wander.core.steps.band.params import BandParams
from wander.core.steps.registry import StepKind

KIND = StepKind("band", "Ridge or groove", "body", BandParams, "wander.core.steps.band.build:build", changes=lambda params: params.body)
