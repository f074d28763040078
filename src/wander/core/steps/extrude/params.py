"""An area moved along the normal of its station."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from wander.core.document.fields import Angle, Length, Model, SectionRef
from wander.core.steps.result import NEW, Result


class ExtrudeParams(Model):
    """From the station of its drawing by `distance` one way and `other` the other way; both may be negative.

    taper: by which the sides lean inwards, going away from the station. across, upwards: by which an end that is cut turns about the origin of
    the drawing, so that its length stays that along the normal there; with both positive it is longest where x and y are.
    """

    section: SectionRef = Field(title="Drawing")
    distance: Length = Field(title="Distance")
    other: Length = Field(default=0.0, title="Other way")
    taper: Angle = Field(default=0.0, title="Taper")
    ends: Literal["square", "cut"] = Field(default="square", title="Ends are")
    far_across: Angle = Field(default=0.0, title="Far end across")
    far_upwards: Angle = Field(default=0.0, title="Far end upwards")
    near_across: Angle = Field(default=0.0, title="Near end across")
    near_upwards: Angle = Field(default=0.0, title="Near end upwards")
    result: Result = Field(default=NEW, title="Makes")
