"""Findings about bodies from files."""

from __future__ import annotations

from wander.core.checks.refusals import refused
from wander.core.document.document import Step
from wander.core.document.findings import Finding, Where, sentence


def no_file(step: Step) -> Finding:
    return refused(
        step,
        "file-not-here",
        f"The file of {step.name} is not on this machine",
        "Open the design from a file that was handed over where it is at hand: that brings it along. Or remove the step and bring it in again.",
        ["file"],
        Where(),
    )


_AGAIN = {
    "step": "as solids, in STEP AP214 or AP242; or as STL, and bring that in to look at",
    "stl": "as STL, closed and without broken triangles; or as STEP",
}


def not_read(step: Step, error: Exception) -> Finding:
    return refused(
        step,
        "file-not-read",
        f"{step.name} can't be made of its file",
        f"{sentence(error)}. Have it written again by the program that it comes from: {_AGAIN[str(step.params.get('format', 'step'))]}.",
        ["file"],
        Where(),
    )
