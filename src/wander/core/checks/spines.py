"""Findings about a spine, to whose planes two rails are paired."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.checks.places import spot
from wander.core.checks.two_rails import Both
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where
from wander.core.geometry.basis import Floats
from wander.core.shaping.spine import Unreached


def _told(step: Step, code: str, title: str, detail: str, where: Where, severity: Severity = Severity.ERROR) -> Finding:
    """By length rails always have a pairing: that is the way out of each."""
    by_length = Fix(label="Pair them by length", edits=[SetParam(do="set-param", step=step.id, path=["pairing"], value="length")])
    return Finding(code=code, severity=severity, step=step.id, title=title, detail=detail, path=["spine"], where=where, fixes=[by_length])


def no_spine(step: Step) -> Finding:
    """Planes square to a line that was not chosen."""
    detail = "Its rails are to be paired by planes square to a third line. Pick that line, or pair by length."
    return _told(step, "no-spine", f"{step.name} has no spine", detail, Where())


def spine_bent(step: Step, spine: Step, place: Floats) -> Finding:
    """At a corner there is no one plane square to the spine."""
    detail = "At the marked place two planes are square to the spine. Round the corner, or pair the rails corner by corner."
    return _told(step, "spine-bent", f"{spine.name} has a corner", detail, Where(points=[spot(place)], names=[spine.id]))


def spine_astray(step: Step, rail: Step, place: Floats) -> Finding:
    """Planes that meet a rail in another order than they have on the spine."""
    detail = (
        "From the marked place on the rail runs back against the planes square to the spine, or lies beyond where they cross. "
        "Bend the spine less, bring it nearer to the rail, or pair by length."
    )
    title = f"The planes of the spine cross before {rail.name}"
    return _told(step, "spine-astray", title, detail, Where(points=[spot(place)], names=[rail.id]))


def spine_misses(step: Step, spine: Step) -> Finding:
    """A spine that lies elsewhere."""
    detail = "Choose a line that runs beside both rails, or pair them by length."
    return _told(step, "spine-misses", f"No plane square to {spine.name} meets both rails", detail, Where(names=[spine.id]))


def spine_ends_unreached(step: Step, both: Both, ends: Sequence[Unreached]) -> Finding:
    """Ends of the rails beyond the first or the last plane that meets both."""
    longest = max(ends, key=lambda end: end.length)
    detail = (
        "The body begins at the first plane square to the spine that meets both rails, and ends at the last. Beyond, at the marked ends, one rail is "
        f"already over or the spine is: of {both[longest.rail].name} {longest.length:.3g} mm are left. A spine that goes on further, or rails that "
        "end in one plane square to it, reach them."
    )
    where = Where(points=[spot(end.place) for end in ends], names=[rail.id for rail in both])
    return _told(step, "spine-ends-unreached", f"{step.name} does not reach the ends of its rails", detail, where, Severity.NOTE)
