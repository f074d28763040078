"""Edges of bodies in a drawing: seen square on, and followed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from wander.core.bodies.body import Body
from wander.core.bodies.edge_runs import polynomial
from wander.core.bodies.references import Candidate, Lost, edge_of, hint_at
from wander.core.checks.drawing import LostTrace
from wander.core.document.fields import BodyRef
from wander.core.drawing.model import DrawnShape, DrawnTrace
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import chained
from wander.core.geometry.frame import Frame
from wander.core.geometry.tolerances import DEFAULT

RING = "ring:"


@dataclass(frozen=True)
class OnSheet:
    """From space into a drawing that was turned by `rotation` and moved to `at` on the plane of its station."""

    frame: Frame
    rotation: Floats
    at: Floats

    def __call__(self, points: Floats) -> Floats:
        return np.asarray((self.frame.drop(points) - self.at) @ self.rotation)


def with_traces(shape: DrawnShape, body_of: Callable[[BodyRef], Body], on_sheet: OnSheet) -> tuple[DrawnShape, list[LostTrace]]:
    """The drawing with every traced edge where it runs now, and those that can't be found any more."""
    if not any(isinstance(curve, DrawnTrace) for curve in shape.curves):
        return shape, []
    lost: list[LostTrace] = []
    curves = []
    for number, curve in enumerate(shape.curves):
        if isinstance(curve, DrawnTrace):
            body = body_of(curve.of)
            try:
                there = _traced(body, curve.of)
            except Lost as error:
                near = [(c.name, hint_at(body, c.at), c.distance) for c in error.candidates]
                lost.append(LostTrace(number, curve.id, curve.of.part or "", near))
            else:
                flat = Curve(there.space.mapped(0.0, 1.0), on_sheet(there.points))
                poles = [(float(x), float(y)) for x, y in flat.points]
                curve = curve.model_copy(update={"degree": flat.degree, "knots": flat.space.knots.tolist(), "poles": poles})
        curves.append(curve)
    return shape.model_copy(update={"curves": curves}), lost


def _traced(body: Body, of: BodyRef) -> Curve:
    """The edge, or the ring of a section, that a trace follows. Raises Lost."""
    part = of.part or ""
    if not part.startswith(RING):
        return polynomial(edge_of(body, part, of.hint).curve, DEFAULT)
    rings = {RING + ring.name: ring for skin in body.skins for ring in skin.rings}
    if part not in rings:
        raise Lost(part, [Candidate(name, 0.0, ring.curves[0](ring.curves[0].domain[0])) for name, ring in list(rings.items())[:1]])
    return chained(rings[part].curves)
