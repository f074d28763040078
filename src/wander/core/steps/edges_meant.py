"""Edges of a body as parameters: picked one by one, all round faces, or all of a kind."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.document.fields import EdgeRef, FaceRef, Model


class EdgesMeant(Model):
    """What goes on smoothly from an edge comes along. among: all those at which the body stands out, or goes in, or what several steps made meets.

    copies: what is picked on one copy is meant on every other one.
    """

    edges: list[EdgeRef] = Field(default=[], title="Picked edges", max_length=400)
    faces: list[FaceRef] = Field(default=[], title="All round faces", max_length=100)
    among: Literal["picked", "outer", "inner", "meeting"] = Field(default="picked", title="Which")
    copies: bool = Field(default=False, title="The same on every copy")
