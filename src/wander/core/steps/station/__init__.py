from wander.core.steps.station.params import StationParams
from wander.core.steps.registry import StepKind

KIND = StepKind("station", "Station", "station", StationParams, "wander.core.steps.station.build:build")
