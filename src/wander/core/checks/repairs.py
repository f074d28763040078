"""Repairs that findings of several kinds hold out."""

from __future__ import annotations

from wander.core.document.document import Step
from wander.core.document.edits import SkipStep
from wander.core.document.findings import Fix


def skipping(step: Step) -> Fix:
    """Go on without the step: what it would have changed stands as it is."""
    return Fix(label=f"Skip {step.name}", edits=[SkipStep(do="skip-step", step=step.id, skip=True)])
