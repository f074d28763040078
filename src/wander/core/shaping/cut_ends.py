"""Ends of an extrusion that are cut at angles: every row of points is led along the normal of the drawing, by one affine map."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from wander.core.drawing.outlines.area import Area
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.geometry.vectors import cross
from wander.core.shaping.shell import Cap, Shell

Slope = tuple[float, float]
"""By how much an end rises for each mm along x and along y of the drawing."""
SQUARE: tuple[Slope, Slope] = ((0.0, 0.0), (0.0, 0.0))
LEAST = 1e-6
"""mm that are left between both ends."""


class EndsMeet(BadInput):
    """Ends cut at angles cross within the section. place: where they cross furthest (3,); short: by how much they are too near, mm."""

    def __init__(self, place: Floats, short: float) -> None:
        super().__init__(f"its ends, cut at these angles, cross within the section: they would have to be {short:.3g} mm further apart")
        self.place, self.short = place, short


def with_cut_ends(skins: Sequence[Shell], areas: Sequence[Area], frame: Frame, length: float, slopes: tuple[Slope, Slope]) -> tuple[Shell, ...]:
    """Upright skins with square ends, these turned about the origin of the drawing. Raises EndsMeet."""
    gradients = np.array(slopes)
    outline = np.concatenate([area.outer.curve.sampled(24)[1] for area in areas])
    room = length + outline @ (gradients[1] - gradients[0])
    if room.min() < LEAST:
        raise EndsMeet(frame.lift(outline[int(room.argmin())]), LEAST - float(room.min()))
    return tuple(_cut(skin, frame, gradients) for skin in skins)


def _cut(skin: Shell, frame: Frame, gradients: Floats) -> Shell:
    faces = []
    for face in skin.faces:
        points = face.surface.points.copy()
        for row, gradient in zip((0, -1), gradients, strict=True):
            points[:, row] = _risen(points[:, row], frame, gradient)
        faces.append(replace(face, surface=replace(face.surface, points=points)))
    # a sheet has no caps
    return replace(skin, faces=tuple(faces), caps=tuple(_sloping(cap, frame, gradient) for cap, gradient in zip(skin.caps, gradients, strict=False)))


def _risen(points: Floats, frame: Frame, gradient: Floats) -> Floats:
    return np.asarray(points + (frame.drop(points) @ gradient)[..., None] * frame.z, dtype=np.float64)


def _sloping(cap: Cap, frame: Frame, gradient: Floats) -> Cap:
    """An end in its own plane, looking to the side that it looked to."""
    normal = frame.z - gradient[0] * frame.x - gradient[1] * frame.y
    normal = normal / np.linalg.norm(normal) * np.sign(cap.frame.z @ frame.z)
    x = _risen(frame.origin + cap.frame.x, frame, gradient) - frame.origin
    x = x / np.linalg.norm(x)
    chains = [tuple(Curve(curve.space, _risen(curve.points, frame, gradient), curve.weights) for curve in chain) for chain in cap.chains]
    return replace(cap, frame=Frame(cap.frame.origin, x, cross(normal, x)), boundary=chains[0], holes=tuple(chains[1:]))
