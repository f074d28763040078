"""The centre line of a loft, and what has no say beside it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.checks.centre_line import centre_alone, centre_closed, centre_corner, centre_open, centre_order, centre_short
from wander.core.checks.rings import ring_not_closed, unfit_for_ring
from wander.core.checks.sections import Entry
from wander.core.document.findings import Finding
from wander.core.geometry.basis import Floats
from wander.core.results.rails import Rail
from wander.core.results.summaries import LinePlace, vector
from wander.core.shaping.centre_line import CentreLine, LineBeside, LineCorner, LineOrder, centre_line, ring_line
from wander.core.steps.inputs import Inputs, StepRefused
from wander.core.steps.loft.params import LoftParams

TOLD = 65
"""Places of a line that are told."""
COMES_ROUND = 1e-9
"""Radians, or a factor: a law that is no further from where it began comes round."""
FLAT = 1e-3
"""Cosine between a station's normal and the line below which the station runs along it, and does not move along it."""


def line_through(params: LoftParams, entries: Sequence[Entry], inputs: Inputs) -> CentreLine | None:
    """The line that the sections swing along, where there is one: round a ring there always is. Raises StepRefused, and GeometryError for none."""
    placed = [entry.placed for entry in entries if entry.placed is not None]
    if params.centre is None:
        return ring_line(None, placed) if params.closed else None
    rail: Rail = inputs.result(params.centre)
    step = inputs.named(params.centre)
    if rail.closed != params.closed:
        raise StepRefused([centre_closed(inputs.step, step) if rail.closed else centre_open(inputs.step, step, alone=len(entries) > 2)])
    try:
        return ring_line(rail.curve, placed) if params.closed else centre_line(rail.curve, placed)
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
    at = (line.run - line.run[0])[: len(entries)]
    _, ways = line.places_on(at)
    facing = np.array([float(e.frame.z @ way) for e, way in zip(entries, ways, strict=True)])
    rates = 1 / np.where(np.abs(facing) > FLAT, facing, np.inf)
    return at.tolist(), rates.tolist()


def told_of(line: CentreLine) -> list[LinePlace]:
    """The line from its first section to the last, as it is told."""
    at = np.linspace(0.0, line.length, TOLD)
    points, ways = line.places_on(at)
    return [LinePlace(at=float(s), point=vector(point), way=vector(way)) for s, point, way in zip(at, points, ways, strict=True)]


def idle_beside(params: LoftParams, inputs: Inputs) -> list[Finding]:
    """Ends that are to go on from a body have no say beside a centre line."""
    ends = [side for side in ("start", "end") if getattr(params, side).goes_on]
    if params.centre is None or params.closed or not ends:
        return []
    return [centre_alone(inputs.step, inputs.named(params.centre), ends)]


def no_ring(params: LoftParams, entries: Sequence[Entry], inputs: Inputs) -> list[Finding]:
    """What keeps a loft that is to be a ring from closing: its sections, or laws that leave it turned or scaled otherwise than it began."""
    if not params.closed:
        return []
    found = unfit_for_ring(inputs.step, entries, lined=params.centre is not None)
    if found:
        return found
    for name in ("twist", "width", "height"):
        own = getattr(params, name)
        if own is None or (name == "height" and params.together):
            continue
        first, last = own.law()(np.array([0.0, 1.0])).tolist()
        apart = (last - first + np.pi) % (2 * np.pi) - np.pi if name == "twist" else last - first
        if abs(apart) > COMES_ROUND:
            found.append(ring_not_closed(inputs.step, name))
    return found
