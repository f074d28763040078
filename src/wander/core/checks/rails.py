"""Findings about rails that can't be made."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where, sentence
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import GeometryError

Vector = tuple[float, float, float]


def no_rail(step: Step, error: GeometryError, places: Sequence[Vector] = ()) -> Finding:
    """What a rail is to be made of makes none."""
    shape = step.params["shape"]
    fixes = []
    if shape["type"] == "laid":
        turn = SetParam(do="set-param", step=step.id, path=["shape", "back"], value=not shape.get("back", False))
        fixes.append(Fix(label="Lay it on from the other side", edits=[turn]))
    return Finding(
        code="no-rail",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} makes no rail",
        detail=f"{sentence(error)}.",
        path=["shape"],
        where=Where(points=list(places)),
        fixes=fixes,
    )


def no_station(step: Step) -> Finding:
    """A drawn rail or a helix has nothing to stand on."""
    return Finding(
        code="no-station",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} stands on no station",
        detail="A drawn rail lies on a station, and a helix rises from one. Choose it in the sheet.",
        path=["station"],
    )


def point_off(step: Step, number: int, section: Step) -> Finding:
    """A point of a rail lies on a section that has no outline."""
    away = SetParam(do="set-param", step=step.id, path=["shape", "points", number, "on"], value=None)
    return Finding(
        code="rail-point-lost",
        severity=Severity.ERROR,
        step=step.id,
        title=f"Point {number + 1} of {step.name} has no outline to lie on",
        detail=f"{section.name} is open. Close it, or let the point go from it.",
        path=["shape", "points", number],
        fixes=[Fix(label=f"Let point {number + 1} go", edits=[away])],
    )


def not_flat(step: Step, rail: Step) -> Finding:
    """A rail that is seen from one side only has to be drawn in a plane."""
    return Finding(
        code="rail-not-drawn",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{rail.name} is not drawn on a station",
        detail=f"{step.name} needs rails that are drawn on the board, each on a station of its own.",
        path=["shape"],
    )


def not_one_run(step: Step, runs: Sequence[Floats]) -> Finding:
    """A drawn rail has to be one run of curves. runs: their ends in space, (2, 3) each."""
    places = [(float(p[0]), float(p[1]), float(p[2])) for ends in runs for p in ends]
    return Finding(
        code="rail-in-pieces",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{step.name} is in {len(runs)} pieces" if runs else f"{step.name} has nothing drawn yet",
        detail="A rail is one run of curves from end to end. Close the gaps, or turn what does not belong to it into construction."
        if runs
        else "Draw it on the board.",
        path=["shape"],
        where=Where(points=places),
    )
