"""Names of faces as they were before: they counted sides. Who looks for them needs no geometry."""

from __future__ import annotations

import re
from typing import Any

from wander.core.document.document import Document

OLD_NAME = re.compile(r"(?P<step>[a-z]+-\d+)/(?:side\.(?P<strip>\d+)(?:\.(?P<bay>\d+))?|(?P<end>start|end))")


def has_old_names(name: str) -> bool:
    """Whether the name of a face or an edge counts sides."""
    return any(OLD_NAME.fullmatch(face) for face in name.split("#")[0].split("|"))


def needs_renaming(document: Document) -> bool:
    """Whether any reference counts sides."""
    return any(mentions_old_names(step.params) for step in document.steps)


def mentions_old_names(value: Any) -> bool:
    """value: parameters of a step, or a part of them, as they are written."""
    if isinstance(value, dict):
        part = value.get("part")
        return (isinstance(part, str) and "step" in value and has_old_names(part)) or any(map(mentions_old_names, value.values()))
    return isinstance(value, list) and any(map(mentions_old_names, value))
