"""What a designer does in a drawing, one small act at a time. A batch of them is one edit.

Things are named by their ids; what an act adds may be given an alias, `$` and a word, that later acts of the batch use. Numbers that stay in
the drawing may be expressions; places that are pointed at are plain mm.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from wander.core.document.fields import Model, RailRef

Thing = Annotated[str, Field(pattern=r"^([pch][0-9]{1,6}|\$[a-z0-9]{1,20}|origin|[xy]-axis)$")]
Typed = Annotated[float | str, Field(union_mode="left_to_right")]
"""A number, or an expression that stays one where the number stays in the drawing."""
Spot = Annotated[tuple[float, float], Field(strict=False)]


class Add(Model):
    """Adds points, curves and holds, each with an alias for its id."""

    act: Literal["add"]
    points: dict[Thing, Spot] = Field(default={}, max_length=4000)
    curves: list[dict[str, Any]] = Field(default=[], max_length=4000)
    holds: list[dict[str, Any]] = Field(default=[], max_length=4000)


class Pull(Model):
    """Moves points to places, as far as what holds them allows."""

    act: Literal["pull"]
    points: dict[Thing, Spot] = Field(min_length=1, max_length=4000)


class Resize(Model):
    """Gives a circle another radius."""

    act: Literal["resize"]
    curve: Thing
    radius: float = Field(gt=0)


class Move(Model):
    act: Literal["move"]
    things: list[Thing] = Field(min_length=1)
    by: Spot
    copy_: bool = Field(default=False, alias="copy")


class Turn(Model):
    """Turns things about a place, counter-clockwise, and scales them about it."""

    act: Literal["turn"]
    things: list[Thing] = Field(min_length=1)
    about: Spot = (0.0, 0.0)
    angle: float = 0.0
    scale: float = Field(default=1.0, gt=0)
    stretch: float | None = Field(default=None, gt=0)


class HoldThings(Model):
    """Puts a hold on things. value: of a measure; what it comes to now where it is left out.

    rail, at: what passes through the point, and where, mm; that it is there now where `at` is left out.
    """

    act: Literal["hold"]
    type: str = Field(max_length=20)
    of: list[Thing] = Field(min_length=1, max_length=3)
    value: Typed | None = None
    rail: RailRef | None = None
    at: Spot | None = None


class SetMeasure(Model):
    act: Literal["measure"]
    hold: Thing
    value: Typed


class Reading(Model):
    """Keeps a measure as a number that only tells, or lets it hold again."""

    act: Literal["reading"]
    hold: Thing
    on: bool = True


class SetAside(Model):
    """Moves the number of a measure from where it stands by itself, mm; none: back there."""

    act: Literal["aside"]
    hold: Thing
    by: Spot | None


class Drop(Model):
    """Removes things, and what can't be without them."""

    act: Literal["drop"]
    things: list[Thing] = Field(min_length=1, max_length=4000)


class Construction(Model):
    act: Literal["construction"]
    curves: list[Thing] = Field(min_length=1)
    on: bool = True


class Trim(Model):
    """Takes the part of a curve that lies at a place away, up to the curves that cross it."""

    act: Literal["trim"]
    curve: Thing
    at: Spot


class Extend(Model):
    """Lengthens a line or an arc at the end nearer to a place, up to the next curve."""

    act: Literal["extend"]
    curve: Thing
    at: Spot


class Split(Model):
    """Splits a curve at a place, or into equal parts."""

    act: Literal["split"]
    curve: Thing
    at: Spot | None = None
    parts: int = Field(default=2, ge=2, le=200)


class Divide(Model):
    """Points on a curve that part it into equal lengths, and go on doing so."""

    act: Literal["divide"]
    curve: Thing
    parts: int = Field(ge=2, le=100)


class Join(Model):
    """Makes one curve of two that go on in each other; ends that only lie near each other become one point."""

    act: Literal["join"]
    curves: list[Thing] = Field(min_length=2, max_length=2)


class Fillet(Model):
    act: Literal["fillet"]
    point: Thing
    radius: Typed


class Chamfer(Model):
    act: Literal["chamfer"]
    point: Thing
    length: Typed


class Offset(Model):
    """Curves beside a chain of others; a positive distance lies to the right, outside a counter-clockwise outline."""

    act: Literal["offset"]
    curves: list[Thing] = Field(min_length=1)
    distance: Typed


class Mirror(Model):
    """The mirror image of curves, held symmetric."""

    act: Literal["mirror"]
    curves: list[Thing] = Field(min_length=1)
    about: Thing


class AddSplinePoint(Model):
    """A further point on a spline, in the middle of a span or at a place on it; the curve stays where it is as nearly as can be."""

    act: Literal["spline-point"]
    curve: Thing
    after: int = Field(ge=0)
    at: Spot | None = None


class SplineHandle(Model):
    """The direction in which a spline runs through a point, degrees; none: as it comes.

    bend: its curvature there, 1/mm, positive to the left; none: as it comes.
    """

    act: Literal["spline-handle"]
    curve: Thing
    at: int = Field(ge=0)
    angle: float | None
    pull: float = Field(default=1.0, gt=0, le=20)
    bend: float | None = Field(default=None, ge=-1e3, le=1e3)


class SplineSharp(Model):
    act: Literal["spline-sharp"]
    curve: Thing
    at: int = Field(ge=0)
    on: bool


class SplineStraight(Model):
    act: Literal["spline-straight"]
    curve: Thing
    span: int = Field(ge=0)
    on: bool


class AsSpline(Model):
    """Another curve drawn anew as a spline through a few points, to be pulled by them; it comes as near as they allow."""

    act: Literal["as-spline"]
    curve: Thing
    points: int = Field(ge=4, le=100)


class Use(Model):
    """The regions that make the outline; none: the only one there is."""

    act: Literal["use"]
    regions: list[str] | None = Field(max_length=400)


Act = Annotated[
    Add
    | Pull
    | Resize
    | Move
    | Turn
    | HoldThings
    | SetMeasure
    | Reading
    | SetAside
    | Drop
    | Construction
    | Trim
    | Extend
    | Split
    | Divide
    | Join
    | Fillet
    | Chamfer
    | Offset
    | Mirror
    | AddSplinePoint
    | SplineHandle
    | SplineSharp
    | SplineStraight
    | AsSpline
    | Use,
    Field(discriminator="act"),
]
