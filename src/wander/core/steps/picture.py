"""Reference picture: something to draw after, laid on a station."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.checks.pictures import no_width
from wander.core.document.fields import Angle, Length, Model, Place, Share, StationRef
from wander.core.geometry.frame import Frame
from wander.core.steps.registry import Built, Inputs, StepKind, StepRefused
from wander.core.steps.station import Vector, vector


class PictureParams(Model):
    """picture: the key of its data. at: its middle on the station. locked: it can't be dragged."""

    station: StationRef = Field(title="Station")
    picture: str = Field(pattern="^[0-9a-f]{32}$")
    at: Place = Field(default=(0.0, 0.0), title="Middle")
    width: Length = Field(default=100.0, title="Width")
    turn: Angle = Field(default=0.0, title="Turned by")
    fade: Share = Field(default=0.5, title="Faded")
    locked: bool = Field(default=False, title="Locked")


class PictureSummary(Model):
    """Where the picture lies: the plane of its station, and on it the middle and the width in mm, the turn in radians. fade: 0 to 1."""

    result: Literal["picture"] = "picture"
    station: str
    picture: str
    origin: Vector
    x: Vector
    y: Vector
    at: tuple[float, float]
    width: float
    turn: float
    fade: float
    locked: bool


def build(params: PictureParams, inputs: Inputs) -> Built:
    if params.width <= 0:
        raise StepRefused([no_width(inputs.step)])
    frame: Frame = inputs.result(params.station)
    summary = PictureSummary(
        station=params.station.step,
        picture=params.picture,
        origin=vector(frame.origin),
        x=vector(frame.x),
        y=vector(frame.y),
        at=params.at,
        width=params.width,
        turn=params.turn,
        fade=min(max(params.fade, 0.0), 1.0),
        locked=params.locked,
    )
    return Built(params.picture, summary)


KIND = StepKind("picture", "Reference picture", "picture", PictureParams, build)
