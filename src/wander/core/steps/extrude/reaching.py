"""How far an extrusion goes: a distance, past a body, or to the plane of a face."""

from __future__ import annotations

from dataclasses import dataclass
from math import copysign
from typing import Literal

import numpy as np

from wander.core.checks.areas import face_stands_along, nothing_to_reach
from wander.core.geometry.frame import Frame
from wander.core.shaping.cut_ends import LEAST, Slope
from wander.core.steps.extrude.params import ByDistance, ExtrudeParams, Through
from wander.core.steps.inputs import Inputs, StepRefused
from wander.core.steps.result import target

PAST = 1.0
"""mm by which it goes past a body."""
ALONG = 1e-3
"""Cosine between the normal of a face and the direction of the extrusion below which that never reaches it."""


@dataclass(frozen=True)
class Far:
    """Where the far end is: mm along the normal of the drawing at its origin. slope: of its plane, None where that is as the ends are."""

    at: float
    slope: Slope | None = None


def far_end(params: ExtrudeParams, frame: Frame, inputs: Inputs) -> Far:
    """Raises StepRefused, NeedsExact."""
    reach = params.reach
    if isinstance(reach, ByDistance):
        return Far(params.distance)
    if isinstance(reach, Through):
        return Far(_past(params, frame, inputs))
    face = inputs.face(reach.face, ["reach", "face"])
    if face.frame is None:
        raise StepRefused([nothing_to_reach(inputs.step, "face")])
    normal = face.frame.z
    across = float(normal @ frame.z)
    if abs(across) < ALONG:
        raise StepRefused([face_stands_along(inputs.step, inputs.named(reach.face))])
    at = float(normal @ (face.frame.origin - frame.origin)) / across
    slope = -float(normal @ frame.x) / across, -float(normal @ frame.y) / across
    flat = max(map(abs, slope)) < 1e-12
    # each end is longer where its slope says so, whichever way it looks
    return Far(at, None if flat else (slope if at >= -params.other else (-slope[0], -slope[1])))


def _past(params: ExtrudeParams, frame: Frame, inputs: Inputs) -> float:
    ref = target(params)
    missing: Literal["body", "way"] = "body"
    if ref is not None:
        body = inputs.results[ref.step]
        corners = np.array([[(body.measures.low, body.measures.high)[k >> i & 1][i] for i in range(3)] for k in range(8)])
        heights = (corners - frame.origin) @ frame.z
        sign = copysign(1.0, params.distance)
        furthest = float((sign * heights).max())
        if furthest > LEAST:
            return sign * (furthest + PAST)
        missing = "way"
    raise StepRefused([nothing_to_reach(inputs.step, missing)])
