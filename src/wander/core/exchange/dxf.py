"""DXF in and out (the published drawing exchange format), in real size."""

from __future__ import annotations

import io
from collections.abc import Iterable, Iterator
from math import atan2, degrees, hypot, pi, radians
from typing import Any

import numpy as np

from wander.core.drawing.curves.boxes import extents
from wander.core.drawing.curves.pieces import arc_angles, curve_of, pieces
from wander.core.drawing.model import AnyCurve, Drawing, DrawnArc, DrawnCircle, DrawnLine
from wander.core.exchange.curves import (
    FARTHEST,
    MOST_CURVES,
    MOST_NUMBERS,
    MOST_POINTS,
    NO_PLACE,
    ArcOf,
    Brought,
    Contents,
    EllipseOf,
    Polyline,
    UnreadableCurves,
)
from wander.core.geometry.curve_edits import elevate

_MM = dict(
    [(1, 25.4), (2, 304.8), (3, 5280 * 304.8), (8, 25.4e-6), (9, 25.4e-3), (10, 914.4)]
    + [(4, 1.0), (5, 10.0), (6, 1e3), (7, 1e6), (11, 1e-7), (12, 1e-6), (13, 1e-3), (14, 100.0), (15, 1e4), (16, 1e5)]
    + [(number, feet * 1200e3 / 3937) for number, feet in ((21, 1.0), (22, 1 / 12), (23, 3.0), (24, 5280.0))]
)
"""Millimetres in a drawing unit, by the header's number for it; none given, and what measures the sky, means mm. From 21 on: of a survey."""
MOST_NESTED = 8
"""Blocks in blocks in blocks: further in, nothing is read."""


def read_dxf(data: bytes) -> Contents:
    """Lines, arcs, circles, ellipses, polylines and splines of the model space, seen from the top. Others are left out."""
    from ezdxf import recover
    from ezdxf.lldxf.const import DXFError

    if b"\0" in data[:4096]:
        raise UnreadableCurves("this is no DXF file that can be read: it holds zero bytes. Save it as DXF in text form")
    if data.count(b"\n") > 2 * MOST_NUMBERS:
        raise UnreadableCurves(f"the file holds far more than {MOST_POINTS} points, the most that are read. Leave out what is not the outline")
    try:
        document, _ = recover.read(io.BytesIO(data))
    except (DXFError, OSError, ValueError, IndexError, KeyError, AttributeError, TypeError) as error:
        raise UnreadableCurves(f"this is no DXF file that can be read: {str(error)[:120]}") from error
    unit = int(document.header.get("$INSUNITS", 0))
    scale = _MM.get(unit, 1.0)
    found: list[Brought] = []
    layers: list[str] = []
    for entity in _drawn(document.modelspace(), MOST_NESTED):
        found += _entity(entity, scale)
        layers += [str(entity.dxf.layer)] * (len(found) - len(layers))
        if len(found) > MOST_CURVES:
            raise UnreadableCurves(f"the file holds more than {MOST_CURVES} curves; leave out what is not the outline")
    if not found:
        raise UnreadableCurves("the file holds no lines, arcs, circles, polylines or splines. It may have been cut off")
    return Contents(found, layers, says_unit=unit in _MM)


def _drawn(entities: Iterable[Any], depth: int) -> Iterator[Any]:
    """The entities, and in place of blocks what they hold, as often as they are set."""
    looked = 0
    for entity in entities:
        if entity.dxftype() != "INSERT":
            yield entity
        elif depth:
            for one in entity.multi_insert() if entity.mcount > 1 else (entity,):
                yield from _drawn(one.virtual_entities(), depth - 1)
                looked += 1
                if looked > MOST_CURVES:
                    raise UnreadableCurves(f"the file sets its blocks more than {MOST_CURVES} times; leave out what is not the outline")


def _entity(entity: Any, scale: float) -> list[Brought]:
    kind = entity.dxftype()
    if kind == "LINE":
        return [Polyline(np.array([(p.x, p.y) for p in (entity.dxf.start, entity.dxf.end)]) * scale, smooth=False)]
    if kind in ("ARC", "CIRCLE") and entity.dxf.extrusion.z > 0:
        center = (entity.dxf.center.x * scale, entity.dxf.center.y * scale)
        if kind == "CIRCLE":
            return [ArcOf(center, entity.dxf.radius * scale)]
        start = radians(entity.dxf.start_angle)
        return [ArcOf(center, entity.dxf.radius * scale, start, (radians(entity.dxf.end_angle) - start) % (2 * pi) or 2 * pi)]
    if kind in ("LWPOLYLINE", "POLYLINE"):
        return [part for virtual in entity.virtual_entities() for part in _entity(virtual, scale)]
    if kind in ("SPLINE", "ELLIPSE") and not _within_reach(entity):
        raise UnreadableCurves(NO_PLACE)
    if kind == "ELLIPSE" and entity.dxf.end_param - entity.dxf.start_param > 2 * pi - 1e-9 and abs(entity.dxf.extrusion.z) > 1 - 1e-9:
        x, y = entity.dxf.major_axis.x, entity.dxf.major_axis.y
        size = 2 * hypot(x, y) * scale
        center = (entity.dxf.center.x * scale, entity.dxf.center.y * scale)
        return [EllipseOf(center, size, size * entity.dxf.ratio, degrees(atan2(y, x)))]
    if kind in ("SPLINE", "ELLIPSE", "ARC", "CIRCLE"):
        points = np.array([(v.x, v.y) for v in entity.flattening(2e-4)])
        return [Polyline(points * scale, smooth=True)] if len(points) > 1 else []
    return []


def _within_reach(entity: Any) -> bool:
    """Whether a curve can be gone along: all its numbers are places."""
    if entity.dxftype() == "ELLIPSE":
        numbers = np.array([*entity.dxf.center, *entity.dxf.major_axis, entity.dxf.ratio])
    else:
        numbers = np.array([*np.ravel(entity.control_points), *np.ravel([tuple(p) for p in entity.fit_points]), *entity.knots], dtype=np.float64)
    return bool(np.abs(numbers).max(initial=0.0) <= FARTHEST)


def write_dxf(drawing: Drawing) -> bytes:
    """The drawing in mm, its extents told: lines, arcs and circles as such, splines with their control points; construction on a layer of its own."""
    from ezdxf.filemanagement import new

    document = new("R2010", units=4)
    low, high = extents([piece.curve for piece in pieces(drawing)])
    document.header["$EXTMIN"], document.header["$EXTMAX"] = (*low, 0.0), (*high, 0.0)
    document.layers.add("construction", color=8)
    space = document.modelspace()
    for curve in drawing.curves:
        _write(space, curve, drawing, {"layer": "construction" if curve.construction else "0"})
    space.reset_extents((*low, 0.0), (*high, 0.0))
    # what opens it shows all of it at first
    document.set_modelspace_vport(1.1 * max(high[1] - low[1], high[0] - low[0], 1.0), center=((low[0] + high[0]) / 2, (low[1] + high[1]) / 2))
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode()


def _write(space: Any, curve: AnyCurve, drawing: Drawing, attributes: dict[str, str]) -> None:
    at = drawing.points
    match curve:
        case DrawnLine():
            space.add_line(at[curve.start], at[curve.end], dxfattribs=attributes)
        case DrawnCircle():
            space.add_circle(at[curve.center], curve.radius, dxfattribs=attributes)
        case DrawnArc():
            begin, sweep = arc_angles(curve, at)
            radius = float(np.hypot(*np.subtract(at[curve.start], at[curve.center])))
            space.add_arc(at[curve.center], radius, np.degrees(begin), np.degrees(begin + sweep), dxfattribs=attributes)
        case _:
            made = curve_of(curve, drawing)
            if made is not None:
                cubic = elevate(made, 3) if made.degree < 3 else made
                spline = space.add_spline(dxfattribs={**attributes, "degree": cubic.degree})
                spline.control_points = [(float(x), float(y), 0.0) for x, y in cubic.points]
                spline.knots = cubic.space.knots.tolist()
