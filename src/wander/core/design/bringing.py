"""Curves from files into the drawing of a section, and drawings into files."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import Enum
from pathlib import PurePath

import numpy as np

from wander.core.document.acts import Add
from wander.core.document.document import Document
from wander.core.document.expressions import Scope
from wander.core.drawing.curves.paths import path_of
from wander.core.drawing.curves.pieces import pieces
from wander.core.drawing.edits.acts import perform
from wander.core.drawing.edits.sheet import Sheet
from wander.core.drawing.model import Drawing
from wander.core.exchange.curves import Contents, Fitted, Placing, UnreadableCurves, drawn
from wander.core.steps.section.starters import drawing_of, is_drawn_on


class DrawingFormat(Enum):
    DXF = "dxf"
    SVG = "svg"


DRAWING_TYPES = {DrawingFormat.DXF: "image/vnd.dxf", DrawingFormat.SVG: "image/svg+xml"}
UNIT_CHORD = 1.5
"""mm: a foil that is no longer was written for any size."""
SHOWN_CHORD = 100.0
"""mm: how long such a foil is shown before its chord is given."""
DENSE = 32
"""Places in each span of a curve by which it is told how large it is."""
READABLE = ("dat", "txt", "csv", "dxf", "svg")


def bring(data: bytes, file_name: str, placing: Placing, tolerance: float) -> Fitted:
    """The act that adds what a file holds to a drawing. The ending of its name tells what it is. Raises UnreadableCurves."""
    contents = _read(data, PurePath(file_name).suffix.lower().lstrip(".")).only(placing.layers)
    return drawn(contents.curves, _sized(contents, placing), tolerance)


@dataclass(frozen=True)
class Looked:
    """What would come in, seen before it is taken. paths: its curves as they would lie (SVG, mm); box: round them.

    layers: all that the file has. chord: of its foil, mm as the file has it; asks_chord: that is of no size, and SHOWN_CHORD is shown.
    """

    paths: list[str]
    box: tuple[tuple[float, float], tuple[float, float]]
    layers: list[str]
    says_unit: bool
    chord: float | None
    asks_chord: bool
    curves: int
    points: int
    deviation: float


def look(data: bytes, file_name: str, placing: Placing, tolerance: float) -> Looked:
    """What a file would bring into a drawing. Raises UnreadableCurves."""
    contents = _read(data, PurePath(file_name).suffix.lower().lstrip("."))
    chosen = contents.only(placing.layers)
    asks = placing.chord is None and chosen.chord is not None and chosen.chord * placing.scale * (placing.unit or 1.0) <= UNIT_CHORD
    fitted = drawn(chosen.curves, _sized(chosen, replace(placing, chord=SHOWN_CHORD) if asks else placing), tolerance)
    made = perform({"points": {}, "curves": [], "holds": [], "next": 1}, [Add.model_validate(fitted.act)], Scope({}))
    drawing = Drawing.model_validate(made)
    reach = np.concatenate([piece.curve.sampled(DENSE)[1] for piece in pieces(drawing)] or [np.zeros((1, 2))])
    (a, b), (c, d) = reach.min(axis=0).tolist(), reach.max(axis=0).tolist()
    return Looked(
        paths=[path_of(curve, drawing) for curve in drawing.curves],
        box=((a, b), (c, d)),
        layers=contents.named,
        says_unit=contents.says_unit,
        chord=chosen.chord,
        asks_chord=asks,
        curves=fitted.curves,
        points=fitted.points,
        deviation=fitted.deviation,
    )


def _sized(contents: Contents, placing: Placing) -> Placing:
    """The placing that gives a foil its chord, and a file without a unit its own.

    Raises UnreadableCurves where a foil of no size has no chord, where there is no foil to have one, or where the file says its unit itself.
    """
    chord = contents.chord
    if placing.unit is not None:
        if contents.says_unit:
            raise UnreadableCurves("the file says itself in which unit it is. Leave the unit out, or scale the curves")
        placing = replace(placing, scale=placing.scale * placing.unit, unit=None)
    if placing.chord is not None:
        if chord is None:
            raise UnreadableCurves("a chord was given, and this file holds no foil. Leave the chord out, or scale the curves")
        return replace(placing, scale=placing.scale * placing.chord / chord, chord=None)
    if chord is not None and chord * placing.scale <= UNIT_CHORD:
        raise UnreadableCurves(f"this foil is {chord:.3g} mm long, as foils are published: for a chord of 1. Give the chord that it should have")
    return placing


def _read(data: bytes, ending: str) -> Contents:
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

            return read_points(data)
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
