"""The document: a design as it is written down and exchanged."""

from __future__ import annotations

import re
from typing import Any, Literal

from pydantic import Field, field_validator, model_validator

from wander.core.document.expressions import Dimension, Kind, LengthUnit, Scope, evaluate, parse, valid_name
from wander.core.document.fields import Model

FORMAT = "wander-design/1"
_ID = re.compile(r"[a-z]+(?:-[a-z]+)*-(\d{1,6})")


class NamedDimension(Model):
    """A dimension that expressions can use by name. Plain values are mm, degrees or a count, by kind."""

    name: str = Field(max_length=40)
    value: float | str = Field(union_mode="left_to_right")
    kind: Kind = Field(default=Kind.LENGTH, strict=False)

    @field_validator("name")
    @classmethod
    def _name(cls, name: str) -> str:
        if not valid_name(name):
            raise ValueError(f"“{name}” can't be the name of a dimension: start with a letter, use letters, digits and _, and no unit")
        return name

    @field_validator("value")
    @classmethod
    def _readable(cls, value: float | str) -> float | str:
        if isinstance(value, str):
            parse(value)
        else:
            evaluate(value, Kind.NUMBER, Scope({}))
        return value


class Finish(Model):
    """How a body looks and what it is made of: nothing that its shape depends on.

    colour: as #rrggbb. gloss: from matt, 0, to polished, 1. material: for people. density: g/cm3.
    """

    colour: str | None = Field(default=None, pattern=r"^#[0-9a-f]{6}$")
    gloss: float = Field(default=0.5, ge=0, le=1)
    material: str | None = Field(default=None, min_length=1, max_length=40)
    density: float | None = Field(default=None, gt=0, le=30)


class Step(Model):
    """One act of the designer. `params` is read by the kind's own model; ids are never used twice in a design."""

    id: str
    kind: str = Field(max_length=40)
    name: str = Field(min_length=1, max_length=80)
    params: dict[str, Any]
    skip: bool = False
    finish: Finish | None = Field(default=None, description="How the body looks that the step makes, and what it is made of.")

    @field_validator("id")
    @classmethod
    def _id(cls, value: str) -> str:
        if not _ID.fullmatch(value):
            raise ValueError(f"“{value}” is no step id: expected a kind and a number, as in loft-3")
        return value


class Document(Model):
    """A whole design. Lengths are mm and angles degrees; any number may be an expression."""

    format: Literal["wander-design/1"] = "wander-design/1"
    name: str = Field(min_length=1, max_length=80)
    unit: LengthUnit = Field(default=LengthUnit.MM, strict=False)
    dimensions: tuple[NamedDimension, ...] = Field(default=(), strict=False, max_length=500)
    steps: tuple[Step, ...] = Field(default=(), strict=False, max_length=2000)
    until: str | None = Field(default=None, description="The last step that is built; all of them where it is left out.")
    next: int = Field(default=1, ge=1, description="The number that the next new step gets in its id.")

    @model_validator(mode="after")
    def _consistent(self) -> Document:
        ids = [step.id for step in self.steps]
        names = [dimension.name for dimension in self.dimensions]
        for what, found in (("step id", ids), ("dimension", names)):
            twice = next((x for i, x in enumerate(found) if x in found[:i]), None)
            if twice is not None:
                raise ValueError(f"the {what} “{twice}” stands twice")
        highest = max((int(i.rsplit("-", 1)[1]) for i in ids), default=0)
        if highest >= self.next:
            raise ValueError(f"“next” must be above every id number: at least {highest + 1}, it is {self.next}")
        return self

    def scope(self) -> Scope:
        return Scope({d.name: Dimension(d.value, d.kind) for d in self.dimensions})

    def step(self, step_id: str) -> Step | None:
        return next((step for step in self.steps if step.id == step_id), None)
