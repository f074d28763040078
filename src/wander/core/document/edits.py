"""Typed edits: the only way a document changes.

A batch of edits is one revision. A step added in a batch may be given an alias, `$` and a word, that later edits of the batch use in
place of the id it will get.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from wander.core.document.acts import Act
from wander.core.document.document import Finish
from wander.core.document.expressions import Kind, LengthUnit
from wander.core.document.fields import Model

Alias = Annotated[str, Field(pattern=r"^\$[a-z0-9]{1,20}$")]


class RenameDesign(Model):
    do: Literal["rename-design"]
    name: str = Field(min_length=1, max_length=80)


class SetUnit(Model):
    do: Literal["set-unit"]
    unit: LengthUnit = Field(strict=False)


class SetDimension(Model):
    """Changes a named dimension, or adds it."""

    do: Literal["set-dimension"]
    name: str = Field(max_length=40)
    value: float | str = Field(union_mode="left_to_right")
    kind: Kind = Field(default=Kind.LENGTH, strict=False)


class RemoveDimension(Model):
    do: Literal["remove-dimension"]
    name: str = Field(max_length=40)


class RenameDimension(Model):
    """Gives a named dimension another name, wherever it is used."""

    do: Literal["rename-dimension"]
    name: str = Field(max_length=40)
    to: str = Field(max_length=40)


class BuildUpTo(Model):
    """Builds up to a step and leaves what comes after it; to the end where none is given."""

    do: Literal["build-up-to"]
    step: str | None


class AddStep(Model):
    """Adds a step at the end, or before another one."""

    do: Literal["add-step"]
    kind: str = Field(max_length=40)
    name: str = Field(min_length=1, max_length=80)
    params: dict[str, Any]
    alias: Alias | None = None
    before: str | None = None


class SetParam(Model):
    """Sets one value inside a step's parameters; an index one past the end of a list appends."""

    do: Literal["set-param"]
    step: str
    path: list[str | int] = Field(min_length=1, max_length=8)
    value: Any


class Draw(Model):
    """Acts in the drawing of a section. A section with another shape becomes a drawing of that shape first."""

    do: Literal["draw"]
    step: str
    acts: list[Act] = Field(max_length=5000)


class ReleaseCopy(Model):
    """A linked copy of a section becomes one of its own, as the original is now."""

    do: Literal["release-copy"]
    step: str


class ScalePicture(Model):
    """Scales a reference picture so that two places on it are so far apart, the first staying where it is. Places on the station, mm."""

    do: Literal["scale-picture"]
    step: str
    first: tuple[float, float] = Field(strict=False)
    second: tuple[float, float] = Field(strict=False)
    distance: float | str


class RenameStep(Model):
    do: Literal["rename-step"]
    step: str
    name: str = Field(min_length=1, max_length=80)


class SkipStep(Model):
    do: Literal["skip-step"]
    step: str
    skip: bool


class SetFinish(Model):
    """How the body of a step looks and what it is made of; none: as bodies do by themselves."""

    do: Literal["set-finish"]
    step: str
    finish: Finish | None


class MoveStep(Model):
    """Moves a step before another one, or to the end."""

    do: Literal["move-step"]
    step: str
    before: str | None = None


class RemoveStep(Model):
    do: Literal["remove-step"]
    step: str


Edit = Annotated[
    RenameDesign
    | SetUnit
    | SetDimension
    | RenameDimension
    | RemoveDimension
    | BuildUpTo
    | AddStep
    | SetParam
    | Draw
    | ScalePicture
    | ReleaseCopy
    | RenameStep
    | SkipStep
    | SetFinish
    | MoveStep
    | RemoveStep,
    Field(discriminator="do"),
]
