"""The outlines a section can have, as parameters."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from wander.core.document.fields import Count, EdgeRef, FaceRef, Length, Model, Place, RailRef, SectionRef, Share
from wander.core.drawing.model import DrawnShape
from wander.core.drawing.outlines import shapes
from wander.core.drawing.outlines.loop import Loop
from wander.core.drawing.outlines.runs import OpenRun


class Circle(Model):
    type: Literal["circle"]
    diameter: Length = Field(title="Diameter")

    def loop(self) -> Loop:
        return shapes.circle(self.diameter)


class Ellipse(Model):
    type: Literal["ellipse"]
    width: Length = Field(title="Width")
    depth: Length = Field(title="Depth")

    def loop(self) -> Loop:
        return shapes.ellipse(self.width, self.depth)


class Rectangle(Model):
    type: Literal["rectangle"]
    width: Length = Field(title="Width")
    depth: Length = Field(title="Depth")

    def loop(self) -> Loop:
        return shapes.rectangle(self.width, self.depth)


class RoundedRectangle(Model):
    type: Literal["rounded-rectangle"]
    width: Length = Field(title="Width")
    depth: Length = Field(title="Depth")
    radius: Length = Field(title="Corner radius")

    def loop(self) -> Loop:
        return shapes.rounded_rectangle(self.width, self.depth, self.radius)


class Slot(Model):
    type: Literal["slot"]
    length: Length = Field(title="Length over all")
    width: Length = Field(title="Width")

    def loop(self) -> Loop:
        return shapes.slot(self.length, self.width)


class Polygon(Model):
    type: Literal["polygon"]
    sides: Count = Field(title="Sides")
    across: Length = Field(title="Across corners")

    def loop(self) -> Loop:
        return shapes.polygon(self.sides, self.across)


class Spline(Model):
    """A smooth curve through points; it makes an outline only while it is closed."""

    type: Literal["spline"]
    points: list[Place] = Field(title="Points", min_length=2, max_length=1000)
    closed: bool = Field(default=True, title="Closed")

    def loop(self) -> Loop:
        return shapes.spline(np.array(self.points))


class Foil(Model):
    """A foil of the four-digit family, from its formula."""

    type: Literal["foil"]
    chord: Length = Field(title="Chord")
    thickness: Share = Field(title="Thickness, of the chord")
    camber: Share = Field(default=0.0, title="Camber, of the chord")
    crest: Share = Field(default=0.4, title="Crest, of the chord")

    def loop(self) -> Loop:
        return shapes.foil(self.chord, self.thickness, self.camber, self.crest)


class Traced(Model):
    """An outline that was cut from a body, exactly: a B-spline over [0, 1] in mm; closed, or from one end of a sheet to the other."""

    type: Literal["traced"]
    degree: int = Field(ge=1, le=5)
    knots: list[float] = Field(max_length=4000)
    points: list[Annotated[tuple[float, float], Field(strict=False)]] = Field(max_length=4000)
    corners: list[float] = Field(default=[], max_length=400)
    closed: bool = True

    def loop(self) -> Loop:
        return shapes.traced(self.degree, np.array(self.knots), np.array(self.points), self.corners)

    def run(self) -> OpenRun:
        """Of one that is not closed."""
        return shapes.traced_run(self.degree, np.array(self.knots), np.array(self.points), self.corners)


class Copied(Model):
    """The outline of another section, which it follows until it is released: scaled and turned about a place, or fitted between two rails."""

    type: Literal["copied"]
    section: SectionRef = Field(title="Copy of")
    scale: Share = Field(default=1.0, gt=0, title="Scaled by")
    about: Place = Field(default=(0.0, 0.0), title="Scaled and turned about")
    rails: list[RailRef] = Field(default=[], max_length=2, title="Fitted between")
    ends: Literal["sideways", "upright"] = Field(
        default="sideways", title="Its ends", description="What lies on the two rails: its ends to the left and right, or at the bottom and top."
    )


class OfFace(Model):
    """What goes round a flat face of a body, its holes too: it follows the face."""

    type: Literal["face"]
    face: FaceRef = Field(title="Face")


class OfEdges(Model):
    """A closed loop of edges of a body that lie in one plane, whatever faces meet there: it follows them."""

    type: Literal["edges"]
    edge: EdgeRef = Field(title="Edge")


class Point(Model):
    """No outline: the body comes to a sharp tip here."""

    type: Literal["point"]


Shape = Annotated[
    Circle | Ellipse | Rectangle | RoundedRectangle | Slot | Polygon | Foil | Spline | Traced | DrawnShape | Copied | OfFace | OfEdges | Point,
    Field(discriminator="type"),
]
