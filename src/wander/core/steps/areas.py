"""What a step finds inside the outlines of a section."""

from __future__ import annotations

from wander.core.checks.areas import open_area
from wander.core.document.fields import SectionRef
from wander.core.results.drawn import Drawn
from wander.core.steps.inputs import Inputs, StepRefused


def areas_of(ref: SectionRef, inputs: Inputs) -> Drawn:
    """The section, which encloses something. Raises StepRefused where it is open or a point."""
    drawn: Drawn = inputs.result(ref)
    if not drawn.areas:
        raise StepRefused([open_area(inputs.step, inputs.named(ref))])
    return drawn
