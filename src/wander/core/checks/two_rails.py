"""Findings about what is carried between two rails."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.checks.places import spot
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where
from wander.core.geometry.basis import Floats
from wander.core.shaping.two_rails import CornersUneven

Both = tuple[Step, Step]


def _refused(step: Step, both: Both, code: str, title: str, detail: str, places: Sequence[Floats], path: str, fixes: Sequence[Fix] = ()) -> Finding:
    return Finding(
        code=code,
        severity=Severity.ERROR,
        step=step.id,
        title=title,
        detail=detail,
        path=[path],
        where=Where(points=[spot(place) for place in places], names=[rail.id for rail in both]),
        fixes=list(fixes),
    )


def one_rail_closed(step: Step, closed: Step) -> Finding:
    """One rail goes round and the other has two ends."""
    return Finding(
        code="one-rail-closed",
        severity=Severity.ERROR,
        step=step.id,
        title=f"{closed.name} is closed, and the other rail is not",
        detail="Between two rails both go from end to end, or both go round. Close the other one, open this one, or choose another.",
        path=["first"],
        where=Where(names=[closed.id]),
    )


def rails_come_together(step: Step, both: Both, place: Floats) -> Finding:
    """Where the rails meet, the section would have no width."""
    detail = "At the marked place nothing is left between the rails, and the section would have no width there. Let them end apart."
    return _refused(step, both, "rails-come-together", f"{both[0].name} and {both[1].name} come together", detail, [place], "second")


def corners_uneven(step: Step, both: Both, error: CornersUneven) -> Finding:
    """Corners that are to be paired one by one, and are not as many."""
    first, second = error.counts
    by_length = Fix(label="Pair them by length", edits=[SetParam(do="set-param", step=step.id, path=["pairing"], value="length")])
    detail = (
        f"{both[0].name} has {first} and {both[1].name} {second}, so that they can't be paired one by one. Add the missing ones, or pair by length."
    )
    return _refused(step, both, "corners-uneven", "The rails have different numbers of corners", detail, list(error.places), "pairing", [by_length])


def corner_askew(step: Step, both: Both, place: Floats) -> Finding:
    """A corner beside a bend, at which no mitre meets."""
    detail = (
        "At the marked corner the section turns about its width, and beside it the rails are curved, so that both sides of a mitre would not meet. "
        "Let both rails run straight beside the corner, or round it."
    )
    return _refused(step, both, "corner-askew", f"{step.name} has no mitre at a corner of its rails", detail, [place], "pairing")


def runs_sideways(step: Step, both: Both, place: Floats) -> Finding:
    """Places that belong together lie one behind the other."""
    detail = "At the marked place both rails run along the line from one to the other, so that no section stands across them. Pair them otherwise."
    return _refused(step, both, "runs-sideways", "The rails run one behind the other", detail, [place], "pairing")
