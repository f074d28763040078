"""SVG in and out, in real size: a user unit is a 96th of an inch, unless width and view box say otherwise."""

from __future__ import annotations

import io
import re

import numpy as np

from wander.core.drawing.curves.paths import path_of
from wander.core.drawing.curves.pieces import pieces
from wander.core.drawing.model import Drawing
from wander.core.exchange.curves import MOST_CURVES, MOST_NUMBERS, MOST_POINTS, Brought, Polyline, UnreadableCurves
from wander.core.exchange.point_files import read_text

MM_PER_UNIT = 25.4 / 96
PER_CURVE = 40
_ENTITY = re.compile(r"<!(DOCTYPE|ENTITY)", re.IGNORECASE)


def read_svg(data: bytes) -> list[Brought]:
    """All outlines of shapes and paths, in mm with y upwards. Styles, texts and pictures are left aside."""
    from svgelements import SVG, Path, Shape

    text = read_text(data)
    if _ENTITY.search(text):
        # entities can name files and grow without end; no drawing program needs them for shapes
        raise UnreadableCurves("the file declares XML entities, which are not read. Save it as plain SVG")
    if "<svg" not in text:
        raise UnreadableCurves("this is no SVG file: there is no <svg> in it")
    if sum(text.count(c) for c in ",. ") > MOST_NUMBERS:
        raise UnreadableCurves(f"the file holds far more than {MOST_POINTS} points, the most that are read. Simplify its paths first")
    try:
        picture = SVG.parse(io.StringIO(text), reify=True, ppi=96.0)
    except Exception as error:
        raise UnreadableCurves(f"this is no SVG file that can be read: {str(error)[:120]}") from error
    found: list[Brought] = []
    for element in picture.elements():
        if isinstance(element, Shape):
            # with whatever transforms its own kind could not take in
            found += _path(abs(Path(element)))
        if len(found) > MOST_CURVES:
            raise UnreadableCurves(f"the file holds more than {MOST_CURVES} curves; leave out what is not the outline")
    if not found:
        raise UnreadableCurves("there are no shapes or paths in this file. Texts have to be turned into paths first")
    return found


def _path(path: object) -> list[Brought]:
    from svgelements import Arc, Close, CubicBezier, Line, Move, QuadraticBezier

    found: list[Brought] = []
    for segment in path:  # type: ignore[attr-defined]
        if isinstance(segment, Move) or segment.start is None or segment.end is None:
            continue
        if isinstance(segment, Line | Close):
            points = [segment.point(0), segment.point(1)]
            smooth = False
        elif isinstance(segment, CubicBezier | QuadraticBezier | Arc):
            points = [segment.point(t) for t in np.linspace(0, 1, PER_CURVE + 1)]
            smooth = True
        else:
            continue
        flat = np.array([(p.x, -p.y) for p in points]) * MM_PER_UNIT
        if np.all(np.isfinite(flat)) and np.ptp(flat, axis=0).max() > 1e-9:
            found.append(Polyline(flat, smooth))
    return found


def write_svg(drawing: Drawing) -> bytes:
    """The drawing in real size: width and height in mm, one unit of the view box for each."""
    ends = [piece.curve.points for piece in pieces(drawing)]
    box = np.concatenate(ends) if ends else np.zeros((1, 2))
    low, high = box.min(axis=0) - 1.0, box.max(axis=0) + 1.0
    width, height = high - low
    paths = []
    for curve in drawing.curves:
        look = 'stroke="#888" stroke-dasharray="2 1"' if curve.construction else 'stroke="#000"'
        paths.append(f'  <path id="{curve.id}" d="{path_of(curve, drawing)}" fill="none" {look} stroke-width="0.2"/>')
    seen = f"{low[0]:.6f} {-high[1]:.6f} {width:.6f} {height:.6f}"
    head = f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.6f}mm" height="{height:.6f}mm" viewBox="{seen}">'
    return "\n".join([head, ' <g transform="scale(1,-1)">', *paths, " </g>", "</svg>", ""]).encode()
