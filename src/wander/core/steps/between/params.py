"""A drawing carried between two rails."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.document.fields import Length, Model, Place, RailRef, SectionRef, Share
from wander.core.steps.laws import ScaleLaw
from wander.core.steps.result import NEW, Result


class BetweenParams(Model):
    """The feet of the section ride on the rails, so that it is as wide as these are apart."""

    section: SectionRef = Field(title="Drawing")
    first: RailRef = Field(title="Left rail")
    second: RailRef = Field(title="Right rail")
    pairing: Literal["length", "parameter", "corners", "spine"] = Field(
        default="length",
        title="Rails are paired by",
        description="length: the same share of both; parameter: point for point; corners: one by one; spine: planes square to a third line.",
    )
    spine: RailRef | None = Field(default=None, title="Spine")
    begin: Share = Field(default=0.0, title="Left start", description="The share of its length by which a rail that closes begins further on.")
    start: Share = Field(
        default=0.0,
        title="Right start",
        description="The share of its length by which it begins further on than where it comes nearest.",
    )
    against: bool = Field(default=False, title="Right reversed")
    grows: Literal["both", "width"] = Field(
        default="both", title="With the width grow", description="both: the height in proportion; width: nothing else, the height has its own law."
    )
    height: ScaleLaw | None = None
    stands: Literal["ends", "feet"] = Field(default="ends", title="It stands on", description="ends: its outermost points; feet: two chosen ones.")
    left: Place = Field(default=(-10.0, 0.0), title="Left foot")
    right: Place = Field(default=(10.0, 0.0), title="Right foot")
    kept: Literal["exactly", "simplified"] = Field(
        default="exactly", title="Shape is", description="simplified: led by as few rows of control points as a tolerance asks for."
    )
    within: Length = Field(default=0.05, title="Simplified within", gt=0)
    result: Result = Field(default=NEW, title="Makes")
