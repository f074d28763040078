"""Ridge or groove."""

from __future__ import annotations

import numpy as np

from wander.core.bodies.body import of_shells
from wander.core.checks.banding import band_beside, band_no_room, band_not_made, band_too_tight
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import GeometryError
from wander.core.geometry.frame import Frame
from wander.core.shaping.banding import Band, banded
from wander.core.shaping.offset_skin import TooTight, WallsMeet
from wander.core.steps.band.params import AtPlace, BandParams, End
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import left


def build(params: BandParams, inputs: Inputs) -> Built:
    step, base, named = inputs.step, inputs.exact_body(params.body), inputs.named(params.body)
    axis = base.axis
    first, last = sorted(_place(end, axis, inputs) for end in (params.first, params.last))
    ends = sorted((float(base.measures.low @ axis), float(base.measures.high @ axis)))
    if last <= ends[0] or first >= ends[1]:
        raise StepRefused([band_beside(step, named, (first, last), (ends[0], ends[1]))])
    if params.shoulder <= 0 or last - first < 2 * params.shoulder - 1e-9:
        raise StepRefused([band_no_room(step, (last - first) / 2, params.shoulder)])
    if base.exact or len(base.skins) != 1:
        raise StepRefused([band_not_made(step, named, "it is no longer the one skin that it was shaped as")])
    try:
        made = banded(base.skins[0], Band(axis, first, last, params.height, params.shoulder))
    except TooTight as error:
        raise StepRefused([band_too_tight(step, error.place, np.sign(params.height) * error.fits)]) from error
    except WallsMeet as error:
        raise StepRefused([band_too_tight(step, error.place, None)]) from error
    except GeometryError as error:
        raise StepRefused([band_not_made(step, named, str(error))]) from error
    inputs.shaped((made,))
    inputs.pause()
    body = of_shells((made,), base.along)
    return left(body, inputs)


def _place(end: End, axis: Floats, inputs: Inputs) -> float:
    if isinstance(end, AtPlace):
        return end.at
    frame: Frame = inputs.result(end.station)
    return float(frame.origin @ axis) + end.past
