"""Findings about drawings of which no body can be made."""

from __future__ import annotations

from typing import Literal

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


def thin_too_thick(step: Step, place: Floats, fits: float | None) -> Finding:
    """A wall for which the outline bends too tightly, or has no room. fits: what goes, mm, if known."""
    fixes = []
    if fits is not None:
        goes = float(f"{0.95 * fits:.2g}")
        fixes = [Fix(label=f"Make the wall {goes:g} mm", edits=[SetParam(do="set-param", step=step.id, path=["wall"], value=goes)])]
    x, y, z = (float(v) for v in place)
    return Finding(
        code="thin-too-thick",
        severity=Severity.ERROR,
        step=step.id,
        title=f"The wall of {step.name} has no room",
        detail="At the marked place the outline is too tight or too narrow for it. Make it thinner, or let it lie on the other side.",
        path=["wall"],
        where=Where(points=[(x, y, z)]),
        fixes=fixes,
    )


def nothing_to_reach(step: Step, missing: Literal["body", "way", "face"]) -> Finding:
    """It is to go past a body, or to a face, and there is none that way."""
    why = {
        "body": "It goes past the body that it is joined to, cut from or kept within. Choose one, or a distance.",
        "way": "All of the body lies on the other side of the drawing.",
        "face": "That face has no surface that it could go to. Let it go past the body, and keep what lies within.",
    }[missing]
    fixes = []
    if missing == "way":
        raw = step.params.get("distance", 0.0)
        other = f"-({raw})" if isinstance(raw, str) else -float(raw)
        fixes.append(Fix(label="Extrude it the other way", edits=[SetParam(do="set-param", step=step.id, path=["distance"], value=other)]))
    fixes.append(_by_distance(step))
    return Finding(
        code="nothing-to-reach",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} has nothing to go to",
        detail=why,
        path=["reach"],
        fixes=fixes,
    )


def face_too_small(step: Step, body: Step) -> Finding:
    """A curved face that ends before it covers the whole outline."""
    return Finding(
        code="face-too-small",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} goes past that face of {body.name}",
        detail="The face has to cover all of the outline, and a part of that would go by. A smaller outline helps, or a face that goes on further.",
        path=["reach"],
        where=Where(names=[body.id]),
        fixes=[_by_distance(step)],
    )


def face_stands_along(step: Step, body: Step) -> Finding:
    """A face in whose direction the extrusion goes: it never gets there."""
    return Finding(
        code="face-stands-along",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} never reaches that face of {body.name}",
        detail="The face stands along the way in which it goes. Pick one that lies across.",
        path=["reach"],
        where=Where(names=[body.id]),
        fixes=[_by_distance(step)],
    )


def _by_distance(step: Step) -> Fix:
    return Fix(label="By its distance", edits=[SetParam(do="set-param", step=step.id, path=["reach"], value={"type": "distance"})])
