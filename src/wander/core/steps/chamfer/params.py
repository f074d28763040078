"""Edges cut off."""

from __future__ import annotations

from math import pi
from typing import Literal

from pydantic import Field

from wander.core.document.fields import Angle, BodyRef, Length, Model
from wander.core.steps.edges_meant import EdgesMeant


class ChamferSet(EdgesMeant):
    """distance: from the edge on both faces; on the first alone where the other one has its own distance, or the cut its own angle to the first."""

    distance: Length = Field(default=1.0, title="Distance")
    way: Literal["equal", "distances", "angle"] = Field(default="equal", title="Cut by")
    other: Length = Field(default=1.0, title="Other distance")
    angle: Angle = Field(default=pi / 4, title="Angle", json_schema_extra={"default": 45.0})
    first: list[str] = Field(default=[], max_length=400, description="Names of the faces that are the first at their edges.")


class ChamferParams(Model):
    body: BodyRef = Field(title="Body")
    sets: list[ChamferSet] = Field(title="Edges", min_length=1, max_length=50)
