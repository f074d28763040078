"""Mirror: the image of a body in a plane."""

from __future__ import annotations

from wander.core.bodies.body import image, moved
from wander.core.steps.inputs import Built, Inputs
from wander.core.steps.made import elsewhere
from wander.core.steps.mirror.params import MirrorParams
from wander.core.steps.mirroring import mirroring


def build(params: MirrorParams, inputs: Inputs) -> Built:
    motion = mirroring(params, inputs)
    body = inputs.body(params.body)
    # an image beside its original is another body with names of its own; one instead of it goes on under the same
    body = image(body, inputs.step.id, motion) if params.keep else moved(body, motion.matrix, motion.origin)
    return elsewhere(body, inputs)
