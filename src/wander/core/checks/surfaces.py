"""Findings about sheets that are trimmed, sewn, patched, offset and made thick."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.bodies.sewing import Gap
from wander.core.checks.places import spot
from wander.core.checks.refusals import refused
from wander.core.checks.repairs import skipping
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where, sentence
from wander.core.geometry.basis import Floats

WIDEST = 0.5
"""mm: gaps beyond it are no matter of sewing."""
SAFE = 0.95
GRADES = ("meets them with a bend", "meets them in their tangent planes only", "goes on with their curvature")


def _set(step: Step, label: str, path: Sequence[str | int], value: object) -> Fix:
    return Fix(label=label, edits=[SetParam(do="set-param", step=step.id, path=list(path), value=value)])


def needs_a_sheet(step: Step, body: Step, path: Sequence[str | int]) -> Finding:
    """A closed body among what is to be sewn."""
    detail = "It is closed already: nothing of it is open to be sewn. Join closed bodies instead, or take this one away."
    return refused(step, "sewn-body-closed", f"{body.name} is no sheet", detail, path, Where(names=[body.id]))


def within_nothing(step: Step) -> Finding:
    """No distance to sew within."""
    return refused(step, "sewn-within-nothing", f"{step.name} has no room to sew in", "It has to be more than 0 mm.", ["within"], Where())


def not_sewn(step: Step, error: Exception) -> Finding:
    """The kernel sewed nothing."""
    detail = f"{sentence(error)}. Their edges have to lie along each other, within the distance that is given."
    return refused(step, "not-sewn", f"{step.name} could not be sewn", detail, ["within"], Where(), skipping(step))


def gap_left(step: Step, gaps: Sequence[Gap]) -> Finding:
    """Edges that run beside each other and were left open."""
    widest = gaps[0]
    goes = float(f"{1.05 * widest.width:.2g}")
    fixes = [_set(step, f"Sew within {goes:g} mm", ["within"], goes)] if widest.width <= WIDEST else []
    return Finding(
        code="sewn-gap",
        severity=Severity.WARNING,
        step=step.id,
        title=f"{step.name} has a gap of {widest.width:.3g} mm",
        detail="At the marked places two edges run beside each other and are further apart than they may be to be sewn.",
        path=["within"],
        where=Where(points=[spot(gap.place) for gap in gaps[:20]]),
        fixes=fixes,
    )


def in_pieces(step: Step, pieces: int) -> Finding:
    """Sheets that don't touch."""
    return Finding(
        code="sewn-in-pieces",
        severity=Severity.WARNING,
        step=step.id,
        title=f"{step.name} is in {pieces} pieces",
        detail="Not all of the sheets touch along an edge. They are kept as one body in pieces that lie apart.",
        path=["others"],
    )


def tool_misses(step: Step, body: Step, tool: Step) -> Finding:
    """A tool that does not part what it is to part."""
    detail = f"It does not go all the way through {body.name}, or passes it by. Make it larger, move it, or choose another one."
    return refused(step, "trim-misses", f"{tool.name} does not part {body.name}", detail, ["by"], Where(names=[tool.id]), skipping(step))


def nothing_kept(step: Step, body: Step, tool: Step) -> Finding:
    """All of it is on the other side."""
    other = "back" if step.params.get("keep", "front") == "front" else "front"
    fix = _set(step, "Keep the other side", ["keep"], other)
    return refused(
        step, "trim-keeps-nothing", f"Nothing of {body.name} is left", f"All of it lies on the other side of {tool.name}.", ["keep"], Where(), fix
    )


def part_not_picked(step: Step, body: Step) -> Finding:
    """Nothing says as yet which part stays."""
    return Finding(
        code="part-not-picked",
        severity=Severity.WARNING,
        step=step.id,
        title=f"All parts of {body.name} stay",
        detail="Click the one that is to stay in the scene, or keep what is in front or behind.",
        path=["place"],
        fixes=[_set(step, "Keep what is in front", ["keep"], "front"), _set(step, "Keep what is behind", ["keep"], "back")],
    )


def rail_not_flat(step: Step, rail: Step, off: float) -> Finding:
    """A rail that lies in no plane, or in many."""
    detail = (
        f"It leaves its plane by {off:.3g} mm, so nothing says which way it should cut. Draw it on a station, or extrude it and trim by that sheet."
        if off > 0
        else "It is straight, so nothing says which way it should cut. Trim by a station, or by a sheet."
    )
    return refused(step, "trim-rail-not-flat", f"{rail.name} does not lie in one plane", detail, ["by"], Where(names=[rail.id]))


def not_trimmed(step: Step, body: Step, tool: Step, error: Exception) -> Finding:
    """The kernel could not do it."""
    detail = f"{sentence(error)}. Where faces touch along each other, or nearly, move one of them a little."
    where = Where(names=[body.id, tool.id])
    return refused(step, "not-trimmed", f"{body.name} could not be parted by {tool.name}", detail, ["by"], where, skipping(step))


def no_opening(step: Step) -> Finding:
    """No edge yet."""
    detail = "Pick an edge of the opening in the scene; the rest of its loop comes along."
    return refused(step, "patch-no-edges", f"{step.name} waits for the edges of an opening", detail, ["edges"], Where())


def loop_open(step: Step, names: Sequence[str], error: Exception) -> Finding:
    """Edges that don't go all the way round."""
    detail = f"{sentence(error)}. Pick the edges that are missing."
    return refused(step, "patch-loop-open", f"The edges of {step.name} don't close", detail, ["edges"], Where(names=list(names)))


def not_patched(step: Step, error: Exception, meets: str) -> Finding:
    """The kernel found no surface."""
    less = {"curvature": ("In the tangent planes", "tangent"), "tangent": ("By position only", "position")}.get(meets)
    fixes = [_set(step, less[0], ["meets"], less[1])] if less else []
    detail = f"{sentence(error)}. Ask less of how it meets what is beside it, or part the opening by a bridge first."
    return refused(step, "not-patched", f"{step.name} could not be filled", detail, ["meets"], Where(), *fixes, skipping(step))


def patch_uneven(step: Step, *, grade: int | None, gap: float, angle: float, worst: tuple[float, float, float]) -> Finding:
    """It meets what lies beside it less well than was asked for."""
    how = "does not meet them everywhere" if grade is None else GRADES[grade]
    detail = f"Measured at 50 places of each edge, it {how}: gap {gap:.3g} mm, angle {angle:.3g}°. The worst place is marked."
    title = f"{step.name} meets its neighbours less well than asked"
    where = Where(points=[worst])
    return Finding(code="patch-uneven", severity=Severity.WARNING, step=step.id, title=title, detail=detail, path=["meets"], where=where)


def not_offset(step: Step, body: Step, distance: float, error: Exception) -> Finding:
    """The kernel found no sheet at that distance."""
    half = float(f"{distance / 2:.2g}")
    fixes = [_set(step, f"Make it {half:g} mm", ["distance"], half)] if half else []
    detail = f"{sentence(error)}. Where the faces bend more tightly than the distance there is no room for it: go less far, or to the other side."
    return refused(
        step, "not-offset", f"No sheet lies there beside {body.name}", detail, ["distance"], Where(names=[body.id]), *fixes, skipping(step)
    )


def offset_too_far(step: Step, place: Floats, fits: float) -> Finding:
    """A place where the faces bend more tightly than the distance. fits: what goes there, mm, signed as the distance is."""
    goes = float(f"{SAFE * fits:.2g}")
    fix = _set(step, f"Make it {goes:g} mm", ["distance"], goes)
    detail = f"At the marked place the faces bend too tightly for it. Up to about {fits:.3g} mm goes."
    return refused(step, "offset-too-far", f"{step.name} goes too far", detail, ["distance"], Where(points=[spot(place)]), fix)


def not_thickened(step: Step, body: Step, error: Exception) -> Finding:
    """The kernel could not make a sheet thick."""
    half = float(f"{float(step.params.get('thickness', 2.0)) / 2:.2g}") if not isinstance(step.params.get("thickness", 2.0), str) else 0.0
    fixes = [_set(step, f"Make it {half:g} mm", ["thickness"], half)] if half else []
    detail = f"{sentence(error)}. Where it bends more tightly than it is thick there is no room: make it thinner, or let it lie on the other side."
    return refused(
        step, "not-thickened", f"{body.name} could not be made thick", detail, ["thickness"], Where(names=[body.id]), *fixes, skipping(step)
    )
