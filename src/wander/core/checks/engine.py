"""Findings about work that had to be abandoned."""

from __future__ import annotations

from wander.core.checks.repairs import skipping
from wander.core.document.document import Step
from wander.core.document.findings import Finding, Fix, Severity


def gave_up(step: Step, what_happened: str) -> Finding:
    """The finding for a step whose computation took its worker down. what_happened: a half sentence, `it took longer than 30 s`."""
    return Finding(
        code="gave-up",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} was given up",
        detail=f"Working it out was stopped: {what_happened}. It is tried again when something that goes into it changes, or when you ask for it.",
        fixes=[
            Fix(label="Try it again", edits=[], again=True),
            skipping(step),
        ],
    )


def unforeseen(step: Step, error: Exception, number: str) -> Finding:
    """The finding for a build that failed in a way nobody thought of. number: stands in the log beside what happened."""
    return Finding(
        code="unforeseen",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} could not be worked out",
        detail=f"Something went wrong that Wander has no words for ({type(error).__name__}). The log has it under {number}. "
        "Change something that goes into it, or skip it; everything else goes on.",
        fixes=[skipping(step)],
    )
