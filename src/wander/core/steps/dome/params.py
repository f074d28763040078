"""A flat face that is domed."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.document.fields import FaceRef, Length, Model, Share


class DomeParams(Model):
    """From the rim of a flat face over to a tip above its middle; round there, or a point.

    meets: how it goes on from the sides of the body. fullness: 1 is half an ellipsoid on a round face with upright sides.
    """

    face: FaceRef = Field(title="Face")
    height: Length = Field(default=10.0, title="Height")
    meets: Literal["edge", "tangent", "curvature"] = Field(default="tangent", title="Meets the sides")
    tip: Literal["round", "point"] = Field(default="round", title="Its tip is")
    fullness: Share = Field(default=1.0, title="Fullness")
