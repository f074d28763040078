"""Curves from files into the drawing of a section, and drawings into files."""

from __future__ import annotations

from dataclasses import replace
from enum import Enum
from pathlib import PurePath

from wander.core.document.document import Document
from wander.core.drawing.edits.sheet import Sheet
from wander.core.exchange.curves import Brought, Fitted, Placing, Polyline, UnreadableCurves, drawn
from wander.core.steps.section.starters import drawing_of, is_drawn_on


class DrawingFormat(Enum):
    DXF = "dxf"
    SVG = "svg"


DRAWING_TYPES = {DrawingFormat.DXF: "image/vnd.dxf", DrawingFormat.SVG: "image/svg+xml"}
UNIT_CHORD = 1.5
"""mm: a foil that is no longer was written for any size."""
READABLE = ("dat", "txt", "csv", "dxf", "svg")


def bring(data: bytes, file_name: str, placing: Placing, tolerance: float) -> Fitted:
    """The act that adds what a file holds to a drawing. The ending of its name tells what it is. Raises UnreadableCurves."""
    brought = _read(data, PurePath(file_name).suffix.lower().lstrip("."))
    return drawn(brought, _sized(brought, placing), tolerance)


def _sized(brought: list[Brought], placing: Placing) -> Placing:
    """The placing that gives a foil its chord. Raises UnreadableCurves where a foil of no size has none, or where there is no foil to have one."""
    chord = next((item.chord for item in brought if isinstance(item, Polyline) and item.chord), None)
    if placing.chord is not None:
        if chord is None:
            raise UnreadableCurves("a chord was given, and this file holds no foil. Leave the chord out, or scale the curves")
        return replace(placing, scale=placing.scale * placing.chord / chord, chord=None)
    if chord is not None and chord * placing.scale <= UNIT_CHORD:
        raise UnreadableCurves(f"this foil is {chord:.3g} mm long, as foils are published: for a chord of 1. Give the chord that it should have")
    return placing


def _read(data: bytes, ending: str) -> list[Brought]:
    if not data:
        raise UnreadableCurves("the file is empty")
    match ending:
        case "dxf":
            from wander.core.exchange.dxf import read_dxf

            return read_dxf(data)
        case "svg":
            from wander.core.exchange.svg import read_svg

            return read_svg(data)
        case "dat" | "txt" | "csv":
            from wander.core.exchange.point_files import read_points

            return list(read_points(data))
        case _:
            raise UnreadableCurves(f"files ending in “.{ending}” are not read here; .{', .'.join(READABLE)} are")


def drawing_file(document: Document, step_id: str, file_format: DrawingFormat) -> bytes:
    """The drawing of a section as a file in real size. Raises UnreadableCurves where there is no such section."""
    step = document.step(step_id)
    if step is None or not is_drawn_on(step):
        raise UnreadableCurves("there is no such drawing in this design")
    drawing = Sheet(drawing_of(step.params["shape"], document.scope()), document.scope()).drawing()
    if file_format is DrawingFormat.DXF:
        from wander.core.exchange.dxf import write_dxf

        return write_dxf(drawing)
    from wander.core.exchange.svg import write_svg

    return write_svg(drawing)
