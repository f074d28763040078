"""Edges of bodies in a drawing: seen square on, and followed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from difflib import get_close_matches
from typing import Any

import numpy as np

from wander.core.checks.drawing import LostTrace
from wander.core.drawing.model import DrawnTrace
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import chained
from wander.core.geometry.frame import Frame
from wander.core.shaping.edges import edges
from wander.core.steps.body import Body
from wander.core.steps.drawn import DrawnShape

RING = "ring:"


@dataclass(frozen=True)
class OnSheet:
    """From space into a drawing that was turned by `rotation` and moved to `at` on the plane of its station."""

    frame: Frame
    rotation: Floats
    at: Floats

    def __call__(self, points: Floats) -> Floats:
        return np.asarray((self.frame.drop(points) - self.at) @ self.rotation)


def traceable(body: Body) -> dict[str, Curve]:
    """All edges of a body and the rings of its sections, by name."""
    found = {edge.name: edge.curve for edge in edges(body.shell)}
    for ring in body.shell.rings:
        found[RING + ring.name] = chained(ring.curves)
    return found


def with_traces(shape: DrawnShape, results: Mapping[str, Any], on_sheet: OnSheet) -> tuple[DrawnShape, list[LostTrace]]:
    """The drawing with every traced edge where it runs now, and those that can't be found any more."""
    traces = [curve for curve in shape.curves if isinstance(curve, DrawnTrace)]
    if not traces:
        return shape, []
    known = {step: traceable(results[step]) for step in {trace.of.step for trace in traces}}
    lost: list[LostTrace] = []
    curves = []
    for number, curve in enumerate(shape.curves):
        if isinstance(curve, DrawnTrace):
            part = curve.of.part or ""
            there = known[curve.of.step].get(part)
            if there is None:
                near = get_close_matches(part, known[curve.of.step], n=1, cutoff=0.0)
                lost.append(LostTrace(number, curve.id, part, near[0] if near else None))
            else:
                flat = Curve(there.space.mapped(0.0, 1.0), on_sheet(there.points))
                poles = [(float(x), float(y)) for x, y in flat.points]
                curve = curve.model_copy(update={"degree": flat.degree, "knots": flat.space.knots.tolist(), "poles": poles})
        curves.append(curve)
    return shape.model_copy(update={"curves": curves}), lost
