"""What goes over the wire, and the way there from what the store holds."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

import orjson
from pydantic import BaseModel, ConfigDict, Field

from wander.app.store.store import Card, Head, NamedVersion
from wander.core.document.document import Document
from wander.core.document.edits import Edit
from wander.core.drawing.summary import DrawingSummary
from wander.core.exchange.curves import Placing
from wander.core.results.summaries import BodySummary

Number = Annotated[int, Field(ge=-(2**53), le=2**53)]
"""Revisions and the like: what JSON and the database can both hold."""


class Shown(BaseModel):
    """What the rack shows of the bodies of a design.

    volume of all in mm3, 0 where they are sheets, area of all in mm2, size of the box round all in mm.
    """

    meshes: list[str]
    volume: float
    area: float = 0.0
    size: tuple[float, float, float]


class CardOut(BaseModel):
    id: str
    name: str
    changed: float = Field(description="Seconds since 1970.")
    revision: int
    shown: Shown | None
    building: bool

    @classmethod
    def of(cls, card: Card, building: bool) -> CardOut:
        shown = Shown.model_validate(_as_now(orjson.loads(card.shown))) if card.shown else None
        return cls(id=card.design, name=card.name, changed=card.changed, revision=card.revision, shown=shown, building=building)


def _as_now(shown: dict[str, Any]) -> dict[str, Any]:
    """What an older Wander kept of the one body that it showed."""
    return {**shown, "meshes": [shown.pop("mesh")]} if "mesh" in shown else shown


class DesignOut(BaseModel):
    """A design at its head. undo, redo: what would be taken back, or done again, in a few words; null where there is nothing."""

    id: str
    revision: int
    undo: str | None
    redo: str | None
    changed: float
    document: Document

    @classmethod
    def of(cls, head: Head) -> DesignOut:
        return cls(
            id=head.design,
            revision=head.revision,
            undo=head.undo,
            redo=head.redo,
            changed=head.changed,
            document=head.document,
        )


class _In(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Worth(BaseModel):
    """value: null where the text says no number. why: what is wrong with it then, in a sentence; empty where nothing stands there yet."""

    value: float | None
    why: str = ""


class AreaOut(BaseModel):
    """Area in which a plane cuts a body, mm2."""

    step: str
    area: float


class NewDesign(_In):
    name: str = Field(min_length=1, max_length=80)


class Edits(_In):
    """A batch of edits, all or none, made on a revision. mark: any text of the sender's own; sent again with it, the batch is kept only once."""

    base_revision: Number
    mark: str = Field(default="", max_length=40)
    edits: list[Edit] = Field(min_length=1, max_length=1000)


class NewVersion(_In):
    revision: Number
    name: str = Field(min_length=1, max_length=80)


class VersionOut(BaseModel):
    number: Number
    revision: Number
    name: str
    created: float = Field(description="Seconds since 1970.")

    @classmethod
    def of(cls, version: NamedVersion) -> VersionOut:
        return cls(number=version.number, revision=version.revision, name=version.name, created=version.created)


class BodyAt(BaseModel):
    """A body of some revision."""

    step: str
    name: str
    mesh: str
    summary: BodySummary


class AsDrawn(BaseModel):
    """shape: the drawing that a shape of a few numbers becomes with the first act in it. now: how that stands."""

    shape: dict[str, Any]
    now: DrawingSummary | None


class BroughtOut(BaseModel):
    """curves, points: how many came in. deviation: mm that the curves leave what the file says at most."""

    design: DesignOut
    curves: int
    points: int
    deviation: float


class PlacingIn(_In):
    """How the curves of a file come in."""

    file_name: str = Field(max_length=200)
    scale: float = Field(default=1.0, gt=0, le=1e6)
    turn: float = Field(default=0.0, ge=-3600, le=3600, description="degrees")
    x: float = Field(default=0.0, ge=-1e6, le=1e6)
    y: float = Field(default=0.0, ge=-1e6, le=1e6)
    tolerance: float = Field(default=0.01, ge=1e-4, le=10, description="mm that fitted splines may leave the points")
    chord: float | None = Field(default=None, gt=0, le=1e6, description="mm that a foil is to be long")
    unit: float | None = Field(default=None, gt=0, le=1e6, description="mm in one unit of a file that does not say")
    layers: list[Annotated[int, Field(ge=0, le=999)]] | None = Field(
        default=None, max_length=400, description="those that come in, by their numbers among all; all without it"
    )

    def placing(self) -> Placing:
        layers = None if self.layers is None else tuple(self.layers)
        return Placing(self.scale, math.radians(self.turn), (self.x, self.y), self.chord, self.unit, layers)


class BringingIn(PlacingIn):
    """The same, kept as a change of a drawing."""

    base_revision: Number
    instead: bool = Field(default=False, description="in place of what is drawn")


class LookedOut(BaseModel):
    """What a file would bring in. paths, box: of its curves as they would lie, mm. layers: all that it has.

    chord: of its foil as the file has it, mm; asks_chord: it is of no size, and is shown at some. deviation: mm that the curves leave the file.
    """

    paths: list[str]
    box: tuple[tuple[float, float], tuple[float, float]]
    layers: list[str]
    says_unit: bool
    chord: float | None
    asks_chord: bool
    curves: int
    points: int
    deviation: float


class AskedMeasure(_In):
    """A kind of measure, and the ids of what it would hold."""

    type: str = Field(max_length=40)
    of: list[str] = Field(min_length=1, max_length=4)


class TellIn(_In):
    """curves: ids of those whose length is asked."""

    asked: list[AskedMeasure] = Field(default=[], max_length=40)
    curves: list[str] = Field(default=[], max_length=4000)


class TellOut(BaseModel):
    """measures: as they were asked, mm, degrees or shares; null where there is no such measure. length: of the curves together, mm."""

    measures: list[float | None]
    length: float | None


class FairIn(_In):
    """within: mm that anything may move. things: ids of curves in the drawing, where one is meant."""

    within: float = Field(gt=0, le=1e4)
    things: list[str] = Field(default=[], max_length=400)


class FairOut(BaseModel):
    """edits: that make it fair. moved: mm, the largest, at `where` in space. share: of the change of curvature that is left.

    places: how many may move. limited: how many go as far as they may.
    """

    edits: list[Edit]
    moved: float
    where: tuple[float, float, float] | None
    share: float
    places: int
    limited: int


class ReleaseIn(_In):
    """things: ids of curves and points in the drawing."""

    base_revision: Number
    things: list[str] = Field(min_length=1, max_length=4000)


class CutIn(_In):
    """at: mm along the Run of the body that `step` makes."""

    base_revision: Number
    step: str
    at: float


class OnRevision(_In):
    base_revision: Number


class PreviewIn(_In):
    """Over the live channel: show what these edits would give. combed: the step whose combs are wanted with it.

    since: what the head that it is meant for says of when it changed; one that an undo has come back to is another. None: whichever it is.
    """

    type: Literal["preview"]
    number: Number
    base_revision: Number
    since: float | None = None
    edits: list[Edit] = Field(max_length=1000)
    combed: str = Field(default="", max_length=80)


class HoldOut(BaseModel):
    """A way of holding things in a drawing. takes: the kinds of things it can be put on, each list in the order they are taken in."""

    type: str
    title: str
    measure: bool
    takes: list[list[str]]


class KindOut(BaseModel):
    """A kind of step. params: JSON Schema of its parameters."""

    name: str
    title: str
    result: str
    params: dict[str, Any]


class Added(BaseModel):
    added: int
