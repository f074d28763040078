"""What a step that makes a body does with it: keeps it as a new one, or joins it to, cuts it from or overlaps it with another."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from wander.core.document.fields import BodyRef, Model, Ref


class NewBody(Model):
    """Stays apart."""

    type: Literal["new"]


class JoinedTo(Model):
    """Becomes one with another body."""

    type: Literal["join"]
    body: BodyRef = Field(title="Joined to")


class CutFrom(Model):
    """Is taken away from another body."""

    type: Literal["cut"]
    body: BodyRef = Field(title="Cut from")


class KeptWithin(Model):
    """Only what lies in both is kept."""

    type: Literal["overlap"]
    body: BodyRef = Field(title="Kept within")


Result = Annotated[NewBody | JoinedTo | CutFrom | KeptWithin, Field(discriminator="type")]
NEW = NewBody(type="new")


def target(params: Any) -> Ref | None:
    """The body that the result replaces."""
    result = params.result
    return None if isinstance(result, NewBody) else result.body


def meets_another(params: Any) -> bool:
    return target(params) is not None
