"""SVG in and out, in real size: a user unit is a 96th of an inch, unless width and view box say otherwise."""

from __future__ import annotations

import io
import re
from collections.abc import Sequence
from typing import Any

import numpy as np

from wander.core.drawing.curves.boxes import extents
from wander.core.drawing.curves.paths import path_of
from wander.core.drawing.curves.pieces import pieces
from wander.core.drawing.model import Drawing
from wander.core.exchange.curves import (
    MOST_CURVES,
    MOST_NUMBERS,
    MOST_POINTS,
    ArcOf,
    Brought,
    Contents,
    EllipseOf,
    PolesOf,
    Polyline,
    UnreadableCurves,
)
from wander.core.exchange.point_files import read_text
from wander.core.geometry.basis import Floats

MM_PER_UNIT = 25.4 / 96
PER_CURVE = 40
MARGIN = 1.0
"""mm round what goes out."""
MOST_CUBICS = 400
"""A path with more is no outline drawn by hand: its cubics are laid together into splines."""
USER_UNITS = {"em": 16.0, "ex": 8.0, "mm": 96 / 25.4, "cm": 960 / 25.4, "in": 96.0, "pt": 96 / 72, "pc": 16.0}
"""To lengths, exactly; em and ex go by letters of the usual height, as no style is read."""
_LENGTH = re.compile(r"""(=\s*["']\s*)([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)(em|ex|mm|cm|in|pt|pc)(\s*["'])""")
_ENTITY = re.compile(r"<!(DOCTYPE|ENTITY)", re.IGNORECASE)


def read_svg(data: bytes) -> Contents:
    """All outlines of shapes and paths, in mm with y upwards. Styles, texts and pictures are left aside."""
    from svgelements import SVG, Circle, Ellipse, Shape

    text = read_text(data)
    if _ENTITY.search(text):
        # entities can name files and grow without end; no drawing program needs them for shapes
        raise UnreadableCurves("the file declares XML entities, which are not read. Save it as plain SVG")
    if "<svg" not in text:
        raise UnreadableCurves("this is no SVG file: there is no <svg> in it")
    if sum(text.count(c) for c in ",. ") > MOST_NUMBERS:
        raise UnreadableCurves(f"the file holds far more than {MOST_POINTS} points, the most that are read. Simplify its paths first")
    try:
        picture = SVG.parse(io.StringIO(_LENGTH.sub(_in_units, text)), reify=False, ppi=96.0)
    except Exception as error:
        raise UnreadableCurves(f"this is no SVG file that can be read: {str(error)[:120]}") from error
    found: list[Brought] = []
    for element in picture.elements():
        if isinstance(element, Circle | Ellipse):
            found += _round(element)
        elif isinstance(element, Shape):
            found += _path(list(element.segments(False)), _Lie(element))
        if len(found) > MOST_CURVES:
            raise UnreadableCurves(f"the file holds more than {MOST_CURVES} curves; leave out what is not the outline")
    if not found:
        raise UnreadableCurves("there are no shapes or paths in this file. Texts have to be turned into paths first")
    # the standard says how large a unit is
    return Contents(found, [""] * len(found), says_unit=True)


def _in_units(found: re.Match[str]) -> str:
    return f"{found[1]}{float(found[2]) * USER_UNITS[found[3]]!r}{found[4]}"


class _Lie:
    """How a shape of the file lies in the drawing: its own numbers in mm, y upwards."""

    def __init__(self, shape: Any) -> None:
        m = shape.transform
        to_mm = np.array([MM_PER_UNIT, -MM_PER_UNIT])
        self.linear = np.array([[m.a, m.c], [m.b, m.d]], dtype=np.float64) * to_mm[:, None]
        self._origin = np.array([m.e, m.f], dtype=np.float64) * to_mm

    def __call__(self, *points: Any) -> Floats:
        """Points of the file as (m, 2)."""
        return np.array([(p[0], p[1]) for p in points], dtype=np.float64) @ self.linear.T + self._origin


def _round(shape: Any) -> list[Brought]:
    """A circle or an ellipse: under whatever it was turned, scaled and sheared by it is one of them."""
    lie = _Lie(shape)
    sides = lie.linear * (float(shape.rx), float(shape.ry))
    if not np.all(np.isfinite(sides)) or abs(np.linalg.det(sides)) < 1e-18:
        return []
    ways, (half, least), _ = np.linalg.svd(sides)
    x, y = lie((shape.cx, shape.cy))[0].tolist()
    if half - least < 1e-9 * half:
        return [ArcOf((x, y), float(half))]
    return [EllipseOf((x, y), 2 * float(half), 2 * float(least), float(np.degrees(np.arctan2(ways[1, 0], ways[0, 0]))))]


def _path(segments: Sequence[Any], lie: _Lie) -> list[Brought]:
    """Lines, arcs of circles and cubics as such; as places along them arcs of ellipses, and cubics where there are too many to be handled singly."""
    from svgelements import Arc, CubicBezier, Move, QuadraticBezier

    curved = sum(isinstance(segment, CubicBezier | QuadraticBezier) for segment in segments)
    found: list[Brought] = []
    for segment in segments:
        if isinstance(segment, Move) or segment.start is None or segment.end is None:
            continue
        match segment:
            case CubicBezier() if curved <= MOST_CUBICS:
                made: Polyline | PolesOf = PolesOf(lie(segment.start, segment.control1, segment.control2, segment.end))
            case QuadraticBezier() if curved <= MOST_CUBICS:
                a, b, c = lie(segment.start, segment.control, segment.end)
                made = PolesOf(np.array([a, (a + 2 * b) / 3, (2 * b + c) / 3, c]))
            case Arc() if (arc := _arc(segment, lie)) is not None:
                found.append(arc)
                continue
            case CubicBezier() | QuadraticBezier() | Arc():
                made = Polyline(lie(*(segment.point(t) for t in np.linspace(0, 1, PER_CURVE + 1))), smooth=True)
            case _:
                made = Polyline(lie(segment.start, segment.end), smooth=False)
        if np.all(np.isfinite(made.points)) and np.ptp(made.points, axis=0).max() > 1e-9:
            found.append(made)
    return found


def _arc(segment: Any, lie: _Lie) -> ArcOf | None:
    """The arc of a circle; None for one that is an ellipse's, as it is written or as it lies."""
    across, along = float(segment.rx), float(segment.ry)
    largest, least = np.linalg.svd(lie.linear, compute_uv=False).tolist()
    if not across > 0 or abs(across - along) > 1e-9 * across or largest - least > 1e-9 * largest or abs(segment.sweep) < 1e-9:
        return None
    anticlockwise = segment.sweep * np.linalg.det(lie.linear) > 0
    center, first = lie(segment.center, segment.start if anticlockwise else segment.end)
    begin = first - center
    return ArcOf((float(center[0]), float(center[1])), across * largest, float(np.arctan2(begin[1], begin[0])), abs(float(segment.sweep)))


def write_svg(drawing: Drawing) -> bytes:
    """The drawing in real size: width and height in mm, one unit of the view box for each, with a margin round it for its strokes."""
    (left, lower), (right, upper) = extents([piece.curve for piece in pieces(drawing)])
    width, height = right - left + 2 * MARGIN, upper - lower + 2 * MARGIN
    paths = []
    for curve in drawing.curves:
        look = 'stroke="#888" stroke-dasharray="2 1"' if curve.construction else 'stroke="#000"'
        paths.append(f'  <path id="{curve.id}" d="{path_of(curve, drawing)}" fill="none" {look} stroke-width="0.2"/>')
    seen = f"{left - MARGIN:.6f} {-upper - MARGIN:.6f} {width:.6f} {height:.6f}"
    head = f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.6f}mm" height="{height:.6f}mm" viewBox="{seen}">'
    return "\n".join([head, ' <g transform="scale(1,-1)">', *paths, " </g>", "</svg>", ""]).encode()
