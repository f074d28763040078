"""Which bodies are there now."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from pydantic import ValidationError

from wander.core.bodies.body import Body
from wander.core.design.memory import Memory
from wander.core.design.rebuild import State, StepBuilt, dimension_table
from wander.core.document.document import Document
from wander.core.steps import REGISTRY
from wander.core.steps.registry import StepKind


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
    return {ref.step for _, kind, params in _bodies_made(document, memory) for ref in kind.changed(params)}


def seen_as(document: Document, memory: Memory) -> dict[str, str]:
    """While something is dragged: steps whose bodies a later one leaves as they are until the kernel is at hand, and which one that is, the last of
    several."""
    found: dict[str, str] = {}
    for step, kind, params in _bodies_made(document, memory):
        body = kind.changes(params) if kind.waits else None
        if body is not None:
            found = {before: step if after == body.step else after for before, after in found.items()} | {body.step: step}
    return found


def _bodies_made(document: Document, memory: Memory) -> Iterator[tuple[str, StepKind, Any]]:
    """The steps that make bodies, with their kinds and parameters, as far as these can be read."""
    scope, table = document.scope(), dimension_table(document)
    for step in document.steps:
        kind = REGISTRY.get(step.kind)
        if kind is not None and kind.result == "body" and not step.skip:
            try:
                yield step.id, kind, memory.readings.read(step, kind, scope, table).params
            except ValidationError:
                continue
        if step.id == document.until:
            return
