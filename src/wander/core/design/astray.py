"""References that lead astray, and steps that wait for what they name."""

from __future__ import annotations

from collections.abc import Container, Sequence
from difflib import get_close_matches

from wander.core.design.dependence import brought_before
from wander.core.document.document import Document, Step
from wander.core.document.edits import Draw, SetParam
from wander.core.document.fields import Ref
from wander.core.document.findings import Finding, Fix, Severity
from wander.core.steps import REGISTRY


def astray(step: Step, path: list[str | int], ref: Ref, document: Document, done: Container[str]) -> list[Finding]:
    """A reference must lead to an earlier step of the right kind; the repair is the nearest one that would do."""
    target = document.step(ref.step)
    wanted = (ref.refers, *ref.also)
    if target is not None and ref.step in done and _result_of(target) in wanted:
        return []
    if target is None:
        title, why = f"{step.name} refers to a step that is gone", f"There is no step “{ref.step}” in this design."
    elif ref.step not in done:
        title, why = f"{step.name} refers to a later step", f"{target.name} comes after it; a step can only use what is made before it."
    else:
        title, why = f"{step.name} needs a {' or a '.join(wanted)}", f"{target.name} is a {_result_of(target)}."
    fixes = []
    if target is not None and ref.step not in done and _result_of(target) in wanted and (moves := brought_before(document, step.id, target.id)):
        fixes.append(Fix(label=f"Put {target.name} before {step.name}", edits=list(moves)))
    candidates = [s for s in document.steps if s.id in done and _result_of(s) in wanted]
    near = get_close_matches(ref.step, [s.id for s in candidates], n=1, cutoff=0.0)
    fixes += [
        Fix(label=f"Use {s.name}", edits=[SetParam(do="set-param", step=step.id, path=[*path, "step"], value=s.id)])
        for s in candidates
        if s.id in near
    ]
    if path[:2] == ["shape", "holds"]:
        held = step.params["shape"]["holds"][path[2]]["id"]
        fixes.append(
            Fix(label="Let go of it", edits=[Draw.model_validate({"do": "draw", "step": step.id, "acts": [{"act": "drop", "things": [held]}]})])
        )
    return [Finding(code="broken-reference", severity=Severity.ERROR, step=step.id, title=title, detail=why, path=path, fixes=fixes)]


def _result_of(step: Step) -> str:
    kind = REGISTRY.get(step.kind)
    return kind.result if kind else ""


def waiting_for(step: Step, missing: Sequence[str], document: Document, *, skipped: bool) -> list[Finding]:
    names = [s.name for s in document.steps if s.id in missing]
    spoken = " and ".join(names[:2]) + (" and others" if len(names) > 2 else "")
    return [
        Finding(
            code="waiting",
            severity=Severity.NOTE,
            step=step.id,
            title=f"Waiting for {spoken}",
            detail="It builds by itself as soon as that is no longer skipped." if skipped else "It builds by itself as soon as that is settled.",
        )
    ]
