"""Edges and outlines of bodies in a drawing: seen square on, and followed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from wander.core.bodies.body import Body
from wander.core.bodies.edge_runs import polynomial
from wander.core.bodies.in_a_plane import FINE, cut_by, seen_round
from wander.core.bodies.references import Candidate, Lost, edge_of, hint_at, meant_by
from wander.core.bodies.rough import NotClosed
from wander.core.checks.drawing import LostTrace
from wander.core.document.fields import BodyRef
from wander.core.drawing.model import DrawnShape, DrawnTrace
from wander.core.exchange.rows import closed_curve
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import chained
from wander.core.geometry.frame import Frame
from wander.core.geometry.tolerances import DEFAULT

RING = "ring:"
IN_PLANE: dict[str, Callable[[Body, Frame], list[Floats]]] = {"outline:seen": seen_round, "outline:cut": cut_by}
"""Of the body as a whole: its outline seen square on, and where the plane of the drawing cuts it."""
WITHIN = 0.01
"""mm from the points of such an outline to the curve that follows it."""


@dataclass(frozen=True)
class OnSheet:
    """From space into a drawing that was turned by `rotation` and moved to `at` on the plane of its station."""

    frame: Frame
    rotation: Floats
    at: Floats

    def __call__(self, points: Floats) -> Floats:
        return self.laid(self.frame.drop(points))

    def laid(self, flat: Floats) -> Floats:
        """What lies on the plane (n, 2) in the drawing."""
        return np.asarray((flat - self.at) @ self.rotation)


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
                flat = _traced(body, curve.of, on_sheet)
            except Lost as error:
                near = [(c.name, hint_at(body, c.at), c.distance) for c in error.candidates]
                lost.append(LostTrace(number, curve.id, curve.of.part or "", near, whole=curve.of.part in IN_PLANE))
            else:
                poles = [(float(x), float(y)) for x, y in flat.points]
                curve = curve.model_copy(update={"degree": flat.degree, "knots": flat.space.knots.tolist(), "poles": poles})
        curves.append(curve)
    return shape.model_copy(update={"curves": curves}), lost


def _traced(body: Body, of: BodyRef, on_sheet: OnSheet) -> Curve:
    """What a trace follows, on the sheet, over [0, 1]. Raises Lost."""
    part = of.part or ""
    if part in IN_PLANE:
        return _outline(body, of, on_sheet)
    there = _ring(body, part) if part.startswith(RING) else polynomial(edge_of(body, part, of.hint).curve, DEFAULT)
    return Curve(there.space.mapped(0.0, 1.0), on_sheet(there.points))


def _outline(body: Body, of: BodyRef, on_sheet: OnSheet) -> Curve:
    """Of several outlines the one nearest to where it was picked, else the largest. Raises Lost."""
    part = of.part or ""
    try:
        rows = IN_PLANE[part](body, on_sheet.frame)
    except NotClosed:
        rows = []
    if not rows:
        raise Lost(part, [])
    if of.hint is not None:
        meant = on_sheet.frame.drop(meant_by(body, of.hint)[None])
        rows.sort(key=lambda row: float(np.linalg.norm(row - meant, axis=1).min()))
    return closed_curve(on_sheet.laid(rows[0]), WITHIN, chord=DEFAULT.display if body.exact else FINE)


def _ring(body: Body, part: str) -> Curve:
    """The ring of a section. Raises Lost."""
    rings = {RING + ring.name: ring for skin in body.skins for ring in skin.rings}
    if part not in rings:
        raise Lost(part, [Candidate(name, 0.0, ring.curves[0](ring.curves[0].domain[0])) for name, ring in list(rings.items())[:1]])
    return chained(rings[part].curves)
