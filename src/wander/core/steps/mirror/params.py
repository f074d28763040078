"""The mirror image of a body."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.document.fields import BodyRef, Length, Model, StationRef


class MirrorParams(Model):
    """In a station, or a plane parallel to one of the three base planes. keep: the original stays, and the image is a body of its own."""

    body: BodyRef = Field(title="Body")
    station: StationRef | None = Field(default=None, title="In the station")
    plane: Literal["top", "front", "side"] = Field(default="side", title="Else in the plane")
    offset: Length = Field(default=0.0, title="Plane at")
    keep: bool = Field(default=True, title="Keep the original")
