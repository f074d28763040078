from wander.core.document.fields import Ref
from wander.core.steps.measure.params import MassOf, MeasureParams
from wander.core.steps.registry import StepKind


def _weighs(params: MeasureParams) -> Ref | None:
    return params.of.body if isinstance(params.of, MassOf) else None


KIND = StepKind("measure", "Measure", "measure", MeasureParams, "wander.core.steps.measure.build:build", weighs=_weighs, last=True)
