"""What is told of a skin of an older kind, which a calm one would do better: a batten that swells, what is bent least and curved unevenly, waves."""

from __future__ import annotations

import numpy as np

from wander.core.checks.ends import calm_skin
from wander.core.checks.sections import Entry
from wander.core.document.findings import Finding, Severity, Where
from wander.core.geometry.basis import Floats
from wander.core.results.summaries import vector
from wander.core.shaping.evenness import unevenness, waves
from wander.core.shaping.loft import Lofted
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.swelling import swollen
from wander.core.steps.inputs import Inputs
from wander.core.steps.loft.params import LoftParams

SWOLLEN = 0.02
"""A skin like a batten that swells by no more, as a share of the step beside it, is not spoken of."""
UNEVEN, SEEN = 2.0, 5e-4
"""Nor is one whose curvature changes less than so many times as much as it needs to, or that lies so little beside a calm one, by its size."""
WAVED = 2e-3
"""Nor are waves that leave the chord by less, as a share of the step beside them."""


def about_skin(params: LoftParams, entries: list[Entry], lofted: Lofted, inputs: Inputs) -> list[Finding]:
    """entries: of the sections that the skin goes through."""
    if params.between != "smooth" or params.rails or any(item.crease for item in params.sections):
        return []
    told = {"batten": _swollen, "fair": _uneven, "even": _waved}.get(params.skin)
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
        "A calm skin stays between them; the body changes by a little."
    )
    return [_better_calm("swollen", "swells between its sections", detail, place, inputs)]


def _uneven(params: LoftParams, entries: list[Entry], lofted: Lofted, inputs: Inputs) -> list[Finding]:
    """A skin that is bent least, as bodies were before there was an even one, may change its curvature more than its sections ask for."""
    if not _by_itself(params):
        return []
    found = unevenness(lofted.plain, *_led_by(params, entries))
    if found is None or found.times < UNEVEN or found.share < SEEN:
        return []
    detail = (
        "Its skin is the one through its sections that is bent least, and flat at its ends. Its curvature changes "
        f"{found.times:.2g} times as much as it needs to; a calm skin lies up to {found.off:.2g} mm beside it."
    )
    return [_better_calm("uneven", "is curved unevenly", detail, found.place, inputs)]


def _waved(params: LoftParams, entries: list[Entry], lofted: Lofted, inputs: Inputs) -> list[Finding]:
    """An even skin, as bodies had before there was a calm one, may bend to a side that its sections do not ask for."""
    if not _by_itself(params):
        return []
    found = waves(lofted.plain, *_led_by(params, entries))
    if found is None or found.share < WAVED:
        return []
    detail = (
        "Between two of its sections its skin bends to one side where both ask for the other. "
        f"A calm skin does not; it lies up to {found.off:.2g} mm beside it."
    )
    return [_better_calm("waved", "waves between its sections", detail, found.place, inputs)]


def _by_itself(params: LoftParams) -> bool:
    """Nothing but its sections says how it goes."""
    return params.centre is None and all(end.shape == "free" for end in (params.start, params.end))


def _led_by(params: LoftParams, entries: list[Entry]) -> tuple[list[PlacedSection], list[float]]:
    """The sections that it goes through, and the slack of the bay that begins at each."""
    slack = {item.section.step: item.slack for item in params.sections}
    led = [(entry.placed, slack[entry.section.id]) for entry in entries if entry.placed is not None]
    return [placed for placed, _ in led], [given for _, given in led]


def _better_calm(code: str, what: str, detail: str, place: Floats, inputs: Inputs) -> Finding:
    return Finding(
        code=code,
        severity=Severity.NOTE,
        step=inputs.step.id,
        title=f"{inputs.step.name} {what}",
        detail=detail,
        where=Where(points=[vector(np.round(place, 3))]),
        path=["skin"],
        fixes=[calm_skin(inputs.step)],
    )
