"""Findings about halves: sections drawn on one side of the plane in which a body is mirrored."""

from __future__ import annotations

from collections.abc import Sequence
from math import atan2, cos, degrees, radians, sin
from typing import Any

import numpy as np

from wander.core.checks.places import spot
from wander.core.checks.sections import Entry
from wander.core.document.document import Step
from wander.core.document.edits import Draw, Edit, SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where
from wander.core.drawing.outlines.runs import OpenRun
from wander.core.geometry.basis import Floats
from wander.core.shaping.halves import BothSides, MirrorLine, OffPlane

SQUARE = 0.05
"""Degrees by which a half may leave the plane out of square and still go through it smoothly."""
MEANT = 10.0
"""Degrees from which on a ridge is taken to be meant."""


def half_closed(loft: Step, entry: Entry, line: MirrorLine) -> Finding:
    """A section of a mirrored body closes by itself: what lies in the plane would be a wall inside of it."""
    fixes = []
    if within := _in_plane(entry, line):
        construction = Draw.model_validate({"do": "draw", "step": entry.section.id, "acts": [{"act": "construction", "curves": within}]})
        fixes.append(Fix(label="Take what lies in the plane for construction", edits=[construction]))
    return Finding(
        code="half-closed",
        severity=Severity.ERROR,
        step=loft.id,
        title=f"{entry.section.name} closes by itself",
        detail=f"{loft.name} is a half and its mirror image: each section goes from the plane to the plane, and its image closes it.",
        where=Where(points=[spot(entry.center)], names=[entry.section.id]),
        fixes=[*fixes, _unmirrored(loft)],
    )


def half_askew(loft: Step, entry: Entry) -> Finding:
    """A station does not stand square to the plane."""
    return Finding(
        code="half-askew",
        severity=Severity.ERROR,
        step=loft.id,
        title=f"{entry.station.name} leans against the plane of the mirror",
        detail=f"The image of {entry.section.name} would not lie on its station. Stand it square to the plane, or mirror the whole body instead.",
        where=Where(points=[spot(entry.frame.origin)], names=[entry.section.id]),
        fixes=[_unmirrored(loft)],
    )


def half_off_plane(loft: Step, entry: Entry, run: OpenRun, line: MirrorLine, off: OffPlane) -> Finding:
    """A half begins or ends beside the plane."""
    edits = [edit for end in off.ends for edit in _moved(entry.section, run, end, line.foot(run.ends[end]))]
    fixes = [Fix(label="Move it onto the plane", edits=edits)] if len(edits) == len(off.ends) else []
    return Finding(
        code="half-off-plane",
        severity=Severity.ERROR,
        step=loft.id,
        title=f"{entry.section.name} ends {off.distance:.3g} mm off the plane",
        detail="Between it and its mirror image there would be a gap. A half begins and ends on the plane.",
        where=Where(points=[spot(entry.frame.lift(run.ends[[end]])[0]) for end in off.ends], names=[entry.section.id]),
        fixes=fixes,
    )


def point_off_plane(loft: Step, entry: Entry, distance: float) -> Finding:
    """A mirrored body comes to a point beside its plane."""
    return Finding(
        code="half-off-plane",
        severity=Severity.ERROR,
        step=loft.id,
        title=f"{entry.section.name} lies {distance:.3g} mm off the plane",
        detail="The body and its mirror image would come to two points. Move it into the plane.",
        where=Where(points=[spot(entry.center)], names=[entry.section.id]),
    )


def half_beyond(loft: Step, entry: Entry, both: BothSides) -> Finding:
    """A half goes to the other side."""
    return Finding(
        code="half-beyond",
        severity=Severity.ERROR,
        step=loft.id,
        title=f"{entry.section.name} goes {both.distance:.3g} mm beyond the plane",
        detail="There it would cross its own mirror image. Keep it on one side, or trim it at the plane.",
        where=Where(points=[spot(entry.frame.lift(both.place[None])[0])], names=[entry.section.id]),
        fixes=[_unmirrored(loft)],
    )


def half_leans(loft: Step, entry: Entry, run: OpenRun, line: MirrorLine, lean: Floats) -> Finding | None:
    """A half that does not leave the plane squarely makes a ridge there. lean: degrees at its two ends."""
    ends = [end for end in (0, 1) if lean[end] > SQUARE]
    if not ends:
        return None
    worst = float(lean[ends].max())
    edits = [edit for end in ends for edit in _squared(entry.section, run, end, line)]
    fixes = [Fix(label="Leave the plane squarely", edits=edits)] if len(edits) == len(ends) else []
    return Finding(
        code="half-leans",
        severity=Severity.NOTE if worst >= MEANT else Severity.WARNING,
        step=loft.id,
        title=f"{entry.section.name} leaves the plane {worst:.3g}° out of square",
        detail=f"With its mirror image it makes a ridge of {180 - 2 * worst:.4g}° there. Square to the plane, the skin goes through it smoothly.",
        where=Where(points=[spot(entry.frame.lift(run.ends[[end]])[0]) for end in ends], names=[entry.section.id]),
        fixes=fixes,
    )


def half_twisted(loft: Step) -> Finding:
    """A twist turns a mirrored body out of its plane."""
    return Finding(
        code="half-twisted",
        severity=Severity.WARNING,
        step=loft.id,
        title=f"{loft.name} is twisted and so is no longer its own mirror image",
        detail="The sections are made whole first and turned then. Without the twist both halves are alike.",
        path=["twist"],
        fixes=[Fix(label="Take the twist away", edits=[SetParam(do="set-param", step=loft.id, path=["twist"], value=None)])],
    )


def _unmirrored(loft: Step) -> Fix:
    return Fix(label="Don't mirror it", edits=[SetParam(do="set-param", step=loft.id, path=["mirrored"], value=None)])


def _in_plane(entry: Entry, line: MirrorLine) -> list[str]:
    """The curves of a drawn section that lie in the plane all along."""
    if entry.section.params["shape"]["type"] != "drawing" or entry.placed is None or entry.placed.loop is None:
        return []
    loop = entry.placed.loop
    ends = [*(span.at for span in loop.spans[1:]), loop.spans[0].at + 1.0]
    found = []
    for span, end in zip(loop.spans, ends, strict=True):
        places = loop.curve(np.linspace(span.at, end, 9) % 1.0)
        if np.abs(line.height(places)).max() <= 1e-3:
            found.append(span.curve)
    return found


def _on_sheet(section: Step, place: Floats) -> tuple[float, float] | None:
    """A place of the station as the section is drawn; None where what it is moved and turned by is an expression."""
    at, turn = section.params.get("at", [0.0, 0.0]), section.params.get("turn", 0.0)
    if not all(isinstance(value, int | float) for value in (*at, turn)):
        return None
    c, s = cos(radians(turn)), sin(radians(turn))
    x, y = place[0] - at[0], place[1] - at[1]
    return float(c * x + s * y), float(-s * x + c * y)


def _moved(section: Step, run: OpenRun, end: int, to: Floats) -> Sequence[Edit]:
    shape, place = section.params["shape"], _on_sheet(section, to)
    if place is None:
        return []
    if shape["type"] == "spline":
        number = 0 if end == 0 else len(shape["points"]) - 1
        return [SetParam(do="set-param", step=section.id, path=["shape", "points", number], value=list(place))]
    point = run.stretches[0].corner if end == 0 else run.last
    return _drawn(section, {"act": "pull", "points": {point: place}})


def _squared(section: Step, run: OpenRun, end: int, line: MirrorLine) -> Sequence[Edit]:
    """What makes an end of a spline leave the plane squarely; a straight one is held level or upright where the plane is."""
    way = _on_sheet(section, line.normal)
    origin = _on_sheet(section, np.zeros(2))
    if way is None or origin is None:
        return []
    normal = np.array(way) - origin
    stretch = run.stretches[0 if end == 0 else -1]
    shape = section.params["shape"]
    curves = {curve["id"]: curve for curve in shape.get("curves", [])} if shape["type"] == "drawing" else {}
    curve: dict[str, Any] = curves.get(stretch.label, {})
    if shape["type"] == "spline" or curve.get("type") == "spline":
        through = curve.get("through")
        own = stretch.corner if end == 0 else run.last
        at = (0 if end == 0 else len(shape["points"]) - 1) if through is None else through.index(own)
        along = stretch.curve.derivatives(0.0 if end == 0 else 1.0, 1)[1]
        forward = 1.0 if float(along @ line.normal) >= 0 else -1.0
        if through is not None and (at == 0) != (end == 0):
            forward = -forward
        angle = degrees(atan2(forward * normal[1], forward * normal[0]))
        return _drawn(section, {"act": "spline-handle", "curve": stretch.label if through else "c1", "at": at, "angle": angle})
    if curve.get("type") == "line":
        kind = "horizontal" if abs(normal[1]) < 1e-9 else "vertical" if abs(normal[0]) < 1e-9 else None
        if kind:
            return _drawn(section, {"act": "hold", "type": kind, "of": [stretch.label]})
    return []


def _drawn(section: Step, act: dict[str, Any]) -> Sequence[Edit]:
    return [Draw.model_validate({"do": "draw", "step": section.id, "acts": [act]})]
