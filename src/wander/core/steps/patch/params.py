"""An opening closed."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.document.fields import EdgeRef, Model


class PatchParams(Model):
    """edges: round the opening; where one is picked, the loop that it belongs to is meant."""

    edges: list[EdgeRef] = Field(default=[], title="Edges", max_length=100)
    meets: Literal["position", "tangent", "curvature"] = Field(default="position", title="Meets what is beside it")
