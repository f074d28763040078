"""Findings about drawings of which no body can be made."""

from __future__ import annotations

from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where, sentence
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import GeometryError
from wander.core.shaping.cut_ends import EndsMeet


def open_area(step: Step, section: Step) -> Finding:
    """A drawing that encloses nothing."""
    return Finding(
        code="encloses-nothing",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{section.name} encloses nothing",
        detail=f"{step.name} needs a closed outline. Close the drawing on the board, or choose another one.",
        path=["section"],
        where=Where(names=[section.id]),
    )


def makes_no_body(step: Step, error: GeometryError) -> Finding:
    """The numbers make no body; a taper is the one that can be taken away at once."""
    fixes = []
    if step.params.get("taper"):
        fixes.append(Fix(label="Make the sides upright", edits=[SetParam(do="set-param", step=step.id, path=["taper"], value=0.0)]))
    return Finding(
        code="no-body",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} makes no body",
        detail=f"{sentence(error)}.",
        fixes=fixes,
    )


def ends_meet(step: Step, error: EndsMeet) -> Finding:
    """Ends cut at angles that leave nothing between them somewhere in the section."""
    x, y, z = (float(v) for v in error.place)
    fixes = [Fix(label="Make the ends square", edits=[SetParam(do="set-param", step=step.id, path=["ends"], value="square")])]
    longer = step.params.get("distance")
    if isinstance(longer, int | float) and longer > 0:
        value = float(f"{longer + error.short * 1.02 + 0.01:.4g}")
        fixes.insert(0, Fix(label=f"Make the distance {value:g} mm", edits=[SetParam(do="set-param", step=step.id, path=["distance"], value=value)]))
    return Finding(
        code="ends-meet",
        severity=Severity.ERROR,
        step=step.id,
        title=f"The ends of {step.name} cross",
        detail=f"Cut at these angles they meet within the section, at the marked place. They would have to be {error.short:.3g} mm further apart.",
        path=["distance"],
        where=Where(points=[(x, y, z)]),
        fixes=fixes,
    )


def crosses_axis(step: Step, error: GeometryError, place: Floats) -> Finding:
    """A drawing that lies on both sides of the line it is turned about."""
    x, y, z = (float(v) for v in place)
    return Finding(
        code="crosses-axis",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} would run through itself",
        detail=f"{sentence(error)}. Move the drawing to one side of the axis, or the axis to its edge.",
        path=["point"],
        where=Where(points=[(x, y, z)]),
    )


def inside_out(step: Step) -> Finding:
    """A skin that runs through itself so far that it encloses less than nothing."""
    return Finding(
        code="inside-out",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} is turned inside out",
        detail="Its skin runs through itself so far that it encloses less than nothing. Usually one section is much larger or smaller than those "
        "beside it for the room between them: make it more like them, or give it more room.",
    )
