"""What a step depends on in a document, followed through everything that it names."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from wander.core.document.document import Document


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
