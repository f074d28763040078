"""What can be wrong with the ends of a loft that go on from another body."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.bodies.touching import OffBody
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where


def _free(step: Step, side: str) -> Fix:
    return Fix(label=f"Let the {side} go free", edits=[SetParam(do="set-param", step=step.id, path=[side, "shape"], value="free")])


def nothing_to_go_on_from(step: Step, side: str) -> Finding:
    return Finding(
        code="end-onto-nothing",
        severity=Severity.ERROR,
        step=step.id,
        title=f"The {side} of {step.name} has no body to go on from",
        detail="Pick the body on which its outline lies, or let this end go free.",
        path=[side, "onto"],
        fixes=[_free(step, side)],
    )


def end_off_body(step: Step, off: OffBody, sides: Sequence[str]) -> Finding:
    x, y, z = (float(v) for v in off.place)
    return Finding(
        code="end-off-body",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} ends {off.off:.3g} mm off the body that it is to go on from",
        detail="An end can go on from a body where its outline lies on the skin of that body all along: trace its edge, or use the same section.",
        where=Where(points=[(x, y, z)]),
        path=[sides[0], "onto"] if sides else [],
        fixes=[_free(step, side) for side in sides],
    )


def needs_fair_skin(step: Step) -> Finding:
    return Finding(
        code="end-needs-fair",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} can't be curved like another body with this skin",
        detail="One batten through all sections has no curvature to spare at its ends. A calm skin has.",
        path=["skin"],
        fixes=[calm_skin(step)],
    )


def calm_skin(step: Step) -> Fix:
    return Fix(label="Give it a calm skin", edits=[SetParam(do="set-param", step=step.id, path=["skin"], value="calm")])
