from wander.core.steps.bridge.params import BridgeParams
from wander.core.steps.registry import StepKind
from wander.core.steps.result import meets_another, target

KIND = StepKind("bridge", "Bridge", "body", BridgeParams, "wander.core.steps.bridge.build:build", changes=target, kernel=meets_another)
