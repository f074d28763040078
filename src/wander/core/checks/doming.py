"""Findings about domes."""

from __future__ import annotations

from typing import Literal

from wander.core.checks.refusals import refused
from wander.core.checks.repairs import skipping
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where, sentence


def dome_without_height(step: Step, which: Literal["height", "fullness"]) -> Finding:
    value = 10.0 if which == "height" else 1.0
    fix = Fix(
        label=f"Make it {value:g}{' mm' if which == 'height' else ''}", edits=[SetParam(do="set-param", step=step.id, path=[which], value=value)]
    )
    return refused(step, "dome-without-height", f"{step.name} has no {which}", f"Its {which} has to be more than 0.", [which], Where(), fix)


def dome_not_flat(step: Step, body: Step, *, picked: bool) -> Finding:
    why = f"The face of {body.name} that was picked is not flat. " if picked else ""
    return refused(
        step,
        "dome-not-flat",
        f"{step.name} needs a flat face",
        f"{why}Pick the flat end that is to be domed, in the scene.",
        ["face"],
        Where(names=[body.id]),
        skipping(step),
    )


def dome_has_holes(step: Step, body: Step) -> Finding:
    return refused(
        step,
        "dome-has-holes",
        f"The face under {step.name} has a hole",
        f"A dome closes over all of a face, and this one of {body.name} is open in its middle. Dome it before it is hollowed or bored.",
        ["face"],
        Where(names=[body.id]),
        skipping(step),
    )


def dome_not_made(step: Step, body: Step, error: Exception) -> Finding:
    fixes = []
    if step.params.get("meets", "tangent") != "edge":
        fixes.append(Fix(label="Let it meet the sides at an edge", edits=[SetParam(do="set-param", step=step.id, path=["meets"], value="edge")]))
    return refused(
        step,
        "dome-not-made",
        f"{step.name} can't be made on {body.name}",
        f"{sentence(error)}.",
        ["meets"],
        Where(names=[body.id]),
        *fixes,
        skipping(step),
    )


def dome_meets_less(step: Step, *, grade: int | None, angle: float, jump: float | None, worst: tuple[float, float, float]) -> Finding:
    """It goes on less smoothly from the sides than was asked, as measured."""
    asked = step.params.get("meets", "tangent")
    jumps = "" if jump is None else f", curvature jumps by {100 * jump:.2g} %"
    fixes = []
    if asked == "curvature" and grade == 1:
        fixes.append(Fix(label="Tangent is enough", edits=[SetParam(do="set-param", step=step.id, path=["meets"], value="tangent")]))
    return Finding(
        code="dome-meets-less",
        severity=Severity.WARNING,
        step=step.id,
        title=f"{step.name} meets the sides less smoothly than asked",
        detail=f"At the marked place the angle is {angle:.3g}°{jumps}. Outlines of straights and arcs have such places where these meet.",
        path=["meets"],
        where=Where(points=[worst]),
        fixes=fixes,
    )
