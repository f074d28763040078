"""The centre line of a loft, and what has no say beside it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.checks.centre_line import centre_alone, centre_closed, centre_corner, centre_order, centre_short
from wander.core.checks.sections import Entry
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding
from wander.core.geometry.basis import Floats
from wander.core.results.rails import Rail
from wander.core.results.summaries import LinePlace, vector
from wander.core.shaping.centre_line import CentreLine, LineBeside, LineCorner, LineOrder, centre_line
from wander.core.steps.inputs import Inputs, StepRefused
from wander.core.steps.loft.params import LoftParams

TOLD = 65
"""Places of a line that are told."""
FLAT = 1e-3
"""Cosine between a station's normal and the line below which the station runs along it, and does not move along it."""


def line_through(params: LoftParams, entries: Sequence[Entry], inputs: Inputs) -> CentreLine | None:
    """The line that the sections swing along, where there is one. Raises StepRefused, and GeometryError for a line that is none."""
    if params.centre is None:
        return None
    rail: Rail = inputs.result(params.centre)
    step = inputs.named(params.centre)
    if rail.closed:
        raise StepRefused([centre_closed(inputs.step, step)])
    try:
        return centre_line(rail.curve, [entry.placed for entry in entries if entry.placed is not None])
    except LineBeside as beside:
        raise StepRefused([centre_short(inputs.step, step, entries, beside)]) from beside
    except LineOrder as order:
        raise StepRefused([centre_order(inputs.step, step, entries, order)]) from order
    except LineCorner as corner:
        raise StepRefused([centre_corner(inputs.step, step, corner)]) from corner


def along_axis(entries: Sequence[Entry], axis: Floats) -> tuple[list[float], list[float]]:
    """Where the stations stand along an axis, mm, and how far each goes along it for each mm of its offset."""
    return [float(e.frame.origin @ axis) for e in entries], [float(e.frame.z @ axis) for e in entries]


def along_line(entries: Sequence[Entry], line: CentreLine) -> tuple[list[float], list[float]]:
    """The same along a line, from the first section on."""
    _, ways = line.places_on(line.run - line.run[0])
    facing = np.array([float(e.frame.z @ way) for e, way in zip(entries, ways, strict=True)])
    rates = 1 / np.where(np.abs(facing) > FLAT, facing, np.inf)
    return (line.run - line.run[0]).tolist(), rates.tolist()


def told_of(line: CentreLine) -> list[LinePlace]:
    """The line from its first section to the last, as it is told."""
    at = np.linspace(0.0, line.length, TOLD)
    points, ways = line.places_on(at)
    return [LinePlace(at=float(s), point=vector(point), way=vector(way)) for s, point, way in zip(at, points, ways, strict=True)]


def idle_beside(params: LoftParams, inputs: Inputs) -> list[Finding]:
    """What is chosen and has no say beside a centre line."""
    if params.centre is None:
        return []

    def to(path: str | tuple[str, ...], value: object) -> SetParam:
        return SetParam(do="set-param", step=inputs.step.id, path=[path] if isinstance(path, str) else list(path), value=value)

    idle = {}
    if params.rails:
        idle["rails"] = [to("rails", [])]
    if ends := [side for side in ("start", "end") if getattr(params, side).goes_on]:
        idle["what an end goes on from"] = [to((side, "shape"), "free") for side in ends]
    return [centre_alone(inputs.step, inputs.named(params.centre), idle)] if idle else []
