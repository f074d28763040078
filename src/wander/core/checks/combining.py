"""Findings about bodies that can't be put together, or that were put together to no effect."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.bodies.body import Body
from wander.core.bodies.combining import How, NothingLeft
from wander.core.checks.repairs import skipping
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where, sentence

_DONE = {How.JOIN: "joined", How.CUT: "cut", How.OVERLAP: "overlapped"}


def not_combined(step: Step, how: How, body: Step, names: Sequence[str], base: Body, tools: Sequence[Body], error: Exception) -> Finding:
    """The bodies could not be put together; where they do not even come near each other, that is said."""
    apart = [name for name, tool in zip(names, tools, strict=True) if _gap(base, tool) > 0]
    detail = f"{sentence(error)}."
    if apart:
        detail += (
            f" {apart[0]} does not reach {body.name}: {_gap(base, tools[names.index(apart[0])]):.3g} mm lie between their boxes. Move one of them."
        )
    elif isinstance(error, NothingLeft):
        detail += " Make the tool smaller, or move it." if how is How.CUT else " They share no room: let one reach into the other."
    else:
        detail += " Faces that only just touch are the usual cause: let one body reach a little into the other."
    return Finding(
        code="not-combined",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} can't be {_DONE[how]}" if len(names) == 1 and names[0] == step.name else f"{body.name} can't be {_DONE[how]}",
        detail=detail,
        where=Where(names=[body.id]),
        fixes=[skipping(step)],
    )


def sheet_apart(step: Step, how: How, name: str) -> Finding:
    """One of the bodies is a sheet: it has no inside. A step that makes its own body can leave it as it is."""
    own = "result" in step.params
    apart = Fix(label="Leave it a body of its own", edits=[SetParam(do="set-param", step=step.id, path=["result"], value={"type": "new"})])
    return Finding(
        code="sheet-apart",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{name} is a sheet and can't be {_DONE[how]}",
        detail="A sheet is open and encloses nothing, so there is no saying what is inside. Close the outlines of its sections, or leave it apart.",
        path=["result"] if own else [],
        fixes=[apart if own else skipping(step)],
    )


def to_no_effect(step: Step, how: How, body: Step, before: Body, after: Body) -> list[Finding]:
    """A cut that takes nothing away, a join that leaves bodies apart."""
    if how is How.CUT and _as_large(before, after):
        said = f"{step.name} takes nothing away from {body.name}", "The tool does not reach into it. Move one of them, or make the tool larger."
    elif how is How.JOIN and after.pieces > before.pieces:
        said = (
            f"{step.name} leaves bodies apart",
            "They do not touch, so they are one body in name only. Move one of them until it reaches the other.",
        )
    else:
        return []
    return [Finding(code="no-effect", severity=Severity.WARNING, step=step.id, title=said[0], detail=said[1])]


def _as_large(before: Body, after: Body) -> bool:
    """Whether nothing was taken away. What obviously was is told without a measure of the body before, which takes its time."""
    left = after.measures.volume
    return abs(left - before.volume_about) <= 0.01 * before.volume_about and abs(left - before.measures.volume) <= 1e-9 * before.measures.volume


def run_into_each_other(step: Step, pairs: Sequence[tuple[int, int]]) -> Finding:
    """Copies whose boxes overlap: they may run into each other, and stay apart all the same."""
    return Finding(
        code="copies-overlap",
        severity=Severity.NOTE,
        step=step.id,
        title=f"Copies {pairs[0][0] + 1} and {pairs[0][1] + 1} of {step.name} may run into each other",
        detail="They stay bodies of their own, and where they overlap is counted twice. Place them further apart, or join them.",
    )


def not_on_all_copies(step: Step, without: int, path: Sequence[str | int]) -> Finding:
    """What was picked on one copy is missing on others, or is not to be told from something else there."""
    copies = "One copy has" if without == 1 else f"{without} copies have"
    return Finding(
        code="not-on-all-copies",
        severity=Severity.NOTE,
        step=step.id,
        title=f"{copies} nothing like what was picked for {step.name}",
        detail="They stay as they are. What they meet may cut it off there; pick on them what is meant instead.",
        path=list(path),
    )


def _gap(a: Body, b: Body) -> float:
    """Distance between the boxes of two bodies, 0 where they overlap, mm."""
    away = np.maximum(np.maximum(a.measures.low - b.measures.high, b.measures.low - a.measures.high), 0.0)
    return float(np.linalg.norm(away)) if away.max() > 1e-6 else 0.0
