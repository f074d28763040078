"""Offset."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.bodies.body import Body, of_shells
from wander.core.bodies.kernel import KernelFailed
from wander.core.checks.surfaces import not_offset, offset_too_far
from wander.core.document.derived_names import wall_name
from wander.core.geometry.errors import NotConverged
from wander.core.shaping.offset_faces import MeetOthers, offset_faces
from wander.core.shaping.offset_skin import TooTight
from wander.core.steps.inputs import Built, Inputs, NeedsExact, StepRefused
from wander.core.steps.made import left
from wander.core.steps.offset.params import OffsetParams


def build(params: OffsetParams, inputs: Inputs) -> Built:
    base = inputs.exact_body(params.body)
    mine = {"step": params.body.step}
    faces = [inputs.face(ref.model_copy(update=mine), ["faces", k]).name for k, ref in enumerate(params.faces)]
    made = _of_own_skin(base, faces, params.distance, inputs)
    if made is not None:
        return left(made, inputs)
    if inputs.kernel is None:
        raise NeedsExact
    try:
        made = inputs.kernel.offset(base, faces, params.distance, inputs.step.id)
    except KernelFailed as error:
        raise StepRefused([not_offset(inputs.step, inputs.named(params.body), params.distance, error)]) from error
    return left(made, inputs)


def _of_own_skin(base: Body, faces: Sequence[str], distance: float, inputs: Inputs) -> Body | None:
    """From the body's own surfaces; None where it has none, or sides that meet would have to be brought together. Raises StepRefused."""
    if base.exact or len(base.skins) != 1:
        return None
    (skin,) = base.skins
    sides = [face.name for face in skin.faces]
    chosen = [number for number, name in enumerate(sides) if not faces or name in faces]
    if len(chosen) < len(faces or skin.names):
        return None  # flat ends among them
    word = "outside" if distance > 0 else "inside"
    try:
        made = offset_faces(skin, chosen, distance, lambda name: wall_name(inputs.step.id, word, name) if distance else name)
    except (MeetOthers, NotConverged):
        return None
    except TooTight as error:
        raise StepRefused([offset_too_far(inputs.step, error.place, error.fits if distance > 0 else -error.fits)]) from error
    inputs.shaped((made,))
    return of_shells((made,), base.along)
