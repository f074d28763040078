"""Findings about rails that are turned about an axis."""

from __future__ import annotations

from typing import Any

import numpy as np

from wander.core.checks.places import spot
from wander.core.checks.refusals import refused
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.shaping.meridian import LeavesPlane


def _without(step: Step, *, first: bool) -> Fix:
    label = "Let its start run round a circle" if first else "Let its end run round a circle"
    return Fix(label=label, edits=[SetParam(do="set-param", step=step.id, path=["first" if first else "second"], value=None)])


def rail_leaves_plane(step: Step, rail: Step, error: LeavesPlane) -> Finding:
    """A rail that is not in one plane with the axis."""
    detail = (
        f"At the marked place it is {error.off:.3g} mm beside the plane through the axis and its widest place. "
        "Draw it on a station that holds the axis."
    )
    return refused(step, "rail-leaves-plane", f"{rail.name} does not lie in a plane with the axis", detail, ["rail"], _at(error.place, rail))


def rail_crosses_axis(step: Step, rail: Step, place: Floats) -> Finding:
    """A rail that goes over the axis, or touches it on its way."""
    detail = "Turned about the axis it would run through itself at the marked place. Keep it on one side, or move the axis to its end."
    return refused(step, "rail-crosses-axis", f"{rail.name} goes over the axis", detail, ["about"], _at(place, rail))


def end_on_axis(step: Step, rail: Step, *, first: bool) -> Finding:
    """An end that lies on the axis is to run round a section."""
    word = "start" if first else "end"
    detail = f"Its {word} is a point that only turns, and runs round nothing. Choose the section for the other end, or none."
    where = Where(names=[rail.id])
    return refused(
        step,
        "end-on-axis",
        f"The {word} of {rail.name} lies on the axis",
        detail,
        ["first" if first else "second"],
        where,
        _without(step, first=first),
    )


def no_way_round(step: Step, section: Step, *, first: bool) -> Finding:
    """A section that is not met once in every direction from the axis."""
    detail = "Between two sections the rail goes to the same direction on both: each has to go once round the axis, and never back."
    where = Where(names=[section.id])
    path = "first" if first else "second"
    return refused(step, "no-way-round", f"{section.name} does not go once round the axis", detail, [path], where, _without(step, first=first))


def pole_pinched(step: Step, rail: Step, curve: Curve, place: Floats, lean: float, axis: str) -> Finding:
    """A rail that arrives at the axis at an angle leaves a point there."""
    fixes = [Fix(label="Let it arrive square to the axis", edits=[edit])] if (edit := _squared(rail, curve, place, axis)) else []
    return Finding(
        code="pole-pinched",
        severity=Severity.NOTE,
        step=step.id,
        title=f"{step.name} is pinched at the axis",
        detail=f"{rail.name} arrives there {np.degrees(lean):.3g}° off square, which leaves a point. What arrives square to it is smooth there.",
        path=["rail"],
        where=_at(place, rail),
        fixes=fixes,
    )


def rail_off_section(step: Step, rail: Step, section: Step, place: Floats, there: Floats, *, first: bool) -> Finding:
    """An end of a rail that does not lie on the section that it runs round: the body goes by the section."""
    fixes = [_without(step, first=first)]
    if edit := _moved(rail, there, first=first):
        fixes.insert(0, Fix(label=f"Move {rail.name} onto {section.name}", edits=[edit]))
    return Finding(
        code="rail-off-section",
        severity=Severity.WARNING,
        step=step.id,
        title=f"{rail.name} {'begins' if first else 'ends'} {np.linalg.norm(place - there):.3g} mm beside {section.name}",
        detail="The body ends on the section, and goes beside the rail by that much. The marked places are those that should be one.",
        path=["rail"],
        where=Where(points=[spot(place), spot(there)], names=[rail.id, section.id]),
        fixes=fixes,
    )


def _at(place: Floats, rail: Step) -> Where:
    return Where(points=[spot(place)], names=[rail.id])


def _points(rail: Step) -> list[dict[str, Any]] | None:
    """Of a rail through points of its own."""
    shape = rail.params["shape"]
    return list(shape["points"]) if shape.get("type") == "spline" and not shape.get("closed") else None


def _moved(rail: Step, to: Floats, *, first: bool) -> SetParam | None:
    points = _points(rail)
    if points is None or points[0 if first else -1].get("on") is not None:
        return None
    number = 0 if first else len(points) - 1
    return SetParam(do="set-param", step=rail.id, path=["shape", "points", number, "at"], value=[round(float(x), 6) for x in to])


def _squared(rail: Step, curve: Curve, place: Floats, axis: str) -> SetParam | None:
    """The pull at the end that lies on the axis, without what of it goes along that, and as long as it was."""
    points = _points(rail)
    if points is None:
        return None
    last = bool(np.linalg.norm(curve(curve.domain[1]) - place) < np.linalg.norm(curve(curve.domain[0]) - place))
    slope = curve.derivatives(curve.domain[1] if last else curve.domain[0], 1)[1]
    across = slope.copy()
    across["xyz".index(axis)] = 0.0
    if np.linalg.norm(across) < 1e-9:
        return None
    # as in a Bézier curve: a third of the way to the neighbouring point
    neighbour = curve(float(curve.space.breaks[-2 if last else 1]))
    handle = across / np.linalg.norm(across) * np.linalg.norm(neighbour - place) / 3
    path: list[str | int] = ["shape", "points", len(points) - 1 if last else 0, "handle"]
    return SetParam(do="set-param", step=rail.id, path=path, value=[round(float(x), 4) for x in handle])


def half_beside_axis(step: Step, plane: Step) -> Finding:
    """The plane of the mirror does not hold the axis, so that the image of a half would be turned about another one."""
    detail = "A half and its mirror image go round one axis together. Choose a station that the axis lies in, or none."
    without = Fix(label="Don't mirror it", edits=[SetParam(do="set-param", step=step.id, path=["mirrored"], value=None)])
    return refused(step, "half-beside-axis", f"{plane.name} does not hold the axis", detail, ["mirrored"], Where(names=[plane.id]), without)
