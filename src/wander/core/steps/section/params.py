"""A section: a shape on a station."""

from __future__ import annotations

from pydantic import Field

from wander.core.document.fields import Angle, Model, Place, StationRef
from wander.core.steps.section.shapes import Shape


class SectionParams(Model):
    """A shape on a station, moved and turned in its plane."""

    station: StationRef = Field(title="Station")
    shape: Shape = Field(title="Shape")
    at: Place = Field(default=(0.0, 0.0), title="Centre")
    turn: Angle = Field(default=0.0, title="Turned by")
