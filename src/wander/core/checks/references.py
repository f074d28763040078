"""Findings about references to parts of bodies that are not there any more."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.bodies.body import Body
from wander.core.bodies.references import Candidate, Lost, hint_at
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where
from wander.core.geometry.basis import Floats

PLACES = ("nearest", "second nearest", "third nearest")


def lost_part(step: Step, body_step: Step, path: Sequence[str | int], part: str, what: str, body: Body, lost: Lost) -> Finding:
    """A face or edge is gone; the nearest ones are held out, each to be lit up, never taken by itself. what: 'face' or 'edge'."""

    def fix(candidate: Candidate, place: str) -> Fix:
        value = {"step": body_step.id, "part": candidate.name, "hint": list(hint_at(body, candidate.at))}
        away = f", {candidate.distance:.3g} mm away" if candidate.distance else ""
        return Fix(
            label=f"Take the {place} {what}{away}",
            edits=[SetParam(do="set-param", step=step.id, path=list(path), value=value)],
            names=[candidate.name],
        )

    near = lost.candidates
    if not part:
        a_part = "a face" if what == "face" else "an edge"
        return Finding(
            code="nothing-picked",
            severity=Severity.ERROR,
            step=step.id,
            title=f"{step.name} waits for {a_part} of {body_step.name}",
            detail=f"Pick {a_part} in the scene.",
            path=list(path),
        )
    return Finding(
        code="broken-reference",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} means {'a face' if what == 'face' else 'an edge'} that is gone",
        detail=f"{body_step.name} has changed, and what was meant there is not on it any more. Choose another one, in the scene or below.",
        path=list(path),
        where=Where(points=[_triple(c.at) for c in near], names=[c.name for c in near]),
        fixes=[fix(candidate, place) for candidate, place in zip(near, PLACES, strict=False)],
    )


def _triple(at: Floats) -> tuple[float, float, float]:
    return float(at[0]), float(at[1]), float(at[2])


def same_twice(step: Step, body: Step, tools: int, path: str = "tools") -> Finding:
    """A body that is put together with itself."""
    return Finding(
        code="same-body",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} takes {body.name} twice",
        detail="A body can't be put together with itself. Choose another one." if tools == 1 else "Take one of the two away.",
        path=[path],
    )
