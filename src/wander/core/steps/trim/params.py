"""A body or a sheet parted, and one side of it kept."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wander.core.document.fields import BodyRef, Model, RailRef, StationRef


class ByStation(Model):
    """Its plane, as far as needed."""

    type: Literal["station"]
    station: StationRef = Field(title="Station")


class ByBody(Model):
    """A sheet, or the skin of a body. It stays."""

    type: Literal["body"]
    body: BodyRef = Field(title="Sheet or body")


class ByRail(Model):
    """What a drawn rail sweeps square to the plane that it lies in."""

    type: Literal["rail"]
    rail: RailRef = Field(title="Rail")


class TrimParams(Model):
    """keep: what lies on the side to which the tool looks (outside of a body), on the other, all of it, parted, or the part at a place.

    place: in the box of the body as it was, 0 to 1 along each axis; all parts stay until there is one.
    """

    body: BodyRef = Field(title="Body")
    by: Annotated[ByStation | ByBody | ByRail, Field(discriminator="type")] = Field(title="By")
    keep: Literal["front", "back", "both", "picked"] = Field(default="front", title="Keep")
    place: tuple[float, float, float] | None = Field(default=None, strict=False, title="Part that stays")
