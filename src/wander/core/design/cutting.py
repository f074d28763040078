"""Cutting a new section out of a body: the edits that add it where it is, so that nothing changes until it is edited."""

from __future__ import annotations

import copy
from collections.abc import Sequence
from typing import Any

import numpy as np

from wander.core.bodies.body import Body
from wander.core.design.rebuild import State, StepBuilt
from wander.core.document.document import Document, Step
from wander.core.document.edits import AddStep, Edit, SetParam
from wander.core.geometry.errors import GeometryError
from wander.core.geometry.frame import Frame
from wander.core.results.summaries import BodySummary
from wander.core.shaping.cut import Cut, NotFlat, cut_across, cut_along
from wander.core.shaping.loft import Plain

STEEP = 1e-6
"""Of a station's normal along the body: less lies along it."""
ARM = 100.0
"""mm from the first of the points through which a station stands to the others."""
LEAST = 0.01
"""A cut nearer than this (mm) to a station would be no section of its own."""


class CannotCut(ValueError):
    """No section can be cut there; the message says why and what would help."""


def cut_edits(document: Document, built: Sequence[StepBuilt], body: str, at: float) -> list[Edit]:
    """The edits that add a section to a loft, `at` mm along its Run. Raises CannotCut."""
    step = document.step(body)
    found = next((b for b in built if b.step == body), None)
    if step is None or found is None or found.state is not State.READY or not isinstance(found.result, Body):
        raise CannotCut("there is no body to cut from: settle what keeps it from building first")
    plain = found.result.along.plain if found.result.along is not None else None
    if plain is None or "sections" not in step.params:
        raise CannotCut(f"{step.name} is not made of sections, so none can be cut from it")
    frames: dict[str, Frame] = {b.step: b.result for b in built if b.state is State.READY and isinstance(b.result, Frame)}
    assert isinstance(found.summary, BodySummary)
    run = sorted(found.summary.run, key=lambda one: one.at)
    places = np.array([one.at for one in run])
    if np.abs(places - at).min() < LEAST:
        raise CannotCut("there is a section at that place already")
    number = int(np.searchsorted(places, at)) - 1
    # beyond the last section of a ring comes the first again
    end = plain.line.length if plain.line is not None and plain.line.closed else places[-1]
    if number < 0 or at > end - LEAST:
        raise CannotCut("a section can be cut only between the first and the last station")
    before = run[number]
    base = document.step(before.station)
    assert base is not None
    try:
        taken, station = _taken(plain, base, frames[base.id], at - before.at, at)
    except GeometryError as error:
        raise CannotCut(f"{error}. Draw the section by hand on a station of its own") from error
    name = f"Cut at {at:.4g}"
    shape = {
        "type": "traced",
        "degree": taken.curve.degree,
        "knots": taken.curve.space.knots.tolist(),
        "points": np.round(taken.curve.points, 9).tolist(),
        "corners": list(taken.corners),
        "closed": taken.closed,
    }
    item = {"section": {"step": "$section"}, "share": taken.share, **({"aside": True} if taken.aside else {})}
    items = copy.deepcopy(step.params["sections"])
    items.insert(1 + next(i for i, other in enumerate(items) if other["section"]["step"] == before.section), item)
    # right behind the section before it: what is led along the body can be led through it too
    behind = document.steps[1 + next(i for i, other in enumerate(document.steps) if other.id == before.section)].id
    return [
        AddStep(do="add-step", kind="station", name=f"{name} station", params=station, alias="$station", before=behind),
        AddStep(
            do="add-step",
            kind="section",
            name=name,
            params={"station": {"step": "$station"}, "shape": shape},
            alias="$section",
            before=behind,
        ),
        SetParam(do="set-param", step=body, path=["sections"], value=items),
    ]


def _taken(plain: Plain, base: Step, frame: Frame, further: float, at: float) -> tuple[Cut, dict[str, Any]]:
    """What is cut at a place, and the station for it: parallel to the one before, so much further, where the skin is flat so."""
    rate = float(frame.z @ plain.axis)
    if plain.line is None and abs(rate) > STEEP:
        try:
            return cut_along(plain, frame.moved(further / rate), at), _station(base, further / rate, frame)
        except NotFlat:
            pass
    taken = cut_across(plain, frame, at)
    three = taken.frame.origin + ARM * np.stack([np.zeros(3), taken.frame.x, taken.frame.y])
    return taken, {"place": {"type": "points", "points": np.round(three, 9).tolist()}}


def _station(base: Step, distance: float, frame: Frame) -> dict[str, Any]:
    """Parallel to the station before it; on the same base plane where that one stands on one, so that each can be moved alone."""
    if base.params.get("place") is None and not base.params.get("flip"):
        here = float(frame.origin @ frame.z)
        return {"plane": base.params.get("plane", "top"), "offset": round(here + distance, 9)}
    return {"place": {"type": "station", "station": {"step": base.id}}, "offset": round(distance, 9)}
