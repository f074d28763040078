"""A band round a body that is pushed out or in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wander.core.document.fields import BodyRef, Length, Model, StationRef


class AtPlace(Model):
    """So far along the body, as the Run counts it."""

    type: Literal["place"]
    at: Length = Field(title="At")


class AtStation(Model):
    """Where a station crosses it, or so far past that."""

    type: Literal["station"]
    station: StationRef = Field(title="Station")
    past: Length = Field(default=0.0, title="Past it")


End = Annotated[AtPlace | AtStation, Field(discriminator="type")]


class BandParams(Model):
    """Between two places along the body its skin stands out by the height, or goes in where that is below 0; soft at both ends."""

    body: BodyRef = Field(title="Body")
    first: End = Field(title="From")
    last: End = Field(title="To")
    height: Length = Field(default=2.0, title="Stands out")
    shoulder: Length = Field(default=5.0, title="Shoulders")
