"""An area turned about a line in the plane of its station."""

from __future__ import annotations

from math import pi

from pydantic import Field

from wander.core.document.fields import Angle, Model, Place, SectionRef
from wander.core.steps.result import NEW, Result


class RevolveParams(Model):
    """About the line through `point` that runs at the angle `direction` from the x of the station; by `angle` one way and `other` the other way."""

    section: SectionRef = Field(title="Drawing")
    point: Place = Field(default=(0.0, 0.0), title="Axis through")
    direction: Angle = Field(default=pi / 2, title="Axis runs at", json_schema_extra={"default": 90.0})
    angle: Angle = Field(default=2 * pi, title="Turned by", json_schema_extra={"default": 360.0})
    other: Angle = Field(default=0.0, title="Other way")
    result: Result = Field(default=NEW, title="Makes")
