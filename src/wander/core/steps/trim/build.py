"""Trim."""

from __future__ import annotations

import numpy as np

from wander.core.bodies.body import Body
from wander.core.bodies.kernel import KernelFailed
from wander.core.bodies.trimming import CurtainTool, Kept, Misses, NothingKept, Tool
from wander.core.checks.references import same_twice
from wander.core.checks.surfaces import not_trimmed, nothing_kept, part_not_picked, rail_not_flat, tool_misses
from wander.core.document.fields import Ref
from wander.core.geometry.basis import Floats
from wander.core.geometry.frame import Frame
from wander.core.results.rails import Rail
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import left
from wander.core.steps.seen_as_it_was import as_it_was
from wander.core.steps.trim.params import ByBody, ByStation, TrimParams

FLAT = 1e-3
"""mm by which a rail may leave its plane."""


def build(params: TrimParams, inputs: Inputs) -> Built:
    base, named = inputs.body(params.body), inputs.named(params.body)
    tool, ref = _tool(params, inputs)
    if inputs.kernel is None:
        return as_it_was([base], inputs)
    by = inputs.named(ref)
    try:
        made = inputs.kernel.trimmed(base, tool, Kept(params.keep), inputs.step.id, _place(params, base))
    except Misses as error:
        raise StepRefused([tool_misses(inputs.step, named, by)]) from error
    except NothingKept as error:
        raise StepRefused([nothing_kept(inputs.step, named, by)]) from error
    except KernelFailed as error:
        raise StepRefused([not_trimmed(inputs.step, named, by, error)]) from error
    findings = [part_not_picked(inputs.step, named)] if params.keep == "picked" and params.place is None else []
    return left(made, inputs, findings)


def _place(params: TrimParams, base: Body) -> Floats | None:
    if params.keep != "picked" or params.place is None:
        return None
    low, high = base.measures.low, base.measures.high
    return np.asarray(low + np.array(params.place) * (high - low))


def _tool(params: TrimParams, inputs: Inputs) -> tuple[Tool, Ref]:
    by = params.by
    if isinstance(by, ByStation):
        frame: Frame = inputs.result(by.station)
        return frame, by.station
    if isinstance(by, ByBody):
        if by.body.step == params.body.step:
            raise StepRefused([same_twice(inputs.step, inputs.named(by.body), 1, "by")])
        return inputs.body(by.body), by.body
    rail: Rail = inputs.result(by.rail)
    points = rail.curve.sampled(12)[1]
    middle = points.mean(axis=0)
    sizes, ways = np.linalg.svd(points - middle, full_matrices=False)[1:]
    off = np.abs((points - middle) @ ways[2]).max()
    if off > FLAT or sizes[1] < FLAT:
        raise StepRefused([rail_not_flat(inputs.step, inputs.named(by.rail), float(off))])
    # the larger part of its normal points the way of an axis: so the side that is kept does not depend on how it was drawn
    way = ways[2] * np.sign(ways[2][int(np.abs(ways[2]).argmax())])
    return CurtainTool(rail.curve, way), by.rail
