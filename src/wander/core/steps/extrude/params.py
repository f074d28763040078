"""An area moved along the normal of its station."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wander.core.document.fields import Angle, FaceRef, Length, Model, SectionRef
from wander.core.steps.lies import Lies
from wander.core.steps.result import NEW, Result


class ByDistance(Model):
    """As far as the distance says."""

    type: Literal["distance"]


class Through(Model):
    """Past all of the body that it is joined to, cut from or kept within: to the side of the distance."""

    type: Literal["through"]


class UpToFace(Model):
    """To a face: a curved one, or the plane of a flat one, however that leans."""

    type: Literal["face"]
    face: FaceRef = Field(title="Face")


Reach = Annotated[ByDistance | Through | UpToFace, Field(discriminator="type")]
BY_DISTANCE = ByDistance(type="distance")


class ExtrudeParams(Model):
    """From the station of its drawing by `distance` one way and `other` the other way; both may be negative.

    reach: how far it goes instead of `distance`. wall: thickness of what is left of it, 0 for all; it lies to either side of the outline.

    taper: by which the sides lean inwards, those of an open drawing to its left, going away from the station. across, upwards: by which an end that
    is cut turns about the origin of the drawing, so that its length stays that along the normal there; with both positive it is longest where x and
    y are.
    """

    section: SectionRef = Field(title="Drawing")
    distance: Length = Field(title="Distance")
    other: Length = Field(default=0.0, title="Other way")
    reach: Reach = Field(default=BY_DISTANCE, title="Goes")
    taper: Angle = Field(default=0.0, title="Taper")
    wall: Length = Field(default=0.0, title="Wall")
    wall_lies: Lies = Field(default="inwards", title="The wall lies")
    ends: Literal["square", "cut"] = Field(default="square", title="Ends are")
    far_across: Angle = Field(default=0.0, title="Far end across")
    far_upwards: Angle = Field(default=0.0, title="Far end upwards")
    near_across: Angle = Field(default=0.0, title="Near end across")
    near_upwards: Angle = Field(default=0.0, title="Near end upwards")
    result: Result = Field(default=NEW, title="Makes")
