"""Findings about what is swept along a path."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from wander.core.checks.places import spot
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where
from wander.core.geometry.basis import Floats
from wander.core.shaping.folding import Fold
from wander.core.shaping.mitring import CornerCrowded
from wander.core.shaping.path import Merged

Repair = tuple[str, Mapping[str, Any]]
"""What it is called, and the parameters that it sets, as they stand in a document."""


def _fixes(step: Step, repairs: Sequence[Repair]) -> list[Fix]:
    return [
        Fix(label=label, edits=[SetParam(do="set-param", step=step.id, path=[name], value=value) for name, value in params.items()])
        for label, params in repairs
    ]


def path_too_tight(step: Step, path: Step, folds: Sequence[Fold], repairs: Sequence[Repair]) -> Finding:
    """The section reaches further towards the inside of a bend than the bend's radius."""
    worst = max(folds, key=lambda fold: fold.reach / fold.radius)
    more = f" So it does at {len(folds)} places; this is the worst." if len(folds) > 1 else ""
    told = (
        f"At the marked place it bends with a radius of {worst.radius:.3g} mm, and the section reaches {worst.reach:.3g} mm to its inside: "
        f"the skin would run back through itself.{more} A bend of {worst.reach:.3g} mm or more would do, or a smaller section."
        if worst.radius < float("inf")
        else "At the marked place the section goes backwards while the path goes on: it is scaled, turned or held so that it can't follow."
    )
    return Finding(
        code="path-too-tight",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{path.name} bends tighter than the section reaches",
        detail=told,
        path=["path" if "path" in step.params else "paths"],
        where=Where(points=[spot(fold.place) for fold in folds], names=[path.id]),
        fixes=_fixes(step, repairs),
    )


def corner_bent(step: Step, path: Step, place: Floats, repairs: Sequence[Repair]) -> Finding:
    """Beside a curved piece there is no plane in which both sides of a mitre meet."""
    return Finding(
        code="corner-bent",
        severity=Severity.ERROR,
        step=step.id,
        title=f"A corner of {path.name} lies beside a bend",
        detail="Both sides of a mitre run straight. Here the path is curved up to the corner, so that they would not meet. Round the corner, "
        "or let the path run straight beside it.",
        path=["corners"],
        where=Where(points=[spot(place)], names=[path.id]),
        fixes=_fixes(step, repairs),
    )


def corner_crowded(step: Step, path: Step, error: CornerCrowded, repairs: Sequence[Repair], *, rounded: bool) -> Finding:
    """Between corners the path is shorter than a mitre or an arc needs."""
    what = "the arcs that round its corners need" if rounded else "the section reaches past its corners"
    return Finding(
        code="corner-crowded",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{path.name} is too short beside a corner",
        detail=f"At the marked corner it is {error.short:.3g} mm shorter than {what}. Make it longer there, or the "
        + ("radius smaller." if rounded else "section smaller."),
        path=["radius" if rounded else "corners"],
        where=Where(points=[spot(error.place)], names=[path.id]),
        fixes=_fixes(step, repairs),
    )


def runs_upright(step: Step, path: Step, place: Floats) -> Finding:
    """Where a path goes straight up, nothing beside it is upright."""
    return Finding(
        code="runs-upright",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{path.name} runs straight up",
        detail="The section is to keep its upright, and at the marked place the path itself is upright: the section could not stand across it.",
        path=["attitude"],
        where=Where(points=[spot(place)], names=[path.id]),
        fixes=_fixes(step, [("Let it turn as little as can be", {"attitude": "least"})]),
    )


def corners_merged(step: Step, path: Step, merged: Merged) -> Finding:
    """Corners so slight that nobody meant them: the path goes on smoothly there."""
    count = len(merged.places)
    return Finding(
        code="corners-merged",
        severity=Severity.NOTE,
        step=step.id,
        title=f"{path.name} has {count} corner{'s' if count > 1 else ''} of less than 0.06°",
        detail=f"Taken as smooth there, so that no edge is left: the path that is followed is within {max(merged.off, 1e-6):.2g} mm of it.",
        path=["path" if "path" in step.params else "paths"],
        where=Where(points=[spot(place) for place in merged.places], names=[path.id]),
    )


def turned_back(step: Step, path: Step, turned: float) -> Finding:
    """Round a closed path in space what turns as little as can be comes back turned: that is taken back evenly along it."""
    return Finding(
        code="turned-back",
        severity=Severity.NOTE,
        step=step.id,
        title=f"Round {path.name} the section is turned back by {abs(np.degrees(turned)):.3g}°",
        detail="Turning about the path as little as can be, it would come back to its start turned by that much. It is turned back evenly along the "
        "whole path, so that both ends meet. Upright, it needs no such turn.",
        path=["attitude"],
        where=Where(names=[path.id]),
        fixes=_fixes(step, [("Keep it upright", {"attitude": "upright"})]),
    )


def no_surface(step: Step) -> Finding:
    """A section that is to stand up from a face, and none that has a surface was chosen."""
    return Finding(
        code="no-surface",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} stands up from no face",
        detail="Along its path it is to stay square to a surface. Pick a face that the path lies on or runs beside.",
        path=["surface"],
        fixes=_fixes(step, [("Let it turn as little as can be", {"attitude": "least"})]),
    )


def runs_into_surface(step: Step, path: Step, place: Floats) -> Finding:
    """Where a path stands up from the surface itself, nothing square to it does."""
    return Finding(
        code="runs-into-surface",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{path.name} runs square into the face",
        detail="The section is to stand up from the face, and at the marked place the path itself does: the section could not stand across it.",
        path=["surface"],
        where=Where(points=[spot(place)], names=[path.id]),
        fixes=_fixes(step, [("Let it turn as little as can be", {"attitude": "least"})]),
    )


def sweep_not_closed(step: Step, path: Step, repairs: Sequence[Repair]) -> Finding:
    """Round a closed path the section comes back turned or scaled otherwise than it began."""
    return Finding(
        code="sweep-not-closed",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} does not come back to itself",
        detail=f"{path.name} is closed, and the section comes back to its start turned or scaled otherwise than it began. "
        "Twist and scale have to end as they begin.",
        path=["twist"],
        where=Where(names=[path.id]),
        fixes=_fixes(step, repairs),
    )


def wall_too_thick(step: Step, diameter: float, wall: float) -> Finding:
    """A wall that leaves no hole, or less."""
    thinner = float(f"{diameter / 4:.3g}")
    return Finding(
        code="wall-too-thick",
        severity=Severity.ERROR,
        step=step.id,
        title=f"The wall of {step.name} leaves no hole",
        detail=f"It is {diameter:.4g} mm thick, so that a wall has less than {diameter / 2:.4g} mm and more than nothing; it is {wall:.4g} mm. "
        "Make the wall thinner, or 0 for a rod.",
        path=["wall"],
        fixes=_fixes(step, [(f"Make the wall {thinner:g} mm", {"wall": thinner}), ("Make it a rod", {"wall": 0.0})]),
    )


def no_path(step: Step) -> Finding:
    """A tube that goes along nothing."""
    return Finding(
        code="nothing-picked",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} goes along no rail",
        detail="Pick the rails that it goes along, in the scene or in the Build; or drag one onto it.",
        path=["paths"],
    )
