"""Sheets sewn together."""

from __future__ import annotations

from pydantic import Field

from wander.core.document.fields import BodyRef, Length, Model


class SewParams(Model):
    """Edges that lie nearer to each other than `within` become one; what closes becomes a body. keep: the others stay as sheets of their own."""

    body: BodyRef = Field(title="Sheet")
    others: list[BodyRef] = Field(title="Sewn to", min_length=1, max_length=100)
    within: Length = Field(default=0.01, title="Edges within")
    keep: bool = Field(default=False, title="Keep the others")
