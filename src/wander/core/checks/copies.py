"""Findings about linked copies."""

from __future__ import annotations

from wander.core.document.document import Step
from wander.core.document.findings import Finding, Severity


def copy_of_open(step: Step, original: Step) -> Finding:
    """What is copied has no outline to copy."""
    return Finding(
        code="copy-of-open",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{original.name} has no outline to copy",
        detail=f"{step.name} follows {original.name}, which is open. Close that one, and this one follows.",
        path=["shape", "section"],
    )
