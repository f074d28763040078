"""How far an extrusion goes: a distance, past a body, to the plane of a face, or to a curved one."""

from __future__ import annotations

from dataclasses import dataclass
from math import copysign
from typing import Literal

import numpy as np

from wander.core.bodies.body import Face
from wander.core.checks.areas import face_stands_along, nothing_to_reach
from wander.core.geometry.frame import Frame
from wander.core.geometry.surface import Surface
from wander.core.shaping.cut_ends import LEAST, Slope
from wander.core.steps.areas import Outlines
from wander.core.steps.extrude.params import ByDistance, ExtrudeParams, Through
from wander.core.steps.inputs import Inputs, StepRefused
from wander.core.steps.result import target

PAST = 1.0
"""mm by which it goes past a body."""
LOOKED = 49
"""Lines of a curved face in each direction at which it is asked how far away it is."""
ALONG = 1e-3
"""Cosine between the normal of a face and the direction of the extrusion below which that never reaches it."""


@dataclass(frozen=True)
class Far:
    """Where the far end is: mm along the normal of the drawing at its origin. slope: of its plane, None where that is as the ends are.

    surface: of the curved face that it is cut off by, which lies on this side of that end.
    """

    at: float
    slope: Slope | None = None
    surface: Surface | None = None


def far_end(params: ExtrudeParams, drawn: Outlines, inputs: Inputs) -> Far:
    """Raises StepRefused, NeedsExact."""
    reach, frame = params.reach, drawn[1]
    if isinstance(reach, ByDistance):
        return Far(params.distance)
    if isinstance(reach, Through):
        return Far(_past(params, frame, inputs))
    face = inputs.face(reach.face, ["reach", "face"])
    if face.frame is None:
        return _to_curved(params, drawn, face, inputs)
    normal = face.frame.z
    across = float(normal @ frame.z)
    if abs(across) < ALONG:
        raise StepRefused([face_stands_along(inputs.step, inputs.named(reach.face))])
    at = float(normal @ (face.frame.origin - frame.origin)) / across
    slope = -float(normal @ frame.x) / across, -float(normal @ frame.y) / across
    flat = max(map(abs, slope)) < 1e-12
    # each end is longer where its slope says so, whichever way it looks
    return Far(at, None if flat else (slope if at >= -params.other else (-slope[0], -slope[1])))


def _to_curved(params: ExtrudeParams, drawn: Outlines, face: Face, inputs: Inputs) -> Far:
    """Beyond the face over the outline: to the side on which it lies, to that of the distance where it lies on both. Raises StepRefused."""
    outlines, frame = drawn
    if face.surface is None:
        raise StepRefused([nothing_to_reach(inputs.step, "face")])
    u, v = (np.linspace(*space.domain, LOOKED) for space in (face.surface.u, face.surface.v))
    places = face.surface.grid(u, v).reshape(-1, 3) - frame.origin
    flat, heights = places @ np.stack([frame.x, frame.y], axis=1), places @ frame.z
    points = np.concatenate([area.outer.curve.sampled(4)[1] for area in outlines])
    # between lines of the grid the face may bulge: a little more than the box of the outline is looked over
    room = float(np.ptp(points, axis=0).max()) / 4 + float(np.abs(heights).max()) * np.tan(abs(params.taper))
    over = np.all((flat > points.min(axis=0) - room) & (flat < points.max(axis=0) + room), axis=1)
    found = heights[over] if over.any() else heights
    sign = copysign(1.0, params.distance) if found.min() < -LEAST and found.max() > LEAST else copysign(1.0, found[np.abs(found).argmax()])
    furthest = float((sign * found).max())
    return Far(sign * (furthest + PAST + 0.05 * abs(furthest)), None, face.surface)


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
