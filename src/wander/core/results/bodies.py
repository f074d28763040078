"""The summary of a body, whoever made it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.bodies.body import Body, mesh_of
from wander.core.bodies.slices import areas
from wander.core.geometry.basis import Floats
from wander.core.geometry.tolerances import DEFAULT, Tolerances
from wander.core.results.summaries import BodySummary, Connecting, LinePlace, RunLanes, RunStation, vector
from wander.core.shaping.display import DisplayMesh

READINGS = 49
"""Places along a body at which it is read."""


def body_summary(
    body: Body,
    tolerances: Tolerances,
    *,
    run: list[RunStation] | None = None,
    axis: Floats | None = None,
    line: Sequence[LinePlace] = (),
    lanes: RunLanes | None = None,
    ties: Sequence[Connecting] = (),
    exact: bool = True,
    folds: int = 0,
) -> BodySummary:
    """run, axis, line, lanes, ties: of a body that was made of sections; others are read along the longest side of their box."""
    measures = body.measures
    if axis is None:
        axis = body.axis
    return BodySummary(
        volume=measures.volume,
        area=measures.area,
        center=vector(measures.center),
        moments=vector(measures.moments),
        low=vector(measures.low),
        high=vector(measures.high),
        source=measures.source.value,
        pieces=measures.pieces,
        axis=vector(axis),
        line=list(line),
        run=run or [],
        lanes=lanes if lanes is not None else _read_off(body, axis, tolerances),
        ties=list(ties),
        exact=exact,
        folds=folds,
        closed=body.closed,
    )


def _read_off(body: Body, axis: Floats, tolerances: Tolerances) -> RunLanes:
    if body.rough is not None:
        return RunLanes(at=[], area=[])  # read off once the exact body is there
    if not body.closed:
        # a sheet has a length and no area to read along it
        at = np.linspace(*_ends(body, axis), READINGS)
        return RunLanes(at=at.tolist(), area=[None] * READINGS)
    mesh = mesh_of(body, max(tolerances.display, tolerances.moving * body.size))
    low, high = _ends(body, axis, mesh)
    # a hair inside the ends: a plane that touches a flat end cuts nothing
    shares = np.linspace(0.0, 1.0, READINGS)
    read = np.abs(areas(mesh, axis, low + (high - low) * np.clip(shares, 1e-4, 1 - 1e-4)))
    return RunLanes(at=(low + (high - low) * shares).tolist(), area=[float(f"{a:.9g}") for a in read])


def _ends(body: Body, axis: Floats, mesh: DisplayMesh | None = None) -> tuple[float, float]:
    """From where to where a body goes along a unit axis, mm: by its box, for chords leave out what bulges between them; off the axes by a mesh."""
    if np.count_nonzero(axis) == 1:
        heights = np.array([body.measures.low @ axis, body.measures.high @ axis])
    else:
        heights = (mesh or mesh_of(body, DEFAULT.display)).positions @ axis
    return float(heights.min()), float(heights.max())
