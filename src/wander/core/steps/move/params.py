"""A body moved and turned."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.document.fields import Angle, BodyRef, Model, Spot


class MoveParams(Model):
    """Turned by `angle` about the line through `about` along an axis, then moved by `by`."""

    body: BodyRef = Field(title="Body")
    by: Spot = Field(default=(0.0, 0.0, 0.0), title="Moved by")
    angle: Angle = Field(default=0.0, title="Turned by")
    axis: Literal["x", "y", "z"] = Field(default="z", title="About")
    about: Spot = Field(default=(0.0, 0.0, 0.0), title="Line through")
