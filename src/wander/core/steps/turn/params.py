"""A rail turned about an axis, its ends led round sections."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.document.fields import Model, RailRef, SectionRef, Spot, StationRef
from wander.core.steps.result import NEW, Result


class TurnParams(Model):
    """The rail lies in a plane with the axis. Where an end of it runs round a section, the rail is widened at every angle until it ends on that."""

    rail: RailRef = Field(title="Rail")
    axis: Literal["x", "y", "z"] = Field(default="z", title="Round")
    about: Spot = Field(default=(0.0, 0.0, 0.0), title="Axis through")
    first: SectionRef | None = Field(default=None, title="Begins on", description="The section that the start of the rail runs round; else a circle.")
    second: SectionRef | None = Field(default=None, title="Ends on", description="The section that the end of the rail runs round; else a circle.")
    mirrored: StationRef | None = Field(
        default=None, title="Half, mirrored in", description="Its sections go from this plane to this plane, and are closed by their mirror images."
    )
    result: Result = Field(default=NEW, title="Makes")
