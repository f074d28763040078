"""Findings about sections that are the outline of a face, or a loop of edges."""

from __future__ import annotations

from typing import Literal

from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.fields import EdgeRef
from wander.core.document.findings import Finding, Fix, Severity, sentence
from wander.core.geometry.errors import GeometryError


def face_not_flat(step: Step, body: Step, *, flat: bool) -> Finding:
    """The face is not flat, or does not lie along the station."""
    why = "It lies at an angle to the station." if flat else "It is not flat."
    return Finding(
        code="face-not-flat",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} can't take its outline from this face of {body.name}",
        detail=f"{why} A section is what goes round a flat face that lies along its station; a station that touches the face does.",
        path=["shape", "face"],
        fixes=[_circle(step)],
    )


def edges_askew(step: Step, body: Step, edge: EdgeRef) -> Finding:
    """A loop of edges that lies at an angle to the station of a section."""
    loop = {"type": "loop", "edge": edge.model_dump(mode="json")}
    along = SetParam(do="set-param", step=step.params["station"]["step"], path=["place"], value=loop)
    return Finding(
        code="edges-askew",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} can't take its outline from these edges of {body.name}",
        detail="They lie at an angle to the station. A section is a loop of edges that lies along its station; a station in the loop does.",
        path=["shape", "edge"],
        fixes=[Fix(label="Put the station into the loop", edits=[along]), _circle(step)],
    )


def no_outline(step: Step, error: GeometryError, what: Literal["face", "edge"]) -> Finding:
    """The edges round a face, or those that go on from one, make no outline."""
    return Finding(
        code="face-open",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} has no outline",
        detail=f"{sentence(error)}. Pick another {what}, or give it a shape of its own.",
        path=["shape", what],
        fixes=[_circle(step)],
    )


def _circle(step: Step) -> Fix:
    circle = {"type": "circle", "diameter": 40.0}
    return Fix(label="Make it a circle of its own", edits=[SetParam(do="set-param", step=step.id, path=["shape"], value=circle)])
