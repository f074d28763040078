"""A skin from one run of edges to another."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.document.fields import EdgeRef, Model, Share
from wander.core.steps.result import NEW, Result


class BridgeEnd(Model):
    """edges: of one body; what goes on smoothly from one comes along. other_face: it leaves the face on the far side of them."""

    edges: list[EdgeRef] = Field(default=[], title="Edges", max_length=100)
    meets: Literal["position", "tangent", "curvature"] = Field(default="tangent", title="Leaves it")
    fullness: Share = Field(default=1.0, title="Fullness", ge=0, le=10)
    other_face: bool = Field(default=False, title="From the other face")


class BridgeParams(Model):
    """start: the share of its length by which a closed second run begins later than where it fits best. against: it is run the other way."""

    first: BridgeEnd = Field(default=BridgeEnd(), title="From")
    second: BridgeEnd = Field(default=BridgeEnd(), title="To")
    start: Share = Field(default=0.0, title="Turned round by")
    against: bool = Field(default=False, title="Run the other way")
    ends: Literal["open", "closed"] = Field(default="open", title="Ends are")
    result: Result = Field(default=NEW, title="Makes")
