"""A body several times."""

from __future__ import annotations

from math import pi
from typing import Annotated, Literal

from pydantic import Field

from wander.core.document.fields import Angle, BodyRef, Count, Model, Spot

Axis = Literal["x", "y", "z"]


class AlongLine(Model):
    """Each copy a step further."""

    type: Literal["line"]
    by: Spot = Field(title="Step")


class RoundAxis(Model):
    """Evenly round a line: over a full turn the last copy stops short of the first, over less it ends at the angle."""

    type: Literal["axis"]
    axis: Axis = Field(default="z", title="Round")
    about: Spot = Field(default=(0.0, 0.0, 0.0), title="Line through")
    angle: Angle = Field(default=2 * pi, title="Over", json_schema_extra={"default": 360.0})


Way = Annotated[AlongLine | RoundAxis, Field(discriminator="type")]


class RepeatParams(Model):
    """count: with the original. All of them are taken as one body whose pieces lie apart."""

    body: BodyRef = Field(title="Body")
    count: Count = Field(default=3, title="How many")
    way: Way = Field(title="Repeated")
