"""Half modelling: sections drawn on one side of a plane, made whole with their mirror images.

An outline that leaves the plane squarely goes through it without a corner, and being its own image it bends there alike on both sides: what is
lofted through such outlines is curvature-continuous across the plane.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from wander.core.drawing.outlines.loop import Loop
from wander.core.drawing.outlines.outline import outline
from wander.core.drawing.outlines.runs import OpenRun
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import transformed
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame

ON = 1e-3
"""mm by which a half may miss the plane at its ends; it is drawn onto it."""
SQUARE = 1e-9
"""Sine of the angle by which a station may lean out of square to the plane."""


class Askew(BadInput):
    """The plane is not square to a station: the mirror image of what is drawn there lies elsewhere."""


class OffPlane(BadInput):
    """A half does not end on the plane. ends: which, 0 or 1; distance: mm, the largest."""

    def __init__(self, ends: tuple[int, ...], distance: float) -> None:
        super().__init__(f"an end lies {distance:.3g} mm off the plane")
        self.ends, self.distance = ends, distance


class BothSides(BadInput):
    """A half goes to the other side of the plane as well. place: (2,), the furthest; distance: mm."""

    def __init__(self, place: Floats, distance: float) -> None:
        super().__init__(f"it goes {distance:.3g} mm beyond the plane")
        self.place, self.distance = place, distance


@dataclass(frozen=True)
class MirrorLine:
    """Where the mirror plane meets a station: places p of its sheet with p @ normal == level. normal: unit (2,)."""

    normal: Floats
    level: float

    @property
    def matrix(self) -> Floats:
        return np.eye(2) - 2 * np.outer(self.normal, self.normal)

    @property
    def origin(self) -> Floats:
        return 2 * self.level * self.normal

    def height(self, places: Floats) -> Floats:
        """Signed distance (m,) of places (m, 2)."""
        return np.asarray(places @ self.normal - self.level, dtype=np.float64)

    def foot(self, place: Floats) -> Floats:
        """The nearest place on the line."""
        return np.asarray(place - float(self.height(place[None])[0]) * self.normal, dtype=np.float64)


def mirror_line(station: Frame, plane: Frame) -> MirrorLine:
    """Raises Askew where the plane does not stand square on the station."""
    if abs(float(station.z @ plane.z)) > SQUARE:
        raise Askew("the plane does not stand square on the station")
    normal = np.array([plane.z @ station.x, plane.z @ station.y])
    return MirrorLine(normal / np.linalg.norm(normal), float((plane.origin - station.origin) @ plane.z))


def leans(run: OpenRun, line: MirrorLine) -> Floats:
    """Degrees (2,) by which a half leaves the plane out of square, at its first and its last end."""
    return np.degrees(np.arccos(np.clip(np.abs(run.ways @ line.normal), 0.0, 1.0)))


def whole(run: OpenRun, line: MirrorLine) -> Loop:
    """The outline of a half and its mirror image. Raises OffPlane, BothSides, BadInput where the half lies in the plane."""
    off = np.abs(line.height(run.ends))
    if off.max() > ON:
        raise OffPlane(tuple(np.flatnonzero(off > ON).tolist()), float(off.max()))
    places = run.sampled()
    height = line.height(places)
    side = 1.0 if height[np.abs(height).argmax()] > 0 else -1.0
    beyond = float((-side * height).max())
    if np.abs(height).max() <= ON:
        raise BadInput("the half lies in the plane and encloses nothing with its image")
    if beyond > ON:
        raise BothSides(places[(-side * height).argmax()], beyond)
    run = _onto(run, line)
    image = run.image(line.matrix, line.origin).reversed()
    first = image.stretches[0]
    # where both meet they share a point
    shared = type(first)(first.curve, first.even, first.whole, first.label, run.last)
    return outline([*run.stretches, shared, *image.stretches[1:]])


def _onto(run: OpenRun, line: MirrorLine) -> OpenRun:
    """Both ends on the plane to the last bit."""
    stretches = list(run.stretches)
    for number, at in ((0, 0), (len(stretches) - 1, -1)):
        stretch = stretches[number]
        points = stretch.curve.points.copy()
        points[at] = line.foot(points[at])
        stretches[number] = type(stretch)(Curve(stretch.curve.space, points), stretch.even, stretch.whole, stretch.label, stretch.corner)
    return OpenRun(tuple(stretches), run.last)


def with_images(rails: list[Curve], plane: Frame) -> list[tuple[int, Curve]]:
    """Rails of one half and their mirror images, each with the number of the rail it comes from; one that lies in the plane is its own image."""
    matrix = np.eye(3) - 2 * np.outer(plane.z, plane.z)
    origin = 2 * float(plane.origin @ plane.z) * plane.z
    found = list(enumerate(rails))
    for number, rail in enumerate(rails):
        if np.abs((rail.sampled(12)[1] - plane.origin) @ plane.z).max() > ON:
            found.append((number, transformed(rail, matrix, origin)))
    return found
