from wander.core.steps.registry import StepKind
from wander.core.steps.station.params import StationParams

KIND = StepKind("station", "Station", "station", StationParams, "wander.core.steps.station.build:build")
