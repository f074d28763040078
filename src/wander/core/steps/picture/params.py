"""A reference picture on a station."""

from __future__ import annotations

from pydantic import Field

from wander.core.document.fields import Angle, Length, Model, Place, Share, StationRef


class PictureParams(Model):
    """picture: the key of its data. at: its middle on the station. locked: it can't be dragged."""

    station: StationRef = Field(title="Station")
    picture: str = Field(pattern="^[0-9a-f]{32}$")
    at: Place = Field(default=(0.0, 0.0), title="Middle")
    width: Length = Field(default=100.0, title="Width")
    turn: Angle = Field(default=0.0, title="Turned by")
    fade: Share = Field(default=0.5, title="Faded")
    locked: bool = Field(default=False, title="Locked")
