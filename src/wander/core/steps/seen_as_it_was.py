"""What is seen of a body while the kernel is not at hand to change it: as it was before."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.bodies.body import Body, gathered
from wander.core.bodies.combining import meshed
from wander.core.bodies.rough import NotClosed
from wander.core.results.bodies import body_summary
from wander.core.steps.inputs import Built, Inputs, NeedsExact


def as_it_was(bodies: Sequence[Body], inputs: Inputs) -> Built:
    """Raises NeedsExact where there is no mesh of it."""
    base = gathered(bodies)
    try:
        rough = meshed(base, max(inputs.tolerances.display, inputs.tolerances.moving * base.size_about))
    except NotClosed:
        raise NeedsExact from None
    body = Body(rough.measures, rough=rough, along=base.along)
    return Built(body, body_summary(body, inputs.tolerances))
