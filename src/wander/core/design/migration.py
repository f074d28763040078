"""Documents written before faces were named by what made them: their references are moved over to the names that are used now.

Names such as `loft-5/side.2` counted sides, so that only the built body can say which side is meant. The edits below are made once, when a design is
opened; from then on nothing jumps when a count changes.
"""

from __future__ import annotations

from typing import Any

from wander.core.bodies.body import Body
from wander.core.bodies.references import hint_at, place_of, since
from wander.core.design.memory import Memory
from wander.core.design.rebuild import rebuild
from wander.core.document.document import Document
from wander.core.document.edits import Edit, SetParam
from wander.core.document.fields import Ref
from wander.core.document.old_names import has_old_names, mentions_old_names
from wander.core.steps import REGISTRY
from wander.core.steps.registry import refs_in


def renaming_edits(document: Document, memory: Memory) -> list[Edit]:
    """The edits that give every such reference its name of now and a hint. What can't be found is left: it is a finding on its step."""
    results = {built.step: built.result for built in rebuild(document, memory)}
    scope = document.scope()
    found: list[Edit] = []
    for step in document.steps:
        kind = REGISTRY.get(step.kind)
        if kind is None or not mentions_old_names(step.params):
            continue
        for path, ref in refs_in(kind.params.model_validate(step.params, context=scope)):
            body = results.get(ref.step)
            if ref.part and isinstance(body, Body) and has_old_names(ref.part):
                value = _renamed(ref, body)
                if value is not None:
                    found.append(SetParam(do="set-param", step=step.id, path=list(path), value=value))
    return found


def _renamed(ref: Ref, body: Body) -> dict[str, Any] | None:
    name = since(body, ref.part or "")
    try:
        at = place_of(body, name)
    except KeyError:
        return None
    return {"step": ref.step, "part": name, "hint": list(hint_at(body, at))}
