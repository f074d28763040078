from wander.core.steps.picture.params import PictureParams
from wander.core.steps.registry import StepKind

KIND = StepKind("picture", "Reference picture", "picture", PictureParams, "wander.core.steps.picture.build:build")
