"""What a step finds inside the outlines of a section."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.checks.areas import open_area
from wander.core.document.fields import SectionRef
from wander.core.drawing.outlines.area import Area
from wander.core.drawing.outlines.runs import there_and_back
from wander.core.geometry.frame import Frame
from wander.core.results.drawn import Drawn
from wander.core.steps.inputs import Inputs, StepRefused

Outlines = tuple[Sequence[Area], Frame]


def outlines_of(ref: SectionRef, inputs: Inputs) -> Outlines:
    """What is carried along, and its plane: areas, or an open run, gone there and back. Raises StepRefused for a point."""
    drawn: Drawn = inputs.result(ref)
    if not drawn.areas and drawn.run is not None:
        return [Area(there_and_back(drawn.run))], drawn.frame
    return areas_of(ref, inputs).areas, drawn.frame


def areas_of(ref: SectionRef, inputs: Inputs) -> Drawn:
    """The section, which encloses something. Raises StepRefused where it is open or a point."""
    drawn: Drawn = inputs.result(ref)
    if not drawn.areas:
        raise StepRefused([open_area(inputs.step, inputs.named(ref))])
    return drawn
