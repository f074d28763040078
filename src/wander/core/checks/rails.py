"""Findings about rails that can't be made."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.checks.places import Spot, spot
from wander.core.checks.refusals import refused
from wander.core.checks.sections import Entry
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where, sentence
from wander.core.geometry.basis import Floats
from wander.core.geometry.closest import closest_parameter
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import GeometryError
from wander.core.shaping.meeting import Meeting, Missed, TurnsBack


def no_rail(step: Step, error: GeometryError, places: Sequence[Spot] = ()) -> Finding:
    """What a rail is to be made of makes none."""
    shape = step.params["shape"]
    fixes = []
    if shape["type"] == "laid":
        turn = SetParam(do="set-param", step=step.id, path=["shape", "back"], value=not shape.get("back", False))
        fixes.append(Fix(label="Lay it on from the other side", edits=[turn]))
    return Finding(
        code="no-rail",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} makes no rail",
        detail=f"{sentence(error)}.",
        path=["shape"],
        where=Where(points=list(places)),
        fixes=fixes,
    )


def no_station(step: Step) -> Finding:
    """A drawn rail or a helix has nothing to stand on."""
    return Finding(
        code="no-station",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} stands on no station",
        detail="A drawn rail lies on a station, and a helix rises from one. Choose it in the sheet.",
        path=["station"],
    )


def not_flat(step: Step, rail: Step) -> Finding:
    """A rail that is seen from one side only has to be drawn in a plane."""
    return Finding(
        code="rail-not-drawn",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{rail.name} is not drawn on a station",
        detail=f"{step.name} needs rails that are drawn on the board, each on a station of its own.",
        path=["shape"],
    )


def not_one_run(step: Step, runs: Sequence[Floats]) -> Finding:
    """A drawn rail has to be one run of curves. runs: their ends in space, (2, 3) each."""
    places = [(float(p[0]), float(p[1]), float(p[2])) for ends in runs for p in ends]
    return Finding(
        code="rail-in-pieces",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} is in {len(runs)} pieces" if runs else f"{step.name} has nothing drawn yet",
        detail="A rail is one run of curves from end to end. Close the gaps, or turn what does not belong to it into construction."
        if runs
        else "Draw it on the board.",
        path=["shape"],
        where=Where(points=places),
    )


def rail_missed(loft: Step, number: int, rail: Step, curve: Curve, entry: Entry, missed: Missed) -> Finding:
    """A rail of a loft passes one of its sections without touching it, or stops before it. number: of the rail among those of the loft."""
    meeting, section = missed.meeting, entry.section
    name = f"Let {rail.name} pass through {section.name}"
    fixes = [Fix(label=name, edits=[edit])] if (edit := _through(rail, curve, section, meeting)) else []
    if not missed.short and (moved := _moved_onto(entry, meeting)):
        fixes.append(Fix(label=f"Move {section.name} onto {rail.name}", edits=[moved]))
    fixes.append(_left_out(loft, number, rail))
    return Finding(
        code="rail-missed",
        severity=Severity.ERROR,
        step=loft.id,
        title=f"{rail.name} stops before {section.name}" if missed.short else f"{rail.name} misses {section.name} by {meeting.miss:.3g} mm",
        detail="A rail has to meet every section that it guides the skin through. "
        + (f"It ends {meeting.miss:.3g} mm away from this one." if missed.short else "The marked places are the nearest of both."),
        path=["rails", number],
        where=Where(points=[spot(meeting.place), spot(meeting.on)], names=[section.id, rail.id]),
        fixes=fixes,
    )


def _left_out(loft: Step, number: int, rail: Step) -> Fix:
    """number: of the rail among those of the loft."""
    without = [ref for i, ref in enumerate(loft.params["rails"]) if i != number]
    return Fix(label=f"Leave {rail.name} out", edits=[SetParam(do="set-param", step=loft.id, path=["rails"], value=without)])


def _moved_onto(entry: Entry, meeting: Meeting) -> SetParam | None:
    """The edit that moves a section on its station so that a rail meets it where it came nearest; None where its place is worked out."""
    at = entry.section.params.get("at", [0.0, 0.0])
    if not all(isinstance(value, int | float) for value in at):
        return None
    off = entry.frame.drop(meeting.place) - entry.frame.drop(meeting.on)
    return SetParam(do="set-param", step=entry.section.id, path=["at"], value=[round(value + float(d), 6) for value, d in zip(at, off, strict=True)])


def _through(rail: Step, curve: Curve, section: Step, meeting: Meeting) -> SetParam | None:
    """The edit that makes a rail through points pass through a section: its point there is put on it, or one more is."""
    shape = rail.params["shape"]
    if shape.get("type") != "spline":
        return None
    points, closed = shape["points"], shape.get("closed", False)
    if closed and any(point.get("handle") is not None or point.get("sharp") for point in points):
        return None  # it is cut elsewhere than where it begins
    breaks, spans = curve.space.breaks, np.diff(curve.space.breaks)
    if len(breaks) != len(points) + closed:
        return None
    on = {"on": {"section": {"step": section.id}, "at": meeting.parameter or 0.0}}
    at = closest_parameter(curve, meeting.place)
    near = int(np.argmin(np.abs(breaks - at))) % len(points)
    off = abs(breaks[near] - at)
    if closed:
        off = min(off, breaks[-1] - breaks[0] - off)
    beside = spans[[near - 1, near]] if closed else spans[max(near - 1, 0) : near + 1]
    after = int(np.searchsorted(breaks, at))
    if off < beside.min() / 3 and points[near].get("on") is None:
        kept = {key: value for key, value in points[near].items() if key != "at"}
        new = [*points[:near], {**kept, **on}, *points[near + 1 :]]
    else:
        new = [*points[:after], on, *points[after:]]
    return SetParam(do="set-param", step=rail.id, path=["shape", "points"], value=new)


def rail_turns_back(loft: Step, number: int, rail: Step, between: tuple[Entry, Entry], back: TurnsBack) -> Finding:
    """A rail does not go on from one section to the next. number: of the rail among those of the loft. between: the sections."""
    first, last = (entry.section for entry in between)
    return refused(
        loft,
        "rail-turns-back",
        f"{rail.name} turns back between {first.name} and {last.name}",
        "From section to section a rail goes on with the body: planes that swing from one to the next pass it once. "
        "Here it comes back, or runs straight across. Take out the point that leads it there, or leave it out.",
        ["rails", number],
        Where(points=[spot(back.place)], names=[rail.id]),
        *_without_point(rail, back.place),
        _left_out(loft, number, rail),
    )


def _without_point(rail: Step, place: Floats) -> list[Fix]:
    """The repair that takes out the point of a rail through points that is nearest to a place, where that leaves enough."""
    shape = rail.params["shape"]
    free = [(i, point["at"]) for i, point in enumerate(shape.get("points", [])) if shape["type"] == "spline" and point.get("on") is None]
    known = [(i, at) for i, at in free if all(isinstance(value, int | float) for value in at)]
    if not known or len(shape["points"]) <= 2 + shape.get("closed", False):
        return []
    nearest = min(known, key=lambda one: float(np.linalg.norm(np.array(one[1], dtype=np.float64) - place)))[0]
    left = [point for i, point in enumerate(shape["points"]) if i != nearest]
    edit = SetParam(do="set-param", step=rail.id, path=["shape", "points"], value=left)
    return [Fix(label=f"Take point {nearest + 1} of {rail.name} out", edits=[edit])]


def rails_go_smooth(loft: Step) -> Finding:
    """What is straight from section to section follows no rail."""
    smooth = SetParam(do="set-param", step=loft.id, path=["between"], value="smooth")
    return Finding(
        code="rails-unused",
        severity=Severity.WARNING,
        step=loft.id,
        title=f"{loft.name} is straight between its sections, so its rails change nothing",
        detail="A rail guides a skin that is smooth from section to section.",
        path=["between"],
        fixes=[Fix(label="Make it smooth", edits=[smooth])],
    )


def rail_closed(loft: Step, number: int, rail: Step) -> Finding:
    """A loft that ends has no use for a rail that does not."""
    return Finding(
        code="rail-closed",
        severity=Severity.ERROR,
        step=loft.id,
        title=f"{rail.name} runs back into itself",
        detail="A rail of a body with two ends goes from one to the other. Give the loft one that does, or leave this one out.",
        path=["rails", number],
        where=Where(names=[rail.id]),
        fixes=[_left_out(loft, number, rail)],
    )


def rail_open(loft: Step, number: int, rail: Step) -> Finding:
    """A ring has no use for a rail that ends."""
    fixes = [_left_out(loft, number, rail)]
    if rail.params["shape"].get("type") == "spline":
        fixes.insert(0, Fix(label=f"Close {rail.name}", edits=[SetParam(do="set-param", step=rail.id, path=["shape", "closed"], value=True)]))
    return refused(
        loft,
        "rail-open",
        f"{rail.name} has two ends, and {loft.name} is a ring",
        "A rail of a ring goes round with it and comes back to its beginning. Close it, or leave it out.",
        ["rails", number],
        Where(names=[rail.id]),
        *fixes,
    )
