"""Findings: what a good colleague would point at, with the repair held out."""

from __future__ import annotations

from collections.abc import Sequence
from enum import Enum

from pydantic import Field

from wander.core.document.edits import Edit
from wander.core.document.fields import Model


class Severity(Enum):
    NOTE = "note"
    """Done for you, or good to know."""
    WARNING = "warning"
    """Builds, but look at it."""
    ERROR = "error"
    """This step can't be built until it is settled."""


class Fix(Model):
    """One click: the edits can be applied as they stand."""

    label: str
    edits: list[Edit]
    names: list[str] = []
    """Faces or edges that it is about, to be lit while it is pointed at."""
    again: bool = False
    """Nothing is changed; what was given up is tried once more."""


class Where(Model):
    """What to light up: points in mm, polylines in mm, names of steps or faces."""

    points: list[tuple[float, float, float]] = []
    curves: list[list[tuple[float, float, float]]] = []
    names: list[str] = []


def sentence(error: Exception) -> str:
    """What an error says, begun like a sentence; the stop is left to who goes on."""
    return f"{str(error)[0].upper()}{str(error)[1:]}"


def listed(names: Sequence[str]) -> str:
    """Names one after the other, as they are said."""
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


class Finding(Model):
    """code: stable, for tests and docs. step: where it belongs; empty for the design as a whole. path: the field, if one is meant."""

    code: str
    severity: Severity
    step: str
    title: str
    detail: str
    path: list[str | int] = []
    where: Where = Field(default_factory=Where)
    fixes: list[Fix] = []
