"""What a loft goes through, and what happens along it."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.document.fields import Angle, BodyRef, Model, Place, RailRef, SectionRef, Share, StationRef
from wander.core.geometry.law import Law
from wander.core.shaping.ends import EndKind, EndShape, Onto
from wander.core.shaping.laws import About, Laws
from wander.core.steps.laws import ScaleLaw, TwistLaw
from wander.core.steps.result import NEW, Result


class LoftSection(Model):
    """One section of the loft. start: the designer's own start on the outline, 0 to 1 from its first point.

    share: of a section that was cut from the body, its place between the sections round it that were not; aside: it was cut where that says
    nothing of the skin, and is passed over while it lies in it.
    """

    section: SectionRef = Field(title="Section")
    start: Share | None = Field(default=None, title="Start")
    share: float | None = Field(default=None, ge=0, le=1)
    aside: bool = False
    slack: float = Field(default=0.0, ge=0, le=1, title="Slack", description="How much a fair skin may swell on its way to the next section.")
    crease: bool = Field(
        default=False, title="Crease", description="A smooth skin bends anew here; at the first and the last section it says nothing."
    )


class TiePlace(Model):
    """Where a connecting line passes a section: at, 0 to 1 along its outline from its first point."""

    section: SectionRef = Field(title="Section")
    at: Share = Field(title="At")


class ConnectingLine(Model):
    """Places that belong together whatever the shapes say; a section that has none is passed in proportion."""

    places: list[TiePlace] = Field(title="Places", max_length=400)


class EndParams(Model):
    """How the body begins or ends. fullness: how far that reaches into it. onto: the body whose tangent planes or curvature it goes on with."""

    shape: Literal["free", "square", "angle", "domed", "tangent", "curvature"] = "free"
    onto: BodyRef | None = Field(default=None, title="Goes on from")
    angle: Angle = Field(default=0.0, title="Leaning outwards by")
    fullness: Share = Field(default=1.0, title="Fullness")

    @property
    def goes_on(self) -> bool:
        return self.shape in ("tangent", "curvature")

    def end(self, onto: Onto | None = None) -> EndShape:
        return EndShape(EndKind(self.shape) if onto is not None or not self.goes_on else EndKind.FREE, self.angle, self.fullness, onto)


class LoftParams(Model):
    """A closed body through sections in their order, turned and scaled along its length."""

    sections: list[LoftSection] = Field(title="Sections", max_length=400)
    rails: list[RailRef] = Field(default=[], title="Rails", max_length=64)
    carries: Literal["skin", "sections"] = Field(
        default="skin",
        title="Rails carry",
        description="skin: what lies near them; sections: between the stations whole sections, moved, turned and scaled as they ask.",
    )
    ties: list[ConnectingLine] = Field(default=[], title="Connecting lines", max_length=64)
    mirrored: StationRef | None = Field(
        default=None, title="Half, mirrored in", description="Sections go from this plane to this plane; the body is theirs and its mirror image."
    )
    centre: RailRef | None = Field(
        default=None, title="Centre line", description="The sections swing along it, from where it passes one to where it passes the next."
    )
    closed: bool = Field(default=False, title="Closed into a ring", description="After the last section comes the first one again.")
    between: Literal["smooth", "straight"] = Field(default="smooth", title="Between sections")
    skin: Literal["calm", "even", "fair", "batten"] = Field(
        default="batten",
        title="Skin",
        description="calm: swells between no two sections, changes its curvature as little as can be, and bends to no side they don't ask for; "
        "even: as calm, but for the last; fair: it is bent as little as can be, and flat at its ends; "
        "batten: one natural cubic through all, as bodies were before there was another.",
    )
    start: EndParams = Field(default=EndParams(), title="Start")
    end: EndParams = Field(default=EndParams(), title="End")
    twist: TwistLaw | None = None
    width: ScaleLaw | None = None
    height: ScaleLaw | None = None
    together: bool = Field(default=True, title="Width and height together")
    result: Result = Field(default=NEW, title="Makes")
    about: Literal["section", "riding", "spine"] = Field(default="section", title="Turned and scaled about")
    riding: Place = Field(default=(0.0, 0.0), title="Riding point")

    def laws(self) -> Laws:
        def made(law: TwistLaw | ScaleLaw | None) -> Law | None:
            return None if law is None else law.law()

        width = made(self.width)
        return Laws(made(self.twist), width, width if self.together else made(self.height), About(self.about), self.riding)
