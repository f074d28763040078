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
    """keep: what lies on the side to which the tool looks (outside of a body), on the other, or both, parted."""

    body: BodyRef = Field(title="Body")
    by: Annotated[ByStation | ByBody | ByRail, Field(discriminator="type")] = Field(title="By")
    keep: Literal["front", "back", "both"] = Field(default="front", title="Keep")
