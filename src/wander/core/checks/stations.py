"""Findings about stations that have no place."""

from __future__ import annotations

from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where, sentence
from wander.core.geometry.curve import Curve
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


def no_loop(step: Step, body: Step, error: GeometryError, edge: Curve) -> Finding:
    """An edge that is no part of a closed loop in a plane."""
    back = SetParam(do="set-param", step=step.id, path=["place"], value=None)
    middle = edge(sum(edge.domain) / 2).tolist()
    return Finding(
        code="no-loop",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} finds no loop of edges on {body.name}",
        detail=f"{sentence(error)}. Pick an edge whose ends are joined by others in one plane, or one that closes by itself.",
        where=Where(points=[(middle[0], middle[1], middle[2])]),
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
