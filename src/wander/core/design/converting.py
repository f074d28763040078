"""A section that becomes a drawing is written from another start: what stands on places of its outline stays where it is."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import numpy as np
from pydantic import TypeAdapter

from wander.core.document.document import Document, Step
from wander.core.document.expressions import Scope
from wander.core.drawing.drafted import Drafted
from wander.core.drawing.holding.solver import solve
from wander.core.drawing.model import DrawnShape
from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.closest import closest_parameter
from wander.core.steps.section.shapes import Shape

PLACES = ("at", "start")
"""What tells a place on the outline of a section beside it: of a rail or a connecting line, and where a loft begins."""
SAME = 1e-9
_SHAPE: TypeAdapter[Any] = TypeAdapter(Shape)


def with_places_kept(document: Document, section: str, before: dict[str, Any], after: dict[str, Any]) -> Document:
    """The document where all places on the outline of a section are told as its drawing is run. before: its shape, after: the same as a drawing."""
    if not any(_stands_on(step, section) for step in document.steps):
        return document
    there = _there(before, after, document.scope())
    if there is None:
        return document
    steps = [
        step.model_copy(update={"params": _moved(step.params, section, there)}) if _stands_on(step, section) else step for step in document.steps
    ]
    return document.model_copy(update={"steps": steps})


def _stands_on(step: Step, section: str) -> bool:
    return any(True for _ in _places(step.params, section))


def _places(value: Any, section: str) -> Iterator[float]:
    """Every number that tells a place on the section."""
    if isinstance(value, list):
        for item in value:
            yield from _places(item, section)
    elif isinstance(value, dict):
        if _is_of(value, section):
            yield from (value[name] for name in PLACES if isinstance(value.get(name), int | float))
        for item in value.values():
            yield from _places(item, section)


def _is_of(value: dict[str, Any], section: str) -> bool:
    ref = value.get("section")
    return isinstance(ref, dict) and ref.get("step") == section


def _moved(value: Any, section: str, there: Callable[[float], float]) -> Any:
    if isinstance(value, list):
        return [_moved(item, section, there) for item in value]
    if not isinstance(value, dict):
        return value
    found = {name: _moved(item, section, there) for name, item in value.items()}
    if _is_of(value, section):
        found |= {name: there(float(value[name])) for name in PLACES if isinstance(value.get(name), int | float)}
    return found


def _there(before: dict[str, Any], after: dict[str, Any], scope: Scope) -> Callable[[float], float] | None:
    """From a place on the outline as it was to the same one on its drawing; None where there is no outline."""
    shape = _SHAPE.validate_python(before, context=scope)
    if not hasattr(shape, "loop"):
        return None
    outlines = Drafted(solve(DrawnShape.model_validate(after, context=scope))).outlines
    if not outlines:
        return None
    old: Loop = shape.loop()
    new = outlines[0].curve

    def there(at: float) -> float:
        place = old.curve(np.array([at % 1.0]))[0]
        found = closest_parameter(new, place) % 1.0
        # rounding is not to send what begins at the very start once round
        return 0.0 if min(found, 1.0 - found) < SAME else float(found)

    return there
