"""What comes out of a file: which data, and where it stands."""

from __future__ import annotations

from math import cos, sin

import numpy as np

from wander.core.bodies.brought import NoFile
from wander.core.checks.brought import no_file
from wander.core.geometry.basis import Floats
from wander.core.geometry.frame import BASE_FRAMES, Frame
from wander.core.steps.from_file import FromFile
from wander.core.steps.inputs import Inputs, StepRefused


def motion_of(params: FromFile, inputs: Inputs) -> tuple[Floats, Floats]:
    """Matrix (3, 3) and origin (3,) that put it in its place."""
    frame: Frame = BASE_FRAMES["top"] if params.station is None else inputs.result(params.station)
    axes = np.column_stack([frame.x, frame.y, frame.z])
    c, s = cos(params.turn), sin(params.turn)
    return axes @ np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]]), frame.origin + axes @ np.array(params.at)


def data_of(params: FromFile, inputs: Inputs) -> bytes:
    """Raises StepRefused where this machine does not have it."""
    try:
        return inputs.file(params.file)
    except NoFile:
        raise StepRefused([no_file(inputs.step)], passing=True) from None
