"""What a step depends on in a document, followed through everything that it names."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from wander.core.document.document import Document
from wander.core.document.edits import MoveStep


def depends_on_the_same(one: Document, other: Document, step: str) -> bool:
    """Whether a step comes out the same in two documents, as far as what is written tells: it and all that it names, near and far, are the same."""
    if one.dimensions != other.dimensions:
        return False
    waiting, seen = [step], set[str]()
    while waiting:
        name = waiting.pop()
        if name in seen:
            continue
        seen.add(name)
        a, b = one.step(name), other.step(name)
        if a is None or b is None or (a.kind, a.params, a.skip) != (b.kind, b.params, b.skip):
            return False
        waiting += named_in(a.params)
    return True


def brought_before(document: Document, asking: str, target: str) -> list[MoveStep] | None:
    """The moves after which a step may use a later one, which comes with all that it names: None where it needs the one that asks."""
    place = {step.id: i for i, step in enumerate(document.steps)}
    waiting, moved = [target], set[str]()
    while waiting:
        name = waiting.pop()
        if name not in place or place[name] < place[asking] or name in moved:
            continue
        if name == asking:
            return None
        moved.add(name)
        waiting += named_in(document.steps[place[name]].params)
    return [MoveStep(do="move-step", step=step.id, before=asking) for step in document.steps if step.id in moved]


def named_in(value: Any) -> Iterator[str]:
    """The steps that raw parameters name, some of them several times."""
    if isinstance(value, dict):
        if isinstance(value.get("step"), str):
            yield value["step"]
        for inner in value.values():
            yield from named_in(inner)
    elif isinstance(value, list):
        for inner in value:
            yield from named_in(inner)
