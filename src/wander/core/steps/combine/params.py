"""Bodies put together."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.document.fields import BodyRef, Model


class CombineParams(Model):
    """how: the body is joined with the tools, loses what lies in them, or keeps only that. keep: the tools stay as bodies of their own."""

    how: Literal["join", "cut", "overlap"] = Field(default="join", title="How")
    body: BodyRef = Field(title="Body")
    tools: list[BodyRef] = Field(title="With", min_length=1, max_length=100)
    keep: bool = Field(default=False, title="Keep the tools")
