"""What a rail can be made of."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wander.core.document.fields import Angle, BodyRef, EdgeRef, Length, Model, Place, RailRef, SectionRef, Share, Spot, StationRef
from wander.core.drawing.model import DrawnShape


class OnSection(Model):
    """A place on the outline of a section, 0 to 1 round it from its first point; the middle of it for a section that is a point."""

    section: SectionRef = Field(title="Section")
    at: Share = Field(default=0.0, title="Way round")


class RailPoint(Model):
    """Where a rail goes through: on a section, or anywhere. handle: the pull on it, its direction and length."""

    on: OnSection | None = None
    at: Spot | None = None
    handle: Spot | None = None
    sharp: bool = False


class RailSpline(Model):
    """Smooth through points, some of which may lie on sections."""

    type: Literal["spline"]
    points: list[RailPoint] = Field(min_length=2, max_length=200)
    closed: bool = Field(default=False, title="Closed")


class RailHelix(Model):
    """Round and up from a station."""

    type: Literal["helix"]
    center: Place = Field(default=(0.0, 0.0), title="Centre")
    radius: Length = Field(title="Radius")
    widens: Length = Field(default=0.0, title="Widens by")
    rise: Length = Field(title="Rises by")
    turns: Share = Field(title="Turns")
    begins: Angle = Field(default=0.0, title="Begins at")
    left: bool = Field(default=False, title="Left-handed")


class RailFromViews(Model):
    """Like one drawn rail from the side, and like another from above."""

    type: Literal["views"]
    first: RailRef = Field(title="Seen from one side")
    second: RailRef = Field(title="Seen from another")


class RailLaid(Model):
    """A drawn rail laid on a body, along the normal of its station."""

    type: Literal["laid"]
    rail: RailRef = Field(title="Rail")
    body: BodyRef = Field(title="On")
    back: bool = Field(default=False, title="From behind")


class RailEdges(Model):
    """Edges of a body: a smooth run of them, or the closed loop round a flat face.

    What is swept along the rail goes along all of them: more runs, and with copies the same ones on every copy.
    """

    type: Literal["edges"]
    edge: EdgeRef = Field(title="Edge")
    more: list[EdgeRef] = Field(default=[], title="And along", max_length=100)
    loop: bool = Field(default=False, title="All round the flat face")
    copies: bool = Field(default=False, title="The same on every copy")


class RailImage(Model):
    """The mirror image of another rail, which it follows: in a station, or in a plane parallel to one of the three base planes."""

    type: Literal["image"]
    rail: RailRef = Field(title="Image of")
    station: StationRef | None = Field(default=None, title="In the station")
    plane: Literal["top", "front", "side"] = Field(default="side", title="Else in the plane")
    offset: Length = Field(default=0.0, title="Plane at")


RailShape = Annotated[RailSpline | RailHelix | RailFromViews | RailLaid | RailEdges | RailImage | DrawnShape, Field(discriminator="type")]


class RailParams(Model):
    """A curve in space. station: what a drawn one and a helix stand on."""

    station: StationRef | None = Field(default=None, title="Station")
    shape: RailShape = Field(title="Made")
