"""A number that is read off bodies and stays in sight, with what it should be."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from wander.core.document.fields import Angle, BodyRef, EdgeRef, FaceRef, Length, MeasuredRef, Model, PartRef, Share


class LengthAim(Model):
    """What it should be, and by how much it may be off."""

    target: Length = Field(title="Should be")
    within: Length = Field(default=0.1, title="Within")


class AngleAim(Model):
    target: Angle = Field(title="Should be")
    within: Angle = Field(default=0.0, title="Within")


class AreaAim(Model):
    target: Share = Field(title="Should be, cm²")
    within: Share = Field(default=0.1, title="Within, cm²")


class VolumeAim(Model):
    target: Share = Field(title="Should be, cm³")
    within: Share = Field(default=1.0, title="Within, cm³")


class MassAim(Model):
    target: Share = Field(title="Should be, g")
    within: Share = Field(default=0.1, title="Within, g")


class Distance(Model):
    """Where two parts, bodies or meshes come nearest."""

    type: Literal["distance"]
    parts: list[MeasuredRef] = Field(default=[], title="Between", max_length=2)
    aim: LengthAim | None = Field(default=None, title="Aim")


class AngleBetween(Model):
    """Of two parts where they come nearest: between planes that touch them, lines along them, or both."""

    type: Literal["angle"]
    parts: list[PartRef] = Field(default=[], title="Between", max_length=2)
    aim: AngleAim | None = Field(default=None, title="Aim")


class LengthOf(Model):
    """Of edges, together."""

    type: Literal["length"]
    edges: list[EdgeRef] = Field(default=[], title="Edges", max_length=100)
    aim: LengthAim | None = Field(default=None, title="Aim")


class RadiusOf(Model):
    """The smallest of an edge or a face."""

    type: Literal["radius"]
    parts: list[PartRef] = Field(default=[], title="Of", max_length=1)
    aim: LengthAim | None = Field(default=None, title="Aim")


class AreaOf(Model):
    """Of faces, together."""

    type: Literal["area"]
    faces: list[FaceRef] = Field(default=[], title="Faces", max_length=100)
    aim: AreaAim | None = Field(default=None, title="Aim")


class VolumeOf(Model):
    """Of a body."""

    type: Literal["volume"]
    body: BodyRef = Field(title="Body")
    aim: VolumeAim | None = Field(default=None, title="Aim")


class MassOf(Model):
    """Of a body, by what it is made of."""

    type: Literal["mass"]
    body: BodyRef = Field(title="Body")
    aim: MassAim | None = Field(default=None, title="Aim")


class FilledTo(Model):
    """What a vessel holds up to a level over its lowest place inside; of a body without a wall, what of it lies below."""

    type: Literal["fill"]
    body: BodyRef = Field(title="Vessel")
    level: Length = Field(default=10.0, title="Up to")
    up: Literal["x", "y", "z"] = Field(default="z", title="Upwards is")
    aim: VolumeAim | None = Field(default=None, title="Aim")


class MeasureParams(Model):
    of: Annotated[Distance | AngleBetween | LengthOf | RadiusOf | AreaOf | VolumeOf | MassOf | FilledTo, Field(discriminator="type")] = Field(
        title="What"
    )
