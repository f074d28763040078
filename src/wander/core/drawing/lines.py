"""Where everything is that is drawn: what is seen of a drawing first."""

from __future__ import annotations

import numpy as np

from wander.core.drawing.curves.paths import path_of, written
from wander.core.drawing.holds import Passing
from wander.core.drawing.model import AnyCurve, Drawing, DrawnArc, DrawnCircle, DrawnLine, DrawnTrace
from wander.core.drawing.summary import DrawnLines

BY_THEMSELVES = (DrawnLine, DrawnArc, DrawnCircle)
"""Curves that nothing shapes but their own points and numbers."""


def stands_alone(drawing: Drawing) -> bool:
    """Whether nothing in it follows a body or a rail."""
    return not any(isinstance(curve, DrawnTrace) for curve in drawing.curves) and not any(isinstance(hold, Passing) for hold in drawing.holds)


def lines_of(drawing: Drawing, like: tuple[Drawing, DrawnLines] | None = None) -> DrawnLines:
    """Points and paths of a drawing. like: another of the same curves, with its lines: those that did not move are not worked out again."""
    rounded = np.round(np.array(list(drawing.points.values())).reshape(-1, 2), 9)
    points = dict(zip(drawing.points, zip(rounded[:, 0].tolist(), rounded[:, 1].tolist(), strict=True), strict=True))
    xy = written(drawing.points)
    if like is None:
        return DrawnLines.model_construct(points=points, paths={curve.id: path_of(curve, drawing, xy) for curve in drawing.curves})
    before, lines = like
    moved = {p for p, at in drawing.points.items() if before.points.get(p) != at}

    def stays(curve: AnyCurve, was: AnyCurve) -> bool:
        return isinstance(curve, BY_THEMSELVES) and (curve is was or curve == was) and moved.isdisjoint(curve.points())

    paths = {
        curve.id: lines.paths[curve.id] if stays(curve, was) else path_of(curve, drawing, xy)
        for curve, was in zip(drawing.curves, before.curves, strict=True)
    }
    return DrawnLines.model_construct(points=points, paths=paths)
