from wander.core.steps.registry import StepKind
from wander.core.steps.wall.params import WallParams

KIND = StepKind("wall", "Wall", "body", WallParams, "wander.core.steps.wall.build:build", changes=lambda params: params.body)
