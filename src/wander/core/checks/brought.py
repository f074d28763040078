"""Findings about bodies from files."""

from __future__ import annotations

from wander.core.checks.refusals import refused
from wander.core.document.document import Step
from wander.core.document.findings import Finding, Where


def no_file(step: Step) -> Finding:
    return refused(
        step,
        "file-not-here",
        f"The file of {step.name} is not on this machine",
        "Bring it in again, or open a file of the design that brings it along: “Hand over, the design itself” puts it in.",
        ["file"],
        Where(),
    )


def not_read(step: Step, error: Exception) -> Finding:
    return refused(
        step,
        "file-not-read",
        f"{step.name} can't be made of its file",
        f"{str(error)[:1].upper()}{str(error)[1:]}. Have it written again by the program that it comes from: as solids, in STEP AP214 or AP242; "
        "or bring it in as a reference body from an STL file.",
        ["file"],
        Where(),
    )
