"""Which bodies are there now."""

from __future__ import annotations

from collections.abc import Iterable

from pydantic import ValidationError

from wander.core.bodies.body import Body
from wander.core.design.memory import Memory
from wander.core.design.rebuild import State, StepBuilt, dimension_table
from wander.core.document.document import Document
from wander.core.steps import REGISTRY


def standing(document: Document, built: Iterable[StepBuilt]) -> list[StepBuilt]:
    """The steps whose bodies are there at the end, in their order: each ready body that no later ready step has used up.

    A step that is skipped, waits or failed uses nothing up: what it would have changed stands as it is.
    """
    makers = {step.id for step in document.steps if (kind := REGISTRY.get(step.kind)) is not None and kind.result == "body"}
    through: dict[str, str] = {}
    found: dict[str, StepBuilt] = {}
    for step in built:
        if step.step not in makers:
            continue
        if step.state is State.SKIPPED and isinstance(step.result, Body):
            # what names the skipped step means the body behind it
            through[step.step] = next((through.get(u, u) for u in step.uses if through.get(u, u) in found), "")
        if step.state is State.READY:
            for used in step.changes:
                found.pop(through.get(used, used), None)
            found[step.step] = step
    return list(found.values())


def used_up(document: Document, memory: Memory) -> set[str]:
    """Steps whose bodies a later one will use up if all goes well: what is not worth showing while something is dragged."""
    found: set[str] = set()
    scope, table = document.scope(), dimension_table(document)
    for step in document.steps:
        kind = REGISTRY.get(step.kind)
        if kind is not None and kind.result == "body" and not step.skip:
            try:
                found |= {ref.step for ref in kind.changed(memory.readings.read(step, kind, scope, table).params)}
            except ValidationError:
                continue
        if step.id == document.until:
            break
    return found
