"""Mirror images of splines: what is changed in one half is changed in the other."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import atan2, degrees

import numpy as np

from wander.core.drawing.edits.sheet import Sheet
from wander.core.drawing.model import DrawnSpline


@dataclass(frozen=True)
class Image:
    """A spline that is the mirror image of another, and the line it is mirrored about."""

    curve: DrawnSpline
    about: str

    def angle(self, sheet: Sheet, angle: float) -> float:
        """The image of a direction, degrees."""
        start, end = sheet.line(self.about)
        return 2 * degrees(atan2(end[1] - start[1], end[0] - start[0])) - angle


def images(sheet: Sheet, curve: DrawnSpline) -> Iterator[Image]:
    """The splines whose points are held symmetric to those of a spline, one by one and in its order."""
    pairs: dict[str, dict[str, str]] = {}
    for hold in sheet.holds.values():
        if hold["type"] == "symmetric" and hold["of"][0] in sheet.points:
            one, other, about = hold["of"]
            pairs.setdefault(about, {}).update({one: other, other: one})
    for about, image_of in pairs.items():
        wanted = [image_of.get(p, p) for p in curve.through]
        if wanted == curve.through:
            continue
        for other in sheet.curves.values():
            if isinstance(other, DrawnSpline) and other.id != curve.id and other.closed == curve.closed and other.through == wanted:
                yield Image(other, about)


def image_of_point(sheet: Sheet, point: str, about: str) -> tuple[float, float]:
    """Where the mirror image of a point lies, mm."""
    start, end = sheet.line(about)
    way = (end - start) / np.linalg.norm(end - start)
    off = np.array(sheet.points[point]) - start
    x, y = start + 2 * (off @ way) * way - off
    return float(x), float(y)
