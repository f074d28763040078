"""Turn: a rail turned about an axis, its ends led round sections."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from wander.core.bodies.body import Along
from wander.core.checks.areas import makes_no_body
from wander.core.checks.sections import Entry
from wander.core.checks.turned_rails import (
    end_on_axis,
    half_beside_axis,
    no_way_round,
    pole_pinched,
    rail_crosses_axis,
    rail_leaves_plane,
    rail_off_section,
)
from wander.core.document.fields import SectionRef
from wander.core.document.findings import Finding
from wander.core.geometry.errors import GeometryError
from wander.core.geometry.frame import Frame
from wander.core.results.drawn import Drawn
from wander.core.results.rails import Rail
from wander.core.shaping.meridian import ON_AXIS, Axis, LeavesPlane, RailCrossesAxis
from wander.core.shaping.path import bends_of
from wander.core.shaping.turned_rail import EndOnAxis, NoWayRound, Round, TurnedRail, turned_rail
from wander.core.steps.areas import areas_of
from wander.core.steps.halves import made_whole
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import finished, left
from wander.core.steps.turn.params import TurnParams

LEVEL = 1e-9
"""Between unit ways: a plane that leans less against the axis goes along it."""
SQUARE = np.radians(0.5)
"""A rail that arrives at the axis within this of square leaves no point there."""


def build(params: TurnParams, inputs: Inputs) -> Built:
    rail: Rail = inputs.result(params.rail)
    axis = Axis(np.array(params.about, dtype=float), np.eye(3)["xyz".index(params.axis)])
    first, leaning = _round(params.first, axis, params, inputs)
    second, leaning_too = _round(params.second, axis, params, inputs)
    ends = first, second
    try:
        made = turned_rail(
            rail.curve,
            axis,
            *ends,
            name=inputs.step.id,
            rail_name=params.rail.step,
            pieces=_pieces(rail),
            closed=rail.closed,
            tolerances=inputs.tolerances,
        )
    except GeometryError as error:
        raise StepRefused([_why(error, params, inputs)]) from error
    body, findings = finished((made.skin,), Along(axis.way), params.result, inputs)
    return left(body, inputs, [*findings, *_told(made, params, inputs), *leaning, *leaning_too])


def _round(ref: SectionRef | None, axis: Axis, params: TurnParams, inputs: Inputs) -> tuple[Round | None, list[Finding]]:
    """A section that an end runs round, and what is to be said of it: one that is a half is made whole."""
    if ref is None:
        return None, []
    if params.mirrored is None:
        drawn = areas_of(ref, inputs)
        return Round(drawn.areas[0], drawn.frame, ref.step), []
    plane: Frame = inputs.result(params.mirrored)
    if abs(float(axis.way @ plane.z)) > LEVEL or abs(float((axis.point - plane.origin) @ plane.z)) > ON_AXIS:
        raise StepRefused([half_beside_axis(inputs.step, inputs.named(params.mirrored))])
    own: Drawn = inputs.result(ref)
    entry = Entry(inputs.named(ref), inputs.steps[own.station], own.frame, own.placed, own.gap, own.areas, own.run)
    [made], leaning = made_whole([entry], plane, inputs)
    return Round(made.areas[0], made.frame, ref.step), leaning


def _pieces(rail: Rail) -> list[str]:
    """What it was drawn as between its corners, by the first curve of each."""
    bounds = [0.0, *bends_of(rail.curve), 1.0]
    if not rail.spans:
        return []
    begun = [[name for at, name in rail.spans if low - 1e-9 <= at < high - 1e-9] for low, high in pairwise(bounds)]
    return [names[0] if names else str(number) for number, names in enumerate(begun, start=1)]


def _why(error: GeometryError, params: TurnParams, inputs: Inputs) -> Finding:
    rail = inputs.named(params.rail)
    match error:
        case LeavesPlane():
            return rail_leaves_plane(inputs.step, rail, error)
        case RailCrossesAxis():
            return rail_crosses_axis(inputs.step, rail, error.place)
        case EndOnAxis():
            return end_on_axis(inputs.step, rail, first=error.first)
        case NoWayRound():
            ref = params.first if error.first else params.second
            assert ref is not None
            return no_way_round(inputs.step, inputs.named(ref), first=error.first)
    return makes_no_body(inputs.step, error)


def _told(made: TurnedRail, params: TurnParams, inputs: Inputs) -> list[Finding]:
    rail = inputs.named(params.rail)
    curve = inputs.result(params.rail).curve
    found = [pole_pinched(inputs.step, rail, curve, place, lean, params.axis) for place, lean in made.poles if lean > SQUARE]
    for first, place, there in made.misses:
        ref = params.first if first else params.second
        assert ref is not None
        found.append(rail_off_section(inputs.step, rail, inputs.named(ref), place, there, first=first))
    return found
