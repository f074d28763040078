"""What is told of things that are picked in a drawing, without holding them: what measures of them come to, and how long they are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from pydantic import ValidationError

from wander.core.design.memory import Memory
from wander.core.design.rebuild import rebuild
from wander.core.document.document import Document
from wander.core.drawing.curves.pieces import curve_of
from wander.core.drawing.edits.holds import measured
from wander.core.drawing.lines import stands_alone
from wander.core.drawing.model import Drawing, DrawnShape
from wander.core.geometry.quadrature import length

Asked = tuple[str, Sequence[str]]
"""A kind of measure, and what it would hold."""
SIZED = frozenset({"circle", "ellipse"})
"""Curves with numbers of their own beside their points."""


@dataclass(frozen=True)
class Told:
    """measures: mm, degrees or shares, None where there is no such measure. length: of all curves together, mm, None where one has none."""

    measures: list[float | None]
    length: float | None


def told(document: Document, memory: Memory, step: str, asked: Sequence[Asked], curves: Sequence[str]) -> Told:
    """Where the drawing of a step is now. A drawing that is not there, or things that are not in it, have nothing to tell."""
    drawing = _now(document, memory, step)
    if drawing is None:
        return Told([None] * len(asked), None)
    made = [curve_of(curve, drawing) for curve in drawing.curves if curve.id in curves]
    lengths = [length(curve) for curve in made if curve is not None]
    return Told([_measure(drawing, kind, of) for kind, of in asked], sum(lengths) if lengths and len(lengths) == len(set(curves)) else None)


def _now(document: Document, memory: Memory, step: str) -> Drawing | None:
    """The drawing with everything where it is; what follows a body or a rail is where it was found when that was built."""
    found = document.step(step)
    raw = {} if found is None else found.params.get("shape", {})
    if raw.get("type") != "drawing":
        return None
    try:
        shape = DrawnShape.model_validate(raw, context=document.scope())
    except ValidationError:
        return None
    if stands_alone(shape):
        return memory.draftings.of(shape).drawing
    built = next((built for built in rebuild(document, memory) if built.step == step), None)
    summary = getattr(built.summary, "drawing", None) if built is not None else None
    if summary is None:
        return None
    # the sizes of round things are not among what is known of it then
    own = [curve for curve in shape.curves if curve.type not in SIZED and curve.type != "trace"]
    return shape.model_copy(update={"points": {**shape.points, **summary.points}, "curves": own, "holds": []})


def _measure(drawing: Drawing, kind: str, of: Sequence[str]) -> float | None:
    try:
        return measured(drawing.points, drawing.curves, kind, of)
    except ValidationError:
        return None
