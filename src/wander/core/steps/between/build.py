"""Between rails: an area, or an open outline, whose feet ride on two rails."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.bodies.body import Along
from wander.core.checks.areas import makes_no_body
from wander.core.checks.spines import no_spine, spine_astray, spine_bent, spine_ends_unreached, spine_misses
from wander.core.checks.sweeping import corner_crowded
from wander.core.checks.two_rails import corner_askew, corners_uneven, one_rail_closed, rails_come_together, runs_sideways
from wander.core.document.document import Step
from wander.core.document.findings import Finding
from wander.core.drawing.outlines.area import Area
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import GeometryError
from wander.core.geometry.law import constant
from wander.core.results.bodies import body_summary
from wander.core.results.rails import Rail
from wander.core.results.summaries import BodySummary, RailsPaired, SimplifiedOut, vector
from wander.core.shaping.laws import Laws
from wander.core.shaping.mitring import CornerCrowded
from wander.core.shaping.spine import SpineAstray, SpineBent, SpineMisses, Unreached, paired_by
from wander.core.shaping.two_rails import Begun, CornerAskew, CornersUneven, Feet, Pairing, Rails, RailsMeet, RunsSideways, paired, swept_between
from wander.core.steps.areas import outlines_of
from wander.core.steps.between.params import BetweenParams
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import finished
from wander.core.steps.sweep.reading import read_along

RUNGS = 24
"""Places of both rails that are told, about."""
FIRST = 1e-4
"""Of the first pair: how far its ways are looked at."""


def build(params: BetweenParams, inputs: Inputs) -> Built:
    areas, _ = outlines_of(params.section, inputs)
    first: Rail = inputs.result(params.first)
    second: Rail = inputs.result(params.second)
    spine = _spine(params, inputs)
    lines = [(params.first, first), (params.second, second), *([(params.spine, spine)] if params.spine and spine else [])]
    round_ = [ref for ref, line in lines if line.closed]
    if 0 < len(round_) < len(lines):
        raise StepRefused([one_rail_closed(inputs.step, inputs.named(round_[0]))])
    height = None if params.grows == "both" else constant(1.0) if params.height is None else params.height.law()
    feet = Feet(*_feet(params, areas), height)
    short: list[Unreached] = []
    try:
        if spine is None:
            rails = paired(first.curve, second.curve, closed=first.closed, pairing=Pairing(params.pairing), begun=_begun(params))
        else:
            rails, short = paired_by(spine.curve, first.curve, second.curve, closed=first.closed)
        within = params.within if params.kept == "simplified" else None
        made = swept_between(areas, rails, feet, name=inputs.step.id, section=params.section.step, tolerances=inputs.tolerances, within=within)
    except GeometryError as error:
        raise StepRefused([_why(error, params, inputs)]) from error
    body, findings = finished(made.skins, Along(_axis(rails)), params.result, inputs)
    told = [spine_ends_unreached(inputs.step, _rails(params, inputs), short)] if short else []

    def numbers() -> tuple[BodySummary, list[Finding]]:
        summary = body_summary(body, inputs.tolerances, **read_along(rails.middle, Laws(height=height), made.skins))
        simplified = None if within is None else SimplifiedOut(off=made.miss, rows=made.rows)
        return summary.model_copy(update={"paired": _told(rails), "simplified": simplified}), [*findings, *told]

    return Built.measured(body, numbers, inputs)


def _begun(params: BetweenParams) -> Begun:
    return Begun(params.begin, params.start, params.against)


def _told(rails: Rails) -> RailsPaired:
    rungs = rails.rungs(max(2, RUNGS // len(rails.pairs)))
    ways = np.diff(rails.pairs[0].places(np.array([0.0, FIRST])), axis=1)[:, 0]
    first, second = (vector(way / max(float(np.linalg.norm(way)), 1e-300)) for way in ways)
    return RailsPaired(rungs=[(vector(a), vector(b)) for a, b in rungs], ways=(first, second), closed=rails.closed)


def _spine(params: BetweenParams, inputs: Inputs) -> Rail | None:
    """Raises StepRefused where none was chosen."""
    if params.pairing != "spine":
        return None
    if params.spine is None:
        raise StepRefused([no_spine(inputs.step)])
    found: Rail = inputs.result(params.spine)
    return found


def _rails(params: BetweenParams, inputs: Inputs) -> tuple[Step, Step]:
    return inputs.named(params.first), inputs.named(params.second)


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
    both = _rails(params, inputs)
    match error:
        case SpineAstray():
            return spine_astray(inputs.step, both[error.rail], error.place)
        case SpineBent() if params.spine:
            return spine_bent(inputs.step, inputs.named(params.spine), error.place)
        case SpineMisses() if params.spine:
            return spine_misses(inputs.step, inputs.named(params.spine))
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
