"""A drawing carried along a rail."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.document.fields import Count, FaceRef, Length, Model, Place, RailRef, SectionRef, StationRef
from wander.core.geometry.law import Law
from wander.core.shaping.laws import Laws
from wander.core.steps.laws import ScaleLaw, TwistLaw
from wander.core.steps.result import NEW, Result


class SweepParams(Model):
    """The section runs along the path from end to end, turned and scaled about it as the laws say."""

    section: SectionRef = Field(title="Drawing")
    path: RailRef = Field(title="Path")
    also: list[RailRef] = Field(default=[], title="And along", max_length=200, description="Further paths, each with a piece of its own.")
    place: Literal["squared", "moved", "drawn"] = Field(
        default="squared",
        title="The section is",
        description="squared: moved to the start of the path and turned square to it; moved: only moved there; drawn: left where it was drawn.",
    )
    rides: Literal["centre", "point"] = Field(default="centre", title="On the path rides", description="What of the section lies on the path.")
    point: Place = Field(default=(0.0, 0.0), title="Riding point")
    attitude: Literal["least", "upright", "parallel", "surface"] = Field(
        default="least",
        title="Along the path it",
        description="least: turns as little as can be; upright: keeps its upright; parallel: is never turned; surface: stands up from a face.",
    )
    surface: FaceRef | None = Field(default=None, title="Stands up from")
    level: StationRef | None = Field(default=None, title="Level is", description="The station that counts as level; else the top.")
    corners: Literal["mitred", "rounded", "stepped"] = Field(default="mitred", title="Corners are")
    radius: Length = Field(default=10.0, title="Rounded by")
    steps: Count = Field(default=3, title="In steps", description="Where corners are stepped: so many mitres stand for each.")
    twist: TwistLaw | None = None
    width: ScaleLaw | None = None
    height: ScaleLaw | None = None
    together: bool = Field(default=True, title="Width and height together")
    result: Result = Field(default=NEW, title="Makes")

    def laws(self) -> Laws:
        def made(law: TwistLaw | ScaleLaw | None) -> Law | None:
            return None if law is None else law.law()

        width = made(self.width)
        return Laws(made(self.twist), width, width if self.together else made(self.height))
