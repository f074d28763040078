"""Station: a placed plane that sections stand on."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from wander.core.document.fields import Length, Model
from wander.core.geometry.frame import BASE_FRAMES, Frame
from wander.core.steps.registry import Built, Inputs, StepKind

Vector = tuple[float, float, float]


class StationParams(Model):
    """A station parallel to one of the three base planes."""

    plane: Literal["top", "front", "side"] = Field(default="top", title="Parallel to")
    offset: Length = Field(title="Station at")


class StationSummary(Model):
    """The plane: origin in mm, unit axes."""

    result: Literal["station"] = "station"
    origin: Vector
    x: Vector
    y: Vector
    offset: float


def vector(values: np.ndarray) -> Vector:
    x, y, z = (float(v) for v in values)
    return x, y, z


def build(params: StationParams, inputs: Inputs) -> Built:
    frame: Frame = BASE_FRAMES[params.plane].moved(params.offset)
    return Built(frame, StationSummary(origin=vector(frame.origin), x=vector(frame.x), y=vector(frame.y), offset=params.offset))


KIND = StepKind("station", "Station", "station", StationParams, build)
