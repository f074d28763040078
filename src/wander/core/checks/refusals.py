"""Findings that keep a step from being built."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.document.document import Step
from wander.core.document.findings import Finding, Fix, Severity, Where


def refused(step: Step, code: str, title: str, detail: str, path: Sequence[str | int], where: Where, *fixes: Fix) -> Finding:
    """path: of the parameter that is meant. where: what lights up. fixes: the repairs that are held out, the best first."""
    return Finding(code=code, severity=Severity.ERROR, step=step.id, title=title, detail=detail, path=list(path), where=where, fixes=list(fixes))
