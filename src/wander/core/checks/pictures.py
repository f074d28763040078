"""Findings about reference pictures."""

from __future__ import annotations

from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity


def no_width(step: Step) -> Finding:
    """A picture scaled to nothing."""
    back = SetParam(do="set-param", step=step.id, path=["width"], value=100.0)
    return Finding(
        code="picture-vanishes",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} has no width",
        detail="The width of a picture has to be more than zero.",
        path=["width"],
        fixes=[Fix(label="Make it 100 mm wide", edits=[back])],
    )
