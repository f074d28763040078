"""What is told of a skin of an older kind, which an even one would do better: one batten that swells, or what is bent least and curved unevenly."""

from __future__ import annotations

import numpy as np

from wander.core.checks.ends import even_skin
from wander.core.checks.sections import Entry
from wander.core.document.findings import Finding, Severity, Where
from wander.core.geometry.basis import Floats
from wander.core.results.summaries import vector
from wander.core.shaping.evenness import unevenness
from wander.core.shaping.loft import Lofted
from wander.core.shaping.swelling import swollen
from wander.core.steps.inputs import Inputs
from wander.core.steps.loft.params import LoftParams

SWOLLEN = 0.02
"""A skin like a batten that swells by no more, as a share of the step beside it, is not spoken of."""
UNEVEN, SEEN = 2.0, 5e-4
"""Nor is one whose curvature changes less than so many times as much as it needs to, or that lies so little beside an even one, by its size."""


def about_skin(params: LoftParams, entries: list[Entry], lofted: Lofted, inputs: Inputs) -> list[Finding]:
    """entries: of the sections that the skin goes through."""
    if params.between != "smooth" or params.rails or any(item.crease for item in params.sections):
        return []
    told = {"batten": _swollen, "fair": _uneven}.get(params.skin)
    return [] if told is None else told(params, entries, lofted, inputs)


def _swollen(params: LoftParams, entries: list[Entry], lofted: Lofted, inputs: Inputs) -> list[Finding]:
    """A skin like a batten may go far beyond two sections that differ."""
    placed = [entry.placed for entry in entries if entry.placed is not None]
    if sum(section.share is None for section in placed) < 3:
        return []
    share, place = swollen(lofted.plain, placed)
    if share <= SWOLLEN:
        return []
    detail = (
        f"Its skin is one batten through all sections, and goes beyond two of them by {100 * share:.0f} % of the step beside them. "
        "An even skin stays between them; the body changes by a little."
    )
    return [_better_even("swollen", "swells between its sections", detail, place, inputs)]


def _uneven(params: LoftParams, entries: list[Entry], lofted: Lofted, inputs: Inputs) -> list[Finding]:
    """A skin that is bent least, as bodies were before there was an even one, may change its curvature more than its sections ask for."""
    if params.centre is not None or any(end.shape != "free" for end in (params.start, params.end)):
        return []
    placed = [entry.placed for entry in entries if entry.placed is not None]
    slack = {item.section.step: item.slack for item in params.sections}
    found = unevenness(lofted.plain, placed, [slack[entry.section.id] for entry in entries if entry.placed is not None])
    if found is None or found.times < UNEVEN or found.share < SEEN:
        return []
    detail = (
        "Its skin is the one through its sections that is bent least, and flat at its ends. Its curvature changes "
        f"{found.times:.2g} times as much as it needs to; an even skin lies up to {found.off:.2g} mm beside it."
    )
    return [_better_even("uneven", "is curved unevenly", detail, found.place, inputs)]


def _better_even(code: str, what: str, detail: str, place: Floats, inputs: Inputs) -> Finding:
    return Finding(
        code=code,
        severity=Severity.NOTE,
        step=inputs.step.id,
        title=f"{inputs.step.name} {what}",
        detail=detail,
        where=Where(points=[vector(np.round(place, 3))]),
        path=["skin"],
        fixes=[even_skin(inputs.step)],
    )
