"""Mirror: the image of a body in a plane."""

from __future__ import annotations

from wander.core.bodies.body import copied, moved
from wander.core.steps.inputs import Built, Inputs
from wander.core.steps.made import elsewhere
from wander.core.steps.mirror.params import MirrorParams
from wander.core.steps.mirroring import mirroring


def build(params: MirrorParams, inputs: Inputs) -> Built:
    image = mirroring(params, inputs)
    body = inputs.body(params.body)
    # an image beside its original is another body with names of its own; one instead of it goes on under the same
    body = moved(copied(body, inputs.step.id) if params.keep else body, image.matrix, image.origin)
    return elsewhere(body, inputs)
