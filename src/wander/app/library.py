"""The library: profiles of the designer's own, and starters with parameters, drawn small and ready to begin with."""

from __future__ import annotations

from functools import cache
from math import degrees
from typing import Any

from pydantic import BaseModel

from wander.app.store import profiles as store
from wander.core.document.document import Document
from wander.core.document.expressions import Scope
from wander.core.drawing.curves.paths import path_of
from wander.core.drawing.edits.sheet import Sheet
from wander.core.drawing.holds import Passing
from wander.core.drawing.model import DrawnTrace, named
from wander.core.steps.section.profiles import STARTERS, starter
from wander.core.steps.section.starters import drawing_of


class NoProfile(LookupError):
    """What was asked for can't be a profile; the message says why."""


class ParameterOut(BaseModel):
    name: str
    title: str
    first: float
    kind: str


class ProfileOut(BaseModel):
    """paths: of its curves, mm, y upwards. parameters: of a starter; an own profile has none."""

    name: str
    title: str
    own: bool
    paths: list[str]
    parameters: list[ParameterOut] = []


def all_profiles() -> list[ProfileOut]:
    """Own profiles first, then the starters."""
    own = [ProfileOut(name=p.name, title=p.name, own=True, paths=_paths(p.drawing)) for p in store.profiles()]
    return own + _starters()


@cache
def _starters() -> list[ProfileOut]:
    """They never change, and drawing them takes a moment."""
    return [
        ProfileOut(
            name=s.name,
            title=s.title,
            own=False,
            paths=_paths(s.drawing({})),
            parameters=[ParameterOut(name=p.name, title=p.title, first=p.first, kind=p.kind) for p in s.parameters],
        )
        for s in STARTERS
    ]


def _paths(raw: dict[str, Any]) -> list[str]:
    drawing = Sheet(raw, Scope({})).drawing()
    return [path_of(curve, drawing) for curve in drawing.curves if not curve.construction]


def begin(name: str, own: bool, values: dict[str, float]) -> dict[str, Any]:
    """The drawing of a profile, to become the shape of a section. Raises NoProfile, ShapeError."""
    if own:
        return store.profile(name).drawing
    try:
        return starter(name).drawing(values)
    except KeyError:
        raise NoProfile(f"there is no starter “{name}”") from None


def keep(document: Document, step_id: str, name: str) -> None:
    """Keep the drawing of a section as an own profile, its measures as plain numbers: named dimensions stay with the design."""
    step = document.step(step_id)
    if step is None or step.kind != "section":
        raise NoProfile("there is no such section in this design")
    raw = drawing_of(step.params["shape"], document.scope())
    drawing = Sheet(raw, document.scope()).drawing()
    follows = next((c.id for c in drawing.curves if isinstance(c, DrawnTrace)), None)
    if follows is not None:
        raise NoProfile(f"{named(drawing, follows)} follows an edge of a body in this design, which a profile can't take along: release it first")
    led = next((hold for hold in drawing.holds if isinstance(hold, Passing)), None)
    if led is not None:
        rail = document.step(led.rail.step)
        where = f"{named(drawing, led.of[0])} is held where {rail.name if rail else 'a rail'} passes"
        raise NoProfile(f"{where}, which a profile can't take along: let go of that first")
    values = {hold.id: getattr(hold, "value", None) for hold in drawing.holds}
    holds = [_plain(hold, values[hold["id"]]) for hold in raw.get("holds", [])]
    store.keep_profile(name, {**raw, "holds": holds})


def _plain(hold: dict[str, Any], value: float | None) -> dict[str, Any]:
    if value is None:
        return hold
    return {**hold, "value": round(degrees(value), 9) if hold["type"] == "angle" else value}
