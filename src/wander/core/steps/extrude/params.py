"""An area moved along the normal of its station."""

from __future__ import annotations

from pydantic import Field

from wander.core.document.fields import Angle, Length, Model, SectionRef
from wander.core.steps.result import NEW, Result


class ExtrudeParams(Model):
    """From the station of its drawing by `distance` one way and `other` the other way; both may be negative.

    taper: by which the sides lean inwards, going away from the station.
    """

    section: SectionRef = Field(title="Drawing")
    distance: Length = Field(title="Distance")
    other: Length = Field(default=0.0, title="Other way")
    taper: Angle = Field(default=0.0, title="Taper")
    result: Result = Field(default=NEW, title="Makes")
