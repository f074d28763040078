"""Tubes along rails."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.document.fields import Angle, Count, Length, Model, RailRef, SectionRef, Share
from wander.core.steps.result import NEW, Result


class TubeParams(Model):
    """Round, angular, or with a profile of its own, along any number of rails at once; they are one body of several pieces."""

    paths: list[RailRef] = Field(title="Along", max_length=200)
    outline: Literal["round", "square", "hexagon", "octagon"] = Field(default="round", title="Outline")
    diameter: Length = Field(default=10.0, title="Diameter", description="Of an angular one from flat to flat.")
    wall: Length = Field(default=0.0, title="Wall", description="0 for a rod.")
    profile: SectionRef | None = Field(default=None, title="Profile", description="A drawing instead.")
    corners: Literal["mitred", "rounded", "stepped"] = Field(default="rounded", title="Corners are")
    radius: Length = Field(default=10.0, title="Rounded by")
    steps: Count = Field(default=3, title="In steps", description="Where corners are stepped: so many mitres stand for each.")
    taper: Share = Field(default=1.0, title="Scaled at the end to")
    turn: Angle = Field(default=0.0, title="Turned by", description="About its way, from where it begins: which way its flats look.")
    twist: Angle = Field(default=0.0, title="Twist in all", description="Evenly along the way, which is seen where the profile is not round.")
    result: Result = Field(default=NEW, title="Makes")
