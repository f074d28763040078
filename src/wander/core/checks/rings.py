"""Findings about lofts that are closed into a ring."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from wander.core.checks.places import spot
from wander.core.checks.sections import Entry, sections_edit
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where, listed


def unfit_for_ring(loft: Step, entries: Sequence[Entry], *, lined: bool) -> list[Finding]:
    """Points, where nothing can go on, and too few sections to say which way round. lined: it has a centre line of its own."""
    points = [entry for entry in entries if entry.placed is not None and entry.placed.is_point]
    if points:
        left = [entry for entry in entries if entry not in points]
        without = [Fix(label="Leave the points out" if len(points) > 1 else f"Leave {points[0].section.name} out", edits=[sections_edit(loft, left)])]
        return [
            Finding(
                code="ring-point",
                severity=Severity.ERROR,
                step=loft.id,
                title=f"A ring can't go through {listed([entry.section.name for entry in points])}",
                detail="At a point a body ends, and a ring has no ends.",
                path=["closed"],
                where=Where(points=[spot(entry.center) for entry in points], names=[entry.section.id for entry in points]),
                fixes=[*(without if len(left) > 2 or (lined and len(left) > 1) else []), _opened(loft)],
            )
        ]
    if len(entries) > 2 or lined:
        return []
    return [
        Finding(
            code="ring-too-few",
            severity=Severity.ERROR,
            step=loft.id,
            title=f"{loft.name} needs a third section to be a ring",
            detail="Two sections don't say which way round the body goes. Add a third one, or a closed centre line that passes both.",
            path=["closed"],
            fixes=[_opened(loft)],
        )
    ]


def ring_not_closed(loft: Step, name: str) -> Finding:
    """A law that ends otherwise than it begins, where both are one place. name: twist, width or height."""
    law: dict[str, Any] = loft.params[name]
    if law["type"] == "points":
        points: list[dict[str, Any]] = law["points"]
        inner = [point for point in points if 0 < point["at"] < 1]
        level = [{**points[0], "at": 0.0}, *inner, {**points[0], "at": 1.0}]
        alike = SetParam(do="set-param", step=loft.id, path=[name, "points"], value=level)
    else:
        alike = SetParam(do="set-param", step=loft.id, path=[name, "end"], value=law["start"])
    away = SetParam(do="set-param", step=loft.id, path=[name], value=None)
    return Finding(
        code="ring-not-closed",
        severity=Severity.ERROR,
        step=loft.id,
        title=f"The {name} of {loft.name} ends otherwise than it begins",
        detail="In a ring the end is the start, so that the skin would not meet there.",
        path=[name],
        fixes=[Fix(label="Let it end as it begins", edits=[alike]), Fix(label=f"Take its {name} away", edits=[away]), _opened(loft)],
    )


def _opened(loft: Step) -> Fix:
    return Fix(label="Give the body two ends", edits=[SetParam(do="set-param", step=loft.id, path=["closed"], value=False)])
