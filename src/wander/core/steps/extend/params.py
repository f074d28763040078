"""A sheet that goes on beyond its rim."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.document.fields import BodyRef, EdgeRef, Length, Model


class ExtendParams(Model):
    """edges: of its rim; what goes on smoothly from one comes along. whole: all of the rim. distance: square to it."""

    body: BodyRef = Field(title="Sheet")
    edges: list[EdgeRef] = Field(default=[], title="Edges", max_length=200)
    whole: bool = Field(default=False, title="All round")
    distance: Length = Field(default=10.0, title="Distance")
    way: Literal["curving", "straight"] = Field(default="curving", title="It goes on")
