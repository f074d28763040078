"""Between rails: an area, or an open outline, whose feet ride on two rails."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.bodies.body import Along
from wander.core.checks.areas import makes_no_body
from wander.core.checks.sweeping import corner_crowded
from wander.core.checks.two_rails import corner_askew, corners_uneven, one_rail_closed, rails_come_together, runs_sideways
from wander.core.document.findings import Finding
from wander.core.drawing.outlines.area import Area
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import GeometryError
from wander.core.geometry.law import constant
from wander.core.results.bodies import body_summary
from wander.core.results.rails import Rail
from wander.core.shaping.laws import Laws
from wander.core.shaping.mitring import CornerCrowded
from wander.core.shaping.two_rails import CornerAskew, CornersUneven, Feet, Pairing, Rails, RailsMeet, RunsSideways, paired, swept_between
from wander.core.steps.areas import outlines_of
from wander.core.steps.between.params import BetweenParams
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import finished
from wander.core.steps.sweep.reading import read_along


def build(params: BetweenParams, inputs: Inputs) -> Built:
    areas, _ = outlines_of(params.section, inputs)
    first: Rail = inputs.result(params.first)
    second: Rail = inputs.result(params.second)
    if first.closed != second.closed:
        raise StepRefused([one_rail_closed(inputs.step, inputs.named(params.first if first.closed else params.second))])
    height = None if params.grows == "both" else constant(1.0) if params.height is None else params.height.law()
    feet = Feet(*_feet(params, areas), height)
    try:
        rails = paired(first.curve, second.curve, closed=first.closed, pairing=Pairing(params.pairing))
        made = swept_between(areas, rails, feet, name=inputs.step.id, section=params.section.step, tolerances=inputs.tolerances)
    except GeometryError as error:
        raise StepRefused([_why(error, params, inputs)]) from error
    body, findings = finished(made.skins, Along(_axis(rails)), params.result, inputs)
    summary = body_summary(body, inputs.tolerances, **read_along(rails.middle, Laws(height=height), made.skins))
    return Built(body, summary, findings)


def _feet(params: BetweenParams, areas: Sequence[Area]) -> tuple[Floats, Floats]:
    if params.stands == "feet":
        return np.array(params.left), np.array(params.right)
    outer = areas[0].outer
    if outer.open:
        ends = outer.curve(np.array([0.0, 0.5]))
        first, last = ends if ends[0, 0] <= ends[1, 0] else ends[::-1]
        return first, last
    points = np.concatenate([area.outer.curve.sampled(24)[1] for area in areas])
    low, high = points.min(axis=0), points.max(axis=0)
    return np.array([low[0], (low[1] + high[1]) / 2]), np.array([high[0], (low[1] + high[1]) / 2])


def _axis(rails: Rails) -> Floats:
    """From the start of the line between the rails to its end; of a closed one, across it."""
    points, _ = rails.middle.places(np.linspace(0.0, 1.0, 65))
    chord = points[-1] - points[0]
    reach = float(np.linalg.norm(chord))
    if reach > 1e-6 * rails.middle.length:
        return np.asarray(chord / reach, dtype=np.float64)
    return np.eye(3)[int(np.ptp(points, axis=0).argmax())]


def _why(error: GeometryError, params: BetweenParams, inputs: Inputs) -> Finding:
    both = inputs.named(params.first), inputs.named(params.second)
    match error:
        case RailsMeet():
            return rails_come_together(inputs.step, both, error.place)
        case CornersUneven():
            return corners_uneven(inputs.step, both, error)
        case CornerAskew():
            return corner_askew(inputs.step, both, error.place)
        case CornerCrowded():
            return corner_crowded(inputs.step, both[0], error, [], rounded=False)
        case RunsSideways():
            return runs_sideways(inputs.step, both, error.place)
    return makes_no_body(inputs.step, error)
