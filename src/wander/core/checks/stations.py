"""Findings about stations that have no place."""

from __future__ import annotations

from collections.abc import Sequence
from difflib import get_close_matches

from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, sentence
from wander.core.geometry.errors import GeometryError


def no_plane(step: Step, error: GeometryError) -> Finding:
    """The points or directions given make no plane."""
    back = SetParam(do="set-param", step=step.id, path=["place"], value=None)
    return Finding(
        code="no-plane",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} has no plane",
        detail=f"{sentence(error)}. Move one of the points off the line through the others.",
        path=["place"],
        fixes=[Fix(label="Back to a base plane", edits=[back])],
    )


def outside_path(step: Step, share: float) -> Finding:
    """A share of the path below 0 or above 1."""
    nearest = min(max(share, 0.0), 1.0)
    fix = SetParam(do="set-param", step=step.id, path=["place", "share"], value=nearest)
    return Finding(
        code="outside-path",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} lies beyond the path",
        detail=f"The share of the path runs from 0 to 1, it is {share:g}.",
        path=["place", "share"],
        fixes=[Fix(label=f"Move it to {nearest:g}", edits=[fix])],
    )


def face_gone(step: Step, body: Step, face: str, present: Sequence[str]) -> Finding:
    """The face that a station touches is not on the body any more; the nearest by name is held out."""
    near = get_close_matches(face, present, n=1, cutoff=0.0)
    fixes = [Fix(label=f"Touch {n}", edits=[SetParam(do="set-param", step=step.id, path=["place", "face", "part"], value=n)]) for n in near]
    return Finding(
        code="broken-reference",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} touches a face that is gone",
        detail=f"{body.name} has no face “{face}” any more.",
        path=["place", "face"],
        fixes=fixes,
    )
