"""Where a station can be placed."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wander.core.document.fields import Angle, EdgeRef, FaceRef, Length, Model, Place, Share, Spot, StationRef


class FromStation(Model):
    """Parallel to another station."""

    type: Literal["station"]
    station: StationRef = Field(title="From")


class Turned(Model):
    """Another station turned about a line in its plane."""

    type: Literal["turned"]
    station: StationRef = Field(title="From")
    point: Place = Field(default=(0.0, 0.0), title="Line through")
    direction: Angle = Field(default=0.0, title="Line runs at")
    angle: Angle = Field(title="Turned by")


class ThreePoints(Model):
    """Through three points; x runs from the first to the second."""

    type: Literal["points"]
    points: list[Spot] = Field(title="Points", min_length=3, max_length=3)


class Through(Model):
    """Parallel to another station, through a point."""

    type: Literal["through"]
    station: StationRef = Field(title="Parallel to")
    point: Spot = Field(title="Through")


class SquareToPath(Model):
    """Square to the smooth path through some points, at a share of its length."""

    type: Literal["path"]
    points: list[Spot] = Field(title="Path", min_length=2, max_length=400)
    share: Share = Field(default=0.5, title="At the share")


class Touching(Model):
    """Touching a face of a body at a place on it."""

    type: Literal["touching"]
    face: FaceRef = Field(title="Face")
    around: Share = Field(default=0.5, title="Way round")
    along: Share = Field(default=0.5, title="Way along")


class AlongLoop(Model):
    """In the plane of a closed loop of edges, in its middle."""

    type: Literal["loop"]
    edge: EdgeRef = Field(title="Edge")


Placing = Annotated[FromStation | Turned | ThreePoints | Through | SquareToPath | Touching | AlongLoop, Field(discriminator="type")]


class StationParams(Model):
    """A plane, moved by an offset along its normal. Without a `place` it is parallel to one of the three base planes."""

    plane: Literal["top", "front", "side"] = Field(default="top", title="Parallel to")
    place: Placing | None = Field(default=None, title="Placed")
    offset: Length = Field(default=0.0, title="Station at")
    flip: bool = Field(default=False, title="Seen from the other side")
