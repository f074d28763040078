"""What can be wrong with the connecting lines of a loft."""

from __future__ import annotations

from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity
from wander.core.shaping.panels import Crossed


def ties_crossed(step: Step, crossed: Crossed, ties: int) -> Finding:
    """ties: how many connecting lines there are; what comes after them in the count is a rail."""

    def told(number: int) -> str:
        return f"connecting line {number + 1}" if number < ties else f"rail {number - ties + 1}"

    def without(number: int) -> Fix:
        path = "ties" if number < ties else "rails"
        at = number if number < ties else number - ties
        kept = [item for i, item in enumerate(step.params[path]) if i != at]
        return Fix(label=f"Take {told(number)} out", edits=[SetParam(do="set-param", step=step.id, path=[path], value=kept)])

    first, second = told(crossed.first), told(crossed.second)
    return Finding(
        code="lines-crossed",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{first.capitalize()} and {second} cross",
        detail="What belongs together has to come in the same order round every section, and in places of its own. Pull one of them past the other.",
        path=["ties" if crossed.second < ties else "rails"],
        fixes=[without(crossed.second)],
    )
