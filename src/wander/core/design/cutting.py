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
from wander.core.shaping.cut import cut

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
    if step.params.get("centre") is not None:
        raise CannotCut(f"{step.name} swings along a centre line. Place a station square to it and draw a section there")
    if not found.result.closed:
        raise CannotCut(f"{step.name} is a sheet, and what crosses it is open. Place a station there and draw a section on it")
    plain = found.result.along.plain if found.result.along is not None else None
    if plain is None or "sections" not in step.params:
        raise CannotCut(f"{step.name} is not made of sections, so none can be cut from it")
    frames: dict[str, Frame] = {b.step: b.result for b in built if b.state is State.READY and isinstance(b.result, Frame)}
    sections = [document.step(item["section"]["step"]) for item in step.params["sections"]]
    stations = [s.params["station"]["step"] for s in sections if s is not None]
    places = np.array([frames[station].origin @ plain.axis for station in stations])
    if np.abs(places - at).min() < LEAST:
        raise CannotCut("there is a section at that place already")
    before = int(np.searchsorted(places, at)) - 1
    if before < 0 or before >= len(stations) - 1:
        raise CannotCut("a section can be cut only between the first and the last station")
    base = document.step(stations[before])
    assert base is not None
    frame = frames[base.id]
    rate = float(frame.z @ plain.axis)
    if abs(rate) < 1e-6:
        raise CannotCut("the station before that place lies along the body: it can't be moved there")
    distance = (at - float(places[before])) / rate
    try:
        taken = cut(plain, frame.moved(distance), at)
    except GeometryError as error:
        raise CannotCut(f"{error}. Set these stations parallel, or draw the section by hand") from error
    name = f"Cut at {at:.4g}"
    curve = taken.loop.curve
    shape = {
        "type": "traced",
        "degree": curve.degree,
        "knots": curve.space.knots.tolist(),
        "points": np.round(curve.points, 9).tolist(),
        "corners": list(taken.loop.corners),
    }
    items = copy.deepcopy(step.params["sections"])
    items.insert(taken.after + 1, {"section": {"step": "$section"}, "share": taken.share})
    return [
        AddStep(do="add-step", kind="station", name=f"{name} station", params=_station(base, distance, frame), alias="$station", before=body),
        AddStep(
            do="add-step",
            kind="section",
            name=name,
            params={"station": {"step": "$station"}, "shape": shape},
            alias="$section",
            before=body,
        ),
        SetParam(do="set-param", step=body, path=["sections"], value=items),
    ]


def _station(base: Step, distance: float, frame: Frame) -> dict[str, Any]:
    """Parallel to the station before it; on the same base plane where that one stands on one, so that each can be moved alone."""
    if base.params.get("place") is None and not base.params.get("flip"):
        here = float(frame.origin @ frame.z)
        return {"plane": base.params.get("plane", "top"), "offset": round(here + distance, 9)}
    return {"place": {"type": "station", "station": {"step": base.id}}, "offset": round(distance, 9)}
