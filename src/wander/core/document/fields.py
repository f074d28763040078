"""Field types for the parameters of steps.

A number field takes a plain number or an expression. Validated with a `Scope` as context it becomes a float in the units of the core
(mm, radians); without one only its form is checked.
"""

from __future__ import annotations

import math
from typing import Annotated, Any, ClassVar

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, ValidationInfo, WithJsonSchema

from wander.core.document.expressions import Kind, Scope, evaluate, parse


class Model(BaseModel):
    """Base of everything in a document: no unknown fields, no silent conversions."""

    model_config = ConfigDict(extra="forbid", strict=True, frozen=True, defer_build=True)


def _number(kind: Kind) -> BeforeValidator:
    def read(value: Any, info: ValidationInfo) -> Any:
        if isinstance(value, bool) or not isinstance(value, int | float | str):
            raise ValueError("expected a number or an expression such as “neck/2 + 3 mm”")
        if isinstance(info.context, Scope):
            found = evaluate(value, kind, info.context)
            if kind is not Kind.ANGLE:
                return found
            if isinstance(value, str):
                info.context.angles.add(value)
            return math.radians(found)
        if isinstance(value, str):
            parse(value)
            return 1.0
        return evaluate(value, kind, Scope({}))

    return BeforeValidator(read)


def _schema(kind: Kind) -> WithJsonSchema:
    return WithJsonSchema({"type": ["number", "string"], "maxLength": 200, "x-quantity": kind.value})


Length = Annotated[float, _number(Kind.LENGTH), _schema(Kind.LENGTH)]
Angle = Annotated[float, _number(Kind.ANGLE), _schema(Kind.ANGLE)]
Share = Annotated[float, _number(Kind.NUMBER), _schema(Kind.NUMBER)]


Place = Annotated[tuple[Length, Length], Field(strict=False)]
"""Two lengths in the plane of a station."""

Spot = Annotated[tuple[Length, Length, Length], Field(strict=False)]
"""Three lengths in space."""


def _whole(value: Any, info: ValidationInfo) -> Any:
    if isinstance(value, str) and isinstance(info.context, Scope):
        found = evaluate(value, Kind.NUMBER, info.context)
        if found != round(found):
            raise ValueError(f"expected a whole number, “{value}” is {found:g}")
        return round(found)
    if isinstance(value, str):
        parse(value)
        return 3
    return value


Count = Annotated[int, BeforeValidator(_whole), WithJsonSchema({"type": ["integer", "string"], "x-quantity": "count"})]


class Ref(Model):
    """Names a step and, where needed, a part of its result."""

    refers: ClassVar[str] = ""
    """The kind of result that the reference must lead to."""
    also: ClassVar[tuple[str, ...]] = ()
    """Other kinds that do as well."""

    step: str = Field(max_length=40)
    part: str | None = Field(default=None, max_length=4000)
    hint: tuple[float, float, float] | None = Field(
        default=None, strict=False, description="Where in the box of the body the part was when it was chosen, 0 to 1 along each axis."
    )


class StationRef(Ref):
    model_config = ConfigDict(json_schema_extra={"x-refers": "station"})
    refers: ClassVar[str] = "station"


class BodyRef(Ref):
    """A body as a whole."""

    model_config = ConfigDict(json_schema_extra={"x-refers": "body"})
    refers: ClassVar[str] = "body"


class FaceRef(BodyRef):
    """part: name of a face of the body."""

    model_config = ConfigDict(json_schema_extra={"x-refers": "body", "x-part": "face"})


class EdgeRef(BodyRef):
    """part: name of an edge of the body."""

    model_config = ConfigDict(json_schema_extra={"x-refers": "body", "x-part": "edge"})


class PartRef(BodyRef):
    """part: name of a face or an edge of the body, or none where the whole body is meant."""

    model_config = ConfigDict(json_schema_extra={"x-refers": "body", "x-part": "part"})


class MeasuredRef(PartRef):
    """The same, or a mesh that is there to be looked at, which has no parts."""

    model_config = ConfigDict(json_schema_extra={"x-refers": "body", "x-part": "part", "x-whole": True})
    also: ClassVar[tuple[str, ...]] = ("reference",)


class SectionRef(Ref):
    model_config = ConfigDict(json_schema_extra={"x-refers": "section"})
    refers: ClassVar[str] = "section"


class RailRef(Ref):
    model_config = ConfigDict(json_schema_extra={"x-refers": "rail"})
    refers: ClassVar[str] = "rail"
