"""Findings about walls."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.bodies.thickness import Thickness
from wander.core.checks.places import spot
from wander.core.checks.refusals import refused
from wander.core.checks.repairs import skipping
from wander.core.document.document import Step
from wander.core.document.edits import Edit, SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where, sentence
from wander.core.geometry.basis import Floats

SAFE = 0.95


def no_thickness(step: Step, path: Sequence[str | int]) -> Finding:
    """A thickness of 0 or less."""
    return refused(step, "no-thickness", f"{step.name} has no thickness", "It has to be more than 0 mm.", path, Where())


def sheet_has_no_faces(step: Step, body: Step) -> Finding:
    """A sheet is made thick as a whole: there are no faces that could be left open, or have a thickness of their own."""
    edits: list[Edit] = [SetParam(do="set-param", step=step.id, path=[path], value=[]) for path in ("open", "own")]
    detail = "It is made thick as a whole: no face of it can be left open or have a thickness of its own."
    fix = Fix(label="All of it alike", edits=edits)
    return refused(step, "wall-of-sheet", f"{body.name} is a sheet", detail, ["open"], Where(names=[body.id]), fix)


def wall_too_thick(step: Step, body: Step, place: Floats, fits: float | None) -> Finding:
    """A place where the shape bends more tightly than the wall is thick, or has no room for walls from both sides. fits: what goes, mm, if known."""
    fixes, said = [], "Make it thinner."
    if fits is not None:
        goes = float(f"{SAFE * fits:.2g}")
        said = f"Up to about {fits:.3g} mm goes."
        fixes.append(Fix(label=f"Make it {goes:g} mm", edits=[SetParam(do="set-param", step=step.id, path=["thickness"], value=goes)]))
    detail = f"At the marked place the shape is too tight or too narrow for it. {said}"
    where = Where(points=[spot(place)])
    return refused(step, "wall-no-room", f"{step.name} is too thick for {body.name}", detail, ["thickness"], where, *fixes)


def only_from_own_skin(step: Step, body: Step, error: Exception) -> Finding:
    """A wall on both sides, or of several thicknesses, of a body that was put together."""
    edits: list[Edit] = [
        SetParam(do="set-param", step=step.id, path=["own"], value=[]),
        SetParam(do="set-param", step=step.id, path=["way"], value="inwards"),
    ]
    detail = (
        f"A wall half on either side, or with thicknesses of its own, is made from the skin of what was shaped in one go, and here "
        f"{error}. Make the wall before bodies are joined or edges rounded, or let it lie inwards with one thickness."
    )
    fix = Fix(label="Inwards, with one thickness", edits=edits)
    return refused(step, "wall-needs-skin", f"{body.name} can't have that wall", detail, ["way"], Where(names=[body.id]), fix, skipping(step))


def no_room_at_point(step: Step, body: Step, error: Exception) -> Finding:
    """A body that ends in a point, sharp or domed."""
    detail = f"{sentence(error)}. Let it end on a small section instead of the point, and close or round that end afterwards."
    return refused(step, "not-walled", f"{body.name} could not be hollowed out", detail, ["body"], Where(names=[body.id]), skipping(step))


def not_walled(step: Step, body: Step, error: Exception) -> Finding:
    """The kernel found no wall that keeps its thickness."""
    detail = (
        f"{sentence(error)}. Where edges were rounded or bodies joined before, make the wall first and round its edges after: "
        "move this step ahead of them in the Build. A thinner wall may go as well."
    )
    return refused(step, "not-walled", f"{body.name} could not be hollowed out", detail, ["thickness"], Where(names=[body.id]), skipping(step))


def wall_uneven(step: Step, found: Thickness, thickness: float) -> Finding:
    """A wall that is thinner somewhere than it was asked for."""
    return Finding(
        code="wall-uneven",
        severity=Severity.WARNING,
        step=step.id,
        title=f"{step.name} is thinner than {thickness:g} mm somewhere",
        detail=f"At the marked place it is {found.least:.3g} mm: both sides of the body come so near each other that their walls run together.",
        path=["thickness"],
        where=Where(points=[spot(found.thin)]),
    )
