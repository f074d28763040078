"""Links between steps kept when steps go or change what they are made of."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from typing import Any

from wander.core.document.document import Document, Step


def relinked(step: Step, gone: str, instead: str | None) -> Step:
    """The step naming another one wherever it named one that is gone. Parts keep their names: what was done to a body did not rename its faces."""
    if instead is None or step.id == instead:
        return step

    def change(reference: dict[str, Any]) -> dict[str, Any]:
        return {**reference, "step": instead} if reference.get("step") == gone else reference

    return _changed(step, change)


def renamed_parts(document: Document, section: str, labels: Mapping[str, str]) -> Document:
    """The document with names of faces and edges following when a section becomes a drawing. labels: what its sides were called, and are now."""
    if not labels:
        return document
    number = section.rsplit("-", 1)[-1]
    pattern = re.compile(rf"(?<![\w.-]){number}\.({'|'.join(map(re.escape, labels))})(?![\w])")

    def change(reference: dict[str, Any]) -> dict[str, Any]:
        part = reference.get("part")
        if not isinstance(part, str) or not pattern.search(part):
            return reference
        pair, mark, further = part.partition("#")
        named = pattern.sub(lambda match: f"{number}.{labels[match[1]]}", pair)
        return {**reference, "part": "|".join(sorted(named.split("|"))) + mark + further}

    return document.model_copy(update={"steps": tuple(_changed(step, change) for step in document.steps)})


def _changed(step: Step, change: Callable[[dict[str, Any]], dict[str, Any]]) -> Step:
    def walk(value: Any) -> Any:
        if isinstance(value, dict):
            inner = {k: walk(v) for k, v in value.items()}
            return change(inner) if isinstance(inner.get("step"), str) else inner
        return [walk(v) for v in value] if isinstance(value, list) else value

    params = walk(step.params)
    return step if params == step.params else step.model_copy(update={"params": params})
