"""A body with a wall."""

from __future__ import annotations

from pydantic import Field

from wander.core.document.fields import BodyRef, FaceRef, Length, Model
from wander.core.steps.lies import Lies


class FaceThickness(Model):
    """A face behind which the wall has a thickness of its own."""

    face: FaceRef = Field(title="Face")
    thickness: Length = Field(title="Thickness")


class WallParams(Model):
    """The body hollowed out: its wall lies inside of what was shaped, outside, or half on either side."""

    body: BodyRef = Field(title="Body")
    thickness: Length = Field(default=2.0, title="Thickness")
    way: Lies = Field(default="inwards", title="The wall lies")
    open: list[FaceRef] = Field(default=[], title="Faces left open", max_length=50)
    copies: bool = Field(default=False, title="The same on every copy")
    own: list[FaceThickness] = Field(default=[], title="Of their own", max_length=50)
