"""Findings about work that had to be abandoned."""

from __future__ import annotations

from wander.core.document.document import Step
from wander.core.document.edits import SkipStep
from wander.core.document.findings import Finding, Fix, Severity


def gave_up(step: Step, what_happened: str) -> Finding:
    """The finding for a step whose computation took its worker down. what_happened: a half sentence, `it took longer than 30 s`."""
    return Finding(
        code="gave-up",
        severity=Severity.ERROR,
        step=step.id,
        title=f"The kernel gave up on {step.name}",
        detail=f"Working it out was stopped: {what_happened}. It is not tried again until something that goes into it changes.",
        fixes=[Fix(label=f"Skip {step.name}", edits=[SkipStep(do="skip-step", step=step.id, skip=True)])],
    )
